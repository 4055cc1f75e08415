"""The solid itself looked over by mouse and keys, on parts nobody had built: its walls as a map, room for another hole,
shop sense, and held against a file that somebody else made.
"""

import math

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job import edits
from lathed_solid.desk.stages.sense import SensePanel

from .test_drum_by_hand import slab
from .test_families_of_strangers import drilled
from .test_inspecting_by_hand import go
from .test_steps_from_callouts import bored, turned
from .test_strangers_by_hand import IN3, inch
from .test_why_by_hand import pocketed


def written_on_part(desk):
    return [x.text() for x in desk.window.part.pins._labels if x.isVisible()]


def tray(desk):
    """70 x 50 x 16 with a pocket 50 x 30 that leaves a floor of 3."""
    pocketed(desk, 70, 50, 16, 50, 30, 13)


def test_the_map_of_a_tray_is_read_by_pointing(desk):
    tray(desk)
    panel = go(desk, desk.window.walls)
    desk.click(panel.go)
    desk.wait(lambda: bool(panel.every), 60)
    assert panel.every[0].thick == pytest.approx(3.0, abs=1e-9), "the floor"
    desk.click(panel.map)
    assert panel.scale.isVisible() and panel.scale.ends == ("3 mm", "12 and more")
    assert desk.window.part.overlay._shown, "laid over the part"
    desk.look("T")
    view = desk.window.part
    x, y = view.surface.view.Convert(0, 0, 3)
    QTest.mouseMove(view.surface, QPoint(round(x), round(y)))
    desk.wait(lambda: written_on_part(desk) == ["about 3 mm"], 5)
    desk.retype(panel.least, "5")
    assert panel.scale.ends[1] == "5 and more"
    go(desk, desk.window.measure)
    assert not view.overlay._shown, "it goes with its panel"
    go(desk, panel)
    assert view.overlay._shown
    desk.session.edit(lambda c: edits.edit_callout(c, 6, "11"), "shallower")
    desk.settled()
    assert panel.every == () and not view.overlay._shown and not panel.map.isEnabled()


def test_room_for_a_hole_beside_a_bore_in_an_inch_plate(desk):
    """A plate 3 x 2 x .5 with a bore Ø.75 in the middle: the largest beside it that keeps an eighth all round."""
    inch(desk, "3", "2", ".5", "Ø.75 THRU")
    slab(desk)
    drilled(desk, (20, 3, 12.7), 4, "0", "0")
    panel = go(desk, desk.window.room)
    desk.click(panel.go)
    assert panel.found is None and "Pick the flat face" in desk.said[-1][0]
    desk.look("T")
    desk.pick((25, 3, 12.7))
    assert panel.floor.text().startswith("top")
    desk.retype(panel.wall, ".125")
    desk.click(panel.go)
    desk.wait(lambda: panel.found is not None, 60)
    found = panel.found[1].found
    side = 1.5 - abs(found.place[0]) / 25.4
    assert found.kept == pytest.approx(0.125 * 25.4, abs=1e-6)
    assert side - found.diameter / 25.4 / 2 == pytest.approx(0.125, abs=1e-6)
    assert "It keeps 0.125 in, measured" in panel.answer.text() and desk.window.part.overlay._shown
    desk.click(panel.callout)
    desk.settled()
    made = desk.session.content.callouts[-1]
    assert made.note.startswith("Ø") and made.note.endswith("THRU") and made.origin == "derived"
    x, y, _ = found.place
    desk.look("T")
    drilled(desk, (25, 3, 12.7), made.number, f"{x} mm", f"{y} mm")
    proof = desk.session.current.proof
    across = next(line for line in proof.lines if line.number == made.number)
    assert across.mark == "in" and across.measured == pytest.approx(found.diameter, abs=0.003)


def test_shop_sense_of_a_sharp_pocket_and_a_thread_too_near_the_side(desk):
    tray(desk)
    panel = go(desk, desk.window.sense)
    desk.click(panel.go)
    desk.wait(lambda: panel.listed is not None, 60)
    assert [f.rule for f in panel.listed] == ["corner"]
    assert "4 sharp corners inside" in panel.table.item(0, 1).text()
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(0, 1)).center())
    assert len(desk.window.picking.faces) == 5 and "Source:" in panel.told.text(), "the floor and its four walls"
    box = panel.rules.visualItemRect(panel.rules.item(3))
    desk.click(panel.rules.viewport(), QPoint(box.left() + 12, box.center().y()))
    assert panel.listed == () and "Nothing is to be said" in panel.state.text()
    # the shop's choice holds for every job from now on, until it is switched again
    other = SensePanel(desk.session, desk.window.picking)
    assert [other.rules.item(k).checkState() == Qt.CheckState.Checked for k in range(5)] == [k != 3 for k in range(5)]
    desk.click(panel.rules.viewport(), QPoint(box.left() + 12, box.center().y()))
    assert len(panel.listed) == 1


