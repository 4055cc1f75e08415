"""Straight and round pieces of an outline, as they are read off a solid. No kernel is needed here."""

from __future__ import annotations

from typing import NamedTuple

from ..ground.geometry import WORLD, Frame

XY = tuple[float, float]


class Piece(NamedTuple):
    """A straight or round piece from ``start`` to ``end`` (mm). An arc has its ``middle`` and runs counter-clockwise
    unless ``back``; one that ends where it starts is a whole circle. ``face`` is the index of the face it stands for.
    """

    start: XY
    end: XY
    face: int
    middle: XY | None = None
    back: bool = False

    def turned_round(self) -> Piece:
        return self._replace(start=self.end, end=self.start, back=not self.back)


class FlatOutline(NamedTuple):
    """The outline of a part between two flat ends, seen along the normal of ``frame``, and where those lie along it
    (mm).
    """

    pieces: tuple[Piece, ...]
    low: float
    high: float
    frame: Frame = WORLD
