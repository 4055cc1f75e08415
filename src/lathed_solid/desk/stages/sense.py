"""The tab Shop sense: what a shop would say of the part, each rule with its source, and switched on or off."""

from __future__ import annotations

from PyQt6.QtCore import QSettings, Qt
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
)

from ...core.job.model import Content
from ...core.plan.sense import RULES, Finding
from ..lists import plain_table
from ..picking import Picking
from ..seen import OfPart, SeenPanel
from ..session import Session
from ..session.documents import OpenJob

_SETTINGS, _OFF = ("lathed-solid", "desk"), "rules-off"
_HOW = "What a shop would say of the part before it is made. A remark is no mark: the part may be meant so."


class SensePanel(SeenPanel):
    """What was found counts only for the part it was looked for on."""

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__(session)
        self._picking = picking
        self._found = OfPart[tuple[Finding, ...]](session)
        self.go, self.state = QPushButton("Look the part over"), QLabel(_HOW)
        self.go.clicked.connect(self.look)
        self.state.setWordWrap(True)
        self.rules = QListWidget()
        self.rules.setAccessibleName("Rules")
        self.rules.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rules.setFixedWidth(220)
        off = str(QSettings(*_SETTINGS).value(_OFF, "")).split()
        for rule in RULES:
            item = QListWidgetItem(rule.title)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Unchecked if rule.id in off else Qt.CheckState.Checked)
            item.setToolTip(f"{rule.says}\nSource: {rule.source}.")
            self.rules.addItem(item)
        self.rules.itemChanged.connect(self._on_switched)
        self.rules.currentRowChanged.connect(self._tell_rule)
        self.told = QLabel()
        self.told.setWordWrap(True)
        self.told.setObjectName("faint")
        self.table = plain_table("Remarks", ("Rule", "Remark"), wide=1)
        self.table.itemSelectionChanged.connect(self._on_chosen)
        bar, halves, right = QHBoxLayout(), QHBoxLayout(), QVBoxLayout()
        bar.addWidget(self.go)
        bar.addWidget(self.state, 1)
        right.addWidget(self.rules, 1)
        halves.addWidget(self.table, 1)
        halves.addLayout(right)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addLayout(halves, 1)
        layout.addWidget(self.told)
        session.sensed.connect(self._on_sensed)

    def look(self) -> None:
        self._session.look_as_a_shop()
        self.state.setText("The part is looked over. You can go on working.")

    def _on_sensed(self, job: OpenJob, content: Content, found: tuple[Finding, ...] | None) -> None:
        self._found.keep(job, content, found)
        self._refresh_seen()

    @property
    def listed(self) -> tuple[Finding, ...] | None:
        """The remarks on the part as it is now, by the rules that are on; None while it was not looked over."""
        if (found := self._found.now) is None:
            return None
        on = {rule.id for at, rule in enumerate(RULES) if self._is_on(at)}
        return tuple(f for f in found if f.rule in on)

    def _is_on(self, at: int) -> bool:
        item = self.rules.item(at)
        return item is not None and item.checkState() == Qt.CheckState.Checked

    def _on_switched(self) -> None:
        """The shop's own choice of rules holds for every job."""
        off = [rule.id for at, rule in enumerate(RULES) if not self._is_on(at)]
        QSettings(*_SETTINGS).setValue(_OFF, " ".join(off))
        self.refresh()

    def _tell_rule(self, at: int) -> None:
        if 0 <= at < len(RULES):
            rule = RULES[at]
            self.told.setText(f"{rule.title}: {rule.says} Source: {rule.source}.")

    def _on_chosen(self) -> None:
        row, listed = self.table.currentRow(), self.listed or ()
        if 0 <= row < len(listed):
            self._picking.show(listed[row].faces)
            self._tell_rule(next(at for at, rule in enumerate(RULES) if rule.id == listed[row].rule))

    def refresh(self) -> None:
        listed, row = self.listed, self.table.currentRow()
        titles = {rule.id: rule.title for rule in RULES}
        self.table.blockSignals(True)
        self.table.setRowCount(len(listed or ()))
        for at, found in enumerate(listed or ()):
            for column, text in enumerate((titles[found.rule], found.words)):
                item = QTableWidgetItem(text)
                item.setToolTip(text)
                self.table.setItem(at, column, item)
        self.table.setCurrentCell(row if row < len(listed or ()) else -1, 0)
        self.table.blockSignals(False)
        self.go.setEnabled(self._session.current.proof is not None)
        if listed is None:
            self.state.setText(_HOW)
        elif not listed:
            self.state.setText("Nothing is to be said against it by the rules that are on.")
        else:
            self.state.setText(f"{len(listed)} remark{'s' * (len(listed) > 1)}. Each may be meant so.")
