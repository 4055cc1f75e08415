"""From a view in mm of the part to the sheet: scale, stretches left out of long parts, circles drawn larger."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence

from ...kernel.draw.strokes import XY, Stroke
from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import dot, minus
from .model import Break, Detail, Sheet, SheetView
from .seen import SeenView

#: What is left open where a stretch is left out, mm of paper.
GAP = 3.0


class Placing:
    """Where the places of one view lie on its sheet."""

    def __init__(self, sheet: Sheet, view: SheetView, seen: SeenView) -> None:
        self.view, self.seen = view, seen
        self.scale = sheet.scale_of(view)
        self.detail: Detail | None = view.detail
        source = sheet.view(view.detail.of) if view.detail is not None else view
        self._breaks: tuple[Break, ...] = tuple(sorted(source.breaks, key=lambda b: b.low))
        self._zero = self.squeezed(view.detail.middle) if view.detail is not None else (0.0, 0.0)

    def squeezed(self, place: XY) -> XY:
        """A place of the part with the stretches before it left out; zero stays where it is."""
        x = place[0]
        for b in self._breaks:
            out = max(0.0, b.high - b.low - GAP / self.scale)
            if b.low >= 0:
                x -= out * min(1.0, max(0.0, (place[0] - b.low) / (b.high - b.low)))
            else:
                x += out * min(1.0, max(0.0, (b.high - place[0]) / (b.high - b.low)))
        return x, place[1]

    def at(self, place: XY) -> XY:
        """A place of the view on the sheet, mm."""
        x, y = self.squeezed(place) if self._breaks else place
        return (
            self.view.at[0] + self.scale * (x - self._zero[0]),
            self.view.at[1] + self.scale * (y - self._zero[1]),
        )

    def back(self, place: XY) -> XY:
        """The place of the view that is drawn there; not within what is left out."""
        return (
            (place[0] - self.view.at[0]) / self.scale + self._zero[0],
            (place[1] - self.view.at[1]) / self.scale + self._zero[1],
        )

    def flat(self, place: Vector) -> XY:
        """A place of the part as the view sees it."""
        away = minus(place, self.seen.eye.origin)
        return dot(away, self.seen.eye.x), dot(away, self.seen.eye.y)

    def ways(self, way: Vector) -> XY:
        return dot(way, self.seen.eye.x), dot(way, self.seen.eye.y)

    @property
    def is_plain(self) -> bool:
        """Whether lines stay whole: nothing is left out and nothing is cut off."""
        return not self._breaks and self.detail is None

    def off_gaps(self, points: Sequence[XY]) -> Iterator[Sequence[XY]]:
        """The parts of a line on the sheet that do not run over a gap."""
        runs: list[Sequence[XY]] = [points]
        for b in self._breaks:
            left, right = self.at((b.low, 0.0))[0], self.at((b.high, 0.0))[0]
            runs = [r for run in runs for r in (*_beside(run, -1e18, left), *_beside(run, right, 1e18))]
        yield from runs

    @property
    def torn(self) -> tuple[Break, ...]:
        return self._breaks

    def shown(self, points: Sequence[XY]) -> Iterator[tuple[XY, ...]]:
        """The parts of a line that are shown, on the sheet."""
        if self.is_plain:
            yield tuple(self.at(p) for p in points)
            return
        for run in self._outside_breaks(points):
            for piece in self._inside_circle(run):
                yield tuple(self.at(p) for p in piece)

    def _outside_breaks(self, points: Sequence[XY]) -> Iterator[Sequence[XY]]:
        runs: list[Sequence[XY]] = [points]
        for b in self._breaks:
            runs = [r for run in runs for r in (*_beside(run, -1e18, b.low), *_beside(run, b.high, 1e18))]
        yield from runs

    def _inside_circle(self, points: Sequence[XY]) -> Iterator[Sequence[XY]]:
        if self.detail is None:
            yield points
            return
        middle, radius = self.detail.middle, self.detail.radius
        run: list[XY] = []
        for a, b in itertools.pairwise(points):
            span = _in_circle(a, b, middle, radius)
            if span is None:
                if len(run) > 1:
                    yield run
                run = []
                continue
            start, end = (_between(a, b, t) for t in span)
            if not run or span[0] > 1e-12:
                if len(run) > 1:
                    yield run
                run = [start]
            run.append(end)
            if span[1] < 1 - 1e-12:
                yield run
                run = []
        if len(run) > 1:
            yield run

    def box(self) -> tuple[float, float, float, float] | None:
        """Left, bottom, right, top on the sheet; None when nothing is seen."""
        if self.detail is not None:
            reach = self.scale * self.detail.radius
            x, y = self.view.at
            return x - reach, y - reach, x + reach, y + reach
        box = self.seen.box(self.view.hidden)
        if box is None:
            return None
        (left, bottom), (right, top) = self.at(box[:2]), self.at(box[2:])
        return left, bottom, right, top

    def holds_place(self, place: XY) -> bool:
        """Whether a place of the view is shown."""
        if any(b.low < place[0] < b.high for b in self._breaks):
            return False
        return self.detail is None or math.dist(place, self.detail.middle) < self.detail.radius


def _between(a: XY, b: XY, t: float) -> XY:
    return a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])


def _beside(points: Sequence[XY], low: float, high: float) -> Iterator[list[XY]]:
    """The parts of a line between two upright lines."""
    run: list[XY] = []
    for a, b in itertools.pairwise(points):
        t0, t1, dx = 0.0, 1.0, b[0] - a[0]
        if abs(dx) < 1e-12:
            inside = low <= a[0] <= high
        else:
            s, e = sorted(((low - a[0]) / dx, (high - a[0]) / dx))
            t0, t1 = max(0.0, s), min(1.0, e)
            inside = t1 > t0
        if not inside:
            if len(run) > 1:
                yield run
            run = []
            continue
        if not run or t0 > 0:
            if len(run) > 1:
                yield run
            run = [_between(a, b, t0)]
        run.append(_between(a, b, t1))
        if t1 < 1:
            yield run
            run = []
    if len(run) > 1:
        yield run


def _in_circle(a: XY, b: XY, middle: XY, radius: float) -> tuple[float, float] | None:
    """Where a straight line runs inside a circle, as shares of it."""
    dx, dy, fx, fy = b[0] - a[0], b[1] - a[1], a[0] - middle[0], a[1] - middle[1]
    qa, qb, qc = dx * dx + dy * dy, fx * dx + fy * dy, fx * fx + fy * fy - radius * radius
    root = qb * qb - qa * qc
    if qa < 1e-18 or root <= 0:
        return None
    low, high = max(0.0, (-qb - math.sqrt(root)) / qa), min(1.0, (-qb + math.sqrt(root)) / qa)
    return (low, high) if high > low else None


def places_of(stroke: Stroke) -> list[XY]:
    """Places along a line at which a leader may point."""
    if not stroke.is_straight:
        return list(stroke.points)
    a, b = stroke.points
    return [_between(a, b, t) for t in (0.5, 0.3, 0.7, 0.1, 0.9)]
