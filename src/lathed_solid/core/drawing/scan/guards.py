"""What the picture around a line of writing says against it: ink at its ends, lines through it; and the dimension line
below it, whose length between the arrowheads is an independent witness of the number.
"""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np

from ...arrays import Ints, Truths
from .finding import Cleared, Found
from .ink import Gray

#: The dimension line is looked for so far below the writing, mm.
_BELOW = 2.6
#: Of even paper, darker than this is no paper.
_FAINT = 185


class Sheet(NamedTuple):
    """A picture taken apart, and its pieces of ink that are no lines; ``faint`` is all that is darker than paper: thin
    lines of a soft picture are not black.
    """

    faint: Gray
    lines: Gray
    labels: Gray
    pieces: Gray
    mm: float


class Around(NamedTuple):
    under: float
    span: float
    loose: int
    crossed: bool


def taken_apart(even: Gray, ink: Gray, parts: Cleared, mm: float) -> Sheet:
    faint = cv2.bitwise_or(ink, (even < _FAINT).astype(np.uint8) * 255)
    # A sign of thin strokes beside bold ones is not black either: it is a piece all the same.
    pieces = parts.rest | (faint & ~cv2.dilate(parts.lines, np.ones((3, 3), np.uint8)))
    _, labels, stats, _ = cv2.connectedComponentsWithStats(pieces, connectivity=8)
    return Sheet(faint, parts.lines, labels, stats, mm)


def around(sheet: Sheet, run: Found) -> Around:
    """All that is seen around a run."""
    under, row = _under(sheet, run)
    span = _span(sheet, run, row) if under >= 0.7 else _span_in_line(sheet, run)
    return Around(under, span, _loose(sheet, run), _crossed(sheet, run))


def _upright(picture: Gray, left: int, top: int, right: int, bottom: int, turned: bool) -> Gray:
    """A piece as it is read: what is below the writing is below in it."""
    high, wide = picture.shape
    piece = picture[max(0, top) : min(high, bottom), max(0, left) : min(wide, right)]
    return np.rot90(piece, -1) if turned else piece


def _under(sheet: Sheet, run: Found) -> tuple[float, int]:
    """How much of the writing's length the fullest row of ink just below it fills, and that row (from the top of the
    strip that begins at the writing's lower edge less three). No row of letters is full.
    """
    depth = int(_BELOW * sheet.mm)
    if run.turned:
        inset = (run.bottom - run.top) // 8
        box = run.right - 3, run.top + inset, run.right + depth, run.bottom - inset
    else:
        inset = (run.right - run.left) // 8
        box = run.left + inset, run.bottom - 3, run.right - inset, run.bottom + depth
    strip = _upright(sheet.faint, *box, run.turned)
    if min(strip.shape) < 2:
        return 0.0, 0
    rows = ((strip[:-1] | strip[1:]) > 0).mean(1)
    return float(rows.max()), int(np.argmax(rows > 0.9 * rows.max()))


def _loose(sheet: Sheet, run: Found) -> int:
    """Pieces of ink near either end that are not wholly inside: a sign cut off, a neighbour."""
    h, mm = run.height * sheet.mm, sheet.mm
    p, reach, inside = int(0.14 * h) + 1, int(0.9 * h), int(0.3 * h)
    if run.turned:
        boxes = [
            (run.left + p, run.top - reach, run.right - p, run.top + inside),
            (run.left + p, run.bottom - inside, run.right - p, run.bottom + reach),
        ]
    else:
        boxes = [
            (run.left - reach, run.top + p, run.left + inside, run.bottom - p),
            (run.right - inside, run.top + p, run.right + reach, run.bottom - p),
        ]
    seen: set[int] = set()
    for x0, y0, x1, y1 in boxes:
        piece = _upright(sheet.labels, x0, y0, x1, y1, run.turned)
        names, counts = np.unique(piece, return_counts=True)
        for name, count in zip(names, counts, strict=True):
            some = name and sheet.pieces[name][4] > 0.1 * mm * mm and count > 0.06 * mm * mm
            if some and not _is_shoulder(piece == name, h):
                seen.add(int(name))
    return sum(not _is_inside(sheet.pieces[i], run) for i in seen)


def _is_shoulder(piece: Truths, h: float) -> bool:
    """Whether a piece of ink beside writing is a leader's shoulder or a hyphen: low, and at half the height of the
    letters. What a hyphen parts off is writing of its own, and told as a neighbour.
    """
    rows = np.flatnonzero(piece.any(1))
    middle = (rows[0] + rows[-1]) / 2 / len(piece)
    return bool(rows[-1] - rows[0] + 1 < 0.3 * h and 0.35 < middle < 0.65)


def _is_inside(piece: Gray, run: Found) -> bool:
    x, y, w, h = (int(v) for v in piece[:4])
    return x >= run.left - 1 and y >= run.top - 1 and x + w <= run.right + 1 and y + h <= run.bottom + 1


