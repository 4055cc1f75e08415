"""What a surface sends to the eye: metal as a look into the room, blurred along and across the lay of its marks."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ...arrays import Floats, Ints
from .subject import Coats

#: Of a 60 degree thread's turn: rising flank up to, crest, falling flank up to; the rest is root (ISO 68-1).
_FLANK_UP, _CREST, _FLANK_DOWN = 0.3125, 0.4375, 0.75
#: How far a flank leans, as the tangent of its angle to the axis; a shade less than the true one, which looks harsh.
_LEAN = 1.4
#: Reflection of what is no metal, seen straight on.
_PLAIN = 0.04


def unit(ways: Floats) -> Floats:
    size = np.sqrt(np.einsum("ij,ij->i", ways, ways))
    found: Floats = ways / np.maximum(size, 1e-12)[:, None]
    return found


def dots(a: Floats, b: Floats) -> Floats:
    found: Floats = np.einsum("ij,ij->i", a, b)
    return found


def facing(ways: Floats, seen_along: Floats) -> Floats:
    """Turned towards the eye that looks along ``seen_along``."""
    found: Floats = np.where((dots(ways, seen_along) > 0)[:, None], -ways, ways)
    return found


def threaded(places: Floats, normals: Floats, coat: Ints, coats: Coats) -> Floats:
    """Normals (n, 3) leaned as flanks, crests and roots of threads that are not modelled would have them."""
    lead = coats.worm[coat, 0]
    at = np.flatnonzero(lead > 0)
    if not len(at):
        return normals
    own, axis = coat[at], coats.axis[coat[at]]
    away = places[at] - coats.origin[own]
    along = dots(away, axis)
    on = (along >= coats.worm[own, 1]) & (along <= coats.worm[own, 2]) & (np.abs(dots(normals[at], axis)) < 0.2)
    at, own, axis, away, along = at[on], own[on], axis[on], away[on], along[on]
    x, y = _across(axis)
    turn = np.arctan2(dots(away, y), dots(away, x)) / (2 * np.pi)
    phase = (along / lead[at] - coats.worm[own, 3] * turn) % 1
    lean = np.where(phase < _FLANK_UP, _LEAN, np.where(phase < _CREST, 0.0, np.where(phase < _FLANK_DOWN, -_LEAN, 0.0)))
    made = normals.copy()
    made[at] = unit(made[at] + axis * lean[:, None])
    return made


def _across(axis: Floats) -> tuple[Floats, Floats]:
    """Two unit directions square to each axis (n, 3) and to each other."""
    helper = np.where((np.abs(axis[:, 2]) < 0.9)[:, None], [[0.0, 0.0, 1.0]], [[1.0, 0.0, 0.0]])
    x = unit(np.cross(helper, axis))
    return x, np.cross(axis, x)


def lays(places: Floats, normals: Floats, coat: Ints, coats: Coats) -> tuple[Floats, Floats]:
    """Unit directions along the tool marks and across them, in the surface."""
    axis = coats.axis[coat]
    way = np.where((coats.lay[coat] == 1)[:, None], np.cross(axis, places - coats.origin[coat]), axis)
    way = way - normals * dots(way, normals)[:, None]
    lost = np.linalg.norm(way, axis=1) < 1e-9
    if lost.any():
        way[lost] = _across(normals[lost])[0]
    along = unit(way)
    return along, np.cross(normals, along)


class Mirrored(NamedTuple):
    """Directions (n, 3) of the reflected look, how obliquely the tiny mirror was met (cosine), and its spread."""

    ways: Floats
    cosine: Floats
    spread: Floats


def mirrored(
    ways: Floats, normals: Floats, true: Floats, lay: tuple[Floats, Floats], coat: Ints, coats: Coats,
    rng: np.random.Generator,
) -> Mirrored:  # fmt: skip
    """One reflected look a place, off a tiny mirror that leans by chance as the finish lets it. ``true`` are normals
    of the triangles: nothing is reflected into them.
    """
    count = len(ways)
    along, across = coats.along[coat], coats.across[coat]
    a = along * rng.standard_normal(count, np.float32) * 0.6
    b = across * rng.standard_normal(count, np.float32) * 0.8
    tiny = unit(normals + lay[0] * a[:, None] + lay[1] * b[:, None])
    cosine = dots(ways, tiny)
    out = ways - 2 * cosine[:, None] * tiny
    into = dots(out, true)
    out = np.where((into < 0)[:, None], out - 2 * into[:, None] * true, out)
    return Mirrored(unit(out), np.clip(-cosine, 0, 1), (along + across) / 4)


def reflectance(coat: Ints, coats: Coats, cosine: Floats) -> tuple[Floats, Floats, Floats]:
    """Of each place: colour of what is mirrored (n, 3) and of what is scattered (n, 3), share of metal (n, 1); more is
    mirrored the flatter it is met (Schlick's approximation).
    """
    color, metal = coats.color[coat], coats.metal[coat][:, None]
    flat = ((1 - cosine) ** 5)[:, None]
    shine = metal * (color + (1 - color) * flat) + (1 - metal) * (_PLAIN + (1 - _PLAIN) * flat)
    return shine, (1 - metal) * color, metal
