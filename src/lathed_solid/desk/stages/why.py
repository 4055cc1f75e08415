"""The tab Why: what would have to be so for the stated volume or mass to agree, tried on the part, taken as an edit."""

from __future__ import annotations

from typing import NamedTuple
from weakref import WeakKeyDictionary

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout

from ...core.job.model import Content, part_of, with_part
from ...core.job.why.explained import Why
from ...core.job.why.suspect import Suspect
from ...core.prove.proof import Proof
from ...core.prove.tabular import figure
from ...core.quantity.style import mass
from ..picking import Picking
from ..seen import SeenPanel
from ..session import Session
from ..session.documents import OpenJob
from ..theme.dressing import call

_HOW = (
    "Where a stated figure does not agree, or a callout is out, the mistakes that are usually made are built one after "
    "the other and measured, beside the part: a step left out, a radius taken for a diameter, two digits exchanged, "
    "a hole too many. "
    "What closes the gap stands first. It is a suspicion, no verdict: look at the drawing."
)
_HEADS = ("What would have to be so", "Volume then", "Mass then", "Still off")


#: A line of the proof by its callout and key; None stands for the stated figures.
Line = tuple[int, str] | None


class _Asked(NamedTuple):
    """What was asked of a part, and what came of it so far."""

    part: Content
    line: Line
    why: Why
    done: bool


def _askable(proof: Proof | None) -> list[tuple[Line, str]]:
    """What a proof leaves to be explained: the stated figures, and what is out of limits."""
    if proof is None:
        return []
    found: list[tuple[Line, str]] = [(None, "The stated figures")] if proof.stated else []
    for line in proof.lines:
        if line.mark == "out" and line.measured is not None:
            what = f", {line.key.replace('_', ' ')}" if line.key else ""
            found.append(((line.number, line.key), f"Callout {line.number}{what}: out"))
    return found


