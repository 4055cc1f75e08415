"""Finish, form and place and datum letters stand on their faces: framed as standards have it, and read back."""

from __future__ import annotations

import io
import itertools

import pytest
from reportlab.pdfgen.canvas import Canvas

from lathed_solid.core.callout.normal import normal_note
from lathed_solid.core.drafting.sheet.blocks import block_of
from lathed_solid.core.drafting.sheet.compose import words_box
from lathed_solid.core.drafting.sheet.model import Label, Sheet, SheetView
from lathed_solid.core.drafting.sheet.scene import Arrow, Path, Sized
from lathed_solid.core.drafting.sheet.symbols import SIGNS
from lathed_solid.core.drafting.sheet.words import drawable
from lathed_solid.core.drawing.attaching import with_signs
from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.paper import Word
from lathed_solid.core.drawing.proposals import proposals, reads
from lathed_solid.core.issue.drawing.dxf import to_dxf
from lathed_solid.core.issue.drawing.facts import drawn_sheet
from lathed_solid.core.issue.drawing.holds import written
from lathed_solid.core.issue.drawing.pdf import to_pdf
from lathed_solid.core.issue.drawing.propose import proposed
from lathed_solid.core.issue.drawing.views import seen as views_seen
from lathed_solid.core.job import edits
from lathed_solid.core.job.measures import stood_on
from lathed_solid.core.job.model import Content, Header
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.sheeting import with_sheet
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.prove.binding import BindingRefused

NOTES = {
    "DATUM A": {"kind": "cylinder", "radius": 10.0, "hollow": True},
    "runout 0.02 A": {"kind": "cylinder", "radius": 59.0},
    "⏥ 0.03": {"kind": "plane", "z": 0.0},
    "Ra 0.8": {"kind": "cylinder", "radius": 54.0},
    "position Ø0.1 (M) A": {"kind": "cylinder", "radius": 9.0},
    "parallelism 0.05 A": None,  # on no face
}


def face_like(body, surfaces, kind, z=None, **wanted):
    for s in surfaces:
        like = s.kind == kind and all(abs(getattr(s, k) - v) < 1e-6 for k, v in wanted.items())
        if like and (z is None or abs(s.origin[2] - z) < 1e-6):
            return body.name_of(s.index), s
    raise LookupError(wanted)


@pytest.fixture(scope="module")
def lettered(laid):
    """SKP-02 with six notes more, five of them on faces; and its proof before and after."""
    made = laid(2)
    content = made.content
    before = build_and_prove(content, made.cache)
    numbers = {}
    for note, where in NOTES.items():
        content, numbers[note] = edits.add_callout(content, note, "", "drawing", None, "")
        if where is not None:
            content = stood_on(
                content, numbers[note], [face_like(before.result.body, measure_faces(before.result.body), **where)]
            )
    after = build_and_prove(content, made.cache)
    sheet, seen = proposed(content, "d2", cache=made.cache, store=made.store)
    content = with_sheet(content, sheet)
    return content, numbers, drawn_sheet(content, "d2", seen, None, (), 1), before, after


def flat(scene):
    return [n for m in scene.marks for n in (m.marks if isinstance(m, Sized) else (m,))]


