"""A real window under a virtual display, and hands to work it with."""

from __future__ import annotations

import functools
import gc
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QPushButton, QWidget

from lathed_solid.core.job.model import Job


@pytest.fixture(scope="session", autouse=True)
def fonts(qapp):
    from lathed_solid.desk import part_room  # noqa: F401
    from lathed_solid.desk.app import load_rooms
    from lathed_solid.desk.theme.style import load_fonts
    from lathed_solid.desk.window import Window  # noqa: F401

    load_fonts()
    load_rooms()
    # As the program does: nothing is collected in another thread, nor what was loaded gone through by each window shut.
    gc.disable()
    gc.freeze()


@pytest.fixture(scope="session")
def readings(tmp_path_factory):
    """What was read from pictures, kept as the program keeps it: the same picture is read once for all tests."""
    return tmp_path_factory.mktemp("readings")


@pytest.fixture
def desk(qtbot, tmp_path):
    """A shown window on an empty job."""
    from lathed_solid.desk.session import Session
    from lathed_solid.desk.window import Window

    session = Session(tmp_path / "journals")
    window = Window(session)
    window.resize(1280, 800)
    session.add(Job())
    window.show_stage("Read")
    window.show()
    qtbot.waitExposed(window)
    assert window.part_room, "as the program does once the window stands"
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow, timeout=5000)
    hands = Hands(qtbot, window)
    yield hands
    if window.is_fitted:
        window.fit.document._history.mark_saved()
    window.shut()
    session.shut()
    for job in session.jobs:
        job.history.mark_saved()
    window.close()
    # A window that stays is restyled with every later one: tests would grow slower and slower.
    window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    # Widgets made under a style sheet are styled one by one, which takes three times as long as all at once.
    QApplication.instance().setStyleSheet("")


@pytest.fixture
def plate(desk):
    """The plate, large, with an empty outline on it."""
    desk.window.run(desk.window.actions_.get("step.extrude"))
    desk.wait(lambda: desk.window.plate.sketch is not None)
    desk.window.toggle_large()
    QTest.qWait(30)
    return desk.window.plate


def action(method):
    """One thing done by hand: a click, or a text typed with Enter; what it is made of counts no more."""

    @functools.wraps(method)
    def counted(self, *given, **how):
        self.actions += not self._within
        self._within += 1
        try:
            return method(self, *given, **how)
        finally:
            self._within -= 1

    return counted


