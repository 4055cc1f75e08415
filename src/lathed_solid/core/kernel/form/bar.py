"""The sections that stock comes in, as flat outlines about their middle."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from .outline import FullCircle, Loop, Segment

Section = Literal["round", "hexagon", "square", "block", "tube"]


def bar_section(section: Section, sizes: Sequence[float]) -> tuple[Loop, tuple[Loop, ...]]:
    """The outline and the holes in it. ``sizes`` are a diameter, a width across flats, a side, a block's two sides, or
    an outside diameter and a wall (mm). Flats are called ``flat1`` and on, the round ``round``, a tube's hole ``bore``.
    """
    a = sizes[0]
    if section in ("round", "tube"):
        outer: Loop = (FullCircle("round", (0.0, 0.0), a / 2),)
        return outer, ((FullCircle("bore", (0.0, 0.0), a / 2 - sizes[1]),),) if section == "tube" else ()
    if section == "hexagon":
        return _closed([(a / math.sqrt(3), (k - 0.5) * math.pi / 3) for k in range(6)]), ()
    b = sizes[1] if section == "block" else a
    far, lean = math.hypot(a, b) / 2, math.atan2(b, a)
    return _closed([(far, turn) for turn in (-lean, lean, math.pi - lean, math.pi + lean)]), ()


def _closed(corners: list[tuple[float, float]]) -> Loop:
    """Straight sides between corners given by distance and angle; the first lies across the first direction."""
    places = [(r * math.cos(t), r * math.sin(t)) for r, t in corners]
    return tuple(
        Segment(f"flat{k}", a, b) for k, (a, b) in enumerate(zip(places, places[1:] + places[:1], strict=True), 1)
    )
