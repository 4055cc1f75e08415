"""The tab Walls: where the part is thinnest, lit and written on it."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
)

from ...core.arrays import Floats
from ...core.job.model import Content
from ...core.kernel.ground.figures import Vector, Wall, Walls
from ...core.quantity import ExpressionError, evaluate
from ..lists import plain_table
from ..picking import Picking
from ..seen import OfPart, SeenPanel
from ..session import Session
from ..session.documents import OpenJob
from ..theme.dressing import call
from ..viewport.pins import Laid, Pin
from .wallscale import Scale, color_of

_HOW = (
    "Rays through the material find where it is thin, the kernel measures those places between the faces themselves. "
    "Cosmetic threads are no faces: reckon with their depth."
)
#: So many are listed, and so many told in the report.
_LISTED, _TOLD = 60, 3


#: Where no wall is named, the scale ends at so many times the thinnest.
_WIDE = 4.0


class WallsPanel(SeenPanel):
    """What was found counts only for the part it was looked for on. ``pinned`` carries what is written on it, ``laid``
    the map over it.
    """

    pinned = pyqtSignal(tuple)
    laid = pyqtSignal(tuple)

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__(session)
        self._picking = picking
        self._found = OfPart[Walls](session)
        self._behind: tuple[Walls, Floats] | None = None
        self.go, self.least, self.state = QPushButton("Find the thin walls"), QLineEdit(), QLabel(_HOW)
        self.go.clicked.connect(self.look)
        self.least.setAccessibleName("Thinner than")
        self.least.setPlaceholderText("all")
        self.least.setObjectName("formula")
        self.least.setMaximumWidth(90)
        self.least.editingFinished.connect(self._on_least)
        self.state.setWordWrap(True)
        self.table = plain_table("Thinnest walls", ("Thick", "Between", "and", ""), wide=1)
        self.table.itemSelectionChanged.connect(self._on_chosen)
        bar = QHBoxLayout()
        self.map, self.scale = QCheckBox("Map on the part"), Scale()
        self.map.setToolTip("Colours every place by how thick the material is behind it; point at one to read it")
        self.map.toggled.connect(self.refresh)
        bar.addWidget(self.go)
        bar.addWidget(self.map)
        bar.addWidget(self.scale)
        bar.addStretch()
        bar.addWidget(QLabel("Only those thinner than"))
        bar.addWidget(self.least)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.state)
        layout.addWidget(self.table, 1)
        session.walls_found.connect(self._on_found)

    def hideEvent(self, event: object) -> None:
        self.pinned.emit(())
        self.laid.emit(())

    # --- looking
    def look(self) -> None:
        self._session.look_for_walls()
        self.state.setText("The thin walls are looked for. You can go on working.")

    def _on_found(self, job: OpenJob, content: Content, found: Walls | None) -> None:
        self._found.keep(job, content, found)
        self._refresh_seen()

    @property
    def every(self) -> tuple[Wall, ...]:
        """What was found on the part as it is now, the thinnest first."""
        return self.found.thinnest

    @property
    def found(self) -> Walls:
        """All that was found on the part as it is now."""
        return self._found.now or Walls()

    @property
    def listed(self) -> tuple[Wall, ...]:
        least = self._least()
        return tuple(w for w in self.every if least is None or w.thick < least - 1e-9)[:_LISTED]

    def _on_least(self) -> None:
        try:
            evaluate(self.least.text() or "1", self._session.content.ledger())
        except ExpressionError as error:
            self._session.say(f"Thinner than “{self.least.text()}”: {error.message} All walls are listed.", "bad")
        self.refresh()

    def _least(self) -> float | None:
        try:
            return evaluate(self.least.text(), self._session.content.ledger()) if self.least.text().strip() else None
        except ExpressionError:
            return None

    @property
    def words(self) -> tuple[str, ...]:
        """The thinnest for a report."""
        style = self._session.content.header.style
        told = [(w, " and ".join(self._picking.words(i) for i in w.faces)) for w in self.every[:_TOLD]]
        return tuple(f"{style.length(w.thick)} {style.unit} between {faces}" for w, faces in told)

    # --- what is shown
    def _on_chosen(self) -> None:
        row, walls = self.table.currentRow(), self.listed
        if 0 <= row < len(walls):
            self._picking.show(walls[row].faces)
        self._pin()

    def _pin(self) -> None:
        row, walls = self.table.currentRow(), self.listed
        if not 0 <= row < len(walls):
            self.pinned.emit(())
            return
        wall, style = walls[row], self._session.content.header.style
        (ax, ay, az), (bx, by, bz) = wall.ends
        middle = ((ax + bx) / 2, (ay + by) / 2, (az + bz) / 2)
        self.pinned.emit((Pin(f"wall {style.length(wall.thick)}", middle, wall.ends),))

    def refresh(self) -> None:
        walls, style, row = self.listed, self._session.content.header.style, self.table.currentRow()
        self.table.blockSignals(True)
        self.table.setRowCount(len(walls))
        for at, wall in enumerate(walls):
            faces = [self._picking.words(i) for i in wall.faces]
            for column, text in enumerate((style.fixed(wall.thick), *faces, "" if wall.exact else "about")):
                item = QTableWidgetItem(text)
                item.setToolTip(text)
                if not column:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(at, column, item)
        self.table.setCurrentCell(row if row < len(walls) else -1, 0)
        self.table.blockSignals(False)
        self.go.setEnabled(self._session.current.proof is not None)
        call(self.state, "plain" if self.every else "faint")
        self.state.setText(self._told())
        self._pin()
        self._lay()

    def _lay(self) -> None:
        """The map, if it is wanted, and its scale: as far as the wall that is named, else a few times the thinnest."""
        found, style = self.found, self._session.content.header.style
        self.map.setEnabled(bool(found.skin.values))
        wanted = self.map.isChecked() and bool(found.skin.values) and self.isVisible()
        self.scale.setVisible(wanted)
        if not wanted:
            self.laid.emit(())
            return
        thin = found.thinnest[0].thick if found.thinnest else found.skin.values[0]
        thick = self._least() or _WIDE * thin
        self.scale.show_ends(f"{style.length(thin)} {style.unit}", f"{style.length(max(thick, thin))} and more")
        span = max(thick - thin, 1e-9)
        self.laid.emit((Laid(found.skin, tuple(color_of((v - thin) / span) for v in found.skin.values)),))

    def point(self, place: Vector | None) -> None:
        """The mouse is over a place of the part: how thick it is there, about."""
        found = self.found
        if not (self.isVisible() and self.map.isChecked() and found.packed):
            return
        if place is None:
            self._pin()
            return
        if self._behind is None or self._behind[0] is not found:
            self._behind = (found, found.behind)
        behind = self._behind[1]
        thick = float(behind[np.square(behind[:, :3] - place).sum(axis=1).argmin(), 3])
        if math.isfinite(thick):
            style = self._session.content.header.style
            self.pinned.emit((Pin(f"about {style.length(thick)} {style.unit}", place),))

    def _told(self) -> str:
        every, style, least = self.every, self._session.content.header.style, self._least()
        if not every:
            return _HOW
        if least is None:
            return f"The thinnest wall is {style.length(every[0].thick)} {style.unit}."
        below = sum(w.thick < least - 1e-9 for w in every)
        return f"{below} place{'s' if below != 1 else ''} thinner than {style.length(least)} {style.unit}."
