"""A joint with two crossed pivots put together from STEP files and dragged; a bolt and its nut in mesh, in section."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from lathed_solid.core.fit.poses import placed, rotation

from .test_fit_by_hand import button, click_face, find, fit, looked, tie, words  # noqa: F401
from .test_fit_of_many import click_row, drag, seen_at


def box(low, high):
    return BRepPrimAPI_MakeBox(gp_Pnt(*map(float, low)), gp_Pnt(*map(float, high))).Shape()


def rod(radius, at, along, long):
    axes = gp_Ax2(gp_Pnt(*map(float, at)), gp_Dir(*map(float, along)))
    return BRepPrimAPI_MakeCylinder(axes, float(radius), float(long)).Shape()


def both(*shapes):
    made = shapes[0]
    for shape in shapes[1:]:
        made = BRepAlgoAPI_Fuse(made, shape).Shape()
    return made


def without(shape, *tools):
    for tool in tools:
        shape = BRepAlgoAPI_Cut(shape, tool).Shape()
    return shape


def joint():
    """A fork with two lugs across X, bored Ø8; a cross, bored along X, with trunnions Ø8 along Y; a pin, a collar."""
    fork = both(box((-18, -12, -40), (18, 12, -28)), box((-18, -9, -28), (-12, 9, 9)), box((12, -9, -28), (18, 9, 9)))
    cross = both(box((-10, -10, -7), (10, 10, 7)), rod(4, (0, -17.5, 0), (0, 1, 0), 35))
    return {
        "fork": without(fork, rod(4, (-30, 0, 0), (1, 0, 0), 60)),
        "cross": without(cross, rod(4, (-30, 0, 0), (1, 0, 0), 60)),
        "pin": rod(4, (-18, 0, 0), (1, 0, 0), 40),
        "collar": without(rod(7, (0, 0, 0), (1, 0, 0), 4), rod(4, (-1, 0, 0), (1, 0, 0), 6)),
    }  # fmt: skip


def put_in(desk, room, monkeypatch, shapes):
    paths = []
    for name, shape in shapes.items():
        writer = STEPControl_Writer()
        writer.Transfer(shape, STEPControl_StepModelType.STEPControl_AsIs)
        writer.Write(f"{name}.step")
        paths.append(str(Path(f"{name}.step").resolve()))
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: (paths, ""))
    many = len(room.document.assembly.instances)
    button(desk, room, "From files …")
    desk.wait(lambda: len(room.document.assembly.instances) == many + len(paths), 60)
    QTest.qWait(200)
    return [i.id for i in room.document.assembly.instances[many:]]


def test_a_joint_with_two_crossed_pivots_a_pin_and_a_collar(desk, fit, monkeypatch):  # noqa: F811
    fork, cross, pin, collar = put_in(desk, fit, monkeypatch, joint())
    document = fit.document

    def bore(instance, radius, x):
        return find(fit, instance, "cylinder", lambda s: s.hollow and s.center[0] * x > 0, radius=radius)

    def flat(instance, axis, at):
        """By its normal and how far out along that it lies."""
        return find(fit, instance, "plane", lambda s: np.dot(s.origin, axis) == pytest.approx(at), axis=axis)

    # Apart from each other first, by typed places, so that every face is seen.
    for name, y in ((cross, "80"), (pin, "-80"), (collar, "160")):
        click_row(desk, fit, name)
        desk.retype(fit.parts.placing.fields[1], y)

    # The cross between the lugs on its pin, a collar on the pin's end against the lug.
    lug, thick = bore(fork, 4.0, 1), find(fit, pin, "cylinder", radius=4.0)
    tie(desk, fit, (fork, lug), (cross, find(fit, cross, "cylinder", lambda s: s.hollow, radius=4.0)), "in line")
    tie(desk, fit, (fork, flat(fork, (-1, 0, 0), -12.0)), (cross, flat(cross, (1, 0, 0), 10.0)), "seated", "2")
    tie(desk, fit, (fork, lug), (pin, thick), "in line")
    tie(desk, fit, (fork, flat(fork, (-1, 0, 0), 18.0)), (pin, flat(pin, (-1, 0, 0), 18.0)), "seated")
    desk.click(fit.relations.editor.turn)
    assert words(fit, cross) == "turns about X"
    tie(desk, fit, (pin, thick), (collar, find(fit, collar, "cylinder", radius=4.0)), "in line")
    tie(desk, fit, (fork, flat(fork, (1, 0, 0), 18.0)), (collar, flat(collar, (-1, 0, 0), 0.0)), "seated")
    assert words(fit, collar) == "turns about X"
    # The other fork is one more of the first, on the trunnions.
    click_row(desk, fit, fork)
    button(desk, fit, "Another")
    other = document.instance
    trunnion = find(fit, cross, "cylinder", lambda s: s.center[1] > 5, radius=4.0)
    # A trunnion with its shoulder could be put in to the block; it is to be in line only.
    click_face(desk, fit, cross, trunnion)
    click_face(desk, fit, other, bore(other, 4.0, 1))
    offer = fit.relations.offer
    assert offer.kind.currentText() == "put in"
    offer.kind.setFocus()
    desk.press(offer.kind, Qt.Key.Key_Down)
    button(desk, fit, "Take it")
    tie(desk, fit, (cross, flat(cross, (0, 1, 0), 10.0)), (other, flat(other, (-1, 0, 0), -12.0)), "seated", "2")
    free = document.freedom(other)
    assert free.ways == 2 and "turns about" in free.words
    # The second fork hangs upside down on the first: turned round, they stand face to face.
    own = document.assembly.instance(other).pose
    if (rotation(own) @ np.array((0, 0, 1)))[2] > 0.5:
        fit.parts.placing.about.setCurrentText("about X")
        desk.retype(fit.parts.placing.angle, "180")
    assert not looked(desk, fit).overlaps
    # Dragged by its foot, it swings about both pivots, which stay crossed at one place.
    fit.view.look_from("I")
    QTest.qWait(80)
    part = document.assembly.part_of(other)
    foot = flat(other, (0, 0, -1), 40.0)
    surface = part.surface(foot)
    for shift in ((12, 9), (-12, 9), (12, -9), (-12, -9), (0, 0)):
        at = placed(document.assembly.instance(other).pose, np.add(surface.center, (*shift, 0.0)))
        start = seen_at(fit, at)
        if (fit.view.scene.hover(*fit.view.surface.pixel(start)) or ("",))[0] == other:
            break
    before = rotation(document.assembly.instance(other).pose)
    drag(fit, start, *[QPoint(5, 3)] * 8)
    after = document.assembly.instance(other).pose
    turn = math.degrees(math.acos(np.clip((np.trace(rotation(after) @ before.T) - 1) / 2, -1, 1)))
    assert turn > 3.0
    middles = [placed(document.assembly.instance(i).pose, np.zeros(3)) for i in (fork, cross, other)]
    assert all(np.linalg.norm(m - middles[0]) < 1e-6 for m in middles)
    x, y = (rotation(document.assembly.instance(i).pose)[:, 0] for i in (fork, other))
    assert abs(float(x @ y)) < 1e-9


def test_a_bolt_and_its_nut_in_mesh_are_looked_at_in_section(desk, fit, monkeypatch):  # noqa: F811
    document, shelf = fit.document, fit.shelf
    fit.tabs.setCurrentWidget(shelf)
    shelf.kind.setCurrentIndex(shelf.kind.findText("Hexagon head screw"))
    shelf.of_size.setCurrentText("M8")
    shelf.length.setCurrentText("20")
    desk.click(shelf.modelled)
    button(desk, fit, "Put it in")
    desk.wait(lambda: len(document.assembly.instances) == 1, 90)
    QTest.qWait(200)
    shelf.kind.setCurrentIndex(shelf.kind.findText("Hexagon nut"))
    shelf.of_size.setCurrentText("M8")
    button(desk, fit, "Put it in")
    desk.wait(lambda: len(document.assembly.instances) == 2, 90)
    QTest.qWait(200)
    bolt, nut = (i.id for i in document.assembly.instances)
    # So far under the head, and in line by their helical faces, which have the thread's axis.
    head = find(fit, bolt, "plane", lambda s: s.axis[2] > 0.99 and s.origin[2] < 6)
    under = find(fit, nut, "plane", lambda s: s.axis[2] < -0.99)
    tie(desk, fit, (bolt, head), (nut, under), "seated", "5")
    skins = [
        next(n for n in document.assembly.part_of(i).references if "/crest" in n or "/falling~4" in n)
        for i in (bolt, nut)
    ]
    tie(desk, fit, (bolt, skins[0]), (nut, skins[1]), "in line")
    volumes = []
    for gap in ("5", "5.3125", "5.625", "5.9375"):
        if volumes:
            table = fit.relations.table
            desk.click(table.viewport(), table.visualItemRect(table.item(0, 0)).center())
            desk.retype(fit.relations.editor.value, gap)
        volumes.append(sum(p.volume for p in looked(desk, fit).overlaps))
    # A quarter of the pitch at a time: somewhere it is free, a half pitch from there it is not.
    assert min(volumes) < 1.0 < 20.0 < max(volumes), volumes
    desk.press(desk.window, Qt.Key.Key_X, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    desk.click(fit.looks.whole)
    desk.wait(lambda: "hatch" in fit.view.scene._marks, 60)
    assert all(not there.shown.whole for there in fit.view.scene._there.values())
