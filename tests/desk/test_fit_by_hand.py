"""Assemblies put together by mouse and keys: flanges with a ring of screws and nuts, a part dragged, what is in the way."""

from __future__ import annotations

import math
import shutil
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QPushButton

from lathed_solid.core.fit.poses import placed
from lathed_solid.core.job.assembling.files import is_assembly
from lathed_solid.core.kernel.ground.topology import FACE, shape_map
from lathed_solid.core.kernel.measure.triangles import triangles

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.fixture
def fit(desk, tmp_path, monkeypatch):
    """The Fit stage, entered by its key; parts are beside the assembly in ``tmp_path``."""
    monkeypatch.chdir(tmp_path)
    desk.press(desk.window, Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier)
    desk.wait(lambda: desk.window.is_fitted and desk.window.fit.view.is_ready)
    QTest.qWait(100)
    return desk.window.fit


def button(desk, room, words):
    found = next(b for b in room.findChildren(QPushButton) if b.text() == words and b.isVisible())
    assert found.isEnabled(), words
    desk.click(found)
    QTest.qWait(30)


def put_files_in(desk, room, monkeypatch, *names):
    paths = [shutil.copy(EXAMPLES / f"{name}.lathed", ".") for name in names]
    many = len(room.document.assembly.instances)
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: ([str(Path(p).resolve()) for p in paths], ""))
    button(desk, room, "From files …")
    desk.wait(lambda: len(room.document.assembly.instances) == many + len(names), 60)
    QTest.qWait(200)


def find(room, instance, kind, where=lambda s: True, **wanted):
    """The reference of a face of an instance."""
    part = room.document.assembly.part_of(instance)
    for name, s in zip(part.references, part.surfaces, strict=True):
        if s.kind == kind and where(s) and all(np.allclose(getattr(s, k), v, atol=1e-6) for k, v in wanted.items()):
            return name
    raise AssertionError(f"no {kind} {wanted}")


