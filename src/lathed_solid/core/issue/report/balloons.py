"""Pictures of the part with the balloons of its callouts: each once, in the view that shows its faces best."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from ...arrays import Floats, Ints
from ...drafting.columns import spread
from ...kernel.ground.figures import Vector
from ...kernel.measure.triangles import Triangles
from ..picture.small import Look, places, seen_faces, still

#: Pixels of a view (the part in the middle, a column of balloons on either side) and of a balloon.
SIZE, COLUMN, ROUND = (560, 330), 46, 24
#: So many pixels of a face must show (at half the size of the picture) for its balloon to point at it.
_SHOWN = 10
_MOST_VIEWS = 4
#: So many balloons have room beside one picture.
_ROOM = 2 * int(SIZE[1] // (ROUND + 1))


class Balloon(NamedTuple):
    """Of callout ``number``: its middle, and what it points at (pixels from the upper left); ``hidden`` when that lies
    behind something.
    """

    number: int
    middle: tuple[float, float]
    at: tuple[float, float]
    hidden: bool


class View(NamedTuple):
    """A picture (PNG, :data:`SIZE` pixels) with its balloons."""

    title: str
    picture: bytes
    balloons: tuple[Balloon, ...]


def _look(right: Vector, up: Vector) -> Look:
    r, u = np.array(right, float), np.array(up, float)
    r /= np.linalg.norm(r)
    u = u - (u @ r) * r
    u /= np.linalg.norm(u)
    return Look(_vector(r), _vector(u), _vector(np.cross(r, u)))


def _vector(a: Floats) -> Vector:
    return float(a[0]), float(a[1]), float(a[2])


#: Views of a part that stands on its bottom, and of a turned one, which lies with its axis to the right.
_STANDING = {
    "from the right, above": _look((0.87, 0.5, 0.0), (-0.25, 0.43, 0.87)),
    "front": _look((1, 0, 0), (0, 0, 1)),
    "top": _look((1, 0, 0), (0, 1, 0)),
    "right side": _look((0, 1, 0), (0, 0, 1)),
    "back": _look((-1, 0, 0), (0, 0, 1)),
    "left side": _look((0, -1, 0), (0, 0, 1)),
    "bottom": _look((1, 0, 0), (0, -1, 0)),
    "from the left, below": _look((-0.87, -0.5, 0.0), (0.25, -0.43, 0.87)),
}
_LYING = {
    "from the right, above": _look((0.5, 0.0, 0.87), (-0.43, 0.87, 0.25)),
    "front": _look((0, 0, 1), (0, 1, 0)),
    "right end": _look((-1, 0, 0), (0, 1, 0)),
    "left end": _look((1, 0, 0), (0, 1, 0)),
    "back": _look((0, 0, -1), (0, 1, 0)),
    "top": _look((0, 0, 1), (-1, 0, 0)),
    "bottom": _look((0, 0, 1), (1, 0, 0)),
    "from the left, below": _look((-0.5, 0.0, 0.87), (0.43, 0.87, 0.25)),
}


def ballooned(part: Triangles, faces: Mapping[int, Sequence[int]], turned: bool) -> tuple[View, ...]:
    """As many views as are needed; ``faces`` are those of each callout (indices from 1). A callout whose faces show
    nowhere has its balloon where they lie behind others.
    """
    looks, inner = (_LYING if turned else _STANDING), (SIZE[0] - 2 * COLUMN, SIZE[1])
    half = (inner[0] // 2, inner[1] // 2)
    seen = {title: seen_faces(part, look, half) for title, look in looks.items()}
    many = int(part.face.max(initial=0)) + 1
    pixels = {title: np.bincount(s.ravel(), minlength=many) for title, s in seen.items()}
    faces = {n: _telling(own, faces, list(pixels.values())) for n, own in faces.items()}
    counts = {t: {n: sum(int(p[f]) for f in own) for n, own in faces.items()} for t, p in pixels.items()}
    chosen = _chosen(counts, [n for n, own in faces.items() if own])
    made = []
    for title, numbers in chosen.items():
        picture = still(part, looks[title], frozenset(), inner)
        marks = [_mark(n, faces[n], part, looks[title], seen[title], inner) for n in numbers]
        made += [View(title, picture, _placed(marks[k : k + _ROOM])) for k in range(0, len(marks), _ROOM)]
    return tuple(made)


def _telling(own: Sequence[int], faces: Mapping[int, Sequence[int]], pixels: Sequence[Ints]) -> tuple[int, ...]:
    """Of a callout's faces those that fewest others are measured on, as far as any of them shows."""
    shared = {f: sum(f in others for others in faces.values()) for f in own}
    shown = [f for f in own if any(p[f] >= _SHOWN for p in pixels)] or list(own)
    least = min((shared[f] for f in shown), default=0)
    return tuple(f for f in shown if shared[f] == least)


