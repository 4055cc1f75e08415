"""Three more parts nobody had built here, by mouse and keys to what leaves the workshop: a stepped pulley drawn with its
diameters across and rendered, an inch gusset cut out of plate, a clevis cut open in a picture.
"""

from __future__ import annotations

import math
import os

import ezdxf
import ezdxf.bbox
import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QInputDialog

from lathed_solid.core.drafting.sheet.scene import Sized

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_families_of_strangers import drilled
from .test_issued_strangers_by_hand import sheet_of
from .test_pictures_by_hand import _picture_window, _typed, chosen
from .test_steps_from_callouts import step_of
from .test_strangers_by_hand import IN3, all_in, inch

__all__ = ["chosen"]


def still(desk, tmp_path, monkeypatch, name, **settings):
    """A small picture taken and saved; it is read back."""
    window = _picture_window(desk)
    for field, words in settings.items():
        box = getattr(window.settings, field)
        box.setFocus()
        desk.keys(box, words)
    window.settings.quality.setFocus()
    desk.keys(window.settings.quality, "draft")
    _typed(desk, window.settings.pixels, "320 x 240")
    desk.click(window.take)
    desk.wait(lambda: window.save.isEnabled(), 60)
    target = tmp_path / f"{name}.png"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    desk.click(window.save)
    desk.wait(target.exists)
    if folder := os.environ.get("PICTURES"):
        window.grab().save(f"{folder}/{name}-picture.png")
    with Image.open(target) as read:
        return read.convert("RGB").copy()


def test_a_stepped_pulley_is_drawn_and_pictured(desk, chosen, tmp_path, monkeypatch):
    for note in ("Ø60", "8", "Ø44", "20", "Ø25", "36", "Ø12 H7 THRU"):
        desk.enter(note)
    desk.enter("add: turned")
    for row, column, text in ((0, 1, "#2"), (0, 2, "#1"), (1, 0, "#4"), (1, 2, "#3"), (2, 0, "#6"), (2, 2, "#5")):
        desk.cell(row, column, text)
    blank = done(desk)
    assert blank == pytest.approx(math.pi * (900 * 8 + 484 * 12 + 156.25 * 16))
    desk.look("L")
    desk.pick((20, 2, 0))
    step_of(desk, 7)
    desk.choose("Where", "on the face's axis")
    assert blank - done(desk) == pytest.approx(math.pi * 36 * 36)
    all_in(desk)
    room = sheet_of(desk, "pulley")
    across = {m.text for m in room.drawing.composed.scene.marks if isinstance(m, Sized) and m.text.startswith("Ø")}
    assert across == {"Ø60", "Ø44", "Ø25"}
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    chosen[:] = ["Finish", "anodised"]
    desk.enter("Body: name, colour, material, finish")
    desk.settled()
    assert desk.session.content.bodies[0].finish == "anodised"
    still(desk, tmp_path, monkeypatch, "pulley", light="dark")
    print("pulley", desk.actions)


def test_an_inch_gusset_is_cut_out_of_plate(desk, tmp_path, monkeypatch):
    inch(desk, "3.000", "2.000", ".250", "Ø.375 THRU", "1.000")
    volume = slab(desk)
    assert volume == pytest.approx(3 * 2 * 0.25 * IN3)
    desk.look("T")
    drilled(desk, (20, 15, 6.35), 4, "#5")
    all_in(desk)
    desk.look("T")
    desk.pick((-20, -15, 6.35))
    assert desk.window.picking.faces
    target = tmp_path / "gusset.dxf"
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: (".010", True))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    desk.enter("Write the outline of a face or section as DXF, for cutting")
    desk.wait(target.exists, 60)
    desk.wait(lambda: any("gusset.dxf" in text for text, _ in desk.said))
    document = ezdxf.readfile(target)
    (hole,) = document.modelspace().query("CIRCLE")
    assert hole.dxf.radius == pytest.approx(0.1875 - 0.005) and hole.dxf.layer == "HOLES"
    box = ezdxf.bbox.extents(document.modelspace())
    assert (box.size.x, box.size.y) == pytest.approx((3.01, 2.01))
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: (".5", True))
    target.unlink()
    desk.enter("Write the outline of a face or section as DXF, for cutting")
    desk.wait(lambda: desk.said[-1][1] == "bad", 60)
    assert "kerf" in desk.said[-1][0] and not target.exists()
    print("gusset", desk.actions)


def test_a_clevis_is_cut_open_in_its_picture(desk, tmp_path, monkeypatch):
    for note in ("40", "30", "25", "12", "18", "Ø8 H7 THRU", "16"):
        desk.enter(note)
    block = slab(desk)
    desk.look("T")
    desk.pick((15, 10, 25))
    new_sketch(desk, "extrude")
    desk.enter("rect #4 x 30 at 0,0")
    desk.choose("Material", "cut away")
    desk.choose("How far", "to a depth")
    fill(desk, Depth="#5")
    forked = done(desk)
    assert block - forked == pytest.approx(12 * 30 * 18)
    desk.look("R")
    desk.pick((20, 5, 15))
    step_of(desk, 6)
    desk.choose("Where", "at a point of the face")
    desk.settled()
    fill(desk, X="0", Y="#7")
    done(desk)
    all_in(desk)
    picture = still(desk, tmp_path, monkeypatch, "clevis", cut="the near")
    colors = picture.getcolors(picture.width * picture.height)
    tan = sum(n for n, (r, _, b) in colors if r > 1.25 * b and r > 90)
    assert tan > 400, "the cut faces are seen"
    print("clevis", desk.actions)
