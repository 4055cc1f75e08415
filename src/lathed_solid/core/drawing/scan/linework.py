"""Outlines of a scanned drawing, as help for drawing over it: straight lines and whole circles. Never taken by itself.

Outlines are drawn thick. Opening the ink with a disc as wide as that takes dimension lines, leaders, hatching and
centre lines off; what is small and no ring is lettering. Circles are found first, for the search for lines breaks them.
"""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np

from ...arrays import Floats, Ints
from .ink import Gray

#: Lines thinner than this are no outline, mm.
THICK = 0.36
#: Fewer lines and circles than this are no outline.
FEW = 5
Line = tuple[float, float, float, float]
Circle = tuple[float, float, float]


class Outlines(NamedTuple):
    """Pixels of the picture."""

    lines: list[Line]
    circles: list[Circle]


def outlines(ink: Gray, mm: float) -> Outlines:
    """What is drawn thick; where next to nothing is, the office has one pen for all, and every line is shown. Circles
    come of both: thick ones that something touches, and thin ones.
    """
    mask, thin = thick(ink, mm), thick(ink, mm, 0.0)
    circles = rings(mask, mm)
    circles += [c for c in rings(thin, mm) if not any(_is_same(c, k, mm) for k in circles)]
    lines = centre_lines(mask, mm)
    if len(lines) < FEW:  # letters and arrowheads are among these
        lines = [s for s in centre_lines(thin, mm) if np.hypot(s[2] - s[0], s[3] - s[1]) > 4 * mm]
    return Outlines(lines, circles)


def _is_same(a: Circle, b: Circle, mm: float) -> bool:
    return max(abs(p - q) for p, q in zip(a, b, strict=True)) < 0.6 * mm


def thick(ink: Gray, mm: float, least: float = THICK) -> Gray:
    """The ink of strokes no thinner than ``least`` mm, in pieces of some size: letters go, rings of holes stay."""
    k = max(1, round(least * mm))
    opened = cv2.morphologyEx(ink, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (k, k)))
    _, labels, stats, _ = cv2.connectedComponentsWithStats(opened, connectivity=8)
    kept = np.maximum(stats[:, 2], stats[:, 3]) > 7 * mm
    kept[_ringed(opened, labels, mm)] = True
    kept[0] = False
    mask: Gray = (kept[labels] * 255).astype(np.uint8)
    return mask


