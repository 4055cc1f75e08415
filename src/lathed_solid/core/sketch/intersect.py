"""Where curves meet: exact for lines, arcs and circles, refined from fine polylines for the rest."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple

import numpy as np

from ..tolerance import ONE_PLACE
from .curves import Points, arc_span, at, parameter, polyline
from .model import Arc, Circle, Curve, Ellipse, Line, Spline

#: Two meetings nearer than this share of the radius are one touch: a gap of 1e-8 opens to its root when curves touch.
TOUCH = 2e-4


class Meeting(NamedTuple):
    """A place (mm) and the parameters there on both curves (0 to 1 from end to end; see ``curves.at``)."""

    x: float
    y: float
    s: float
    t: float


def meet(a: Curve, b: Curve, points: Points, beyond: bool = False) -> list[Meeting]:
    """All places where ``a`` and ``b`` cross or touch; with ``beyond`` also on ``a`` drawn on past its ends."""
    places = _places(a, b, points)
    found: list[Meeting] = []
    for x, y in places:
        s, t = parameter(a, points, x, y), parameter(b, points, x, y)
        if (beyond or _within(a, points, s)) and _within(b, points, t):
            found.append(Meeting(x, y, s, t))
    return found


def _within(curve: Curve, points: Points, t: float) -> bool:
    if isinstance(curve, Circle | Ellipse):
        return True
    if isinstance(curve, Spline):
        return -1e-9 <= t <= 1 + 1e-9
    size = math.dist(at(curve, points, 0), at(curve, points, 1)) if isinstance(curve, Line) else None
    if size is None:
        assert isinstance(curve, Arc)
        _, sweep, radius = arc_span(curve, points)
        size = sweep * radius
    slack = ONE_PLACE / max(size, 1e-9)
    return -slack <= t <= 1 + slack


def _places(a: Curve, b: Curve, points: Points) -> list[tuple[float, float]]:
    if isinstance(a, Spline | Ellipse) or isinstance(b, Spline | Ellipse):
        return _by_polyline(a, b, points)
    if isinstance(a, Line) and isinstance(b, Line):
        return _line_line(a, b, points)
    if isinstance(a, Line) and isinstance(b, Circle | Arc):
        return _line_round(a, b, points)
    if isinstance(b, Line) and isinstance(a, Circle | Arc):
        return _line_round(b, a, points)
    assert isinstance(a, Circle | Arc) and isinstance(b, Circle | Arc)
    return _round_round(a, b, points)


def _line_line(a: Line, b: Line, points: Points) -> list[tuple[float, float]]:
    p, q, r, s = points[a.a], points[a.b], points[b.a], points[b.b]
    dx, dy, ex, ey = q.x - p.x, q.y - p.y, s.x - r.x, s.y - r.y
    cross = dx * ey - dy * ex
    if abs(cross) <= 1e-10 * math.hypot(dx, dy) * math.hypot(ex, ey):
        return []
    t = ((r.x - p.x) * ey - (r.y - p.y) * ex) / cross
    return [(p.x + t * dx, p.y + t * dy)]


def _circle(curve: Circle | Arc, points: Points) -> tuple[float, float, float]:
    c = points[curve.center]
    return c.x, c.y, curve.radius if isinstance(curve, Circle) else arc_span(curve, points)[2]


def _line_round(line: Line, curve: Circle | Arc, points: Points) -> list[tuple[float, float]]:
    p, q = points[line.a], points[line.b]
    return line_circle((p.x, p.y), (q.x - p.x, q.y - p.y), *_circle(curve, points))


def line_circle(
    start: tuple[float, float], way: tuple[float, float], cx: float, cy: float, r: float
) -> list[tuple[float, float]]:
    """Where an endless line meets a circle; touching counts once."""
    size = math.hypot(*way)
    if size < 1e-12:
        return []
    ux, uy = way[0] / size, way[1] / size
    along = (cx - start[0]) * ux + (cy - start[1]) * uy
    away = (cx - start[0]) * uy - (cy - start[1]) * ux
    half2 = r * r - away * away
    if half2 < -2e-7 * max(r, 1.0):
        return []
    half = math.sqrt(max(half2, 0.0))
    ts = (along - half, along + half) if half > TOUCH * r else (along,)
    return [(start[0] + t * ux, start[1] + t * uy) for t in ts]


def _round_round(a: Circle | Arc, b: Circle | Arc, points: Points) -> list[tuple[float, float]]:
    return circle_circle(_circle(a, points), _circle(b, points))


def circle_circle(a: tuple[float, float, float], b: tuple[float, float, float]) -> list[tuple[float, float]]:
    """Where two circles (centre x, y, radius) meet; touching counts once, lying on each other not at all."""
    (ax, ay, ra), (bx, by, rb) = a, b
    d = math.hypot(bx - ax, by - ay)
    slack = 1e-7 * max(ra, rb, 1.0)
    if d < 1e-9 or d > ra + rb + slack or d < abs(ra - rb) - slack:
        return []
    along = (d * d + ra * ra - rb * rb) / (2 * d)
    half = math.sqrt(max(ra * ra - along * along, 0.0))
    ux, uy = (bx - ax) / d, (by - ay) / d
    mx, my = ax + along * ux, ay + along * uy
    if half < TOUCH * max(ra, rb):
        return [(mx, my)]
    return [(mx - half * uy, my + half * ux), (mx + half * uy, my - half * ux)]


# --- splines and ellipses
def _by_polyline(a: Curve, b: Curve, points: Points) -> list[tuple[float, float]]:
    lines = [_closed(c, polyline(c, points, math.pi / 180)) for c in (a, b)]
    found: list[tuple[float, float]] = []
    for i, j, s, t in segment_meetings(*lines):
        x, y = _refined(a, b, points, (i + s) / (len(lines[0]) - 1), (j + t) / (len(lines[1]) - 1))
        if not any(math.hypot(x - u, y - v) < 1e-6 for u, v in found):
            found.append((x, y))
    return found


def _closed(curve: Curve, line: np.ndarray) -> np.ndarray:
    return np.concatenate([line, line[:1]]) if isinstance(curve, Circle | Ellipse) else line


def segment_meetings(p: np.ndarray, q: np.ndarray) -> Iterable[tuple[int, int, float, float]]:
    """Crossing pairs of pieces of two polylines: piece numbers and how far along each (0 to 1)."""
    d1, d2 = np.diff(p, axis=0), np.diff(q, axis=0)
    w = q[None, :-1] - p[:-1, None]
    cross = d1[:, None, 0] * d2[None, :, 1] - d1[:, None, 1] * d2[None, :, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (w[..., 0] * d2[None, :, 1] - w[..., 1] * d2[None, :, 0]) / cross
        t = (w[..., 0] * d1[:, None, 1] - w[..., 1] * d1[:, None, 0]) / cross
    slack = 1e-3
    hit = (np.abs(cross) > 1e-14) & (s >= -slack) & (s <= 1 + slack) & (t >= -slack) & (t <= 1 + slack)
    return [(int(i), int(j), float(s[i, j]), float(t[i, j])) for i, j in zip(*np.nonzero(hit), strict=True)]


def _refined(a: Curve, b: Curve, points: Points, s: float, t: float) -> tuple[float, float]:
    """Newton on both parameters from where the polylines cross."""
    h = 1e-7
    for _ in range(8):
        pa, pb = np.array(at(a, points, s)), np.array(at(b, points, t))
        da = (np.array(at(a, points, s + h)) - pa) / h
        db = (np.array(at(b, points, t + h)) - pb) / h
        J = np.stack([da, -db], axis=1)
        if abs(np.linalg.det(J)) < 1e-12:
            break
        step = np.linalg.solve(J, pb - pa)
        s, t = s + float(step[0]), t + float(step[1])
        if float(np.abs(step).max()) < 1e-13:
            break
    x, y = at(a, points, s)
    return float(x), float(y)
