"""The tab Measure: what is picked on the part, measured; made a callout, bound to one, or kept on the part."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut, QShowEvent
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QPushButton, QTableWidgetItem, QVBoxLayout

from ...core.job import reading
from ...core.job.measures import (
    STATED,
    as_callout,
    bound_to,
    figure_text,
    of_one_face,
    stands_alone,
    stood_on,
)
from ...core.job.model import Content, Kept
from ...core.kernel.ground.figures import Surface
from ..lists import plain_table
from ..picking import Picked, Picking
from ..seen import SeenPanel
from ..session import Session
from ..viewport.pins import Pin

if TYPE_CHECKING:
    from ...core.kernel.measure.pair import Measurable
    from ...core.kernel.measure.taken import Taken

_HOW = (
    "Pick a face, an edge, a corner, or a plane or axis of a step; with Ctrl a second one. What lies behind is picked "
    "through the part while it is see-through, or its hidden edges show."
)


class MeasurePanel(SeenPanel):
    """``shapes`` finds what is picked on the part that is shown. ``pinned`` carries what is to be written on it."""

    pinned = pyqtSignal(tuple)

    def __init__(self, session: Session, picking: Picking, shapes: Callable[[Picked], list[Measurable]]) -> None:
        super().__init__(session)
        self._picking, self._shapes = picking, shapes
        self.found: tuple[Taken, ...] = ()
        self._now: list[tuple[Kept, Taken | None]] = []
        self.table = plain_table("Measured on what is picked", ("What", "Figure"), wide=0)
        self.kept = plain_table("Kept measurements", ("Kept on the part", "Figure now"), wide=0)
        self.exact = QCheckBox("All decimals")
        self.callout, self.bind = QPushButton("Make a callout"), QPushButton("Bind to the callout")
        self.keep, self.drop = QPushButton("Keep"), QPushButton("Forget")
        self.state = QLabel(_HOW)
        self.state.setObjectName("faint")
        self.state.setWordWrap(True)
        self._lay_out()
        self.exact.toggled.connect(self.refresh)
        self.table.itemSelectionChanged.connect(self._on_chosen)
        self.kept.itemSelectionChanged.connect(self._on_kept)
        self.callout.clicked.connect(self.make)
        self.bind.clicked.connect(self.bind_chosen)
        self.keep.clicked.connect(self.keep_it)
        self.drop.clicked.connect(self.forget)
        QShortcut(QKeySequence.StandardKey.Delete, self.kept, self.forget, context=Qt.ShortcutContext.WidgetShortcut)
        picking.changed.connect(self._refresh_seen)
        session.selected.connect(self._refresh_seen)

    def _lay_out(self) -> None:
        self.callout.setToolTip("A callout with this figure, bound to the picked faces")
        self.bind.setToolTip(
            "The chosen callout is measured on the picked faces from now on; a finish, form or datum stands there"
        )
        self.keep.setToolTip("Stays written on the part and follows every change")
        bar = QHBoxLayout()
        bar.addWidget(self.state, 1)
        bar.addWidget(self.exact)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(self.table, 1)
        hands = QHBoxLayout()
        for button in (self.callout, self.bind, self.keep):
            hands.addWidget(button)
        hands.addStretch()
        left.addLayout(hands)
        right.addWidget(self.kept, 1)
        row = QHBoxLayout()
        row.addStretch()
        row.addWidget(self.drop)
        right.addLayout(row)
        halves = QHBoxLayout()
        halves.setSpacing(14)
        halves.addLayout(left, 3)
        halves.addLayout(right, 2)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addLayout(halves, 1)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._picking.measure(True)

    def hideEvent(self, event: object) -> None:
        self._picking.measure(False)
        self.pinned.emit(())

    # --- measuring
    def _measured(self, picked: Picked, near: bool = True) -> tuple[Taken, ...]:
        from ...core.kernel.measure.taken import measured

        frame = self._session.current.machine.frame
        shapes = self._shapes(picked)
        if len(shapes) not in (1, 2) or len(shapes) != picked.many:
            return ()
        found = measured(shapes, (frame.x, frame.y, frame.normal), frame.origin, near)
        one = self._picking.index_of(picked.faces[0].name) if len(shapes) == 1 and picked.faces else 0
        surface, part = self._picking.figure(one), self._picking.part
        if surface is not None and part is not None:
            mark = next((m for m in part.marks if m.face in part.names[surface.index - 1]), None)
            found += of_one_face(surface, part.surfaces, mark)
        return found

    def _kept_now(self, kept: Kept) -> Taken | None:
        """A kept figure as it is now; None when what it was measured on is not on the part."""
        picked = Picked(kept.faces, kept.edges, kept.corners)
        found = self._measured(picked, near=kept.what == "nearest")
        return next((t for t in found if t.what == kept.what), None)

    # --- what is chosen
    @property
    def chosen(self) -> Taken | None:
        row = self.table.currentRow()
        return self.found[row] if 0 <= row < len(self.found) else None

    def _picked(self) -> list[tuple[str, Surface]]:
        found = []
        for index in self._picking.faces:
            if (figure := self._picking.figure(index)) is not None:
                found.append((self._picking.reference(index).name, figure))
        return found

    def _on_chosen(self) -> None:
        taken = self.chosen
        stated = taken is not None and taken.kind in STATED
        number = self._session.callout
        self.callout.setEnabled(stated)
        self.bind.setText(f"Bind to callout {number}" if number is not None else "Bind to the callout")
        self.bind.setEnabled(stated and number is not None and bool(self._picking.faces))
        if number is not None and stands_alone(self._session.content, number):
            self.bind.setText(f"Put callout {number} on this face")
            self.bind.setEnabled(len(self._picking.faces) == 1)
        self.keep.setEnabled(taken is not None)
        self._pin()

    def _on_kept(self) -> None:
        """What a kept figure was measured on is lit."""
        row, every = self.kept.currentRow(), self._session.content.kept
        self.drop.setEnabled(0 <= row < len(every))
        if 0 <= row < len(every):
            self._picking.show(tuple(filter(None, (self._picking.index_of(f.name) for f in every[row].faces))))

    # --- what is done
    def make(self) -> None:
        if (taken := self.chosen) is None:
            return
        picked = self._picked()
        made = self._session.make(lambda c: as_callout(c, taken, picked), f"callout from “{taken.what}”")
        if made is not None:
            number, bound = made
            how = "bound to what is picked" if bound else "not bound: no gauge reads it off these faces alone"
            self._session.say(
                f"Callout {number}: {figure_text(taken.value, taken.kind, self._session.content.header.style)}, {how}.",
                "good",
            )
            self._session.select_callout(number)

    def bind_chosen(self) -> None:
        taken, number, proof = self.chosen, self._session.callout, self._session.current.proof
        if number is not None and stands_alone(self._session.content, number):
            self._put_on(number)
            return
        if taken is None or number is None or proof is None:
            return
        picked = self._picked()
        if self._session.edit(
            lambda c: bound_to(c, proof.lines, number, taken, picked), f"callout {number} bound by hand"
        ):
            self._session.say(f"Callout {number} is measured on the picked faces.", "good")

    def _put_on(self, number: int) -> None:
        """What is judged on the part itself is only shown where it stands."""
        picked = self._picked()
        if self._session.edit(lambda c: stood_on(c, number, picked), f"callout {number} put on a face"):
            self._session.say(
                f"Callout {number} stands on this face: its leader leads here on the drawing. It is judged on the "
                "part, not on the solid.",
                "good",
            )

    def keep_it(self) -> None:
        if (taken := self.chosen) is None:
            return
        picked = self._picking.picked()
        kept = Kept(id="", what=taken.what, faces=picked.faces, edges=picked.edges, corners=picked.corners)
        self._session.edit(lambda c: reading.keep(c, kept), f"kept: {taken.what}")

    def forget(self) -> None:
        row, every = self.kept.currentRow(), self._session.content.kept
        if 0 <= row < len(every):
            id_ = every[row].id
            self._session.edit(lambda c: reading.forget(c, id_), "a measurement kept no longer")

    # --- what is shown
    def refresh(self) -> None:
        style, exact = self._session.content.header.style, self.exact.isChecked()
        before = self.chosen
        picked = self._picking.picked()
        self.found, count = self._measured(picked), picked.many
        self.state.setText(_HOW if not count else self._words(count))
        self.table.blockSignals(True)
        self.table.setRowCount(len(self.found))
        for at, taken in enumerate(self.found):
            _row(self.table, at, taken.what, figure_text(taken.value, taken.kind, style, exact))
        same = next((k for k, t in enumerate(self.found) if before is not None and t.what == before.what), 0)
        self.table.setCurrentCell(same if self.found else -1, 0)
        self.table.blockSignals(False)
        self._show_kept(self._session.content)
        self._on_chosen()

    def _words(self, count: int) -> str:
        if count > 2:
            return "More than two are picked: two at a time are measured. A click without Ctrl begins anew."
        words = self._picking.told_all(self._picking.picked())
        return "  ·  ".join(words) + ("" if self.found else ": nothing to measure here.")

    def _show_kept(self, content: Content) -> None:
        style, row = content.header.style, self.kept.currentRow()
        self.kept.blockSignals(True)
        self.kept.setRowCount(len(content.kept))
        self._now = [(k, self._kept_now(k)) for k in content.kept]
        for at, (kept, taken) in enumerate(self._now):
            told = self._picking.told_all(Picked(kept.faces, kept.edges, kept.corners))
            words = f"{kept.what}: {', '.join(told)}"
            figure = (
                figure_text(taken.value, taken.kind, style, self.exact.isChecked())
                if taken is not None
                else "not on the part"
            )
            _row(self.kept, at, words, figure)
        self.kept.setCurrentCell(row if row < len(content.kept) else -1, 0)
        self.kept.blockSignals(False)
        self.drop.setEnabled(0 <= self.kept.currentRow() < len(content.kept))

    def _pin(self) -> None:
        """The chosen figure and the kept ones, on the part."""
        pins = [self._pinned(t, Picked(k.faces, k.edges, k.corners)) for k, t in self._now if t is not None]
        if (taken := self.chosen) is not None:
            pins.append(self._pinned(taken, self._picking.picked()))
        self.pinned.emit(tuple(p for p in pins if p is not None))

    def _pinned(self, taken: Taken, picked: Picked) -> Pin | None:
        from ...core.kernel.measure.pair import thing

        words = f"{taken.what} {figure_text(taken.value, taken.kind, self._session.content.header.style)}"
        if taken.ends is not None:
            a, b = taken.ends
            return Pin(words, ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2), taken.ends)
        for face in picked.faces:
            if (figure := self._picking.figure(self._picking.index_of(face.name))) is not None:
                return Pin(words, figure.center)
        places = (thing(shape) for shape in self._shapes(picked))
        return next((Pin(words, t.place) for t in places if t.kind != "free"), None)


def _row(table: object, at: int, words: str, figure: str) -> None:
    for column, text in enumerate((words, figure)):
        item = QTableWidgetItem(text)
        item.setToolTip(text)
        if column:
            item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        table.setItem(at, column, item)  # type: ignore[attr-defined]
