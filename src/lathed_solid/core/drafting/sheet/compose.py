"""A sheet put together: frame, views, callouts, titles of sections and details, notes and title block as one scene."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from ...kernel.ground.geometry import dot, minus
from .blocks import Box
from .holes import marked, table_box, tagged
from .lanes import reach
from .layout import lay_out
from .leaders import Written
from .linework import drawn
from .model import Label, Sheet, SheetView
from .paper import size_of
from .placing import Placing
from .scene import XY, Arrow, Mark, Path, Round, Scene, Spot, Words
from .seen import Hold, Seen
from .title import Facts, framed, noted, revised, titled
from .words import LEADING, drawable, parted, width

_TITLE, _LOST = 3.5, 2.5


class Composed(NamedTuple):
    """The scene; every label as it was decided; the callouts that have a label here but cannot be shown."""

    scene: Scene
    labels: tuple[Label, ...]
    unseen: tuple[int, ...]


def compose(
    sheet: Sheet, seen: Seen, facts: Facts, number: int = 1, total: int = 1,
    length: Callable[[float], str] = "{:g}".format,
) -> Composed:  # fmt: skip
    """Draw a sheet; ``length`` writes mm as the job has them. What is not seen of it is left out and told."""
    paper = size_of(sheet.size)
    marks: list[Mark] = [*framed(sheet.size), *titled(facts, sheet.size, sheet.scale, number, total)]
    marks += noted(facts, sheet.size)
    marks += revised(facts.revisions, sheet.size)[0]
    spots: list[Spot] = []
    labels: dict[int, Label] = {}
    for view in sheet.views:
        if view.id not in seen.views:
            continue
        placing = Placing(sheet, view, seen.views[view.id])
        marks += drawn(view, placing)
        marks += _planes(sheet, view, placing, seen)
        box = placing.box()
        marks += _named(sheet, view, box)
        written = written_in(sheet, view, placing, seen.holds)
        for w in written:
            marks += w.marks
            labels[w.label.number] = w.label
            spots.append(Spot(f"label:{w.label.number}", w.box))
        if box is None:
            told, box = _lost(view, seen.views[view.id].lost)
            marks += told
        spots.insert(0, Spot(f"view:{view.id}", box))
    if sheet.holes is not None:
        holes = tagged(sheet, seen)
        marks += marked(sheet, seen, holes, length, [s.box for s in spots if s.of.startswith("label:")])
        if (table := table_box(sheet, holes, length)) is not None:
            spots.append(Spot("table:holes", table))
    unseen = tuple(label.number for label in sheet.labels if label.number not in labels)
    kept = tuple(labels.get(label.number, label) for label in sheet.labels)
    return Composed(Scene(paper.width, paper.height, tuple(marks), tuple(spots)), kept, unseen)


def _lost(view: SheetView, why: str) -> tuple[list[Mark], Box]:
    """In the place of a view that cannot be drawn: why not; it can still be pointed at, moved and taken off."""
    lines = parted(drawable(why or "Nothing is seen here."), _LOST, 70.0)
    x, y = view.at
    words: list[Mark] = [
        Words(line, (x, y - n * LEADING * _LOST), _LOST, of=f"view:{view.id}") for n, line in enumerate(lines)
    ]
    wide = max(width(line, _LOST) for line in lines)
    return words, (x, y - (len(lines) - 1) * LEADING * _LOST - 1.0, x + wide, y + _LOST + 1.0)


def written_in(sheet: Sheet, view: SheetView, placing: Placing, holds: Sequence[Hold]) -> list[Written]:
    """The callouts that are written by one view."""
    by_number = {h.number: h for h in holds}
    own = [
        (by_number[label.number], label)
        for label in sheet.labels
        if label.view == view.id and label.number in by_number
    ]
    return lay_out(placing, own, sheet.balloons, sheet.running)


def extent(sheet: Sheet, view: SheetView, seen: Seen) -> Box | None:
    """All that a view takes up with its callouts, on the sheet."""
    placing = Placing(sheet, view, seen.views[view.id])
    box = placing.box()
    if box is None:
        return None
    box = reach((_mark_box(m) for w in written_in(sheet, view, placing, seen.holds) for m in w.marks), box)
    if view.letter or view.scale:
        box = (box[0], box[1], box[2], box[3] + 2.2 * _TITLE)
    return box


def _mark_box(mark: Mark) -> Box:
    if isinstance(mark, Path):
        xs, ys = [p[0] for p in mark.points], [p[1] for p in mark.points]
        return min(xs), min(ys), max(xs), max(ys)
    if isinstance(mark, Round):
        (x, y), r = mark.center, mark.radius
        return x - r, y - r, x + r, y + r
    if isinstance(mark, Words):
        return words_box(mark)
    if isinstance(mark, Arrow):
        return (*mark.tip, *mark.tip)
    boxes = [_mark_box(m) for m in mark.marks]
    return reach(boxes, boxes[0])


def words_box(mark: Words) -> Box:
    """Left, bottom, right, top of a line of text (its capitals)."""
    across, high = width(mark.text, mark.height), mark.height
    shift = {"start": 0.0, "middle": across / 2, "end": across}[mark.align]
    x, y = mark.at
    if mark.turn == 90:
        return x - high, y - shift, x, y - shift + across
    return x - shift, y, x - shift + across, y + high


# --- names of views, and the planes sections are cut by
def _named(sheet: Sheet, view: SheetView, box: Box | None) -> Iterator[Mark]:
    """Above a section "A-A", above a detail "B scale 5:1"; the scale where it is another than the sheet's."""
    if box is None or not (view.letter or view.scale):
        return
    letter = f"{view.letter}-{view.letter}" if view.cut is not None and view.letter else view.letter
    text = " ".join(filter(None, (letter, f"scale {view.scale}" if view.scale and view.scale != sheet.scale else "")))
    yield Words(text, ((box[0] + box[2]) / 2, box[3] + 5.0), _TITLE, "middle", of=f"view:{view.id}")


