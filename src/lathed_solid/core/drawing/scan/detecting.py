"""The second finder of text, for writing that lines run through: the PP-OCRv6 detection model on the small sheet.

On the sheet at 100 dots an inch it takes some seconds a way; at 200 it takes eight times as long and finds no more.
"""

from __future__ import annotations

import cv2
import numpy as np

from . import needs
from .engines import session
from .finding import Found
from .ink import Gray

#: Dots an inch the model sees; what it takes for text, and how far its boxes stand outside their core.
DOTS, _LEAST, _SURE, _WIDEN = 100, 0.3, 0.5, 1.6
_MEAN, _SPREAD = np.array([0.485, 0.456, 0.406], np.float32), np.array([0.229, 0.224, 0.225], np.float32)


class Detector:
    def __init__(self, threads: int = 2) -> None:
        self._session = session(str(needs.detector()), threads)
        self._name = self._session.get_inputs()[0].name  # type: ignore[attr-defined]

    def lines(self, even: Gray, mm: float, turned: bool) -> list[Found]:
        """Lines of writing that read one way, in pixels of ``even``."""
        k = DOTS / 25.4 / mm
        small = cv2.resize(even, None, fx=k, fy=k, interpolation=cv2.INTER_AREA)
        small = cv2.rotate(small, cv2.ROTATE_90_CLOCKWISE) if turned else small
        boxes = self._boxes(small)
        high, wide = even.shape
        found = []
        for x0, y0, x1, y1 in boxes:
            if x1 - x0 < 0.8 * (y1 - y0):
                continue
            left, top, right, bottom = (
                (y0, small.shape[1] - x1, y1, small.shape[1] - x0) if turned else (x0, y0, x1, y1)
            )
            box = (max(0, int(left / k)), max(0, int(top / k)), min(wide, int(right / k)), min(high, int(bottom / k)))
            found.append(Found(*box, turned, (y1 - y0) / k / mm * 0.72, 2))
        return found

    def _boxes(self, small: Gray) -> list[tuple[float, float, float, float]]:
        """Upright boxes of the map's connected pieces, widened to what they stand for."""
        high, wide = small.shape
        padded = cv2.copyMakeBorder(small, 0, -high % 32, 0, -wide % 32, cv2.BORDER_CONSTANT, value=255)
        block = (np.repeat(padded[..., None], 3, 2).astype(np.float32) / 255 - _MEAN) / _SPREAD
        chances = self._session.run(None, {self._name: block.transpose(2, 0, 1)[None]})[0][0, 0]  # type: ignore[attr-defined]
        _, labels, stats, _ = cv2.connectedComponentsWithStats((chances > _LEAST).astype(np.uint8), connectivity=8)
        found = []
        for i, (x, y, w, h, area) in enumerate(stats):
            if i == 0 or area < 12 or min(w, h) < 3:
                continue
            if float(chances[y : y + h, x : x + w][labels[y : y + h, x : x + w] == i].mean()) < _SURE:
                continue
            out = w * h * _WIDEN / (2.0 * (w + h))
            found.append((float(x - out), float(y - out), float(x + w + out), float(y + h + out)))
        return found