def test_each_is_framed_where_it_stands_and_reads_back(lettered):
    content, numbers, composed, _, _ = lettered
    scene = composed.scene
    of = {note: [m for m in flat(scene) if m.of == f"label:{n}"] for note, n in numbers.items()}
    said = {note: [w.text for w in scene.texts() if w.of == f"label:{n}"] for note, n in numbers.items()}
    assert list(said.values()) == [["A"], ["↗  0.02  A"], ["⏥  0.03"], ["Ra 0.8 µm"], ["⌖  Ø0.1 Ⓜ  A"], []]
    assert any("PARALLELISM 0.05 A" in w.text.upper() or "parallelism" in w.text for w in scene.texts()), "common notes"
    assert not any(isinstance(m, Arrow) for m in of["DATUM A"]), "a datum stands on a triangle"
    foot = next(m.points for m in of["DATUM A"] if isinstance(m, Path) and len(m.points) == 4)
    assert abs(foot[0][1] - foot[1][1]) < 1e-9, "which stands on the side of the bore, and not on its edge"
    assert all(sum(isinstance(m, Arrow) for m in of[n]) == 1 for n in ("runout 0.02 A", "Ra 0.8", "⏥ 0.03"))
    texts = scene.texts()
    assert [(a.text, b.text) for a, b in itertools.combinations(texts, 2) if over(words_box(a), words_box(b))] == []
    empty = Content(header=Header(units="mm")).ledger()
    wanted = sorted(normal_note(empty.try_note(n)) for n in NOTES)
    for name, data in (("a.pdf", to_pdf([scene])), ("a.dxf", to_dxf(scene, "mm"))):
        offered = [normal_note(empty.try_note(p.note)) for p in proposals(open_paper(data, name), 1, empty)]
        assert len(offered) == len(content.callouts)
        assert [n for n in wanted if n not in offered] == [], name


#: Added to callouts of SKP-02: a girth, a length, a hole, a turned length, a row of holes, a keyway's depth, a girth.
MIXED = {
    1: " runout 0.03 A",
    2: " parallelism 0.02 A, Ra 1.6",
    8: " DATUM A Ra 0.8",
    6: " perpendicularity 0.05 A",
    10: " position Ø0.2 (M) A",
    15: " Ra 3.2",
    5: " runout 0.02 A Ra 0.4",
}


def test_a_size_has_its_frames_below_it_or_after_it_and_all_reads_back_as_one(laid):
    content = laid(2).content
    for number, more in MIXED.items():
        content = edits.edit_callout(
            content, number, next(c.note for c in content.callouts if c.number == number) + more
        )
    sheet, seen = proposed(content, "d1")
    content = with_sheet(content, sheet)
    scene = drawn_sheet(content, "d1", seen, None, (), 1).scene
    said = {n: [w.text for w in scene.texts() if w.of == f"label:{n}"] for n in MIXED}
    assert said[1] == ["Ø118", "↗  0.03  A"] and said[2] == ["9", "Ra 1.6 µm", "∥  0.02  A"]
    assert said[8] == ["Ø20 H7 THRU", "Ra 0.8 µm", "A"] and said[10][-1] == "⌖  Ø0.2 Ⓜ  A"
    texts = scene.texts()
    assert [(a.text, b.text) for a, b in itertools.combinations(texts, 2) if over(words_box(a), words_box(b))] == []
    frames = {m.of: m.points for m in flat(scene) if isinstance(m, Path) and len(m.points) == 5 and "label" in m.of}
    assert set(frames) >= {f"label:{n}" for n in MIXED if n != 15}
    for word in texts:
        if word.of in frames and "  " in word.text:
            xs, ys = zip(*frames[word.of], strict=True)
            left, bottom, right, top = words_box(word)
            assert min(xs) < left and right < max(xs) and min(ys) < bottom and top < max(ys), word.text
    ledger = content.ledger()
    wanted = sorted(normal_note(ledger.reading(c.number)) for c in content.callouts)
    empty = Content(header=Header(units="mm")).ledger()
    for name, data in (("a.pdf", to_pdf([scene])), ("a.dxf", to_dxf(scene, "mm"))):
        offered = [normal_note(empty.try_note(p.note)) for p in proposals(open_paper(data, name), 1, empty)]
        assert sorted(offered) == wanted, name


