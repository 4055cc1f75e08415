"""Where sections and details are taken, drawn in the views they are taken from: planes, arrows, circles, letters."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ...kernel.ground.geometry import Frame, dot, minus
from .blocks import Box
from .model import NAMED_CUTS, Sheet, SheetView
from .placing import Placing
from .scene import XY, Arrow, Mark, Path, Round, Words
from .seen import Seen

#: Height of letters of sections and details, and of the titles of views (mm).
TITLE = 3.5


def planes(sheet: Sheet, view: SheetView, placing: Placing, seen: Seen) -> Iterator[Mark]:
    """In a view: the planes other views are cut by where they are seen on edge, the circles of details of it."""
    box = placing.box()
    if box is None or view.detail is not None:
        return
    for other in sheet.views:
        of = f"view:{other.id}"
        if other.detail is not None and other.detail.of == view.id:
            yield from _circle(placing, other, of)
        elif other.id != view.id and _shown_by(sheet, other, seen) == view.id:
            yield from _plane(placing, box, other, seen, of)


def _shown_by(sheet: Sheet, other: SheetView, seen: Seen) -> str:
    """The view in which the plane of a section is drawn; empty for none."""
    cut_view = seen.views.get(other.id)
    if cut_view is None or other.cut is None or not other.letter or other.cut.kind not in NAMED_CUTS:
        return ""
    on_edge = [
        v.id
        for v in sheet.views
        if v.id != other.id
        and v.detail is None
        and v.id in seen.views
        and abs(dot(cut_view.eye.normal, seen.views[v.id].eye.normal)) < 1e-6
        and (cut_view.pivot is None or abs(dot(cut_view.pivot.x, seen.views[v.id].eye.normal)) > 1 - 1e-6)
    ]
    return other.base if other.base in on_edge else next(iter(on_edge), "")


def _circle(placing: Placing, other: SheetView, of: str) -> Iterator[Mark]:
    assert other.detail is not None
    x, y = placing.at(other.detail.middle)
    reach_ = other.detail.radius * placing.scale
    yield Round("break", (x, y), reach_, 0.0, 2 * math.pi, of)
    out = reach_ * math.sqrt(0.5) + 1.0
    yield Words(other.letter, (x + out, y + out), TITLE, of=of)


def _plane(placing: Placing, box: Box, other: SheetView, seen: Seen, of: str) -> Iterator[Mark]:
    """The cutting plane as a line over this view, with arrows the way the section is looked at (ISO 128-3 clause 6)."""
    cut_view = seen.views.get(other.id)
    if cut_view is None or not cut_view.levels:
        return
    eye, own = cut_view.eye, placing.seen.eye
    if abs(dot(eye.normal, own.normal)) > 1e-6 or not placing.is_plain:
        return
    if other.cut is not None and other.cut.kind == "aligned":
        pivot = cut_view.pivot or eye
        yield from _two_arms(placing, other.letter, pivot, cut_view.turn, other.cut.below, of)
        return
    look = (-dot(eye.normal, own.x), -dot(eye.normal, own.y))
    across = (dot(eye.x, own.x), dot(eye.x, own.y))
    if abs(math.hypot(*across) - 1) > 1e-6:  # this view shows the section's up, not its right: one level is a line
        across = (dot(eye.y, own.x), dot(eye.y, own.y))
    low, high = _span(box, across)
    zero = placing.at(placing.flat(eye.origin))
    points: list[XY] = []
    at = low - 6.0
    base = zero[0] * across[0] + zero[1] * across[1]
    for n, (level, to) in enumerate(cut_view.levels):
        end = high + 6.0 if n == len(cut_view.levels) - 1 else base + to * placing.scale
        off = -level * placing.scale
        points += [_on(zero, base, across, look, s, off) for s in (at, end)]
        at = end
    yield Path("plane", tuple(points), of)
    for point, other_end in ((points[0], points[1]), (points[-1], points[-2])):
        away = _unit(minus((*point, 0.0), (*other_end, 0.0)))
        yield from _looked_along(point, look, away, other.letter, of)


def _looked_along(point: XY, look: XY, away: XY, letter: str, of: str) -> Iterator[Mark]:
    """The end of a plane: an arrow the way the section is looked at, with its letter beyond."""
    start = point[0] - 7.0 * look[0], point[1] - 7.0 * look[1]
    yield Path("plane", (start, point), of)
    yield Arrow(point, look, of)
    at = start[0] + 3.2 * away[0] - look[0], start[1] + 3.2 * away[1] - look[1] - TITLE / 2
    yield Words(letter, at, TITLE, "middle", of=of)


def _two_arms(placing: Placing, letter: str, eye: Frame, turn: float, below: bool, of: str) -> Iterator[Mark]:
    """The plane of an aligned section, seen along its axis, which is the x of ``eye``: one arm in the plane that is
    drawn, the other at its angle, each with its arrow the way it is looked at.
    """
    own, side, flat = placing.seen.eye, -1.0 if below else 1.0, placing.flat(eye.origin)
    zero = placing.at(flat)

    def seen(up: float, near: float) -> XY:
        x, y, z = (up * a + near * b for a, b in zip(eye.y, eye.normal, strict=True))
        return dot((x, y, z), own.x), dot((x, y, z), own.y)

    c, s = math.cos(turn), math.sin(turn)
    arms = ((seen(-side, 0.0), seen(0.0, -1.0)), (seen(side * c, -side * s), seen(-s, -c)))
    ends = []
    for way, _ in arms:
        reach = 6.0 + placing.scale * placing.seen.reach(flat, way)
        ends.append((zero[0] + reach * way[0], zero[1] + reach * way[1]))
    yield Path("plane", (ends[0], zero, ends[1]), of)
    for (way, look), end in zip(arms, ends, strict=True):
        yield from _looked_along(end, look, way, letter, of)


def _span(box: Box, across: XY) -> tuple[float, float]:
    corners = [(x, y) for x in (box[0], box[2]) for y in (box[1], box[3])]
    along = [x * across[0] + y * across[1] for x, y in corners]
    return min(along), max(along)


def _on(zero: XY, base: float, across: XY, look: XY, along: float, off: float) -> XY:
    by = along - base
    return zero[0] + by * across[0] + off * look[0], zero[1] + by * across[1] + off * look[1]


def _unit(v: tuple[float, float, float]) -> XY:
    size = math.hypot(v[0], v[1]) or 1.0
    return v[0] / size, v[1] / size
