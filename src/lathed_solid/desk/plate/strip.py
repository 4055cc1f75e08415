"""The strip under the plate: what can still move, what is wrong, the remedies on offer, and what is chosen may take."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ..theme.dressing import call

Offer = tuple[str, Callable[[], object]]


class Strip(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("panel")
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 4, 10, 4)
        column.setSpacing(4)
        self.words = QLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self._offers, self._choices = self._row(column), self._row(column)

    @staticmethod
    def _row(column: QVBoxLayout) -> QHBoxLayout:
        """A row of buttons that never asks for more width than there is."""
        holder = QWidget()
        holder.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        column.addWidget(holder)
        return row

    def say(self, words: str, bad: bool = False) -> None:
        self.words.setText(words)
        call(self.words, "bad" if bad else "")

    def offer(self, words: str, run: Callable[[], object]) -> None:
        """A remedy: all offers go away when one is taken."""
        button = QPushButton(words)
        button.clicked.connect(lambda: self._taken(run))
        if not self._offers.count():
            self._offers.addStretch()
        self._offers.insertWidget(self._offers.count() - 1, button)

    def _taken(self, run: Callable[[], object]) -> None:
        self.withdraw()
        run()

    @property
    def offers(self) -> bool:
        return bool(self._offers.count())

    def withdraw(self) -> None:
        empty(self._offers)

    def choices(self, offers: list[Offer]) -> None:
        """What the chosen elements can take, as far as there is room; the rest hangs in a menu."""
        empty(self._choices)
        room = self.width() - 110
        rest: list[Offer] = []
        for words, run in offers:
            button = QPushButton(words, self)
            button.ensurePolished()
            button.clicked.connect(lambda _, r=run: r())
            room -= button.sizeHint().width() + 4
            if room < 0 or rest:
                rest.append((words, run))
                button.deleteLater()
            else:
                self._choices.addWidget(button)
        if rest:
            self._choices.addWidget(self._more(rest))
        if offers:
            self._choices.addStretch()

    def _more(self, offers: list[Offer]) -> QPushButton:
        button = QPushButton("More")
        menu = QMenu(button)
        for words, run in offers:
            menu.addAction(words, lambda r=run: r())
        button.setMenu(menu)
        return button


def empty(layout: QHBoxLayout) -> None:
    """Take out what a row holds, at once; a button may still be in the middle of its own click."""
    while layout.count():
        item = layout.takeAt(0)
        if item is not None and (widget := item.widget()) is not None:
            widget.hide()
            widget.deleteLater()
