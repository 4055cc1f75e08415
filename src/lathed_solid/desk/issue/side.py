"""Beside the part's sheet: what it says of itself, callouts on no sheet, the files it goes into, and the package."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QWidget

from ...core.drafting.sheet.changing import show_holes
from ...core.plan.shop import Shop
from ...core.standards.speeds import ToolMaterial
from ..paper.board import Board
from ..paper.fields import Tick
from ..session import Session
from ..session.revising import issue_revision
from ..theme.palette import Palette
from .drawing import PartDrawing

_CAUTION = "A drawn part is not an approved part: have it checked by whoever answers for its use."
_TICKS = {
    "balloons": Tick(
        "Balloons",
        "The callout’s number in a circle, as the inspection report has it",
        lambda sheet, on: replace(sheet, balloons=on),
    ),
    "holes": Tick(
        "Table of holes",
        "Every hole tagged, with its place from machine zero; the table can be dragged",
        show_holes,
    ),
    "running": Tick(
        "Lengths from one end on one line",
        "Running dimensions: three lengths or more that begin at one end, each told at its own",
        lambda sheet, on: replace(sheet, running=on),
    ),
}


class IssueSide(QWidget):
    """``picture_wanted``: a rendered picture of the part; ``shop`` gives the shop's own figures for the package."""

    picture_wanted = pyqtSignal()

    def __init__(
        self, session: Session, drawing: PartDrawing, palette: Palette, shop: Callable[[], tuple[Shop, ToolMaterial]]
    ) -> None:
        super().__init__()
        self._shop = shop
        self._session, self._drawing = session, drawing
        self.picture = QPushButton("Picture …")
        self.picture.clicked.connect(self.picture_wanted)
        self.picture.setToolTip("The part rendered: finish, light, ground; a turn round it; all its parts")
        self.board = Board(drawing, palette, _TICKS, self._beside, session.write_sheets, self.picture)
        self.revision, self.pack = QComboBox(), QPushButton("Package …")
        self.pack.clicked.connect(self.write_package)
        self.revision.setAccessibleName("Revision to be packed")
        self.pack.setToolTip(
            "One folder or zip: sheets, operation sheet and inspection report as PDF, STEP, DXF, a picture, the job, "
            "and a manifest with hashes and what changed"
        )
        packing = QHBoxLayout()
        packing.addWidget(self.revision, 1)
        packing.addWidget(self.pack)
        self.board.stand_in(self, _CAUTION, packing)
        drawing.changed.connect(self.refresh)
        self.refresh()

    # --- what is done
    def _beside(self) -> Path:
        header = self._session.content.header
        stem = (header.number or header.name or "part").replace(" ", "-").lower()
        return self._session.beside(f"{stem}-{header.revision.lower()}")

    def write_package(self) -> None:
        """Issue the revision that is worked on, or take one that was issued, and write all that goes with it."""
        content, issued = self._session.content, self.revision.currentData()
        proof = self._session.current.proof
        if issued is None and (proof is None or proof.any_out):
            why = "is out of limits" if proof is not None else "is not measured"
            words = f"Revision {content.header.revision} {why}: nothing was issued. Prove shows what does not agree."
            self._session.say(words, "bad")
            return
        label = issued or content.header.revision
        proposed = str(self._session.beside(f"{content.header.number or content.header.name or 'part'}-{label}.zip"))
        name, _ = QFileDialog.getSaveFileName(self, "Write the package", proposed, "One file (*.zip);;A folder (*)")
        if name and (issued or issue_revision(self._session)):
            self._session.write_package(Path(name), label, *self._shop())

    # --- what is shown
    def refresh(self) -> None:
        self.picture.setEnabled(self._drawing.is_there)
        self._refresh_revisions()

    def _refresh_revisions(self) -> None:
        chosen, header = self.revision.currentData(), self._session.content.header
        self.revision.clear()
        self.revision.addItem(f"issue revision {header.revision} now", None)
        for r in reversed(self._session.current.history.state.revisions):
            self.revision.addItem(f"revision {r.label}, {r.date}", r.label)
        self.revision.setCurrentIndex(max(0, self.revision.findData(chosen)))