class WhyPanel(SeenPanel):
    """What came counts only while the part is the one asked about."""

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__(session)
        self._picking = picking
        #: What is asked about, and the suspect that is tried.
        self._line: Line = None
        self._shown: Suspect | None = None
        self._found: WeakKeyDictionary[OpenJob, _Asked] = WeakKeyDictionary()
        self.go, self.attempt, self.take = QPushButton("Why?"), QPushButton("Try it"), QPushButton("Take it")
        self.go.clicked.connect(lambda: self.ask(self.of.currentData()))
        self.of = QComboBox()
        self.of.setAccessibleName("What does not agree")
        self.of.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.of.activated.connect(self._on_other)
        self.attempt.clicked.connect(self.show_on_part)
        self.take.clicked.connect(self.accept)
        self.attempt.setToolTip("Shows the part as it would be; nothing is changed")
        self.take.setToolTip("Makes the part so, as one edit")
        self.state = QLabel(_HOW)
        self.state.setWordWrap(True)
        self.table = QTableWidget(0, len(_HEADS))
        self.table.setAccessibleName("Suspects")
        self.table.setHorizontalHeaderLabels(_HEADS)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemSelectionChanged.connect(self._on_chosen)
        header, rows = self.table.horizontalHeader(), self.table.verticalHeader()
        assert header is not None and rows is not None
        header.setSectionResizeMode(header.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(0, header.ResizeMode.Stretch)
        rows.setDefaultSectionSize(21)
        rows.hide()
        bar = QHBoxLayout()
        bar.addWidget(self.of)
        bar.addWidget(self.go)
        bar.addStretch()
        bar.addWidget(self.attempt)
        bar.addWidget(self.take)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.state)
        layout.addWidget(self.table, 1)
        session.explained.connect(self._on_explained)
        session.built.connect(self._light)
        self.refresh()

    @property
    def can_ask(self) -> bool:
        return bool(_askable(self._session.current.proof))

    def ask(self, line: Line) -> None:
        """Look for what closes the gap of the stated figures (None), or of a line of the proof."""
        lines = [of for of, _ in _askable(self._session.current.proof)]
        if not lines:
            return
        self._line = line if line in lines else lines[0]
        self._offer()
        self._session.explain(self._line)
        self.state.setText(
            "Looking for what closes the gap. You can go on working; what comes is listed as it is found."
        )

    def _on_explained(self, job: OpenJob, content: Content, line: Line, why: Why | None, done: bool) -> None:
        part = part_of(content)
        if why is None:
            known = self._found.get(job)
            found = known.why if known is not None and (known.part, known.line) == (part, line) else Why()
            why = msgspec.structs.replace(found, words=f"{found.words} The search was broken off; ask again.".strip())
        self._found[job] = _Asked(part, line, why, done)
        self._refresh_seen()

    def _on_other(self) -> None:
        self._line = self.of.currentData()
        self.refresh()

    def _offer(self) -> None:
        """All that may be asked about, what was asked about last chosen."""
        lines = _askable(self._session.current.proof)
        if lines != [(self.of.itemData(n), self.of.itemText(n)) for n in range(self.of.count())]:
            self.of.clear()
            for line, words in lines:
                self.of.addItem(words, line)
        at = next((n for n, (line, _) in enumerate(lines) if line == self._line), 0)
        self.of.setCurrentIndex(at if lines else -1)
        self._line = self.of.currentData()
        self.of.setVisible(self.of.count() > 1 or self._line is not None)

    # --- what is shown
    @property
    def why(self) -> Why | None:
        """What came of the part as it is now."""
        found = self._found.get(self._session.current)
        now = (part_of(self._session.content), self._line)
        return found.why if found is not None and (found.part, found.line) == now else None

    @property
    def is_done(self) -> bool:
        return self.why is not None and self._found[self._session.current].done

    @property
    def chosen(self) -> Suspect | None:
        why, row = self.why, self.table.currentRow()
        return why.suspects[row] if why is not None and 0 <= row < len(why.suspects) else None

    def refresh(self) -> None:
        self._offer()
        why, done = self.why, self.is_done
        self.go.setEnabled(self.can_ask)
        words = _HOW if why is None else why.words if done else f"{why.words} Still looking …"
        self.state.setText(words)
        call(self.state, "faint" if why is None else "plain")
        before = self.table.currentRow()
        self.table.blockSignals(True)
        self.table.setRowCount(len(why.suspects) if why is not None else 0)
        for at, suspect in enumerate(why.suspects if why is not None else ()):
            self._fill(at, suspect, why.kind if why is not None else "volume")
        self.table.setCurrentCell(before if why is not None and before < len(why.suspects) else -1, 0)
        self.table.blockSignals(False)
        if self.chosen is None:
            self._shown = None  # another job, or another part: what was tried is not looked at any more
        self._enable()

    def _fill(self, at: int, suspect: Suspect, kind: str) -> None:
        style = self._session.content.header.style
        left = "nothing: it closes" if suspect.rank == 0 else "the volume is wrong"
        if suspect.rank and suspect.off is not None:
            left = figure(-suspect.off, kind, style, unit=True)
        for column, text in enumerate((suspect.words, style.volume(suspect.volume), mass(suspect.grams), left)):
            tip = "The same part comes of: " + "; ".join(suspect.others) if suspect.others else ""
            item = self.table.item(at, column)
            if item is not None and (item.text(), item.toolTip()) == (text, tip):
                continue  # a list that grows is told anew and again: only what has changed is painted
            item = QTableWidgetItem(text)
            item.setToolTip(tip)
            if column:
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            self.table.setItem(at, column, item)

    def _enable(self) -> None:
        for button in (self.attempt, self.take):
            button.setEnabled(self.chosen is not None)

    # --- trying and taking
    def _light(self) -> None:
        """What the part that is tried has and the present one has not."""
        part = self._session.current.glimpse
        if self._shown is not None and part is not None and part.part is not None:
            self._picking.show(tuple(filter(None, map(self._picking.index_of, self._shown.lit))))

    def _on_chosen(self) -> None:
        self._shown = None
        self._session.look_away()
        self._enable()

    def show_on_part(self) -> None:
        if (suspect := self.chosen) is not None:
            part, self._shown = suspect.content, suspect
            self._session.preview(lambda c: with_part(c, part))
            self._session.say(f"Shown: {suspect.words}. Nothing is changed; choose another row, or take it.")

    def accept(self) -> None:
        if (suspect := self.chosen) is not None:
            part, words = suspect.content, suspect.words
            if self._session.edit(lambda c: with_part(c, part), words):
                self._session.say(f"Taken: {words}. Undo brings the part back as it was.", "good")
