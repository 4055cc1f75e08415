"""The turned-profile table: one row a station along the axis."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import QModelIndex, QSignalBlocker, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.job import edits
from ...core.job.model import Content
from ...core.job.settle import set_stations
from ...core.quantity import ExpressionError, evaluate
from ...core.refusal import Refusal
from ...core.sketch.model import Station
from ..session import Session
from ..theme.dressing import call
from ..theme.style import figure_font
from ..timing import one_shot

#: Field, heading, what the cell's value is.
COLUMNS = (
    ("to", "Ends at", "length"),
    ("length", "or length", "length"),
    ("diameter", "Ø", "length"),
    ("diameter2", "Ø right end", "length"),
    ("left", "Left edge", ""),
    ("right", "Right edge", ""),
    ("groove", "Groove", ""),
    ("thread", "Thread", ""),
)
TIPS = {
    "to": "Position of the row’s right end, from zero.",
    "length": "Length of the row, when its end position is not stated.",
    "diameter": "Diameter. With a taper: at the left end.",
    "diameter2": "Only for a taper: the diameter at the right end.",
    "left": "1 x 45°, C1, R1, or a callout such as #3.",
    "right": "1 x 45°, C1, R1, or a callout such as #3.",
    "groove": "Width x diameter at the right end, as in 2 x Ø11.2.",
    "thread": "M10x1.5 - 6g, 14 or a callout such as #18.",
}


class _Grid(QTableWidget):
    """Return goes on to the next cell; Delete clears a cell, Ctrl+Delete the row; Escape lets go what was refused."""

    def __init__(self, table: StationTable) -> None:
        super().__init__(0, len(COLUMNS))
        self._table = table

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if event.key() == Qt.Key.Key_Delete and control:
            self._table.remove_row()
        elif event.key() == Qt.Key.Key_Delete:
            item = self.currentItem()
            if item is not None:
                item.setText("")
        elif event.key() == Qt.Key.Key_Escape and self._table.let_go():
            pass
        elif event.key() == Qt.Key.Key_Insert:
            self._table.insert_row()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.state() != QAbstractItemView.State.EditingState:  # the field just left lets its Return through
                self.editItem(self.currentItem())
        else:
            super().keyPressEvent(event)


class _CellDelegate(QStyledItemDelegate):
    """The formula as typed, its value beside it."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        super().paint(painter, option, index)
        text = str(index.data() or "")
        if painter is None or not text or not COLUMNS[index.column()][2]:
            return
        try:
            value = evaluate(text, self._session.content.ledger())
        except ExpressionError:
            return
        shown = self._session.content.header.style.length(value)
        if shown != text:
            painter.save()
            painter.setFont(figure_font(8))
            painter.setOpacity(0.65)
            box = option.rect.adjusted(0, 0, -5, 0)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, shown)
            painter.restore()


