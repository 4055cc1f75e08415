"""The tab Set-ups: the operations of the route, set-up by set-up, dragged from one to another."""

from __future__ import annotations

from pathlib import Path
from typing import cast

from PyQt6.QtCore import QItemSelectionModel, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QMenu,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.plan.sheet.telling import Told, told
from ...core.plan.sheet.worked import WorkedSetUp, whole_time
from ...core.standards import feeds
from ..picking import Picking
from ..session import Session
from ..theme.dressing import call
from .sheet import Sheet

_KEY = Qt.ItemDataRole.UserRole
_HEADS = ("Operation", "Tool", "Callouts", "Turns", "Feed", "Min")
_NONE = "Build the part in Shape: its operations are then proposed here, in the fewest set-ups that reach them all."


class OperationTree(QTreeWidget):
    """Set-ups, and their operations under them. Dropped rows are asked for by ``moved``: keys, set-up, place."""

    moved = pyqtSignal(list, str, int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Set-ups and operations")
        self.setHeaderLabels(_HEADS)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.setUniformRowHeights(True)
        self.setIndentation(14)
        header = self.header()
        assert header is not None
        header.setStretchLastSection(False)
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)

    def keys(self) -> list[str]:
        """The operations chosen, in the order of the sheet."""
        found = []
        for k in range(self.topLevelItemCount()):
            top = cast(QTreeWidgetItem, self.topLevelItem(k))
            children = (cast(QTreeWidgetItem, top.child(n)) for n in range(top.childCount()))
            found += [str(c.data(0, _KEY)) for c in children if c.isSelected()]
        return found

    def dropEvent(self, event: QDropEvent | None) -> None:
        """The rows move when the edit has been made, not before."""
        if event is None:
            return
        where = self._place(event.position().toPoint())
        event.setDropAction(Qt.DropAction.IgnoreAction)
        event.accept()
        if where is not None and (keys := self.keys()):
            self.moved.emit(keys, *where)

    def _place(self, point: QPoint) -> tuple[str, int] | None:
        item = self.itemAt(point)
        if item is None:
            last = self.topLevelItem(self.topLevelItemCount() - 1)
            return (str(last.data(0, _KEY)), -1) if last is not None else None
        above = self.dropIndicatorPosition() == QAbstractItemView.DropIndicatorPosition.AboveItem
        top = item.parent()
        if top is None:
            return str(item.data(0, _KEY)), -1 if not above else 0
        return str(top.data(0, _KEY)), top.indexOfChild(item) + (0 if above else 1)


