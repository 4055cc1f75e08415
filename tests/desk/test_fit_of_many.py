"""Many parts at once, by mouse and keys: chosen together, put to typed places, in rings, mirrored, limited, in stacks."""

from __future__ import annotations

import math

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from lathed_solid.core.fit.poses import placed, rotation

from .test_fit_by_hand import button, click_face, find, fit, looked, put_files_in, tie, words  # noqa: F401
from .test_fit_of_strangers import put_in


def row_of(room, instance):
    return [i.id for i in room.document.assembly.instances].index(instance)


def click_row(desk, room, instance, *held):
    table = room.parts.table
    item = table.item(row_of(room, instance), 0)
    table.scrollToItem(item)
    how = Qt.KeyboardModifier.ControlModifier if held else Qt.KeyboardModifier.NoModifier
    QTest.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, how, table.visualItemRect(item).center())
    QTest.qWait(30)


def drag(room, start, *steps):
    """Press at a place of the view, move by steps, let go."""
    surface, at = room.view.surface, start
    QTest.mousePress(surface, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    for step in steps:
        at = at + step
        QTest.mouseMove(surface, at, 5)
        QTest.qWait(10)
    QTest.mouseRelease(surface, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    QTest.qWait(30)


def seen_at(room, point):
    x, y = room.view.surface.view.Convert(*map(float, point))
    return QPoint(round(x), round(y))


def test_inch_bars_are_chosen_together_copied_and_put_to_typed_places(desk, fit, monkeypatch):  # noqa: F811
    (bar,) = put_in(desk, fit, monkeypatch, "inch_clamp_bar")
    document, placing = fit.document, fit.parts.placing
    desk.click(desk.window.rail.unit)
    desk.wait(lambda: document.assembly.unit == "in")
    button(desk, fit, "Another")
    other = document.assembly.instances[1].id
    assert document.chosen == (other,)
    desk.retype(placing.fields[0], "6")
    desk.retype(placing.fields[2], "1/2 + 10 mm")
    assert document.assembly.instance(other).pose.place == pytest.approx((152.4, 0.0, 22.7), abs=1e-9)
    # Turned about Z by 30 degrees through its own zero, which stays.
    desk.retype(placing.angle, "30")
    turn = rotation(document.assembly.instance(other).pose)
    assert turn[:, 0] == pytest.approx((math.cos(math.pi / 6), 0.5, 0.0), abs=1e-9)
    assert document.assembly.instance(other).pose.place == pytest.approx((152.4, 0.0, 22.7), abs=1e-9)
    # Both at once, by Ctrl: copied as they stand to each other, taken out together, and back again.
    before = document.assembly
    click_row(desk, fit, bar)
    click_row(desk, fit, other, "ctrl")
    assert document.chosen == (other, bar) and "2 parts" in _bill(fit)
    button(desk, fit, "Another")
    assert len(document.assembly.instances) == 4 and len(document.chosen) == 2
    one, two = (document.assembly.instance(i).pose for i in document.chosen)
    away = np.subtract(*(document.assembly.instance(i).pose.place for i in (other, bar)))
    assert abs(np.linalg.norm(np.subtract(two.place, one.place)) - np.linalg.norm(away)) < 1e-9
    button(desk, fit, "Take out")
    assert document.assembly.instances == before.instances
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.wait(lambda: len(document.assembly.instances) == 4)
    # What is grounded stays, and says so.
    click_row(desk, fit, bar)
    desk.retype(placing.fields[1], "3")
    assert document.assembly.instance(bar).pose.place[1] == 0.0 and "grounded" in desk.said[-1][0]
    assert desk.actions < 40


def _bill(room):
    room.tabs.setCurrentWidget(room.bill)
    return room.bill.total.text()


def test_a_ring_of_studs_goes_about_a_bore_and_a_mirrored_link_stands_across_a_flat(desk, fit, monkeypatch):  # noqa: F811
    cover, stud, link = put_in(desk, fit, monkeypatch, "bolt_ring_cover", "hexagon_stud", "round_ended_link")
    document, copies = fit.document, fit.copies
    fit.tabs.setCurrentWidget(copies)
    click_row(desk, fit, stud)
    button(desk, fit, "This part")
    bore = find(fit, cover, "cylinder", radius=20.0, hollow=True)
    click_face(desk, fit, cover, bore)
    desk.retype(copies.many, "5")
    (ring,) = document.assembly.repeats
    assert len(ring.made) == 4 and copies.table.item(0, 2).text() == "5"
    axis = placed(
        document.assembly.instance(cover).pose, np.array(document.assembly.part_of(cover).surface(bore).origin)
    )
    places = [np.subtract(document.assembly.instance(i).pose.place, axis)[:2] for i in (stud, *ring.made)]
    angles = [math.degrees(math.atan2(p[1], p[0])) for p in places]
    assert np.allclose(np.diff(np.unwrap(np.radians(angles))), math.radians(72)), angles
    # The number is changed in its field, one is taken out, and the others go their own way.
    desk.click(copies.table.viewport(), copies.table.visualItemRect(copies.table.item(0, 0)).center())
    assert len(document.chosen) == 5
    copies.many.setFocus()
    copies.many.selectAll()
    desk.keys(copies.many, "4")
    button(desk, fit, "Change")
    assert len(document.assembly.repeats[0].made) == 3
    click_row(desk, fit, document.assembly.repeats[0].made[1])
    button(desk, fit, "Take out")
    assert document.assembly.repeats[0].made[1] == ""
    # The link's other hand, across the cover's largest flat.
    click_row(desk, fit, link)
    copies.kind.setCurrentText("mirror copy")
    button(desk, fit, "This part")
    part = document.assembly.part_of(cover)
    top = max((s for s in part.surfaces if s.kind == "plane" and s.axis[2] > 0.99), key=lambda s: s.area)
    click_face(desk, fit, cover, part.references[top.index - 1])
    many = len(document.assembly.instances)
    button(desk, fit, "Make")
    desk.wait(lambda: len(document.assembly.instances) == many + 1, 60)
    mirrored = document.assembly.instances[-1]
    assert document.assembly.called(mirrored.id).endswith("other hand")
    level = placed(document.assembly.instance(cover).pose, np.array(top.origin))[2]
    low, high = (
        placed(document.assembly.instance(link).pose, np.array(c))[2] for c in document.assembly.part_of(link).box
    )
    its = sorted(placed(mirrored.pose, np.array(c))[2] for c in document.assembly.part_of(mirrored.id).box)
    assert its == pytest.approx(sorted((2 * level - high, 2 * level - low)), abs=1e-6)
    assert "other hand" in fit.bill.table.item(fit.bill.table.rowCount() - 1, 2).text()
    assert desk.actions < 45


def test_a_link_is_limited_dragged_to_its_stop_and_shown_moving(desk, fit, monkeypatch):  # noqa: F811
    (lever,) = put_in(desk, fit, monkeypatch, "round_ended_link")
    document = fit.document
    button(desk, fit, "Another")
    other = document.assembly.instances[1].id
    part = document.assembly.part_of(lever)
    hole = find(fit, lever, "cylinder", radius=5.0, hollow=True)
    up, down = (find(fit, lever, "plane", lambda s, z=z: s.axis[2] * z > 0.99) for z in (1, -1))
    tie(desk, fit, (lever, hole), (other, hole), "in line")
    tie(desk, fit, (lever, up), (other, down), "seated")
    side = next(
        n for n, s in zip(part.references, part.surfaces, strict=True) if s.kind == "plane" and abs(s.axis[2]) < 1e-6
    )
    click_face(desk, fit, lever, side)
    click_face(desk, fit, other, side)
    offer = fit.relations.offer
    offer.kind.setCurrentText("angle")
    offer.kind.activated.emit(offer.kind.currentIndex())
    now = float(offer.value.text())
    button(desk, fit, "Take it")
    assert words(fit, other) == "held" and document.assembly.relations[-1].kind == "angle"
    editor = fit.relations.editor
    editor.low.setText(f"{now - 20:g}")
    desk.retype(editor.high, f"{now + 38:g}")
    stop = document.assembly.relations[-1]
    assert stop.is_stop and words(fit, other) == "turns about Z"
    assert "to" in fit.relations.table.item(fit.relations.table.rowCount() - 1, 0).text()
    # Dragged far beyond, it stands at its stop.
    fit.view.look_from("T")
    QTest.qWait(80)
    pivot = placed(document.assembly.instance(lever).pose, np.array(part.surface(hole).origin))
    own, box = document.assembly.instance(other).pose, np.array(part.box)
    ends = [placed(own, np.array([x, box[:, 1].mean(), box[1, 2]])) for x in (box[0, 0] + 3, box[1, 0] - 3)]
    far = max(ends, key=lambda e: np.linalg.norm((e - pivot)[:2]))
    start, middle = seen_at(fit, far), seen_at(fit, pivot)
    arm = start - middle
    fit.tabs.setCurrentWidget(fit.checks)
    desk.click(fit.checks.always)
    turned = []
    for way in (1, -1):
        steps, last = [], start
        for k in range(1, 25):
            a = way * math.radians(5 * k)
            to = middle + QPoint(
                round(arm.x() * math.cos(a) - arm.y() * math.sin(a)),
                round(arm.x() * math.sin(a) + arm.y() * math.cos(a)),
            )
            steps.append(to - last)
            last = to
        before = rotation(document.assembly.instance(other).pose)
        drag(fit, start, *steps)
        after = rotation(document.assembly.instance(other).pose)
        turned.append(math.degrees(math.atan2((after @ before.T)[1, 0], (after @ before.T)[0, 0])))
        desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        QTest.qWait(50)
    assert sorted(abs(t) for t in turned) == pytest.approx([20, 38], abs=0.01), turned
    # What it can do is shown: from stop to stop, and nothing is changed by it.
    kept = document.assembly
    click_row(desk, fit, other)
    button(desk, fit, "Show how it moves")
    desk.wait(lambda: document.tried is not None, 60)
    desk.wait(lambda: document.tried is None, 60)
    assert document.assembly is kept


def test_what_a_dragged_part_runs_into_is_told_on_its_way(desk, fit, monkeypatch):  # noqa: F811
    put_files_in(desk, fit, monkeypatch, "skp-01", "skp-02")
    document = fit.document
    arbor, flange = (i.id for i in document.assembly.instances)
    shaft = find(fit, arbor, "cylinder", radius=10.0, hollow=False)
    tie(desk, fit, (arbor, shaft), (flange, find(fit, flange, "cylinder", radius=10.0)), "in line")
    fit.tabs.setCurrentWidget(fit.checks)
    desk.click(fit.checks.always)
    fit.view.look_from("F")
    QTest.qWait(80)
    rim = placed(document.assembly.instance(flange).pose, np.array([0.0, -59.0, 4.5]))
    start = seen_at(fit, rim)
    surface, told = fit.view.surface, set()
    QTest.mousePress(surface, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    for k in range(1, 60):
        QTest.mouseMove(surface, start + QPoint(0, -4 * k), 5)
        QTest.qWait(60)
        told.add(fit.checks.state.text())
        if any("SKP-01 – SKP-02" in t for t in told):
            break
    QTest.mouseRelease(surface, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    assert any(t.startswith("In the way here: SKP-01 – SKP-02") for t in told), told


def test_an_assembly_is_put_into_another_weighed_stacked_and_taken_apart(desk, fit, monkeypatch):  # noqa: F811
    put_files_in(desk, fit, monkeypatch, "skp-03", "skp-00")
    document = fit.document
    plate, drum = (i.id for i in document.assembly.instances)
    # Its parts' files are not beside it: it is the snapshots that are put in.
    bill = fit.bill.table
    numbers = [bill.item(r, 0).text() for r in range(bill.rowCount())]
    assert numbers[:3] == ["1", "2", "2.1"] and bill.rowCount() == 2 + 8
    assert document.assembly.part_of(drum).members and words(fit, drum) == "free"
    # It stands on the plate as one piece, by faces of the parts in it.
    top = find(fit, plate, "plane", lambda s: s.axis[2] > 0.99 and s.area > 5000)
    ring = find(fit, drum, "plane", lambda s: s.axis[2] < -0.99 and 300 < s.area < 700)
    tie(desk, fit, (plate, top), (drum, ring), "seated")
    fit.tabs.setCurrentWidget(fit.chain)
    under = find(fit, plate, "plane", lambda s: s.axis[2] < -0.99 and s.area > 5000)
    click_face(desk, fit, plate, under)
    click_face(desk, fit, drum, find(fit, drum, "plane", lambda s: s.axis[2] > 0.99 and 300 < s.area < 700))
    desk.wait(lambda: fit.chain.found is not None)
    assert "worst case" in fit.chain.words.text() and fit.chain.table.rowCount() >= 2
    before = document.assembly
    click_row(desk, fit, drum)
    fit.parts.apart_wanted.emit()
    assert len(document.assembly.instances) == 32, desk.said[-1:]
    seated = next(r for r in document.assembly.relations if plate in (r.a.instance, r.b.instance))
    assert document.assembly.called(seated.b.instance) == "ISO 15 6001"
    desk.press(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    desk.wait(lambda: document.assembly is before)
    # Cut open, every part is hatched.
    desk.press(desk.window, Qt.Key.Key_X, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    desk.wait(lambda: "hatch" in fit.view.scene._marks, 60)
    desk.press(desk.window, Qt.Key.Key_X, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert "hatch" not in fit.view.scene._marks
