"""A changed number changes the sheet: nothing is lost or doubled, and no label moves farther than what it points at."""

from __future__ import annotations

import math

import msgspec
import pytest

from lathed_solid.core.drafting.sheet.changing import add_view, place_label, remove_view, set_labels
from lathed_solid.core.drafting.sheet.model import SheetView
from lathed_solid.core.drafting.sheet.scene import Arrow, Sized
from lathed_solid.core.issue.drawing.facts import drawn_sheet
from lathed_solid.core.issue.drawing.views import seen
from lathed_solid.core.job import edits, sheeting
from lathed_solid.core.route.model import FaceRef

#: Ten numbers of SKP-02 and what they become.
CHANGES = {
    1: "dia 120", 2: "10", 3: "dia 106", 4: "14", 5: "dia 44", 6: "30", 7: "R2.5", 8: "dia 21 H7 thru",
    14: "5.5", 15: "23.2",
}  # fmt: skip


def _boxes(composed):
    """The box of each callout's text, by its number."""
    return {int(s.of.removeprefix("label:")): s.box for s in composed.scene.spots if s.of.startswith("label:")}


def _moved(a, b):
    """How far a text has moved: by the edge its column is set on, which is whichever moved less."""
    across = min(abs(a[0] - b[0]), abs(a[2] - b[2]), abs(a[0] + a[2] - b[0] - b[2]) / 2)
    return math.hypot(across, (a[1] + a[3] - b[1] - b[3]) / 2)


def _tips(composed):
    found = {}
    for mark in composed.scene.marks:
        for inner in mark.marks if isinstance(mark, Sized) else (mark,):
            if isinstance(inner, Arrow) and inner.of.startswith("label:"):
                found.setdefault(int(inner.of.removeprefix("label:")), []).append(inner.tip)
    return found


@pytest.fixture(scope="module")
def sheet(laid):
    """SKP-02 with what was decided of its labels kept, and callout 11 put by hand."""
    made = laid(2)
    content = sheeting.changed(made.content, "d1", lambda s: set_labels(s, made.composed.labels))
    content = sheeting.changed(content, "d1", lambda s: place_label(s, 11, (-70.0, -55.0)))
    return made, content, drawn_sheet(content, "d1", made.seen, None, (), 1)


@pytest.mark.parametrize("number", CHANGES)
def test_labels_go_with_what_they_point_at(sheet, number):
    made, content, before = sheet
    changed = edits.edit_callout(content, number, CHANGES[number])
    found = seen(changed, changed.sheets[0], made.cache, made.store)
    after = drawn_sheet(changed, "d1", found, None, (), 1)
    then, now = _boxes(before), _boxes(after)
    assert then.keys() == now.keys() and after.unseen == ()
    assert now[11] == pytest.approx(then[11])  # put by hand: it stays
    moved = {n: _moved(then[n], now[n]) for n in then if n != number}  # its own figure may need more room
    tips_then, tips_now = _tips(before), _tips(after)
    anchors = max(min(math.dist(a, b) for b in tips_now[n]) for n in tips_then for a in tips_then[n])
    edge = abs(_right(before) - _right(after))
    assert max(moved.values()) <= max(anchors, edge) + 1e-6


def _right(composed):
    return max(s.box[2] for s in composed.scene.spots if s.of.startswith("view:"))


def test_what_was_decided_is_kept_in_the_file(sheet, tmp_path):
    from lathed_solid.core.job.model import Job
    from lathed_solid.core.job.storage import decode, to_json

    _, content, _ = sheet
    job = Job(content=content)
    assert decode(to_json(job), "a").job == job


def test_a_sheet_that_does_not_hang_together_is_mended_and_told(sheet):
    from lathed_solid.core.job.model import Job
    from lathed_solid.core.job.storage import decode, to_json

    _, content, _ = sheet
    broken = msgspec.structs.replace(
        content.sheets[0],
        size="Z9",
        scale="0:0",
        labels=(*content.sheets[0].labels, msgspec.structs.replace(content.sheets[0].labels[0], number=999)),
    )
    job = Job(content=msgspec.structs.replace(content, sheets=(broken,)))
    opened = decode(to_json(job), "a")
    assert opened.job.content.sheets[0].size == "A3" and opened.job.content.sheets[0].scale == "1:1"
    assert {e.number for e in opened.job.content.sheets[0].labels} == {e.number for e in content.sheets[0].labels}
    assert any("callout 999" in told for told in opened.lost)
    assert edits.delete_callout(content, 1, anyway=True).sheets[0].label(1) is None


def test_a_view_that_cannot_be_drawn_says_why_and_can_be_taken_off(sheet):
    made, content, _ = sheet
    lost = SheetView(id="", way="face", face=FaceRef("s99/gone", "a chamfer"), at=(60.0, 60.0))
    sheet, id_ = add_view(content.sheets[0], lost)
    content = sheeting.with_sheet(content, sheet)
    shown = seen(content, content.sheets[0], made.cache, made.store)
    composed = drawn_sheet(content, "d1", shown, None, (), 1)
    words = " ".join(w.text for w in composed.scene.texts() if w.of == f"view:{id_}")
    assert "was square to a chamfer, which is not on the part any more" in words
    assert any(s.of == f"view:{id_}" for s in composed.scene.spots)
    assert [v.id for v in remove_view(sheet, id_).views] == [v.id for v in made.sheet.views]
