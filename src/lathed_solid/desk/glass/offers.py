"""What can be read off the sheet by itself, to be accepted one by one or all together; what was read off a picture
and is not sure is marked, and reviewed by keys.
"""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QImage, QPixmap, QTransform
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ...core.callout import Callout, NoteError
from ...core.callout.words import pretty
from ...core.drawing.paper import Raster, is_only_picture
from ...core.drawing.proposals import PICTURE, Proposal, unit_clash
from ...core.drawing.scan.model import SheetText
from ...core.job import edits
from ..session import Session
from .overlay import Mark
from .panel import Glass
from .pictures import SheetKey
from .progress import ReadingState
from .review import Review

#: The piece of the picture beside an offer, pixels.
_PIECE = QSize(92, 24)


class _Key(NamedTuple):
    """By content: drawings of different jobs may have the same id. By unit: it decides what reads as a note."""

    blob: str
    sheet: int
    turned: int
    unit: str


class _Piece(NamedTuple):
    """A crop that was asked for: which offer's."""

    key: _Key
    offer: Proposal
    is_large: bool


class Offers(QWidget):
    def __init__(self, session: Session, glass: Glass) -> None:
        super().__init__()
        self._session, self._glass = session, glass
        self._read: dict[_Key, tuple[Proposal, ...]] = {}
        self._texts: dict[SheetKey, SheetText] = {}
        self._pieces: dict[Proposal, QIcon] = {}
        self._asked: set[_Key] = set()
        #: Readings whose judgement is still on its way.
        self._judging = 0
        self._judged: set[_Key] = set()
        self._key: _Key | None = None
        self._dismissed: set[Proposal] = set()
        self.offers: list[Proposal] = []
        self.reading = ReadingState(session, glass.papers.pictures)
        self.state = self.reading.words
        self.review = Review(session)
        self.list = QListWidget()
        self.list.setAccessibleName("What can be read off the sheet")
        self.list.setIconSize(_PIECE)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.one, self.all, self.none = QPushButton("Accept"), QPushButton("Accept all"), QPushButton("Not a size")
        self._lay_out()
        self._connect()
        self.refresh()

    def _lay_out(self) -> None:
        row = QHBoxLayout()
        for button in (self.one, self.none, self.all):
            row.addWidget(button)
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 8, 12, 10)
        layout.addWidget(self.reading)
        layout.addWidget(self.list, 1)
        layout.addWidget(self.review)
        layout.addLayout(row)

    def _connect(self) -> None:
        glass = self._glass
        self.list.currentRowChanged.connect(self._on_row)
        self.one.clicked.connect(self.accept_chosen)
        self.all.clicked.connect(self.accept_all)
        self.none.clicked.connect(self.dismiss)
        self.review.taken.connect(self._on_taken)
        self.review.stepped.connect(self._step)
        self.review.dropped.connect(self.dismiss)
        self.reading.again.connect(self._again)
        glass.changed.connect(self.refresh)
        glass.papers.ready.connect(lambda _: self.refresh())
        glass.papers.offered.connect(self._on_offered)
        glass.papers.rendered.connect(self._on_piece)
        glass.papers.pictures.read.connect(self._on_text)
        glass.papers.pictures.failed.connect(self._on_failed)
        glass.canvas.offer_chosen.connect(self._on_offer)
        self._session.edited.connect(self.refresh)

    # --- reading
    def refresh(self) -> None:
        """Offers of the shown sheet that are not balloons already and were not turned down."""
        content, glass = self._session.content, self._glass
        paper, drawing = glass.paper, glass.drawing
        self._key = None
        if paper is not None and drawing is not None:
            key = self._key = _Key(drawing.blob, glass.sheet, drawing.turned, content.header.units)
            if key not in self._asked:
                self._asked.add(key)
                glass.papers.offer(paper, glass.sheet, content.ledger(), key)
            if key in self._read and self.is_picture:
                self._look(key)
        read = self._read.get(self._key, ()) if self._key is not None else ()
        placed = [c for c in content.callouts if c.place is not None and c.place.drawing == glass.drawing_id]
        self.offers = [p for p in read if p not in self._dismissed and not any(_same(p, c) for c in placed)]
        self._show()

    @property
    def is_picture(self) -> bool:
        """Whether the shown sheet says nothing itself, as far as that is known: its text may still be on its way."""
        paper, sheet = self._glass.paper, self._glass.sheet
        return paper is not None and paper.has_read(sheet) and is_only_picture(paper, sheet)

    @property
    def is_settled(self) -> bool:
        """Whether all that is read of the shown sheet is shown."""
        return self._key in self._read and not self._judging and not self.reading.at_work

    def _on_offered(self, key: object, found: tuple[Proposal, ...]) -> None:
        if not isinstance(key, _Key):
            return
        if key in self._judged:
            self._judging = max(0, self._judging - 1)
        self._read[key] = found
        self.refresh()

    def _look(self, key: _Key) -> None:
        """Have the picture read, or judge what was read of it."""
        drawing, at = self._glass.drawing, SheetKey(*key[:3])
        known = self._texts.get(at)
        if drawing is not None and known is None:
            self._texts[at] = _NOTHING
            self.reading.ask(drawing, key.sheet)
        elif known is not None and known is not _NOTHING and key not in self._judged:
            self._judge(at, known)  # read before, in another unit

    def _again(self) -> None:
        """The extra is here now, or reading is to be tried once more."""
        if self._key is not None:
            self._texts.pop(SheetKey(*self._key[:3]), None)
            self._look(self._key)

    def _on_text(self, key: SheetKey, text: SheetText) -> None:
        self._texts[key] = text
        self._judge(key, text)

    def _on_failed(self, key: object, words: str) -> None:
        """Let go for another sheet, a sheet is read when it is shown again."""
        if isinstance(key, SheetKey) and not words and (self._key is None or SheetKey(*self._key[:3]) != key):
            self._texts.pop(key, None)

    def _judge(self, at: SheetKey, text: SheetText) -> None:
        ledger = self._session.content.ledger()
        key = _Key(*at, ledger.length_unit)
        self._judged.add(key)
        self._judging += 1
        self._glass.papers.judge(text, at.sheet, ledger, key)

    # --- showing
    def _show(self) -> None:
        row = self.list.currentRow()
        held = self.review.offer
        self.list.blockSignals(True)
        self.list.clear()
        for offer in self.offers:
            self.list.addItem(self._item(offer))
        self.list.blockSignals(False)
        if held in self.offers:
            row = self.offers.index(held)
        self.list.setCurrentRow(min(row, self.list.count() - 1) if row >= 0 else -1)
        self._on_row(self.list.currentRow())  # an emptied list tells of no change
        clash = unit_clash(self._glass.paper, self._session.content.header.units)
        any_ = bool(self.offers) and not clash
        for button in (self.one, self.all, self.none):
            button.setEnabled(any_)
        sizes = [o for o in self.offers if o.is_size]
        sure = [o for o in sizes if o.sure]
        self.all.setText("Accept all" if len(sure) == len(self.offers) else f"Accept {len(sure)} sure")
        self.all.setEnabled(bool(sure) and not clash)
        self.review.setVisible(self.is_picture and any_)
        self.state.setText(clash or self._words(len(sizes), len(sure)))
        self._glass.canvas.offers = [Mark(i, o.x, o.y, not o.sure) for i, o in enumerate(self.offers)]
        self._glass.canvas.update()

    def _words(self, sizes: int, sure: int) -> str:
        key, is_picture = self._key, self.is_picture
        text = self._texts.get(SheetKey(*key[:3])) if key is not None else None
        self.reading.show_for(SheetKey(*key[:3]) if key is not None and is_picture and key in self._read else None)
        if self._glass.drawing is None:
            return "Open a drawing; what can be read off it is offered here."
        if key is None or key not in self._read:
            return "The sheet is being read …"
        if is_picture and (words := self.reading.at_work):
            return words
        if self.offers and is_picture:
            by_hand = "This looks hand-lettered; sizes are read with care. " if text and _by_hand(text) else ""
            return f"{by_hand}{sizes} sizes read from the picture, {sure} of them sure. Look at those marked ?."
        if self.offers:
            return f"{sizes} sizes can be read. Look at each; nothing is taken by itself."
        if self._read.get(key):
            return "Everything that could be read is settled."
        return "No text can be read off this sheet. Click each size and type it."

    def _item(self, offer: Proposal) -> QListWidgetItem:
        words = pretty(offer.note) if offer.sure else f"?  {pretty(offer.note)}"
        item = QListWidgetItem(words)
        item.setToolTip("\n".join([pretty(offer.note), offer.source, *(f"Look at it: {d}." for d in offer.doubts)]))
        item.setData(Qt.ItemDataRole.UserRole, offer)
        if not offer.sure:
            if offer in self._pieces:
                item.setIcon(self._pieces[offer])
            else:
                self._pieces[offer] = QIcon()  # asked for once
                self._ask_piece(offer, False)
        return item

    def _ask_piece(self, offer: Proposal, is_large: bool) -> None:
        """The offer's piece of the picture, with what stands close to it."""
        paper = self._glass.paper
        if paper is None or self._key is None or not any(offer.box):
            return
        left, top, right, bottom = offer.box
        w, h = paper.size(offer.sheet)
        room = 0.35 * min((bottom - top) * h, (right - left) * w)
        box = (max(0, left - room / w), max(0, top - room / h), min(1, right + room / w), min(1, bottom + room / h))
        across = 480 if is_large else 240
        width = round(across * (box[2] - box[0]) * w / max((box[2] - box[0]) * w, (box[3] - box[1]) * h))
        self._glass.papers.render(paper, offer.sheet, box, max(8, width), _Piece(self._key, offer, is_large))

    def _on_piece(self, key: object, raster: Raster) -> None:
        if not isinstance(key, _Piece):
            return
        drawing = self._glass.drawing
        turns = (drawing.turned if drawing is not None else 0) + key.offer.turned
        if key.is_large:
            if key.offer == self.review.offer:
                self.review.show_piece(raster, turns)
            return
        image = QImage(raster.rgb, raster.width, raster.height, 3 * raster.width, QImage.Format.Format_RGB888)
        image = image.transformed(QTransform().rotate(90 * turns))
        keep, smooth = Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        piece = QPixmap.fromImage(image).scaled(_PIECE, keep, smooth)
        icon = self._pieces[key.offer] = QIcon(piece)
        icon.addPixmap(piece, QIcon.Mode.Selected)  # paper stays white under the choice
        for row in range(self.list.count()):
            item = self.list.item(row)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == key.offer:
                item.setIcon(icon)

    def _on_row(self, row: int) -> None:
        offer = self.offers[row] if 0 <= row < len(self.offers) else None
        self._glass.canvas.offered = row if row >= 0 else None
        if offer is not None:
            self._glass.canvas.center_on(offer.x, offer.y)
        if offer is not None and offer != self.review.offer and self.is_picture:
            self._ask_piece(offer, True)
        self.review.show_offer(offer if self.is_picture else None)
        self._glass.canvas.update()

    def _step(self, by: int) -> None:
        self.list.setCurrentRow(min(max(0, self.list.currentRow() + by), self.list.count() - 1))

    def _on_offer(self, number: int) -> None:
        """Clicking a tag on the sheet chooses it here; clicking the chosen one accepts it, when it is sure."""
        if self.list.currentRow() == number and self.offers[number].sure:
            self.accept_chosen()
            return
        self.list.setCurrentRow(number)
        if self.is_picture:
            self.review.line.setFocus()

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
        if self.is_picture and self.review.offer is not None:
            self._on_taken(self.review.line.text())
            return
        row = max(0, self.list.currentRow())
        if row < len(self.offers) and self._accepted([self.offers[row]]):
            self._session.say(f"Callout {self._session.content.callouts[-1].number} accepted.", "good")

    def _on_taken(self, text: str) -> None:
        """The reviewed offer as it stands in the line; the next one follows."""
        offer = self.review.offer
        if offer is None or offer not in self.offers:
            return
        row = self.offers.index(offer)
        kept = " ".join(offer.note.split()) == " ".join(text.split())
        note, source = (offer.note, PICTURE) if kept else (text.strip(), f"{PICTURE}, corrected")
        try:
            self._session.content.ledger().try_note(note)
        except NoteError as error:
            self.review.refuse(f"{error.message} Type what the picture says, or choose “Not a size”.")
            return
        if not self._accepted([offer._replace(note=note, source=source)]):
            return
        self._session.say(f"Callout {self._session.content.callouts[-1].number} accepted.", "good")
        self.list.setCurrentRow(min(row, self.list.count() - 1))

    def accept_all(self) -> None:
        """All that are sure."""
        sure = [o for o in self.offers if o.sure]
        count = self._accepted(sure) if sure and self.all.isEnabled() else 0
        if count:
            self._session.say(f"{count} callouts accepted. Undo takes all of them back.", "good")

    def dismiss(self) -> None:
        row = max(0, self.list.currentRow())
        if row < len(self.offers):
            self._dismissed.add(self.offers[row])
            self.refresh()
            self.list.setCurrentRow(min(row, self.list.count() - 1))


#: Stands for a sheet that is being read.
_NOTHING = SheetText(runs=(), size=(1.0, 1.0), dots=0.0)


def _by_hand(text: SheetText) -> bool:
    from ...core.drawing.scan.doubting import BY_HAND

    return text.unlike > BY_HAND


def _same(offer: Proposal, callout: Callout) -> bool:
    """Whether a balloon already stands for an offer: the same place, or the same note very near."""
    place = callout.place
    if place is None or place.sheet != offer.sheet:
        return False
    near = abs(place.x - offer.x) < 0.03 and abs(place.y - offer.y) < 0.03
    same = " ".join(callout.note.split()).casefold() == " ".join(offer.note.split()).casefold()
    return near and (same or (abs(place.x - offer.x) < 0.012 and abs(place.y - offer.y) < 0.012))
