"""The callouts as a Qt list model over the session."""

from __future__ import annotations

import html
from collections.abc import Iterable
from typing import Any

from PyQt6.QtCore import QMimeData, QModelIndex, Qt

from ...core.callout import Callout, in_words
from ...core.callout.words import limits_text, pretty
from ...core.job import edits, walk
from ...core.names import lone_ref
from ...core.prove.proof import Mark
from ...core.refusal import Refusal
from ..lists import RowModel, Says
from .marks import WORDS

NUMBER = Qt.ItemDataRole.UserRole
MARK = Qt.ItemDataRole.UserRole + 1
LIMITS = Qt.ItemDataRole.UserRole + 2
LABEL = Qt.ItemDataRole.UserRole + 3
#: Whether a drawing sheet has it; true as long as there is none.
DRAWN = Qt.ItemDataRole.UserRole + 5
ERROR = Qt.ItemDataRole.UserRole + 4


#: How a callout that is not from the drawing is marked beside its label.
_ORIGINS = {"drawing": "", "calipers": "measured", "derived": "worked out", "scaled": "scaled, not stated"}


def _labelled(callout: Callout) -> str:
    return " · ".join(filter(None, (callout.label, _ORIGINS[callout.origin])))


class CalloutModel(RowModel):
    """Rows are callouts in sheet order; dragging gives ``#number`` as text."""

    @property
    def callouts(self) -> tuple[Callout, ...]:
        return self._session.content.callouts

    def ids(self) -> tuple[object, ...]:
        return tuple(c.number for c in self.callouts)

    def says(self) -> list[Says]:
        found = []
        for callout in self.callouts:
            label, limits = _labelled(callout), self._read(callout, LIMITS)
            error = self._read(callout, ERROR)
            drawn = self._is_drawn(callout)
            found.append(Says(bool(label or limits), (callout.note, label, limits, error, self._mark(callout), drawn)))
        return found

    def _mark(self, callout: Callout) -> Mark:
        proof = self._session.current.proof
        return proof.mark_of(callout.number) if proof else "open"

    def _is_drawn(self, callout: Callout) -> bool:
        """Whether a drawing sheet has it; true as long as there is none."""
        sheets = self._session.content.sheets
        return not sheets or any(s.label(callout.number) is not None for s in sheets)

    def row_of(self, number: int | None) -> int:
        return next((i for i, c in enumerate(self.callouts) if c.number == number), -1)

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() or not self._session.jobs else len(self.callouts)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        if not index.isValid():
            return Qt.ItemFlag.ItemIsDropEnabled
        f = Qt.ItemFlag
        return f.ItemIsEnabled | f.ItemIsSelectable | f.ItemIsEditable | f.ItemIsDragEnabled

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid() or index.row() >= len(self.callouts):
            return None
        callout = self.callouts[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return pretty(callout.note)
        if role == Qt.ItemDataRole.EditRole:
            return callout.note + (f" ; {callout.label}" if callout.label else "")
        if role == NUMBER:
            return callout.number
        if role == LABEL:
            return _labelled(callout)
        if role == MARK:
            return self._mark(callout)
        if role == DRAWN:
            return self._is_drawn(callout)
        if role in (LIMITS, ERROR, Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole):
            return self._read(callout, role)
        return None

    def _read(self, callout: Callout, role: int) -> str:
        style = self._session.content.header.style
        try:
            reading = self._session.content.ledger().reading(callout.number)
        except Refusal as error:
            return str(error) if role != LIMITS else ""
        if role == ERROR:
            return ""
        if role == LIMITS:
            return limits_text(reading.main, style) if reading.shape != "thread" else ""
        used = walk.where_used(self._session.content, callout.number)
        on_none = "" if self._is_drawn(callout) else " Not on a drawing sheet yet."
        mark = self._mark(callout)
        words = (
            f"{callout.number}: {in_words(reading, style)}.\n"
            f"Used by {', '.join(used) if used else 'nothing yet'}. Proof: {WORDS[mark]}.{on_none}"
        ) + (f"\n{callout.source[:1].upper()}{callout.source[1:]}." if callout.source else "")
        return words if role == Qt.ItemDataRole.AccessibleTextRole else self._with_cutout(callout, words)

    def _with_cutout(self, callout: Callout, words: str) -> str:
        """The tooltip with the piece of the sheet that shows the original number, when one was kept."""
        if callout.place is None or not callout.place.cutout:
            return words
        picture = self._session.store.folder / callout.place.cutout
        lines = html.escape(words).replace("\n", "<br>")
        return f'<img src="{html.escape(str(picture))}" width="300"><br>{lines}'

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        if role != Qt.ItemDataRole.EditRole:
            return False
        note, _, label = str(value).partition(";")
        number = self.callouts[index.row()].number
        return self._session.edit(
            lambda c: edits.edit_callout(c, number, note.strip(), label.strip()), f"callout {number} changed"
        )

    # --- dragging: reorder, or drop "#12" into a field
    def mimeTypes(self) -> list[str]:
        return ["text/plain"]

    def mimeData(self, indexes: Iterable[QModelIndex]) -> QMimeData:
        data = QMimeData()
        data.setText(f"#{self.data(next(iter(indexes)), NUMBER)}")
        return data

    def supportedDropActions(self) -> Qt.DropAction:
        return Qt.DropAction.CopyAction

    def dropMimeData(
        self, data: QMimeData | None, action: Qt.DropAction, row: int, column: int, parent: QModelIndex
    ) -> bool:
        text = data.text() if data else ""
        if (dropped := lone_ref(text)) is None:
            return False
        number, to = dropped.number, row if row >= 0 else self.rowCount()
        if self.row_of(number) < to:
            to -= 1
        return self._session.edit(lambda c: edits.move_callout(c, number, to), f"callout {number} moved")
