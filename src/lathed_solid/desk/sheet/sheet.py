"""The callout sheet panel."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPoint, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QLabel,
    QListView,
    QMenu,
    QVBoxLayout,
    QWidget,
)

from ...core.job import edits, walk
from ..ask import ask
from ..lists import Rows, dress_list, heading
from ..pages import Pages
from ..session import Session
from ..theme.palette import Palette
from .delegate import CalloutDelegate
from .model import NUMBER, CalloutModel


class _List(QListView):
    """A list whose rows are moved with Alt+Up and Alt+Down and removed with Delete."""

    def __init__(self, sheet: CalloutSheet) -> None:
        super().__init__()
        self._sheet = sheet

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if alt and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._sheet.shift(-1 if event.key() == Qt.Key.Key_Up else 1)
        elif event.key() == Qt.Key.Key_Delete:
            self._sheet.delete()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.state() != self.State.EditingState:
            self.edit(self.currentIndex())
        else:
            super().keyPressEvent(event)


class CalloutSheet(QWidget):
    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self.model = CalloutModel(session, self)
        self.list = _List(self)
        self._rows = Rows(self.list)
        self.delegate = CalloutDelegate(palette, self)
        dress_list(self.list, self.model, self.delegate, "Callout sheet", self._on_current, self._menu)
        self.list.setEditTriggers(QAbstractItemView.EditTrigger.DoubleClicked)
        self._count = QLabel()
        self._empty = QLabel(
            "No callouts yet.\n\nType the drawing’s numbers in the entry line below, one at a time:\n\n"
            "Ø12 h6\n22 ±0.1\n1 x 45°\nR1\nM6x1 - 6H 14 deep\n6x Ø5.5 THRU on Ø98\n\n"
            "A word after ; becomes the label:\n22 ; journal"
        )
        self._empty.setObjectName("faint")
        self._empty.setWordWrap(True)
        self._empty.setContentsMargins(16, 8, 16, 8)
        self._empty.setAlignment(Qt.AlignmentFlag.AlignTop)
        head, rule = heading("Callout sheet", self._count)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(head)
        layout.addWidget(rule)
        self._pages = Pages()
        self._pages.addWidget(QWidget())  # until a job is shown, nothing is said of its callouts
        self._pages.addWidget(self._empty)
        self._pages.addWidget(self.list)
        layout.addWidget(self._pages, 1)
        session.edited.connect(self.refresh)
        session.switched.connect(self.refresh)
        session.proved.connect(self._on_proof)
        session.selected.connect(self._show_selected)

    def dress(self, palette: Palette) -> None:
        self.delegate.palette = palette
        viewport = self.list.viewport()
        if viewport is not None:
            viewport.update()

    def refresh(self) -> None:
        self.model.refresh()
        self._pages.setCurrentWidget(self.list if self.model.callouts else self._empty)
        self._show_selected()
        self._on_proof()

    def _on_proof(self) -> None:
        self._rows.show(self.model.says())
        proof, callouts = self._session.current.proof, self.model.callouts
        if proof is None or not callouts:
            self._count.setText(f"{len(callouts)} callout{'s' * (len(callouts) != 1)}" if callouts else "")
            return
        good = sum(proof.mark_of(c.number) in ("in", "near") for c in callouts)
        self._count.setText(f"{good} of {len(callouts)} proved")

    def _on_current(self, current: QModelIndex, _: QModelIndex) -> None:
        if current.isValid():
            self._session.select_callout(current.data(NUMBER))

    def _show_selected(self) -> None:
        row = self.model.row_of(self._session.callout)
        if row >= 0 and self.list.currentIndex().row() != row:
            self.list.setCurrentIndex(self.model.index(row))
        elif row < 0:
            self.list.clearSelection()
            self.list.setCurrentIndex(QModelIndex())  # or a click on the row that was current would choose nothing

    # --- edits
    def _number(self) -> int | None:
        index = self.list.currentIndex()
        return index.data(NUMBER) if index.isValid() else None

    def shift(self, by: int) -> None:
        number = self._number()
        if number is not None:
            to = self.model.row_of(number) + by
            self._session.edit(lambda c: edits.move_callout(c, number, to), f"callout {number} moved")

    def delete(self) -> None:
        """Remove the current callout; where it is used, ask first and say where."""
        number = self._number()
        if number is None:
            return
        used = walk.where_used(self._session.content, number)
        if used and not self._sure(number, used):
            return
        self._session.edit(lambda c: edits.delete_callout(c, number, anyway=True), f"callout {number} deleted")

    def _sure(self, number: int, used: list[str]) -> bool:
        answer = ask(
            self,
            "Delete a callout in use",
            f"Callout {number} is used by {', '.join(used)}.",
            "If it goes, those places lose their size and will say so. Undo brings it back.",
            {"Delete it": "destroy", "Keep it": "back"},
        )
        return answer == "Delete it"

    def _menu(self, at: QPoint) -> None:
        if self._number() is None:
            return
        menu = QMenu(self)
        menu.addAction("Change", lambda: self.list.edit(self.list.currentIndex()))
        menu.addAction("Move up", lambda: self.shift(-1))
        menu.addAction("Move down", lambda: self.shift(1))
        menu.addAction("Delete", self.delete)
        menu.addSeparator()
        menu.addAction(
            "Number all as they stand",
            lambda: self._session.edit(edits.renumber_callouts, "balloons numbered as they stand"),
        )
        menu.exec(self.list.mapToGlobal(at))
