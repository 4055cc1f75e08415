"""What measuring gives: plain figures, free of the kernel, so that anyone may hold them."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal, NamedTuple

import msgspec
import numpy as np

from ...arrays import Floats, Ints
from ...quantity import Style
from ...tolerance import PARALLEL

Vector = tuple[float, float, float]
SurfaceKind = Literal["plane", "cylinder", "cone", "torus", "sphere", "other"]


class Circle(msgspec.Struct, frozen=True):
    """A circular edge of a face: centre and radius (mm), unit axis."""

    center: Vector
    axis: Vector
    radius: float


class Wall(NamedTuple):
    """The thinnest place between two faces (indices from 1): ``thick`` mm between ``ends``. ``exact`` when measured
    between the faces themselves, else as the ray found it.
    """

    thick: float
    faces: tuple[int, int]
    ends: tuple[Vector, Vector]
    exact: bool


class WallMap(NamedTuple):
    """How thick the material is behind places on the skin: ``points`` (n, 3) mm, ``corners`` (m, 3) indices of the
    triangles between them, ``thick`` (n,) mm, NaN where nothing is known.
    """

    points: Floats
    corners: Ints
    thick: Floats


class Skin(NamedTuple):
    """Triangles to be laid over a part in the view: ``data`` is a compound of triangulated faces, one for each of
    ``values``: what it stands for.
    """

    data: bytes
    values: tuple[float, ...]


class Walls(NamedTuple):
    """The walls between pairs of faces, the thinnest first; how thick the material is behind places on the skin;
    and that as a skin. ``packed`` are four single-precision numbers a place: X, Y, Z, thickness in mm (see ``behind``).
    """

    thinnest: tuple[Wall, ...] = ()
    packed: bytes = b""
    skin: Skin = Skin(b"", ())

    @property
    def behind(self) -> Floats:
        """Places with the thickness behind each, (n, 4) mm; NaN where nothing is known."""
        return np.frombuffer(self.packed, np.float32).reshape(-1, 4).astype(float)


class RoomFound(NamedTuple):
    """The largest hole that fits: its ``diameter`` and middle on the floor (mm), how far that is from the axis that
    rings go round and at which angle (radians, in the floor's own axes), the wall ``kept`` as measured, how many.
    """

    diameter: float
    place: Vector
    radius: float
    angle: float
    kept: float
    many: int


#: Meshes are held against each other as fine as this; pieces thinner than twice that are not told (mm).
HELD = 0.02
THINNEST = 2 * HELD


class Lump(NamedTuple):
    """A piece in which two solids differ: whether the other one has it ``more``, mm³, the middle and the sides of its
    box (mm), how far it reaches from the other's skin (mm, None: not measured), and itself to be laid over the part.
    """

    more: bool
    volume: float
    place: Vector
    size: Vector
    deep: float | None
    skin: Skin


class Difference(NamedTuple):
    """What the other solid has more and less (mm³), each good to ``off``; the largest pieces, and how many in all."""

    more: float
    less: float
    off: float
    lumps: tuple[Lump, ...]
    pieces: int


class Surface(msgspec.Struct, frozen=True, kw_only=True):
    """One measured face. Lengths mm, angles radians.

    ``origin`` and ``axis`` are a point and unit direction: the outward normal of a plane, the axis of a round face.
    ``radius`` is that of a cylinder or sphere, at ``origin`` for a cone, the minor one of a torus (``major`` the
    other).
    ``half_angle`` is a cone's, from its axis. ``span`` is the extent along the axis, measured from ``origin``.
    ``hollow`` is true when material lies outside (a bore). ``circles`` are the face's circular edges.
    """

    index: int
    kind: SurfaceKind
    origin: Vector = (0.0, 0.0, 0.0)
    axis: Vector = (0.0, 0.0, 1.0)
    radius: float = 0.0
    major: float = 0.0
    half_angle: float = 0.0
    span: tuple[float, float] = (0.0, 0.0)
    turn: float = 2 * math.pi
    hollow: bool = False
    area: float = 0.0
    center: Vector = (0.0, 0.0, 0.0)
    circles: tuple[Circle, ...] = ()

    def describe(self, style: Style = Style(), turned: bool = False) -> str:  # noqa: B008 (frozen)
        """What the face is and where, in the words of the shop and the job's unit: ``right side, X 30``,
        ``bore Ø20, on the axis``. On a ``turned`` part the ends are left and right ones.
        """
        return _WORDS[self.kind](self, style, turned)

    def elsewhere(self, place: Callable[[Vector], Vector], way: Callable[[Vector], Vector]) -> Surface:
        """The face where a motion takes it: ``place`` moves points, ``way`` turns directions."""
        circles = tuple(msgspec.structs.replace(c, center=place(c.center), axis=way(c.axis)) for c in self.circles)
        return msgspec.structs.replace(
            self, origin=place(self.origin), axis=way(self.axis), center=place(self.center), circles=circles
        )


_SIDES = (("right side", "left side", "X"), ("back", "front", "Y"), ("top", "bottom", "Z"))
_ENDS = ("right end", "left end", "Z")
_SQUARE = 1 - PARALLEL


def _at(place: Vector, style: Style) -> str:
    return ", ".join(f"{name} {style.length(v)}" for name, v in zip("XYZ", place, strict=True))


def _flat_words(s: Surface, style: Style, turned: bool) -> str:
    for k, (plus, minus, name) in enumerate((*_SIDES[:2], _ENDS if turned else _SIDES[2])):
        if abs(s.axis[k]) > _SQUARE:
            return f"{plus if s.axis[k] > 0 else minus}, {name} {style.length(s.origin[k])}"
    lean = math.degrees(math.acos(min(1.0, abs(s.axis[2]))))
    how = f"flat along Z at {_turn(s.axis)}" if lean > 90 - 1e-6 else f"flat leaning {lean:.4g}°"
    return f"{how}, middle at {_at(s.center, style)}"


def _turn(axis: Vector) -> str:
    return f"{math.degrees(math.atan2(axis[1], axis[0])):.4g}°"


def _axis_words(s: Surface, style: Style) -> str:
    """Where an axis lies: the turning axis, or by the two coordinates it does not run along."""
    k = next((k for k in range(3) if abs(s.axis[k]) > _SQUARE), None)
    if k is None:
        return f"middle at {_at(s.center, style)}"
    off = [(name, v) for n, (name, v) in enumerate(zip("XYZ", s.origin, strict=True)) if n != k]
    if k == 2 and all(abs(v) < 1e-6 for _, v in off):
        return "on the axis"
    return "at " + ", ".join(f"{name} {style.length(v)}" for name, v in off)


def _round_words(s: Surface, style: Style, turned: bool) -> str:
    whole = s.turn > math.pi + 1e-6
    name = ("bore" if s.hollow else "round face") if whole else ("hollow" if s.hollow else "rounding")
    size = f"Ø{style.length(2 * s.radius)}" if whole else f"R{style.length(s.radius)}"
    return f"{name} {size}, {_axis_words(s, style)}"


def _cone_words(s: Surface, style: Style, turned: bool) -> str:
    return f"cone, {style.angle(2 * s.half_angle)} included, middle at Z {style.length(s.center[2])}"


def _ring_words(s: Surface, style: Style, turned: bool) -> str:
    return f"round edge R{style.length(s.radius)}, middle at {_at(s.center, style)}"


def _ball_words(s: Surface, style: Style, turned: bool) -> str:
    return f"ball Ø{style.length(2 * s.radius)}, middle at {_at(s.origin, style)}"


def _free_words(s: Surface, style: Style, turned: bool) -> str:
    return f"free face, middle at {_at(s.center, style)}"


_WORDS: dict[str, Callable[[Surface, Style, bool], str]] = {
    "plane": _flat_words,
    "cylinder": _round_words,
    "cone": _cone_words,
    "torus": _ring_words,
    "sphere": _ball_words,
    "other": _free_words,
}


class MassProperties(msgspec.Struct, frozen=True):
    """Volume mm³, area mm², centre (mm) and box corners (mm) of a solid, integrated over its faces; ``off`` is how far
    the volume may be off, mm³.
    """

    volume: float
    area: float
    center: Vector
    low: Vector
    high: Vector
    off: float = 0.0

    def volume_text(self, style: Style) -> str:
        """The volume in the job's unit, with how far it may be off when that is more than a millionth."""
        text = style.volume(self.volume)
        return f"{text} ± {style.volume(self.off)}" if self.off > 1e-6 * abs(self.volume) else text
