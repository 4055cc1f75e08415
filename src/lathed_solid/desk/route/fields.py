"""Fields of the step editor that are not formulas: faces, edges, steps, choices."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...core.route.model import EdgeRef, FaceRef
from ...core.route.registry import kind_of
from ...core.sketch.arrange import source_of
from ..picking import TAKES, Picking
from ..session import Session

Set = Callable[[Any], None]
ASKED = "Click the edges to take; click Pick again when done"


def choice(value: str, choices: tuple[tuple[str, str], ...], change: Set, label: str) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(label)
    # As wide as the panel has room for, not as its longest entry; the list itself opens wider.
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(6)
    view = box.view()
    if view is not None:
        view.setMinimumWidth(12 + max((box.fontMetrics().horizontalAdvance(w) for _, w in choices), default=0) + 24)
    for key, words in choices:
        box.addItem(words, key)
    box.setCurrentIndex(max(0, box.findData(value)))
    box.activated.connect(lambda: change(box.currentData()))
    return box


class FaceField(QWidget):
    """Shows a face reference; the button asks for another on the part, the arrow offers planes and axes."""

    def __init__(
        self, picking: Picking, value: FaceRef, change: Set, label: str, planes: Sequence[FaceRef] = ()
    ) -> None:
        super().__init__()
        self._picking, self._label, self._value = picking, label, value
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(3)
        words = QLabel(picking.told(value) or "none picked")
        words.setWordWrap(True)
        words.setToolTip(value.name)
        self.button = QPushButton("Pick")
        self.button.setCheckable(True)
        self.button.setAccessibleName(f"Pick {label}")
        self.button.clicked.connect(lambda on: self._ask(on, change))
        layout.addWidget(words, 1)
        layout.addWidget(self.button)
        if planes:
            layout.addWidget(_planes_button(planes, change, label))
        if value.name:
            layout.addWidget(_small("×", f"Clear {label}", lambda: change(FaceRef(""))))

    def _ask(self, on: bool, change: Set) -> None:
        if on:
            old = (self._value,) if self._value.name else ()
            self._picking.ask_face(f"{self._label}: click a face of the part", change, old)
        else:
            self._picking.done()


class FacesField(QWidget):
    """Several faces; while the button is down every click adds one or takes it out (with ``repeats`` always adds)."""

    def __init__(
        self, picking: Picking, value: tuple[FaceRef, ...], change: Set, label: str, repeats: bool = False
    ) -> None:
        super().__init__()
        self._repeats = repeats
        self._picking, self._value, self._change, self._label = picking, value, change, label
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(QLabel(f"{len(value)} taken" if value else "none taken"), 1)
        self.button = QPushButton("Pick")
        self.button.setCheckable(True)
        self.button.setChecked(picking.asking == self._words)
        self.button.setAccessibleName(f"Pick {label}")
        self.button.clicked.connect(self._ask)
        row.addWidget(self.button)
        layout.addLayout(row)
        for at, face in enumerate(value):
            layout.addLayout(_line(picking.told(face), "Leave this face out", partial(self._drop, at)))
        if picking.asking == self._words:
            picking.ask_face(self._words, self._toggle, value, many=True)

    @property
    def _words(self) -> str:
        return f"{self._label}: click the faces to take; click Pick again when done"

    def _ask(self, on: bool) -> None:
        if on:
            self._picking.ask_face(self._words, self._toggle, self._value, many=True)
        else:
            self._picking.done()

    def _toggle(self, face: FaceRef) -> None:
        same = [f for f in self._value if f.name == face.name]
        if same and not self._repeats:
            self._change(tuple(f for f in self._value if f not in same))
        else:
            self._change((*self._value, face))

    def _drop(self, at: int) -> None:
        self._change(self._value[:at] + self._value[at + 1 :])


class SharpEdges:
    """Finds (and lights) the edges that are still sharp, and lights one of them.

    What was ``listed`` stays so while edges are ticked, until the list is closed or another step is shown.
    """

    def __init__(self, every: Callable[[], list[EdgeRef]], light: Callable[[EdgeRef], None]) -> None:
        self.every, self.light = every, light
        self.listed: list[EdgeRef] = []
        self.row = -1

    def close(self) -> None:
        self.listed, self.row = [], -1


class EdgesField(QWidget):
    """Shows the edges taken; while the button is down every click on an edge adds it or takes it out.

    Where only so many (``most``) are of use a click takes just the edge, and the last ones are kept (0: any number).
    """

    def __init__(
        self,
        picking: Picking,
        value: tuple[EdgeRef, ...],
        change: Set,
        label: str,
        sharp: SharpEdges | None,
        most: int = 0,
    ) -> None:
        super().__init__()
        self._picking, self._value, self._change = picking, value, change
        self._most = most
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
            layout.addLayout(_line(picking.told_edge(edge), "Leave this edge out", partial(self._toggle, edge)))
        if not most:
            self._add_takes(layout)
        if sharp is not None:
            self._add_sharp(layout, sharp)
        if "edge" in picking.asking:
            picking.ask_edges(picking.asking, self._toggle, value)

    def _add_takes(self, layout: QVBoxLayout) -> None:
        """What else a click may take."""
        takes = choice(self._picking.edge_take, TAKES, self._picking.take_by, "A click takes")
        takes.setToolTip("What the next click takes; it is lit under the cursor first")
        asked = QHBoxLayout()
        asked.addWidget(QLabel("A click takes"))
        asked.addWidget(takes, 1)
        layout.addLayout(asked)

    def _add_sharp(self, layout: QVBoxLayout, sharp: SharpEdges) -> None:
        """Every edge that is still sharp: all at once, or ticked on a list."""
        every = QCheckBox("every sharp edge")
        every.setChecked(any(e.take == "sharp" for e in self._value))
        every.setToolTip("All edges that are still sharp here, as a note for unstated edges says")
        every.clicked.connect(lambda on: self._change((EdgeRef("", "", "every sharp edge", "sharp"),) if on else ()))
        show = QPushButton("Close list" if sharp.listed else "Show sharp")
        show.setToolTip("Light and list the edges that are still sharp")
        show.clicked.connect(lambda: self._open(sharp, show))
        layout.addWidget(every)
        layout.addWidget(show, 0, Qt.AlignmentFlag.AlignLeft)  # beside it the column would be too narrow
        self.sharp = QListWidget()
        self.sharp.setAccessibleName("Edges still sharp")
        self.sharp.setMaximumHeight(150)
        self.sharp.setWordWrap(True)
        self.sharp.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.sharp.hide()
        layout.addWidget(self.sharp)
        self.sharp.currentRowChanged.connect(partial(self._light, sharp))
        self.sharp.itemChanged.connect(lambda item: self._tick(sharp, self.sharp.row(item)))
        if sharp.listed:
            self._list(sharp)

    def _open(self, sharp: SharpEdges, button: QPushButton) -> None:
        if sharp.listed:
            sharp.close()
            self.sharp.hide()
        else:
            sharp.listed = sharp.every()
            self._list(sharp)
        button.setText("Close list" if sharp.listed else "Show sharp")

    def _list(self, sharp: SharpEdges) -> None:
        """Every edge that was sharp, ticked where it is taken; the current one is lit."""
        self.sharp.blockSignals(True)
        self.sharp.clear()
        for ref in sharp.listed:
            item = QListWidgetItem(self._picking.told_edge(ref))
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            on = any(alike(e, ref) for e in self._value)
            item.setCheckState(Qt.CheckState.Checked if on else Qt.CheckState.Unchecked)
            self.sharp.addItem(item)
        self.sharp.setVisible(bool(sharp.listed))
        self.sharp.setCurrentRow(sharp.row)
        self.sharp.blockSignals(False)

    @staticmethod
    def _light(sharp: SharpEdges, row: int) -> None:
        sharp.row = row
        if 0 <= row < len(sharp.listed):
            sharp.light(sharp.listed[row])

    def _tick(self, sharp: SharpEdges, row: int) -> None:
        sharp.row = row
        self._toggle(sharp.listed[row])

    def _ask(self, on: bool) -> None:
        if on:
            if self._most:
                self._picking.edge_take = "edge"
            self._picking.ask_edges(ASKED if self._most != 1 else "Click the edge to take", self._toggle, self._value)
        else:
            self._picking.done()

    def _toggle(self, edge: EdgeRef) -> None:
        """Take this very edge, or leave it out."""
        same = [e for e in self._value if alike(e, edge)]
        taken = tuple(e for e in self._value if e not in same) if same else (*self._value, edge)
        self._change(taken[-self._most :] if self._most else taken)
        if self._most == 1 and taken:
            self._picking.done()  # there is nothing more to take


def alike(a: EdgeRef, b: EdgeRef) -> bool:
    return {a.a, a.b} == {b.a, b.b} and (a.take, a.piece) == (b.take, b.piece)


def _line(words: str, remove_words: str, remove: Callable[[], object]) -> QHBoxLayout:
    line, label = QHBoxLayout(), QLabel(words)
    label.setObjectName("faint")
    label.setWordWrap(True)
    line.addWidget(label, 1)
    line.addWidget(_small("×", remove_words, remove))
    return line


def _small(text: str, words: str, run: Callable[[], object]) -> QPushButton:
    button = QPushButton(text)
    button.setObjectName("quiet")
    button.setFixedWidth(26)
    button.setAccessibleName(words)
    button.setToolTip(words)
    button.clicked.connect(lambda: run())
    return button


def _planes_button(planes: Sequence[FaceRef], change: Set, label: str) -> QPushButton:
    button, menu = _small("▾", f"Planes and axes for {label}", lambda: None), QMenu()
    for ref in planes:
        menu.addAction(ref.was, lambda r=ref: change(r))
    menu.setParent(button, menu.windowFlags())
    button.setMenu(menu)
    return button


class BodiesField(QWidget):
    """Ticks whole bodies; while the button is down a click on one of the part does so too."""

    _WORDS = "Click the bodies to take; click Pick again when done"

    def __init__(
        self, picking: Picking, names: Sequence[tuple[str, str]], value: tuple[str, ...], change: Set, label: str
    ) -> None:
        super().__init__()
        self._picking, self._value, self._change = picking, value, change
        self._ids = {id_ for id_, _ in names}
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        for id_, name in names:
            box = QCheckBox(name)
            box.setChecked(id_ in value)
            box.clicked.connect(lambda on, i=id_: self._toggle(i))
            layout.addWidget(box)
        if not names:
            layout.addWidget(QLabel("no bodies before this step"))
            return
        self.button = QPushButton("Pick")
        self.button.setCheckable(True)
        self.button.setChecked(picking.asking == self._WORDS)
        self.button.setAccessibleName(f"Pick {label}")
        self.button.clicked.connect(self._ask)
        layout.addWidget(self.button)
        if picking.asking == self._WORDS:
            self._ask(True)

    def _ask(self, on: bool) -> None:
        if on:
            self._picking.ask_face(self._WORDS, self._clicked, many=True)
        else:
            self._picking.done()

    def _clicked(self, face: FaceRef) -> None:
        body = self._picking.body_of(self._picking.index_of(face.name))
        if body in self._ids:
            self._toggle(body)

    def _toggle(self, body: str) -> None:
        now = self._value
        self._change(tuple(v for v in now if v != body) if body in now else (*now, body))


class FileField(QWidget):
    """A file kept in the job; the button chooses another."""

    def __init__(self, name: str, choose: Callable[[], object]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        words = QLabel(name or "none chosen")
        words.setWordWrap(True)
        row.addWidget(words, 1)
        button = QPushButton("Choose")
        button.setAccessibleName("Choose the file")
        button.clicked.connect(lambda: choose())
        row.addWidget(button)


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
            if kind_of(step).repeatable:
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
        words.setToolTip("\n".join(", ".join(dict.fromkeys(source_of(n) for n in v.split("+"))) for v in value))
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
