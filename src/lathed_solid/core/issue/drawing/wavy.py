"""The free-hand edge of what is broken out."""

from __future__ import annotations

import math

from ...kernel.draw.strokes import XY

_PLACES = 48


def wavy(middle: XY, reach: float) -> tuple[XY, ...]:
    """Round about a place, its radius (mm) rising and falling a little."""
    turns = [2 * math.pi * k / _PLACES for k in range(_PLACES)]
    radii = [reach * (1 + 0.05 * math.sin(5 * t) + 0.03 * math.sin(9 * t + 1.0)) for t in turns]
    return tuple((middle[0] + r * math.cos(t), middle[1] + r * math.sin(t)) for t, r in zip(turns, radii, strict=True))
