"""Small pictures for paper, in a blink: a ray a pixel, what is worked in another colour; others by ``render``."""

from __future__ import annotations

import io
from typing import NamedTuple

import numpy as np
from PIL import Image

from ...arrays import Floats, Ints
from ...kernel.ground.figures import Vector
from ...kernel.measure.mesh_rays import MeshRays
from ...kernel.measure.triangles import Triangles

#: Drawn so many times larger, then scaled down: edges come out smooth.
_OVER = 2
_MARGIN = 0.06
_STEEL, _WORKED, _INK = np.array([196, 200, 204.0]), np.array([214, 158, 74.0]), np.array([34, 40, 46.0])
_LIGHT = np.array([-0.2, 0.45, 0.87])


class Look(NamedTuple):
    """Unit ways in the part's axes: to the right of the picture, up in it, and towards the eye."""

    right: Vector
    up: Vector
    eye: Vector


def look_at(out: Vector, lying: bool) -> Look:
    """At a part in a set-up, slightly from above: ``out`` to the tool, which is to the right when it is ``lying`` in a
    lathe, up otherwise.
    """
    a = np.array(out, float)
    helper = np.array([0.0, 1.0, 0.0] if abs(a[1]) < 0.9 else [1.0, 0.0, 0.0])
    if lying:
        high = np.array([0.0, 1.0, 0.0] if abs(a[1]) < 0.9 else [0.0, 0.0, 1.0])
        high = high - (high @ a) * a
        high /= np.linalg.norm(high)
        near = np.cross(a, high)
        eye = 0.5 * a + 0.38 * high + 0.78 * near
    else:
        high, back = a, helper - (helper @ a) * a
        back /= np.linalg.norm(back)
        eye = 0.62 * a - 0.66 * back - 0.42 * np.cross(a, back)
    eye /= np.linalg.norm(eye)
    up = high - (high @ eye) * eye
    up /= np.linalg.norm(up)
    right = np.cross(up, eye)
    return Look(_vector(right), _vector(up), _vector(eye))


def _vector(a: Floats) -> Vector:
    return float(a[0]), float(a[1]), float(a[2])


def still(part: Triangles, look: Look, worked: frozenset[int], size: tuple[int, int]) -> bytes:
    """PNG on a clear ground, ``size`` in pixels; faces of ``worked`` (indices) in brass."""
    wide, high = size[0] * _OVER, size[1] * _OVER
    face, shade = _drawn(part, look, wide, high)
    seen = face > 0
    colour = np.where(np.isin(face, list(worked))[..., None], _WORKED, _STEEL) * shade[..., None]
    edge = np.zeros_like(seen)
    edge[:, 1:] |= face[:, 1:] != face[:, :-1]
    edge[1:, :] |= face[1:, :] != face[:-1, :]
    colour[edge] = _INK
    alpha = np.where(seen | edge, 255.0, 0.0)
    pixels = np.dstack([colour, alpha]).clip(0, 255).astype(np.uint8)
    image = Image.fromarray(pixels, "RGBA").resize(size, Image.Resampling.BOX)
    out = io.BytesIO()
    image.save(out, "PNG", optimize=True)
    return out.getvalue()


def seen_faces(part: Triangles, look: Look, size: tuple[int, int]) -> Ints:
    """The face that is seen in each pixel (rows from above; 0: none)."""
    return _drawn(part, look, *size)[0]


class _Frame(NamedTuple):
    """Where a picture's middle lies (right and up, mm), and its pixels a mm."""

    middle: Floats
    scale: float


def _framed(seen: Floats, size: tuple[int, int]) -> _Frame:
    """All of the part within the picture; ``seen`` are its points to the right and up (mm)."""
    low, top = seen[:, :2].min(0), seen[:, :2].max(0)
    span = np.maximum(top - low, 1e-9)
    wide, high = size
    scale = min(size) if span.max() < 1e-6 else (1 - 2 * _MARGIN) * min(wide / span[0], high / span[1])
    return _Frame((low + top) / 2, float(scale))


def places(part: Triangles, look: Look, size: tuple[int, int]) -> Floats:
    """Where every point of the part is in a picture of that size: right and down in pixels, towards the eye in mm."""
    seen: Floats = part.points @ np.array([look.right, look.up, look.eye]).T
    middle, scale = _framed(seen, size)
    seen[:, 0] = size[0] / 2 + (seen[:, 0] - middle[0]) * scale
    seen[:, 1] = size[1] / 2 - (seen[:, 1] - middle[1]) * scale
    return seen


def _drawn(part: Triangles, look: Look, wide: int, high: int) -> tuple[Ints, Floats]:
    """The face that is seen in each pixel (0: none), and how brightly it is lit: one ray a pixel."""
    face, shade = np.zeros(wide * high, int), np.ones(wide * high)
    if not len(part.corners):
        return face.reshape(high, wide), shade.reshape(high, wide)
    ways = np.array([look.right, look.up, look.eye])
    seen = part.points @ ways.T
    middle, scale = _framed(seen, (wide, high))
    x, y = np.meshgrid(np.arange(wide) + 0.5, np.arange(high) + 0.5)
    flat = np.column_stack([middle[0] + (x.ravel() - wide / 2) / scale, middle[1] - (y.ravel() - high / 2) / scale])
    before = float(seen[:, 2].max()) + 1.0
    origins = np.column_stack([flat, np.full(len(flat), before)]) @ ways
    hits = MeshRays(part).cast(origins, np.broadcast_to(-ways[2], origins.shape)).triangle
    met = np.flatnonzero(hits >= 0)
    triangle = hits[met]
    face[met] = part.face[triangle]
    shade[met] = _light_at(flat[met], seen[part.corners[triangle]], _lit(part, seen)[part.corners[triangle]])
    return face.reshape(high, wide), shade.reshape(high, wide)


def _light_at(flat: Floats, corners: Floats, lit: Floats) -> Floats:
    """The light at places (n, 2) inside triangles (n, 3, 3), from that at their corners (n, 3)."""
    a, b, c = (corners[:, k, :2] for k in range(3))
    area = _turn(b - a, c - a)
    area = np.where(np.abs(area) > 1e-12, area, 1.0)
    u, v = _turn(b - flat, c - flat) / area, _turn(c - flat, a - flat) / area
    shares = np.stack([u, v, 1 - u - v], axis=1).clip(0, 1)
    found: Floats = (shares * lit).sum(axis=1) / np.maximum(shares.sum(axis=1), 1e-9)
    return found


def _lit(part: Triangles, seen: Floats) -> Floats:
    """Light at each point, from normals averaged within its face (faces share no points)."""
    a, b, c = (seen[part.corners[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    at_points = np.zeros_like(seen)
    for k in range(3):
        np.add.at(at_points, part.corners[:, k], normal)
    at_points /= np.maximum(np.linalg.norm(at_points, axis=1, keepdims=True), 1e-30)
    light = _LIGHT / np.linalg.norm(_LIGHT)
    lit: Floats = 0.6 + 0.4 * (at_points @ light)
    return lit


def _turn(a: Floats, b: Floats) -> Floats:
    found: Floats = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    return found
