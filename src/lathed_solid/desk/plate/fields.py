"""Fields beside the cursor while drawing: the value the cursor shows, or the one typed instead."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QLineEdit, QWidget

from ...core.quantity import ExpressionError, Style
from ...core.sketch.hand.tool import Field, Typed

#: Reads a text as a length, angle or number. Raises ExpressionError.
Read = Callable[[str, str], float]


class _Line(QLineEdit):
    """Tab goes to the next field, Return takes the place, Escape clears."""

    def __init__(self, row: CursorFields) -> None:
        super().__init__()
        self._row = row

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key = event.key()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._row.taken.emit()
        elif key == Qt.Key.Key_Escape:
            self._row.left.emit()
        else:
            super().keyPressEvent(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        self._row.step(self, 1 if forward else -1)
        return True


class InPlace(QLineEdit):
    """A field over a text of the plate. Its Return is its own: the plate under it must not hear it too."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        super().keyPressEvent(event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()


class CursorFields(QFrame):
    """``changed`` when a value was typed, ``taken`` on Return, ``left`` on Escape."""

    changed = pyqtSignal()
    taken = pyqtSignal()
    left = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("cursorfields")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(6, 3, 6, 3)
        self._row.setSpacing(5)
        self._fields: tuple[Field, ...] = ()
        self.lines: dict[str, _Line] = {}
        self.read: Read = lambda text, want: 0.0
        self.style_ = Style("mm", 3)
        self.hide()

    def show_for(self, fields: tuple[Field, ...], kept: Mapping[str, Typed]) -> None:
        """Lay out fields; texts typed before for the same keys stay."""
        if fields != self._fields:
            self._fields = fields
            self.lines = {}
            while self._row.count():
                item = self._row.takeAt(0)
                if item is not None and (widget := item.widget()) is not None:
                    widget.hide()
                    widget.deleteLater()
            for field in fields:
                line = _Line(self)
                line.setFixedWidth(130 if field.want == "text" else 76)
                line.setAccessibleName(field.label)
                line.textEdited.connect(lambda _: self.changed.emit())
                label = QLabel(field.label)
                self._row.addWidget(label)
                self._row.addWidget(line)
                self.lines[field.key] = line
        for field in fields:
            line = self.lines[field.key]
            line.setText(kept[field.key].text if field.key in kept else "")
            line.setPlaceholderText(field.usual)
        self.setVisible(bool(fields))
        if fields:
            self.adjustSize()

    def show_live(self, values: Mapping[str, float], at: QPointF) -> None:
        """Values of the cursor in fields where nothing is typed; the row stays near the cursor and inside the plate."""
        for field in self._fields:
            if field.key in values:
                value = values[field.key]
                self.lines[field.key].setPlaceholderText(
                    self.style_.angle(value) if field.want == "angle" else self.style_.length(value)
                )
        area = self.parentWidget()
        assert area is not None
        size = self.sizeHint()
        x = min(max(4, at.x() + 22), area.width() - size.width() - 4)
        y = min(max(4, at.y() + 20), area.height() - size.height() - 4)
        self.move(int(x), int(y))

    def begin(self, text: str) -> None:
        """Start typing into the first field."""
        if self._fields:
            line = self.lines[self._fields[0].key]
            line.setFocus()
            line.setText(line.text() + text)
            self.changed.emit()

    def step(self, line: QLineEdit, by: int) -> None:
        keys = [f.key for f in self._fields]
        at = next(i for i, k in enumerate(keys) if self.lines[k] is line)
        other = self.lines[keys[(at + by) % len(keys)]]
        other.setFocus()
        other.selectAll()

    def typed(self) -> tuple[dict[str, Typed], str]:
        """What can be read, the usual value where nothing was typed; and what is wrong with the rest."""
        found: dict[str, Typed] = {}
        trouble = ""
        for field in self._fields:
            text = self.lines[field.key].text().strip() or field.usual
            if not text:
                continue
            if field.want == "text":
                found[field.key] = Typed(text)
                continue
            try:
                found[field.key] = Typed(text, self.read(text, field.want))
            except ExpressionError as error:
                trouble = f"{field.label}: {error.message}"
        return found, trouble
