"""The logbook as a table, out to CSV and in again."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.caliper import logbook
from ...core.job import reading
from ...core.job.files import CannotBeRead, CannotWrite, read_whole, write_atomic
from ..session import Session

_COLUMNS = ("When", "By", "Instrument", "Way", "Feature", "Readings", "Conclusion", "Balloon")


class LogbookPanel(QWidget):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.table = QTableWidget(0, len(_COLUMNS))
        self.table.setAccessibleName("Logbook")
        self.table.setHorizontalHeaderLabels(_COLUMNS)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.itemSelectionChanged.connect(self._on_row)
        vertical, header = self.table.verticalHeader(), self.table.horizontalHeader()
        assert vertical is not None and header is not None
        vertical.hide()
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
        self.table.setRowCount(len(entries))
        for at, e in enumerate(entries):
            weighs = e.way == "weight"
            values = "  ".join(f"{v:.2f} g" if weighs else style.fixed(v) for v in e.values)
            cells = (
                e.when[5:16].replace("T", " "), e.operator, e.instrument, e.way, e.feature, values, e.conclusion,
                str(e.callout or ""),
            )  # fmt: skip
            for column, text in enumerate(cells):
                item = QTableWidgetItem(text)
                item.setToolTip(e.when.replace("T", " ") if column == 0 else text)
                self.table.setItem(at, column, item)
        many = len(entries)
        self._state.setText(f"{many} entr{'y' if many == 1 else 'ies'}" if many else "Nothing has been measured yet.")

    def _on_row(self) -> None:
        row = self.table.currentRow()
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
