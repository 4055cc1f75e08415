"""The part view worked by mouse: standing, corners, sections, what lies behind, two picks, a depth that is pulled."""

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox, QLineEdit, QSlider, QWidget

from lathed_solid.core.job import edits

from .test_bracket_by_hand import done, fill


def over(desk, name, kind=QWidget):
    """A field of the section's bar."""
    return next(w for w in desk.window.section.bar.findChildren(kind) if w.accessibleName() == name)


def new_block(desk, outline, depth):
    desk.enter("add: extrude")
    desk.wait(lambda: desk.window.plate.sketch is not None)
    desk.enter(outline)
    desk.choose("Direction", "forward")
    fill(desk, Depth=depth)
    return done(desk)


@pytest.fixture
def block(desk):
    """60 x 40 x 20 with two bores through its top."""
    new_block(desk, "rect 60 x 40 at 30,20", "20")
    for x in ("15", "45"):
        desk.look("T")
        desk.pick((30, 5, 20))
        desk.enter("add: hole")
        desk.settled()
        desk.choose("Where", "at a point of the face")
        fill(desk, X=x, Y="20", Drill_Ø="8")
        done(desk)
    return desk


def test_a_milled_part_stands_and_is_seen_from_its_corners(block):
    view, surface = block.window.part, block.window.part.surface
    assert view.standing == "z"
    block.look("T")
    assert surface.view.Camera().Direction().Z() == pytest.approx(-1)
    block.look("TR")
    first = surface.view.Camera().Direction()
    assert (round(first.X(), 2), round(first.Y(), 2), round(first.Z(), 2)) == (-0.58, 0.58, -0.58)
    block.look("TR")
    assert surface.view.Camera().Direction().Y() == pytest.approx(-first.Y(), abs=1e-6), "again: from behind"
    block.look("up")
    assert view.standing == "y" and block.said[-1][0].startswith("Y is up")
    block.look("T")
    assert surface.view.Camera().Direction().Y() == pytest.approx(-1)
    assert "step changed" in block.session.current.history.undo_words, "how it stands is no edit"