def _chosen(counts: Mapping[str, Mapping[int, int]], numbers: Sequence[int]) -> dict[str, list[int]]:
    """Which callouts stand in which view: the views that show most of what no other shows yet, each callout where it is
    seen best, what shows nowhere in the first.
    """
    left, views = set(numbers), list[str]()
    while left and len(views) < _MOST_VIEWS:
        best = max(counts, key=lambda t: (t not in views, sum(counts[t][n] >= _SHOWN for n in left)))
        now = {n for n in left if counts[best][n] >= _SHOWN}
        if not now or best in views:
            break
        views.append(best)
        left -= now
    # One picture is crowded where two would not be.
    more = sorted(counts, key=lambda t: -sum(min(_SHOWN, counts[t][n]) for n in numbers))
    views += [t for t in more if t not in views][: max(0, 2 - len(views))]
    found: dict[str, list[int]] = {v: [] for v in views}
    for n in numbers:
        order = sorted(views, key=lambda v: -counts[v][n])
        found[next((v for v in order if len(found[v]) < _ROOM), order[0])].append(n)
    return {v: own for v, own in found.items() if own}


def _mark(
    number: int, faces: Sequence[int], part: Triangles, look: Look, seen: Ints, inner: tuple[int, int]
) -> tuple[int, tuple[float, float], bool]:
    """What a balloon points at: the middle of what shows of its largest face; else where that lies behind others."""
    best = max(faces, key=lambda f: int((seen == f).sum()))
    rows, columns = np.nonzero(seen == best)
    if len(rows) >= _SHOWN:
        middle = np.argmin((rows - np.median(rows)) ** 2 + (columns - np.median(columns)) ** 2)
        return number, (2 * float(columns[middle]) + COLUMN, 2 * float(rows[middle])), False
    own = part.corners[part.face == best]
    if not len(own):
        return number, (COLUMN + inner[0] / 2, inner[1] / 2), True
    x, y = places(part, look, inner)[own].reshape(-1, 2).mean(0)
    return number, (float(x) + COLUMN, float(y)), True


def _placed(marks: Sequence[tuple[int, tuple[float, float], bool]]) -> tuple[Balloon, ...]:
    """Balloons in a column on either side, in the order of what they point at."""
    by_x = sorted(marks, key=lambda m: m[1][0])
    most = _ROOM // 2
    count = min(most, max(len(marks) - most, sum(m[1][0] < SIZE[0] / 2 for m in marks)))
    made: list[Balloon] = []
    for side, x in ((by_x[:count], ROUND / 2 + 1.0), (by_x[count:], SIZE[0] - ROUND / 2 - 1.0)):
        order = sorted(side, key=lambda m: m[1][1])
        heights = spread([m[1][1] for m in order], ROUND + 1.0, ROUND / 2 + 1, SIZE[1] - ROUND / 2 - 1)
        made += [Balloon(n, (x, y), at, hidden) for (n, at, hidden), y in zip(order, heights, strict=True)]
    return tuple(made)