def _crossed(sheet: Sheet, run: Found) -> bool:
    """Whether a straight line runs across the writing, inside or right at its ends, or along it."""
    p = int(0.14 * run.height * sheet.mm) + 1
    piece = sheet.lines[run.top : run.bottom, run.left : run.right]
    piece = np.rot90(piece, -1) if run.turned else piece
    inner = piece[p:-p] > 0
    if not inner.size:
        return False
    upper = inner[: int(0.75 * len(inner))]  # a dimension line below is met by the tails of letters
    return bool((inner.mean(0) > 0.85).any() or (upper.mean(1) > 0.6).any())


def _span(sheet: Sheet, run: Found, row: int) -> float:
    """The length of the dimension line below a run between the lines at which its arrowheads end, mm; 0 where it does
    not end in arrowheads at two lines.
    """
    mm = sheet.mm
    pad = int(1.6 * mm)
    at = (run.right if run.turned else run.bottom) - 3 + row
    low, high = max(0, at - pad), at + pad + int(0.6 * mm)
    if run.turned:
        band, middle = np.rot90(sheet.faint[:, low:high], -1), sheet.faint.shape[0] - 1 - (run.top + run.bottom) // 2
    else:
        band, middle = sheet.faint[low:high], (run.left + run.right) // 2
    return _between_heads(band > 0, middle, min(at, pad), mm)


def _span_in_line(sheet: Sheet, run: Found) -> float:
    """The same for a number that stands in a gap of its dimension line."""
    mm, h = sheet.mm, run.height * sheet.mm
    low, high = (run.left, run.right) if run.turned else (run.top, run.bottom)
    top, pad = (low + high) // 2, int(1.9 * mm)
    if run.turned:
        band = np.rot90(sheet.faint[:, max(0, top - pad) : top + pad], -1) > 0
        start, end = band.shape[1] - run.bottom, band.shape[1] - run.top
    else:
        band = sheet.faint[max(0, top - pad) : top + pad] > 0
        start, end = run.left, run.right
    middle, reach, off = min(top, pad), int(4 * mm), max(2, int(0.3 * h))
    beside = np.hstack([band[:, max(0, start - reach) : start], band[:, end : end + reach]])
    rows = beside[middle - off : middle + off]
    if not rows.size or rows.mean(1).max() < 0.5:
        return 0.0
    thick = _thickness(band, middle - off + int(np.argmax(rows.mean(1))), mm)
    ends = []
    for at, step in ((start, -1), (end, 1)):
        first = next((i for i in range(at, at + step * int(2 * mm), step) if 0 < i < len(thick) and thick[i]), None)
        found = None if first is None else _end(thick, first, step, mm)
        if found is None:
            return 0.0
        ends.append(found)
    return abs(ends[1] - ends[0]) / mm


def _between_heads(band: Truths, middle: int, row: int, mm: float) -> float:
    """``band``: ink along a line, some 3 mm high, the line near ``row``; walked both ways from ``middle``."""
    near = band[row : row + max(3, int(0.6 * mm))]
    if not near.size:
        return 0.0
    line = row + int(np.argmax(near.mean(1)))
    thick = _thickness(band, line, mm)
    ends = []
    for step in (-1, 1):
        end = _end(thick, middle, step, mm)
        if end is None:
            return 0.0
        ends.append(end)
    return abs(ends[1] - ends[0]) / mm


def _thickness(band: Truths, line: int, mm: float) -> Ints:
    """How thick the ink is through the line, at each place along it, pixels; what is broken by one pixel is not."""
    core = band[max(0, line - 1) : line + 2].any(0)
    up = np.cumprod(band[: line + 1][::-1], axis=0).sum(0)
    down = np.cumprod(band[line:], axis=0).sum(0)
    both = np.where(core, np.maximum(1, up + down - 1), 0)
    return both.astype(np.intp)


def _end(thick: Ints, middle: int, step: int, mm: float) -> float | None:
    """Where an arrowhead ends at a line that crosses, walking from the middle; None where there is none."""
    at, blank, tall = middle, 0, 1.7 * mm
    while 0 < at + step < len(thick) - 1:
        at += step
        if thick[at] == 0:
            blank += 1
            if blank > 0.4 * mm:
                return None
            continue
        blank = 0
        if thick[at] > tall:
            first = at
            while 0 < at + step < len(thick) and thick[at + step] > tall:
                at += step
            near = (
                thick[max(0, first - int(4.5 * mm)) : first] if step > 0 else thick[first + 1 :][: int(4.5 * mm)][::-1]
            )
            return (first + at) / 2 if abs(at - first) <= 1.2 * mm and _is_head(near, mm) else None
    return None


def _is_head(near: Ints, mm: float) -> bool:
    """Whether what lies before an end, the end last, is an arrowhead: it swells to half a millimetre and tapers off."""
    swelling = near[: len(near) - int(0.3 * mm)] / mm
    if len(swelling) < 2 * mm:
        return False
    most = int(np.argmax(swelling))
    from_end = (len(near) - most) / mm
    outer = swelling[most:]
    return bool(
        swelling[most] > 0.45 and 1.0 < from_end < 4.4 and outer[2 * len(outer) // 3 :].mean() < 0.75 * swelling[most]
    )
