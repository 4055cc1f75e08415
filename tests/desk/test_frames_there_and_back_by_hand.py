"""Two parts nobody had built here, whose sizes end with form, place, finish and datum letters: built by mouse and keys,
drawn, written, and read again under the glass in a job that knows nothing of them.
"""

from __future__ import annotations

import os

import pytest
from PyQt6.QtWidgets import QFileDialog

from .test_drawing_by_hand import meanings, open_drawing
from .test_drum_by_hand import slab
from .test_families_of_strangers import drilled
from .test_framed_by_hand import ringed, said
from .test_issued_strangers_by_hand import sheet_of
from .test_steps_from_callouts import bored, turned
from .test_strangers_by_hand import all_in


def read_again(desk, room, monkeypatch, tmp_path, units="mm"):
    """The sheet written as PDF and as DXF; either gives the whole ledger by one click in a new job."""
    first = desk.session.content
    wanted = meanings(first)
    files = {}
    for form in ("pdf", "dxf"):
        files[form] = tmp_path / f"sheet.{form}"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, form=form, **k: (str(files[form]), ""))
        desk.click(room.side.board.out.files[form])
        desk.wait(lambda form=form: files[form].exists() and not desk.session.is_working, 60)
    for path in files.values():
        desk.enter("new job")
        assert desk.session.content.callouts == ()
        open_drawing(desk, path)
        offers = desk.window.read_side.offers
        assert len(offers.offers) == len(first.callouts), [o.note for o in offers.offers]
        if folder := os.environ.get("PICTURES"):
            desk.window.grab().save(f"{folder}/read again {path.name}.png")
        desk.click(offers.all)
        assert meanings(desk.session.content) == wanted, path.name


def test_a_spindle_flange(desk, monkeypatch, tmp_path):
    for note in (
        "Ø80 runout 0.03 A", "10 flatness 0.02 Ra 1.6", "Ø45 g6 runout 0.01 A Ra 0.8", "42",
        "Ø25 H7 THRU DATUM A Ra 0.4", "4x Ø6.6 THRU on Ø62 position Ø0.2 (M) A",
    ):  # fmt: skip
        desk.enter(note)
    turned(desk, (0, 1, "#2"), (0, 2, "#1"), (1, 0, "#4"), (1, 2, "#3"))
    bored(desk, (35, 2, 0), 5)
    ringed(desk, (35, 2, 0), 6)
    all_in(desk)
    room = sheet_of(desk, "spindle flange")
    assert said(room, 1) == ["Ø80", "↗  0.03  A"] and said(room, 2) == ["10", "Ra 1.6 µm", "⏥  0.02"]
    assert said(room, 3) == ["Ø45 g6", "Ra 0.8 µm", "↗  0.01  A"] and said(room, 5)[1:] == ["Ra 0.4 µm", "A"]
    assert said(room, 6)[-1] == "⌖  Ø0.2 Ⓜ  A"
    read_again(desk, room, monkeypatch, tmp_path)
    print("spindle flange", desk.actions)


def test_a_crank_web(desk, monkeypatch, tmp_path):
    """Milled: a place, a form and a profile, each below or after what it is said of."""
    for note in (
        "90 surface profile 0.1 A B", "30", "14 parallelism 0.03 A Ra 1.6", "Ø20 H7 THRU DATUM B", "28",
        "Ø12 H8 THRU perpendicularity 0.02 A", "30",
    ):  # fmt: skip
        desk.enter(note)
    slab(desk)
    drilled(desk, (0, 8, 14), 4, "-#5")
    drilled(desk, (0, 8, 14), 6, "#7")
    all_in(desk)
    room = sheet_of(desk, "crank web")
    assert said(room, 1) == ["90", "⌓  0.1  A  B"] and said(room, 3) == ["14", "Ra 1.6 µm", "∥  0.03  A"]
    assert said(room, 4) == ["Ø20 H7 THRU", "B"] and said(room, 6) == ["Ø12 H8 THRU", "⊥  0.02  A"]
    read_again(desk, room, monkeypatch, tmp_path)
    print("crank web", desk.actions)


@pytest.fixture(autouse=True)
def _here(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
