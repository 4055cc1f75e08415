"""Parts nobody put together before: a cover with its screws on a spindle, an inch bar on top, two levers on a pin."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from lathed_solid.core.fit.holes import such_holes
from lathed_solid.core.fit.poses import placed
from lathed_solid.core.job.model import Job
from lathed_solid.core.job.settle import settle
from lathed_solid.core.job.storage import save
from tests.core.strangers.test_strangers import PARTS

from .test_fit_by_hand import button, click_face, find, fit, looked, tie, words  # noqa: F401


def put_in(desk, room, monkeypatch, *names):
    for name in names:
        save(Job(content=settle(PARTS[name]()[0].content).content), Path(f"{name}.lathed"))
    many = len(room.document.assembly.instances)
    paths = [str(Path(f"{n}.lathed").resolve()) for n in names]
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: (paths, ""))
    button(desk, room, "From files …")
    desk.wait(lambda: len(room.document.assembly.instances) == many + len(names), 60)
    QTest.qWait(200)
    return [i.id for i in room.document.assembly.instances[many:]]


def test_a_cover_on_its_spindle_with_six_screws_and_an_inch_bar(desk, fit, monkeypatch):  # noqa: F811
    cover, spindle, bar = put_in(desk, fit, monkeypatch, "bolt_ring_cover", "fitted_spindle", "inch_clamp_bar")
    document = fit.document
    bore = find(fit, cover, "cylinder", radius=20.0, hollow=True)
    tie(desk, fit, (cover, bore), (spindle, find(fit, spindle, "cylinder", radius=20.0, hollow=False)), "in line")
    assert words(fit, spindle) == "turns about Z, slides along Z"
    fit.tabs.setCurrentWidget(fit.shelf)
    for one in such_holes(document.assembly.part_of(cover), find(fit, cover, "cylinder", radius=3.3)):
        try:
            click_face(desk, fit, cover, one)
            break
        except AssertionError:  # hidden by the spindle: any of the six will do
            continue
    assert fit.shelf.of_size.currentText() == "M6"
    button(desk, fit, "Put it in")
    desk.wait(lambda: len(document.assembly.instances) == 4, 60)
    QTest.qWait(200)
    button(desk, fit, "In every such hole")
    caps = [i for i in document.assembly.instances if document.assembly.called(i.id).startswith("ISO 4762 M6x16")]
    assert len(caps) == 6
    radii = {round(math.hypot(*i.pose.place[:2]), 6) for i in caps}
    assert radii == {35.0}
    # The bar lies on the cover; its distance is said in inches in an assembly that is in millimetres.
    part = document.assembly.part_of(cover)
    top = max((s for s in part.surfaces if s.kind == "plane" and abs(s.axis[2]) > 0.99), key=lambda s: s.area)
    face = part.references[top.index - 1]
    slab = document.assembly.part_of(bar)
    flat = max((s for s in slab.surfaces if s.kind == "plane"), key=lambda s: s.area)
    tie(desk, fit, (cover, face), (bar, slab.references[flat.index - 1]), "seated", "1/4 in")
    assert words(fit, bar) == "turns about Z, slides in a plane square to Z"
    across = np.subtract(placed(document.assembly.instance(bar).pose, np.array(flat.origin)), top.origin) @ np.array(
        top.axis
    )
    assert across == pytest.approx(6.35, abs=1e-9)
    fit.tabs.setCurrentWidget(fit.fits)
    told = [fit.fits.table.item(r, 0).text() for r in range(fit.fits.table.rowCount())]
    assert any("Ø40" in text for text in told)
    found = looked(desk, fit)
    assert not [p for p in found.overlaps if bar not in (p.a, p.b) and spindle not in (p.a, p.b)]


def test_two_levers_turn_on_a_pin_and_are_dragged(desk, fit, monkeypatch):  # noqa: F811
    (lever,) = put_in(desk, fit, monkeypatch, "round_ended_link")
    document = fit.document
    button(desk, fit, "Another")
    other = document.assembly.instances[1].id
    hole = find(fit, lever, "cylinder", radius=5.0, hollow=True)
    part = document.assembly.part_of(lever)
    up = next(part.references[s.index - 1] for s in part.surfaces if s.kind == "plane" and s.axis[2] > 0.99)
    down = next(part.references[s.index - 1] for s in part.surfaces if s.kind == "plane" and s.axis[2] < -0.99)
    tie(desk, fit, (lever, hole), (other, hole), "in line")
    # The second relation is taken with Return, the view being in hand; Escape lets go of what is picked.
    click_face(desk, fit, lever, up)
    click_face(desk, fit, other, down)
    assert fit.relations.offer.kind.currentText() == "seated"
    desk.press(fit.view, Qt.Key.Key_Return)
    click_face(desk, fit, other, up)
    desk.press(fit.view, Qt.Key.Key_Escape)
    assert not document.picks and [r.kind for r in document.assembly.relations] == ["in line", "seated"]
    assert words(fit, other) == "turns about Z"
    # A pin from the table goes through both.
    fit.tabs.setCurrentWidget(fit.shelf)
    click_face(desk, fit, other, hole)
    fit.shelf.kind.setCurrentIndex(fit.shelf.kind.findText("Parallel pin"))
    assert fit.shelf.of_size.currentText() == "10"
    button(desk, fit, "Put it in")
    desk.wait(lambda: len(document.assembly.instances) == 3, 60)
    QTest.qWait(200)
    assert words(fit, document.assembly.instances[2].id) == "turns about Z, slides along Z"
    # Dragged by its far end, seen from above, it turns about the pin and stays on the lever.
    fit.view.look_from("T")
    QTest.qWait(80)
    axis = placed(document.assembly.instance(lever).pose, np.array(part.surface(hole).origin))
    surface = fit.view.surface
    own = document.assembly.instance(other)
    box = np.array(part.box)
    ends = [placed(own.pose, np.array([x, box[:, 1].mean(), box[1, 2]])) for x in (box[0, 0] + 3, box[1, 0] - 3)]
    far = max(ends, key=lambda e: np.linalg.norm((e - axis)[:2]))
    x, y = surface.view.Convert(*map(float, far))
    start = QPoint(round(x), round(y))
    assert fit.view.scene.hover(*surface.pixel(start))[0] == other
    before = document.assembly.instance(other).pose
    QTest.mousePress(surface, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    for k in range(1, 13):
        QTest.mouseMove(surface, start + QPoint(-2 * k, 5 * k), 5)
    QTest.mouseRelease(surface, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start + QPoint(-24, 60))
    after = document.assembly.instance(other).pose
    assert abs(np.dot(before.turn, after.turn)) < 0.999
    assert placed(after, np.array(part.surface(hole).origin))[:2] == pytest.approx(axis[:2], abs=1e-6)
    assert after.place[2] == pytest.approx(before.place[2], abs=1e-6)
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.wait(lambda: document.assembly.instance(other).pose == before)
