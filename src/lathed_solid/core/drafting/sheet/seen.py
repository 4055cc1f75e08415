"""What is seen of a part in the views of a sheet, in mm of the part: what the worker finds and the layout draws."""

from __future__ import annotations

import msgspec

from ...kernel.draw.strokes import XY, Stroke
from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import Frame, dot
from ...memo import kept

#: A line ends at the level of a length within this (mm of the part).
LEVEL = 1e-3


class Centre(msgspec.Struct, frozen=True):
    """A centre line from ``a`` to ``b``; or the cross of a round thing of ``radius`` about ``a`` (then ``a == b``), or
    with ``ring`` the circle that holes lie on.
    """

    a: XY
    b: XY
    radius: float = 0.0
    ring: bool = False


class Area(msgspec.Struct, frozen=True):
    """An area that a cut lays open: its loops, and the number of the solid it belongs to."""

    loops: tuple[tuple[XY, ...], ...]
    solid: int = 0


class SeenView(msgspec.Struct, frozen=True, dict=True):
    """One view: the ``eye`` in the part's own axes, its lines, areas laid open, centre lines, and threads as lines.
    ``levels`` are those it is cut at: how far before zero, and where each ends to the right (mm); ``turn`` is that of
    an aligned section's second half (radians), about the x of ``pivot``.
    ``lost`` says why there is nothing, or what is missing.
    """

    eye: Frame
    strokes: tuple[Stroke, ...] = ()
    areas: tuple[Area, ...] = ()
    centres: tuple[Centre, ...] = ()
    threads: tuple[Stroke, ...] = ()
    levels: tuple[tuple[float, float], ...] = ()
    lost: str = ""
    turn: float = 0.0
    pivot: Frame | None = None

    def is_true(self, way: Vector) -> bool:
        """Whether lengths along a way are where the part has them: across the axis of a bent view they are not."""
        return not self.turn or self.pivot is None or abs(dot(way, self.pivot.x)) > 1 - 1e-6

    def box(self, hidden: bool = False) -> tuple[float, float, float, float] | None:
        """Left, bottom, right, top of what is seen (mm of the part); None when nothing is."""
        return kept(self, "box of all" if hidden else "box of what is seen", lambda: self._box(hidden))

    def _box(self, hidden: bool) -> tuple[float, float, float, float] | None:
        places = [p for s in self.strokes if s.visible or hidden for p in s.points]
        if not places:
            return None
        xs, ys = [p[0] for p in places], [p[1] for p in places]
        return min(xs), min(ys), max(xs), max(ys)

    def reach(self, zero: XY, way: XY) -> float:
        """How far what is seen goes along a unit way from a place (mm of the part); asked at every layout."""
        return kept(self, f"reach {zero} {way}", lambda: self._reach(zero, way))

    def _reach(self, zero: XY, way: XY) -> float:
        places = (p for s in self.strokes if s.visible for p in s.points)
        return max(((x - zero[0]) * way[0] + (y - zero[1]) * way[1] for x, y in places), default=0.0)


class Run(msgspec.Struct, frozen=True):
    """A length on the part: two places, the unit way between them, and the face at each end (0: none)."""

    a: Vector
    b: Vector
    way: Vector
    faces: tuple[int, int]


class Girth(msgspec.Struct, frozen=True):
    """A diameter of a solid round ``face``: the places on its ``axis`` where it is as stated, and its radius."""

    face: int
    places: tuple[Vector, ...]
    axis: Vector
    radius: float


class Hold(msgspec.Struct, frozen=True):
    """Callout ``number``: what it says, the faces it takes hold of; of a length also between which places it runs.
    ``axis`` is that of a round face it states, ``hole`` whether that is one, ``alike`` the faces of all its holes,
    ``girth`` a diameter that may be written across the part. ``symbols`` is what it says of finish, form and place, and
    a datum's letter, where it ends with that; ``normal``, where it says no more, that of the flat face it stands on: it
    is shown where that is a line.
    """

    number: int
    text: str
    faces: tuple[int, ...] = ()
    run: Run | None = None
    axis: Vector | None = None
    hole: bool = False
    alike: tuple[int, ...] = ()
    common: bool = False
    girth: Girth | None = None
    symbols: tuple[str, ...] = ()
    normal: Vector | None = None
    #: What it says before its symbols; all of it where there are none.
    head: str = ""

    @property
    def is_sign(self) -> bool:
        """Whether it says nothing but finish, form, place or a datum's letter."""
        return bool(self.symbols) and not self.head


class Seen(msgspec.Struct, frozen=True):
    """Everything the layout of a sheet must know of the part."""

    views: dict[str, SeenView]
    holds: tuple[Hold, ...] = ()
    turned: bool = False
    low: Vector = (0.0, 0.0, 0.0)
    high: Vector = (0.0, 0.0, 0.0)
    grams: float = 0.0


def places_at_level(view: SeenView, face: int, flat: XY, k: int, visible: bool) -> list[XY]:
    """Where lines of a face (0: of any) end or turn as far along as ``flat`` is, x for ``k`` 0, else y; as the view is
    seen.
    """
    found: list[XY] = []
    for stroke in view.strokes:
        if stroke.visible is not visible or stroke.kind == "tangent" or (face and face not in stroke.faces):
            continue
        places = _turning_places(stroke)
        if face and stroke.arc is not None:  # a round thing by its middle
            places = (*places, stroke.arc.center)
        found += [p for p in places if abs(p[k] - flat[k]) < LEVEL]
    return found


def _turning_places(stroke: Stroke) -> tuple[XY, ...]:
    """Ends of a line, and where it is farthest left, right, up and down."""
    arc = stroke.arc
    if arc is not None and arc.is_whole:
        (x, y), r = arc.center, arc.radius
        return (x + r, y), (x - r, y), (x, y + r), (x, y - r)
    if arc is not None:
        return stroke.points[0], stroke.points[-1]
    return stroke.points if stroke.is_straight else stroke.points[:: max(1, len(stroke.points) // 8)]
