"""Sizes of paper, their frames, and the scales a drawing may have."""

from __future__ import annotations

from typing import NamedTuple

from ...refusal import Refusal


class PaperSize(NamedTuple):
    """``width`` and ``height`` of the trimmed sheet, landscape but for A4 upright (mm)."""

    width: float
    height: float


#: ISO 5457 table 1 (trimmed sheets) and ASME Y14.1 table 1.
SIZES: dict[str, PaperSize] = {
    "A4": PaperSize(210, 297),
    "A3": PaperSize(420, 297),
    "A2": PaperSize(594, 420),
    "A1": PaperSize(841, 594),
    "A0": PaperSize(1189, 841),
    "ANSI A": PaperSize(279.4, 215.9),
    "ANSI B": PaperSize(431.8, 279.4),
    "ANSI C": PaperSize(558.8, 431.8),
    "ANSI D": PaperSize(863.6, 558.8),
    "ANSI E": PaperSize(1117.6, 863.6),
}
#: Margins of the frame: the left one is for filing (ISO 5457 clause 4.1).
LEFT, MARGIN = 20.0, 10.0
#: ISO 5455 table 1, larger and smaller ones; halves and quarters are the inch world's habit.
SCALES = ("50:1", "20:1", "10:1", "5:1", "2:1", "1:1", "1:2", "1:5", "1:10", "1:20", "1:50", "1:100", "1:200")
INCH_SCALES = ("20:1", "10:1", "4:1", "2:1", "1:1", "1:2", "1:4", "1:8", "1:16", "1:32", "1:64")


def size_of(name: str) -> PaperSize:
    """Raises Refusal for a size that is not known."""
    if name not in SIZES:
        raise Refusal(f"There is no paper size {name}. Choose one of {', '.join(SIZES)}.")
    return SIZES[name]


def frame_of(name: str) -> tuple[float, float, float, float]:
    """The drawing space: left, bottom, right, top (mm)."""
    paper = size_of(name)
    return LEFT, MARGIN, paper.width - MARGIN, paper.height - MARGIN
