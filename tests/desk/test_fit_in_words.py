"""Parts put together without the mouse: relations written into the entry line."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from lathed_solid.core.fit.poses import placed

from .test_fit_by_hand import fit, looked, put_files_in, words  # noqa: F401


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
