"""Points held where a curve of another sketch comes through the plane."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from ..callout import Ledger
from ..quantity import ExpressionError, evaluate
from ..route.planes import plane_axes
from ..sketch.curves import at
from ..sketch.model import Curve, Relation, Sketch
from ..sketch.refusal import SketchError
from .model import Content, NotThere

XY = tuple[float, float]


def axes_of(sketch: Sketch, ledger: Ledger) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Origin, x and y of a sketch's plane. Raises SketchError when its offset or angle cannot be read."""
    try:
        offset = evaluate(sketch.plane.offset, ledger, "length")
        angle = evaluate(sketch.plane.angle, ledger, "angle")
    except ExpressionError as error:
        raise SketchError(f"The plane of “{sketch.name}”: {error}") from None
    origin, x, y = plane_axes(sketch.plane.base, offset, angle)
    return np.array(origin), np.array(x), np.array(y)


def through_plane(content: Content, sketch: Sketch, ledger: Ledger) -> list[tuple[str, XY]]:
    """Every place where a curve of another sketch comes through this plane: its name (``k2/l5``) and the place (mm)."""
    found = []
    for other in content.sketches:
        if other.id != sketch.id:
            for curve in other.curves():
                found += [(f"{other.id}/{curve.id}", xy) for xy in _places(sketch, other, curve, ledger)]
    return found


def pierced(content: Content, sketch: Sketch, ledger: Ledger) -> Sketch:
    """``sketch`` with its pierce relations at the place where their curves come through now. Raises SketchError."""
    if not any(r.kind == "pierce" for r in sketch.relations):
        return sketch
    relations = tuple(_renewed(content, sketch, r, ledger) if r.kind == "pierce" else r for r in sketch.relations)
    return msgspec.structs.replace(sketch, relations=relations) if relations != sketch.relations else sketch


def _renewed(content: Content, sketch: Sketch, relation: Relation, ledger: Ledger) -> Relation:
    point, (source, _, curve_id) = sketch.points()[relation.of[0]], relation.of[1].partition("/")
    try:
        other = content.sketch(source)
        curve = next(c for c in other.curves() if c.id == curve_id)
    except (NotThere, StopIteration):
        raise SketchError(f"The curve {relation.of[1]} that {point.id} lay on is gone. Drop the relation.") from None
    places = _places(sketch, other, curve, ledger)
    if not places:
        raise SketchError(f"The curve {curve_id} of “{other.name}” no longer comes through this plane.")
    near = relation.at or (point.x, point.y)
    place = min(places, key=lambda p: math.dist(p, near))
    if relation.at is not None and math.dist(place, relation.at) < 1e-9:
        return relation
    return msgspec.structs.replace(relation, at=place)


def _places(sketch: Sketch, other: Sketch, curve: Curve, ledger: Ledger) -> list[XY]:
    origin, x, y = axes_of(sketch, ledger)
    normal = np.cross(x, y)
    o, u, v = axes_of(other, ledger)
    points = other.points()

    def solid(t: float) -> np.ndarray:
        a, b = at(curve, points, t)
        return np.asarray(o + a * u + b * v)

    def height(t: float) -> float:
        return float(normal @ (solid(t) - origin))

    found: list[XY] = []
    steps = np.linspace(0.0, 1.0, 97)
    heights = [height(float(t)) for t in steps]
    if max(map(abs, heights)) < 1e-9:
        return []  # it lies in the plane
    for k in range(len(steps) - 1):
        if abs(heights[k]) < 1e-9 or (k == len(steps) - 2 and abs(heights[-1]) < 1e-9):
            hit = float(steps[k] if abs(heights[k]) < 1e-9 else steps[-1])
        elif heights[k] * heights[k + 1] < 0:
            hit = _zero(height, float(steps[k]), float(steps[k + 1]))
        else:
            continue
        p = solid(hit) - origin
        place = (float(p @ x), float(p @ y))
        if not any(math.dist(place, f) < 1e-7 for f in found):
            found.append(place)
    return found


def _zero(f: object, low: float, high: float) -> float:
    from scipy.optimize import brentq

    return float(brentq(f, low, high, xtol=1e-14))
