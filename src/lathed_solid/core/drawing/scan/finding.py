"""Where text stands on a drawing: long lines taken off, what is left grouped to runs of letters, level and upright."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np

from ...arrays import Floats, Truths
from .ink import Gray

#: Ink lower than this is no letter, higher neither, mm (2.5 to 5 mm lettering, and its tails and signs).
_LOWEST, _HIGHEST, _WIDEST = 1.3, 5.6, 6.2
#: Half the stroke of any lettering is thinner than this, mm: a heavy 7 on a soft scan has 0.26.
_STROKE = 0.3
#: Letters join over gaps of twice this share of their height: the drafting face has words 1.2 heights apart.
_REACH = 0.68
#: A level stroke longer than this share of a letter's height is a leader's shoulder and no hyphen: notes part there.
_SHOULDER = 0.75


class Found(NamedTuple):
    """A run of letters: pixels, whether it reads from the right-hand side, the height of its letters in mm."""

    left: int
    top: int
    right: int
    bottom: int
    turned: bool
    height: float
    letters: int


class Cleared(NamedTuple):
    """Ink without its long lines, and those lines."""

    rest: Gray
    lines: Gray


def cleared(ink: Gray, mm: float) -> Cleared:
    """Long straight strokes taken off: level and upright ones, and leaders by their segments; what was taken of a
    letter is given back.
    """
    lines = np.zeros_like(ink)
    reach = int(7 * mm)
    for shape in ((1, reach), (reach, 1)):
        lines |= cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones(shape, np.uint8))
    segments = cv2.createLineSegmentDetector(0, scale=0.6).detect(255 - ink)[0]
    for x0, y0, x1, y1 in segments.reshape(-1, 4) if segments is not None else ():
        if np.hypot(x1 - x0, y1 - y0) > 9 * mm:
            cv2.line(lines, (int(x0), int(y0)), (int(x1), int(y1)), 255, max(2, int(0.25 * mm)))
    lines = cv2.dilate(lines, np.ones((3, 3), np.uint8))
    rest = cv2.bitwise_and(ink, 255 - lines)
    closed = cv2.morphologyEx(rest, cv2.MORPH_CLOSE, np.ones((int(0.45 * mm) | 1, 3), np.uint8))
    beside = cv2.dilate(rest, np.ones((int(0.5 * mm) | 1, int(0.2 * mm) | 1), np.uint8))
    rest |= cv2.bitwise_and(closed, ink) & beside
    return Cleared(rest, lines)


class _Blobs(NamedTuple):
    """Pieces of ink: pixels (x, y, w, h), and their sizes in mm."""

    boxes: Floats
    across: Floats
    down: Floats
    area: Floats
    some: Truths


def _blobs(rest: Gray, mm: float) -> _Blobs:
    _, labels, stats, _ = cv2.connectedComponentsWithStats(rest, connectivity=8)
    w, h, a = stats[:, 2] / mm, stats[:, 3] / mm, stats[:, 4] / mm**2
    inner = cv2.distanceTransform(rest, cv2.DIST_L2, 3) / mm
    thick = np.zeros(len(stats))
    black = np.nonzero(labels)
    np.maximum.at(thick, labels[black], inner[black])
    slim, long = np.minimum(w, h), np.maximum(w, h)
    # An arrowhead: no letter is so long, so slim and yet so thick.
    head = (thick > _STROKE) & (thick > 0.3 * slim) & (long > 1.8 * slim) & (a < 0.8 * w * h)
    head |= (thick > 1.5 * _STROKE) & (a < 0.25 * w * h)  # one with what it points at
    some = (np.maximum(w, h) < _WIDEST) & (a > 0.03) & ~head
    some[0] = False
    return _Blobs(stats[:, :4], w, h, a, some)


def _runs_one_way(blobs: _Blobs, shape: tuple[int, int], turned: bool, mm: float) -> list[tuple[Found, int]]:
    """Runs that read one way, each with how many of its blobs are as wide as letters."""
    high, wide = (blobs.across, blobs.down) if turned else (blobs.down, blobs.across)
    w, h, small = blobs.across, blobs.down, np.minimum(blobs.across, blobs.down)
    solid = (blobs.area / np.maximum(w * h, 0.01) > 0.9) & (small > 0.9)
    letter = blobs.some & (high > _LOWEST) & (high < _HIGHEST) & (wide < _WIDEST) & ~solid
    if not letter.any():
        return []
    usual = float(np.median(high[letter]))
    shoulder = (wide > _SHOULDER * usual) & (high < 0.3 * usual) & (wide > 3 * high)
    dot = blobs.some & ~letter & ~shoulder & (high < 1.5) & (wide < 3.2)
    groups = _joined(blobs, letter, dot, high, shape, turned, mm)
    found = []
    for group in groups:
        ids = np.array(group)
        letters = ids[letter[ids]]
        if not len(letters):
            continue
        usual = float(np.median(high[letters][high[letters] > 0.6 * high[letters].max()]))
        boxes = _in_line(blobs.boxes[ids[high[ids] < 1.6 * usual + 0.3]], turned, usual * mm)
        if not 1.5 < usual < _HIGHEST or not len(boxes):
            continue
        x0, y0 = boxes[:, 0].min(), boxes[:, 1].min()
        x1, y1 = (boxes[:, 0] + boxes[:, 2]).max(), (boxes[:, 1] + boxes[:, 3]).max()
        if ((x1 - x0) if turned else (y1 - y0)) / mm > 2.2 * usual:
            continue
        full = int((wide[letters] > 0.25 * usual).sum())
        found.append((Found(int(x0), int(y0), int(x1), int(y1), turned, usual, len(letters)), full))
    return found


def _in_line(boxes: Floats, turned: bool, usual: float) -> Floats:
    """Boxes that stand on one line: where bits of a leader make a row too high, those near the middle of its
    letters.
    """
    k = 0 if turned else 1
    if not len(boxes) or (boxes[:, k] + boxes[:, k + 2]).max() - boxes[:, k].min() <= 2.0 * usual:
        return boxes
    middles = boxes[:, k] + boxes[:, k + 2] / 2
    full = boxes[:, k + 2] > 0.7 * usual
    amid = np.median(middles[full]) if full.any() else np.median(middles)
    return boxes[abs(middles - amid) < 0.75 * usual]


def _joined(
    blobs: _Blobs, letter: Truths, dot: Truths, high: Floats, shape: tuple[int, int], turned: bool, mm: float
) -> list[list[int]]:
    """Blobs whose widened boxes touch, in one direction."""
    usual = float(np.median(high[letter]))
    mask = np.zeros(shape, np.uint8)
    members = np.nonzero(letter | dot)[0]
    for i in members:
        x, y, w, h = (int(v) for v in blobs.boxes[i])
        reach = int((_REACH * max(high[i], 1.8) if letter[i] else 0.42 * usual) * mm)
        if turned:
            mask[max(0, y - reach) : y + h + reach, x : x + w] = 255
        else:
            mask[y : y + h, max(0, x - reach) : x + w + reach] = 255
    _, labels = cv2.connectedComponents(mask, connectivity=4)
    groups: dict[int, list[int]] = {}
    for i in members:
        x, y, w, h = (int(v) for v in blobs.boxes[i])
        groups.setdefault(int(labels[y + h // 2, x + w // 2]), []).append(int(i))
    return list(groups.values())


def _overlap(a: Found, b: Found) -> float:
    """Share of ``a`` that lies in ``b``."""
    across = min(a.right, b.right) - max(a.left, b.left)
    down = min(a.bottom, b.bottom) - max(a.top, b.top)
    area = (a.right - a.left) * (a.bottom - a.top)
    return across * down / area if across > 0 and down > 0 and area else 0.0


def found_runs(rest: Gray, mm: float) -> list[Found]:
    """Runs of letters, each with a margin; where level and upright compete, the one of more letters stands."""
    blobs = _blobs(rest, mm)
    shape = (rest.shape[0], rest.shape[1])
    runs = [r for turned in (False, True) for r in _runs_one_way(blobs, shape, turned, mm)]
    kept: list[tuple[Found, int]] = []
    for run, full in sorted(runs, key=lambda r: (-r[0].letters, r[0].turned)):
        if sum(_overlap(run, k) for k, _ in kept) <= 0.3:
            kept.append((run, full))
    whole = _in_a_row([r for r, full in kept if full or r.letters > 1], mm)
    return [with_margin(_stood(r), shape, mm) for r in whole]


def _in_a_row(runs: list[Found], mm: float) -> list[Found]:
    """Runs that go on after less than a letter's height on one foot: small letters do not reach as far as tall ones."""
    done: list[Found] = []
    for run in sorted(runs, key=lambda r: (r.turned, -r.bottom if r.turned else r.left)):
        near = next((d for d in done if _goes_on(d, run, mm)), None)
        if near is None:
            done.append(run)
            continue
        done[done.index(near)] = Found(
            min(near.left, run.left), min(near.top, run.top), max(near.right, run.right), max(near.bottom, run.bottom),
            run.turned, max(near.height, run.height), near.letters + run.letters,
        )  # fmt: skip
    return done


