"""The strip under the plate: what can still move, what is wrong, and the remedies on offer."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget


class Strip(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("panel")
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 4, 10, 4)
        column.setSpacing(4)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self._offers = QHBoxLayout()
        column.addWidget(self.words)
        column.addLayout(self._offers)

    def say(self, words: str, bad: bool = False) -> None:
        self.words.setText(words)
        self.words.setObjectName("bad" if bad else "")
        style = self.words.style()
        if style is not None:
            style.unpolish(self.words)
            style.polish(self.words)

    def offer(self, words: str, run: Callable[[], object]) -> None:
        """A remedy: all offers go away when one is taken."""
        button = QPushButton(words)
        button.clicked.connect(lambda: self._taken(run))
        self._offers.addWidget(button)

    def _taken(self, run: Callable[[], object]) -> None:
        self.withdraw()
        run()

    def withdraw(self) -> None:
        empty(self._offers)


def empty(layout: QHBoxLayout) -> None:
    """Take out what a row holds, at once; a button may still be in the middle of its own click."""
    while layout.count():
        item = layout.takeAt(0)
        if item is not None and (widget := item.widget()) is not None:
            widget.hide()
            widget.deleteLater()
