"""The tab Zero: where coordinates count from, which way the part lies, and the table of coordinates."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.job.files import CannotWrite, write_atomic
from ...core.job.planning import set_zero
from ...core.kernel.ground.figures import Surface
from ...core.plan.coordinates import Place, places, to_csv
from ...core.plan.usual import MILLED, TURNED, set_to
from ...core.plan.zero import Find, Mark, Zero, finder, laid_on_top, moved_to
from ...core.refusal import Refusal, worded
from ...core.route.model import FaceRef
from ..formula import FormulaField
from ..lists import plain_table
from ..picking import Picking
from ..session import Session
from ..theme.dressing import call
from .planning import Planning

_WAYS = ("+z", "-z", "+x", "-x", "+y", "-y")
_RIGHT = ("+x", "-x", "+y", "-y", "+z", "-z")
_HEADS = ("What", "X", "Y", "Z")


def _worded(way: str) -> str:
    return f"{'+' if way[0] == '+' else '−'}{way[1].upper()} of the part"


class ZeroPanel(QWidget):
    """Every change is an edit; the solid and its references stay as they are."""

    def __init__(self, session: Session, picking: Picking, planning: Planning) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._picking, self._planning = session, picking, planning
        self._places: tuple[Place, ...] = ()
        self.words: dict[str, QLabel] = {}
        self.shifts: dict[str, FormulaField] = {}
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.setSpacing(18)
        layout.addLayout(self._choosing(), 5)
        layout.addLayout(self._coordinates(), 6)
        planning.changed.connect(self.refresh)
        picking.changed.connect(self._show_able)
        session.built.connect(self._refresh_seen)

    # --- putting it together
    def _choosing(self) -> QVBoxLayout:
        column, grid = QVBoxLayout(), QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(5)
        column.setSpacing(6)
        self.up, self.right = QComboBox(), QComboBox()
        for box, words, ways, field in (
            (self.up, "On top", _WAYS, "up"), (self.right, "X runs to", _RIGHT, "right"),
        ):  # fmt: skip
            box.setAccessibleName(words)
            for way in ways:
                box.addItem(_worded(way), way)
            box.activated.connect(lambda _, b=box, f=field: self._turn(f, b.currentData()))
        for at, (words, box) in enumerate((("On top", self.up), ("X runs to", self.right))):
            grid.addWidget(QLabel(words), at, 0)
            grid.addWidget(box, at, 1, 1, 2)
        for at, name in enumerate("xyz", 2):
            label = QLabel()
            label.setObjectName("faint")
            label.setWordWrap(True)
            shift = FormulaField(self._session, "length", "0", f"{name.upper()} zero lies beyond it by")
            shift.setToolTip("How far beyond it zero lies, the way the axis runs")
            shift.committed.connect(lambda text, n=name: self._shift(n, text))
            grid.setRowMinimumHeight(at, 30)
            grid.addWidget(QLabel(f"{name.upper()} from"), at, 0)
            grid.addWidget(label, at, 1)
            grid.addWidget(shift, at, 2)
            self.words[name], self.shifts[name] = label, shift
        grid.setColumnStretch(1, 3)
        grid.setColumnStretch(2, 2)
        column.addLayout(grid)
        column.addLayout(self._buttons())
        self.told = QLabel()
        self.told.setWordWrap(True)
        column.addWidget(self.told)
        column.addStretch(1)
        return column

    def _buttons(self) -> QGridLayout:
        self.usual = QComboBox()
        self.usual.setAccessibleName("Usual places of zero")
        self.usual.activated.connect(self._to_usual)
        self.picked, self.middle = QPushButton("Zero on what is picked"), QPushButton("Middle of two picked")
        self.on_top, self.own = QPushButton("Picked face on top"), QPushButton("Part's own zero")
        self.picked.setToolTip(
            "A flat face sets the axis square to it, a round one the two across; Ctrl+click picks more"
        )
        for button, do in (
            (self.picked, lambda: self.to_picked()), (self.middle, lambda: self.to_picked(middle=True)),
            (self.on_top, self.lay_on_top), (self.own, lambda: self._take(Zero(), "zero: the part's own")),
        ):  # fmt: skip
            button.clicked.connect(lambda _, d=do: d())
        grid = QGridLayout()
        grid.setVerticalSpacing(5)
        grid.addWidget(self.usual, 0, 0, 1, 2)
        for at, button in enumerate((self.picked, self.middle, self.on_top, self.own)):
            grid.addWidget(button, 1 + at // 2, at % 2)
        return grid

    def _coordinates(self) -> QVBoxLayout:
        column, row = QVBoxLayout(), QHBoxLayout()
        title = QLabel("Coordinates from zero")
        title.setObjectName("title")
        self.write = QPushButton("CSV out")
        self.write.setToolTip("Write the coordinates as a CSV, as they are set on a read-out")
        self.write.clicked.connect(self.write_file)
        row.addWidget(title)
        row.addStretch()
        row.addWidget(self.write)
        self.table = plain_table("Coordinates from zero", _HEADS, height=22)
        self.table.cellClicked.connect(lambda at, _: self._light(at))
        column.addLayout(row)
        column.addWidget(self.table, 1)
        return column

    # --- what is chosen
    def _find(self) -> Find:
        part = self._session.current.shown
        return finder(part.references, part.names, part.surfaces) if part is not None else finder((), (), ())

    def _take(self, zero: Zero, what: str) -> None:
        if not self._session.edit(lambda c: set_zero(c, zero), what):
            self.refresh()

    def _turn(self, field: str, way: str) -> None:
        if not way:
            return  # a picked face lies on top already
        zero = replace(self._session.content.zero, **{field: way})
        if field == "up":
            zero = replace(zero, face=FaceRef(""))
        if not zero.face.name and zero.up[1] == zero.right[1]:  # X cannot run up: the next way that can
            free = next(w for w in _RIGHT if w[1] != way[1])
            zero = replace(zero, right=free) if field == "up" else replace(zero, up=free)
        self._take(zero, "which way the part lies")

    def _shift(self, name: str, text: str) -> None:
        zero = self._session.content.zero
        mark: Mark = getattr(zero, name)
        self._take(replace(zero, **{name: replace(mark, shift=text)}), f"zero of {name.upper()} moved")

    def to_picked(self, middle: bool = False) -> None:
        """Zero on what is picked on the part."""
        try:
            zero = moved_to(self._session.content.zero, self._picks(), self._find(), middle)
        except Refusal as error:
            self._session.refuse(error)
            return
        self._take(zero, "zero on what was picked")

    def _picks(self) -> tuple[tuple[FaceRef, Surface], ...]:
        """Faces picked, and both faces of each edge picked."""
        picking = self._picking
        wanted = [*picking.faces, *(picking.index_of(n) for e in picking.edges for n in (e.a, e.b))]
        return tuple((picking.reference(i), s) for i in wanted if (s := picking.figure(i)) is not None)

    def lay_on_top(self) -> None:
        """The picked flat face lies on top."""
        picks = self._picks()
        if len(picks) != 1:
            self._session.say("Pick one flat face; it then lies on top.", "warn")
            return
        try:
            zero = laid_on_top(self._session.content.zero, *picks[0])
        except Refusal as error:
            self._session.refuse(error)
            return
        self._take(zero, "picked face on top")

    def _to_usual(self, at: int) -> None:
        part = self._session.current.shown
        how = self.usual.itemData(at)
        if part is None or not how:
            return
        faces = [(s, FaceRef(name)) for s, name in zip(part.surfaces, part.references, strict=True)]
        try:
            zero = set_to(self._session.content.zero, how, faces, self._find(), self._picking.words)
        except Refusal as error:
            self._session.refuse(error)
            return
        self._take(zero, f"zero: {self.usual.itemText(at)}")

    # --- what is shown
    def _refresh_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        content = self._session.content
        zero, machine = content.zero, self._session.current.machine
        by_face = bool(zero.face.name)
        if by_face != (self.up.count() > len(_WAYS)):
            self.up.addItem("a picked face", "") if by_face else self.up.removeItem(len(_WAYS))
        self.up.setCurrentIndex(len(_WAYS) if by_face else _WAYS.index(zero.up))
        self.right.setCurrentIndex(_RIGHT.index(zero.right))
        for name in "xyz":
            mark: Mark = getattr(zero, name)
            self.words[name].setText(_mark_words(mark, self._picking))
            self.shifts[name].show_text(mark.shift)
        self._show_usual()
        leans = [f"On top: {self._picking.told(zero.face)}."] if zero.face.name else []
        call(self.told, "warn" if machine.lost else "faint")
        self.told.setText(" ".join((*leans, *(worded(words, content.header.style.unit) for words in machine.lost))))
        self._show_able()
        self._show_places()

    def _show_usual(self) -> None:
        offered = TURNED if self._planning.plan.turned else MILLED
        if self.usual.count() != len(offered) + 1 or self.usual.itemText(1) != offered[0][0]:
            self.usual.clear()
            self.usual.addItem("Usual places …", "")
            for words, how in offered:
                self.usual.addItem(words, how)
        self.usual.setCurrentIndex(0)

    def _show_able(self) -> None:
        picks, built = self._picking.faces or self._picking.edges, self._session.current.shown is not None
        for button in (self.picked, self.middle, self.on_top):
            button.setEnabled(bool(picks))
        self.usual.setEnabled(built)
        self.own.setEnabled(self._session.content.zero != Zero())

    def _show_places(self) -> None:
        part, content, solid = self._session.current.shown, self._session.content, self._planning.solid
        style = content.header.style
        if part is None or not part.shape:
            self._places = ()
        else:
            corners = solid.corners if solid is not None else ()
            self._places = places(part.surfaces, corners, self._session.current.machine, style, content.turned)
        self.table.setRowCount(len(self._places))
        for row, place in enumerate(self._places):
            for column, text in enumerate((place.words, *(style.fixed(v) for v in place.at))):
                item = QTableWidgetItem(text)
                if column:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(row, column, item)
        self.write.setEnabled(bool(self._places) and not self._session.current.machine.lost)

    def _light(self, row: int) -> None:
        self._picking.show(self._places[row].faces)

    def write_file(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the coordinates", "coordinates.csv", "Tables (*.csv)")
        if not name:
            return
        try:
            write_atomic(Path(name), to_csv(self._places, self._session.content.header.style).encode())
        except CannotWrite as error:
            self._session.say(error.message, "bad")
        else:
            self._session.say(f"The coordinates are in {name}.", "good")


def _mark_words(mark: Mark, picking: Picking) -> str:
    told = [picking.told(ref) for ref in mark.faces]
    if not told:
        return "the part's own zero"
    return told[0] if len(told) == 1 else f"the middle of {told[0]} and {told[1]}"
