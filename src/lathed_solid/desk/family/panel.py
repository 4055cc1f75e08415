"""The family's table with its tools; members are built and proved by processes of their own, beside the part."""

from __future__ import annotations

import logging
import os
import threading
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QTableView,
    QVBoxLayout,
)

from ...core.issue.formats import FORMATS, Format
from ...core.job import members
from ...core.job.damaged import MAX_JSON
from ...core.job.family import Line, read_table, table_csv, table_of, variants_of
from ...core.job.files import CannotWrite, read_whole, write_atomic
from ...core.job.model import part_of
from ...core.plan.shop import Shop
from ...core.refusal import Refusal
from ...worker.family import Family
from ..seen import SeenPanel
from ..session import Session
from ..session.documents import OpenJob
from ..session.talk import Tone
from ..theme.palette import Palette
from .model import Came, FamilyModel

log = logging.getLogger(__name__)
_HOW = (
    "A family is one part in several sizes. Choose a callout, press “Column for …”, add members, and type what "
    "each has in its place. An empty cell is as the part is drawn."
)


class FamilyPanel(SeenPanel):
    """``_told`` and ``_ended`` come from the thread that carries the family out."""

    _told = pyqtSignal(object, object)
    _ended = pyqtSignal(str)

    def __init__(self, session: Session, palette: Palette, shop: Callable[[], Shop]) -> None:
        super().__init__(session, session.edited, session.switched)
        self._running: Family | None = None
        self._thread: threading.Thread | None = None
        self._many = self._came = self._proved = 0
        self._begun = 0.0
        self._shop = shop
        self.model = FamilyModel(session, palette, shop, self)
        self._build()
        self._told.connect(self._on_told)
        self._ended.connect(self._on_ended)
        session.selected.connect(self._show_able)
        self.refresh()

    def _build(self) -> None:
        self.column, self.member = QPushButton(), QPushButton("Add a member")
        self.remove, self.read = QPushButton("Remove"), QPushButton("Table in")
        self.write, self.files = QPushButton("Table out"), QPushButton("STEP of all")
        self.go = QPushButton("Build all")
        bar = QHBoxLayout()
        for button, do, tip in (
            (self.column, self.add_column, "A column for the chosen callout: it differs from member to member"),
            (self.member, self.add_member, "One more row"),
            (self.remove, self.remove_chosen, "Remove the chosen rows, or the column whose heading was clicked"),
            (self.read, self.read_file, "Read the table from a CSV: name,#3,#7"),
            (self.write, self.write_file, "Write the table as a CSV"),
            (self.files, self.write_files, "Build all members, and write their STEP files and figures to a folder"),
            (self.go, self.run, "Build and prove every member that is not proved as it stands"),
        ):
            button.clicked.connect(lambda _, d=do: d())
            button.setToolTip(tip)
            if button is self.go:
                bar.addStretch()
            bar.addWidget(button)
        self.view = QTableView()
        self.view.setModel(self.model)
        self.view.setAccessibleName("Family")
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.view.setWordWrap(False)
        header, rows = self.view.horizontalHeader(), self.view.verticalHeader()
        assert header is not None and rows is not None
        header.setStretchLastSection(True)
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        rows.setDefaultSectionSize(25)
        rows.hide()
        selection = self.view.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(lambda *_: self._show_able())
        self.state = QLabel()
        self.state.setObjectName("faint")
        self.state.setWordWrap(True)
        self.state.setAlignment(Qt.AlignmentFlag.AlignTop)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 8, 12, 8)
        layout.addLayout(bar)
        layout.addWidget(self.view, 1)
        layout.addWidget(self.state)

    def dress(self, palette: Palette) -> None:
        self.model.dress(palette)

    def refresh(self) -> None:
        self.model.refresh()
        self.view.setVisible(bool(self.model.table.members or self.model.table.columns))
        for column in range(self.model.columnCount() - 1):  # the last takes what is left
            self.view.setColumnWidth(column, max(92, self.view.sizeHintForColumn(column) + 16))
        self._show_able()

    def _show_able(self) -> None:
        table, number, busy = self.model.table, self._session.callout, self._running is not None
        self.column.setEnabled(number is not None and number not in table.columns)
        self.column.setText("Column for a callout" if number is None else f"Column for {number}")
        for button in (self.remove, self.write):
            button.setEnabled(bool(table.members or table.columns))
        self.files.setEnabled(bool(table.members) and not busy)
        self.go.setEnabled(bool(table.members))
        self.go.setText("Cancel" if busy else "Build all")
        if busy:
            took = time.monotonic() - self._begun
            left = f", about {took / self._came * (self._many - self._came):.0f} s left" if self._came else ""
            self.state.setText(f"{self._came} of {self._many} members are built{left}. You can go on working.")
        elif not table.members:
            self.state.setText(_HOW)
        else:
            self.state.setText(self._summary())

    def _summary(self) -> str:
        found = [self.model.came(m) for m in self.model.table.members]
        proved = sum(line is not None and line.state == "proved" for line in found)
        left = sum(line is None for line in found)
        row = self.view.currentIndex().row()
        line = found[row] if 0 <= row < len(found) else None
        if line is not None and line.words:
            return f"{line.name}: {line.words}"  # whole: its column is narrow
        words = f"{len(found)} members, {proved} proved"
        return f"{words}; {left} not built as they stand." if left else f"{words}."

    # --- the table
    def add_column(self) -> None:
        number = self._session.callout
        if number is not None:
            self.model.change(members.with_column(self.model.table, number), f"callout {number} differs in the family")

    def add_member(self) -> None:
        if self.model.change(members.with_member(self.model.table), "member added to the family"):
            self.view.setCurrentIndex(self.model.index(self.model.rowCount() - 1, 0))

    def remove_chosen(self) -> None:
        selection = self.view.selectionModel()
        assert selection is not None
        table = self.model.table
        whole = [n for c in selection.selectedColumns() if (n := self.model.number(c.column())) is not None]
        rows = {i.row() for i in selection.selectedIndexes()}
        if not table.members:
            whole = list(table.columns[-1:])
        if whole:
            self.model.change(members.kept(table, set(table.columns) - set(whole)), "column taken out of the family")
        elif rows:
            self.model.change(members.without_members(table, rows), "members taken out of the family")
        else:
            self._session.say("Choose a row, or click the heading of a column, to remove it.", "warn")

    def read_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Read a table", "", "Tables (*.csv)")
        if name:
            self.take_file(Path(name))

    def take_file(self, path: Path) -> None:
        """Take the table of a file in place of the present one."""
        try:
            variants = read_table(read_whole(path, MAX_JSON).decode("utf-8-sig", "replace"))
            made = table_of(variants, self._session.content)
        except Refusal as error:
            self._session.say(f"{path.name}: {error.said_in(self._session.content.header.units)}", "bad")
            return
        if self.model.change(made, f"table of {path.name} taken"):
            self._session.say(f"{len(made.members)} members taken from {path.name}.", "good")

    def write_file(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the table", "family.csv", "Tables (*.csv)")
        if name:
            try:
                write_atomic(Path(name), table_csv(self.model.table).encode())
            except CannotWrite as error:
                self._session.say(error.message, "bad")
            else:
                self._session.say(f"The table is in {name}.", "good")

    # --- carrying it out
    @property
    def is_running(self) -> bool:
        return self._running is not None

    def write_files(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Write the STEP files of all members to")
        if name:
            self._start(Path(name), FORMATS["step"])

    def run(self) -> None:
        """Build what is not proved as it stands; cancel when that is under way."""
        if self._running is not None:
            self._running.cancel()
        else:
            self._start(None, None)

    def _start(self, folder: Path | None, form: Format | None) -> None:
        session, job, content = self._session, self._session.current, self._session.content
        shop = self._shop()
        part, by_name = part_of(content), {m.name: m for m in content.family.members}
        self.model.refresh()
        done = {line.key: line for m in content.family.members if (line := self.model.came(m)) is not None}

        def told(line: Line, there: bool) -> None:
            self._told.emit(job, Came(line, part, by_name[line.name], content.blank, shop))

        family = Family(content, variants_of(content.family), folder, form, str(session.store.folder), told, done, shop)
        self._running, self._begun = family, time.monotonic()
        self._many, self._came, self._proved = len(by_name), 0, 0

        def work() -> None:
            words = ""
            try:
                family.run(max(1, (os.cpu_count() or 2) - 1))
            except Refusal as error:
                words = error.message
            except Exception:
                log.exception("a family could not be carried out")
                words = "Something went wrong inside the program. Your work is kept; details are in the log."
            finally:
                self._ended.emit(words)

        self._thread = threading.Thread(target=work, daemon=True, name="family")
        self._thread.start()
        self._show_able()

    def _on_told(self, job: OpenJob, came: Came) -> None:
        self._came += 1
        self._proved += came.line.state == "proved"
        self.model.took(job, came)
        self._show_able()

    def _on_ended(self, words: str) -> None:
        self._running = None
        self.refresh()
        if words:
            self._session.say(words, "bad")
        elif self._came < self._many:
            self._session.say(f"Cancelled after {self._came} of {self._many} members; what is built stays.", "warn")
        else:
            tone: Tone = "good" if self._proved == self._many else "warn"
            self._session.say(f"The family is built: {self._proved} of {self._many} members are proved.", tone)

    def shut(self) -> None:
        if self._running is not None:
            self._running.cancel()
        if self._thread is not None:
            self._thread.join(10)
