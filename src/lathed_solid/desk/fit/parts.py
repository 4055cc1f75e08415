"""The parts of the assembly, each with what it can still do."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import QItemSelectionModel, QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...core.fit.holes import hole_of
from ..lists import fill_row, heading, plain_table
from .document import FitDocument
from .placing import Placing
from .swinging import Swinging


class Parts(QWidget):
    """``files_wanted`` and ``job_wanted``: parts are to be put in from files, or from the job that is open;
    ``apart_wanted``: the chosen sub-assembly is to be taken apart.
    """

    files_wanted = pyqtSignal()
    job_wanted = pyqtSignal()
    newer_wanted = pyqtSignal()
    exchange_wanted = pyqtSignal()
    apart_wanted = pyqtSignal()

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._document = document
        self._note = QLabel()
        self.table = plain_table("Parts of the assembly", ("Part", "Can still move"), wide=1)
        self.table.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.table.customContextMenuRequested.connect(self._menu)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.table.itemSelectionChanged.connect(self._on_rows)
        self.job, self.files = QPushButton("The open job"), QPushButton("From files …")
        self.job.setToolTip("Put the job that is open into the assembly")
        self.files.setToolTip("Put parts from files in: jobs, assemblies, STEP, BREP, STL")
        self.job.clicked.connect(self.job_wanted)
        self.files.clicked.connect(self.files_wanted)
        self.copy, self.ground, self.hide_, self.out = (
            QPushButton(words) for words in ("Another", "Ground", "Hide", "Take out")
        )
        self.every = QPushButton("In every such hole")
        self.every.setToolTip("One for each hole like the one the chosen part is in; they follow that part's pattern")
        self.every.clicked.connect(document.in_every_hole)
        self.newer = QPushButton("Newer?")
        self.newer.setToolTip("Whether the files of the parts have changed since they were put in")
        self.newer.clicked.connect(self.newer_wanted)
        self.copy.setToolTip(
            "The chosen parts once more, tied to each other as they are (Ctrl or Shift chooses several)"
        )
        self.ground.setToolTip("What is grounded never moves")
        self.copy.clicked.connect(document.copy)
        self.ground.clicked.connect(self._ground)
        self.hide_.clicked.connect(self._hide)
        self.out.clicked.connect(document.remove)
        self.number, self.title = QLineEdit(), QLineEdit()
        self.number.setPlaceholderText("Number")
        self.title.setPlaceholderText("Name of the assembly")
        self.number.setMaximumWidth(90)
        for field, name in ((self.number, "number"), (self.title, "title")):
            field.setAccessibleName(f"Assembly {name}")
            field.editingFinished.connect(self._rename)
        head, rule = heading("Parts", self._note)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 8)
        layout.setSpacing(6)
        layout.addLayout(head)
        layout.addWidget(rule)
        named = QHBoxLayout()
        named.setContentsMargins(10, 0, 10, 0)
        named.addWidget(self.number)
        named.addWidget(self.title, 1)
        layout.addLayout(named)
        layout.addWidget(self.table, 1)
        self.placing = Placing(document)
        layout.addWidget(self.placing)
        self.swing = Swinging(document)
        for row in (
            (self.copy, self.ground, self.hide_, self.out),
            (self.swing, self.every),
            (self.newer, self.job, self.files),
        ):
            line = QHBoxLayout()
            line.setContentsMargins(10, 0, 10, 0)
            line.setSpacing(4)
            for button in row:
                line.addWidget(button)
            layout.addLayout(line)
        document.changed.connect(self.refresh)
        document.selected.connect(self._on_selected)
        self.refresh()

    def refresh(self) -> None:
        document = self._document
        if document.tried is not None:
            return  # while something is only looked at the list says what is so
        assembly, found = document.assembly, document.freedoms
        for field, text in ((self.number, assembly.number), (self.title, assembly.title)):
            if not field.hasFocus() and field.text() != text:
                field.setText(text)
        self.table.blockSignals(True)
        self.table.setRowCount(len(assembly.instances))
        for row, instance in enumerate(assembly.instances):
            words = document.moves(instance.id) + (", hidden" if instance.hidden else "")
            fill_row(self.table, row, (assembly.called(instance.id), words))
        self.table.blockSignals(False)
        many = len(assembly.instances)
        ways = found.ways if found is not None else 0
        moves = f"{ways} {'ways' if ways > 1 else 'way'} to move" if ways else "nothing moves"
        self._note.setText(f"{many} · {moves}" if many else "")
        self._on_selected()

    def _rename(self) -> None:
        number, title = self.number.text().strip(), self.title.text().strip()
        if (number, title) != (self._document.assembly.number, self._document.assembly.title):
            self._document.edit(lambda a: replace(a, number=number, title=title), "named")

    def _on_selected(self) -> None:
        document = self._document
        ids = [i.id for i in document.assembly.instances]
        rows = [ids.index(i) for i in document.chosen if i in ids]
        self.table.blockSignals(True)
        if sorted(rows) != self._rows():
            self.table.clearSelection()
            self.table.setCurrentCell(rows[0] if rows else -1, 0, QItemSelectionModel.SelectionFlag.NoUpdate)
            model, selection = self.table.model(), self.table.selectionModel()
            assert model is not None and selection is not None
            for row in rows:
                how = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows
                selection.select(model.index(row, 0), how)
        self.table.blockSignals(False)
        for button in (self.copy, self.ground, self.hide_, self.out):
            button.setEnabled(bool(rows))
        one = document.instance if len(rows) == 1 else ""
        self.every.setEnabled(bool(one) and hole_of(document.assembly, one) is not None)
        if rows:
            instance = document.assembly.instances[rows[0]]
            self.ground.setText("Free" if instance.grounded else "Ground")
            self.hide_.setText("Show" if instance.hidden else "Hide")
        self.newer.setEnabled(bool(ids))

    def _rows(self) -> list[int]:
        """The rows that are chosen in the table."""
        selection = self.table.selectionModel()
        return sorted(i.row() for i in selection.selectedRows()) if selection is not None else []

    def _on_rows(self) -> None:
        instances, rows = self._document.assembly.instances, self._rows()
        current = self.table.currentRow()
        # The one clicked last comes first: figures are its.
        rows.sort(key=lambda row: row != current)
        chosen = tuple(instances[row].id for row in rows if row < len(instances))
        if chosen != self._document.chosen:
            self._document.choose_instance(*chosen)

    def _ground(self) -> None:
        self._document.ground(self.ground.text() == "Ground")

    def _hide(self) -> None:
        self._document.hide(self.hide_.text() == "Hide")

    def _menu(self, at: QPoint) -> None:
        if not self._document.instance:
            return
        menu = QMenu(self)
        for button in (self.copy, self.ground, self.hide_, self.out):
            menu.addAction(button.text(), button.click)
        menu.addAction("Exchange for another part …", self.exchange_wanted.emit)
        if self._document.assembly.part_of(self._document.instance).members:
            menu.addAction("Take apart into its parts", self.apart_wanted.emit)
        viewport = self.table.viewport()
        assert viewport is not None
        menu.exec(viewport.mapToGlobal(at))
