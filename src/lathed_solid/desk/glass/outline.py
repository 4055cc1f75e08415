"""Taking a DXF's outline as a sketch: which layer, which ends to join, which relations to keep."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFormLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ...core.drawing.outline import Taken, on_the_axis
from ...core.job import edits
from ...core.quantity import ExpressionError, evaluate
from ...core.quantity.expression import Plain
from ...core.sketch.model import Plane
from ...worker.drawings import FarPaper
from ..session import Session
from .panel import Glass
from .uses import USES

_ALL = "all layers"
_KINDS = {"horizontal": "level", "vertical": "upright", "tangent": "tangent", "equal": "equal radii"}


class OutlinePanel(QWidget):
    """``taken`` carries the id of the new sketch."""

    taken = pyqtSignal(str)

    def __init__(self, session: Session, glass: Glass) -> None:
        super().__init__()
        self._session, self._glass = session, glass
        self._found: Taken | None = None
        self._asked: tuple[FarPaper, str, float] | None = None
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 8, 12, 10)
        self.state = QLabel()
        self.state.setWordWrap(True)
        self.state.setObjectName("faint")
        form = QFormLayout()
        self.layer = QComboBox()
        self.layer.setAccessibleName("Layer")
        self.layer.activated.connect(lambda _: self.look())
        self.join = QLineEdit("0.01 mm")
        self.join.setObjectName("formula")
        self.join.setAccessibleName("Join ends within")
        self.join.editingFinished.connect(self.look)
        self.use = QComboBox()
        self.use.setAccessibleName("Outline becomes")
        self.use.addItems([use.words for use in USES])
        self.use.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        form.addRow("Layer", self.layer)
        form.addRow("Join ends within", self.join)
        form.addRow("Becomes", self.use)
        layout.addWidget(self.state)
        layout.addLayout(form)
        self.kinds: dict[str, QCheckBox] = {}
        for kind, words in _KINDS.items():
            box = QCheckBox(words)
            box.setChecked(True)
            self.kinds[kind] = box
            layout.addWidget(box)
        self.take = QPushButton("Take it as a sketch")
        self.take.clicked.connect(self.accept)
        layout.addWidget(self.take)
        layout.addStretch()
        glass.changed.connect(self.refresh)
        glass.papers.ready.connect(lambda _: self.refresh())
        glass.papers.outlined.connect(self._on_outlined)
        self.refresh()

    def refresh(self) -> None:
        paper = self._glass.paper
        self.layer.clear()
        if paper is not None and paper.kind == "dxf":
            self.layer.addItems([*paper.layers, _ALL])
        self.look()

    def showEvent(self, event: QShowEvent | None) -> None:
        self.look()

    def look(self) -> None:
        """Ask what the outline would become; it is said when it is read."""
        paper, self._found, self._asked = self._glass.paper, None, None
        self.take.setEnabled(False)
        if not self.isVisible():
            return  # looked at when it is shown
        is_dxf = paper is not None and paper.kind == "dxf"
        for widget in (self.layer, self.join, self.use, *self.kinds.values()):
            widget.setEnabled(is_dxf)
        if paper is None or not is_dxf:
            self.state.setText("The outline of a DXF can be taken as a sketch. This sheet is no DXF.")
            return
        try:
            join = evaluate(self.join.text(), Plain("mm"))
        except ExpressionError as error:
            self.state.setText(str(error))
            return
        if not 0 < join <= 5:
            self.state.setText("Ends are joined over a distance above zero and up to 5 mm.")
            return
        self.state.setText("The outline is being read …")
        layer = self.layer.currentText()
        self._asked = (paper, "" if layer == _ALL else layer, join)
        self._glass.papers.outline(*self._asked, self._asked)

    def _on_outlined(self, key: object, found: Taken | None, words: str) -> None:
        if key is not self._asked:
            return  # asked otherwise meanwhile
        self._found = found
        if found is not None:
            words = " ".join([f"{len(found.sketch.curves())} lines, arcs and circles.", *found.remarks])
            counts = found.counts()
            for kind, box in self.kinds.items():
                box.setText(f"{_KINDS[kind]} ({counts.get(kind, 0)})")
                box.setEnabled(bool(counts.get(kind)))
        self.state.setText(words)
        self.take.setEnabled(found is not None)

    def accept(self) -> None:
        """Add the sketch, with the relations that are ticked (marked as assumed), and the step that uses it."""
        found = self._found
        if found is None:
            return
        use = USES[self.use.currentIndex()]
        chosen = {kind for kind, box in self.kinds.items() if box.isChecked()}
        made = found.with_relations(chosen)
        made = on_the_axis(made) if use.base == "turning" else made
        name = f"Outline {self.layer.currentText()}"
        content, id_ = edits.add_sketch(self._session.content, name, Plane(use.base))
        sketch = msgspec.structs.replace(made, id=id_, name=name, plane=Plane(use.base))
        content, _ = edits.with_step(edits.set_sketch(content, sketch), use.step, None, sketch=id_, **use.fields)
        self._session.take(content, "outline taken")
        self._session.say("The outline is a sketch now. Size it on the plate with the drawing's callouts.", "good")
        self.taken.emit(id_)