class Hands:
    """Mouse and keyboard, as a person at the bench has them; ``actions`` counts what was done."""

    def __init__(self, qtbot, window) -> None:
        self.bot, self.window, self.session = qtbot, window, window.session
        self.actions = self._within = 0
        self.said: list[tuple[str, str]] = []
        self.session.message.connect(lambda text, tone: self.said.append((text, tone)))

    def wait(self, condition, seconds: float = 30) -> None:
        self.bot.waitUntil(condition, timeout=int(seconds * 1000))

    def settled(self) -> None:
        """Until nothing is being built and the proof belongs to the present state."""
        QTest.qWait(30)
        self.wait(lambda: not self.session.is_working, 60)
        QTest.qWait(20)

    def keys(self, widget: QWidget, text: str) -> None:
        QTest.keyClicks(widget, text)

    def press(self, widget: QWidget, key: Qt.Key, modifier=Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(widget, key, modifier)

    @action
    def click(self, widget: QWidget, at: QPoint | None = None, modifier=Qt.KeyboardModifier.NoModifier) -> None:
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, modifier, at if at is not None else widget.rect().center())

    @action
    def retype(self, field: QWidget, text: str) -> None:
        """Click into a field, replace all of its text, Enter."""
        self.click(field)
        self.press(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        self.press(field, Qt.Key.Key_Delete)
        self.keys(field, text)
        self.press(field, Qt.Key.Key_Return)

    @action
    def enter(self, text: str) -> None:
        """Type into the entry line and press Enter."""
        line = self.window.entry.line
        self.press(self.window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
        line.setFocus()
        self.keys(line, text)
        self.press(line, Qt.Key.Key_Return)

    @action
    def look(self, key: str) -> None:
        """Click a box of the view sheet."""
        sheet = self.window.part.sheet
        self.click(sheet, sheet._boxes()[key].center())
        QTest.qWait(60)

    @action
    def pick(self, point: tuple[float, float, float], more: bool = False) -> None:
        """Click the part where ``point`` (part mm) is seen just now."""
        surface = self.window.part.surface
        x, y = surface.view.Convert(*point)
        ratio = surface.devicePixelRatioF()
        modifier = Qt.KeyboardModifier.ControlModifier if more else Qt.KeyboardModifier.NoModifier
        at = QPoint(round(x / ratio), round(y / ratio))
        QTest.mouseMove(surface, at)
        self.click(surface, at, modifier)

    def edge_shows(self, point: tuple[float, float, float], faces: set[str]) -> bool:
        """Whether the edge between two faces is what a click at ``point`` (part mm) would take just now."""
        part = self.window.part
        found = part.scene.hover(*part.surface.view.Convert(*point))
        if found is None or part.scene.is_face(found):
            return False
        return set(part.scene.body.edge_names(found) or ()) == faces

    @action
    def choose_callout(self, number: int) -> None:
        sheet = self.window.sheet
        index = sheet.model.index(sheet.model.row_of(number))
        sheet.list.scrollTo(index)
        self.click(sheet.list.viewport(), sheet.list.visualRect(index).center())

    @action
    def cell(self, row: int, column: int, text: str, kept: str | None = None) -> None:
        """Click a cell of the profile table and type; ``kept`` is what stands there when it is refused."""
        grid = self.window.plate.table.grid
        grid.setCurrentCell(-1, -1)  # a click on the current cell would begin to edit it by itself
        item = grid.model().index(row, column)
        grid.scrollTo(item)
        self.click(grid.viewport(), grid.visualRect(item).center())
        self.keys(grid, text[0])

        def editing() -> bool:
            focus = QApplication.focusWidget()
            return isinstance(focus, QLineEdit) and grid.isAncestorOf(focus)

        self.wait(editing)
        editor = QApplication.focusWidget()
        self.keys(editor, text[1:])
        self.press(editor, Qt.Key.Key_Return)
        self.wait(lambda: not editing())
        QTest.qWait(30)
        assert grid.item(row, column).text() == (text if kept is None else kept), self.said[-1:]

    def field(self, label: str) -> QWidget:
        """The field of the step editor with this name."""
        body = self.window.route.editor.widget()
        return next(w for w in body.findChildren(QWidget) if w.accessibleName() == label and w.isVisible())

    @action
    def choose(self, label: str, words: str) -> None:
        """Pick an entry of a choice by keyboard; a choice that has nothing left to choose may go with it."""
        while (box := self.field(label)).currentText() != words:
            aim, now = box.findText(words), box.currentIndex()
            assert aim >= 0, f"{label} has no {words}"
            box.setFocus()
            self.press(box, Qt.Key.Key_Down if aim > now else Qt.Key.Key_Up)
            QTest.qWait(10)
            if abs(aim - now) == 1:
                return

    def on_plate(self, x: float, y: float) -> QPoint:
        return self.window.plate.canvas.place(x, y)

    @action
    def plate_click(self, x: float, y: float, modifier=Qt.KeyboardModifier.NoModifier) -> None:
        canvas = self.window.plate.canvas
        QTest.mouseMove(canvas, self.on_plate(x, y))
        self.click(canvas, self.on_plate(x, y), modifier)

    @action
    def plate_drag(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        canvas = self.window.plate.canvas
        a, b = self.on_plate(*start), self.on_plate(*end)
        QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, a)
        for k in range(1, 11):
            QTest.mouseMove(canvas, a + (b - a) * (k / 10), 5)
        QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, b)

    def plate_button(self, words: str) -> QPushButton:
        """A button the plate offers for what is chosen."""
        QTest.qWait(5)
        plate = self.window.plate
        return next(b for b in plate.findChildren(QPushButton) if b.text() == words and b.isVisible())

    @action
    def tool(self, name: str) -> None:
        """Take a tool of the plate by its action, as the entry line and the tray's menus do."""
        self.window.run(self.window.actions_.get(f"plate.{name}"))

    @action
    def size(self, text: str, button: str = "") -> None:
        """Dimension what is chosen on the plate and type its size."""
        plate = self.window.plate
        self.click(self.plate_button(button) if button else plate.tools["dimension"])
        self.wait(lambda: plate.canvas._editor is not None)
        editor = plate.canvas._editor
        self.press(editor, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        self.keys(editor, text)
        self.press(editor, Qt.Key.Key_Return)
        QTest.qWait(20)

    def pixel(self, x: float, y: float) -> QPointF:
        return QPointF(self.on_plate(x, y))

    def open_example(self, name: str) -> None:
        self.session.open(Path(__file__).parents[2] / "examples" / f"{name}.lathed")
        self.press(self.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
        self.wait(lambda: self.session.current.proof is not None)
        self.settled()