@pytest.mark.parametrize(
    ("note", "head", "symbols"),
    [
        ("Ø20 H7, Ra 0.8", "Ø20 H7", ("Ra 0.8 µm",)),
        ("Ra 0.8 Ø20 H7", "Ra 0.8 Ø20 H7", ()),
        ("Ra 0.8 Ø20 runout 0.02 A", "Ra 0.8 Ø20 runout 0.02 A", ()),
        ("(Ø20 Ra 0.8)", "(Ø20 Ra 0.8)", ()),
        ("20,5 flatness 0,02", "20,5", ("FLATNESS 0.02",)),
        ("#1 + 2 Ra 0.8", "14 ±0.2", ("Ra 0.8 µm",)),
        ("flatness 0.02", "", ("FLATNESS 0.02",)),
    ],
)
def test_only_what_a_note_ends_with_is_framed(note, head, symbols):
    content, _ = edits.add_callout(Content(header=Header(units="mm")), "12", "", "drawing", None, "")
    content, number = edits.add_callout(content, note, "", "drawing", None, "")
    assert written(content, content.callouts[-1], content.ledger().reading(number)) == (head, symbols)


def test_what_stands_by_no_size_or_stands_across_is_no_sizes():
    """A finish too far off, one that is read from another side, and one below a text that is no callout."""
    empty = Content(header=Header(units="mm")).ledger()
    size = (100.0, 100.0)

    def word(text, left, top, right, bottom):
        return Word(text, left / 100, top / 100, right / 100, bottom / 100)

    def offered(*words):
        return sorted(w.text for w in with_signs(words, lambda t: reads(t, empty), size))

    near = word("Ø20 H7", 10, 10, 20, 12)
    assert offered(near, word("Ra 0.8", 24, 10, 33, 12)) == ["Ø20 H7 Ra 0.8"]
    assert offered(word("Ra 0.8", 12, 14, 21, 16), near) == ["Ø20 H7 Ra 0.8"]
    for other in (
        word("Ra 0.8", 40, 10, 49, 12),
        word("Ra 0.8", 12, 17, 21, 19),
        word("Ra 0.8", 24, 6, 26, 15),
        word("Ra 0.8", 1, 10, 9, 12),
    ):
        assert offered(near, other) == ["Ra 0.8", "Ø20 H7"]
    below, after = word("12", 10, 10, 13, 12), word("45", 10, 15, 13, 17)
    assert offered(below, word("Ra 0.8", 15, 15, 24, 17), after) == ["12", "45 Ra 0.8"], "the nearest of two"
    two = offered(near, word("DATUM A", 36, 10, 38, 12), word("Ra 0.8", 24, 10, 33, 12))
    assert two == ["Ø20 H7 Ra 0.8 DATUM A"], "one by the other, in whatever order"
    assert offered(word("Finish", 10, 10, 20, 12), word("Ra 0.8", 12, 14, 21, 16)) == ["Finish", "Ra 0.8"]
    upright = word("Ø20 H7", 50, 40, 52, 50)
    assert offered(upright, word("DATUM A", 50, 33, 52, 35), near) == ["Ø20 H7", "Ø20 H7 DATUM A"]


def over(a, b, room=0.05):
    return a[0] + room < b[2] and b[0] + room < a[2] and a[1] + room < b[3] and b[1] + room < a[3]


def test_a_face_that_only_faces_the_eye_is_pointed_at_all_the_same(laid):
    """SKP-03 seen from above alone, a datum on its upper face: the triangle is one, and stands upright on an outline."""
    made = laid(3)
    shown = build_and_prove(made.content, made.cache)
    content, number = edits.add_callout(made.content, "DATUM A", "", "drawing", None, "")
    faces = measure_faces(shown.result.body)
    top = max(
        (s for s in faces if s.kind == "plane" and abs(s.axis[2]) > 1 - 1e-9), key=lambda s: (s.origin[2], s.area)
    )
    content = stood_on(content, number, [(shown.result.body.name_of(top.index), top)])
    sheet = Sheet(
        id="t",
        size="A2",
        views=(SheetView(id="v", way="top", at=(200.0, 250.0)),),
        labels=(Label(number=number, view="v"),),
    )
    content = with_sheet(content, sheet)
    composed = drawn_sheet(content, "t", views_seen(content, sheet, made.cache, made.store), None, (), 1)
    (foot,) = [
        m.points
        for m in flat(composed.scene)
        if m.of == f"label:{number}" and isinstance(m, Path) and len(m.points) == 4
    ]
    a, b, peak, _ = foot
    area = abs((b[0] - a[0]) * (peak[1] - a[1]) - (peak[0] - a[0]) * (b[1] - a[1])) / 2
    assert area > 3.0, foot


