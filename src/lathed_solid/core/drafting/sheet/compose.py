"""A sheet put together: frame, views, callouts, titles of sections and details, notes and title block as one scene."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from .blocks import Box
from .holes import marked, table_box, tagged
from .lanes import reach
from .layout import lay_out
from .leaders import Written
from .linework import drawn
from .model import Label, Sheet, SheetView
from .paper import size_of
from .placing import Placing
from .planes import TITLE, planes
from .scene import Arrow, Mark, Path, Round, Scene, Spot, Words
from .seen import Hold, Seen
from .title import Facts, framed, noted, revised, titled
from .words import LEADING, drawable, parted, width

_LOST = 2.5


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
        marks += planes(sheet, view, placing, seen)
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
        box = (box[0], box[1], box[2], box[3] + 2.2 * TITLE)
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


# --- names of views
def _named(sheet: Sheet, view: SheetView, box: Box | None) -> Iterator[Mark]:
    """Above a section "A-A", above a detail "B scale 5:1"; the scale where it is another than the sheet's."""
    if box is None or not (view.letter or view.scale):
        return
    letter = f"{view.letter}-{view.letter}" if view.cut is not None and view.letter else view.letter
    text = " ".join(filter(None, (letter, f"scale {view.scale}" if view.scale and view.scale != sheet.scale else "")))
    yield Words(text, ((box[0] + box[2]) / 2, box[3] + 5.0), TITLE, "middle", of=f"view:{view.id}")