def click_face(desk, room, instance, reference):
    """Click a face where it is seen, from whatever side it can be seen."""
    scene, view = room.view.scene, room.view.surface
    assembly = room.document.assembly
    index = assembly.part_of(instance).references.index(reference) + 1
    shape = scene._shapes[assembly.part_of(instance).shape]
    mesh = triangles(shape)
    assert shape_map(shape, FACE).Extent() == len(assembly.part_of(instance).references)
    # The middle of every triangle, and places near its corners: those of a bore are as long as it is.
    shares = np.array([[1, 1, 1], [8, 1, 1], [1, 8, 1], [1, 1, 8]]) / np.array([[3], [10], [10], [10]])
    points = np.einsum("sk,tkc->stc", shares, mesh.points[mesh.corners[mesh.face == index]]).reshape(-1, 3)
    places = placed(room.document.shown.instance(instance).pose, points)
    for key in ("", "I", "T", "B", "F", "K", "TLK", "BR", "BRK", "L", "R", "TL+", "BR+", "BRK+", "TRK+"):
        if key:
            room.view.look_from(key.rstrip("+"))
            if key.endswith("+"):  # closer, about the face, as with the wheel
                for _ in range(9):
                    view.zoom(*view.view.Convert(*map(float, places.mean(axis=0))), 1)
            QTest.qWait(50)
        for place in places[:: max(1, len(places) // 40)]:
            x, y = view.view.Convert(*map(float, place))
            ratio = view.devicePixelRatioF()
            at = QPoint(round(x / ratio), round(y / ratio))
            if not view.rect().adjusted(4, 4, -4, -4).contains(at) or scene.hover(*view.pixel(at)) != (instance, index):
                continue
            if room.view.childAt(view.mapToParent(at)) not in (None, view):
                continue
            QTest.mouseMove(view, at)
            desk.click(view, at)
            QTest.qWait(40)
            assert room.document.picks[-1:] and room.document.picks[-1].face == reference
            room.view.fit()
            return
    raise AssertionError(f"{reference} of {instance} is not seen from anywhere")


def tie(desk, room, one, two, kind, value=None):
    """Click two faces, take what is offered first, which must be ``kind``."""
    button_words = "Take it"
    click_face(desk, room, *one)
    click_face(desk, room, *two)
    offer = room.relations.offer
    assert offer.kind.currentText() == kind, [offer.kind.itemText(i) for i in range(offer.kind.count())]
    if value is not None:
        offer.value.setFocus()
        offer.value.selectAll()
        desk.keys(offer.value, value)
    many = len(room.document.assembly.relations)
    button(desk, room, button_words)
    assert len(room.document.assembly.relations) > many, desk.said[-1:]


def words(room, instance):
    return room.document.freedom(instance).words


def looked(desk, room):
    room.tabs.setCurrentWidget(room.checks)
    button(desk, room, "Look for what is in the way")
    desk.wait(lambda: room.checks.look.isEnabled() and room.checks.found is not None, 60)
    return room.checks.found


def test_two_flanges_with_a_ring_of_screws_and_nuts(desk, fit, monkeypatch, tmp_path):
    put_files_in(desk, fit, monkeypatch, "skp-02")
    document = fit.document
    (low,) = (i.id for i in document.assembly.instances)
    assert fit.parts.table.item(0, 1).text() == "grounded"
    button(desk, fit, "Another")
    high = document.assembly.instances[1].id
    assert words(fit, high) == "free"
    # Face to face: bore on bore, spigot on spigot, a screw hole on a screw hole.
    tie(
        desk,
        fit,
        (low, find(fit, low, "cylinder", radius=10.0)),
        (high, find(fit, high, "cylinder", radius=10.0)),
        "in line",
    )
    hub = {"origin": (0, 0, 28), "axis": (0, 0, 1)}
    tie(desk, fit, (low, find(fit, low, "plane", **hub)), (high, find(fit, high, "plane", **hub)), "seated")
    assert words(fit, high) == "turns about Z"
    hole = find(fit, low, "cylinder", radius=2.75)
    tie(desk, fit, (low, hole), (high, find(fit, high, "cylinder", radius=2.75)), "in line")
    assert words(fit, high) == "held"
    # A screw from the table goes into the hole that is picked, and then into all six.
    fit.tabs.setCurrentWidget(fit.shelf)
    click_face(desk, fit, low, hole)
    assert fit.shelf.of_size.currentText() == "M5"
    fit.shelf.length.setCurrentText("60")
    button(desk, fit, "Put it in")
    desk.wait(lambda: len(document.assembly.instances) == 3, 60)
    QTest.qWait(200)
    screw = document.assembly.instances[2].id
    assert words(fit, screw) == "turns about Z"
    assert document.assembly.instance(screw).pose.place[2] == pytest.approx(0.4, abs=1e-6)  # 5.4 deep, head 5 high
    button(desk, fit, "In every such hole")
    assert len(document.assembly.instances) == 8
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.wait(lambda: len(document.assembly.instances) == 3)
    desk.press(desk.window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    desk.wait(lambda: len(document.assembly.instances) == 8)
    # A nut before the same hole of the other flange, in its counterbore, and on all six.
    fit.tabs.setCurrentWidget(fit.shelf)
    # The screw fills the hole: it is hidden while the hole is picked.
    table = fit.parts.table
    desk.click(table.viewport(), table.visualItemRect(table.item(2, 0)).center())
    assert document.instance == screw
    button(desk, fit, "Hide")
    click_face(desk, fit, high, find(fit, high, "cylinder", radius=2.75))
    fit.shelf.kind.setCurrentIndex(fit.shelf.kind.findText("Hexagon nut"))
    assert fit.shelf.of_size.currentText() == "M5"
    button(desk, fit, "Put it in")
    desk.wait(lambda: len(document.assembly.instances) == 9, 60)
    QTest.qWait(200)
    nut = document.assembly.instances[8].id
    assert document.assembly.instance(nut).pose.place[2] in (
        pytest.approx(56 - 5.4, abs=1e-6),
        pytest.approx(56 - 0.7, abs=1e-6),
    )
    button(desk, fit, "In every such hole")
    assert len(document.assembly.instances) == 14
    found = looked(desk, fit)
    assert not found.overlaps and "Nothing overlaps" in fit.checks.state.text(), [
        (p.a, p.b, p.words, p.volume) for p in found.overlaps
    ]
    assert sum(p.state == "in thread" for p in found.pairs) == 6
    assert any("M5x0.8" in fit.checks.table.item(r, 2).text() for r in range(fit.checks.table.rowCount()))
    # Saved, and opened again as it was.
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "flanges.lathed"), ""))
    desk.press(desk.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    desk.wait(lambda: document.is_saved)
    assert is_assembly(tmp_path / "flanges.lathed")
    before = document.assembly
    assert desk.window.open_file(tmp_path / "flanges.lathed") and document.assembly == before
    assert desk.actions < 60


def test_what_is_in_the_way_is_shown_and_a_relation_that_contradicts_is_refused_by_name(desk, fit, monkeypatch):
    put_files_in(desk, fit, monkeypatch, "skp-01", "skp-02")
    document = fit.document
    arbor, flange = (i.id for i in document.assembly.instances)
    shaft = find(fit, arbor, "cylinder", radius=10.0, hollow=False)
    tie(desk, fit, (arbor, shaft), (flange, find(fit, flange, "cylinder", radius=10.0)), "in line")
    assert words(fit, flange) == "turns about Z, slides along Z"
    collar = find(fit, arbor, "plane", axis=(0, 0, -1), origin=(0, 0, 92))
    hub = find(fit, flange, "plane", axis=(0, 0, 1), origin=(0, 0, 28))
    tie(desk, fit, (arbor, collar), (flange, hub), "seated", "-0.5")
    found = looked(desk, fit)
    assert len(found.overlaps) == 1 and "0.5 mm deep" in fit.checks.table.item(0, 2).text()
    table = fit.checks.table
    desk.click(table.viewport(), table.visualItemRect(table.item(0, 0)).center())
    assert any(label.isVisible() and "0.5 mm deep" in label.text() for label in fit.view.pins._labels)
    # Out of the collar again: the seat's number is changed in its field.
    row = [r.kind for r in document.assembly.relations].index("seated")
    relations = fit.relations.table
    desk.click(relations.viewport(), relations.visualItemRect(relations.item(row, 0)).center())
    desk.retype(fit.relations.editor.value, "0.3")
    assert document.assembly.relations[row].value == "0.3"
    assert not looked(desk, fit).overlaps
    # Two other faces at a distance that cannot be: what stands against it is named, and nothing changes.
    before = document.assembly
    click_face(desk, fit, arbor, find(fit, arbor, "plane", axis=(0, 0, -1), origin=(0, 0, 0)))
    click_face(desk, fit, flange, find(fit, flange, "plane", axis=(0, 0, -1), origin=(0, 0, 0)))
    offer = fit.relations.offer
    offer.kind.setFocus()
    desk.press(offer.kind, Qt.Key.Key_Down)
    assert offer.kind.currentText() == "flush"
    offer.value.setFocus()
    offer.value.selectAll()
    desk.keys(offer.value, "2")
    assert "seated 0.3 (SKP-01 – SKP-02)" in offer.trouble.text()
    assert not offer.take.isEnabled() and document.assembly is before
    # One key takes it all the same, and loosens what stood against it, which is kept.
    button(desk, fit, "Take it, loosen one that is against it")
    loose = [r.kind for r in document.assembly.relations if r.loose]
    assert loose == ["seated"] and document.assembly.relations[-1].kind == "flush" and "seated 0.3" in desk.said[-1][0]
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.wait(lambda: document.assembly is before)


def test_a_part_is_dragged_through_what_is_free_and_the_flange_is_driven(desk, fit, monkeypatch):
    put_files_in(desk, fit, monkeypatch, "skp-01", "skp-02")
    document, view = fit.document, fit.view.surface
    arbor, flange = (i.id for i in document.assembly.instances)
    shaft = find(fit, arbor, "cylinder", radius=10.0, hollow=False)
    tie(desk, fit, (arbor, shaft), (flange, find(fit, flange, "cylinder", radius=10.0)), "in line")
    desk.press(fit.view, Qt.Key.Key_F, Qt.KeyboardModifier.ShiftModifier)
    fit.view.look_from("F")
    QTest.qWait(80)
    height = document.assembly.instance(flange).pose.place[2]
    rim = find(fit, flange, "cylinder", radius=59.0)
    mesh_at = placed(document.assembly.instance(flange).pose, np.array([0.0, -59.0, 4.5]))
    x, y = view.view.Convert(*map(float, mesh_at))
    start = QPoint(round(x), round(y))
    assert fit.view.scene.hover(*view.pixel(start)) == (
        flange,
        document.assembly.part_of(flange).references.index(rim) + 1,
    )
    QTest.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    for k in range(1, 9):
        QTest.mouseMove(view, start + QPoint(0, -8 * k), 5)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start + QPoint(0, -64))
    pose = document.assembly.instance(flange).pose
    assert pose.place[2] > height + 5 and pose.place[:2] == pytest.approx((0, 0), abs=1e-6)
    assert document.undo_words == "moved by hand"
    # A distance with a number can be driven and is measured all along.
    collar = find(fit, arbor, "plane", axis=(0, 0, -1), origin=(0, 0, 92))
    hub = find(fit, flange, "plane", axis=(0, 0, 1), origin=(0, 0, 28))
    tie(desk, fit, (arbor, collar), (flange, hub), "seated", "2")
    fit.tabs.setCurrentWidget(fit.drive)
    click_face(desk, fit, flange, rim)
    drive = fit.drive
    desk.retype(drive.start, "2")
    desk.retype(drive.end, "22")
    desk.wait(lambda: len(drive.film.frames) == 61)
    assert len(drive.film.frames) == 61 and "whole range" in drive.state.text()
    drive.measure.setCurrentText("Z of the first face")
    series = drive.series()
    assert abs(series[-1] - series[0]) == pytest.approx(20.0, abs=1e-9)
    desk.click(drive.play)
    desk.wait(lambda: drive.slider.value() > 3)
    assert document.tried is not None
    desk.click(drive.play)
    assert document.tried is None and document.assembly.relations[-1].value == "2"
    # Driven into the collar, the first moment in which it is in the way is found and shown.
    desk.retype(drive.start, "2")
    desk.retype(drive.end, "-2")
    desk.wait(lambda: bool(drive.film.frames) and drive.film.frames[-1].value == -2.0)
    button(desk, fit, "Anything in the way?")
    desk.wait(lambda: "First in the way" in drive.state.text(), 60)
    value = drive.film.frames[drive.slider.value()].value
    # The bore's chamfer meets the fillet at the collar just before the hub does.
    assert 0 < value < 0.2 and "SKP-01 – SKP-02" in drive.state.text()
    assert document.tried is not None
    assert math.isfinite(series[0])
