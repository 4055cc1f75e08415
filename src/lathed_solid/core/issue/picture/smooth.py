"""Grain taken out of a gathered picture without blurring its edges."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ...arrays import Floats, Ints, Truths

#: Neighbours up to so many pixels away have a say, the less the farther; so much less as their surface leans away.
_REACH, _FALL, _LEAN = 3, 2.0, 24.0
#: Half of the neighbours: the others are these seen from there.
_HALF = [(down, right) for down in range(_REACH + 1) for right in range(-_REACH, _REACH + 1) if down > 0 or right > 0]


class Guide(NamedTuple):
    """What tells one surface from another in each pixel: mean ``normal`` (rows, columns, 3), ``face`` (rows, columns),
    and where only the part is seen (``whole``).
    """

    normal: Floats
    face: Ints
    whole: Truths


def smoothed(light: Floats, guide: Guide) -> Floats:
    """``light`` (rows, columns, k) averaged over neighbours on the same face that lean the same way; pixels on the rim
    stay as they are.
    """
    rows, columns = (np.flatnonzero(guide.whole.any(axis=k)) for k in (1, 0))
    if not len(rows):
        return light
    part = np.s_[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
    made = light.copy()
    made[part] = _smoothed(light[part], Guide(guide.normal[part], guide.face[part], guide.whole[part]))
    return made


def _smoothed(light: Floats, guide: Guide) -> Floats:
    high, wide = guide.whole.shape[0], guide.whole.shape[1]
    seen = guide.whole.astype(np.float32)
    normal, weight, total = guide.normal.astype(np.float32), seen.copy(), light * seen[..., None]
    for down, right in _HALF:  # each pair of neighbours is looked at once, and each has its say with the other
        near = float(np.exp(-(down * down + right * right) / (2 * _FALL * _FALL)))
        here = np.s_[: high - down, max(0, -right) : wide - max(0, right)]
        there = np.s_[down:, max(0, right) : wide - max(0, -right)]
        alike = np.einsum("ijk,ijk->ij", normal[here], normal[there])
        share = near * (guide.face[here] == guide.face[there]) * np.exp(_LEAN * np.minimum(alike - 1, 0))
        for one, other in ((here, there), (there, here)):
            own = (share * seen[other]).astype(np.float32)
            total[one] += light[other] * own[..., None]
            weight[one] += own
    mean = total / np.maximum(weight, 1e-9)[..., None]
    found: Floats = np.where(guide.whole[..., None], mean, light)
    return found
