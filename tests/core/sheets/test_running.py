"""Lengths from one end on one line: all still there, none over another, read back as what they are."""

from __future__ import annotations

import itertools

import msgspec
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lathed_solid.core.callout.normal import normal_note
from lathed_solid.core.drafting.sheet.blocks import in_line
from lathed_solid.core.drafting.sheet.compose import words_box
from lathed_solid.core.drafting.sheet.lanes import Length
from lathed_solid.core.drafting.sheet.model import Label
from lathed_solid.core.drafting.sheet.running import from_one_end, told_at_ends
from lathed_solid.core.drafting.sheet.scene import Round, Sized
from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.proposals import proposals
from lathed_solid.core.issue.drawing.dxf import to_dxf
from lathed_solid.core.issue.drawing.facts import drawn_sheet
from lathed_solid.core.issue.drawing.pdf import to_pdf
from lathed_solid.core.job.model import Content, Header


def _meet(a, b):
    return a[0] + 0.05 < b[2] and b[0] + 0.05 < a[2] and a[1] + 0.05 < b[3] and b[1] + 0.05 < a[3]


@pytest.mark.parametrize("balloons", [False, True])
def test_the_arbors_lengths_share_a_line(laid, balloons):
    made = laid(1)
    sheet = msgspec.structs.replace(made.sheet, running=True, balloons=balloons)
    content = msgspec.structs.replace(made.content, sheets=(sheet,))
    scene = drawn_sheet(content, sheet.id, made.seen, None, (), 1).scene
    sized = [m for m in scene.marks if isinstance(m, Sized)]
    origins = [r for m in sized for r in m.marks if isinstance(r, Round) and r.radius < 1.0]
    assert len(origins) == 1, "one line, one origin"
    shared = [m for m in sized if m.base == origins[0].center]
    assert {m.text for m in shared} >= {"22", "24", "92", "100", "140", "156"}
    ledger = content.ledger()
    for mark in sized:
        number = int(mark.of.removeprefix("label:"))
        assert mark.length == pytest.approx(ledger.reading(number).main.nominal, rel=1e-6)
    boxes = [(w.text, words_box(w)) for w in scene.texts()]
    assert [(a, b) for (a, p), (b, q) in itertools.combinations(boxes, 2) if _meet(p, q)] == []
    empty = Content(header=Header(units="mm")).ledger()
    wanted = sorted(normal_note(empty.try_note(c.note)) for c in content.callouts)
    for name, data in (("a.pdf", to_pdf([scene])), ("a.dxf", to_dxf(scene, "mm"))):
        offered = [normal_note(empty.try_note(p.note)) for p in proposals(open_paper(data, name), 1, empty)]
        assert sorted(offered) == wanted, name


@settings(max_examples=200, deadline=None)
@given(
    ends=st.lists(st.floats(-120, 120).filter(lambda v: abs(v) > 0.5), min_size=3, max_size=14, unique=True),
    level=st.booleans(), out=st.sampled_from([-1.0, 1.0]), numbered=st.booleans(),
)  # fmt: skip
def test_no_text_lies_on_another_however_near_the_ends_are(ends, level, out, numbered):
    lengths = []
    for number, end in enumerate(ends, 1):
        text = in_line(f"{abs(end):.2f}", number if numbered else 0)
        low, high = min(0.0, end), max(0.0, end)
        near = ((low, 0.0), (high, 0.0)) if level else ((0.0, low), (0.0, high))
        lengths.append(Length(Label(number=number, view="v"), text, level, low, high, near, abs(end)))
    zero, shared, rest = from_one_end(lengths)
    if zero != 0.0:  # two ends may happen to agree more often than the common one
        return
    assert len(shared) + len(rest) == len(lengths)
    drawn = told_at_ends(shared, zero, out * 20.0, out)
    boxes = [box for _, _, box in drawn]
    assert not any(_meet(a, b) for a, b in itertools.combinations(boxes, 2))
    k = 1 if level else 0
    assert all((b[k] >= 20.0 if out > 0 else b[k + 2] <= -20.0) for b in boxes), "beyond the line"
