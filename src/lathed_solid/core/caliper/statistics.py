"""Several readings of one size: mean, spread, outliers and a stated uncertainty."""

from __future__ import annotations

import itertools
import math
import statistics as plain
from collections.abc import Sequence
from typing import NamedTuple

from .instrument import Instrument, Way, systematic


class Summary(NamedTuple):
    """All in mm (grams for a scale). ``kept`` are the readings without outliers; ``u`` is the combined standard
    uncertainty, ``U`` the expanded one at ``k``; ``low`` and ``high`` bound what the way of touching may add.
    """

    mean: float
    spread: float
    deviation: float
    kept: tuple[float, ...]
    outliers: tuple[int, ...]
    u: float
    U: float
    k: float
    low: float
    high: float
    type_a: float
    type_b: float


#: Repeatability (standard deviation) assumed for a single reading, in resolutions.
_SINGLE = 1.0


def summarise(values: Sequence[float], instrument: Instrument, way: Way) -> Summary:
    """Mean and uncertainty of repeated readings (mm).

    JCGM 100:2008 (GUM): type A is s/sqrt(n) (clause 4.2.3), for a single reading one resolution; type B are the
    resolution as a rectangle of half width q/2 (F.2.2.1) and the instrument's error limit as a rectangle (4.3.7). The
    coverage factor for 95 % comes from the effective degrees of freedom (annex G.4). Raises ValueError without values.
    """
    if not values:
        raise ValueError("There is no reading yet.")
    out = outliers(values, instrument.resolution)
    kept = tuple(v for i, v in enumerate(values) if i not in out)
    n, mean = len(kept), plain.fmean(kept)
    deviation = plain.stdev(kept) if n > 1 else _SINGLE * instrument.resolution
    type_a = deviation / math.sqrt(n)
    type_b = math.hypot(instrument.resolution / math.sqrt(12), instrument.error / math.sqrt(3))
    u = math.hypot(type_a, type_b)
    freedom = (n - 1) * (u / type_a) ** 4 if n > 1 and type_a > 0 else math.inf
    k = _student_95(freedom)
    low, high = systematic(way, mean, instrument)
    return Summary(mean, max(kept) - min(kept), deviation, kept, out, u, k * u, k, low, high, type_a, type_b)


def outliers(values: Sequence[float], resolution: float) -> tuple[int, ...]:
    """Indices of readings far off the rest: more than 3.5 robust deviations (Iglewicz and Hoaglin) and five digits."""
    if len(values) < 3:
        return ()
    middle = plain.median(values)
    off = [abs(v - middle) for v in values]
    robust = 1.4826 * plain.median(off)
    limit = max(3.5 * robust, 5 * resolution)
    found = tuple(i for i, d in enumerate(off) if d > limit + 1e-12)
    return found if len(found) <= len(values) // 3 else ()


def _student_95(freedom: float) -> float:
    """Two-sided 95 % factor of Student's distribution (GUM table G.2), by interpolation over 1/freedom."""
    table = (
        (1, 12.71),
        (2, 4.30),
        (3, 3.18),
        (4, 2.78),
        (5, 2.57),
        (6, 2.45),
        (8, 2.31),
        (10, 2.23),
        (20, 2.09),
        (50, 2.01),
    )
    if freedom >= 1e4:
        return 1.96
    points = [(1 / f, t) for f, t in table] + [(0.0, 1.96)]
    x = 1 / max(freedom, 1.0)
    for (a, ta), (b, tb) in itertools.pairwise(points):
        if b <= x <= a:
            return tb + (ta - tb) * (x - b) / (a - b)
    return 1.96
