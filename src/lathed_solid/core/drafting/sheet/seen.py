"""What is seen of a part in the views of a sheet, in mm of the part: what the worker finds and the layout draws."""

from __future__ import annotations

import msgspec

from ...kernel.draw.strokes import XY, Stroke
from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import Frame


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


class SeenView(msgspec.Struct, frozen=True):
    """One view: the ``eye`` in the part's own axes, its lines, areas laid open, centre lines, and threads as lines.
    ``levels`` are those it is cut at: how far before zero, and where each ends to the right (mm).
    ``lost`` says why there is nothing, or what is missing.
    """

    eye: Frame
    strokes: tuple[Stroke, ...] = ()
    areas: tuple[Area, ...] = ()
    centres: tuple[Centre, ...] = ()
    threads: tuple[Stroke, ...] = ()
    levels: tuple[tuple[float, float], ...] = ()
    lost: str = ""

    def box(self, hidden: bool = False) -> tuple[float, float, float, float] | None:
        """Left, bottom, right, top of what is seen (mm of the part); None when nothing is."""
        places = [p for s in self.strokes if s.visible or hidden for p in s.points]
        if not places:
            return None
        xs, ys = [p[0] for p in places], [p[1] for p in places]
        return min(xs), min(ys), max(xs), max(ys)


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
    ``girth`` a diameter that may be written across the part. ``symbols`` is all it says where that is finish, form or
    place, or a datum's letter.
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


class Seen(msgspec.Struct, frozen=True):
    """Everything the layout of a sheet must know of the part."""

    views: dict[str, SeenView]
    holds: tuple[Hold, ...] = ()
    turned: bool = False
    low: Vector = (0.0, 0.0, 0.0)
    high: Vector = (0.0, 0.0, 0.0)
    grams: float = 0.0
