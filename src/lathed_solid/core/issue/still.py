"""A small picture of a part without a screen: triangles into a depth buffer, what is worked in another colour."""

from __future__ import annotations

import io
from typing import NamedTuple

import numpy as np
from PIL import Image

from ..arrays import Floats, Ints
from ..kernel.ground.figures import Vector
from ..kernel.measure.triangles import Triangles

#: Drawn so many times larger, then scaled down: edges come out smooth.
_OVER = 2
_MARGIN = 0.06
#: Candidates (pixel in a triangle's box) handled at once; bounds the memory.
_BATCH = 2_000_000
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


def places(part: Triangles, look: Look, size: tuple[int, int]) -> Floats:
    """Where every point of the part is in a picture of that size: right and down in pixels, towards the eye in mm."""
    seen: Floats = part.points @ np.array([look.right, look.up, look.eye]).T
    low, top = seen[:, :2].min(0), seen[:, :2].max(0)
    span = np.maximum(top - low, 1e-9)
    wide, high = size
    scale = min(size) if span.max() < 1e-6 else (1 - 2 * _MARGIN) * min(wide / span[0], high / span[1])
    seen[:, 0] = wide / 2 + (seen[:, 0] - (low + top)[0] / 2) * scale
    seen[:, 1] = high / 2 - (seen[:, 1] - (low + top)[1] / 2) * scale
    return seen


def _drawn(part: Triangles, look: Look, wide: int, high: int) -> tuple[Ints, Floats]:
    """The face that is seen in each pixel (0: none), and how brightly it is lit."""
    face, shade = np.zeros(wide * high, int), np.ones(wide * high)
    if not len(part.corners):
        return face.reshape(high, wide), shade.reshape(high, wide)
    flat = places(part, look, (wide, high))
    lit = _lit(part, part.points @ np.array([look.right, look.up, look.eye]).T)
    depth = np.full(wide * high, -np.inf)
    for rows in _batches(flat[part.corners], wide, high):
        _into(flat[part.corners[rows]], rows, part.face[rows], lit[part.corners[rows]], depth, face, shade, wide, high)
    return face.reshape(high, wide), shade.reshape(high, wide)


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


def _boxes(corners: Floats, wide: int, high: int) -> tuple[Ints, Ints, Ints, Ints]:
    x0 = np.floor(corners[:, :, 0].min(1)).astype(int).clip(0, wide - 1)
    x1 = np.ceil(corners[:, :, 0].max(1)).astype(int).clip(0, wide - 1)
    y0 = np.floor(corners[:, :, 1].min(1)).astype(int).clip(0, high - 1)
    y1 = np.ceil(corners[:, :, 1].max(1)).astype(int).clip(0, high - 1)
    return x0, x1 - x0 + 1, y0, y1 - y0 + 1


def _batches(corners: Floats, wide: int, high: int) -> list[Ints]:
    """Rows of triangles whose boxes have so many pixels in all."""
    _, w, _, h = _boxes(corners, wide, high)
    group = np.cumsum(w * h) // _BATCH
    return [np.flatnonzero(group == g) for g in np.unique(group)]


def _into(
    corners: Floats, rows: Ints, face: Ints, lit: Floats, depth: Floats, seen: Ints, shade: Floats,
    wide: int, high: int,
) -> None:  # fmt: skip
    """Draw triangles: what lies nearer to the eye stays."""
    x0, w, y0, h = _boxes(corners, wide, high)
    many = w * h
    at = np.repeat(np.arange(len(rows)), many)
    step = np.arange(many.sum()) - np.repeat(np.cumsum(many) - many, many)
    x, y = x0[at] + step % w[at], y0[at] + step // w[at]
    a, b, c = (corners[at, k] for k in range(3))
    area = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
    good = np.abs(area) > 1e-12
    area = np.where(good, area, 1.0)
    px, py = x + 0.5, y + 0.5
    u = ((b[:, 0] - px) * (c[:, 1] - py) - (c[:, 0] - px) * (b[:, 1] - py)) / area
    v = ((c[:, 0] - px) * (a[:, 1] - py) - (a[:, 0] - px) * (c[:, 1] - py)) / area
    t = 1 - u - v
    inside = good & (u >= -1e-9) & (v >= -1e-9) & (t >= -1e-9)
    at, pixel = at[inside], (y * wide + x)[inside]
    u, v, t = u[inside], v[inside], t[inside]
    z = u * a[inside, 2] + v * b[inside, 2] + t * c[inside, 2]
    light = u * lit[at, 0] + v * lit[at, 1] + t * lit[at, 2]
    order = np.argsort(z, kind="stable")  # the nearest of a pixel is written last
    at, pixel, z, light = at[order], pixel[order], z[order], light[order]
    nearer = z > depth[pixel]
    at, pixel, z, light = at[nearer], pixel[nearer], z[nearer], light[nearer]
    depth[pixel], seen[pixel], shade[pixel] = z, face[at], light
