"""What of a part is alike on both sides of a plane, or after a part of a turn, by the figures of its faces.

Faces are matched, not masses: one hole off by a hair is told as that hole, where a centre of mass would tilt the plane.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable, Sequence
from typing import Literal, NamedTuple

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import along, cross, dot, minus, norm, unit
from ..tolerance import LEVEL

#: A face lies where its partner is to this (mm), or nearly so to that.
EXACT, NEAR = 1e-4, 0.3
#: Told at all when no larger share of the faces breaks it.
MOST_BROKEN = 1 / 3
#: The ends of a round face count from here on (mm): where it ends on another round one they are found no nearer.
ENDS = 0.01
#: No more normals are tried.
_MOST_WAYS = 80
ORDERS = tuple(range(2, 13))
State = Literal["exact", "near", "broken"]
Move = Callable[[Vector], Vector]


class Symmetry(NamedTuple):
    """``order`` 1 is a mirror plane through ``place`` with the normal ``way``, else so many alike about the axis there.
    ``faces`` are those that break it (indices), ``gap`` how far the worst that has a partner is off, mm.
    """

    order: int
    place: Vector
    way: Vector
    state: State
    faces: tuple[int, ...] = ()
    gap: float = 0.0


class _Face(NamedTuple):
    """One surface with all its pieces: a line or place, the size, the ends along it."""

    kind: str
    place: Vector
    way: Vector
    sizes: tuple[float, ...]
    ends: tuple[float, float]
    indices: tuple[int, ...]


def symmetries(surfaces: Sequence[Surface]) -> tuple[Symmetry, ...]:
    """Every mirror plane and every part of a turn that is told, exact ones first, then by the faces that break them."""
    faces = _whole(surfaces)
    if not faces:
        return ()
    axis = main_axis(surfaces)
    found = [s for n, d in _planes(faces, axis) if (s := _mirrored(faces, n, d)) is not None]
    if axis is not None:
        found += [s for order in ORDERS if (s := _turned(faces, *axis, order)) is not None]
    rank = {"exact": 0, "near": 1, "broken": 2}
    return tuple(sorted(found, key=lambda s: (rank[s.state], len(s.faces), -s.order)))


def main_axis(surfaces: Iterable[Surface]) -> tuple[Vector, Vector] | None:
    """The axis that most of the round surface lies about: a place on it and its way."""
    votes: dict[tuple[float, ...], tuple[float, Vector, Vector]] = {}
    for s in surfaces:
        if s.kind in ("cylinder", "cone", "torus"):
            way = _forward(s.axis)
            foot = cross(way, cross(s.origin, way))
            key = tuple(round(v, 3) + 0.0 for v in (*foot, *way))
            area = votes[key][0] if key in votes else 0.0
            votes[key] = (area + s.area, foot, way)
    if not votes:
        return None
    _, foot, way = max(votes.values(), key=lambda v: v[0])
    return foot, way


def _forward(way: Vector) -> Vector:
    first = next((c for c in way if abs(c) > LEVEL), 1.0)
    return way if first > 0 else (-way[0], -way[1], -way[2])


def _whole(surfaces: Sequence[Surface]) -> list[_Face]:
    """Pieces of one surface as one: a seam, a slot or a hole that overlaps parts a face where its image is whole."""
    groups: dict[tuple[object, ...], list[tuple[Surface, float, float]]] = {}
    for s in surfaces:
        key, low, high = _key(s)
        groups.setdefault(key, []).append((s, low, high))
    found = []
    for same in groups.values():
        first = same[0][0]
        ends = (min(lo for _, lo, _ in same), max(hi for _, _, hi in same))
        found.append(
            _Face(first.kind, _place(first), _way(first), _sizes(first), ends, tuple(s.index for s, _, _ in same))
        )
    return found


def _key(s: Surface) -> tuple[tuple[object, ...], float, float]:
    place, way = _place(s), _way(s)
    rounded = tuple(round(v, 5) + 0.0 for v in (*place, *way, *_sizes(s)))
    if s.kind not in ("cylinder", "cone"):
        return (s.kind, s.hollow, *rounded), 0.0, 0.0
    ends = [dot(along(s.origin, s.axis, t), way) for t in s.span]
    return (s.kind, s.hollow, *rounded), min(ends), max(ends)


def _place(s: Surface) -> Vector:
    """What tells where a face is: of a plane its foot, of an axis its own, else a centre."""
    if s.kind == "plane":
        return along((0.0, 0.0, 0.0), s.axis, dot(s.origin, s.axis))
    if s.kind == "cylinder":
        return cross(_forward(s.axis), cross(s.origin, _forward(s.axis)))
    return s.origin if s.kind in ("sphere", "torus") else s.center


def _way(s: Surface) -> Vector:
    if s.kind == "plane":
        return s.axis
    return _forward(s.axis) if s.kind in ("cylinder", "cone", "torus") else (0.0, 0.0, 0.0)


def _sizes(s: Surface) -> tuple[float, ...]:
    if s.kind == "other":
        return (s.area,)
    return (s.radius, s.major, s.half_angle) if s.kind in ("torus", "cone") else (s.radius,)


# --- matching
def _gap(image: _Face, there: _Face) -> float:
    """How far an image lies from a face of its kind, mm; endless when it is another size or looks another way."""
    if image.kind != there.kind or len(image.sizes) != len(there.sizes):
        return math.inf
    if image.kind != "plane" and any(abs(a - b) > NEAR for a, b in zip(image.sizes, there.sizes, strict=True)):
        return math.inf
    if norm(image.way) > LEVEL and dot(image.way, there.way) < 1 - 1e-6:
        return math.inf
    size = max((abs(a - b) for a, b in zip(image.sizes, there.sizes, strict=True)), default=0.0)
    ends = max(abs(a - b) for a, b in zip(image.ends, there.ends, strict=True))
    ends = ends if ends > ENDS else 0.0
    return max(norm(minus(image.place, there.place)), size if image.kind != "plane" else 0.0, ends)


def _matched(faces: Sequence[_Face], image: Callable[[_Face], _Face]) -> tuple[list[_Face], float]:
    """Faces whose images are not there, and how far off the worst is that is nearly there."""
    broken, worst = [], 0.0
    for face in faces:
        seen = image(face)
        gap = min((_gap(seen, there) for there in faces), default=math.inf)
        if gap > EXACT:
            broken.append(face)
            worst = max(worst, gap if gap < NEAR else math.inf)
    return broken, worst


def _judged(faces: Sequence[_Face], image: Callable[[_Face], _Face], made: Symmetry) -> Symmetry | None:
    broken, worst = _matched(faces, image)
    if len(broken) > MOST_BROKEN * len(faces):
        return None
    state: State = "exact" if not broken else "near" if worst < NEAR else "broken"
    indices = tuple(i for f in broken for i in f.indices)
    return made._replace(state=state, faces=indices, gap=worst if state == "near" else 0.0)


def _image(face: _Face, point: Move, way: Move) -> _Face:
    """A face after a move; places that only stand for a line or a plane are brought to its foot again."""
    turned = way(face.way)
    place = point(face.place)
    if face.kind == "plane":
        return face._replace(way=turned, place=along((0.0, 0.0, 0.0), turned, dot(place, turned)))
    if face.kind not in ("cylinder", "cone", "torus"):
        return face._replace(place=place)
    forward = _forward(turned)
    if face.kind == "torus":
        return face._replace(way=forward, place=place)
    # The ends are counted along the axis from the part's zero: from where the old foot went.
    tips = [point(along(_foot(face), face.way, t)) for t in face.ends]
    ends = sorted(dot(tip, forward) for tip in tips)
    foot = cross(forward, cross(tips[0], forward))
    if face.kind == "cone":
        return face._replace(way=forward, place=place, ends=(ends[0], ends[1]))
    return face._replace(way=forward, place=foot, ends=(ends[0], ends[1]))


def _foot(face: _Face) -> Vector:
    """The place of a face's axis that is nearest to the part's zero."""
    return cross(face.way, cross(face.place, face.way))


# --- planes
def _mirrored(faces: Sequence[_Face], n: Vector, d: float) -> Symmetry | None:
    def point(p: Vector) -> Vector:
        return along(p, n, 2 * (d - dot(p, n)))

    def way(v: Vector) -> Vector:
        return along(v, n, -2 * dot(v, n))

    made = Symmetry(1, along((0.0, 0.0, 0.0), n, d), n, "exact")
    return _judged(faces, lambda f: _image(f, point, way), made)


def _planes(faces: Sequence[_Face], axis: tuple[Vector, Vector] | None) -> list[tuple[Vector, float]]:
    """Normals along the flat faces', between off-axis round faces, and through the main axis along and square to what
    lies off it; offsets by the middles of pairs.
    """
    normals = {tuple(round(c, 6) + 0.0 for c in _forward(f.way)): _forward(f.way) for f in faces if f.kind == "plane"}
    for a, b in itertools.combinations([f for f in faces if f.kind == "cylinder"], 2):
        gap = minus(b.place, a.place)
        if norm(gap) > NEAR and dot(a.way, b.way) > 1 - LEVEL and len(normals) < _MOST_WAYS:
            for n in (unit(gap), cross(a.way, unit(gap))):
                normals.setdefault(tuple(round(c, 6) + 0.0 for c in _forward(n)), _forward(n))
    for face in faces if axis is not None else ():
        if axis is not None and norm(over := cross(axis[1], face.way)) > LEVEL and len(normals) < _MOST_WAYS:
            for n in (unit(over), cross(axis[1], unit(over))):
                normals.setdefault(tuple(round(c, 6) + 0.0 for c in _forward(n)), _forward(n))
    found: dict[tuple[float, ...], tuple[Vector, float]] = {}
    for n in normals.values():
        for d in _offsets(faces, n):
            found.setdefault((*(round(c, 6) for c in n), round(d, 4)), (n, d))
    return list(found.values())


def _offsets(faces: Sequence[_Face], n: Vector) -> list[float]:
    flat = [dot(f.place, n) for f in faces if f.kind == "plane" and abs(dot(f.way, n)) > 1 - LEVEL]
    axes = [dot(f.place, n) for f in faces if f.kind != "plane" and abs(dot(f.way, n)) < LEVEL]
    tips = [e for f in faces if f.kind == "cylinder" and abs(dot(f.way, n)) > 1 - LEVEL for e in f.ends]
    offsets = [(min(group) + max(group)) / 2 for group in (flat, axes, tips) if group]
    return [*offsets, *([sorted(axes)[len(axes) // 2]] if axes else [])]


# --- turns
def _turned(faces: Sequence[_Face], foot: Vector, axis: Vector, order: int) -> Symmetry | None:
    """Alike after one ``order``-th of a turn; told only when something lies off the axis, or all would be."""
    angle = 2 * math.pi / order
    c, s = math.cos(angle), math.sin(angle)

    def way(v: Vector) -> Vector:
        k = dot(v, axis) * (1 - c)
        over = cross(axis, v)
        return (
            v[0] * c + over[0] * s + axis[0] * k,
            v[1] * c + over[1] * s + axis[1] * k,
            v[2] * c + over[2] * s + axis[2] * k,
        )

    def point(p: Vector) -> Vector:
        q = way(minus(p, foot))
        return (q[0] + foot[0], q[1] + foot[1], q[2] + foot[2])

    off = [f for f in faces if not _about(f, foot, axis)]
    if not off:
        return None
    judged = _judged(faces, lambda f: _image(f, point, way), Symmetry(order, foot, axis, "exact"))
    broken = set(judged.faces) if judged is not None else set()
    # Some of what lies off the axis must follow the turn, or there is nothing to tell.
    return judged if judged is not None and any(not broken & set(f.indices) for f in off) else None


def _about(face: _Face, foot: Vector, axis: Vector) -> bool:
    """Whether a face is the same after any turn about an axis."""
    if face.kind == "plane":
        return abs(dot(face.way, axis)) > 1 - LEVEL
    on_line = norm(cross(minus(face.place, foot), axis)) < EXACT
    return on_line and (norm(face.way) < LEVEL or abs(dot(face.way, axis)) > 1 - LEVEL)
