"""What can be read off the sheet by itself, to be accepted one by one or all together."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ...core.callout import Callout, NoteError
from ...core.callout.words import pretty
from ...core.drawing.proposals import Proposal, unit_clash
from ...core.job import edits
from ..session import Session
from .canvas import Mark
from .panel import Glass


class _Key(NamedTuple):
    """By content: drawings of different jobs may have the same id. By unit: it decides what reads as a note."""

    blob: str
    sheet: int
    unit: str


class Offers(QWidget):
    def __init__(self, session: Session, glass: Glass) -> None:
        super().__init__()
        self._session, self._glass = session, glass
        self._read: dict[_Key, tuple[Proposal, ...]] = {}
        self._asked: set[_Key] = set()
        self._key: _Key | None = None
        self._dismissed: set[Proposal] = set()
        self.offers: list[Proposal] = []
        self.state = QLabel()
        self.state.setWordWrap(True)
        self.state.setObjectName("faint")
        self.list = QListWidget()
        self.list.setAccessibleName("What can be read off the sheet")
        self.list.currentRowChanged.connect(self._on_row)
        self.one, self.all, self.none = QPushButton("Accept"), QPushButton("Accept all"), QPushButton("Not a size")
        self.one.clicked.connect(self.accept_chosen)
        self.all.clicked.connect(self.accept_all)
        self.none.clicked.connect(self.dismiss)
        row = QHBoxLayout()
        for button in (self.one, self.none, self.all):
            row.addWidget(button)
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 8, 12, 10)
        layout.addWidget(self.state)
        layout.addWidget(self.list, 1)
        layout.addLayout(row)
        glass.changed.connect(self.refresh)
        glass.papers.ready.connect(lambda _: self.refresh())
        glass.papers.offered.connect(self._on_offered)
        glass.canvas.offer_chosen.connect(self._on_offer)
        session.edited.connect(self.refresh)
        self.refresh()

    # --- reading
    def refresh(self) -> None:
        """Offers of the shown sheet that are not balloons already and were not turned down."""
        content, glass = self._session.content, self._glass
        paper, drawing = glass.paper, glass.drawing
        self._key = None
        if paper is not None and drawing is not None:
            key = self._key = _Key(drawing.blob, glass.sheet, content.header.units)
            if key not in self._asked:
                self._asked.add(key)
                glass.papers.offer(paper, glass.sheet, content.ledger(), key)
        read = self._read.get(self._key, ()) if self._key is not None else ()
        placed = [c for c in content.callouts if c.place is not None and c.place.drawing == glass.drawing_id]
        self.offers = [p for p in read if p not in self._dismissed and not any(_same(p, c) for c in placed)]
        self._show()

    def _on_offered(self, key: object, found: tuple[Proposal, ...]) -> None:
        if isinstance(key, _Key):
            self._read[key] = found
            self.refresh()

    def _show(self) -> None:
        row = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        for offer in self.offers:
            item = QListWidgetItem(pretty(offer.note))
            item.setToolTip(f"{pretty(offer.note)}\n{offer.source}")
            item.setData(Qt.ItemDataRole.UserRole, offer)
            self.list.addItem(item)
        self.list.blockSignals(False)
        self.list.setCurrentRow(min(row, self.list.count() - 1) if row >= 0 else -1)
        clash = unit_clash(self._glass.paper, self._session.content.header.units)
        any_ = bool(self.offers) and not clash
        for button in (self.one, self.all, self.none):
            button.setEnabled(any_)
        if self._glass.drawing is None:
            words = "Open a drawing; what can be read off it is offered here."
        elif self._key is None or self._key not in self._read:
            words = "The sheet is being read …"
        elif clash:
            words = clash
        elif any_:
            words = f"{len(self.offers)} sizes can be read. Look at each; nothing is taken by itself."
        elif self._read.get(self._key):
            words = "Everything that could be read is settled."
        else:
            words = "No text can be read off this sheet. Click each size and type it."
        self.state.setText(words)
        self._glass.canvas.offers = [Mark(i, o.x, o.y) for i, o in enumerate(self.offers)]
        self._glass.canvas.update()

    def _on_row(self, row: int) -> None:
        self._glass.canvas.offered = row if row >= 0 else None
        if 0 <= row < len(self.offers):
            self._glass.canvas.center_on(self.offers[row].x, self.offers[row].y)
        self._glass.canvas.update()

    def _on_offer(self, number: int) -> None:
        """Clicking a tag on the sheet chooses it here; clicking the chosen one accepts it."""
        if self.list.currentRow() == number:
            self.accept_chosen()
        else:
            self.list.setCurrentRow(number)

    # --- taking
    def _accepted(self, offers: list[Proposal]) -> int:
        content, glass = self._session.content, self._glass
        for offer in offers:
            place = glass.place_at(offer.x, offer.y)
            try:
                content, _ = edits.add_callout(content, offer.note, "", "drawing", place, offer.source)
            except NoteError as error:
                self._session.say(str(error), "bad")
                return 0
        words = "offer accepted" if len(offers) == 1 else f"{len(offers)} offers accepted"
        self._session.take(content, words)
        self._session.select_callout(content.callouts[-1].number)
        return len(offers)

    def accept_chosen(self) -> None:
        if not self.one.isEnabled():
            return
        row = max(0, self.list.currentRow())
        if row < len(self.offers) and self._accepted([self.offers[row]]):
            self._session.say(f"Callout {self._session.content.callouts[-1].number} accepted.", "good")

    def accept_all(self) -> None:
        count = self._accepted(list(self.offers)) if self.all.isEnabled() else 0
        if count:
            self._session.say(f"{count} callouts accepted. Undo takes all of them back.", "good")

    def dismiss(self) -> None:
        row = max(0, self.list.currentRow())
        if row < len(self.offers):
            self._dismissed.add(self.offers[row])
            self.refresh()


def _same(offer: Proposal, callout: Callout) -> bool:
    """Whether a balloon already stands for an offer: the same place, or the same note very near."""
    place = callout.place
    if place is None or place.sheet != offer.sheet:
        return False
    near = abs(place.x - offer.x) < 0.03 and abs(place.y - offer.y) < 0.03
    same = " ".join(callout.note.split()).casefold() == " ".join(offer.note.split()).casefold()
    return near and (same or (abs(place.x - offer.x) < 0.012 and abs(place.y - offer.y) < 0.012))
