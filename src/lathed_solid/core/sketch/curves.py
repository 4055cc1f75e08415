"""The shape of single curves in their stored pose: fine polylines, spans of arcs, splines in B-spline form."""

from __future__ import annotations

import math
from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from .model import Arc, Circle, Curve, Ellipse, Line, Point, Spline
from .refusal import SketchError

XY = tuple[float, float]
Points = Mapping[str, Point]


class BSpline(NamedTuple):
    """A clamped cubic: knots (with repeats) and poles (k x 2, mm)."""

    knots: Floats
    poles: Floats

    def at(self, t: Floats, derivative: int = 0) -> Floats:
        from scipy.interpolate import BSpline as Form

        return np.asarray(Form(self.knots, self.poles, 3)(t, derivative))


def polyline(curve: Curve, points: Points, step: float = math.pi / 36) -> Floats:
    """A curve as a polyline (k x 2, mm); arcs in pieces of at most ``step`` radians. A closed one ends where it began
    only if it is a spline; circles and ellipses leave out the repeated last place.
    """
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        return np.array([(a.x, a.y), (b.x, b.y)])
    if isinstance(curve, Spline):
        form = spline_form(curve, points)
        count = max(12, math.ceil(len(curve.through) * math.pi / (2 * step)))
        return form.at(np.linspace(form.knots[0], form.knots[-1], count))
    c = points[curve.center]
    if isinstance(curve, Ellipse):
        return _on_ellipse(curve, points, np.arange(0.0, 2 * math.pi - 1e-9, step))
    if isinstance(curve, Circle):
        count = max(3, math.ceil(2 * math.pi / step) + 1)
        t = np.linspace(0.0, 2 * math.pi, count)[:-1]
        return np.stack([c.x + curve.radius * np.cos(t), c.y + curve.radius * np.sin(t)], axis=1)
    start, sweep, radius = arc_span(curve, points)
    t = np.linspace(start, start + sweep, max(2, math.ceil(sweep / step) + 1))
    line = np.stack([c.x + radius * np.cos(t), c.y + radius * np.sin(t)], axis=1)
    a, b = points[curve.a], points[curve.b]
    line[0], line[-1] = (a.x, a.y), (b.x, b.y)
    return line


def _on_ellipse(curve: Ellipse, points: Points, t: Floats) -> Floats:
    """Places (k x 2, mm) at angles ``t`` (radians) from the first half axis."""
    c, (long_, ux, uy) = points[curve.center], half_axis(curve, points)
    u, v = long_ * np.cos(t), curve.minor * np.sin(t)
    return np.stack([c.x + u * ux - v * uy, c.y + u * uy + v * ux], axis=1)


def arc_span(arc: Arc, points: Points) -> tuple[float, float, float]:
    """Start angle, counter-clockwise sweep (radians) and radius (mm)."""
    c, a, b = points[arc.center], points[arc.a], points[arc.b]
    start = math.atan2(a.y - c.y, a.x - c.x)
    sweep = (math.atan2(b.y - c.y, b.x - c.x) - start) % (2 * math.pi)
    return start, sweep or 2 * math.pi, math.hypot(a.x - c.x, a.y - c.y)


def radius_of(curve: Circle | Arc, points: Points) -> float:
    """Radius in mm."""
    return curve.radius if isinstance(curve, Circle) else arc_span(curve, points)[2]


def half_axis(ellipse: Ellipse, points: Points) -> tuple[float, float, float]:
    """Length (mm) and unit direction of the first half axis."""
    c, a = points[ellipse.center], points[ellipse.a]
    length = math.hypot(a.x - c.x, a.y - c.y) or 1e-12
    return length, (a.x - c.x) / length, (a.y - c.y) / length


