"""Leaders, balloons, dimension lines with their number in a gap: what stands around writing, drawn and told apart."""

from __future__ import annotations

import numpy as np
import pypdfium2
import pytest
from trials.drawn import Drawn, Manner

from lathed_solid.core.callout import Ledger
from lathed_solid.core.drawing.scan import fields, guards, leaders
from lathed_solid.core.drawing.scan.finding import crop, found_runs
from lathed_solid.core.drawing.scan.judging import offers
from lathed_solid.core.drawing.scan.reading import Readers, prepared, read

DOTS = 200


def laid(sheet: Drawn):
    """The sheet as a picture, ready to be read; the runs of writing on it."""
    page = pypdfium2.PdfDocument(sheet.pdf())[0]
    ready = prepared(np.array(page.render(scale=DOTS / 72).to_pil().convert("L")), DOTS)
    return ready, found_runs(ready.parts.rest, ready.mm)


def drawn(manner: Manner | None = None) -> Drawn:
    sheet = Drawn((210.0, 148.0), "dejavu", 3.5, manner=manner)
    sheet.box(8, 8, 202, 140, 0.7)
    return sheet


def near(runs, mm: float, x: float, y: float):
    (run,) = [r for r in runs if r.left < x * mm < r.right and r.top < y * mm < r.bottom]
    return run


@pytest.mark.parametrize(("style", "led"), [("shoulder", True), ("none", False), ("under", False)])
def test_a_note_with_a_shoulder_before_it_is_led(style, led):
    sheet = drawn(Manner(style))
    assert sheet.leader((80, 60), (40, 100), "R1.2")
    assert sheet.leader((140, 60), (120, 100), "M16 - 6H")
    ready, runs = laid(sheet)
    for x in (83, 143):
        run = near(runs, ready.mm, x, 58.3)
        assert leaders.is_led(ready.ink, run, ready.mm) is led
    hyphen = near(runs, ready.mm, 143, 58.3)
    assert (hyphen.right - hyphen.left) / ready.mm > sheet.width("M16 - 6H", 3.5), "a hyphen parts no note"


def test_a_leaders_end_is_painted_out_and_no_letter_is():
    sheet = drawn()
    assert sheet.leader((80, 60), (60, 100), "L75°")
    ready, runs = laid(sheet)
    run = near(runs, ready.mm, 83, 58.3)
    wider = run._replace(left=run.left - int(4 * ready.mm), bottom=run.bottom + int(1.5 * ready.mm))
    line = crop(ready.even, wider)
    clear = leaders.without_leader(line)
    letters = int(4 * ready.mm)
    assert (line[:, : letters - 6] < 128).any() and not (clear[:, : letters - 6] < 128).any()
    assert ((line < 128) == (clear < 128))[:, letters:].all(), "the L stays: its foot is no shoulder"


def test_two_notes_a_line_apart_are_two_and_sure_where_each_has_its_own_leader():
    """A shoulder of its own, or a dimension line: nobody's second line has one."""
    readers = Readers.load()
    found = {}
    for style in ("shoulder", "none"):
        sheet = drawn(Manner(style))
        assert sheet.leader((80, 60), (40, 100), "R1.2")
        assert sheet.leader((81, 66.4), (66, 110), "4x Ø6.6 THRU")
        text, _ = read(laid(sheet)[0].even, DOTS, readers)
        found[style] = {o.note: o.sure for o in offers(text, Ledger((), "mm"))}
    assert found["shoulder"] == {"R1.2": True, "4x Ø6.6 THRU": True}
    assert found["none"] == {"R1.2": False, "4x Ø6.6 THRU": False}


@pytest.mark.parametrize("in_line", [False, True])
def test_the_length_between_the_arrowheads_is_measured(in_line):
    sheet = drawn(Manner(in_line=in_line))
    sheet.level((40, 40), (102, 40), 60, "62", 0.9)
    sheet.upright((150, 30), (150, 81), 170, "Ø51 h6", 0.9)
    ready, runs = laid(sheet)
    apart = guards.taken_apart(ready.even, ready.ink, ready.parts, ready.mm)
    spans = sorted(round(s, 1) for r in runs if (s := guards.around(apart, r).span))
    assert spans == pytest.approx([51.0, 62.0], abs=0.2)


def test_a_figure_in_a_balloon_is_no_size_even_with_a_speck_beside_it_and_one_in_a_bore_may_be():
    sheet = drawn()
    for x in (40.0, 80.0):
        sheet.circle((x, 50), 4.5, 0.35)
        sheet.write((x, 51.6), "3", height=3.2, amid=True)
    sheet.line((83.0, 50.0), (83.2, 50.0), 0.5)
    sheet.circle((140, 60), 18, 0.5)
    sheet.write((140, 61.6), "36", height=3.2, amid=True)
    ready, runs = laid(sheet)
    rings = fields.balloons(ready.ink, ready.mm)
    assert len(rings) == 2
    told = {
        round(x): fields.is_ringed(ready.ink, rings, near(runs, ready.mm, x, y), ready.mm)
        for x, y in ((40, 50), (80, 50), (140, 60))
    }
    assert told == {40: True, 80: True, 140: False}


def test_a_letter_that_a_line_has_run_into_is_not_painted_out():
    sheet = drawn()
    sheet.write((80, 60), "M16")
    sheet.line((70, 70), (80.6, 57.2), 0.25)
    ready, _ = laid(sheet)
    line = ready.even[int(55.5 * ready.mm) : int(61 * ready.mm), int(77 * ready.mm) : int(90 * ready.mm)]
    assert ((leaders.without_leader(line) < 128) == (line < 128)).all()
