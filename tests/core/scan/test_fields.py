"""Title blocks and lists are known by their ruled fields, also where a faint sheet has lost walls between them."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from lathed_solid.core.drawing.scan.fields import tables
from lathed_solid.core.drawing.scan.finding import Found

MM = 8.0


def drawn(lost: tuple[int, ...], shift: float = 0.0) -> tuple[np.ndarray, list[Found]]:
    """A column of nine fields of 60 by 8 mm with their words, without the walls over the ``lost`` ones; the last five
    moved sideways by ``shift`` mm.
    """
    lines, words = np.zeros((int(120 * MM), int(120 * MM)), np.uint8), []
    for n in range(9):
        left, top = 20 + (shift if n > 3 else 0), 20 + 8 * n
        corners = [(left, top), (left + 60, top), (left + 60, top + 8), (left, top + 8)]
        for k, (a, b) in enumerate(zip(corners, corners[1:] + corners[:1], strict=True)):
            if (k == 0 and n in lost) or (k == 2 and n + 1 in lost):
                continue
            cv2.line(lines, *(tuple(int(v * MM) for v in p) for p in (a, b)), 255, 2)
        words.append(Found(*(int(v * MM) for v in (left + 2, top + 3, left + 20, top + 6)), False, 2.5, 6))
    return lines, words


def holds(found, x: float, y: float) -> bool:
    return any(a < x < c and b < y < d for a, b, c, d in found)


@pytest.mark.parametrize("lost", [(), (2,), (5, 6, 7, 8), (1, 2, 3, 4)])
def test_a_column_of_fields_is_a_table_whole(lost):
    lines, words = drawn(lost)
    found = tables(lines, words, [], MM)
    assert all(holds(found, 30, 24.5 + 8 * n) for n in range(9))


def test_a_wide_room_beside_a_table_is_none():
    lines, words = drawn((5, 6, 7, 8), shift=6.0)
    found = tables(lines, words, [], MM)
    assert holds(found, 30, 24.5) and not holds(found, 50, 75)
