"""The tab Report: the inspection report as it will be printed, and its files."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from pathlib import Path
from weakref import WeakKeyDictionary

from PyQt6.QtCore import QBuffer, Qt
from PyQt6.QtGui import QImageReader, QPainter, QPaintEvent, QPixmap, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...core.job.model import Content
from ...core.job.why.explained import Why
from ...worker.inspecting import Inspect
from ..seen import SeenPanel
from ..session import Session
from ..session.documents import OpenJob

_KINDS = "Paper (*.pdf);;Page (*.html);;Table (*.csv);;Data (*.json)"
_HOW = (
    "Every size with its limits, what the solid has, how it was measured, and the part in hand; pictures with the "
    "balloons; what is not proved. It is made beside the part."
)


class _Page(QWidget):
    """A page as wide as the room it has; read and scaled only when it comes into sight."""

    def __init__(self, data: bytes) -> None:
        super().__init__()
        self._data, self._whole, self._shown = data, QPixmap(), QPixmap()
        kept = QBuffer()
        kept.setData(data)
        size = QImageReader(kept, b"PNG").size()
        self._tall = size.height() / max(1, size.width())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.setFixedHeight(round(self.width() * self._tall))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._whole.isNull():
            self._whole.loadFromData(self._data)
        wide = round(self.width() * self.devicePixelRatioF())
        if self._shown.width() != wide:
            self._shown = self._whole.scaledToWidth(wide, Qt.TransformationMode.SmoothTransformation)
        painter = QPainter(self)
        painter.drawPixmap(self.rect(), self._shown)
        painter.end()


class ReportPanel(SeenPanel):
    """``piece`` tells which part is in hand, ``why`` what was found out about a gap, ``walls`` the thinnest
    ones in words.
    """

    def __init__(
        self,
        session: Session,
        piece: Callable[[], str],
        why: Callable[[], Why | None],
        walls: Callable[[], tuple[str, ...]],
    ) -> None:
        super().__init__(session)
        self._piece, self._why, self._walls = piece, why, walls
        self._made: WeakKeyDictionary[OpenJob, tuple[Inspect, tuple[bytes, ...]]] = WeakKeyDictionary()
        #: What the pages that are being made are to say.
        self._wanted: Inspect | None = None
        self.again, self.write = QPushButton("Make it again"), QPushButton("Write …")
        self.again.clicked.connect(self.make)
        self.write.clicked.connect(self.write_file)
        self.write.setToolTip("As paper (PDF), a page (HTML), a table (CSV) or data (JSON)")
        self.state = QLabel(_HOW)
        self.state.setObjectName("faint")
        self.state.setWordWrap(True)
        self._pages: tuple[bytes, ...] = ()
        self._sheets = QVBoxLayout()
        self._sheets.setSpacing(10)
        inside = QWidget()
        inside.setLayout(self._sheets)
        self.paper = QScrollArea()
        self.paper.setWidgetResizable(True)
        self.paper.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.paper.setAccessibleName("Pages of the report")
        self.paper.setWidget(inside)
        bar = QHBoxLayout()
        bar.addWidget(self.state, 1)
        bar.addWidget(self.again)
        bar.addWidget(self.write)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.paper, 1)
        session.inspected.connect(self._on_made)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Made when it is first looked at, and again when the part has changed since."""
        self.refresh()
        if self.can_make and self.pages is None:
            self.make()

    @property
    def can_make(self) -> bool:
        return self._session.current.proof is not None

    @property
    def pages(self) -> tuple[bytes, ...] | None:
        """The pages of the job as it is now."""
        found = self._made.get(self._session.current)
        return found[1] if found is not None and found[0] == self._asked() else None

    def _asked(self, path: str = "") -> Inspect:
        today = datetime.date.today().isoformat()
        return Inspect(0, self._session.content, path, self._piece(), today, self._why(), self._walls())

    def make(self) -> None:
        self.state.setText("The report is being made. You can go on working.")
        self._wanted = self._asked()
        self._session.inspect(self._wanted)

    def _on_made(self, job: OpenJob, content: Content, pages: tuple[bytes, ...]) -> None:
        if pages and self._wanted is not None:
            self._made[job] = (self._wanted, pages)
        self._refresh_seen()

    def write_file(self) -> None:
        header = self._session.content.header
        stem = f"{header.number or header.name}-inspection"
        name, chosen = QFileDialog.getSaveFileName(self, "Write the report", f"{stem}.pdf", _KINDS)
        if name:
            path = Path(name)
            if not path.suffix:
                path = path.with_suffix(chosen.partition("*")[2].rstrip(")") or ".pdf")
            self._session.inspect(self._asked(str(path)))

    # --- what is shown
    def refresh(self) -> None:
        found = self._made.get(self._session.current)
        for button in (self.again, self.write):
            button.setEnabled(self.can_make)
        if not self.can_make:
            self.state.setText("There is no proved part to report on yet.")
        elif found is None:
            self.state.setText(_HOW)
        elif self.pages is None:
            self.state.setText("The part has changed since this report was made.")
        else:
            self.state.setText(f"{len(found[1])} page{'s' if len(found[1]) > 1 else ''}, as they will be printed.")
        self._show()

    def _show(self) -> None:
        found = self._made.get(self._session.current)
        pages = found[1] if found is not None else ()
        if pages is self._pages:
            return
        self._pages = pages
        while (item := self._sheets.takeAt(0)) is not None:
            if (page := item.widget()) is not None:
                page.deleteLater()
        for data in pages:
            self._sheets.addWidget(_Page(data))
        self._sheets.addStretch()