def test_they_prove_and_explain_nothing(lettered):
    *_, before, after = lettered
    assert [(x.number, x.key, x.mark) for x in after.proof.lines] == [
        (x.number, x.key, x.mark) for x in before.proof.lines
    ]
    assert after.proof.unexplained == before.proof.unexplained


def test_a_face_is_wanted_to_stand_on(lettered):
    content, numbers, _, before, _ = lettered
    faces = [face_like(before.result.body, measure_faces(before.result.body), **w) for w in NOTES.values() if w]
    for picked in ([], faces[:2]):
        with pytest.raises(BindingRefused, match="the face on which it stands"):
            stood_on(content, numbers["Ra 0.8"], picked)


@pytest.mark.parametrize(
    "symbols", [("FLATNESS 0.02",), ("TOTAL RUNOUT .002 A", "Ra 0.8 µm"), ("POSITION Ø0.1 M A M B-C",)]
)
def test_the_cells_part_the_text_between_its_words(symbols):
    block = block_of("", 3, symbols)
    marks = list(block.marks(10.0, 50.0, "label:3"))
    words = [m for m in marks if not isinstance(m, Path) and getattr(m, "text", "3") != "3"]
    assert len(words) == len(symbols)
    for word in words:
        left, bottom, right, top = words_box(word)
        assert (
            left > 10.0 and right < 10.0 + block.width and 50 - block.height / 2 < bottom < top < 50 + block.height / 2
        )
        if "  " not in word.text:
            continue
        walls = [
            p.points[0][0]
            for p in marks
            if isinstance(p, Path) and len(p.points) == 2 and left < p.points[0][0] < right
        ]
        assert len(walls) == word.text.count("  ")


@pytest.mark.parametrize("name", SIGNS)
def test_every_sign_has_its_shape_and_is_read_again(name):
    assert drawable(SIGNS[name] + "Ⓜ") == SIGNS[name] + "Ⓜ", "the typeface has it"
    (word,) = [m for m in block_of("", 0, [f"{name} 0.1 M A L B"]).marks(0.0, 0.0, "") if not isinstance(m, Path)]
    assert word.text == f"{SIGNS[name]}  0.1 Ⓜ  A Ⓛ  B"
    empty = Content(header=Header(units="mm")).ledger()
    assert normal_note(empty.try_note(word.text)) == f"{name} 0.1 M A L B"


def test_only_a_letter_in_a_box_of_its_own_is_a_datum():
    """Not the letter of a section, a revision in its triangle, a field of a title block, or two letters."""
    stream = io.BytesIO()
    canvas = Canvas(stream, pagesize=(600, 400))
    canvas.setFont("Helvetica", 10)
    marks = {
        "A": lambda x: canvas.rect(x - 8, 192, 16, 16),
        "B": lambda x: None,
        "C": lambda x: canvas.drawPath(_triangle(canvas, x)),
        "D": lambda x: canvas.rect(x - 40, 180, 80, 40),
        "EF": lambda x: canvas.rect(x - 9, 191, 18, 18),
    }
    for k, (letter, draw) in enumerate(marks.items(), 1):
        draw(100 * k)
        canvas.drawCentredString(100 * k, 196.4, letter)
    canvas.save()
    empty = Content(header=Header(units="mm")).ledger()
    assert [p.note for p in proposals(open_paper(stream.getvalue(), "a.pdf"), 1, empty)] == ["DATUM A"]


def _triangle(canvas, x):
    path = canvas.beginPath()
    path.moveTo(x - 14, 190)
    path.lineTo(x + 14, 190)
    path.lineTo(x, 216)
    path.close()
    return path
