"""The glass: a bar of sheets and tools over the drawing, and what happens when a place on it is clicked."""

from __future__ import annotations

import math
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ...core.callout import NoteError, Place
from ...core.drawing.paper import Drawing, is_only_picture
from ...core.drawing.proposals import near
from ...core.drawing.scan import needs
from ...core.job import edits, reading
from ...core.units import INCH
from ...worker.drawings import FarPaper
from ..pages import Pages
from ..session import Session
from ..theme.icons import icon
from ..theme.palette import Palette
from .canvas import GlassCanvas, Span
from .overlay import Mark
from .papers import Box, Papers, Spot
from .slip import Slip
from .straighten import Straightening

FILES = "Drawings (*.pdf *.png *.jpg *.jpeg *.tif *.tiff *.dxf)"


class Glass(QWidget):
    """``changed`` when another sheet is shown."""

    changed = pyqtSignal()
    opened = pyqtSignal()
    measure_wanted = pyqtSignal()
    #: Two corners of a box were clicked (Span).
    boxed = pyqtSignal(object)

    def __init__(self, session: Session, papers: Papers, palette: Palette) -> None:
        super().__init__()
        self._session, self.papers, self._palette = session, papers, palette
        self.drawing_id, self.sheet = "", 1
        self.canvas = GlassCanvas(papers, palette)
        self.slip = Slip(session, self.canvas)
        self.straightening = Straightening(session, papers.pictures, self.canvas)
        self._cut: set[tuple[str, Spot]] = set()
        self._place: tuple[float, float] | None = None
        self._span: Span | None = None
        self._build()
        self.canvas.clicked.connect(self._on_click)
        self.canvas.balloon_chosen.connect(session.select_callout)
        self.canvas.balloon_moved.connect(self._on_moved)
        self.canvas.spanned.connect(self._on_span)
        self.slip.taken.connect(self._on_taken)
        papers.added.connect(self._on_added)
        papers.ready.connect(lambda _: self.refresh())
        papers.cut.connect(self._on_cut)
        papers.refused.connect(lambda words: session.say(words, "bad"))
        session.edited.connect(self.refresh)
        session.switched.connect(self._on_switched)
        session.selected.connect(self._on_selected)

    # --- putting it together
    def _build(self) -> None:
        self._pages = Pages()
        empty = QWidget()
        column = QVBoxLayout(empty)
        words = QLabel(
            "No drawing is under the glass.\n\nOpen a PDF, a scan or photograph (PNG, JPEG, TIFF) or a DXF. Click a "
            "dimension on it, type what it says, and its balloon stands there."
        )
        words.setWordWrap(True)
        words.setAlignment(Qt.AlignmentFlag.AlignCenter)
        words.setMaximumWidth(420)
        start = QPushButton("Open a drawing")
        start.clicked.connect(self.ask_file)
        column.addStretch()
        column.addWidget(words, 0, Qt.AlignmentFlag.AlignHCenter)
        column.addSpacing(10)
        measure = QPushButton("Measure a part instead")
        measure.clicked.connect(self.measure_wanted)
        column.addWidget(start, 0, Qt.AlignmentFlag.AlignHCenter)
        column.addWidget(measure, 0, Qt.AlignmentFlag.AlignHCenter)
        column.addStretch()
        self._pages.addWidget(empty)
        self._pages.addWidget(self.canvas)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._bar())
        layout.addWidget(self.straightening.bar)
        layout.addWidget(self._pages, 1)

    def _bar(self) -> QWidget:
        bar = QWidget()
        bar.setObjectName("panel")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(bar)
        row.setContentsMargins(10, 4, 10, 4)
        row.setSpacing(4)
        self.sheets = QComboBox()
        self.sheets.setAccessibleName("Sheet")
        self.sheets.setMinimumWidth(150)
        self.sheets.activated.connect(self._on_sheet)
        row.addWidget(self.sheets)
        self._icons: list[tuple[QToolButton, str]] = []
        self._tool(row, "open", "Open a drawing", self.ask_file)
        self._tool(row, "delete", "Take this drawing out of the job", self.remove)
        row.addSpacing(8)
        self._tool(row, "turn", "Turn the sheet a quarter (R)", self.turn)
        self._tool(row, "fit", "Show the whole sheet", self.canvas.fit)
        row.addSpacing(8)
        self.tools: dict[str, QPushButton] = {}
        for name, words, tip in (
            ("read", "Read", "Click a size and type it"),
            ("scale", "Scale", "Click both ends of a length you know, then type it"),
            ("measure", "Measure", "Click both ends of a size that is not stated; it is marked as scaled"),
        ):
            button = QPushButton(words)
            button.setCheckable(True)
            button.setToolTip(tip)
            button.clicked.connect(lambda _, n=name: self.take_tool(n))
            row.addWidget(button)
            self.tools[name] = button
        self.straight = QPushButton("Straighten …")
        self.straight.setToolTip("Lay a photographed sheet flat: its corners are found, and may be dragged")
        self.straight.clicked.connect(self.straighten)
        row.addWidget(self.straight)
        row.addStretch()
        self.state = QLabel()
        self.state.setObjectName("faint")
        row.addWidget(self.state)
        self.take_tool("read")
        return bar

    def _tool(self, row: QHBoxLayout, name: str, words: str, run: object) -> QToolButton:
        button = QToolButton()
        button.setObjectName("quiet")
        button.setToolTip(words)
        button.setAccessibleName(words)
        button.setIcon(icon(name, self._palette.ink))
        button.clicked.connect(lambda: run())  # type: ignore[operator]
        row.addWidget(button)
        self._icons.append((button, name))
        return button

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        for button, name in self._icons:
            button.setIcon(icon(name, palette.ink))
        self.canvas.dress(palette)

    # --- drawings and sheets
    @property
    def drawing(self) -> Drawing | None:
        return next((d for d in self._session.content.drawings if d.id == self.drawing_id), None)

    @property
    def paper(self) -> FarPaper | None:
        drawing = self.drawing
        return self.papers.paper(drawing) if drawing is not None else None

    def ask_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a drawing", str(Path.cwd()), FILES)
        if name:
            self.open_file(Path(name))

    def open_file(self, path: Path) -> None:
        """Read a file off the window's thread; it is shown when it is there."""
        self._session.say(f"Reading {path.name} …")
        self.papers.open_file(path)

    def _on_added(self, name: str, blob: str, paper: FarPaper) -> None:
        known = next((d for d in self._session.content.drawings if d.blob == blob), None)
        if known is not None:
            self._session.say(f"{name} is already in this job.")
            self.show_sheet(known.id, 1)
            return
        content, id_ = reading.add_drawing(
            self._session.content, name, paper.kind, blob, paper.sheets, paper.natural_scale()
        )
        self.drawing_id, self.sheet = id_, 1
        self._session.take(content, f"drawing {name} opened")
        self._session.say(f"{name} is under the glass. Click a size and type it.", "good")
        self.show_sheet(id_, 1)
        self.opened.emit()

    def show_sheet(self, drawing: str, sheet: int) -> None:
        self.drawing_id, self.sheet = drawing, sheet
        self.slip.hide()
        self.straightening.leave()
        self.refresh()
        self.changed.emit()

    def light(self, drawing: str, boxes: tuple[Box, ...]) -> None:
        """Places of a drawing's first sheet, lit for what is said of them; none to let it be."""
        if boxes and (self.drawing_id, self.sheet) != (drawing, 1):
            self.show_sheet(drawing, 1)
        self.canvas.lit = boxes
        self.canvas.update()

    def _on_sheet(self, index: int) -> None:
        drawing, sheet = self.sheets.itemData(index)
        self.show_sheet(drawing, sheet)

    def remove(self) -> None:
        """Take the drawing out of the job; undo brings it back."""
        drawing = self.drawing
        if drawing is not None:
            words = f"drawing {drawing.name} taken out"
            self._session.edit(lambda c: reading.remove_drawing(c, drawing.id), words)

    def turn(self) -> None:
        drawing = self.drawing
        if drawing is not None:
            turned = (drawing.turned + 1) % 4
            self._session.edit(lambda c: reading.change_drawing(c, drawing.id, turned=turned), "sheet turned")

    def straighten(self) -> None:
        """Begin to lay the shown photograph flat."""
        if self.drawing is None:
            return
        if needs.missing():
            self._session.say("Straightening needs the extra for pictures: Offers, on the right, fetches it.", "warn")
        elif self.paper is not None and self.paper.has_read(1) and not is_only_picture(self.paper, 1):
            self._session.say("This sheet is no photograph: it was drawn by a program, and lies straight.")
        else:
            self.straightening.begin(self.drawing)

    def take_tool(self, tool: str) -> None:
        """Read, scale or measure."""
        for name, button in self.tools.items():
            button.setChecked(name == tool)
        self.slip.hide()
        self.canvas.take_tool(tool)
        hints = {
            "scale": "Click both ends of a length you know.", "measure": "Click both ends of the size.",
            "box": "Click two corners of a box round the view.",
        }  # fmt: skip
        if tool in hints:
            self._session.say(hints[tool])

    # --- showing
    def _on_switched(self) -> None:
        self.straightening.leave()
        drawings = self._session.content.drawings
        self.drawing_id, self.sheet = (drawings[0].id, 1) if drawings else ("", 1)
        self.slip.hide()
        self.refresh()
        self.changed.emit()

    def refresh(self) -> None:
        content = self._session.content
        if self.drawing is None and content.drawings:
            self.drawing_id, self.sheet = content.drawings[0].id, 1
        self.sheets.clear()
        for drawing in content.drawings:
            many = len(drawing.scales)
            for n in range(1, many + 1):
                name = drawing.name if many == 1 else f"{drawing.name}, sheet {n}"
                self.sheets.addItem(name, (drawing.id, n))
                if (drawing.id, n) == (self.drawing_id, self.sheet):
                    self.sheets.setCurrentIndex(self.sheets.count() - 1)
        self.sheets.setEnabled(self.sheets.count() > 0)
        shown = self.drawing
        self._pages.setCurrentIndex(0 if shown is None else 1)
        one = shown is not None and shown.kind in ("picture", "pdf") and len(shown.scales) == 1
        self.straight.setEnabled(one)
        self.canvas.balloons = [
            Mark(c.number, c.place.x, c.place.y)
            for c in content.callouts
            if c.place is not None and shown is not None and (c.place.drawing, c.place.sheet) == (shown.id, self.sheet)
        ]
        self.canvas.chosen = self._session.callout
        self.canvas.show_sheet(self.paper, self.sheet, shown.turned if shown else 0)
        self._show_state()
        self._cut_out()

    def _cut_out(self) -> None:
        """Balloons that have no cut-out get theirs: it is made off the window's thread, after the edit."""
        drawing, paper = self.drawing, self.paper
        if drawing is None or paper is None:
            return
        places = (c.place for c in self._session.content.callouts if c.place is not None and not c.place.cutout)
        spots = {Spot(p.sheet, p.x, p.y, drawing.turned) for p in places if p.drawing == drawing.id}
        wanted = [s for s in sorted(spots) if (drawing.blob, s) not in self._cut]
        self._cut.update((drawing.blob, s) for s in wanted)  # asked for once: what fails once would fail again
        if wanted:
            self.papers.cut_out(paper, wanted, drawing.blob)

    def _on_cut(self, blob: object, names: dict[Spot, str]) -> None:
        """It follows from the edit that placed the balloon, and is no edit of its own."""
        content = self._session.content
        drawing = next((d for d in content.drawings if d.blob == blob), None)
        self._cut.difference_update((str(blob), spot) for spot in names)
        if drawing is not None:
            cut = {(s.sheet, s.x, s.y): name for s, name in names.items()}
            self._session.follow(reading.with_cut_outs(content, drawing.id, cut))

    def _show_state(self) -> None:
        drawing = self.drawing
        if drawing is None:
            self.state.setText("")
            return
        scale = drawing.scale(self.sheet)
        unit = {"pdf": "point", "picture": "pixel", "dxf": "unit"}[drawing.kind]
        self.state.setText(f"{scale:.4g} mm a {unit}" if scale else "no scale yet")

    def _on_selected(self) -> None:
        """The chosen callout's balloon is brought into view."""
        number = self._session.callout
        callout = next((c for c in self._session.content.callouts if c.number == number), None)
        if callout is not None and callout.place is not None:
            place = callout.place
            if (place.drawing, place.sheet) != (self.drawing_id, self.sheet):
                self.show_sheet(place.drawing, place.sheet)
            self.canvas.center_on(place.x, place.y)
        self.canvas.chosen = number
        self.canvas.update()

    # --- hands on the sheet
    def _on_click(self, x: float, y: float) -> None:
        paper = self.paper
        if paper is None:
            return
        self._place, self._span = (x, y), None
        is_read = paper.has_read(self.sheet)
        found = near(paper, self.sheet, x, y, self._session.content.ledger()) if is_read else ""
        self.slip.open(self.canvas.to_screen(x, y), "What does it say here?", " ".join(found.split()))

    def _on_moved(self, number: int, x: float, y: float) -> None:
        paper = self.paper
        if paper is not None:
            place = self.place_at(x, y)
            self._session.edit(lambda c: reading.place_callout(c, number, place), f"balloon {number} moved")

    def _on_span(self, span: Span) -> None:
        drawing = self.drawing
        if drawing is None or self.paper is None:
            return
        if self.canvas.tool == "box":
            self.take_tool("read")
            self.boxed.emit(span)
            return
        self._span = span
        at = self.canvas.to_screen(span.x1, span.y1)
        if self.canvas.tool == "scale":
            self.slip.open(at, "How long is that? Type the stated length.")
        elif not drawing.scale(self.sheet):
            self._session.say("Set the scale first: choose Scale and click both ends of a length you know.", "warn")
        else:
            length = self._length(span) * drawing.scale(self.sheet)
            unit = self._session.content.header.units
            figure = f"{length / INCH:.3f}" if unit == "in" else f"{length:.1f}"
            self.slip.open(at, "Scaled from the drawing, never stated", f"{figure} ; ")

    def _length(self, span: Span) -> float:
        assert self.paper is not None
        w, h = self.paper.size(self.sheet)
        return math.hypot((span.x1 - span.x0) * w, (span.y1 - span.y0) * h)

    def place_at(self, x: float, y: float) -> Place:
        """A place on the shown sheet; its cut-out follows."""
        drawing = self.drawing
        assert drawing is not None
        return Place(drawing.id, self.sheet, x, y)

    def _on_taken(self, text: str) -> None:
        if self.canvas.tool == "scale" and self._span is not None:
            self._set_scale(text, self._span)
            return
        note, _, label = text.partition(";")
        scaled = self._span is not None
        x, y = (self._span.x1, self._span.y1) if self._span is not None else (self._place or (0.5, 0.5))
        session = self._session
        try:
            session.content.ledger().try_note(note)
            content, number = edits.add_callout(
                session.content,
                note,
                label,
                "scaled" if scaled else "drawing",
                self.place_at(x, y),
                "scaled from the drawing" if scaled else "",
            )
        except NoteError as error:
            self.slip.refuse(str(error), error.position)
            return
        self.slip.hide()
        self.canvas.setFocus()
        session.take(content, f"callout {number} placed")
        session.select_callout(number)
        session.say(f"Callout {number} added.", "good")

    def _set_scale(self, text: str, span: Span) -> None:
        drawing, session = self.drawing, self._session
        assert drawing is not None
        try:
            known = session.content.ledger().try_note(text.partition(";")[0]).main.nominal
        except NoteError as error:
            self.slip.refuse(str(error), error.position)
            return
        apart = self._length(span)
        scale = known / apart if apart > 0 else 0.0
        if session.edit(lambda c: reading.set_scale(c, drawing.id, self.sheet, scale), "scale set"):
            self.slip.hide()
            session.say("Scale set. Measured sizes are marked as scaled from the drawing.", "good")
            self.take_tool("measure")
