"""Parts put together without the mouse: relations written into the entry line."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from lathed_solid.core.fit.poses import placed

from .test_bracket_by_hand import done
from .test_drum_by_hand import new_sketch, slab
from .test_fit_by_hand import button, fit, looked, put_files_in, words  # noqa: F401
from .test_steps_from_callouts import turned
from .test_strangers_by_hand import all_in, inch


def typed(desk, text):
    """Type a sentence and press Return; what was said of it before that."""
    line = desk.window.entry.line
    desk.press(desk.window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    line.clear()
    desk.keys(line, text)
    QTest.qWait(20)
    told = desk.window.entry.preview.text()
    desk.press(line, Qt.Key.Key_Return)
    QTest.qWait(40)
    return told


def test_two_flanges_are_put_on_the_arbor_in_words(desk, fit, monkeypatch):  # noqa: F811
    put_files_in(desk, fit, monkeypatch, "skp-01", "skp-02")
    arbor, flange = (i.id for i in fit.document.assembly.instances)
    assert "relation" in desk.window.entry.line.placeholderText().lower()
    assert typed(desk, "in line SKP-01 Ø20 with SKP-02 Ø20 hole") == "Ties SKP-01 and SKP-02: in line."
    assert [r.kind for r in fit.document.assembly.relations] == ["in line"]
    assert words(fit, flange).startswith("turns about")
    editor = fit.relations.editor
    assert editor.turn.isVisible() and not editor.value.isVisible(), "a relation that has no number asks for none"

    # What cannot be read is said while it is typed, ties nothing, and stays in the line.
    assert typed(desk, "seated 0.3 SKP-01 Z 92 with SKP-02 Ø99").startswith("! SKP-02 has no face “Ø99”.")
    assert desk.window.entry.line.text().endswith("Ø99")
    assert len(fit.document.assembly.relations) == 1
    assert typed(desk, "seated 0.3 SKP-01 -Z 92 with SKP-02 Z 0") == "Ties SKP-01 and SKP-02: seated 0.3."
    assert words(fit, flange).startswith("turns about") and "slides" not in words(fit, flange)
    made = fit.document.assembly
    seat, back = (placed(made.instance(i).pose, np.array((0.0, 0.0, z))) for i, z in ((arbor, 92.0), (flange, 0.0)))
    assert abs(seat[2] - back[2]) == pytest.approx(0.3, abs=1e-9)
    assert looked(desk, fit).overlaps == ()

    # Undo takes it back.
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert [r.kind for r in fit.document.assembly.relations] == ["in line"]


def plate(desk, name, notes):
    """A bar with two cross holes either side of its middle, drawn, proved and saved."""
    for note in notes:
        desk.enter(note)
    slab(desk)
    desk.look("T")
    desk.pick((0, 0, 25.4 * float(notes[2])))
    new_sketch(desk, "extrude")
    desk.enter("circle Ø#4 at #5,0")
    desk.enter("circle Ø#4 at -#5,0")
    desk.choose("Material", "cut away")
    desk.choose("How far", "through all")
    volume = done(desk)
    all_in(desk)
    kept(desk, name)
    return volume / 25.4**3


def kept(desk, name):
    """Saved under a name; then an empty job in inches."""
    saved(desk, name)
    inch(desk)


def saved(desk, name):
    desk.saved_as = Path(f"{name}.lathed").resolve()
    desk.press(desk.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    desk.wait(desk.saved_as.exists)
    desk.press(desk.window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    desk.settled()


def test_a_press_frame_of_strangers_parts_is_put_together_in_words(desk, tmp_path, monkeypatch):
    """Inch: a bed, two shouldered posts and a crosshead, each drawn by hand and proved, then tied by sentences."""
    monkeypatch.chdir(tmp_path)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(desk.saved_as), ""))
    inch(desk)
    hole = math.pi * 0.375**2 / 2
    bed = plate(desk, "bed", ("4.000", "1.500", ".625", "2x Ø.3750 THRU", "1.250"))
    assert bed == pytest.approx((4 * 1.5 - hole) * 0.625, rel=1e-9)
    head = plate(desk, "head", ("3.250", "1.000", ".500", "2x Ø.3750 THRU", "1.250"))
    assert head == pytest.approx((3.25 - hole) * 0.5, rel=1e-9)
    for note in (".625", "Ø.3745", "Ø.5625", "2.125", "2.625"):
        desk.enter(note)
    post = turned(desk, (0, 1, "#1"), (0, 2, "#2"), (1, 0, "#4"), (1, 2, "#3"), (2, 0, "#5"), (2, 2, "#2"))
    assert post / 25.4**3 == pytest.approx(math.pi / 4 * (0.3745**2 * 1.125 + 0.5625**2 * 1.5), rel=1e-9)
    all_in(desk)
    kept(desk, "post")

    desk.press(desk.window, Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier)
    desk.wait(lambda: desk.window.is_fitted and desk.window.fit.view.is_ready)
    room = desk.window.fit
    files = [str(tmp_path / f"{n}.lathed") for n in ("bed", "head", "post")]
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: (files, ""))
    button(desk, room, "From files …")
    desk.wait(lambda: len(room.document.assembly.instances) == 3, 60)
    if room.document.assembly.unit != "in":
        desk.click(desk.window.rail.unit)
    room.document.choose_instance(room.document.assembly.instances[2].id)
    button(desk, room, "Another")
    begun = desk.actions
    for sentence in (
        "in line bed Ø.375,1 with post, 1 Ø.3745", "seated bed Z .625 with post, 1 Z .625",
        "in line bed Ø.375,2 with post, 2 Ø.3745", "seated bed Z .625 with post, 2 Z .625",
        "in line head Ø.375,1 with post, 1 Ø.3745", "in line head Ø.375,2 with post, 2 Ø.3745",
        "seated head Z 0 with post, 1 Z 2.125",
    ):  # fmt: skip
        assert typed(desk, sentence).startswith("Ties "), sentence
    assert desk.actions - begun <= 14 + 7
    made = room.document.assembly
    assert len(made.relations) == 7
    bed, head, *posts = (i.id for i in made.instances)
    assert words(room, head) == "held" and all(words(room, p) == "turns about Z" for p in posts)
    found = looked(desk, room)
    assert found.overlaps == ()
    touching = {frozenset((p.a, p.b)) for p in found.pairs if p.state == "touching"}
    assert touching == {frozenset((part, p)) for p in posts for part in (bed, head)}
