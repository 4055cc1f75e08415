"""The leader that writing stands at: whether it has one of its own, and its end taken off what recognisers see, which
read it as a letter.
"""

from __future__ import annotations

import cv2
import numpy as np

from ...arrays import Truths
from .finding import Found
from .ink import Gray

#: A shoulder ends so near its writing and is at least so long, in heights of a letter; it is no thicker than this, mm.
_AWAY, _LONG, _THICK = 1.1, 0.55, 0.8


def is_led(ink: Gray, run: Found, mm: float) -> bool:
    """Whether a leader's shoulder ends at either end of a run: a level stroke at half the height of the letters, with
    nothing above or below it.
    """
    h = run.height * mm
    reach = int((_AWAY + _LONG + 0.5) * h)
    if run.turned:
        top = max(0, run.top - reach)
        around = np.rot90(ink[top : run.bottom + reach, run.left : run.right], -1)
        start, end = around.shape[1] - (run.bottom - top), around.shape[1] - (run.top - top)
    else:
        left = max(0, run.left - reach)
        around = ink[run.top : run.bottom, left : run.right + reach]
        start, end = run.left - left, run.right - left
    letters = _letters(around, start, end, h)
    if letters is None:
        return False
    first, last = letters
    return _ends_in_shoulder(around[:, :first][:, ::-1], h, mm) or _ends_in_shoulder(around[:, last:], h, mm)


def _letters(around: Gray, start: int, end: int, h: float) -> tuple[int, int] | None:
    """Where the first letter begins and the last one ends."""
    _, _, stats, _ = cv2.connectedComponentsWithStats(np.ascontiguousarray(around), connectivity=8)
    low = len(around) - 1  # what goes on above or below is a leader's own stroke
    tall = [
        s for s in stats[1:]
        if 0.45 * h < s[3] and s[0] > start and s[0] + s[2] < end and s[1] > 0 and s[1] + s[3] < low
    ]  # fmt: skip
    return (int(min(s[0] for s in tall)), int(max(s[0] + s[2] for s in tall))) if tall else None


def _ends_in_shoulder(end: Gray, h: float, mm: float) -> bool:
    """``end``: the ink beyond the writing's end, walking away from it."""
    columns = [np.flatnonzero(end[:, i]) for i in range(end.shape[1])]
    start = next((i for i in range(len(columns) - 1) if len(columns[i]) and len(columns[i + 1])), None)
    if start is None or start > (_AWAY + 0.3) * h:
        return False
    wanted = columns[start + 1 : start + 1 + int(_LONG * h)]
    if len(wanted) < int(_LONG * h) or not all(len(rows) for rows in wanted):
        return False
    middles = np.array([(rows[0] + rows[-1]) / 2 for rows in wanted]) / len(end)
    thick = np.median([rows[-1] - rows[0] + 1 for rows in wanted]) / mm
    return bool(thick < _THICK and 0.25 < np.median(middles) < 0.7 and np.ptp(middles) < 0.25)


def without_leader(line: Gray) -> Gray:
    """An upright line of writing with the leader's end before it or behind it painted out: ink clear of the first and
    of the last letter that comes in over the edge of the crop, or lies level at half their height.
    """
    low, high = np.percentile(line, 1), np.percentile(line, 90)
    ink = (line < low + 0.55 * (high - low)).astype(np.uint8)
    tall, wide = ink.shape
    _, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    boxes = [(int(x), int(y), int(x + w), int(y + h), i) for i, (x, y, w, h, a) in enumerate(stats) if i and a > 3]
    inside = [b for b in boxes if b[0] > 0 and b[2] < wide and b[1] > 0 and b[3] < tall]
    own = [b for b in inside if b[3] - b[1] > 0.4 * tall]
    own = [b for b in own if not _is_bent(labels == b[4], b, own)]
    if not own:
        return line
    first, last = min(b[0] for b in own), max(b[2] for b in own)
    # What stands nearer than a leader's end does may be a letter that a line has run into.
    clear_of = 0.2 * tall
    small = [b for b in boxes if max(b[2] - b[0], b[3] - b[1]) < clear_of]
    beside = [b for b in boxes if b[2] <= first - clear_of or b[0] >= last + clear_of]
    beside += [b for b in small if b not in beside and (b[2] <= first + 1 or b[0] >= last - 1)]
    leader = [b[4] for b in beside if b not in inside or _is_level(b, tall) or b[3] - b[1] > 0.4 * tall]
    if not leader:
        return line
    gone = cv2.dilate(np.isin(labels, leader).astype(np.uint8), np.ones((5, 5), np.uint8))
    clear: Gray = line.copy()
    clear[gone > 0] = np.uint8(high)
    return clear


def _is_level(box: tuple[int, int, int, int, int], tall: int) -> bool:
    x0, y0, x1, y1, _ = box
    return y1 - y0 < 0.2 * tall and x1 - x0 > 0.4 * tall and 0.3 < (y0 + y1) / 2 / tall < 0.7


def _is_bent(ink: Truths, box: tuple[int, int, int, int, int], own: list[tuple[int, int, int, int, int]]) -> bool:
    """Whether the first of a line's pieces is a leader with its shoulder: its end towards the others is a level stroke
    at half their height.
    """
    others = [b for b in own if b[0] >= box[2] - 1]
    if len(others) < len(own) - 1 or not others:
        return False
    top, foot = np.median([b[1] for b in others]), np.median([b[3] for b in others])
    h = foot - top
    shoulder = ink[:, max(box[0], box[2] - int(_LONG * h)) : box[2]]
    rows = np.flatnonzero(shoulder.any(1))
    middle = ((rows[0] + rows[-1]) / 2 - top) / h
    return bool(rows[-1] - rows[0] + 1 < 0.3 * h and 0.25 < middle < 0.75 and box[2] - box[0] > _LONG * h)