def _planes(sheet: Sheet, view: SheetView, placing: Placing, seen: Seen) -> Iterator[Mark]:
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
    if cut_view is None or other.cut is None or not other.letter or other.cut.kind not in ("full", "offset", "removed"):
        return ""
    on_edge = [
        v.id
        for v in sheet.views
        if v.id != other.id
        and v.detail is None
        and v.id in seen.views
        and abs(dot(cut_view.eye.normal, seen.views[v.id].eye.normal)) < 1e-6
    ]
    return other.base if other.base in on_edge else next(iter(on_edge), "")


def _circle(placing: Placing, other: SheetView, of: str) -> Iterator[Mark]:
    assert other.detail is not None
    x, y = placing.at(other.detail.middle)
    reach_ = other.detail.radius * placing.scale
    yield Round("break", (x, y), reach_, 0.0, 2 * math.pi, of)
    out = reach_ * math.sqrt(0.5) + 1.0
    yield Words(other.letter, (x + out, y + out), _TITLE, of=of)


def _plane(placing: Placing, box: Box, other: SheetView, seen: Seen, of: str) -> Iterator[Mark]:
    """The cutting plane as a line over this view, with arrows the way the section is looked at (ISO 128-3 clause 6)."""
    cut_view = seen.views.get(other.id)
    if cut_view is None or not cut_view.levels:
        return
    eye, own = cut_view.eye, placing.seen.eye
    if abs(dot(eye.normal, own.normal)) > 1e-6 or not placing.is_plain:
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
        start = point[0] - 7.0 * look[0], point[1] - 7.0 * look[1]
        yield Path("plane", (start, point), of)
        yield Arrow(point, look, of)
        away = _unit(minus((*point, 0.0), (*other_end, 0.0)))
        yield Words(
            other.letter,
            (start[0] + 3.2 * away[0] - look[0], start[1] + 3.2 * away[1] - look[1] - _TITLE / 2),
            _TITLE,
            "middle",
            of=of,
        )


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