def _ringed(opened: Gray, labels: Ints, mm: float) -> list[int]:
    """Pieces that enclose more than any letter does."""
    curves, tree = cv2.findContours(opened, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    found = []
    for curve, links in zip(curves, tree[0] if tree is not None else (), strict=False):
        if links[3] >= 0 and cv2.contourArea(curve) > 4.5 * mm * mm:
            x, y = curves[links[3]][0][0]
            found.append(int(labels[y, x]))
    return found


def _circle(points: Floats) -> Circle:
    """The circle nearest to points (Kasa)."""
    rows = np.c_[2 * points, np.ones(len(points))]
    found, *_ = np.linalg.lstsq(rows, (points**2).sum(1), rcond=None)
    return float(found[0]), float(found[1]), float(np.sqrt(max(1e-9, found[2] + found[0] ** 2 + found[1] ** 2)))


def rings(mask: Gray, mm: float) -> list[Circle]:
    """Whole circles by the hole inside a closed stroke, at the middle of the stroke; they are wiped off the mask."""
    curves, tree = cv2.findContours(mask, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    found: list[Circle] = []
    for curve, links in zip(curves, tree[0] if tree is not None else (), strict=False):
        if links[3] < 0 or len(curve) < 12:
            continue
        points = curve.reshape(-1, 2).astype(float)
        x, y, r = _circle(points)
        off = abs(np.hypot(points[:, 0] - x, points[:, 1] - y) - r)
        if not 1.2 * mm < r < 60 * mm or np.percentile(off, 90) > 0.25 * mm + 0.01 * r:
            continue
        x, y, r = _circle(points[off < 0.2 * mm + 0.01 * r])
        r = _middle_of_stroke(mask, (x, y, r), mm)
        found.append((x, y, r))
        cv2.circle(mask, (round(x), round(y)), round(r), 0, int(1.1 * mm))
    return found


def _middle_of_stroke(mask: Gray, circle: Circle, mm: float) -> float:
    x, y, r = circle
    top, left, reach = max(0, int(y - r - 2 * mm)), max(0, int(x - r - 2 * mm)), int(2 * r + 4 * mm)
    rows, columns = np.nonzero(mask[top : top + reach, left : left + reach])
    away = np.hypot(columns + left - x, rows + top - y)
    stroke = away[(away > r - mm) & (away < r + mm)]
    return float(np.median(stroke)) if len(stroke) else r


def centre_lines(mask: Gray, mm: float) -> list[Line]:
    """The middles of straight strokes: both edges are found, paired, and collinear pieces joined."""
    soft = cv2.GaussianBlur(255 - mask, (0, 0), 0.8)
    found = cv2.createLineSegmentDetector(1, scale=0.8).detect(soft)[0]
    if found is None:
        return []
    edges = found.reshape(-1, 4).astype(float)
    long = np.hypot(edges[:, 2] - edges[:, 0], edges[:, 3] - edges[:, 1])
    edges, long = edges[long > 0.8 * mm], long[long > 0.8 * mm]
    angles = np.arctan2(edges[:, 3] - edges[:, 1], edges[:, 2] - edges[:, 0])
    lines = [s for i in np.argsort(-long) if (s := _paired(edges, long, angles, int(i), mm)) is not None]
    return [s for s in _joined(lines, mm) if np.hypot(s[2] - s[0], s[3] - s[1]) > 2 * mm]


def _paired(edges: Floats, long: Floats, angles: Floats, i: int, mm: float) -> Line | None:
    """The middle between an edge and the best one that runs the other way beside it."""
    along = np.array([np.cos(angles[i]), np.sin(angles[i])])
    normal, start = np.array([-along[1], along[0]]), edges[i, :2]
    beside = ((edges[:, :2] + edges[:, 2:]) / 2 - start) @ normal
    a, b = (edges[:, :2] - start) @ along, (edges[:, 2:] - start) @ along
    low, high = np.maximum(0, np.minimum(a, b)), np.minimum(long[i], np.maximum(a, b))
    opposed = abs(np.cos(angles - angles[i]) + 1) < 0.004 + 0.02 * (long < 3 * mm)
    fits = opposed & (abs(beside) > 0.12 * mm) & (abs(beside) < 1.1 * mm)
    fits &= high - low > 0.5 * np.minimum(long[i], long)
    if not fits.any():
        return None
    j = int(np.flatnonzero(fits)[np.argmax((high - low)[fits])])
    first, last = min(a[j], b[j], 0.0), max(a[j], b[j], long[i])
    p, q = start + along * first + normal * beside[j] / 2, start + along * last + normal * beside[j] / 2
    return float(p[0]), float(p[1]), float(q[0]), float(q[1])


def _joined(lines: list[Line], mm: float) -> list[Line]:
    done: list[Floats] = []
    for line in sorted(lines, key=lambda s: -np.hypot(s[2] - s[0], s[3] - s[1])):
        s = np.array(line)
        for k, t in enumerate(done):
            long = float(np.hypot(*(t[2:] - t[:2])))
            along = (t[2:] - t[:2]) / long
            normal = np.array([-along[1], along[0]])
            off = max(abs((s[:2] - t[:2]) @ normal), abs((s[2:] - t[:2]) @ normal))
            ends = sorted([float((s[:2] - t[:2]) @ along), float((s[2:] - t[:2]) @ along)])
            if off < 0.2 * mm and ends[0] < long + 0.6 * mm and ends[1] > -0.6 * mm:
                done[k] = np.r_[t[:2] + along * min(0, ends[0]), t[:2] + along * max(long, ends[1])]
                break
        else:
            done.append(s)
    return [(float(s[0]), float(s[1]), float(s[2]), float(s[3])) for s in done]
