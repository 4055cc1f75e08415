"""Laying one solid on another by their faces: which are alike, and the motion that brings most of them together."""

from __future__ import annotations

import itertools
import math
import random
from collections.abc import Sequence

import numpy as np

from ...arrays import Floats
from ..ground.figures import Surface

#: Faces are alike when kind, area and radii agree to this share; and lie on each other within this, mm.
_ALIKE, _ON = 1e-5, 2e-3
#: So many guesses of three pairs are tried.
_GUESSES = 4000
#: Faces rarer than this begin the guesses.
_RARE = 12
_SEED = 20


def aligned(theirs: Sequence[Surface], ours: Sequence[Surface]) -> tuple[Floats, Floats, int] | None:
    """Rotation (3, 3) and shift (3,) that lay their solid on ours, and how many faces then lie on alike ones; None when
    fewer than half of them do. Mirror images are never proposed.
    """
    pairs = _alike(theirs, ours)
    by_count: dict[int, list[tuple[int, int]]] = {}
    for pair in pairs:
        by_count.setdefault(sum(p[0] == pair[0] for p in pairs), []).append(pair)
    rare = [pair for many in sorted(by_count) for pair in by_count[many]]
    best: tuple[Floats, Floats, int] | None = None
    theirs_at, ours_at = _places(theirs), _places(ours)
    for three in _guesses(rare):
        motion = _motion(three, theirs, ours)
        if motion is None:
            continue
        met = _met(motion, pairs, theirs_at, ours_at)
        if best is None or len(met) > best[2]:
            better = _motion(met, theirs, ours) or motion
            again = _met(better, pairs, theirs_at, ours_at)
            best = (*better, len(again)) if len(again) >= len(met) else (*motion, len(met))
        if best[2] == len(theirs):
            break
    return best if best is not None and 2 * best[2] >= len(theirs) else None


def _alike(theirs: Sequence[Surface], ours: Sequence[Surface]) -> list[tuple[int, int]]:
    return [(i, j) for i, a in enumerate(theirs) for j, b in enumerate(ours) if _is_like(a, b)]


def _is_like(a: Surface, b: Surface) -> bool:
    if a.kind != b.kind or a.hollow != b.hollow:
        return False
    figures = ((a.area, b.area), (a.radius, b.radius), (a.major, b.major), (a.half_angle, b.half_angle))
    return all(math.isclose(x, y, rel_tol=_ALIKE, abs_tol=1e-6) for x, y in figures)


def _guesses(pairs: Sequence[tuple[int, int]]) -> list[tuple[tuple[int, int], ...]]:
    """Threes of pairs: all of the rarest, then others by chance (always the same ones)."""
    first: list[tuple[tuple[int, int], ...]] = [
        t for t in itertools.combinations(pairs[: 3 * _RARE], 3) if _is_one_to_one(t)
    ]
    chance = random.Random(_SEED)
    chance.shuffle(first)
    found = first[: _GUESSES // 2]
    while len(pairs) >= 3 and len(found) < _GUESSES:
        found.append(tuple(chance.sample(list(pairs), 3)))
    return [t for t in found if _is_one_to_one(t)] or ([tuple(pairs)] if pairs else [])


def _is_one_to_one(pairs: Sequence[tuple[int, int]]) -> bool:
    return len({i for i, _ in pairs}) == len(pairs) == len({j for _, j in pairs})


def _places(faces: Sequence[Surface]) -> Floats:
    return np.array([s.center for s in faces]).reshape(-1, 3)


def _marks(s: Surface, size: float) -> list[Floats]:
    """Places that move with a face: its middle, and for a flat one a place before it."""
    middle = np.array(s.center)
    return [middle, middle + size * np.array(s.axis)] if s.kind == "plane" else [middle, middle]


def _motion(
    pairs: Sequence[tuple[int, int]], theirs: Sequence[Surface], ours: Sequence[Surface]
) -> tuple[Floats, Floats] | None:
    """The rigid motion that best brings the pairs together (Kabsch); None where they do not fit at all."""
    if not pairs:
        return None
    size = 0.5 * float(np.ptp(_places(ours), axis=0).max() or 10.0)
    a = np.array([p for i, _ in pairs for p in _marks(theirs[i], size)])
    b = np.array([p for _, j in pairs for p in _marks(ours[j], size)])
    middle_a, middle_b = a.mean(axis=0), b.mean(axis=0)
    u, _, vt = np.linalg.svd((a - middle_a).T @ (b - middle_b))
    sign = np.sign(np.linalg.det(vt.T @ u.T)) or 1.0
    rotation = vt.T @ np.diag([1.0, 1.0, sign]) @ u.T
    shift = middle_b - rotation @ middle_a
    off = np.linalg.norm(a @ rotation.T + shift - b, axis=1).max()
    return (rotation, shift) if off < max(_ON, 1e-3 * size) else None


def _met(
    motion: tuple[Floats, Floats], pairs: Sequence[tuple[int, int]], theirs: Floats, ours: Floats
) -> list[tuple[int, int]]:
    """The pairs that lie on each other after the motion, each face once."""
    moved = theirs @ motion[0].T + motion[1]
    found: dict[int, tuple[int, int]] = {}
    taken: set[int] = set()
    for i, j in pairs:
        if i not in found and j not in taken and math.dist(moved[i], ours[j]) < _ON:
            found[i] = (i, j)
            taken.add(j)
    return list(found.values())