class StationTable(QWidget):
    """Edits stations. A row that is not finished waits in the table; nothing changes in the job until it is."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._sketch = session, ""
        #: The job's rows while the table holds some that cannot be yet.
        self._waiting: tuple[Station, ...] | None = None
        self.grid = _Grid(self)
        self.grid.setHorizontalHeaderLabels([heading for _, heading, _ in COLUMNS])
        self.grid.setAccessibleName("Turned-profile table")
        self.grid.setItemDelegate(_CellDelegate(session, self))
        for column, (field, _, _) in enumerate(COLUMNS):
            header = self.grid.horizontalHeaderItem(column)
            assert header is not None
            header.setToolTip(TIPS[field])
        heading = self.grid.horizontalHeader()
        assert heading is not None
        heading.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.grid.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.AnyKeyPressed
            | QAbstractItemView.EditTrigger.SelectedClicked
        )
        self.grid.setTabKeyNavigation(True)
        self.grid.cellChanged.connect(self._on_cell)
        self._later = one_shot(self, 0)
        self._later.timeout.connect(lambda: self._commit("profile changed"))
        self._note = QLabel()
        self._note.setObjectName("faint")
        self._note.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 6, 10, 8)
        row = QHBoxLayout()
        row.addWidget(self._note, 1)
        for words, run in (("Insert row", self.insert_row), ("Remove row", self.remove_row)):
            button = QPushButton(words)
            button.clicked.connect(run)
            row.addWidget(button)
        layout.addWidget(self.grid, 1)
        layout.addLayout(row)

    def show_sketch(self, id_: str) -> None:
        if id_ != self._sketch:
            self._waiting = None
        self._sketch = id_
        self.refresh()

    def refresh(self) -> None:
        sketch = next((s for s in self._session.content.sketches if s.id == self._sketch), None)
        stations = sketch.stations if sketch and sketch.stations is not None else None
        self.grid.setEnabled(stations is not None)
        if stations is None:
            self.grid.setRowCount(0)
            drawn = sketch is not None and bool(sketch.entities)
            self._say("This profile is drawn on the plate; the table does not lead it." if drawn else "")
            return
        if self._pending() and len(self._rows()) > len(stations):
            return  # an unfinished row is being typed
        if self._waiting is not None and self._waiting == stations:
            self._later.start()  # what was refused may be right now: another number has changed
            return
        self._waiting = None
        current = (self.grid.currentRow(), self.grid.currentColumn())
        blocker = QSignalBlocker(self.grid)
        self.grid.setRowCount(len(stations) + 1)
        for row, station in enumerate(stations):
            for column, (field, _, want) in enumerate(COLUMNS):
                self._fill(row, column, getattr(station, field), want, station.id)
        for column in range(len(COLUMNS)):
            self._fill(len(stations), column, "", "", "")
        blocker.unblock()
        self.grid.setVerticalHeaderLabels([*(str(i) for i in range(1, len(stations) + 1)), "+"])
        if current[0] >= 0:
            self.grid.setCurrentCell(*current)
        problem = self._session.current.problems.get(self._sketch, "")
        self._say(problem or "Type in the + row to go on. Sizes may be formulas or callouts: 22, #2, 142 - 38.5.")

    def _fill(self, row: int, column: int, text: str, want: str, station: str) -> None:
        item = self.grid.item(row, column)
        if item is None:
            item = QTableWidgetItem()
            self.grid.setItem(row, column, item)
        item.setText(text)
        item.setData(Qt.ItemDataRole.UserRole, station)
        tip = TIPS[COLUMNS[column][0]]
        if text and want:
            try:
                value = evaluate(text, self._session.content.ledger())
                tip = f"{text} = {self._session.content.header.style.length(value, unit=True)}"
            except ExpressionError as error:
                tip = str(error)
        item.setToolTip(tip)

    def _say(self, words: str, bad: bool = False) -> None:
        self._note.setText(words)
        call(self._note, "bad" if bad else "faint")

    # --- from cells to stations
    def _rows(self) -> list[Station]:
        """The rows that hold anything, as stations; new ones get a fresh id."""
        found: list[Station] = []
        taken = {
            item.data(Qt.ItemDataRole.UserRole) for r in range(self.grid.rowCount()) if (item := self.grid.item(r, 0))
        }
        for row in range(self.grid.rowCount()):
            items = [self.grid.item(row, c) for c in range(len(COLUMNS))]
            texts = [i.text().strip() if i else "" for i in items]
            if not any(texts):
                continue
            first = items[0]
            id_ = first.data(Qt.ItemDataRole.UserRole) if first else ""
            if not id_:
                id_ = _fresh(taken)
                taken.add(id_)
                if first:
                    with QSignalBlocker(self.grid):
                        first.setData(Qt.ItemDataRole.UserRole, id_)
            found.append(Station(id=id_, **{f: t for (f, _, _), t in zip(COLUMNS, texts, strict=True)}))
        return found

    def _pending(self) -> bool:
        return any(not s.diameter or not (s.to or s.length) for s in self._rows())

    def _on_cell(self, row: int, column: int) -> None:
        # After the cell's own editor has closed: a commit lays the whole table out anew.
        self._later.start()

    def _commit(self, what: str) -> None:
        """Put the rows into the job. What cannot be yet stays in the table with its reason, and nothing else changes: a
        cone typed after a cylinder has, for a moment, the same diameter.
        """
        if self._pending():
            self._say("A row needs an end position or a length, and a diameter.")
            return
        stations = tuple(self._rows())
        try:
            set_stations(self._session.content, self._sketch, stations)
        except Refusal as error:
            self._waiting = self._stations()
            self._say(self._session.words_of(error), bad=True)
            return
        self._waiting = None
        self._say("")
        before = self._session.content
        self._session.edit(lambda c: set_stations(c, self._sketch, stations), what)
        if self._session.content is before:
            self.refresh()

    def let_go(self) -> bool:
        """Put back what holds in place of rows that were refused. False when there are none."""
        if self._waiting is None:
            return False
        self._waiting = None
        self.refresh()
        return True

    def _stations(self) -> tuple[Station, ...] | None:
        sketch = next((s for s in self._session.content.sketches if s.id == self._sketch), None)
        return sketch.stations if sketch is not None else None

    def insert_row(self) -> None:
        """An empty row above the current one."""
        row = max(0, self.grid.currentRow())
        with QSignalBlocker(self.grid):
            self.grid.insertRow(row)
            for column in range(len(COLUMNS)):
                self._fill(row, column, "", "", "")
        self.grid.setCurrentCell(row, 0)

    def remove_row(self) -> None:
        row = self.grid.currentRow()
        if 0 <= row < self.grid.rowCount() - 1:
            with QSignalBlocker(self.grid):
                self.grid.removeRow(row)
            if self._rows():
                self._commit("row removed")
            else:
                sketch_id = self._sketch
                self._session.edit(lambda c: _emptied(c, sketch_id), "row removed")


def _fresh(taken: set[str]) -> str:
    names = [chr(ord("a") + i) for i in range(26)] + [f"r{i}" for i in range(1, 500)]
    return next(n for n in names if n not in taken)


def _emptied(content: Content, sketch_id: str) -> Content:
    sketch = content.sketch(sketch_id)
    return edits.set_sketch(
        content, msgspec.structs.replace(sketch, stations=(), entities=(), relations=(), dimensions=())
    )
