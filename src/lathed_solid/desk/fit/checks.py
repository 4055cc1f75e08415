"""What is in the way: every near pair judged, the worst first."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...core.fit.clearance import Clearances, Pair
from ...core.fit.model import Assembly
from ...core.quantity import Style
from ...core.refusal import worded
from ..lists import fill_row, plain_table
from .document import FitDocument

_WORDS = {
    "overlapping": "overlap",
    "apart": "gap",
    "touching": "touch",
    "in thread": "in thread",
    "unjudged": "not judged",
}
_CAUTION = (
    "Parts that turn, lift, clamp or hold pressure can hurt: guards, loads and bolts are for the rules that apply and "
    "for someone qualified. That nothing overlaps here approves no machine."
)


class Checks(QWidget):
    """``shown``: what is to be seen of the chosen pair: its skins, its pins, its two instances."""

    shown = pyqtSignal(tuple, tuple, tuple)

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self.found: Clearances | None = None
        self._of: Assembly | None = None
        self._asked: Assembly | None = None
        self._showing = self._meeting = False
        self._met_of: Assembly | None = None
        self.look = QPushButton("Look for what is in the way")
        self.look.clicked.connect(self.ask)
        self.always = QCheckBox("Look while dragging")
        self.always.setToolTip("What a dragged part runs into is shown red on its way, by triangles, good to 0.02 mm")
        self.state = QLabel()
        self.state.setWordWrap(True)
        self.table = plain_table("Pairs of parts", ("", "Between", "How much"), wide=1)
        self.table.currentCellChanged.connect(lambda row, *_: self._on_row(row))
        caution = QLabel(_CAUTION)
        caution.setObjectName("faint")
        caution.setWordWrap(True)
        bar = QHBoxLayout()
        bar.addWidget(self.look)
        bar.addWidget(self.state, 1)
        bar.addWidget(self.always)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.table, 1)
        layout.addWidget(caution)
        document.session.fitting.judged.connect(self._on_judged)
        document.session.fitting.met.connect(self._on_met)
        document.changed.connect(self.refresh)
        self.refresh()

    def ask(self) -> None:
        """Judge the assembly as it stands."""
        self._asked = self._document.assembly
        self._document.session.fitting.judge(self._asked)
        self.refresh()

    def _look_on_the_way(self) -> None:
        """Ask of the picture of a drag, one at a time."""
        document = self._document
        is_new = document.shown is not self._met_of
        if self.always.isChecked() and document.is_dragging and is_new and not self._meeting:
            self._meeting, self._met_of = True, document.shown
            document.session.fitting.judge_now(document.assembly, document.shown)

    def _on_met(self, moved: Assembly, pairs: tuple[Pair, ...]) -> None:
        self._meeting = False
        document = self._document
        if not document.is_dragging:
            return
        style = Style(moved.unit)
        if pairs:
            worst = pairs[0]
            between = f"{moved.called(worst.a)} – {moved.called(worst.b)}"
            self.state.setText(f"In the way here: {between}, {figure(worst, style)}.")
        else:
            self.state.setText("Nothing in the way here.")
        self._show(tuple(p.skin.data for p in pairs if p.skin), (), ())
        self._look_on_the_way()

    def _on_judged(self, assembly: Assembly, found: Clearances | None) -> None:
        if assembly is not self._asked:
            return
        self._asked = None
        if found is not None:
            self.found, self._of = found, assembly
            self._fill(found)
        self.refresh()

    def _fill(self, found: Clearances) -> None:
        assembly = self._document.assembly
        names = {i.id for i in assembly.instances}
        self.table.blockSignals(True)
        self.table.setRowCount(0)
        for pair in found.pairs:
            if not {pair.a, pair.b} <= names:
                continue
            row = self.table.rowCount()
            self.table.insertRow(row)
            between = f"{assembly.called(pair.a)} – {assembly.called(pair.b)}"
            fill_row(self.table, row, (_WORDS[pair.state], between, figure(pair, Style(assembly.unit))))
            first = self.table.item(row, 0)
            assert first is not None
            first.setData(Qt.ItemDataRole.UserRole, pair)
        self.table.setCurrentCell(-1, 0)
        self.table.blockSignals(False)
        self._on_row(-1)

    def refresh(self) -> None:
        document = self._document
        if document.is_dragging:
            self._look_on_the_way()
            return
        if self._showing and not self._is_of_now:
            self._show((), (), ())  # what was shown stood elsewhere
        self.look.setEnabled(len(document.assembly.instances) > 1 and self._asked is None)
        if self._asked is not None:
            self.state.setText("Looking …")
        elif self.found is None or self._of is None:
            self.state.setText("Nothing was looked at yet.")
        elif self._of.instances != document.assembly.instances:
            self.state.setText("Parts have moved since: look again.")
        else:
            self.state.setText(summary(self.found))

    def _on_row(self, row: int) -> None:
        item = self.table.item(row, 0)
        pair: Pair | None = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        if pair is None:
            skins = tuple(p.skin.data for p in self.found.overlaps if p.skin) if self.found is not None else ()
            self._show(skins if self._is_of_now else (), (), ())
            return
        skins = (pair.skin.data,) if pair.skin is not None else ()
        if self._is_of_now:
            self._show(skins, (pair,), (pair.a, pair.b))

    def _show(self, skins: tuple[bytes, ...], pairs: tuple[Pair, ...], lit: tuple[str, ...]) -> None:
        self._showing = bool(skins or pairs)
        self.shown.emit(skins, pairs, lit)

    @property
    def _is_of_now(self) -> bool:
        return self._of is not None and self._of.instances == self._document.assembly.instances


def summary(found: Clearances) -> str:
    """All pairs in one sentence."""
    many = len(found.overlaps)
    told = f"{many} {'pairs overlap' if many > 1 else 'pair overlaps'}" if many else "Nothing overlaps"
    unjudged = sum(p.state == "unjudged" for p in found.pairs)
    if unjudged:
        told += f"; {unjudged} could not be judged"
    if by_triangles := len(found.unsure) - unjudged:
        told += f"; {by_triangles} judged by triangles only, good to 0.02 mm"
    return f"{told}. Pairs looked at: {found.looked_at}, near: {len(found.pairs)}."


def figure(pair: Pair, style: Style) -> str:
    """How much a pair overlaps, or how far it is apart."""
    said = worded(pair.words, style.unit) if pair.words else ""
    if pair.state == "overlapping":
        amount = f"{style.length(pair.deep, unit=True)} deep, {style.volume(pair.volume)}"
        return f"{said}: {amount}" if said else amount
    if pair.state == "apart":
        return style.length(pair.gap, unit=True)
    return said or "contact"
