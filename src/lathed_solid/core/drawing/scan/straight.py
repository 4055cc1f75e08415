"""A photographed sheet made flat: its corners found on the bench, perspective taken out, then its drawn frame made
square.
"""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np

from ...arrays import Floats
from .ink import Gray, evened, ink_of

Point = tuple[float, float]
#: Four corners as fractions of the picture, from the top left clockwise.
Corners = tuple[Point, Point, Point, Point]
#: Dots an inch of a straightened sheet, and most of its pixels.
DOTS, MOST = 200.0, 16_000_000
#: The picture in which the sheet is looked for, pixels; a sheet fills so much of it at least.
_SMALL, _LEAST = 900, 0.2


def corners_of(gray: Gray) -> Corners | None:
    """The corners of the largest bright sheet with four sides; None where none stands out from its ground."""
    k = _SMALL / max(gray.shape)
    small = cv2.GaussianBlur(cv2.resize(gray, None, fx=k, fy=k, interpolation=cv2.INTER_AREA), (0, 0), 2)
    _, bright = cv2.threshold(small, 0, 255, cv2.THRESH_OTSU)
    bright = cv2.morphologyEx(bright, cv2.MORPH_CLOSE, np.ones((15, 15), np.uint8))
    outlines, _ = cv2.findContours(bright, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not outlines:
        return None
    outline = max(outlines, key=cv2.contourArea)
    if cv2.contourArea(outline) < _LEAST * small.size or cv2.contourArea(outline) > 0.985 * small.size:
        return None
    rough = _four(outline)
    if rough is None:
        return None
    exact = _on_sides(rough, outline.reshape(-1, 2).astype(np.float64))
    if exact is None:
        return None
    return _in_order(exact / k / (gray.shape[1], gray.shape[0]))


def _four(outline: Floats) -> Floats | None:
    hull = cv2.convexHull(outline)
    for share in np.linspace(0.01, 0.08, 15):
        found = cv2.approxPolyDP(hull, share * cv2.arcLength(hull, True), True)
        if len(found) == 4:
            return np.asarray(found.reshape(4, 2), float)
    return None


def _on_sides(rough: Floats, outline: Floats) -> Floats | None:
    """Corners where straight lines along the sides cross: rounded and bent corners do not count."""
    lines = []
    for a, b in zip(rough, np.roll(rough, -1, 0), strict=True):
        long = float(np.hypot(*(b - a)))
        along = (b - a) / long
        u, v = (outline - a) @ along, (outline - a) @ np.array([-along[1], along[0]])
        near = outline[(abs(v) < 6) & (u > 0.08 * long) & (u < 0.92 * long)]
        if len(near) < 8:
            return None
        vx, vy, x, y = cv2.fitLine(near.astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01).ravel()
        lines.append(np.cross([x, y, 1], [x + vx, y + vy, 1]))
    found = []
    for before, after in zip([lines[-1], *lines[:-1]], lines, strict=True):
        p = np.cross(before, after)
        if abs(p[2]) < 1e-9:
            return None
        found.append(p[:2] / p[2])
    return np.array(found)


def _in_order(points: Floats) -> Corners:
    """From the top left clockwise, as the picture is seen."""
    around = points - points.mean(0)
    points = points[np.argsort(np.arctan2(around[:, 1], around[:, 0]))]
    points = np.roll(points, -int(np.argmin(points.sum(1))), 0)
    a, b, c, d = ((float(x), float(y)) for x, y in points)
    return a, b, c, d


def proportion(corners: Corners, size: tuple[float, float]) -> float:
    """Width over height of the flat sheet whose corners are seen so, the camera's middle being the picture's
    (Zhang and He, Whiteboard scanning and image enhancement, 2007); of its sides where they are nearly parallel.
    """
    tl, tr, br, bl = (np.array([x * size[0], y * size[1], 1.0]) for x, y in corners)
    plain = float(
        (np.hypot(*(tr - tl)[:2]) + np.hypot(*(br - bl)[:2])) / (np.hypot(*(bl - tl)[:2]) + np.hypot(*(br - tr)[:2]))
    )
    k2 = np.dot(np.cross(tl, br), bl) / np.dot(np.cross(tr, br), bl)
    k3 = np.dot(np.cross(tl, br), tr) / np.dot(np.cross(bl, br), tr)
    n2, n3 = k2 * tr - tl, k3 * bl - tl
    if abs(n2[2] * n3[2]) < 1e-4:
        return plain
    u, v = size[0] / 2, size[1] / 2
    # The squared focal length, from the two sides being square to each other.
    level = n2[0] * n3[0] - (n2[0] * n3[2] + n2[2] * n3[0]) * u + n2[2] * n3[2] * u * u
    upright = n2[1] * n3[1] - (n2[1] * n3[2] + n2[2] * n3[1]) * v + n2[2] * n3[2] * v * v
    square = -(level + upright) / (n2[2] * n3[2])
    if square <= (0.3 * max(size)) ** 2:
        return plain
    camera = np.array([[square**0.5, 0, u], [0, square**0.5, v], [0, 0, 1]])
    back = np.linalg.inv(camera).T @ np.linalg.inv(camera)
    exact = float(np.sqrt((n2 @ back @ n2) / (n3 @ back @ n3)))
    return exact if abs(exact / plain - 1) < 0.3 else plain


class Straight(NamedTuple):
    """A flat sheet: its picture, the 3x3 from the old picture's fractions to its own, its dots an inch."""

    gray: Gray
    matrix: Floats
    dots: float


def straightened(gray: Gray, corners: Corners, paper: tuple[float, float]) -> Straight:
    """The sheet between ``corners`` laid flat on ``paper`` (mm, long side first), its light evened; where it has a
    drawn frame, that is made square too: the paper's edge is known to half a millimetre only.
    """
    size = (gray.shape[1], gray.shape[0])
    is_wide = proportion(corners, size) >= 1
    across, down = paper if is_wide else paper[::-1]
    dots = min(DOTS, 25.4 * (MOST / (across * down)) ** 0.5)
    flat = (round(across * dots / 25.4), round(down * dots / 25.4))
    matrix = _square_onto([(x * size[0], y * size[1]) for x, y in corners], flat)
    even = evened(cv2.warpPerspective(gray, matrix, flat, flags=cv2.INTER_CUBIC, borderValue=255))
    bent = _frame_bent(ink_of(even), dots / 25.4)
    if bent is not None:
        matrix = bent @ matrix
        even = evened(cv2.warpPerspective(gray, matrix, flat, flags=cv2.INTER_CUBIC, borderValue=255))
    into = np.diag([1 / flat[0], 1 / flat[1], 1.0]) @ matrix @ np.diag([size[0], size[1], 1.0])
    return Straight(even, into, dots)


def _square_onto(points: list[Point], flat: tuple[int, int]) -> Floats:
    to = [(0, 0), (flat[0], 0), (flat[0], flat[1]), (0, flat[1])]
    found: Floats = cv2.getPerspectiveTransform(np.array(points, np.float32), np.array(to, np.float32))
    return found


def _frame_bent(ink: Gray, mm: float) -> Floats | None:
    """The 3x3 that makes the drawn frame a rectangle about its own middle; None where no frame is seen on all sides."""
    high = ink.shape[0]
    sides = []
    for turned, first in ((False, True), (True, False), (False, False), (True, True)):
        line = _side(np.rot90(ink, -1) if turned else ink, first, mm)
        if line is None:
            return None
        a, b = line
        if turned:  # rot90(-1): a column becomes a row, the foot the left end
            a, b = (a[1], high - 1 - a[0]), (b[1], high - 1 - b[0])
        sides.append(np.cross([*a, 1.0], [*b, 1.0]))
    top, right, bottom, left = sides
    seen = []
    for one, other in ((top, left), (top, right), (bottom, right), (bottom, left)):
        p = np.cross(one, other)
        seen.append((float(p[0] / p[2]), float(p[1] / p[2])))
    xs, ys = [p[0] for p in seen], [p[1] for p in seen]
    x0, x1, y0, y1 = (xs[0] + xs[3]) / 2, (xs[1] + xs[2]) / 2, (ys[0] + ys[1]) / 2, (ys[2] + ys[3]) / 2
    wanted = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    if max(abs(a - b) for p, q in zip(seen, wanted, strict=True) for a, b in zip(p, q, strict=True)) > 6 * mm:
        return None
    bent: Floats = cv2.getPerspectiveTransform(np.array(seen, np.float32), np.array(wanted, np.float32))
    return bent


def _side(ink: Gray, first: bool, mm: float) -> tuple[Point, Point] | None:
    """The frame's line along the upper (or lower) edge, straight through the ink of its middle 80 %."""
    high, wide = ink.shape
    reach = int(0.09 * min(high, wide))
    band = ink[:reach] if first else ink[high - reach :]
    opened = cv2.morphologyEx(band, cv2.MORPH_OPEN, np.ones((1, int(12 * mm)), np.uint8))
    _, labels, stats, _ = cv2.connectedComponentsWithStats(
        cv2.dilate(opened, np.ones((3, 9), np.uint8)), connectivity=8
    )
    long = [i for i in range(1, len(stats)) if stats[i, 2] > 0.75 * wide]
    if not long:
        return None
    inner = max(long, key=lambda i: stats[i, 1]) if first else min(long, key=lambda i: stats[i, 1])
    rows, columns = np.nonzero((labels == inner) & (opened > 0))
    middle = (columns > 0.1 * wide) & (columns < 0.9 * wide)
    if middle.sum() < 50:
        return None
    slope, at = np.polyfit(columns[middle], rows[middle], 1)
    low = 0 if first else high - reach
    return (0.0, float(at) + low), (float(wide), float(slope * wide + at) + low)
