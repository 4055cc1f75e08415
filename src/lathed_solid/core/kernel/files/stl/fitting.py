"""Surfaces fitted to points: planes, cylinders, cones, balls and rings."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from ....arrays import Floats

#: A first fit, to a few points, is at least this good (mm).
ROUGH = 1e-3
#: So many steps bring a fit to its best; slopes are taken over so far (mm).
_STEPS, _STEP = 6, 1e-5


class Fitted(NamedTuple):
    """A surface: ``kind`` as of a measured face, a point and a direction, radius (at ``origin`` for a cone, the minor
    one of a torus), the other radius of a torus, a cone's half angle (it widens along ``axis``).
    """

    kind: str
    origin: Floats
    axis: Floats
    radius: float = 0.0
    major: float = 0.0
    half_angle: float = 0.0

    def off(self, points: Floats) -> Floats:
        """How far points lie from it, mm, outside positive."""
        gap = points - self.origin
        if self.kind == "sphere":
            return np.asarray(np.linalg.norm(gap, axis=1) - self.radius)
        z = gap @ self.axis
        if self.kind == "plane":
            return np.asarray(z)
        r = np.linalg.norm(gap - np.outer(z, self.axis), axis=1)
        if self.kind == "torus":
            return np.asarray(np.hypot(r - self.major, z) - self.radius)
        lean = self.half_angle
        return np.asarray((r - self.radius - z * math.tan(lean)) * math.cos(lean))

    def normals(self, points: Floats) -> Floats:
        """Unit directions away from its axis or centre at points near it."""
        gap = points - self.origin
        if self.kind == "sphere":
            return unit_rows(gap)
        z = gap @ self.axis
        away = unit_rows(gap - np.outer(z, self.axis))
        if self.kind == "torus":
            return unit_rows(gap - self.major * away)
        return np.asarray(away * math.cos(self.half_angle) - self.axis * math.sin(self.half_angle))


def squared(way: Floats, within: float = 2e-6) -> Floats:
    """A direction along an axis of the part where it is as good as that."""
    near = np.round(way)
    return np.asarray(near if np.abs(way - near).max() < within else way / np.linalg.norm(way))


def from_line(origin: Floats, axis: Floats, point: Floats) -> float:
    gap = point - origin
    return float(np.linalg.norm(gap - (gap @ axis) * axis))


def _plane_of(axis: Floats) -> tuple[Floats, Floats]:
    hint = np.eye(3)[np.abs(axis).argmin()]
    x = np.cross(axis, hint)
    x /= np.linalg.norm(x)
    return x, np.cross(axis, x)


def circle(u: Floats, v: Floats) -> tuple[float, float, float] | None:
    """Centre and radius of the circle through places of a plane."""
    rows = np.column_stack([u, v, np.ones(len(u))])
    if np.linalg.matrix_rank(rows - rows.mean(axis=0), tol=1e-9) < 2:
        return None
    found = np.linalg.lstsq(rows, u * u + v * v, rcond=None)[0]
    cu, cv = found[0] / 2, found[1] / 2
    square = found[2] + cu * cu + cv * cv
    return (float(cu), float(cv), math.sqrt(square)) if square > 0 else None


def cylinders(points: Floats, axis: Floats) -> Iterator[Fitted]:
    x, y = _plane_of(axis)
    if (found := circle(points @ x, points @ y)) is not None:
        yield Fitted("cylinder", found[0] * x + found[1] * y, axis, found[2])


def cones(points: Floats, normals: Floats, middles: Floats) -> Iterator[Fitted]:
    """The flats of a cone meet nearly in its tip, and from there all its points are seen at one angle to the axis."""
    tip, _, rank, _ = np.linalg.lstsq(normals, np.einsum("ij,ij->i", normals, middles), rcond=1e-9)
    if rank < 3:
        return
    rays = unit_rows(points - tip)
    axis = np.linalg.eigh(np.cov(rays.T))[1][:, 0]
    axis = axis if rays.mean(axis=0) @ axis > 0 else -axis
    z = (points - tip) @ axis
    r = np.linalg.norm(points - tip - np.outer(z, axis), axis=1)
    half, middle = float(np.mean(np.arctan2(r, z))), float(z.mean())
    if 1e-5 < half < math.pi / 2 - 1e-3:
        guess = Fitted("cone", tip + middle * axis, axis, middle * math.tan(half), 0.0, half)
        fit = refitted(guess, points)
        if fit is not None and np.abs(fit.off(points)).max() <= ROUGH:
            yield fit


def circles(points: Floats, origin: Floats, axis: Floats, near: float) -> Floats:
    """The different circles about an axis that points lie on (radius, place along it)."""
    gap = points - origin
    z = gap @ axis
    r = np.linalg.norm(gap - np.outer(z, axis), axis=1)
    return np.unique(np.round(np.column_stack([r, z]) / (20 * near)), axis=0)


def tapers(points: Floats, origin: Floats, axis: Floats) -> Iterator[Fitted]:
    """A cone about an axis that is known: its section is a straight line."""
    gap = points - origin
    z = gap @ axis
    r = np.linalg.norm(gap - np.outer(z, axis), axis=1)
    if np.ptp(z) < 1e-6:
        return
    slope, radius = np.polyfit(z - z.mean(), r, 1)
    way, half = (axis, math.atan(slope)) if slope > 0 else (-axis, math.atan(-slope))
    if half > 1e-5:
        yield Fitted("cone", origin + z.mean() * axis, way, float(radius), 0.0, half)


def balls(points: Floats) -> Iterator[Fitted]:
    rows = np.column_stack([points, np.ones(len(points))])
    if len(points) < 4 or np.linalg.matrix_rank(points - points.mean(axis=0), tol=1e-6) < 3:
        return
    found = np.linalg.lstsq(rows, (points * points).sum(axis=1), rcond=None)[0]
    centre = found[:3] / 2
    square = found[3] + centre @ centre
    if square > 0:
        yield Fitted("sphere", centre, np.array([0.0, 0.0, 1.0]), math.sqrt(square))


def rings(points: Floats, origin: Floats, axis: Floats) -> Iterator[Fitted]:
    """About an axis that is known: its section is a circle beside it."""
    gap = points - origin
    z = gap @ axis
    r = np.linalg.norm(gap - np.outer(z, axis), axis=1)
    found = circle(r, z)
    if found is not None and found[0] > 1e-6 and found[2] < 1e3:
        yield Fitted("torus", origin + found[1] * axis, axis, found[2], found[0])


def refitted(s: Fitted, points: Floats) -> Fitted | None:
    """The same kind of surface nearest to all the points."""
    if s.kind == "sphere":
        return next(balls(points), None)
    x, y = _plane_of(s.axis)
    size = max(float(np.linalg.norm(np.ptp(points, axis=0))), 1e-6)
    middle = points.mean(axis=0)
    origin = s.origin + ((middle - s.origin) @ s.axis) * s.axis
    radius = s.radius + float((origin - s.origin) @ s.axis) * math.tan(s.half_angle)
    if s.kind == "torus":
        origin, radius = s.origin, s.radius

    def made(p: Floats) -> Fitted:
        axis = s.axis + (p[2] * x + p[3] * y) / size
        axis /= np.linalg.norm(axis)
        place = origin + p[0] * x + p[1] * y
        if s.kind == "cylinder":
            return Fitted("cylinder", place, axis, radius + p[4])
        if s.kind == "cone":
            half = s.half_angle + p[5] / size
            return Fitted("cone", place, axis if half > 0 else -axis, radius + p[4], 0.0, abs(half))
        return Fitted("torus", place + p[6] * s.axis, axis, radius + p[4], s.major + p[5])

    many = {"cylinder": 5, "cone": 6, "torus": 7}[s.kind]
    if len(points) < many:
        return None
    p = np.zeros(many)
    for _ in range(_STEPS):
        off = made(p).off(points)
        slopes = np.column_stack([(made(p + h).off(points) - off) / _STEP for h in _STEP * np.eye(many)])
        step = np.linalg.lstsq(slopes, -off, rcond=1e-9)[0]
        p = p + step
        if np.abs(step).max() < 1e-8:
            break
    found = made(p)
    return found if math.isfinite(found.radius) and found.radius > 0 else None


def unit_rows(rows: Floats) -> Floats:
    return np.asarray(rows / np.maximum(np.linalg.norm(rows, axis=1, keepdims=True), 1e-300))