def spline_form(spline: Spline, points: Points) -> BSpline:
    """The cubic through the points, spaced by chord length; natural where no handle gives a direction."""
    places = tuple((points[i].x, points[i].y) for i in spline.through)
    start = _direction(points, spline.through[0], spline.start) if spline.start else None
    end = _direction(points, spline.through[-1], spline.end) if spline.end else None
    return _form(places, spline.through[0] == spline.through[-1], start, end)


@lru_cache(maxsize=256)
def _form(through: tuple[XY, ...], closed: bool, start: XY | None, finish: XY | None) -> BSpline:
    """The same spline is asked for many times while it is drawn, snapped to and cut with others."""
    from scipy.interpolate import make_interp_spline

    places = np.array(through)
    chords = np.maximum(np.hypot(*np.diff(places, axis=0).T), 1e-9)
    t = np.concatenate([[0.0], np.cumsum(chords)])
    zero = np.zeros(2)
    if closed and len(places) > 3:
        places[-1] = places[0]
        slope = make_interp_spline(t, places, 3, bc_type="periodic")(0.0, 1)
        begin, end = (1, slope), (1, slope)
    else:
        begin = (1, np.array(start)) if start else (2, zero)
        end = (1, -np.array(finish)) if finish else (2, zero)
    made = make_interp_spline(t, places, 3, bc_type=([begin], [end]))
    return BSpline(np.asarray(made.t, float), np.asarray(made.c, float))


def _direction(points: Points, at: str, handle: str) -> XY:
    dx, dy = points[handle].x - points[at].x, points[handle].y - points[at].y
    size = math.hypot(dx, dy)
    return (dx / size, dy / size) if size > 1e-12 else (dx, dy)


def _whole(curve: Curve) -> bool:
    return isinstance(curve, Circle | Ellipse)


def at(curve: Curve, points: Points, t: float) -> XY:
    """The place at ``t`` (0 to 1 from end to end; round ones from the right, an ellipse from its first half axis)."""
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        return a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)
    if isinstance(curve, Spline):
        form = spline_form(curve, points)
        x, y = form.at(np.array([form.knots[0] + t * (form.knots[-1] - form.knots[0])]))[0]
        return float(x), float(y)
    c = points[curve.center]
    if isinstance(curve, Ellipse):
        long_, ux, uy = half_axis(curve, points)
        u, v = long_ * math.cos(2 * math.pi * t), curve.minor * math.sin(2 * math.pi * t)
        return c.x + u * ux - v * uy, c.y + u * uy + v * ux
    start, sweep, radius = (0.0, 2 * math.pi, curve.radius) if isinstance(curve, Circle) else arc_span(curve, points)
    return c.x + radius * math.cos(start + t * sweep), c.y + radius * math.sin(start + t * sweep)


def parameter(curve: Curve, points: Points, x: float, y: float) -> float:
    """The ``t`` of the place on a curve nearest to a point (a line or arc may give less than 0 or more than 1)."""
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        dx, dy = b.x - a.x, b.y - a.y
        return ((x - a.x) * dx + (y - a.y) * dy) / ((dx * dx + dy * dy) or 1e-18)
    if isinstance(curve, Circle):
        c = points[curve.center]
        return math.atan2(y - c.y, x - c.x) / (2 * math.pi) % 1.0
    if isinstance(curve, Arc):
        c, (start, sweep, _) = points[curve.center], arc_span(curve, points)
        turn = (math.atan2(y - c.y, x - c.x) - start) % (2 * math.pi)
        return (turn if turn <= sweep + (2 * math.pi - sweep) / 2 else turn - 2 * math.pi) / sweep
    return _nearest_parameter(curve, points, x, y)


#: Places looked at over the whole of a curve, then between the neighbours of the nearest, again and again.
_FIRST, _AGAIN, _ROUNDS = 241, 41, 7


