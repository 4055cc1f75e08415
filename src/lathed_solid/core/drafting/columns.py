"""Labels in a column beside a picture: as near to where they are wanted as they can stand without overlapping."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np


def spread(wanted: Sequence[float], apart: float, low: float, high: float) -> list[float]:
    """Places for labels wanted at ``wanted`` (in rising order), no two nearer than ``apart``, between ``low`` and
    ``high``; the least moved in all (squares). They are squeezed evenly where there is no room for so many.
    """
    count = len(wanted)
    if not count:
        return []
    step = min(apart, (high - low) / (count - 1)) if count > 1 else apart
    # Taken together with their distances the places need only rise: pool those that do not (isotonic regression).
    shifted = np.array(wanted, float) - step * np.arange(count)
    groups: list[tuple[float, int]] = []
    for value in shifted:
        groups.append((float(value), 1))
        while len(groups) > 1 and groups[-2][0] > groups[-1][0]:
            (a, n), (b, m) = groups[-2:]
            groups[-2:] = [((a * n + b * m) / (n + m), n + m)]
    rising = np.concatenate([np.full(n, v) for v, n in groups]).clip(low, high - step * (count - 1))
    return [float(v) for v in rising + step * np.arange(count)]
