"""Where on a sheet nothing is a size: outside the frame, in the fields of the title block and of lists, in balloons."""

from __future__ import annotations

import cv2
import numpy as np

from .finding import Found
from .ink import Gray
from .model import Box

#: Zone letters stand so far from the sheet's edge, mm, where no frame is found.
_RIM = 11.0
#: Fields are no higher and no wider than this, mm; so many that touch each other and hold text are a table.
_HIGH, _WIDE, _LEAST = 22.0, 190.0, 5
#: Fields run together where a faint line between them is lost are no higher than this, mm.
_RUN_TOGETHER = 80.0
#: The lines between fields, taken with them, mm.
_LINE = 0.6
#: Balloons are no larger across, mm.
_BALLOON = 20.0


def ruled(ink: Gray, mm: float) -> Gray:
    """The level and upright lines of a sheet, longer than 6 mm, small breaks closed."""
    reach, gap = int(6 * mm), int(1.0 * mm)
    level = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((1, reach), np.uint8))
    upright = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((reach, 1), np.uint8))
    level = cv2.morphologyEx(level, cv2.MORPH_CLOSE, np.ones((1, gap), np.uint8))
    both: Gray = level | cv2.morphologyEx(upright, cv2.MORPH_CLOSE, np.ones((gap, 1), np.uint8))
    return both


def frame_of(lines: Gray, mm: float) -> Box:
    """Left, top, right and bottom of what may hold sizes, mm: inside the drawn frame, or clear of the sheet's rim."""
    high, wide = lines.shape
    down, across = (lines > 0).sum(1) / wide, (lines > 0).sum(0) / high
    rows, columns = np.flatnonzero(down > 0.55), np.flatnonzero(across > 0.55)

    def edge(places: np.ndarray[tuple[int], np.dtype[np.int64]], size: int, first: bool) -> float:
        """The innermost long line in the outer sixth of a side."""
        near = places[places < size / 6] if first else places[places > size * 5 / 6]
        if not len(near):
            return _RIM if first else size / mm - _RIM
        return float(near.max() if first else near.min()) / mm

    return edge(columns, wide, True), edge(rows, high, True), edge(columns, wide, False), edge(rows, high, False)


def tables(lines: Gray, runs: list[Found], measured: list[Found], mm: float) -> tuple[Box, ...]:
    """The fields of ruled tables, mm: rectangles closed by lines that touch each other, most with text in them.

    ``measured`` are runs over a line between arrowheads: what holds one is no table, but room between dimensions.
    """
    walls = cv2.dilate(lines, np.ones((3, 3), np.uint8))
    _, _, stats, _ = cv2.connectedComponentsWithStats(255 - walls, connectivity=4)
    closed = [
        (int(x), int(y), int(x + w), int(y + h))
        for x, y, w, h, area in stats[1:]
        if area > 0.93 * w * h and 2.5 * mm < h < _RUN_TOGETHER * mm and 4 * mm < w < _WIDE * mm
    ]
    cells = [c for c in closed if c[3] - c[1] < _HIGH * mm]
    filled = [any(_holds(c, r) for r in runs) for c in cells]
    found: list[Box] = []
    for group in _touching(cells, lines.shape, mm):
        with_text = [i for i in group if filled[i]]
        between = sum(any(_holds(cells[i], r) for r in measured) for i in group)
        if between > 0.3 * len(with_text):
            continue
        if len(with_text) >= _LEAST or (len(with_text) >= 3 and len(with_text) > 0.7 * len(group) and len(group) > 3):
            found += [_in_mm(cells[i], mm) for i in group]
    high = [_in_mm(c, mm) for c in closed if c not in cells]
    return (*found, *(c for c in high if any(_goes_on(field, c) for field in found)))


def _goes_on(field: Box, cell: Box) -> bool:
    """Whether a column of fields goes on in a rectangle below or above it: just as wide, with a wall in common."""
    sides = max(abs(field[0] - cell[0]), abs(field[2] - cell[2]))
    return sides < _LINE and min(abs(field[3] - cell[1]), abs(field[1] - cell[3])) < 3 * _LINE


def _in_mm(cell: tuple[int, int, int, int], mm: float) -> Box:
    """With its ruled lines: what lies across one is in the table too."""
    return cell[0] / mm - _LINE, cell[1] / mm - _LINE, cell[2] / mm + _LINE, cell[3] / mm + _LINE


def _holds(cell: tuple[int, int, int, int], run: Found) -> bool:
    x, y = (run.left + run.right) / 2, (run.top + run.bottom) / 2
    return cell[0] < x < cell[2] and cell[1] < y < cell[3] and not run.turned


def _touching(cells: list[tuple[int, int, int, int]], shape: tuple[int, ...], mm: float) -> list[list[int]]:
    """Cells that share a wall, in groups."""
    mask = np.zeros((shape[0], shape[1]), np.uint8)
    reach = int(0.6 * mm)
    for x0, y0, x1, y1 in cells:
        mask[max(0, y0 - reach) : y1 + reach, max(0, x0 - reach) : x1 + reach] = 255
    _, labels = cv2.connectedComponents(mask, connectivity=4)
    groups: dict[int, list[int]] = {}
    for i, (x0, y0, x1, y1) in enumerate(cells):
        groups.setdefault(int(labels[(y0 + y1) // 2, (x0 + x1) // 2]), []).append(i)
    return list(groups.values())


def balloons(ink: Gray, mm: float) -> tuple[Box, ...]:
    """Circles closed all round that are no larger than a balloon, pixels: the paper inside each."""
    inside = ((ink == 0) * 255).astype(np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(inside, connectivity=4)
    found = []
    for i, (x, y, w, h, _) in enumerate(stats):
        if not i or not 4 * mm < min(w, h) or max(w, h) > _BALLOON * mm or max(w, h) > 1.15 * min(w, h):
            continue
        hull = cv2.convexHull(np.argwhere(labels[y : y + h, x : x + w] == i).astype(np.int32))
        if abs(cv2.contourArea(hull) / (w * h) - np.pi / 4) < 0.04:
            found.append((float(x), float(y), float(x + w), float(y + h)))
    return tuple(found)


def is_ringed(ink: Gray, rings: tuple[Box, ...], run: Found, mm: float) -> bool:
    """Whether a circle, hardly larger than the writing, goes all the way round it: a balloon."""
    x, y = (run.left + run.right) / 2, (run.top + run.bottom) / 2
    half = 0.5 * float(np.hypot(run.right - run.left, run.bottom - run.top))
    most = max(1.65 * half, 1.7 * run.height * mm)
    if any(a < x < c and b < y < d and (c - a) / 2 < most for a, b, c, d in rings):
        return True
    return _is_circled(ink, x, y, 0.75 * half)


def _is_circled(ink: Gray, x: float, y: float, least: float) -> bool:
    """The same for a circle that is broken somewhere, about the writing's middle."""
    turns = np.linspace(0, 2 * np.pi, 120, endpoint=False)
    for radius in np.arange(least, 2.2 * least, 1.0):
        columns = np.rint(x + radius * np.cos(turns)).astype(int)
        rows = np.rint(y + radius * np.sin(turns)).astype(int)
        if columns.min() < 1 or rows.min() < 1 or columns.max() >= ink.shape[1] - 1 or rows.max() >= ink.shape[0] - 1:
            return False
        near = ink[rows, columns] | ink[rows + 1, columns] | ink[rows - 1, columns] | ink[rows, columns + 1]
        if (near > 0).mean() > 0.92:
            return True
    return False