def test_a_solid_of_somebody_else_is_held_against_ours(desk, tmp_path, monkeypatch):
    """Their plate has the hole 4 mm off; it comes as STEP."""
    from PyQt6.QtWidgets import QFileDialog

    for note in ("60", "40", "10", "Ø8 THRU"):
        desk.enter(note)
    slab(desk)
    drilled(desk, (20, 3, 10), 4, "12", "0")
    path = tmp_path / "theirs.step"
    issue(edits.change_step(desk.session.content, desk.session.content.steps[-1].id, x="16"), path, FORMATS["step"])
    panel = go(desk, desk.window.against)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(path), ""))
    desk.click(panel.go)
    desk.wait(lambda: panel.found is not None, 60)
    assert panel.other.currentText() == "theirs.step" and panel.table.rowCount() == 2
    assert {panel.table.item(r, 0).text() for r in (0, 1)} == {"it has more", "it has less"}
    lens = 2 * 16 * math.acos(0.5) - 2 * math.sqrt(64 - 16)  # two circles of radius 4, 4 apart
    moon = (math.pi * 16 - lens) * 10
    assert [x.volume for x in panel.found[1].difference.lumps] == pytest.approx([moon, moon], rel=0.02)
    assert len(desk.window.part.overlay._shown) == 2
    desk.click(panel.table.viewport(), panel.table.visualItemRect(panel.table.item(0, 1)).center())
    assert len(desk.window.part.overlay._shown) == 1 and len(written_on_part(desk)) == 1
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert panel.found is None and not desk.window.part.overlay._shown


def test_a_turned_collar_is_held_against_its_last_revision(desk):
    """Turned, in millimetres: a collar bored and drilled across; the bore is made wider after revision A was issued."""
    for note in ("Ø44", "24", "Ø20 THRU", "Ø5 THRU"):
        desk.enter(note)
    turned(desk, (0, 0, "#2"), (0, 2, "#1"))
    ring = math.pi * (22**2 - 10**2) * 24
    assert bored(desk, (14, 10, 0), 3) == pytest.approx(ring)
    assert desk.session.current.proof.lines[0].mark == "in"
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    desk.click(
        next(b for b in desk.window.proof_figures.findChildren(QPushButton) if b.text() == "Issue this revision")
    )
    desk.settled()
    desk.session.edit(lambda c: edits.edit_callout(c, 3, "Ø21 THRU"), "bored wider")
    desk.settled()
    panel = go(desk, desk.window.against)
    assert panel.other.currentText() == "revision A" and not panel.lay.isEnabled()
    desk.click(panel.go)
    desk.wait(lambda: panel.found is not None, 60)
    lump, *more = panel.found[1].difference.lumps
    wider = math.pi * (10.5**2 - 10**2) * 24
    assert not more and lump.more and lump.volume == pytest.approx(wider, rel=0.03)
    assert lump.deep == pytest.approx(0.5, abs=0.03)
    assert "1 of ours, 1 of its" in panel.state.text(), "the bore, by the faces themselves"
    assert panel.found[1].volume == pytest.approx(ring)


def test_a_stated_size_and_centre_of_mass_are_judged(desk):
    """Typed into the title block as a drawing has them; one that is wrong is red, in words, and asked about."""
    inch(desk, "4", "2", "1", "Ø.5 THRU")
    slab(desk)
    drilled(desk, (20, 3, 25.4), 4, "1", "0")
    hole = math.pi / 16 * 1
    centre = -hole / (8 - hole)
    desk.press(desk.window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    desk.window.show_read(desk.window.title_block)
    block = desk.window.title_block
    desk.retype(block.overall, "4 x 2 x 1")
    desk.retype(block.center, f"{centre:.4f}, 0, -")
    desk.retype(block.area, f"{2 * (8 - hole) + 12 + math.pi * 0.5:.4f}")
    desk.settled()
    checks = {c.what: c.mark for c in desk.session.current.proof.stated}
    assert len(checks) == 6 and set(checks.values()) == {"in"}
    desk.retype(block.overall, "4 x 2")
    assert "Type X, Y and Z" in block._error.text() and desk.session.content.header.stated.size[0] == 4 * 25.4
    desk.retype(block.center, "-.05, 0, -")
    desk.settled()
    out = [c for c in desk.session.current.proof.stated if c.mark == "out"]
    assert [c.what for c in out] == ["centre of mass in X"]
    assert desk.session.current.proof.mass.volume == pytest.approx((8 - hole) * IN3)
