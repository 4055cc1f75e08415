"""The completeness look: what is missing, said twice, or does not add up; chains to watch."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ...core.job import complete, reading
from ...core.job.model import Chain
from ..session import Session
from ..timing import one_shot

_SIGNS = {"missing": "?", "surplus": "+", "chain": "≠", "repeat": "=", "contradiction": "≠", "odd": "!"}
_WORDS = {
    "missing": "missing", "surplus": "too much", "chain": "does not add up", "repeat": "said twice",
    "contradiction": "contradicts", "odd": "unusual",
}  # fmt: skip


class CompletePanel(QWidget):
    """Looked at anew shortly after every edit, while it is shown."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.findings: tuple[complete.Finding, ...] = ()
        self.state = QLabel()
        self.list = QListWidget()
        self.list.setAccessibleName("What the drawing owes")
        self.list.setWordWrap(True)
        self.list.itemSelectionChanged.connect(self._on_row)
        self.chains = QListWidget()
        self.chains.setAccessibleName("Likely chains")
        self.chains.setMaximumWidth(250)
        self.watch = QPushButton("Watch this chain")
        self.watch.clicked.connect(self.watch_chosen)
        right = QVBoxLayout()
        title = QLabel("Lengths that add up")
        title.setObjectName("faint")
        right.addWidget(title)
        right.addWidget(self.chains, 1)
        right.addWidget(self.watch)
        left = QVBoxLayout()
        left.addWidget(self.state)
        left.addWidget(self.list, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 14, 8)
        row.setSpacing(14)
        row.addLayout(left, 3)
        row.addLayout(right, 1)
        self._later = one_shot(self, 150)
        self._later.timeout.connect(self.look)
        session.edited.connect(self._soon)
        session.switched.connect(self._soon)

    def _soon(self) -> None:
        if self.isVisible():
            self._later.start()

    def showEvent(self, event: object) -> None:
        self.look()

    def look(self) -> None:
        content = self._session.content
        self.findings = complete.look(content)
        self.list.clear()
        for finding in self.findings:
            item = QListWidgetItem(f"{_SIGNS[finding.sort]}  {_WORDS[finding.sort]}:  {finding.words}")
            item.setData(Qt.ItemDataRole.UserRole, finding)
            self.list.addItem(item)
        many, count = len(self.findings), len(content.callouts)
        if many:
            self.state.setText(f"{many} thing{'s' * (many > 1)} to settle in {count} callouts")
        else:
            self.state.setText(f"Nothing is missing in {count} callouts and {len(content.sketches)} sketches.")
        self.chains.clear()
        for chain in complete.likely_chains(content):
            words = f"{' + '.join(map(str, chain.parts))} = {chain.overall}"
            item = QListWidgetItem(words)
            item.setData(Qt.ItemDataRole.UserRole, chain)
            self.chains.addItem(item)
        self.watch.setEnabled(self.chains.count() > 0)

    def _on_row(self) -> None:
        item = self.list.currentItem()
        finding = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        if finding is not None and finding.numbers:
            self._session.select_callout(finding.numbers[0])

    def watch_chosen(self) -> None:
        """Go on checking that the chosen run makes up its overall length."""
        item = self.chains.currentItem() or self.chains.item(0)
        if item is not None:
            chain: Chain = item.data(Qt.ItemDataRole.UserRole)
            self._session.edit(lambda c: reading.add_chain(c, chain), "chain watched")
