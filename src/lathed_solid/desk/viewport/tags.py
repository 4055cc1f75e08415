"""A step's own numbers, shown on the part where they belong and changed there."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QEvent, QObject, QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QLineEdit, QPushButton, QWidget

from ...core.kernel.ground.figures import Vector

if TYPE_CHECKING:
    from .surface import Surface

#: A press that moves less than this many pixels drags nothing.
SLACK = 4


class Number(NamedTuple):
    """``field`` of the step, its ``words`` as shown, the formula behind it, and where on the part it stands (mm).

    One that can be dragged has a ``way``: how many mm along it one mm of the number is, and its present ``value`` (mm).
    """

    field: str
    words: str
    formula: str
    at: Vector
    way: Vector | None = None
    value: float = 0.0


class _Grip(NamedTuple):
    """A label under the mouse: which number, where it was taken, how far it was dragged (mm)."""

    number: int
    taken: QPointF
    by: float = 0.0


class Tags(QObject):
    """Little labels over the part view; they follow the camera. ``changed`` carries field and new formula, ``dragged``
    a field and how long it is to be now (mm), and whether the mouse has let go.
    """

    changed = pyqtSignal(str, str)
    dragged = pyqtSignal(str, float, bool)

    def __init__(self, over: QWidget, surface: Surface) -> None:
        super().__init__(over)
        self._over, self._surface = over, surface
        self._numbers: tuple[Number, ...] = ()
        self._labels: list[QPushButton] = []
        self._edit: QLineEdit | None = None
        self._grip: _Grip | None = None
        self._bar: QWidget | None = None
        surface.painted.connect(self._place)

    def keep_below(self, bar: QWidget) -> None:
        """No label is put under a bar that lies over the top of the view, while it shows."""
        self._bar = bar

    def show(self, numbers: Sequence[Number]) -> None:
        if tuple(numbers) == self._numbers or self._grip is not None:
            return
        self._close()
        self._numbers = tuple(numbers)
        for label in self._labels:
            label.hide()
            label.deleteLater()
        self._labels = []
        for number in self._numbers:
            label = QPushButton(number.words, self._over)
            label.setObjectName("tag")
            drag = "; drag to pull it" if number.way is not None else ""
            label.setToolTip(f"{number.formula}: double-click, or Enter, to change it{drag}")
            if number.way is not None:
                label.setCursor(Qt.CursorShape.SizeAllCursor)
            label.setAccessibleName(f"{number.words}, on the part")
            label.installEventFilter(self)
            label.show()
            self._labels.append(label)
        self._place()

    def _place(self) -> None:
        """Every label at its place in the view, none on another."""
        if not self._surface.is_seen:
            return
        ratio, taken = self._surface.devicePixelRatioF(), list[QPoint]()
        low = 44 if self._bar is None or self._bar.isHidden() else self._bar.geometry().bottom() + 8
        for label, number in zip(self._labels, self._numbers, strict=True):
            px, py = self._surface.view.Convert(*number.at)
            label.adjustSize()
            high = self._over.height() - 60
            at = QPoint(round(px / ratio) + 10, max(low, min(round(py / ratio) - 26, high)))
            at.setX(max(4, min(at.x(), self._over.width() - label.width() - 4)))
            at = free_place(at, taken, low, high, up=at.y() > high - 22 * len(self._numbers))
            taken.append(at)
            if label.pos() != at:
                label.move(at)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is None:
            return False
        if watched is self._edit and isinstance(event, QKeyEvent) and event.key() == Qt.Key.Key_Escape:
            self._close()
            return True
        if (
            isinstance(event, QMouseEvent)
            and watched in self._labels
            and self._pull(self._labels.index(watched), event)
        ):
            return True
        opens = event.type() == QEvent.Type.MouseButtonDblClick or (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.KeyPress
            and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        )
        if opens and watched in self._labels:
            self.open(self._labels.index(watched))
            return True
        return False

    def _pull(self, index: int, event: QMouseEvent) -> bool:
        """Drag a number along its way; a press without a move is left to the label."""
        number, kind = self._numbers[index], event.type()
        if number.way is None or event.button() not in (Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton):
            return False
        if kind == QEvent.Type.MouseButtonPress:
            self._grip = _Grip(index, event.globalPosition())
            return False
        if self._grip is None:
            return False
        move = event.globalPosition() - self._grip.taken
        if kind == QEvent.Type.MouseMove and (self._grip.by or abs(move.x()) + abs(move.y()) > SLACK):
            self._grip = self._grip._replace(by=self._surface.along(number.at, number.way, move))
            self.dragged.emit(number.field, number.value + self._grip.by, False)
            return True
        if kind == QEvent.Type.MouseButtonRelease:
            by, self._grip = self._grip.by, None
            if by:
                self.dragged.emit(number.field, number.value + by, True)
                return True
        return False

    def tell(self, field: str, words: str) -> None:
        """Other words on a label while it is dragged."""
        for label, number in zip(self._labels, self._numbers, strict=True):
            if number.field == field:
                label.setText(words)
                label.adjustSize()

    def open(self, index: int) -> None:
        """A line over the label to write the new value into."""
        self._close()
        number, label = self._numbers[index], self._labels[index]
        edit = QLineEdit(number.formula, self._over)
        edit.setObjectName("formula")
        edit.setAccessibleName(f"New value of {number.words}")
        edit.setGeometry(label.x(), label.y(), max(120, label.width()), label.height())
        edit.returnPressed.connect(lambda: self._take(number.field, edit.text().strip()))
        edit.installEventFilter(self)
        edit.selectAll()
        edit.show()
        edit.setFocus()
        self._edit = edit

    def _take(self, field: str, text: str) -> None:
        self._close()
        self.changed.emit(field, text)

    def _close(self) -> None:
        if self._edit is not None:
            self._edit.hide()
            self._edit.deleteLater()
            self._edit = None
            self._over.setFocus()


def free_place(at: QPoint, taken: Sequence[QPoint], low: int, high: int, up: bool) -> QPoint:
    """The nearest place for a label that no other has: up or down, and in the next column where that one is full."""
    first, step = QPoint(at), -22 if up else 22
    for _ in range(400):
        if not any(abs(at.y() - o.y()) < 22 and abs(at.x() - o.x()) < 130 for o in taken):
            return at
        at = QPoint(at.x(), at.y() + step)
        if not low <= at.y() <= high:
            first = at = QPoint(first.x() + 140, first.y())
    return at