class SetUpsPanel(QWidget):
    """Nothing is worked out here."""

    def __init__(self, session: Session, picking: Picking, sheet: Sheet) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._picking, self._sheet = session, picking, sheet
        self._filling = False
        self.tree = OperationTree()
        self.tree.moved.connect(self._sheet.move)
        self.tree.itemSelectionChanged.connect(self._on_chosen)
        self.tree.customContextMenuRequested.connect(self._menu)
        self.state = QLabel(_NONE)
        self.state.setObjectName("faint")
        self.state.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(self._buttons())
        layout.addWidget(self.tree, 1)
        layout.addWidget(self.state)
        sheet.changed.connect(self.refresh)

    def _buttons(self) -> QHBoxLayout:
        bar = QHBoxLayout()
        made = (
            ("add", "Add a set-up", "An empty set-up after this one", self._sheet.add),
            ("remove", "Remove", "Its operations go to the set-up before it", self._sheet.remove),
            ("earlier", "Earlier", "This set-up before the one above", lambda: self._sheet.shift(-1)),
            ("later", "Later", "This set-up after the one below", lambda: self._sheet.shift(1)),
            ("again", "As proposed", "Forget what was changed by hand", self._sheet.as_proposed),
        )
        self.buttons: dict[str, QPushButton] = {}
        for name, words, tip, do in made:
            button = QPushButton(words)
            button.setToolTip(tip)
            button.clicked.connect(lambda _=False, do=do: do())
            self.buttons[name] = button
            bar.addWidget(button)
        bar.addStretch()
        self.write = QPushButton("Write the sheet …")
        self.write.setToolTip("A PDF that goes with the work, with a picture of each set-up, or a table (CSV)")
        self.write.clicked.connect(self.write_file)
        bar.addWidget(self.write)
        return bar

    # --- what is chosen
    def _on_chosen(self) -> None:
        if self._filling:
            return
        item = self.tree.currentItem()
        if item is None:
            return
        top = item.parent() or item
        at = self.tree.indexOfTopLevelItem(top)
        self._sheet.choose(at)
        keys = self.tree.keys()
        lines = self._sheet.setups[at].lines if at < len(self._sheet.setups) else ()
        shown = [line for line in lines if line.operation.key in keys] or list(lines)
        self._picking.show(sorted({f for line in shown for f in line.operation.faces}))

    def moves(self) -> QMenu:
        """The same as dragging, for the keyboard; empty when no operation is chosen."""
        keys, menu = self.tree.keys(), QMenu(self)
        if not keys:
            return menu
        for at, setup in enumerate(self._sheet.setups, 1):
            action = menu.addAction(f"Into set-up {at}: {setup.title}")
            assert action is not None
            action.triggered.connect(lambda _, to=setup.setup.id: self._sheet.move(keys, to))
        return menu

    def _menu(self, point: QPoint) -> None:
        menu, viewport = self.moves(), self.tree.viewport()
        assert viewport is not None
        if menu.actions():
            menu.popup(viewport.mapToGlobal(point))

    def write_file(self) -> None:
        header = self._session.content.header
        stem = f"{header.number or header.name}-set-ups"
        kinds = "Traveller (*.pdf);;Tables (*.csv)"
        name, chosen = QFileDialog.getSaveFileName(self, "Write the operation sheet", f"{stem}.pdf", kinds)
        if name:
            path = Path(name)
            if not path.suffix:
                path = path.with_suffix(".csv" if "csv" in chosen else ".pdf")
            self._sheet.write(path)

    # --- what is shown
    def refresh(self) -> None:
        setups, chosen = self._sheet.setups, self.tree.keys()
        self._filling = True
        self.tree.clear()
        for at, setup in enumerate(setups):
            top = self._top(at, setup)
            self.tree.addTopLevelItem(top)
            top.setFirstColumnSpanned(True)
            top.setExpanded(True)
            for line in setup.lines:
                item = self._row(told(line, self._session.content.header.style), line.trouble)
                item.setData(0, _KEY, line.operation.key)
                top.addChild(item)
                item.setSelected(line.operation.key in chosen)
            if at == self._sheet.at:
                self.tree.setCurrentItem(top, 0, QItemSelectionModel.SelectionFlag.NoUpdate)
        self._filling = False
        for name, button in self.buttons.items():
            button.setEnabled(bool(setups) and (name != "again" or not self._sheet.is_proposed))
        self.buttons["remove"].setEnabled(len(setups) > 1)
        self.write.setEnabled(bool(setups))
        self._tell()

    def _top(self, at: int, setup: WorkedSetUp) -> QTreeWidgetItem:
        top = QTreeWidgetItem([f"{at + 1}  {setup.title}: {setup.minutes:.0f} min"])
        font = self.font()
        font.setBold(True)
        top.setFont(0, font)
        top.setData(0, _KEY, setup.setup.id)
        top.setFlags(top.flags() & ~Qt.ItemFlag.ItemIsDragEnabled)
        return top

    def _row(self, t: Told, trouble: str) -> QTreeWidgetItem:
        words = f"⚠ {t.words}" if trouble else t.words
        item = QTreeWidgetItem([words, t.tool, t.callouts, t.turns.partition(" (")[0], t.feed, t.minutes])
        item.setToolTip(0, t.remark or t.words)
        item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsDropEnabled)
        for column in (3, 4, 5):
            item.setTextAlignment(column, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        return item

    def _tell(self) -> None:
        setups = self._sheet.setups
        if not setups:
            call(self.state, "faint")
            self.state.setText(_NONE)
            return
        wrong = [line for s in setups for line in s.lines if line.trouble]
        lacks = sum(line.lacks for s in setups for line in s.lines)
        told_ = []
        if wrong:
            told_.append(f"{wrong[0].operation.words}: {wrong[0].trouble}.")
        told_.append(f"About {whole_time(setups):.0f} min each, setting up with it ({feeds.source()}).")
        if lacks:
            told_.append(f"{lacks} tool{'s' * (lacks != 1)} not ticked as in the crib.")
        if self._sheet.is_proposed:
            told_.append("As proposed; drag what you do elsewhere.")
        call(self.state, "warn" if wrong else "faint")
        self.state.setText(" ".join(told_))
