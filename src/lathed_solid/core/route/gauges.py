"""How a stated size is found on the solid: which faces to touch and what to read off them.

Gauges name faces and nothing else, so that a proof measures the finished boundary and never the numbers that made
it. Steps write the gauges for the callouts they use; a user can write one by picking faces.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, NamedTuple

import msgspec

from ..names import Renames, callout_refs, lone_ref, renamed, starts


class Gauge(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Base of all gauges. ``face`` (and ``other``) are face references."""

    face: str

    def alone(self, own: Callable[[str], bool]) -> Gauge | None:
        """The same size read without faces that are not ``own`` (a mirror's copy may face elsewhere); None if none."""
        return None


class Diameter(Gauge, frozen=True, tag="diameter"):
    """Diameter of a cylinder or sphere. A seat lies ``about`` its hole: on one axis with that face."""

    about: str = ""


class DiameterAt(Gauge, frozen=True, tag="diameter-at"):
    """Diameter of a cone where the plane ``other`` cuts it."""

    other: str


class Radius(Gauge, frozen=True, tag="radius"):
    """Radius of a fillet (torus) or of a cylinder."""


class Between(Gauge, frozen=True, tag="between"):
    """Distance of two parallel planes, of a plane to a round face's or ball's near (or ``far``) side, or between two
    round faces: of their axes, of their ``near`` or ``far`` sides, or of the faces themselves about one axis.
    """

    other: str
    far: bool = False
    near: bool = False


class Leg(Gauge, frozen=True, tag="leg"):
    """Extent of a chamfer face along its axis, or along the flat face ``other`` it starts in; with the face ``beyond``
    it, from the corner where the two would meet. Both legs of an ``even`` one are alike: either face tells it.
    """

    other: str = ""
    beyond: str = ""
    even: bool = False

    def alone(self, own: Callable[[str], bool]) -> Gauge | None:
        if not self.even:
            return None
        other = next((f for f in (self.other, self.beyond) if f and own(f)), "")
        return msgspec.structs.replace(self, other=other, beyond="")


class LegAngle(Gauge, frozen=True, tag="leg-angle"):
    """Angle of a chamfer (cone) to its axis, or to the face ``other`` between which and ``beyond`` it lies."""

    other: str = ""
    beyond: str = ""


class SeatAngle(Gauge, frozen=True, tag="seat-angle"):
    """Included angle of a cone."""


class WidestCircle(Gauge, frozen=True, tag="widest-circle"):
    """Diameter of the largest circular edge of a face (a countersink's mouth), on one axis with the hole it lies
    ``about``.
    """

    about: str = ""


class Depth(Gauge, frozen=True, tag="depth"):
    """From the face ``other`` to the far end of the face's extent along its own axis, or to its flat ``floor``."""

    other: str
    floor: str = ""


class AxisFrom(Gauge, frozen=True, tag="axis-from"):
    """Distance of a round face's axis from the plane ``other``."""

    other: str


class CircleThrough(Gauge, frozen=True, tag="circle-through"):
    """Twice the distance of a hole's axis from the turning axis."""


class AxisAngle(Gauge, frozen=True, tag="axis-angle"):
    """Direction of a hole from the turning axis, measured from X; of one drilled into the round face ``other`` from
    that face's axis, measured as the kernel's ``axis_frame`` counts.
    """

    other: str = ""


class Count(Gauge, frozen=True, tag="count"):
    """How many of the faces ``face`` and ``others`` are there, all of one size.

    ``even`` ones are also spaced evenly about the turning axis.
    """

    others: tuple[str, ...] = ()
    even: bool = True


class Position(Gauge, frozen=True, tag="position"):
    """Distance from part zero along X, Y or Z: of a round face's axis, or midway to ``other`` when that is given.

    A flat face stands where its plane cuts that direction.
    """

    way: Literal["x", "y", "z"]
    other: str = ""


class AxesApart(Gauge, frozen=True, tag="axes-apart"):
    """Distance between the parallel axes of two round faces."""

    other: str


class Apart(Gauge, frozen=True, tag="apart"):
    """How far the face ``other`` stands from the like face ``face`` along X, Y or Z: a pitch."""

    other: str
    way: Literal["x", "y", "z"] = "x"


class Included(Gauge, frozen=True, tag="included"):
    """Angle between two flat faces, or between a flat one and an axis; ``over`` is the rest to 180°."""

    other: str
    over: bool = False


