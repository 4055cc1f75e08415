"""The Read stage: title block, calipers, logbook and completeness below; offers, outline and crib on the right."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QScrollArea, QWidget

from ..bench.capture import Capture
from ..bench.convert import ConvertPanel
from ..bench.logbook import LogbookPanel
from ..bench.panel import CaliperPanel
from ..glass.offers import Offers
from ..glass.outline import OutlinePanel
from ..glass.panel import Glass
from ..glass.traced import TracedPanel
from ..pages import Pages, Tabs
from ..session import Session
from ..theme.palette import Palette
from .complete import CompletePanel
from .crib import Crib
from .titleblock import TitleBlock


class ReadLower(Tabs):
    def __init__(self, session: Session, capture: Capture, palette: Palette) -> None:
        super().__init__()
        self.title_block = TitleBlock(session)
        self.calipers = CaliperPanel(session, capture, palette)
        self.convert = ConvertPanel(session, palette)
        self.logbook = LogbookPanel(session)
        self.complete = CompletePanel(session)
        for widget, words in (
            (self.title_block, "Title block"),
            (self.calipers, "Calipers"),
            (self.convert, "Work out"),
            (self.logbook, "Logbook"),
            (self.complete, "Complete?"),
        ):
            widget.setObjectName(widget.objectName() or "panel")
            widget.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
            self.addTab(widget, words)

    def height_wanted(self) -> int:
        """Room the shown panel needs beside a drawing, pixels."""
        return 320 if self.currentWidget() in (self.calipers, self.convert) else 240

    def dress(self, palette: Palette) -> None:
        self.calipers.dress(palette)
        self.convert.dress(palette)


class ReadSide(Tabs):
    def __init__(self, session: Session, glass: Glass) -> None:
        super().__init__()
        self.crib = Crib(session)
        self.offers, self.outline = Offers(session, glass), OutlinePanel(session, glass)
        self.addTab(_scrolled(self.crib), "Notation")
        self.addTab(self.offers, "Offers")
        self.traced = TracedPanel(session, glass)
        self.outlines = Pages()
        self.outlines.addWidget(self.outline)
        self.outlines.addWidget(self.traced)
        self.addTab(self.outlines, "Outline")
        glass.changed.connect(lambda: self._fit_outline(glass))
        glass.papers.ready.connect(lambda _: self._fit_outline(glass))
        glass.opened.connect(lambda: self.setCurrentWidget(self.offers))

    def _fit_outline(self, glass: Glass) -> None:
        """A DXF states its outline; a scan only helps to draw one."""
        paper = glass.paper
        self.outlines.setCurrentWidget(self.traced if paper is not None and paper.kind != "dxf" else self.outline)


def _scrolled(widget: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setWidget(widget)
    return area
