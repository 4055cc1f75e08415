"""The drawing sheet that is looked at: what its views show of a document as it is now, drawn, and how it is changed."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from weakref import WeakKeyDictionary

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.drafting.sheet import changing
from ...core.drafting.sheet.compose import Composed
from ...core.drafting.sheet.homes import homes
from ...core.drafting.sheet.model import XY, Label, Sheet, SheetView
from ...core.drafting.sheet.seen import Seen
from ...core.quantity import Style
from ...core.refusal import Refusal
from ...core.route.model import FaceRef
from ..session import Session
from ..timing import one_shot
from .pointed import Pointed

Sheets = tuple[Sheet, ...]


def views_of(sheet: Sheet) -> tuple[object, ...]:
    """What of a sheet its views are drawn by."""
    return tuple((v.id, v.way, v.face, v.cut, v.detail) for v in sheet.views)


class SheetDrawing(QObject):
    """``changed`` when another picture is to be shown; ``pointed_changed`` when something else is chosen on it. What
    kind of document it is drawn from (``subject``), and what is written on it (``noun``), say those that inherit.
    """

    changed = pyqtSignal()
    pointed_changed = pyqtSignal()
    subject, noun = "part", "callout"
    #: The lines of a view that can be switched; whether views can be square to a face.
    lines: tuple[str, ...] = ("hidden", "tangent", "centres")
    has_faces = True

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._ids: WeakKeyDictionary[object, str] = WeakKeyDictionary()
        self._seen: WeakKeyDictionary[object, dict[str, tuple[object, Seen]]] = WeakKeyDictionary()
        self._wanted: object = None
        self._on = False
        #: The sheet put together, and whether that is of an earlier state: an edit does not wait for it.
        self._whole: Composed | None = None
        self._is_stale = False
        self._later = one_shot(self, 0)
        self._later.timeout.connect(self.changed)
        #: Of a sheet that was never drawn before, the views that are there already: to be looked at, no more.
        self.growing: Composed | None = None
        self.pointed = Pointed()
        #: Whether a sheet is being laid out.
        self.is_proposing = False

    # --- of the document
    @property
    def sheets(self) -> Sheets:
        raise NotImplementedError

    @property
    def written(self) -> Mapping[int, str]:
        """All that may be written on its sheets, by number, in words."""
        raise NotImplementedError

    @property
    def style(self) -> Style:
        """How lengths are written."""
        raise NotImplementedError

    @property
    def is_turned(self) -> bool:
        """Whether it is drawn as a turned part is: lying along Z, without hidden lines."""
        raise NotImplementedError

    @property
    def is_there(self) -> bool:
        """Whether there is anything to draw."""
        raise NotImplementedError

    def flat(self) -> FaceRef | None:
        """The flat face that is pointed at or picked."""
        raise NotImplementedError

    def _document(self) -> object:
        """What keeps its sheets, and what was drawn of them, while it lives."""
        raise NotImplementedError

    def _asked(self, sheet: Sheet) -> object:
        """What its views depend on."""
        raise NotImplementedError

    def _ask(self, sheet: Sheet) -> None:
        """Have the views drawn."""
        raise NotImplementedError

    def _ask_new(self, id_: str) -> None:
        """Have a sheet laid out."""
        raise NotImplementedError

    def _put_together(self, sheet: Sheet, seen: Seen) -> Composed:
        """May raise Refusal."""
        raise NotImplementedError

    def _change(self, change: Callable[[Sheets], Sheets], words: str) -> bool:
        """One edit of the document."""
        raise NotImplementedError

    def _tell_of(self, sheet: Sheet) -> None:
        """Say what a new sheet has."""
        raise NotImplementedError

    def _choose(self, number: int) -> None:
        """What is written with that number was chosen."""
        raise NotImplementedError

    # --- which sheet
    @property
    def sheet(self) -> Sheet | None:
        """The sheet looked at; the first one until another was chosen."""
        wanted = self._ids.get(self._document(), "")
        return next((s for s in self.sheets if s.id == wanted), self.sheets[0] if self.sheets else None)

    def look_at(self, id_: str) -> None:
        self._ids[self._document()] = id_
        self.point(Pointed())
        self.refresh()

    @property
    def seen(self) -> Seen | None:
        """What the views show, of the document as it is or as it was when it was last looked at."""
        sheet, own = self.sheet, self._seen.get(self._document(), {})
        return own[sheet.id][1] if sheet is not None and sheet.id in own else None

    @property
    def is_late(self) -> bool:
        """Whether what is shown is of an earlier state."""
        sheet, own = self.sheet, self._seen.get(self._document(), {})
        return sheet is not None and (sheet.id not in own or own[sheet.id][0] != self._asked(sheet))

    def look(self, on: bool) -> None:
        """Whether anybody looks at the sheet: nothing is drawn while nobody does."""
        self._on = on
        self.refresh()

    # --- drawing it
    def refresh(self) -> None:
        if not self._on:
            return
        sheet = self.sheet
        if sheet is not None and self.is_late and self.is_there:
            asked = self._asked(sheet)
            if asked != self._wanted:
                self._wanted = asked
                self._ask(sheet)
        self._is_stale, self.growing = True, None
        self._later.start()

    @property
    def composed(self) -> Composed | None:
        """The sheet as it is drawn and written, put together when it is first asked for. Of a document that has changed
        since its views were drawn it says nothing of the proof.
        """
        if self._is_stale:
            sheet, seen = self.sheet, self.seen
            self._is_stale = False
            self._whole = self._composed(sheet, seen) if sheet is not None and seen is not None else None
        return self._whole

    def _composed(self, sheet: Sheet, seen: Seen) -> Composed | None:
        try:
            return self._put_together(sheet, seen)
        except Refusal as error:
            self.session.refuse(error)
            return None

    def _grow(self, document: object, sheet: Sheet, seen: Seen) -> None:
        """Some of the views are drawn."""
        if self._on and document is self._document() and sheet == self.sheet and self.seen is None:
            self.growing = self._composed(sheet, seen)
            self.changed.emit()

    def _take(self, document: object, sheet: Sheet, asked: object, seen: Seen | None) -> None:
        """All views are drawn; None: it broke off."""
        self._wanted = None
        if seen is not None:
            self._seen.setdefault(document, {})[sheet.id] = (asked, seen)
        if self._on and document is self._document() and seen is not None:
            self.refresh()

    # --- a sheet from nothing
    def propose(self) -> None:
        """Lay out a new sheet; it is added when it comes."""
        try:
            id_ = changing.fresh_id(self.sheets)
        except Refusal as error:
            self.session.refuse(error)
            return
        if not self.is_there:
            self.session.say(f"There is no {self.subject} to draw yet.", "warn")
            return
        self.is_proposing = True
        self._ask_new(id_)
        self.changed.emit()

    def _take_new(
        self, document: object, sheet: Sheet | None, seen: Seen | None, asked: Callable[[Sheet], object]
    ) -> None:
        """A sheet was laid out (None: it broke off) of what ``asked`` says of it."""
        self.is_proposing = False
        if sheet is None or seen is None or document is not self._document():
            self.changed.emit()
            return
        made = msgspec.structs.replace(sheet, id=changing.fresh_id(self.sheets))
        self._seen.setdefault(document, {})[made.id] = (asked(made), seen)
        if self._change(lambda sheets: changing.put(sheets, made), "drawing sheet added"):
            self.look_at(made.id)
            self._tell_of(made)

    def remove_sheet(self) -> None:
        if (sheet := self.sheet) is not None:
            self._change(lambda sheets: changing.taken_out(sheets, sheet.id), "drawing sheet removed")

    # --- changing it
    def edit(self, change: Callable[[Sheet], Sheet], words: str) -> bool:
        """Change the sheet looked at; what was decided of its labels is kept with that."""
        sheet = self.sheet
        if sheet is None:
            return False
        decided = self.composed.labels if self.composed is not None else ()

        def changed(sheets: Sheets) -> Sheets:
            return changing.put(sheets, change(changing.set_labels(changing.called(sheets, sheet.id), decided)))

        return self._change(changed, words)

    def add_view(self, view: SheetView, words: str) -> None:
        made = ""

        def change(sheet: Sheet) -> Sheet:
            nonlocal made
            sheet, made = changing.add_view(sheet, view)
            return sheet

        if self.edit(change, words):
            self.point(Pointed(f"view:{made}"))

    def move(self, of: str, by: XY) -> None:
        """A label or a view dragged so far on the page (mm)."""
        what = Pointed(of)
        if of == "table:holes":
            self.edit(lambda s: changing.move_holes(s, by), "table of holes moved")
            return
        if what.view:
            self.edit(lambda s: changing.move_view(s, what.view, by), "view moved")
            return
        sheet, composed = self.sheet, self.composed
        spot = next((s for s in composed.scene.spots if s.of == of), None) if composed is not None else None
        label = sheet.label(what.number) if sheet is not None else None
        if sheet is None or spot is None or label is None:
            return
        zero = sheet.view(label.view).at
        left, bottom, right, top = spot.box
        at = (left + right) / 2 + by[0] - zero[0], (bottom + top) / 2 + by[1] - zero[1]
        words = f"{self.noun} {what.number} moved on the sheet"
        self.edit(lambda s: changing.place_label(s, what.number, at), words)

    def remove(self, of: str) -> None:
        what = Pointed(of)
        if of == "table:holes":
            self.edit(lambda s: changing.show_holes(s, False), "table of holes taken away")
        elif what.view:
            self.edit(lambda s: changing.remove_view(s, what.view), "view removed")
        elif what.number:
            words = f"{self.noun} {what.number} taken off the sheet"
            self.edit(lambda s: changing.remove_label(s, what.number), words)
        self.point(Pointed())

    def drop(self) -> None:
        """Take off the sheet what is chosen."""
        self.remove(self.pointed.of)

    def by_itself(self, number: int) -> None:
        """A label that was put by hand stands by itself again."""
        self.edit(lambda s: changing.place_label(s, number, None), f"{self.noun} {number} placed by itself")

    def write(self, numbers: Sequence[int], view: str = "") -> None:
        """Put labels on the sheet, by the view that shows each best or by ``view``."""
        sheet, seen = self.sheet, self.seen
        if sheet is None or seen is None:
            return
        wanted = dict.fromkeys(numbers, view) if view else self._homes(numbers, sheet, seen)
        labels = [Label(number=n, view=wanted[n]) for n in numbers if n in wanted]
        if labels and self.edit(lambda s: changing.set_labels(s, labels), f"{self.noun}s put on the sheet"):
            many = len(labels)
            self.session.say(f"{many} {self.noun}{'s' * (many > 1)} put on the sheet.", "good")
        if rest := [n for n in numbers if n not in wanted]:
            told = ", ".join(map(str, rest))
            words = f"No view of this sheet shows {self.noun} {told}. Add a view or a section that does."
            self.session.say(words, "warn")

    def _homes(self, numbers: Sequence[int], sheet: Sheet, seen: Seen) -> Mapping[int, str]:
        """The view by which each is best written, of those that can be."""
        return homes([h for h in seen.holds if h.number in numbers], sheet, seen)

    # --- pointing
    def point(self, what: Pointed) -> None:
        if what.number:
            self._choose(what.number)
        if what != self.pointed:
            self.pointed = what
            self.pointed_changed.emit()

    @property
    def chosen_view(self) -> SheetView | None:
        """The view that is chosen, or that the chosen label is written by."""
        sheet = self.sheet
        if sheet is None:
            return None
        label = sheet.label(self.pointed.number) if self.pointed.number else None
        wanted = self.pointed.view or (label.view if label is not None else "")
        return next((v for v in sheet.views if v.id == wanted), None)
