"""A small vise base in inches, by mouse and keys from its callouts: a jaw, its foot rounded, bolt holes from two edges."""

import math

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCheckBox

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch

IN3 = 25.4**3
NOTES = ("4.000", "2.500", "1.000", ".750", "1.250", "R.125", "2x Ø.406 THRU cbore Ø.625 x .375 deep", ".625", ".500",
         "2x .031 x 45°")  # fmt: skip


def tick(desk, *numbers):
    """Tick steps in the editor by their numbers on the route; one that is ticked already stays so."""
    for number in numbers:
        boxes = desk.window.route.editor.findChildren(QCheckBox)
        box = next(b for b in boxes if b.text().startswith(f"{number} ") and b.isVisible())
        if not box.isChecked():
            desk.click(box, QPoint(9, box.height() // 2))
            desk.settled()


def test_a_vise_base_by_mouse_and_keyboard(desk):
    desk.press(desk.window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)  # the drawing is in inches
    for note in NOTES:
        desk.enter(note)
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None)
    desk.enter("rect #1 x #2")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    base = done(desk)
    assert base == pytest.approx(10 * IN3)
    # The jaw stands on the top, flush with the left end.
    desk.look("T")
    desk.pick((10, 10, 25.4))
    new_sketch(desk, "extrude")
    desk.enter("rect -#1/2,-#2/2 -#1/2+#4,#2/2")
    fill(desk, Depth="#5")
    jaw = done(desk)
    assert jaw - base == pytest.approx(0.75 * 2.5 * 1.25 * IN3)
    # Its foot: the two faces are picked, then rounded where they meet.
    desk.look("I")
    desk.pick((-31.75, 0, 40))
    desk.pick((10, 10, 25.4), more=True)
    desk.enter("add: fillet")
    desk.settled()
    fill(desk, Radius="#6")
    rounded = done(desk)
    assert rounded - jaw == pytest.approx(0.125**2 * (1 - math.pi / 4) * 2.5 * IN3)
    # A bolt hole, so far from the right and the front edge of the top; its callout makes the step.
    desk.look("I")
    desk.pick((10, 10, 25.4))
    assert desk.edge_shows((50.8, 5, 25.4), {"s1/end", "s1/l2/side"})
    desk.pick((50.8, 5, 25.4), more=True)
    assert desk.edge_shows((5, -31.75, 25.4), {"s1/end", "s1/l1/side"})
    desk.pick((5, -31.75, 25.4), more=True)
    desk.choose_callout(7)
    desk.press(desk.window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    hole = desk.session.content.step(desk.session.step)
    assert hole.placement == "edges" and len(hole.edge) == 2
    fill(desk, From_the_first="#8", From_the_second="#9")
    drilled = done(desk)
    bolt = math.pi / 4 * (0.406**2 * 0.625 + 0.625**2 * 0.375)
    assert rounded - drilled == pytest.approx(bolt * IN3)
    # The mouth of its counterbore is broken, and both go to the other side.
    desk.enter("add: chamfer")
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    desk.settled()
    desk.look("T")
    x, y, r = 50.8 - 0.625 * 25.4, -31.75 + 0.5 * 25.4, 0.3125 * 25.4
    desk.pick((x - r * math.sqrt(0.5), y + r * math.sqrt(0.5), 25.4))
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    fill(desk, Size="#10")
    broken = done(desk)
    desk.enter("add: mirror")
    desk.settled()
    tick(desk, 40, 50)
    desk.choose("About", "the plane across Y")
    both = done(desk)
    assert broken - both == pytest.approx(rounded - broken, rel=1e-9)
    assert [x for x in desk.session.current.proof.lines if x.mark != "in"] == []
    assert desk.session.current.proof.unused == () and desk.session.current.proof.unexplained == ()
    assert desk.actions <= 62, desk.actions
    # Cut open through the bolt hole's axis: what is picked says where.
    desk.window.picking.faces = [desk.window.picking.index_of("s4/0/side")]
    desk.press(desk.window, Qt.Key.Key_X, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    QTest.qWait(50)
    origin, normal = desk.window.part.scene.cut
    gap = (x - origin[0]) * normal[0] + (y - origin[1]) * normal[1]
    assert gap == pytest.approx(0, abs=1e-6)
