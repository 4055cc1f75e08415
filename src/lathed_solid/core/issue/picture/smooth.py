"""Grain taken out of a gathered picture without blurring its edges."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ...arrays import Floats, Ints, Truths

#: Neighbours up to so many pixels away have a say, the less the farther; so much less as their surface leans away.
_REACH, _FALL, _LEAN = 3, 2.0, 24.0


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
    high, wide = guide.whole.shape[0], guide.whole.shape[1]
    total, weight = np.zeros_like(light), np.zeros((high, wide), np.float32)
    for down in range(-_REACH, _REACH + 1):
        for right in range(-_REACH, _REACH + 1):
            near = np.exp(-(down * down + right * right) / (2 * _FALL * _FALL))
            here = np.s_[max(0, -down) : high - max(0, down), max(0, -right) : wide - max(0, right)]
            there = np.s_[max(0, down) : high - max(0, -down), max(0, right) : wide - max(0, -right)]
            alike = np.einsum("ijk,ijk->ij", guide.normal[here], guide.normal[there])
            same = guide.whole[there] & (guide.face[here] == guide.face[there])
            share = (near * same * np.exp(_LEAN * np.minimum(alike - 1, 0))).astype(np.float32)
            total[here] += light[there] * share[..., None]
            weight[here] += share
    mean = total / np.maximum(weight, 1e-9)[..., None]
    found: Floats = np.where((guide.whole & (weight > 0))[..., None], mean, light)
    return found
