"""Strangers' parts from their callouts to what leaves the workshop, by mouse and keys: an inch fixture plate with a grid
of holes, a cam with a free edge as STEP, a flanged spacer that a wider bored one is held against.
"""

import math
import re

import pytest
from PyQt6.QtWidgets import QFileDialog

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job import edits

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_families_of_strangers import drilled
from .test_inspecting_by_hand import go
from .test_issued_strangers_by_hand import sheet_of
from .test_steps_from_callouts import bored, turned
from .test_strangers_by_hand import IN3, all_in, inch


def test_an_inch_fixture_plate_with_a_grid_of_holes(desk):
    inch(desk, "4.000", "2.500", ".500", "12x Ø.257 THRU", "1.000", ".750")
    plate = slab(desk)
    assert plate == pytest.approx(5 * IN3)
    drilled(desk, (20, 20, 12.7), 4, "-1.5", "-.75")
    desk.enter("add: row or grid")
    desk.settled()
    fill(desk, Count="4", Pitch="#5")
    desk.click(desk.field("More fields"))
    desk.settled()
    fill(desk, Rows="3", Row_pitch="#6")
    assert plate - done(desk) == pytest.approx(12 * math.pi / 4 * 0.257**2 * 0.5 * IN3)
    all_in(desk)
    assert desk.actions <= 32, desk.actions
    room = sheet_of(desk, "fixture plate")
    assert len(room.drawing.sheet.labels) == 6


def test_a_cam_with_a_free_edge_goes_out_with_the_figures_that_are_proved(desk, tmp_path, monkeypatch):
    for note in ("10", "Ø12 H7 THRU"):
        desk.enter(note)
    new_sketch(desk, "extrude")
    desk.enter("spline 24,0 12,18 -10,15 -18,0 -11,-14 9,-17 close")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#1")
    blank = done(desk)
    drilled(desk, (8, 8, 10), 2, "0", "0")
    assert blank - desk.session.current.reports[desk.session.step].volume == pytest.approx(math.pi * 36 * 10, rel=1e-6)
    proof = desk.session.current.proof
    assert [x.mark for x in proof.lines] == ["in"] * len(proof.lines) and proof.unused == ()
    assert [n.words.partition(",")[0] for n in proof.unexplained] == ["free face"], "no callout says it, so it is told"
    target = tmp_path / "cam.step"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    desk.enter("write step")
    desk.wait(target.exists, 60)
    desk.settled()
    mass = desk.session.current.proof.mass
    text = " ".join(target.read_text().split())
    assert float(re.search(r"VOLUME_MEASURE\(\s*([^)]*)\)", text)[1]) == pytest.approx(mass.volume, rel=1e-9)
    assert float(re.search(r"AREA_MEASURE\(\s*([^)]*)\)", text)[1]) == pytest.approx(mass.area, rel=1e-9)


def test_a_flanged_spacer_is_held_against_one_bored_wider(desk, tmp_path, monkeypatch):
    for note in ("Ø60", "8", "Ø32", "26", "Ø20 THRU"):
        desk.enter(note)
    turned(desk, (0, 0, "#2"), (0, 2, "#1"), (1, 0, "#4"), (1, 2, "#3"))
    bored(desk, (0, 22, 3), 5)
    all_in(desk)
    path = tmp_path / "theirs.step"
    issue(edits.edit_callout(desk.session.content, 5, "Ø21 THRU"), path, FORMATS["step"])
    panel = go(desk, desk.window.against)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(path), ""))
    desk.click(panel.go)
    desk.wait(lambda: panel.found is not None, 60)
    lump = panel.found[1].difference.lumps[0]
    assert lump.deep == pytest.approx(0.5, abs=0.01) and not lump.more