def test_the_section_is_told_dragged_and_hides_what_it_cut_away(block):
    window, scene = block.window, block.window.part.scene
    block.look("I")
    whole = hit(block, (30, 0, 10))
    assert whole == "s1/l1/side"
    block.press(window, Qt.Key.Key_X, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    QTest.qWait(50)
    # Zero lies in the part's own side: the section goes through the middle, and takes away what is in front.
    assert scene.cut[0][1] == pytest.approx(20) and scene.cut[1][1] == pytest.approx(-1)
    block.retype(over(block, "Section at", QLineEdit), "19")
    assert scene.cut[0][1] == pytest.approx(19)
    block.wait(lambda: "hatch" in scene._extra)
    assert hit(block, (30, 0, 10)) != "s1/l1/side", "the half cut away is not picked"
    assert hit(block, (30, 19, 10)) is None, "the cut itself is no face"
    flip = next(b for b in window.section.bar.findChildren(QWidget) if getattr(b, "text", str)() == "Other side")
    block.click(flip)
    assert hit(block, (30, 0, 10)) == whole
    block.click(flip)
    slider = over(block, "Move the section", QSlider)
    slider.setValue(slider.maximum())
    assert scene.cut[0][1] == pytest.approx(40, abs=1e-6)
    before = scene.cut[0][1]
    drag(block, (30, 40, 20), (0, 40), Qt.KeyboardModifier.ShiftModifier)
    assert scene.cut[0][1] != before
    through = over(block, "Section through", QComboBox)
    window.picking.faces = [window.picking.index_of("s2/0/side")]
    through.setCurrentIndex(through.findData("picked"))
    through.activated.emit(through.currentIndex())
    origin, normal = scene.cut
    assert (origin[0], origin[1]) == pytest.approx((15, 20)) and normal[2] == pytest.approx(0, abs=1e-9)
    block.press(window, Qt.Key.Key_X, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert scene.cut is None and not window.section.bar.isVisible()


def test_what_lies_behind_is_picked_and_two_picks_tell_how_they_lie(block):
    window = block.window
    block.look("T")
    block.enter("hidden edges")
    block.look("I")
    assert block.edge_shows((0, 20, 0), {"s1/start", "s1/l4/side"}), "a hidden edge can be taken"
    block.enter("hidden edges")
    block.look("T")
    for x in (15, 45):
        window.part.face_picked.emit(window.picking.index_of(f"s{2 if x == 15 else 3}/0/side"), x == 45)
    assert "axes parallel, 30 apart" in window.part._hint.text()


def test_a_depth_is_pulled_on_the_part(block):
    window, session = block.window, block.session
    session.select_step("s1")
    block.settled()
    tags = window.part.tags
    label = tags._labels[[n.field for n in tags._numbers].index("depth")]
    middle = label.rect().center()
    QTest.mousePress(label, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, middle)
    for k in range(1, 8):
        QTest.mouseMove(label, middle + QPoint(0, -8 * k), 20)
    assert label.text() != "Depth 20"
    QTest.mouseRelease(label, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, middle + QPoint(0, -56))
    block.settled()
    depth = float(session.content.step("s1").depth)
    assert depth > 22
    session.undo()
    assert session.content.step("s1").depth == "20", "one edit, when the mouse lets go"
    session.edit(lambda c: edits.add_callout(c, "25")[0], "a callout")
    session.edit(lambda c: edits.change_step(c, "s1", depth="#1"), "depth by callout")
    block.settled()
    assert next(n for n in tags._numbers if n.field == "depth").way is None, "a callout is not pulled"


def test_the_unit_of_an_empty_job_is_the_drawing_s(desk):
    desk.press(desk.window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    assert desk.session.content.header.units == "in"
    desk.enter("Ø1.25")
    assert desk.session.content.ledger().reading(1).main.nominal == pytest.approx(31.75)
    desk.press(desk.window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    assert desk.session.content.header.units == "in" and "still read in inches" in desk.said[-1][0]


def hit(desk, point):
    """The face seen at a place (part mm) just now; None for none."""
    scene, surface = desk.window.part.scene, desk.window.part.surface
    found = scene.hover(*surface.view.Convert(*point))
    return scene.body.name_of(scene.body.index(found)) if found is not None and scene.is_face(found) else None


def drag(desk, point, by, modifier):
    surface = desk.window.part.surface
    x, y = surface.view.Convert(*point)
    at = QPoint(round(x), round(y))
    QTest.mousePress(surface, Qt.MouseButton.LeftButton, modifier, at)
    for k in range(1, 6):
        send_move(surface, at + QPoint(by[0] * k // 5, by[1] * k // 5), modifier)
    QTest.mouseRelease(surface, Qt.MouseButton.LeftButton, modifier, at + QPoint(*by))


def send_move(widget, at, modifier):
    """A move with the left button down: QTest's own carries no modifier."""
    from PyQt6.QtCore import QEvent, QPointF
    from PyQt6.QtGui import QMouseEvent
    from PyQt6.QtWidgets import QApplication

    place = QPointF(at)
    event = QMouseEvent(
        QEvent.Type.MouseMove, place, QPointF(widget.mapToGlobal(at)), Qt.MouseButton.NoButton,
        Qt.MouseButton.LeftButton, modifier,
    )  # fmt: skip
    QApplication.sendEvent(widget, event)


def test_numbers_asked_for_before_the_view_is_painted_wait_for_it(desk, monkeypatch):
    """The kernel may be done before the view has its window: nothing falls, and the numbers stand once it has."""
    desk.open_example("skp-01")
    surface, tags = desk.window.part.surface, desk.window.part.tags
    window = surface._window
    surface._window = None
    tags._place()
    surface._window = window
    tags._place()
