"""One thing done to the window at random, by mouse and keys or by what they set off."""

from __future__ import annotations

import random
from collections import deque
from typing import TypeVar

from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtGui import QDrag
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QMenu,
    QWidget,
)

from lathed_solid.desk.window import Window

from .stalls import StallWatch

#: What is typed anywhere: sound notes and sizes, drawing commands, and what nobody should type.
TEXTS = (
    "Ø20", "40", "2 x M6", "R3", "1/4-20 UNC", "#1/2", "#1+#2", "0", "-5", "1e9", "abc", "", "Ø", "10 ±0.1", "3 x Ø6",
    "45°", "1 x 45°", "#99", "circle 0,0 Ø#1", "line 0,0 10,0", "rect 0,0 20,10", "close", "12.5 ; width", "Ø8 H7",
    "M6", "  ", "9" * 60, "ß±", "#1.depth", "1/0", "10 mm", "0.5 in", "through", "3", "6", "120°",
)  # fmt: skip
#: These end the program or the work at hand, and belong to other trials.
NOT = ("app.quit", "job.close")


Found = TypeVar("Found", bound=QWidget)


class Monkey:
    """``done`` holds the words for the last things done."""

    def __init__(self, rng: random.Random, window: Window, watch: StallWatch) -> None:
        self._rng, self._window, self._watch = rng, window, watch
        self.done: deque[str] = deque(maxlen=200)
        self._ways = (
            (self._action, 5), (self._enter, 3), (self._click, 6), (self._field, 4), (self._drag, 2), (self._keys, 2),
            (self._undo, 3), (self._combo, 2), (self._wheel, 1), (self._button, 4), (self._wait, 1), (self._step, 3),
            (self._callout, 2),
        )  # fmt: skip
        self.is_done = False
        QTimer.singleShot(25, self._close_modal)

    @property
    def last(self) -> str:
        return self.done[-1] if self.done else ""

    def act(self) -> None:
        """Do one thing, and let the window answer it."""
        way = self._rng.choices([w for w, _ in self._ways], [n for _, n in self._ways])[0]
        with self._watch.watching():
            way()
        with self._watch.watching():
            QApplication.processEvents()
        if self._rng.random() < 0.3:
            QTest.qWait(self._rng.choice((1, 20, 120)))

    # --- ways
    def _action(self) -> None:
        able = [a for a in self._window.actions_ if a.id not in NOT and a.enabled()]
        action = self._rng.choice(able)
        self.done.append(action.id)
        self._window.run(action)

    def _enter(self) -> None:
        text = self._rng.choice(TEXTS)
        self.done.append(f"enter {text[:20]}")
        line = self._window.entry.line
        line.setFocus()
        QTest.keyClicks(line, text)
        QTest.keyClick(line, self._rng.choice((Qt.Key.Key_Return, Qt.Key.Key_Return, Qt.Key.Key_Escape)))

    def _click(self) -> None:
        at = QPoint(self._rng.randrange(self._window.width()), self._rng.randrange(self._window.height()))
        widget = self._window.childAt(at)
        if widget is None or not widget.isEnabled():
            return
        self.done.append(f"click {type(widget).__name__} {at.x()},{at.y()}")
        button = self._rng.choice((Qt.MouseButton.LeftButton, Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton))
        modifier = self._rng.choice((Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier))
        inside = widget.mapFrom(self._window, at)
        QTest.mouseMove(widget, inside)
        (QTest.mouseDClick if self._rng.random() < 0.15 else QTest.mouseClick)(widget, button, modifier, inside)

    def _button(self) -> None:
        button = self._any(QAbstractButton)
        if button is not None:
            words = button.text() or button.toolTip()
            self.done.append(f"press {words.splitlines()[0][:30] if words else '?'}")
            QTest.mouseClick(button, Qt.MouseButton.LeftButton)

    def _field(self) -> None:
        field = self._any(QLineEdit)
        if field is None or field.isReadOnly():
            return
        text = self._rng.choice(TEXTS)
        self.done.append(f"type {text[:20]} in {field.accessibleName()[:30]}")
        field.setFocus()
        field.selectAll()
        QTest.keyClick(field, Qt.Key.Key_Delete)
        QTest.keyClicks(field, text)
        QTest.keyClick(field, self._rng.choice((Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape)))

    def _combo(self) -> None:
        box = self._any(QComboBox)
        if box is not None and box.count():
            self.done.append(f"choose in {box.accessibleName()[:30]}")
            box.setFocus()
            for _ in range(self._rng.randrange(1, 4)):
                QTest.keyClick(box, self._rng.choice((Qt.Key.Key_Down, Qt.Key.Key_Up)))

    def _drag(self) -> None:
        there = [w for w in (self._window.plate.canvas, self._window.part.surface) if w.isVisible()]
        if not there:
            return
        widget: QWidget = self._rng.choice(there)
        a, b = (QPoint(self._rng.randrange(widget.width()), self._rng.randrange(widget.height())) for _ in range(2))
        self.done.append(f"drag {type(widget).__name__} {a.x()},{a.y()} {b.x()},{b.y()}")
        button = self._rng.choice((Qt.MouseButton.LeftButton, Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton))
        QTest.mousePress(widget, button, Qt.KeyboardModifier.NoModifier, a)
        for k in range(1, 5):
            QTest.mouseMove(widget, a + (b - a) * (k / 4), 2)
        QTest.mouseRelease(widget, button, Qt.KeyboardModifier.NoModifier, b)

    def _wheel(self) -> None:
        keys = (Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_Home)
        self.done.append("zoom")
        QTest.keyClick(self._window.plate.canvas, self._rng.choice(keys))

    def _keys(self) -> None:
        widget = QApplication.focusWidget() or self._window
        key = self._rng.choice((
            Qt.Key.Key_Escape, Qt.Key.Key_Delete, Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Down, Qt.Key.Key_Up,
            Qt.Key.Key_Space, Qt.Key.Key_L, Qt.Key.Key_C, Qt.Key.Key_F, Qt.Key.Key_Backspace, Qt.Key.Key_F2,
        ))  # fmt: skip
        self.done.append(f"key {key.name} on {type(widget).__name__}")
        QTest.keyClick(widget, key)

    def _undo(self) -> None:
        key = self._rng.choice((Qt.Key.Key_Z, Qt.Key.Key_Z, Qt.Key.Key_Y))
        self.done.append("undo" if key == Qt.Key.Key_Z else "redo")
        QTest.keyClick(self._window, key, Qt.KeyboardModifier.ControlModifier)

    def _step(self) -> None:
        steps = self._window.session.content.steps
        if steps:
            step = self._rng.choice(steps)
            self.done.append(f"choose step {step.id}")
            self._window.session.select_step(step.id)

    def _callout(self) -> None:
        callouts = self._window.session.content.callouts
        if callouts:
            number = self._rng.choice(callouts).number
            self.done.append(f"choose callout {number}")
            self._window.session.select_callout(number)

    def _wait(self) -> None:
        self.done.append("wait")

    # --- what is there
    def _any(self, kind: type[Found]) -> Found | None:
        there = [w for w in self._window.findChildren(kind) if w.isVisible() and w.isEnabled()]
        return self._rng.choice(there) if there else None

    def _close_modal(self) -> None:
        """A dialog or menu that waits is answered: usually left, sometimes by one of its buttons."""
        if self.is_done:
            return
        QTimer.singleShot(25, self._close_modal)  # anew: what is pressed here may open a dialog itself
        QDrag.cancel()  # one that began has no real mouse that could end it
        popup = QApplication.activePopupWidget()
        if isinstance(popup, QMenu):
            for _ in range(self._rng.randrange(6)):
                QTest.keyClick(popup, Qt.Key.Key_Down)
            QTest.keyClick(popup, self._rng.choice((Qt.Key.Key_Return, Qt.Key.Key_Escape)))
        elif popup is not None:
            popup.close()
        modal = QApplication.activeModalWidget()
        if isinstance(modal, QDialog):
            buttons = [b for b in modal.findChildren(QAbstractButton) if b.isVisible() and b.isEnabled()]
            self.done.append(f"dialog {modal.windowTitle()[:30]}")
            if buttons and not isinstance(modal, QFileDialog) and self._rng.random() < 0.4:
                QTest.mouseClick(self._rng.choice(buttons), Qt.MouseButton.LeftButton)
            else:
                modal.reject()
