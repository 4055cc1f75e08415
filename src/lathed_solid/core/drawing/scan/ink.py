"""The paper made even, what is ink on it, and how the sheet lies."""

from __future__ import annotations

import cv2
import numpy as np

from ...arrays import Bytes, Floats

Gray = Bytes


def evened(gray: Gray) -> Gray:
    """The picture divided by its paper, so that light falling off, shadows and stains are gone."""
    small = cv2.resize(gray, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    paper = cv2.medianBlur(cv2.dilate(small, np.ones((5, 5), np.uint8)), 21)
    paper = cv2.resize(paper, gray.shape[::-1], interpolation=cv2.INTER_LINEAR)
    even: Gray = np.clip(gray.astype(np.float32) / np.maximum(paper, 30) * 255, 0, 255).astype(np.uint8)
    return even


def ink_of(even: Gray) -> Gray:
    """255 where there is ink: Otsu's threshold of what is darker than paper, never far from the darkest."""
    dark = float(np.percentile(even, 0.5))
    some = even[even < 235]
    found, _ = cv2.threshold(some if some.size else even, 0, 255, cv2.THRESH_OTSU)
    limit = max(90.0, min(found, (dark + 250) / 2 + 10))
    mask: Gray = (even < limit).astype(np.uint8) * 255
    return mask


def skew_of(ink: Gray, mm: float) -> float:
    """How far the sheet's long lines lie from level, degrees within 8: the median of lines longer than 12 mm, by
    length.

    Looked at small: it is as exact and takes a tenth.
    """
    s = min(0.5, 4 / mm)
    small = cv2.resize(ink, None, fx=s, fy=s, interpolation=cv2.INTER_AREA)
    found = cv2.createLineSegmentDetector(0).detect(255 - small)[0]
    if found is None:
        return 0.0
    ends = found.reshape(-1, 4).astype(float)
    ends = ends[np.hypot(ends[:, 2] - ends[:, 0], ends[:, 3] - ends[:, 1]) > 12 * mm * s]
    along = ends[:, 2:] - ends[:, :2]
    length = np.hypot(*along.T)
    angle = (np.degrees(np.arctan2(along[:, 1], along[:, 0])) + 45) % 90 - 45
    usual = abs(angle) < 8
    if not usual.any():
        return 0.0
    angle, length = angle[usual], length[usual]
    order = np.argsort(angle)
    heaped = np.cumsum(length[order])
    return float(angle[order][np.searchsorted(heaped, heaped[-1] / 2)])


def rotated(gray: Gray, degrees: float) -> tuple[Gray, Floats]:
    """The picture turned about its middle, and the 3x3 from its pixels to the turned one's."""
    high, wide = gray.shape
    matrix = np.vstack([cv2.getRotationMatrix2D((wide / 2, high / 2), degrees, 1), [0, 0, 1]])
    turned = cv2.warpAffine(gray, matrix[:2], (wide, high), flags=cv2.INTER_CUBIC, borderValue=255)
    return turned, matrix


def edge_width(even: Gray, mm: float) -> float:
    """How wide the edges of ink are, mm: what lies between paper and black over the steepest slope, the sheet's median.

    A sharp print at 200 dots an inch has about 0.15 mm; 0.3 is blurred.
    """
    across = abs(cv2.Sobel(even, cv2.CV_32F, 1, 0, ksize=3)) / 8
    deep = 255.0 - cv2.erode(even, np.ones((3, 3), np.uint8)).astype(np.float32)
    steep = cv2.dilate(across, np.ones((1, 5), np.uint8))
    at = (across >= steep) & (across > 12)
    if at.sum() < 50:
        return 0.0
    return float(np.median(deep[at] / across[at])) / mm
