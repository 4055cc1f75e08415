"""Rings, rows and mirror copies of parts: made about a picked face, changed by their numbers."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ...core.fit.model import Repeat, RepeatKind
from ..lists import fill_row, plain_table
from .document import FitDocument
from .relations import face_words

_HEADS = ("Copies", "Of", "How many", "Apart", "About")
_KINDS: dict[str, RepeatKind] = {"ring": "ring", "row": "row", "mirror copy": "mirror"}
_HOW = {
    "ring": "the round face it goes round",
    "row": "the round face it goes along, or the flat it goes away from",
    "mirror": "the flat on whose other side its other hand is to stand",
}


class Copies(QWidget):
    """``mirror_wanted``: the chosen part's other hand is to be made for the picked flat."""

    mirror_wanted = pyqtSignal()

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self._of = ""
        self.kind, self.many, self.spread = QComboBox(), QLineEdit("6"), QLineEdit()
        self.kind.addItems(tuple(_KINDS))
        for widget, name in ((self.kind, "Kind of copies"), (self.many, "How many"), (self.spread, "Apart")):
            widget.setAccessibleName(name)
        for field in (self.many, self.spread):
            field.setObjectName("formula")
            field.setMaximumWidth(110)
            field.returnPressed.connect(self.make)
        self.many_label, self.spread_label = QLabel("How many in all"), QLabel()
        self.leader, self.make_ = QPushButton("This part"), QPushButton("Make")
        self.leader.setToolTip("Copies are made of the part that is chosen now; then pick the face they go about")
        self.change, self.free = QPushButton("Change"), QPushButton("Set free")
        self.free.setToolTip("The copies stay where they are and go their own way")
        self.words = QLabel()
        self.words.setObjectName("faint")
        self.words.setWordWrap(True)
        self.table = plain_table("Rings and rows of parts", _HEADS, wide=4)
        self._lay_out()
        self.kind.currentTextChanged.connect(lambda _: self.refresh())
        self.leader.clicked.connect(self._on_leader)
        self.make_.clicked.connect(self.make)
        self.change.clicked.connect(self._change)
        self.free.clicked.connect(self._free)
        self.table.currentCellChanged.connect(lambda *_: self._on_row())
        document.changed.connect(self.refresh)
        document.selected.connect(self.refresh)
        self.refresh()

    def _lay_out(self) -> None:
        first, foot, layout = QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        for widget in (
            self.kind, self.leader, self.many_label, self.many, self.spread_label, self.spread, self.make_,
        ):  # fmt: skip
            first.addWidget(widget)
        first.addStretch()
        foot.addWidget(self.words, 1)
        foot.addWidget(self.change)
        foot.addWidget(self.free)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(first)
        layout.addWidget(self.table, 1)
        layout.addLayout(foot)

    @property
    def _kind(self) -> RepeatKind:
        return _KINDS[self.kind.currentText()]

    @property
    def _row(self) -> Repeat | None:
        repeats, row = self._document.assembly.repeats, self.table.currentRow()
        return repeats[row] if 0 <= row < len(repeats) else None

    def refresh(self) -> None:
        document = self._document
        if document.tried is not None:
            return
        assembly = document.assembly
        self.table.blockSignals(True)
        kept = self.table.currentRow()
        self.table.setRowCount(len(assembly.repeats))
        for row, r in enumerate(assembly.repeats):
            apart = r.spread or ("360°" if r.kind == "ring" else "")
            many = "" if r.kind == "mirror" else r.many
            about = face_words(assembly, r.about)
            gone = document.lost.get(r.id, "")
            texts = (r.kind, assembly.called(r.leader), many, apart, f"{about} (gone)" if gone else about)
            fill_row(self.table, row, texts, gone)
        self.table.setCurrentCell(kept if kept < len(assembly.repeats) else -1, 0)
        self.table.blockSignals(False)
        mirror, ring = self._kind == "mirror", self._kind == "ring"
        for widget in (self.many_label, self.many, self.spread_label, self.spread):
            widget.setVisible(not mirror)
        self.spread_label.setText("over, degrees" if ring else "one from the next")
        self.spread.setPlaceholderText("360" if ring else "")
        self._tell()

    def _tell(self) -> None:
        document = self._document
        if self._of not in {i.id for i in document.assembly.instances}:
            self._of = ""
        self.leader.setText(f"Of {document.assembly.called(self._of)}" if self._of else "This part")
        self.leader.setEnabled(bool(document.instance))
        self.make_.setEnabled(bool(self._of) and bool(document.picks))
        self.change.setEnabled(self._row is not None and self._kind != "mirror")
        self.free.setEnabled(self._row is not None)
        about = face_words(document.assembly, document.picks[0]) if document.picks else ""
        if not self._of:
            self.words.setText(f"Choose a part and press “This part”; then click {_HOW[self._kind]}.")
        else:
            self.words.setText(f"About {about}." if about else f"Now click {_HOW[self._kind]}.")

    def _on_leader(self) -> None:
        self._of = self._document.instance
        self._document.pick(None)

    def _on_row(self) -> None:
        if (row := self._row) is not None:
            self.kind.setCurrentText(next(words for words, kind in _KINDS.items() if kind == row.kind))
            self.many.setText(row.many)
            self.spread.setText(row.spread)
            self._document.choose_instance(row.leader, *filter(None, row.made))

    def make(self) -> None:
        """Copies of the part about the picked face."""
        if not self.make_.isEnabled():
            return
        if self._kind == "mirror":
            self._document.chosen = (self._of,)
            self.mirror_wanted.emit()
        elif self._document.repeat(self._kind, self._of, self.many.text().strip(), self.spread.text().strip()):
            self._of = ""
            self.refresh()

    def _change(self) -> None:
        if (row := self._row) is not None:
            self._document.change_repeat(row.id, self.many.text().strip(), self.spread.text().strip())

    def _free(self) -> None:
        if (row := self._row) is not None:
            self._document.free_repeat(row.id)