class EndAngle(Gauge, frozen=True, tag="end-angle"):
    """Angle of a cone to the plane square to its axis (corners turned off a hexagon)."""


class FaceAngle(Gauge, frozen=True, tag="face-angle"):
    """How far a flat or conical face leans from square to the plane ``other`` (draft)."""

    other: str


class Walls(Gauge, frozen=True, tag="walls"):
    """Thickness between every face of a shelled part and the inner face named after it; ``face`` is the shell step."""


class HelixSize(Gauge, frozen=True, tag="helix-size"):
    """Of a helical groove whose bottom is ``face``, off a section through the axis: the ``pitch``, the ``depth`` below
    the round face ``other``, the ``width`` of its bottom (of a round one its diameter). Off its end faces ``ends``: how
    many ``turns`` it makes, and where its middle ``begins`` from the low end of ``other``, a round face about the same
    axis.
    """

    other: str
    what: Literal["pitch", "depth", "width", "turns", "begins"] = "pitch"
    ends: tuple[str, ...] = ()


#: The place of a site that says nothing of where it was drawn.
NOWHERE = (1e9, 1e9)


class Site(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where a drawn size takes hold, told by faces of the solid as they stand in a sketch's plane.

    ``edge`` is what ``face`` leaves in the plane: a straight line or a circle. The others are made of those in ``of``:
    the ``crossing`` of two, the place where two ``touch``, the ``centre`` of a round one, the ``middle`` of two places,
    a place ``mirrored`` in a line, the line ``through`` two places, the circle ``round`` about lines or through
    places, the ``first`` that the part shows. ``zero`` is the sketch's zero, ``along`` and ``across`` are its axes.
    ``near`` (mm) tells which of two crossings, sides or pieces is meant, ``way`` which way a line is counted.
    """

    kind: Literal[
        "edge", "crossing", "touch", "centre", "middle", "mirrored", "through", "round", "first", "zero", "along",
        "across",
    ]  # fmt: skip
    face: str = ""
    of: tuple[Site, ...] = ()
    near: tuple[float, float] = (0.0, 0.0)
    way: tuple[float, float] = (1.0, 0.0)

    def faces(self) -> tuple[str, ...]:
        """Every face that has to be touched."""
        return (*((self.face,) if self.face else ()), *(f for site in self.of for f in site.faces()))

    def renamed(self, name: Callable[[str], str]) -> Site:
        return msgspec.structs.replace(
            self, face=name(self.face) if self.face else "", of=tuple(s.renamed(name) for s in self.of)
        )


class LetterHeight(Gauge, frozen=True, tag="letter-height"):
    """How high the letter is whose sides ``face`` names, along ``up`` in the plane ``frame`` (its x and y)."""

    frame: str
    up: tuple[float, float]


class Drawn(Gauge, frozen=True, tag="drawn"):
    """A size of a sketch, read off the faces that its lines made, laid back into the sketch's plane ``frame``.

    ``what`` is the kind of size, ``sites`` what it lies between. ``rim`` and ``far`` say which edge of a circle is
    meant. A ``diameter`` of a place or a level line is twice its distance from the sketch's first axis.
    """

    frame: str
    what: Literal["along", "across", "distance", "diameter", "radius", "angle", "arc_length", "wall"]
    sites: tuple[Site, ...]
    rim: tuple[int, int] = (0, 0)
    far: bool = False


class OpenEnds(Gauge, frozen=True, tag="open-ends"):
    """How many ends of a hole are open: two for a through hole, tried on the axis just past each end."""


class ThreadOn(Gauge, frozen=True, tag="thread-on"):
    """The designation a face carries, and that its diameter suits it."""


class ThreadDepth(Gauge, frozen=True, tag="thread-depth"):
    """Length of the cosmetic thread on a face."""


class ThreadFelt(Gauge, frozen=True, tag="thread-felt"):
    """A modelled thread on a solid of somebody else: the free faces about the axis of the round ``face``, held against
    the designation ``thread``, cut into the material where ``internal``; or its ``length``.
    """

    thread: str = ""
    internal: bool = False
    what: Literal["thread", "length"] = "thread"


class StandsOn(Gauge, frozen=True, tag="stands-on"):
    """Where a note on finish, form or place, or a datum's letter, stands. Nothing is measured: it is judged on the
    part, and explains no face.
    """


AnyGauge = (
    Diameter
    | DiameterAt
    | Radius
    | Between
    | Leg
    | LegAngle
    | SeatAngle
    | WidestCircle
    | Depth
    | AxisFrom
    | CircleThrough
    | AxisAngle
    | Count
    | Position
    | AxesApart
    | Apart
    | FaceAngle
    | EndAngle
    | Included
    | Walls
    | HelixSize
    | LetterHeight
    | Drawn
    | OpenEnds
    | ThreadOn
    | ThreadDepth
    | ThreadFelt
    | StandsOn
)


#: Fields of gauges that name faces or planes.
_NAMED = ("face", "other", "beyond", "floor", "others", "frame", "ends", "about")


class Claim(NamedTuple):
    """Characteristic ``key`` of callout ``number`` is found by ``gauge``; ``explains`` are faces it accounts for.

    What ``gauge`` cannot read is read by the first of ``or_else`` that can. With a ``formula`` it is the value of that
    formula which is measured (``#2/2``), and the callout's own follows from it. ``by_hand`` ones say
    nothing of how many there are: those who bound one need not have bound all.
    """

    number: int
    key: str
    gauge: AnyGauge
    explains: tuple[str, ...] = ()
    or_else: tuple[AnyGauge, ...] = ()
    formula: str = ""
    by_hand: bool = False

    def faces(self) -> tuple[str, ...]:
        touched = [f for gauge in (self.gauge, *self.or_else) for f in faces_of(gauge)]
        return tuple(dict.fromkeys(f for f in (*touched, *self.explains) if f))

    def retagged(self, renames: Renames, foreign: bool = True) -> Claim | None:
        """The same claim on a pattern's copies: ``renames`` says how names that start so start there.

        Readings that need a face of another step are kept only with ``foreign``: a copy may face elsewhere. None when
        nothing is left.
        """

        def name(value: str) -> str:
            return renamed(value, renames)

        def own(face: str) -> bool:
            return starts(face, renames)

        kept: list[Any] = []
        gauge: Any
        for gauge in (self.gauge, *self.or_else):
            if not all(map(own, faces_of(gauge))) and (not foreign or isinstance(gauge, Drawn)):
                if (without := gauge.alone(own)) is None:
                    continue
                gauge = without
            if isinstance(gauge, Drawn):
                sites = tuple(s.renamed(name) for s in gauge.sites)
                gauge = msgspec.structs.replace(gauge, face=name(gauge.face), frame=name(gauge.frame), sites=sites)
            else:
                fields = (f for f in _NAMED if getattr(gauge, f, ""))
                gauge = msgspec.structs.replace(gauge, **{f: _renamed(getattr(gauge, f), name) for f in fields})
            kept.append(gauge)
        if not kept:
            return None
        return self._replace(gauge=kept[0], or_else=tuple(kept[1:]), explains=tuple(name(e) for e in self.explains))


def faces_of(gauge: AnyGauge) -> tuple[str, ...]:
    """Every face that a gauge touches, and every plane it measures from."""
    if isinstance(gauge, Drawn):
        return tuple(dict.fromkeys(f for s in gauge.sites for f in s.faces()))
    named = [gauge.face, getattr(gauge, "other", ""), getattr(gauge, "beyond", "")]
    touched = [*named, *getattr(gauge, "others", ()), *getattr(gauge, "ends", ())]
    return tuple(dict.fromkeys(f for f in touched if f))


def _renamed(value: object, name: Callable[[str], str]) -> object:
    if isinstance(value, tuple):
        return tuple(_renamed(v, name) for v in value)
    return name(value) if isinstance(value, str) else value


def claim(text: str, gauge: AnyGauge | None, *explains: str, or_else: tuple[AnyGauge | None, ...] = ()) -> list[Claim]:
    """What ``text`` states about the faces that ``gauge`` (or the first of ``or_else`` that can) reads.

    ``#12`` or ``#12.seat`` is that callout's own size. A longer formula is measured as a whole, and stands for each of
    the callouts in it. None among the gauges are passed over.
    """
    gauges = [g for g in (gauge, *or_else) if g is not None]
    if not gauges:
        return []
    first, rest = gauges[0], tuple(gauges[1:])
    if ref := lone_ref(text):
        return [Claim(*ref, first, explains, rest)]
    return [Claim(*ref, first, explains, rest, text.strip()) for ref in dict.fromkeys(callout_refs(text))]
