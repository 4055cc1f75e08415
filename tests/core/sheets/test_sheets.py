"""Sheets of the examples as they are laid out by themselves: everything on them, nothing over anything else."""

from __future__ import annotations

import io
import itertools
import re

import ezdxf
import pypdfium2
import pytest

from lathed_solid.core.drafting.sheet.compose import words_box
from lathed_solid.core.drafting.sheet.paper import frame_of, size_of
from lathed_solid.core.drafting.sheet.scene import Path, Round, Sized
from lathed_solid.core.issue.drawing.dxf import to_dxf
from lathed_solid.core.issue.drawing.pdf import to_pdf, to_png
from lathed_solid.core.issue.drawing.svg import to_svg
from lathed_solid.core.units import INCH

PARTS = (1, 2, 3, 4, 5, 6, 7)


def _over(a, b, room=0.05):
    return a[0] + room < b[2] and b[0] + room < a[2] and a[1] + room < b[3] and b[1] + room < a[3]


@pytest.mark.parametrize("k", PARTS)
def test_every_callout_is_on_the_sheet_and_no_text_covers_another(laid, k):
    made = laid(k)
    scene, labels = made.composed.scene, made.composed.labels
    placed = {e.number for e in labels}
    missing = [h for h in made.seen.holds if h.number not in placed and not h.common]
    assert [h.number for h in missing] == ([7] if k == 6 else [])  # the rim's groove is told by its note alone
    assert made.composed.unseen == ()
    texts = scene.texts()
    pairs = [(a.text, b.text) for a, b in itertools.combinations(texts, 2) if _over(words_box(a), words_box(b))]
    assert pairs == []
    left, bottom, right, top = frame_of(made.sheet.size)
    outside = [w.text for w in texts if not _inside(words_box(w), (left, bottom, right, top))]
    assert outside == []
    paper = size_of(made.sheet.size)
    for mark in scene.marks:
        for x, y in mark.points if isinstance(mark, Path) else ():
            assert 0 <= x <= paper.width and 0 <= y <= paper.height
            assert mark.pen == "frame" or (left - 1e-6 <= x <= right + 1e-6 and bottom - 1e-6 <= y <= top + 1e-6)


def _inside(box, frame):
    return box[0] >= frame[0] and box[1] >= frame[1] and box[2] <= frame[2] and box[3] <= frame[3]


@pytest.mark.parametrize("k", PARTS)
def test_dimensions_in_a_dxf_measure_what_the_part_measures(laid, k):
    made = laid(k)
    unit = made.content.header.style.unit
    document = ezdxf.read(io.StringIO(to_dxf(made.composed.scene, unit).decode()))
    audit = document.audit()
    assert not audit.errors and not audit.fixes
    ledger = made.content.ledger()
    sized = [m for m in made.composed.scene.marks if isinstance(m, Sized)]
    found = list(document.modelspace().query("DIMENSION"))
    assert len(found) == len(sized) > 0
    for dimension, mark in zip(found, sized, strict=True):
        number = int(mark.of.removeprefix("label:"))
        nominal = ledger.reading(number).main.nominal
        assert mark.length == pytest.approx(nominal, rel=1e-6)
        style = dimension.override()
        shown = dimension.get_measurement() * style.get("dimlfac")
        assert shown == pytest.approx(nominal / (INCH if unit == "in" else 1.0), rel=1e-6)
        assert dimension.dxf.text == mark.text


@pytest.mark.parametrize("k", PARTS)
def test_pdf_and_svg_say_every_line_of_text(laid, k):
    made = laid(k)
    scene = made.composed.scene
    data = to_pdf([scene], "SKP")
    assert data == to_pdf([scene], "SKP")
    document = pypdfium2.PdfDocument(data)
    said = re.sub(r"\s+", "", document[0].get_textpage().get_text_range())
    svg = to_svg(scene, "SKP")
    own = [w for w in scene.texts() if w.of.startswith("label:")]
    for words in own:
        many = sum(w.text == words.text for w in own)
        assert said.count(re.sub(r"\s+", "", words.text)) >= many, words.text
    assert svg.count("<text") == len(scene.texts())
    assert svg.count("<circle") == sum(isinstance(m, Round) and abs(m.sweep) > 6.28 for m in _flat(scene.marks))
    picture = document[0].render(scale=4, grayscale=True).to_numpy()
    assert 0.003 < float((picture < 128).mean()) < 0.2
    assert to_png(scene, 72)[:8] == b"\x89PNG\r\n\x1a\n"


def _flat(marks):
    for mark in marks:
        if isinstance(mark, Sized):
            yield from mark.marks
        else:
            yield mark
