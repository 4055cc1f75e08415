"""The logbook as a table, out to CSV and in again."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ...core.caliper import logbook
from ...core.caliper.logbook import LogEntry
from ...core.job import reading
from ...core.job.files import CannotBeRead, CannotWrite, read_whole, write_atomic
from ...core.quantity import Style
from ..session import Session

_COLUMNS = ("When", "By", "Instrument", "Way", "Feature", "Readings", "Conclusion", "Balloon")


class _Rows(QAbstractTableModel):
    """The entries as they are seen: a row is put into words only when it is shown, so thousands cost nothing."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._entries: tuple[LogEntry, ...] = ()
        self._style = Style()

    def show(self, entries: tuple[LogEntry, ...], style: Style) -> None:
        if entries is self._entries and style == self._style:
            return
        self.beginResetModel()
        self._entries, self._style = entries, style
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self._entries)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return len(_COLUMNS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        across = role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal
        return _COLUMNS[section] if across else None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            return None
        entry = self._entries[index.row()]
        if role == Qt.ItemDataRole.ToolTipRole and index.column() == 0:
            return entry.when.replace("T", " ")
        return self._cells(entry)[index.column()]

    def _cells(self, e: LogEntry) -> tuple[str, ...]:
        weighs = e.way == "weight"
        values = "  ".join(f"{v:.2f} g" if weighs else self._style.fixed(v) for v in e.values)
        return (
            e.when[5:16].replace("T", " "), e.operator, e.instrument, e.way, e.feature, values, e.conclusion,
            str(e.callout or ""),
        )  # fmt: skip


class LogbookPanel(QWidget):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.table, self.rows = QTableView(), _Rows(self)
        self.table.setModel(self.rows)
        self.table.setAccessibleName("Logbook")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        chosen = self.table.selectionModel()
        vertical, header = self.table.verticalHeader(), self.table.horizontalHeader()
        assert vertical is not None and header is not None and chosen is not None
        chosen.currentRowChanged.connect(lambda now, _: self._on_row(now.row()))
        vertical.hide()
        header.setResizeContentsPrecision(50)  # rows looked at for the width of a column
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(5, QHeaderView.ResizeMode.Stretch)
        self._state = QLabel()
        self._state.setObjectName("faint")
        out, into = QPushButton("Write CSV"), QPushButton("Read CSV")
        out.clicked.connect(self.ask_export)
        into.clicked.connect(self.ask_import)
        row = QHBoxLayout()
        row.addWidget(self._state)
        row.addStretch()
        row.addWidget(into)
        row.addWidget(out)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addWidget(self.table, 1)
        layout.addLayout(row)
        session.edited.connect(self.refresh)
        session.switched.connect(self.refresh)

    def refresh(self) -> None:
        entries, style = self._session.content.logbook, self._session.content.header.style
        self.rows.show(entries, style)
        many = len(entries)
        self._state.setText(f"{many} entr{'y' if many == 1 else 'ies'}" if many else "Nothing has been measured yet.")

    def _on_row(self, row: int) -> None:
        entries = self._session.content.logbook
        if 0 <= row < len(entries) and entries[row].callout is not None:
            self._session.select_callout(entries[row].callout)

    def ask_export(self) -> None:
        stem = (self._session.content.header.number or "part").lower()
        name, _ = QFileDialog.getSaveFileName(self, "Write the logbook", str(Path.cwd() / f"{stem}-readings.csv"))
        if name:
            self.export_csv(Path(name))

    def export_csv(self, path: Path) -> None:
        try:
            write_atomic(path, logbook.to_csv(self._session.content.logbook).encode())
        except CannotWrite as error:
            self._session.say(str(error), "bad")
            return
        self._session.say(f"Wrote {path.name}.", "good")

    def ask_import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Read a logbook", str(Path.cwd()), "CSV (*.csv)")
        if name:
            self.import_csv(Path(name))

    def import_csv(self, path: Path) -> None:
        """Add the entries of a CSV; a file that cannot be read changes nothing."""
        try:
            text = read_whole(path, logbook.MAX_CSV).decode("utf-8-sig")
            entries = logbook.from_csv(text, {e.id for e in self._session.content.logbook})
        except CannotBeRead as error:
            self._session.refuse(error)
            return
        except (logbook.CannotImport, UnicodeDecodeError) as error:
            words = str(error) if isinstance(error, logbook.CannotImport) else "It is no text file."
            self._session.say(f"{path.name} was not read. {words}", "bad")
            return
        if self._session.edit(lambda c: reading.log_all(c, entries), f"{len(entries)} readings imported"):
            self._session.say(f"{len(entries)} entries read from {path.name}.", "good")
