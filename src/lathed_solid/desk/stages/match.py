"""The tab Find callouts: where on a solid that somebody else made the drawing's sizes are, to be bound there."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QTableWidgetItem, QVBoxLayout

from ...core.callout.words import pretty
from ...core.job.binding import bound
from ...core.job.model import Content
from ...core.prove.offer import Offer
from ...core.prove.proof import ProofLine
from ...core.prove.tabular import figure, in_style, row_of
from ..lists import plain_table
from ..picking import Picking
from ..seen import OfPart, SeenPanel
from ..session import Session
from ..session.documents import OpenJob
from ..theme.dressing import call

_HOW = (
    "For a solid from a file, or one whose steps state nothing: every open callout is looked for on the faces, by "
    "kind, size, count and place. Each offer has been read off the solid. Look at those that are not sure before you "
    "bind them."
)
_HEADS = ("No.", "Note", "Size", "Found on", "Measured", "Certainty")


class MatchPanel(SeenPanel):
    """Offers count only for the part they were made for."""

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__(session)
        self._picking = picking
        self._found = OfPart[tuple[Offer, ...]](session)
        self.go = QPushButton("Find the callouts")
        self.one, self.every = QPushButton("Bind the chosen"), QPushButton("Bind all that are sure")
        self.go.clicked.connect(self.look)
        self.one.clicked.connect(self.take_chosen)
        self.every.clicked.connect(self.take_sure)
        self.state = QLabel(_HOW)
        self.state.setWordWrap(True)
        self.table = plain_table("Callouts found on the part", _HEADS, wide=3)
        self.table.itemSelectionChanged.connect(self._on_chosen)
        bar = QHBoxLayout()
        bar.addWidget(self.go)
        bar.addStretch()
        bar.addWidget(self.one)
        bar.addWidget(self.every)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.state)
        layout.addWidget(self.table, 1)
        session.matched.connect(self._on_matched)
        self.refresh()

    # --- asking
    @property
    def open(self) -> list[ProofLine]:
        proof = self._session.current.proof
        return [x for x in proof.lines if x.mark == "open"] if proof is not None else []

    @property
    def can_look(self) -> bool:
        return bool(self.open)

    def look(self) -> None:
        self._session.match()
        self.state.setText("The callouts are looked for. You can go on working.")

    def _on_matched(self, job: OpenJob, content: Content, offers: tuple[Offer, ...] | None) -> None:
        self._found.keep(job, content, offers)
        self._refresh_seen()

    @property
    def offers(self) -> tuple[Offer, ...]:
        """What was found on the part as it is now."""
        return self._found.now or ()

    @property
    def chosen(self) -> Offer | None:
        row = self.table.currentRow()
        return self.offers[row] if 0 <= row < len(self.offers) else None

    # --- taking
    def take_chosen(self) -> None:
        if (offer := self.chosen) is not None:
            self._take((offer,))

    def take_sure(self) -> None:
        self._take(tuple(o for o in self.offers if o.is_sure))

    def _take(self, offers: tuple[Offer, ...]) -> None:
        """Bound in one edit; what else was found stays offered."""
        left = tuple(o for o in self.offers if o not in offers)
        words = f"{len(offers)} size{'s' if len(offers) != 1 else ''} bound to faces"
        if offers and self._session.edit(lambda c: bound(c, offers), words):
            self._found.keep(self._session.current, self._session.content, left)
            self._session.say(f"{words}: the proof measures them there from now on.", "good")
            self.refresh()

    # --- what is shown
    def _on_chosen(self) -> None:
        offer = self.chosen
        self.one.setEnabled(offer is not None)
        if offer is not None:
            self._session.select_callout(offer.number)
            self._picking.show(tuple(i for i in offer.faces if i))

    def refresh(self) -> None:
        offers, style, row = self.offers, self._session.content.header.style, self.table.currentRow()
        kinds = {(x.number, x.key): x for x in self.open}
        self.table.blockSignals(True)
        self.table.setRowCount(len(offers))
        for at, offer in enumerate(offers):
            line = kinds.get((offer.number, offer.key))
            kind = line.kind if line is not None else "length"
            what = row_of(line, in_style(style)).what if line is not None else offer.key
            places = list(dict.fromkeys(self._picking.words(i) for i in offer.faces if i))
            told = "; ".join(places[:3]) + (f" and {len(places) - 3} more" if len(places) > 3 else "")
            sure = "sure" if offer.is_sure else f"one of {offer.fit} places"
            cells = (str(offer.number), pretty(offer.note), what, told, figure(offer.measured, kind, style), sure)
            for column, text in enumerate(cells):
                item = QTableWidgetItem(text)
                item.setToolTip(text)
                self.table.setItem(at, column, item)
        self.table.setCurrentCell(row if row < len(offers) else -1, 0)
        self.table.blockSignals(False)
        self.go.setEnabled(self.can_look)
        self.one.setEnabled(self.chosen is not None)
        self.every.setEnabled(any(o.is_sure for o in offers))
        self._tell(offers)

    def _tell(self, offers: tuple[Offer, ...]) -> None:
        call(self.state, "plain" if offers else "faint")
        if offers:
            sure, left = sum(o.is_sure for o in offers), len(self.open)
            self.state.setText(f"{left} sizes are open; {len(offers)} of them are found, {sure} surely.")
        elif not self.can_look and self._session.current.proof is not None:
            self.state.setText("No size is open: there is nothing to look for.")
        elif self._found.was_sought:
            self.state.setText(f"{len(self.open)} sizes are open. Nothing more is found: bind the rest by hand.")
        else:
            self.state.setText(_HOW)