def _goes_on(before: Found, after: Found, mm: float) -> bool:
    h = max(before.height, after.height) * mm
    if before.turned != after.turned or not 0.55 < before.height / after.height < 1.8:
        return False
    if after.turned:
        gap, foot, end = before.top - after.bottom, before.right, after.right
    else:
        gap, foot, end = after.left - before.right, before.bottom, after.bottom
    return -0.3 * h < gap < 1.3 * h and abs(foot - end) < 0.25 * h


def _stood(run: Found) -> Found:
    """A lone figure that lies on its side reads from the right."""
    wide, high = run.right - run.left, run.bottom - run.top
    if run.letters > 1 or run.turned or wide < 1.15 * high:
        return run
    return run._replace(turned=True, height=run.height * wide / high)


def with_margin(run: Found, shape: tuple[int, int], mm: float) -> Found:
    """The run with room around it: a seventh of its height across, a third along."""
    across, along = int(0.14 * run.height * mm) + 1, int(0.3 * run.height * mm) + 1
    dx, dy = (across, along) if run.turned else (along, across)
    return run._replace(
        left=max(0, run.left - dx),
        top=max(0, run.top - dy),
        right=min(shape[1], run.right + dx),
        bottom=min(shape[0], run.bottom + dy),
    )


def crop(picture: Gray, run: Found) -> Gray:
    """The run's piece of a picture, upright."""
    piece = picture[run.top : run.bottom, run.left : run.right]
    return cv2.rotate(piece, cv2.ROTATE_90_CLOCKWISE) if run.turned else piece
