"""Labels in a column beside a picture: as near to where they are wanted as they can stand without overlapping."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np


def spread(wanted: Sequence[float], apart: float, low: float, high: float) -> list[float]:
    """Places for labels wanted at ``wanted`` (in rising order), no two nearer than ``apart``, between ``low`` and
    ``high``; the least moved in all (squares). They are squeezed evenly where there is no room for so many.
    """
    count = len(wanted)
    step = min(apart, (high - low) / (count - 1)) if count > 1 else apart
    return stacked(wanted, [step] * count, low - step / 2, high + step / 2)


def stacked(wanted: Sequence[float], sizes: Sequence[float], low: float, high: float) -> list[float]:
    """Middles for blocks of those ``sizes`` wanted at ``wanted`` (in rising order), none over another, between ``low``
    and ``high``; the least moved in all (squares). They reach over ``high`` where there is no room for so many.
    """
    if not len(wanted):
        return []
    # Taken together with their sizes the places need only rise: pool those that do not (isotonic regression).
    size = np.array(sizes, float)
    offsets = np.cumsum(size) - size / 2
    groups: list[tuple[float, int]] = []
    for value in np.array(wanted, float) - offsets:
        groups.append((float(value), 1))
        while len(groups) > 1 and groups[-2][0] > groups[-1][0]:
            (a, n), (b, m) = groups[-2:]
            groups[-2:] = [((a * n + b * m) / (n + m), n + m)]
    rising = np.concatenate([np.full(n, v) for v, n in groups]).clip(low, max(low, high - float(size.sum())))
    return [float(v) for v in rising + offsets]
