"""The tab Room: where another hole, or a ring of them, fits through a floor and keeps a wall to everything."""

from __future__ import annotations

import math

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFormLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout

from ...core.job import edits
from ...core.job.model import Content
from ...core.job.room import Room, RoomAsked, note_of
from ...core.quantity import evaluate
from ...core.refusal import Refusal
from ..picking import Picking
from ..seen import OfPart, SeenPanel
from ..session import Session
from ..session.documents import OpenJob
from ..theme.dressing import call
from ..viewport.pins import Laid, Pin

_HOW = (
    "Pick the flat face the holes go through; for a ring about another axis than the one through zero, a round face "
    "besides (Ctrl+click). The part is looked at from above: what is air beneath that face, or stands on it, is kept "
    "clear of. The zone shaded for a diameter is where such a hole may have its middle."
)
_ZONE, _HOLE = "#3F8F5B", "#C98A2B"
_SQUARE = 1 - 1e-6


class RoomPanel(SeenPanel):
    """What was found counts only for the part it was asked of. ``pinned`` and ``laid`` carry what is shown on it."""

    pinned = pyqtSignal(tuple)
    laid = pyqtSignal(tuple)

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__(session, session.proved, session.edited, session.switched, picking.changed)
        self._picking = picking
        self._found = OfPart[tuple[RoomAsked, Room]](session)
        self.floor, self.state, self.answer = QLabel(), QLabel(_HOW), QLabel()
        self.wall, self.many, self.diameter = QLineEdit("2"), QLineEdit("1"), QLineEdit()
        for field, name, width in (
            (self.wall, "Wall to keep", 80), (self.many, "How many", 60), (self.diameter, "Shade for a hole of", 80)
        ):  # fmt: skip
            field.setAccessibleName(name)
            field.setObjectName("formula")
            field.setMaximumWidth(width)
            field.returnPressed.connect(self.look)
        self.diameter.setPlaceholderText("not")
        self.many.setToolTip("1: one hole; more: a ring of them")
        self.go, self.callout = QPushButton("Find the largest"), QPushButton("Make it a callout")
        self.go.clicked.connect(self.look)
        self.callout.clicked.connect(self.make)
        for label in (self.state, self.answer, self.floor):
            label.setWordWrap(True)
        form = QFormLayout()
        form.addRow("Through", self.floor)
        form.addRow("Keep a wall of", self.wall)
        form.addRow("Holes", self.many)
        form.addRow("Shade for Ø", self.diameter)
        bar = QHBoxLayout()
        bar.addWidget(self.go)
        bar.addWidget(self.callout)
        bar.addStretch()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addWidget(self.state)
        layout.addLayout(form)
        layout.addLayout(bar)
        layout.addWidget(self.answer)
        layout.addStretch()
        session.room_found.connect(self._on_found)

    def hideEvent(self, event: object) -> None:
        self.pinned.emit(())
        self.laid.emit(())

    # --- asking
    def _picked(self) -> tuple[str, str]:
        """The references of the flat face and of the round one that are picked; empty for none."""
        flat = turned = ""
        for index in self._picking.faces:
            figure = self._picking.figure(index)
            if figure is not None and figure.kind == "plane" and not flat:
                flat = self._picking.reference(index).name
            elif figure is not None and figure.kind in ("cylinder", "cone") and not turned:
                turned = self._picking.reference(index).name
        return flat, turned

    def look(self) -> None:
        flat, turned = self._picked()
        if not flat:
            self._session.say("Pick the flat face that the holes go through.", "bad")
            return
        try:
            ledger = self._session.content.ledger()
            wall, many = evaluate(self.wall.text(), ledger), evaluate(self.many.text() or "1", ledger, "number")
            diameter = evaluate(self.diameter.text(), ledger) if self.diameter.text().strip() else 0.0
            if wall < 0 or diameter < 0 or many != int(many) or not 1 <= many <= 100:
                raise Refusal("The wall and the diameter are not below zero, and there are 1 to 100 holes.")
        except Refusal as error:
            self._session.say(f"{error.message} Nothing was looked for.", "bad")
            return
        self._session.look_for_room(RoomAsked(flat, wall, int(many), turned, diameter))
        self.answer.setText("Room is looked for. You can go on working.")

    def _on_found(self, job: OpenJob, content: Content, asked: RoomAsked, room: Room | None) -> None:
        self._found.keep(job, content, (asked, room) if room is not None else None)
        self._refresh_seen()

    @property
    def found(self) -> tuple[RoomAsked, Room] | None:
        """What was asked of the part as it is now, and found."""
        return self._found.now

    # --- what comes of it
    def make(self) -> None:
        """The note goes on the sheet as a callout of one's own; the step is then made from it as from any other."""
        note = self._note()
        if note and (made := self._session.make(lambda c: edits.add_callout(c, note, origin="derived"), "callout")):
            self._session.say(f"Callout {made}: {note}. Pick the face and press Ctrl+Enter to drill it.", "good")
            self._session.select_callout(made)

    def _note(self) -> str:
        if self.found is None or self.found[1].found is None:
            return ""
        figure = self._picking.figure(self._picking.index_of(self.found[0].floor))
        level = figure is not None and abs(figure.axis[2]) > _SQUARE and not self.found[0].about
        return note_of(self.found[1].found, self._session.content.header.typed_style, level)

    # --- what is shown
    def refresh(self) -> None:
        flat, turned = self._picked()
        told = [self._picking.words(self._picking.index_of(name)) for name in (flat, turned) if name]
        self.floor.setText(" · ring about ".join(told) if told else "no flat face is picked")
        call(self.floor, "plain" if flat else "faint")
        self.go.setEnabled(self._session.current.proof is not None)
        self.callout.setEnabled(bool(self._note()))
        if self.found is None:
            self.answer.setText("")
            self.pinned.emit(())
            self.laid.emit(())
            return
        asked, room = self.found
        self.answer.setText(self._told(asked, room))
        if self.isVisible():
            skins = ((room.zone, _ZONE), (room.holes, _HOLE))
            self.laid.emit(tuple(Laid(skin, (color,), 0.3) for skin, color in skins if skin.values))
            self.pinned.emit(self._pins(room))

    def _told(self, asked: RoomAsked, room: Room) -> str:
        style = self._session.content.header.style
        if room.found is None:
            return room.words or f"No hole keeps a wall of {style.length(asked.wall)} {style.unit} there."
        f, unit = room.found, style.unit
        size = f"Ø{style.length(f.diameter)} {unit}"
        kept = f"It keeps {style.length(f.kept)} {unit}, measured between the hole and the faces."
        if f.many > 1:
            where = f"a ring of {f.many} of {size} on Ø{style.length(2 * f.radius)}"
            return f"The largest that fits: {where}, one at {math.degrees(f.angle) % (360 / f.many):.4g}°. {kept}"
        place = ", ".join(style.length(v) for v in self._session.current.machine.machine(f.place))
        return f"The largest that fits: {size} at {place}. {kept}"

    def _pins(self, room: Room) -> tuple[Pin, ...]:
        if room.found is None:
            return ()
        style = self._session.content.header.style
        return (Pin(f"Ø{style.length(room.found.diameter)}", room.found.place),)
