"""The outline of a scanned sheet, as help for drawing over it: found in a box, laid under a new sketch; its circles
drawn as large as their callouts say. Nothing is taken as an outline by itself.
"""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFormLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ...core.callout.words import pretty
from ...core.drawing.scan import needs
from ...core.job import edits, tracing
from ...core.sketch.model import Plane
from ...core.sketch.traces import Traces
from ...worker.picture_process import Linework
from ..session import Session
from .canvas import Span
from .panel import Glass
from .uses import BODY, USES

_ZEROS: tuple[tuple[tracing.Zero, str], ...] = (
    ("corner", "lower left of what was found"),
    ("circle", "middle of the largest circle"),
    ("middle", "middle of what was found"),
)


class TracedPanel(QWidget):
    """``taken`` carries the id of the new sketch."""

    taken = pyqtSignal(str)

    def __init__(self, session: Session, glass: Glass) -> None:
        super().__init__()
        self._session, self._glass = session, glass
        self._found: Linework | None = None
        self._alike: list[tuple[QCheckBox, tracing.Alike]] = []
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.state = QLabel()
        self.state.setWordWrap(True)
        self.state.setObjectName("faint")
        self.search = QPushButton("Find it in a box …")
        self.search.setToolTip("Click two corners of a box round one view")
        self.use, self.zero = QComboBox(), QComboBox()
        self.use.setAccessibleName("Outline becomes")
        self.zero.setAccessibleName("Zero of the sketch")
        self.use.addItems([use.words for use in USES])
        self.use.setCurrentIndex(BODY)
        self.zero.addItems([words for _, words in _ZEROS])
        for box in (self.use, self.zero):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        form = QFormLayout()
        form.addRow("Becomes", self.use)
        form.addRow("Zero", self.zero)
        self._circles = QVBoxLayout()
        self.take = QPushButton("Lay it under a sketch")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 8, 12, 10)
        layout.addWidget(self.state)
        layout.addWidget(self.search)
        layout.addLayout(form)
        layout.addLayout(self._circles)
        layout.addWidget(self.take)
        layout.addStretch()
        self.search.clicked.connect(lambda: glass.take_tool("box"))
        self.take.clicked.connect(self.accept)
        self.zero.activated.connect(lambda _: self._show())
        glass.boxed.connect(self._on_box)
        glass.changed.connect(self.clear)
        glass.papers.pictures.outlined.connect(self._on_found)
        glass.papers.pictures.failed.connect(self._on_failed)
        session.edited.connect(self._show)
        self._show()

    def clear(self) -> None:
        """Another sheet: what was found lies on the one before."""
        self._found = None
        self._show()

    @property
    def _scale(self) -> float:
        """mm of the part for the sheet's width; 0 while the sheet has no scale."""
        drawing, paper = self._glass.drawing, self._glass.paper
        if drawing is None or paper is None:
            return 0.0
        return drawing.scale(self._glass.sheet) * paper.size(self._glass.sheet)[0]

    def _on_box(self, span: Span) -> None:
        drawing = self._glass.drawing
        if drawing is None:
            return
        box = (min(span.x0, span.x1), min(span.y0, span.y1), max(span.x0, span.x1), max(span.y0, span.y1))
        self.state.setText("The outline is being looked for …")
        self._glass.papers.pictures.outline(drawing, self._glass.sheet, box)

    def _on_found(self, blob: object, found: Linework) -> None:
        drawing = self._glass.drawing
        if drawing is not None and blob == drawing.blob:
            self._found = found
            self._show()

    def _on_failed(self, key: object, words: str) -> None:
        drawing = self._glass.drawing
        if drawing is not None and key == drawing.blob and words:
            self.state.setText(words)

    def _traces(self) -> Traces | None:
        found, scale = self._found, self._scale
        if found is None or not scale:
            return None
        return tracing.in_plane(found.lines, found.circles, scale, _ZEROS[self.zero.currentIndex()][0])

    def _show(self) -> None:
        traces, missing = self._traces(), needs.missing()
        self.search.setEnabled(bool(self._scale) and not missing)
        something = traces is not None and bool(traces.lines or traces.circles)
        self.take.setEnabled(something)
        self._offer_circles(tracing.stated(traces, self._session.content) if traces is not None else [])
        if missing:
            words = "Outlines of scans need the extra for pictures: Offers fetches it."
        elif not self._scale:
            words = "Set the scale of this sheet first (Scale, above it): the outline is laid under a sketch in mm."
        elif traces is None:
            words = (
                "The lines and circles of a view can lie under a sketch, to be drawn over. Choose the view by a box."
            )
        elif not something:
            words = "No thick lines and no circles in that box. Take a larger one, or draw without it."
        else:
            words = (
                f"{len(traces.lines)} lines and {len(traces.circles)} circles. They only help to draw: sizes come "
                "from the callouts."
            )
        self.state.setText(words)

    def _offer_circles(self, alike: list[tracing.Alike]) -> None:
        """A tick for each callout that states the size of circles found."""
        if [a for _, a in self._alike] == alike:
            return
        for box, _ in self._alike:
            self._circles.removeWidget(box)
            box.deleteLater()
        self._alike = []
        for one in alike:
            many = f"{len(one.circles)} circles" if len(one.circles) > 1 else "1 circle"
            size = self._session.content.header.style.length(one.diameter)
            box = QCheckBox(f"{many} Ø{size}: #{one.number}  {pretty(one.words)}")
            box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)  # a long note widens no window
            box.setToolTip(f"{box.text()}\nDrawn where the scan has them, each as large as this callout says")
            self._circles.addWidget(box)
            self._alike.append((box, one))

    def accept(self) -> None:
        """A new sketch with the scan under it, the ticked circles drawn, and the step that will use it."""
        traces = self._traces()
        if traces is None:
            return
        use = USES[self.use.currentIndex()]
        content, id_ = edits.add_sketch(self._session.content, "Over the scan", Plane(use.base))
        content = tracing.laid_under(content, traces, id_)
        content = tracing.with_holes(content, id_, [a for box, a in self._alike if box.isChecked()])
        content, step = edits.with_step(content, use.step, None, sketch=id_, **use.fields)
        self._session.take(content, "scan laid under a sketch")
        self._session.select_step(step)
        self._session.say(
            "The scan lies under the plate: draw over it, its corners and circles are snapped to.", "good"
        )
        self.taken.emit(id_)
