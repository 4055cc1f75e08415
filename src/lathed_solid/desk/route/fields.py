"""Fields of the step editor that are not formulas: faces, edges, steps, choices."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...core.route.model import EdgeRef, FaceRef
from ...core.route.steps.extrude import Extrude
from ...core.route.steps.hole import Hole
from ...core.route.steps.mirror import Mirror
from ...core.route.steps.revolve import Revolve
from ...core.route.steps.ring import Ring
from ...core.route.steps.row import Row
from ..picking import Picking
from ..session import Session

Set = Callable[[Any], None]


def choice(value: str, choices: tuple[tuple[str, str], ...], change: Set, label: str) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(label)
    for key, words in choices:
        box.addItem(words, key)
    box.setCurrentIndex(max(0, box.findData(value)))
    box.activated.connect(lambda: change(box.currentData()))
    return box


class FaceField(QWidget):
    """Shows a face reference; the button asks for another on the part."""

    def __init__(self, picking: Picking, value: FaceRef, change: Set, label: str) -> None:
        super().__init__()
        self._picking, self._label = picking, label
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        words = QLabel(value.was or value.name or "none picked")
        words.setWordWrap(True)
        words.setToolTip(value.name)
        self.button = QPushButton("Pick")
        self.button.setCheckable(True)
        self.button.setAccessibleName(f"Pick {label}")
        self.button.clicked.connect(lambda on: self._ask(on, change))
        layout.addWidget(words, 1)
        layout.addWidget(self.button)
        if value.name:
            clear = QPushButton("×")
            clear.setObjectName("quiet")
            clear.setFixedWidth(26)
            clear.setAccessibleName(f"Clear {label}")
            clear.setToolTip("None")
            clear.clicked.connect(lambda: change(FaceRef("")))
            layout.addWidget(clear)

    def _ask(self, on: bool, change: Set) -> None:
        if on:
            self._picking.ask_face(f"{self._label}: click a face of the part", change)
        else:
            self._picking.done()


class EdgesField(QWidget):
    """Shows the edges taken; while the button is down every click on an edge adds it or takes it out."""

    def __init__(self, picking: Picking, value: tuple[EdgeRef, ...], change: Set, label: str) -> None:
        super().__init__()
        self._picking, self._value, self._change = picking, value, change
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(QLabel(f"{len(value)} taken" if value else "none taken"), 1)
        self.button = QPushButton("Pick")
        self.button.setCheckable(True)
        self.button.setChecked("edge" in picking.asking)
        self.button.setAccessibleName(f"Pick {label}")
        self.button.clicked.connect(self._ask)
        row.addWidget(self.button)
        layout.addLayout(row)
        for edge in value:
            line = QHBoxLayout()
            words = QLabel(f"{edge.a}  |  {edge.b}")
            words.setObjectName("faint")
            words.setWordWrap(True)
            remove = QPushButton("×")
            remove.setObjectName("quiet")
            remove.setFixedWidth(26)
            remove.setAccessibleName("Leave this edge out")
            remove.clicked.connect(lambda _, e=edge: self._toggle(e))
            line.addWidget(words, 1)
            line.addWidget(remove)
            layout.addLayout(line)
        if "edge" in picking.asking:
            picking.ask_edges(picking.asking, self._toggle)

    def _ask(self, on: bool) -> None:
        if on:
            self._picking.ask_edges("Click the edges to take; click Pick again when done", self._toggle)
        else:
            self._picking.done()

    def _toggle(self, edge: EdgeRef) -> None:
        same = [e for e in self._value if {e.a, e.b} == {edge.a, edge.b}]
        self._change(tuple(e for e in self._value if e not in same) if same else (*self._value, edge))


class StepsField(QWidget):
    """Ticks the steps that a pattern repeats."""

    def __init__(self, session: Session, step_id: str, value: tuple[str, ...], change: Set) -> None:
        super().__init__()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        for at, step in enumerate(session.content.steps, 1):
            if step.id == step_id:
                break
            if isinstance(step, Hole | Extrude | Revolve | Ring | Row | Mirror):
                box = QCheckBox(f"{10 * at} {step.name}")
                box.setChecked(step.id in value)
                box.clicked.connect(
                    lambda on, i=step.id: change((*value, i) if on else tuple(v for v in value if v != i))
                )
                layout.addWidget(box)
        if not layout.count():
            layout.addWidget(QLabel("There is nothing to repeat before this step."))


class AreasField(QWidget):
    """Which closed areas of the outline a step takes; they are clicked on the plate."""

    def __init__(self, value: tuple[str, ...], change: Set, choose: Callable[[], object]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        words = QLabel(f"{len(value)} chosen" if value else "the usual ones")
        words.setToolTip("\n".join(value))
        row.addWidget(words, 1)
        pick = QPushButton("Choose")
        pick.setAccessibleName("Choose areas")
        pick.clicked.connect(lambda: choose())
        row.addWidget(pick)
        if value:
            usual = QPushButton("Usual")
            usual.setAccessibleName("Usual areas")
            usual.clicked.connect(lambda: change(()))
            row.addWidget(usual)
