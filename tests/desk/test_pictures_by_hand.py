"""Pictures by mouse and keys: a finish said, a still taken and saved, broken off, turned round, of an assembly."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QMenu

from lathed_solid.core.job import edits

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.fixture
def opened(desk, tmp_path, monkeypatch):
    """The bracket in Shape, built and proved."""
    monkeypatch.chdir(tmp_path)
    desk.window.session.open(EXAMPLES / "skp-07.lathed")
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    desk.wait(lambda: desk.session.current.proof is not None, 60)
    return desk


@pytest.fixture
def chosen(monkeypatch):
    """Menus take the entry whose words are wanted, as a click on it would."""
    wanted: list[str] = []

    def through(menu, *_):
        for words in wanted:
            action = next(a for a in menu.actions() if a.text() == words)
            if action.menu() is not None:
                menu = action.menu()
            else:
                action.trigger()

    monkeypatch.setattr(QMenu, "exec", through)
    return wanted


def _picture_window(desk):
    """Opened by its button in Issue; the first try has come."""
    desk.press(desk.window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    desk.click(desk.window.issue.side.picture)
    window = desk.window._pictures
    desk.wait(lambda: not window.shown.pixels.isNull(), 60)
    return window


def _typed(desk, box, text):
    line = box.lineEdit()
    line.selectAll()
    desk.keys(line, text)


def test_a_finish_is_said_and_a_still_is_taken_and_saved(opened, chosen, tmp_path, monkeypatch):
    desk = opened
    chosen[:] = ["Finish", "anodised"]
    desk.enter("Body: name, colour, material, finish")
    desk.wait(lambda: desk.session.content.bodies and desk.session.content.bodies[0].finish == "anodised")
    desk.settled()
    top = max(
        (s for s in desk.session.current.built.surfaces if s.kind == "plane" and s.axis[2] > 0.9), key=lambda s: s.area
    )
    desk.look("T")
    desk.pick(top.center)
    assert desk.window.picking.faces, "the middle of the top is picked"
    chosen[:] = ["Finish", "polished"]
    desk.enter("Picked faces: finish and colour")
    desk.settled()
    (look,) = desk.session.content.faces
    assert look.finish == "polished"
    assert top.index in desk.window.part.scene.coats.faces or len(desk.window.part.scene.coats.faces) == 1
    window = _picture_window(desk)
    settings = window.settings
    assert settings.shot().height > 60  # as it is looked at: from above
    desk.retype(settings.above, "30")
    desk.retype(settings.turn, "40")
    settings.light.setFocus()
    desk.keys(settings.light, "two")
    assert settings.shot().light == "two lamps"
    settings.quality.setFocus()
    desk.keys(settings.quality, "draft")
    _typed(desk, settings.pixels, "200 x 150")
    desk.click(window.take)
    desk.wait(lambda: window.save.isEnabled(), 60)
    assert window.shown.pixels.width() == 200
    target = tmp_path / "still.jpg"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    desk.click(window.save)
    desk.wait(lambda: "Wrote still.jpg" in window.told.text())
    with Image.open(target) as read:
        assert read.size == (200, 150) and read.format == "JPEG"
        assert np.asarray(read, float).std() > 8  # there is something to be seen
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "still.bmp"), ""))
    desk.click(window.save)
    desk.wait(lambda: ".png" in window.told.text())
    assert not (tmp_path / "still.bmp").exists()


def test_a_look_whose_face_is_gone_is_told_and_comes_back_with_the_face(desk, chosen):
    desk.open_example("skp-02")
    content = desk.session.content
    bore = next(s for s in content.steps if s.name == "Bore")
    built = desk.session.current.built
    index = next(s.index for s in built.surfaces if s.kind == "cylinder" and s.radius == 10.0)
    desk.window.picking.on_face(index, False)
    chosen[:] = ["Finish", "polished"]
    desk.enter("Picked faces: finish and colour")
    desk.settled()
    scene = desk.window.part.scene
    assert index in scene.coats.faces and scene.coats.lost == ()
    desk.session.edit(lambda c: edits.change_step(c, bore.id, suppressed=True), "no bore")
    desk.settled()
    assert any("has no face any more" in text and tone == "warn" for text, tone in desk.said)
    assert scene.coats.lost and desk.session.content.faces, "what was said is kept"
    desk.session.undo()
    desk.settled()
    assert len(scene.coats.faces) == 1 and scene.coats.lost == ()


def test_a_picture_is_broken_off_and_a_wrong_size_is_told(opened):
    desk = opened
    window = _picture_window(desk)
    _typed(desk, window.settings.pixels, "huge")
    desk.click(window.take)
    assert "no size" in window.told.text() and window.take.isEnabled()
    _typed(desk, window.settings.pixels, "1200 x 900")
    desk.click(window.take)
    desk.wait(lambda: window.bar.isVisible() and window.bar.value() > 0, 60)
    desk.click(window.stop)
    assert "Stopped" in window.told.text() and not window.save.isEnabled() and window.take.isEnabled()
    QTest.qWait(300)
    assert not any(tone == "bad" for _, tone in desk.said)
    desk.press(window, Qt.Key.Key_Escape)
    assert not window.isVisible()


def test_a_turn_round_is_written_as_a_moving_picture(opened, tmp_path, monkeypatch):
    desk = opened
    window = _picture_window(desk)
    window.settings.quality.setFocus()
    desk.keys(window.settings.quality, "draft")
    _typed(desk, window.settings.pixels, "80 x 64")
    target = tmp_path / "round.gif"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    desk.click(window.round)
    desk.wait(target.exists, 60)
    desk.wait(lambda: "Wrote round.gif" in window.told.text())
    with Image.open(target) as moving:
        assert moving.n_frames == 36


def test_an_assembly_pulled_apart_is_pictured_and_its_parts_are_laid_out(desk, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    desk.window.open_file(EXAMPLES / "skp-00.lathed")
    fit = desk.window.fit
    desk.wait(lambda: bool(fit.document.assembly.instances), 60)
    fit.looks.apart.setValue(60)
    fit.tabs.setCurrentWidget(fit.bill)
    desk.click(fit.bill.picture)
    window = desk.window._pictures
    desk.wait(lambda: not window.shown.pixels.isNull(), 60)
    assert window.settings.shot().apart == 0.6 and window.settings.apart.isVisible()
    window.settings.quality.setFocus()
    desk.keys(window.settings.quality, "draft")
    _typed(desk, window.settings.pixels, "120 x 90")
    target = tmp_path / "parts.png"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    desk.click(window.parts)
    desk.wait(target.exists, 60)
    with Image.open(target) as read:
        assert read.width == 4 * 144 + 24
