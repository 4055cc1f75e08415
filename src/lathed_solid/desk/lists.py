"""What the sheet's list and the route's list have in common."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PyQt6.QtCore import QAbstractItemModel, QAbstractListModel, QModelIndex, QObject, QPoint, Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QListView,
    QStyledItemDelegate,
    QTableWidget,
    QTableWidgetItem,
)

from .session import Session


def dress_list(
    view: QListView,
    model: QAbstractItemModel,
    delegate: QStyledItemDelegate,
    name: str,
    on_current: Callable[[QModelIndex, QModelIndex], None],
    on_menu: Callable[[QPoint], None],
) -> None:
    """A list drawn by ``delegate``, dragged by rows, with a context menu."""
    view.setModel(model)
    view.setItemDelegate(delegate)
    view.setAccessibleName(name)
    view.setDragDropMode(QAbstractItemView.DragDropMode.DragDrop)
    view.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
    view.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    view.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
    view.customContextMenuRequested.connect(on_menu)
    selection = view.selectionModel()
    assert selection is not None
    selection.currentChanged.connect(on_current)


def plain_table(name: str, heads: Sequence[str], wide: int = 0, height: int = 23) -> QTableWidget:
    """A table of rows that are chosen, not typed in; the column ``wide`` takes what the others leave."""
    table = QTableWidget(0, len(heads))
    table.setAccessibleName(name)
    table.setHorizontalHeaderLabels(heads)
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    header, rows = table.horizontalHeader(), table.verticalHeader()
    assert header is not None and rows is not None
    header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    # As wide as what is seen: a thousand rows measured for every one that is written would take a minute.
    header.setResizeContentsPrecision(0)
    header.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)
    header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
    rows.setDefaultSectionSize(height)
    rows.hide()
    return table


def fill_row(table: QTableWidget, row: int, texts: Sequence[str], tip: str = "", right: Sequence[int] = ()) -> None:
    """Write a row of a plain table; each cell tells its whole text, or ``tip``, when pointed at; figures on the
    ``right``.
    """
    for column, text in enumerate(texts):
        item = table.item(row, column)
        if item is None:
            item = QTableWidgetItem()
            if column in right:
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            table.setItem(row, column, item)
        if item.text() != text:
            item.setText(text)
        if item.toolTip() != (tip or text):
            item.setToolTip(tip or text)


class RowModel(QAbstractListModel):
    """A list over the session that is told only when its rows are others; what they say, ``Rows`` asks for."""

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session
        self._rows: tuple[object, ...] = ()

    def ids(self) -> tuple[object, ...]:
        raise NotImplementedError

    def refresh(self) -> None:
        rows = self.ids()
        if rows != self._rows:
            self.beginResetModel()
            self._rows = rows
            self.endResetModel()


class Says(NamedTuple):
    """What a row shows: ``high`` is what its height depends on."""

    high: object
    rest: object


class Rows:
    """Paints anew only the rows that say something else than before: a whole list painted costs more than a small part
    takes to build. The model's ``dataChanged`` would lay out and paint every row, and overwrite a note being typed.
    """

    def __init__(self, view: QListView) -> None:
        self._view = view
        self._said: list[Says] = []

    def show(self, says: list[Says]) -> None:
        said, self._said = self._said, says
        model = self._view.model()
        if model is None or [s.high for s in said] != [s.high for s in says]:
            self._view.scheduleDelayedItemsLayout()
            return
        for row, (old, new) in enumerate(zip(said, says, strict=True)):
            if old != new:
                self._view.update(model.index(row, 0))


def titled(words: str) -> QLabel:
    """A heading within a panel."""
    label = QLabel(words)
    label.setObjectName("title")
    return label


def heading(words: str, note: QLabel) -> tuple[QHBoxLayout, QFrame]:
    """A panel's heading with a faint note on the right, and the rule under it."""
    title = titled(words)
    note.setObjectName("faint")
    row = QHBoxLayout()
    row.setContentsMargins(14, 9, 12, 4)
    row.addWidget(title)
    row.addStretch()
    row.addWidget(note)
    rule = QFrame()
    rule.setObjectName("rule")
    return row, rule
