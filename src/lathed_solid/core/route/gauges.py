"""How a stated size is found on the solid: which faces to touch and what to read off them.

Gauges name faces and nothing else, so that a proof measures the finished boundary and never the numbers that made
it. Steps write the gauges for the callouts they use; a user can write one by picking faces.
"""

from __future__ import annotations

import re
from typing import Literal, NamedTuple

import msgspec


class Gauge(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Base of all gauges. ``face`` (and ``other``) are face references."""

    face: str


class Diameter(Gauge, frozen=True, tag="diameter"):
    """Diameter of a cylinder or sphere."""


class DiameterAt(Gauge, frozen=True, tag="diameter-at"):
    """Diameter of a cone where the plane ``other`` cuts it."""

    other: str


class Radius(Gauge, frozen=True, tag="radius"):
    """Radius of a fillet (torus) or of a cylinder."""


class Between(Gauge, frozen=True, tag="between"):
    """Distance of two parallel planes, of a plane to a round face's or ball's near (or ``far``) side, or between two
    round faces: of their axes, or of the faces themselves when they lie about one axis.
    """

    other: str
    far: bool = False


class Leg(Gauge, frozen=True, tag="leg"):
    """Extent of a chamfer face along its axis, or along the flat face ``other`` it starts in."""

    other: str = ""


class LegAngle(Gauge, frozen=True, tag="leg-angle"):
    """Angle of a chamfer (cone) to its axis, or to the flat face ``other``."""

    other: str = ""


class SeatAngle(Gauge, frozen=True, tag="seat-angle"):
    """Included angle of a cone."""


class WidestCircle(Gauge, frozen=True, tag="widest-circle"):
    """Diameter of the largest circular edge of a face (a countersink's mouth)."""


class Depth(Gauge, frozen=True, tag="depth"):
    """From the plane ``other`` to the far end of the face's extent along its own axis."""

    other: str


class AxisFrom(Gauge, frozen=True, tag="axis-from"):
    """Distance of a round face's axis from the plane ``other``."""

    other: str


class CircleThrough(Gauge, frozen=True, tag="circle-through"):
    """Twice the distance of a hole's axis from the turning axis."""


class AxisAngle(Gauge, frozen=True, tag="axis-angle"):
    """Direction of a hole from the turning axis, measured from X."""


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


class FaceAngle(Gauge, frozen=True, tag="face-angle"):
    """How far a flat or conical face leans from square to the plane ``other`` (draft)."""

    other: str


class Walls(Gauge, frozen=True, tag="walls"):
    """Thickness between every face of a shelled part and the inner face named after it; ``face`` is the shell step."""


class HelixSize(Gauge, frozen=True, tag="helix-size"):
    """Of a helical groove, off a section through the axis: the ``pitch``, the ``depth`` below the round face ``other``,
    or the ``width`` of its round bottom (its diameter). ``other`` is a round face about the same axis.
    """

    other: str
    what: Literal["pitch", "depth", "width"] = "pitch"


class OpenEnds(Gauge, frozen=True, tag="open-ends"):
    """How many ends of a hole are open: two for a through hole, tried on the axis just past each end."""


class ThreadOn(Gauge, frozen=True, tag="thread-on"):
    """The designation a face carries, and that its diameter suits it."""


class ThreadDepth(Gauge, frozen=True, tag="thread-depth"):
    """Length of the cosmetic thread on a face."""


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
    | FaceAngle
    | Walls
    | HelixSize
    | OpenEnds
    | ThreadOn
    | ThreadDepth
)


class Claim(NamedTuple):
    """Characteristic ``key`` of callout ``number`` is found by ``gauge``; ``explains`` are faces it accounts for."""

    number: int
    key: str
    gauge: AnyGauge
    explains: tuple[str, ...] = ()

    def faces(self) -> tuple[str, ...]:
        gauge = self.gauge
        touched = [gauge.face, getattr(gauge, "other", ""), *getattr(gauge, "others", ())]
        return tuple(dict.fromkeys(f for f in (*touched, *self.explains) if f))

    def retagged(self, old: str, new: str) -> Claim:
        """The same claim on faces whose names start differently (a pattern's copies)."""

        def name(value: object) -> object:
            return new + value.removeprefix(old) if isinstance(value, str) and value.startswith(old) else value

        fields = {f: name(getattr(self.gauge, f)) for f in self.gauge.__struct_fields__}
        return Claim(
            self.number,
            self.key,
            msgspec.structs.replace(self.gauge, **fields),
            tuple(str(name(e)) for e in self.explains),
        )


def claim(text: str, gauge: AnyGauge, *explains: str) -> list[Claim]:
    """A claim when ``text`` is just one callout (``#12`` or ``#12.seat``); a longer formula proves nothing."""
    match = re.fullmatch(r"\s*#(\d+)(?:\.([a-z_]+))?\s*", text)
    return [Claim(int(match[1]), match[2] or "", gauge, explains)] if match else []
