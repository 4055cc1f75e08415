"""Which ink is a letter: a heavy 1 with its flag is one, an arrowhead beside writing is none."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from lathed_solid.core.drawing.scan.finding import found_runs

MM = 200 / 25.4
#: A condensed 1 of 3.43 mm with its flag, and an arrowhead of 2.5 by 0.84 mm with a bit of its line; corners in mm.
ONE = [(0.0, 0.75), (0.62, 0.0), (1.14, 0.0), (1.14, 3.43), (0.62, 3.43), (0.62, 0.95), (0.0, 1.1)]
HEAD = [(0.0, 1.3), (2.5, 0.88), (2.5, 1.2), (3.4, 1.2), (3.4, 1.4), (2.5, 1.4), (2.5, 1.72)]


def beside_figures(corners, width):
    """Two noughts with something before them, as a scanner leaves ink."""
    page = np.zeros((int(20 * MM), int(40 * MM)), np.uint8)
    at = [((x + 10) * MM, (y + 8) * MM) for x, y in corners]
    cv2.fillPoly(page, [np.array(at).round().astype(np.int32)], 255)
    for k in range(2):
        middle = (10 + width + 1.6 + 2.6 * k) * MM, (8 + 1.72) * MM
        cv2.ellipse(page, (int(middle[0]), int(middle[1])), (int(0.8 * MM), int(1.5 * MM)), 0, 0, 360, 255, 4)
    return page


@pytest.mark.parametrize(("corners", "width", "letters"), [(ONE, 1.14, 3), (HEAD, 3.4, 2)])
def test_a_heavy_one_is_a_letter_and_an_arrowhead_is_none(corners, width, letters):
    (run,) = found_runs(beside_figures(corners, width), MM)
    assert run.letters == letters
