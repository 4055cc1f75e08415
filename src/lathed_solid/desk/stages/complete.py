"""The completeness look: what is missing, said twice, or does not add up; chains to watch."""

from __future__ import annotations

import logging
from concurrent.futures import ThreadPoolExecutor

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ...core.job import complete, reading
from ...core.job.model import Chain, Content
from ..session import Session
from ..timing import one_shot

log = logging.getLogger(__name__)
_SIGNS = {"missing": "?", "surplus": "+", "chain": "≠", "repeat": "=", "contradiction": "≠", "odd": "!"}
_WORDS = {
    "missing": "missing", "surplus": "too much", "chain": "does not add up", "repeat": "said twice",
    "contradiction": "contradicts", "odd": "unusual",
}  # fmt: skip


class CompletePanel(QWidget):
    """Looked at anew shortly after every edit, while it is shown; by a helper, because every size of every sketch is
    weighed against all others.
    """

    _found = pyqtSignal(object, object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._helper = ThreadPoolExecutor(1, thread_name_prefix="complete")
        self._found.connect(self._show)
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
        self.state.setText("Looking …")

        def work() -> None:
            try:
                self._found.emit(content, complete.look(content), complete.likely_chains(content))
            except Exception:
                log.exception("the drawing could not be looked through")

        self._helper.submit(work)

    def shut(self) -> None:
        self._helper.shutdown(wait=True, cancel_futures=True)

    def _show(self, content: Content, findings: tuple[complete.Finding, ...], chains: tuple[Chain, ...]) -> None:
        if content is not self._session.content:
            self._soon()  # edited meanwhile
            return
        self.findings = findings
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
        for chain in chains:
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
