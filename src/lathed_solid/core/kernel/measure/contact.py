"""Contact that faces themselves say: flats that lie on each other, a shaft that fills its hole. Where it is found the
gap of two solids is nothing, and the kernel need not be asked how far they are apart, which is slow.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import manifold3d
import numpy as np

from ...arrays import Floats
from ..ground.figures import Surface, Vector
from .bodies import Placed
from .difference import FINE

#: Faces this close touch (mm); directions this parallel are one.
_TOUCHES, _PARALLEL = 1e-6, 1e-10
_WHOLE = 2 * math.pi - 1e-9


def contact(a: Placed, b: Placed) -> Vector | None:
    """A place where two placed bodies touch, mm; None when no pair of flats and no pair of whole cylinders says so
    beyond doubt: their triangles overlap by more than these can be off.
    """
    for one, two in _facing(a, b):
        if (at := _flat_on_flat(a, b, one, two)) is not None:
            return at
    for shaft in _rounds(a):
        for bore in _rounds(b):
            if (at := _filled(a, b, shaft, bore)) is not None:
                return at
    return None


def _facing(a: Placed, b: Placed) -> Iterator[tuple[int, int]]:
    """Which flats of the one lie in the plane of which of the other, looking at it."""
    one, two = a.body.flats, b.body.flats
    normals, others = one.normals @ a.turn.T, two.normals @ b.turn.T
    origins, there = one.origins @ a.turn.T + a.place, two.origins @ b.turn.T + b.place
    away = there @ normals.T - (origins * normals).sum(axis=1)  # (of the other, of the one)
    facing = (others @ normals.T <= _PARALLEL - 1) & (np.abs(away) <= _TOUCHES)
    return ((int(k), int(n)) for n, k in np.argwhere(facing))


def _rounds(body: Placed) -> Iterator[Surface]:
    return (s for s in body.body.surfaces if s.kind == "cylinder" and s.turn >= _WHOLE)


def _at(body: Placed, point: Vector) -> Floats:
    return np.asarray(body.turn @ np.array(point) + body.place)


def _flat_on_flat(a: Placed, b: Placed, one: int, two: int) -> Vector | None:
    normal, origin = a.turn @ a.body.flats.normals[one], a.turn @ a.body.flats.origins[one] + a.place
    x = np.cross(np.eye(3)[int(np.argmin(np.abs(normal)))], normal)
    x /= np.linalg.norm(x)
    frame = np.array([x, np.cross(normal, x)])
    mine, its = _outline(a, b, one, frame, origin), _outline(b, a, two, frame, origin)
    if mine is None or its is None:
        return None
    common = mine ^ its
    if common.is_empty():
        return None
    low_x, low_y, high_x, high_y = common.bounds()
    if common.area() < 2 * FINE * 2 * (high_x - low_x + high_y - low_y):
        return None
    u, v = max(common.to_polygons(), key=len)[0]
    px, py, pz = (float(c) for c in origin + frame.T @ np.array((u, v)))
    return px, py, pz


def _outline(body: Placed, other: Placed, flat: int, frame: Floats, origin: Floats) -> manifold3d.CrossSection | None:
    """A flat face's triangles in a plane's own axes, as far as the other body comes near them; None for none."""
    flats, (low, high) = body.body.flats, body.box_round(other)
    near = ((flats.low[flat] <= high + _TOUCHES) & (flats.high[flat] >= low - _TOUCHES)).all(axis=1)
    if not near.any():
        return None
    corners = (flats.corners[flat][near] @ body.turn.T + body.place - origin) @ frame.T
    # Whichever way round they are wound there, each encloses its area.
    (ux, uy), (vx, vy) = (corners[:, 1] - corners[:, 0]).T, (corners[:, 2] - corners[:, 0]).T
    turned = ux * vy - uy * vx < 0
    corners[turned] = corners[turned][:, ::-1]
    return manifold3d.CrossSection(list(corners))


def _filled(a: Placed, b: Placed, one: Surface, two: Surface) -> Vector | None:
    """A whole cylinder in a whole hollow one of its radius, about its axis."""
    if one.hollow == two.hollow or abs(one.radius - two.radius) > _TOUCHES:
        return None
    along, other = a.turn @ np.array(one.axis), b.turn @ np.array(two.axis)
    away = _at(b, two.origin) - _at(a, one.origin)
    shift, way = float(away @ along), float(along @ other)
    if abs(way) < 1 - _PARALLEL or float(np.linalg.norm(away - shift * along)) > _TOUCHES:
        return None
    low, high = sorted(shift + math.copysign(1.0, way) * v for v in two.span)
    first, last = max(low, min(one.span)), min(high, max(one.span))
    if last - first < 2 * FINE:
        return None
    side = np.cross(np.eye(3)[int(np.argmin(np.abs(along)))], along)
    side *= one.radius / float(np.linalg.norm(side))
    px, py, pz = (float(c) for c in _at(a, one.origin) + 0.5 * (first + last) * along + side)
    return px, py, pz
