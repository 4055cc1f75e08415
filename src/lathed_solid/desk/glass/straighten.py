"""A photographed sheet made straight: its corners as handles on the canvas, a bar that says which paper it is."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QPointF, Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QWidget

from ...core.drawing.paper import Drawing
from ...core.drawing.scan.papers import SHEETS, likely_sheet
from ...core.job import reading
from ...worker.picture_process import CornersFound, Flat
from ..session import Session
from .canvas import GlassCanvas
from .pictures import Pictures


class StraightenBar(QWidget):
    """Which paper, do it, leave it."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 4, 10, 4)
        self.words = QLabel("Looking for the corners of the sheet …")
        self.words.setObjectName("faint")
        self.paper = QComboBox()
        self.paper.setAccessibleName("Paper")
        for name, (long, short) in SHEETS.items():
            self.paper.addItem(f"{name}  {long:g} x {short:g} mm", name)
        self.do, self.leave = QPushButton("Make it straight"), QPushButton("Leave it")
        self.back = QPushButton("As it was opened")
        row.addWidget(self.words)
        row.addStretch()
        for widget in (self.paper, self.do, self.back, self.leave):
            row.addWidget(widget)
        self.hide()

    def show_paper(self, name: str) -> None:
        self.paper.setCurrentIndex(max(0, self.paper.findData(name)))


class Straightening(QObject):
    """Begun for one drawing; nothing changes before the answer is here, and undo brings the photograph back."""

    def __init__(self, session: Session, pictures: Pictures, canvas: GlassCanvas) -> None:
        super().__init__()
        self._session, self._pictures, self._canvas = session, pictures, canvas
        self.bar = StraightenBar()
        self._drawing: Drawing | None = None
        self.bar.do.clicked.connect(self.do)
        self.bar.leave.clicked.connect(self.leave)
        self.bar.back.clicked.connect(self.put_back)
        canvas.left_alone.connect(self.leave)
        pictures.cornered.connect(self._on_corners)
        pictures.flattened.connect(self._on_flat)
        pictures.failed.connect(self._on_failed)

    @property
    def is_on(self) -> bool:
        return self._drawing is not None

    def begin(self, drawing: Drawing) -> None:
        """Handles at the sheet's corners, as they were found or as they were left."""
        self._drawing = drawing
        self.bar.words.setText("Looking for the corners of the sheet …")
        self.bar.do.setEnabled(False)
        self.bar.back.setVisible(bool(drawing.original))
        self.bar.show()
        self._pictures.corners(drawing, drawing.blob, 1)

    def leave(self) -> None:
        self._drawing = None
        self.bar.hide()
        self._canvas.take_corners(())

    def _on_corners(self, blob: object, found: CornersFound) -> None:
        if self._drawing is None or blob != self._drawing.blob:
            return
        words = "Drag each handle onto its corner of the paper." if found.found else (
            "No sheet stands out from its ground: drag each handle onto its corner of the paper."
        )  # fmt: skip
        self.bar.words.setText(words)
        self.bar.show_paper(likely_sheet(found.proportion, self._session.content.header.units))
        self.bar.do.setEnabled(True)
        self._canvas.take_corners(tuple(QPointF(x, y) for x, y in found.corners))

    def do(self) -> None:
        if self._drawing is None:
            return
        corners = tuple((p.x(), p.y()) for p in self._canvas.corners)
        self.bar.words.setText("The sheet is being laid flat …")
        self.bar.do.setEnabled(False)
        self._pictures.straighten(
            self._drawing, self._drawing.blob, 1, corners, SHEETS[str(self.bar.paper.currentData())]
        )

    def _on_flat(self, blob: object, flat: Flat) -> None:
        """The straight sheet stands for the photograph, which the job keeps."""
        drawing, session = self._drawing, self._session
        if drawing is None or blob != drawing.blob:
            return
        name = session.store.put(flat.jpeg)
        self.leave()
        words = f"{drawing.name} made straight"
        if session.edit(lambda c: reading.straightened(c, drawing.id, name, flat.matrix), words):
            session.say("The sheet lies straight. Set its scale by one length you know.", "good")

    def put_back(self) -> None:
        """The photograph again, as it was opened."""
        drawing = self._drawing
        self.leave()
        if drawing is not None:
            self._session.edit(lambda c: reading.as_photographed(c, drawing.id), f"{drawing.name} as it was opened")

    def _on_failed(self, key: object, words: str) -> None:
        if self._drawing is not None and key == self._drawing.blob:
            self.bar.do.setEnabled(bool(self._canvas.corners))
            self.bar.words.setText(words)
