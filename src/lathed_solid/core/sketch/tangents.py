"""Centres and lines that touch: every solution of the usual tangency problems, in closed form."""

from __future__ import annotations

import math

from .curves import Points, arc_span
from .intersect import circle_circle, line_circle
from .model import Arc, Circle, Line

XY = tuple[float, float]
Track = tuple[str, tuple[float, ...]]


def _tracks(curve: Line | Arc | Circle, points: Points, radius: float) -> list[Track]:
    """Where the centre of a circle of ``radius`` may lie so that it touches ``curve`` drawn on endlessly."""
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        size = math.hypot(b.x - a.x, b.y - a.y) or 1e-12
        ux, uy = (b.x - a.x) / size, (b.y - a.y) / size
        return [("line", (a.x - s * uy * radius, a.y + s * ux * radius, ux, uy)) for s in (1, -1)]
    c = points[curve.center]
    own = curve.radius if isinstance(curve, Circle) else arc_span(curve, points)[2]
    reaches = {own + radius, abs(own - radius)}
    return [("circle", (c.x, c.y, r)) for r in sorted(reaches, reverse=True) if r > 1e-9]


def centers(a: Line | Arc | Circle, b: Line | Arc | Circle, points: Points, radius: float) -> list[XY]:
    """All centres of circles of ``radius`` mm that touch both curves (up to eight)."""
    found: list[XY] = []
    for kind, first in _tracks(a, points, radius):
        for other, second in _tracks(b, points, radius):
            for at in _cross((kind, first), (other, second)):
                if not any(math.dist(at, f) < 1e-7 for f in found):
                    found.append(at)
    return found


def _cross(p: Track, q: Track) -> list[XY]:
    if p[0] == "line" and q[0] == "line":
        (ax, ay, ux, uy), (bx, by, vx, vy) = p[1], q[1]
        cross = ux * vy - uy * vx
        if abs(cross) < 1e-10:
            return []
        t = ((bx - ax) * vy - (by - ay) * vx) / cross
        return [(ax + t * ux, ay + t * uy)]
    if p[0] == "circle" and q[0] == "circle":
        return circle_circle(p[1], q[1])  # type: ignore[arg-type]
    line, circle = (p[1], q[1]) if p[0] == "line" else (q[1], p[1])
    return line_circle((line[0], line[1]), (line[2], line[3]), *circle)


def foot(curve: Line | Arc | Circle, points: Points, center: XY) -> XY:
    """Where a circle about ``center`` touches the curve it was made to touch."""
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        dx, dy = b.x - a.x, b.y - a.y
        t = ((center[0] - a.x) * dx + (center[1] - a.y) * dy) / (dx * dx + dy * dy)
        return a.x + t * dx, a.y + t * dy
    c = points[curve.center]
    own = curve.radius if isinstance(curve, Circle) else arc_span(curve, points)[2]
    d = math.hypot(center[0] - c.x, center[1] - c.y) or 1e-12
    return c.x + (center[0] - c.x) / d * own, c.y + (center[1] - c.y) / d * own


def touch(curve: Line | Arc | Circle, points: Points, center: XY, radius: float) -> XY:
    """Like :func:`foot`, but on the touching circle: inside a smaller one the far side is meant."""
    if isinstance(curve, Line):
        return foot(curve, points, center)
    c = points[curve.center]
    own = curve.radius if isinstance(curve, Circle) else arc_span(curve, points)[2]
    d = math.hypot(center[0] - c.x, center[1] - c.y) or 1e-12
    sign = -1.0 if d < radius - own + 1e-9 else 1.0
    return c.x + sign * (center[0] - c.x) / d * own, c.y + sign * (center[1] - c.y) / d * own


def common_tangents(a: tuple[float, float, float], b: tuple[float, float, float]) -> list[tuple[XY, XY]]:
    """Lines that touch two circles (x, y, radius): their two touching places; 4, 3, 2, 1 or none."""
    (ax, ay, ra), (bx, by, rb) = a, b
    d = math.hypot(bx - ax, by - ay)
    found: list[tuple[XY, XY]] = []
    if d < 1e-9:
        return found
    base = math.atan2(by - ay, bx - ax)
    for sign in (1, -1):
        share = (ra - sign * rb) / d
        if abs(share) > 1:
            continue
        for side in (1, -1):
            turn = base + side * math.acos(share)
            n = (math.cos(turn), math.sin(turn))
            found.append(((ax + ra * n[0], ay + ra * n[1]), (bx + sign * rb * n[0], by + sign * rb * n[1])))
    return found