def _nearest_parameter(curve: Spline | Ellipse, points: Points, x: float, y: float) -> float:
    """All places of a round at once: it is asked for every curve at every move of the mouse."""
    form = spline_form(curve, points) if isinstance(curve, Spline) else None
    closed = isinstance(curve, Ellipse) or curve.through[0] == curve.through[-1]

    def places(t: Floats) -> Floats:
        if form is not None:
            return form.at(form.knots[0] + (t % 1.0 if closed else t) * (form.knots[-1] - form.knots[0]))
        assert isinstance(curve, Ellipse)
        return _on_ellipse(curve, points, 2 * math.pi * t)

    def gaps(t: Floats) -> Floats:
        found = places(t)
        return np.hypot(found[:, 0] - x, found[:, 1] - y)

    def nearer(middle: float, step: float) -> tuple[float, float]:
        """Gap and parameter, looked for closer and closer about a place of the first round."""
        for _ in range(_ROUNDS):
            low, high = middle - step, middle + step
            if not closed:  # the nearest place of a closed one may lie just before where it begins
                low, high = max(0.0, low), min(1.0, high)
            t = np.linspace(low, high, _AGAIN)
            middle, step = float(t[int(np.argmin(gaps(t)))]), (high - low) / (_AGAIN - 1)
        return float(gaps(np.array([middle]))[0]), middle

    t = np.linspace(0.0, 1.0, _FIRST)
    found = gaps(t)
    return min(nearer(float(t[k]), t[1]) for k in _hollows(found, places(t)))[1] % (1.0 if closed else 2.0)


def _hollows(found: Floats, places: Floats) -> list[int]:
    """Where a row of distances (k) is lower than beside it, and so near the least that the true least, between the
    ``places`` (k x 2) looked at, may be there.
    """
    beside = np.minimum(np.append(found[1:], np.inf), np.insert(found[:-1], 0, np.inf))
    stride = float(np.hypot(*np.diff(places, axis=0).T).max())
    return [int(k) for k in np.flatnonzero((found <= beside) & (found <= found.min() + stride))]


def nearest(curve: Curve, points: Points, x: float, y: float) -> tuple[float, XY]:
    """Distance from a place to a curve (mm) and the foot on it."""
    t = parameter(curve, points, x, y)
    foot = at(curve, points, t if _whole(curve) else min(1.0, max(0.0, t)))
    return math.hypot(foot[0] - x, foot[1] - y), foot


def length(curve: Curve, points: Points) -> float:
    """Length in mm (splines and ellipses by fine polyline)."""
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        return math.hypot(b.x - a.x, b.y - a.y)
    if isinstance(curve, Circle):
        return 2 * math.pi * curve.radius
    if isinstance(curve, Arc):
        _, sweep, radius = arc_span(curve, points)
        return sweep * radius
    line = polyline(curve, points, math.pi / 360)
    if isinstance(curve, Ellipse):
        line = np.concatenate([line, line[:1]])
    return float(np.hypot(*np.diff(line, axis=0).T).sum())


def leaving(curve: Curve, points: Points, backwards: bool) -> tuple[float, float]:
    """Direction (radians) and curvature (1/mm, left turning positive) with which a curve leaves its first end, or its
    last one when walked ``backwards``.
    """
    if isinstance(curve, Line):
        a, b = points[curve.a], points[curve.b]
        angle = math.atan2(b.y - a.y, b.x - a.x)
        return (math.remainder(angle + math.pi, 2 * math.pi), 0.0) if backwards else (angle, 0.0)
    if isinstance(curve, Arc):
        start, sweep, radius = arc_span(curve, points)
        bend = 1.0 / max(radius, 1e-12)
        if backwards:
            return math.remainder(start + sweep - math.pi / 2, 2 * math.pi), -bend
        return math.remainder(start + math.pi / 2, 2 * math.pi), bend
    if isinstance(curve, Spline):
        form = spline_form(curve, points)
        d = -form.at(form.knots[-1:], 1)[0] if backwards else form.at(form.knots[:1], 1)[0]
        return math.atan2(d[1], d[0]), 0.0
    raise SketchError(f"{curve.id} is closed and has no ends.")
