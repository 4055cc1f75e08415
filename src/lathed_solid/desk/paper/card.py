"""The view chosen on the sheet: its scale, its lines, how it is cut, what it leaves out; and views to be added."""

from __future__ import annotations

import re
from functools import partial

import msgspec
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QVBoxLayout,
)

from ...core.drafting.sheet.changing import set_view
from ...core.drafting.sheet.model import Break, Level, SheetView
from ...core.drafting.sheet.paper import INCH_SCALES, SCALES
from ...core.refusal import Refusal
from ...core.units import INCH
from ..pages import Form
from .doing import WAYS, Doings, called
from .drawing import SheetDrawing

_FROM = {"three faces": "picture of three faces", "top": "from above", "bottom": "from below", "back": "from behind"}
_AS_SHEET = "as the sheet"
_LEVELS = "How far before zero the cut lies, as it is seen. Several: 0<20; 5 is level 0 up to x 20, then level 5"
_BENT = "The angle between the plane that is drawn and where the bent half was cut, in degrees"
_AXIS = "Where the axis lies about which it is bent, as the section is seen: how far before zero; how high above it"
_LEVEL = re.compile(r"^\s*(?P<at>[^<]+?)\s*(?:<\s*(?P<to>.+?)\s*)?$")


class ViewCard(Form):
    """Nothing is chosen: it tells how to choose."""

    def __init__(self, drawing: SheetDrawing, doings: Doings) -> None:
        super().__init__()
        self._drawing, self._doings = drawing, doings
        self.title, self.told = QLabel(), QLabel()
        self.title.setObjectName("title")
        self.told.setObjectName("faint")
        self.told.setWordWrap(True)
        self.scale, self.level, self.axis, self.left_out = QComboBox(), QLineEdit(), QLineEdit(), QLineEdit()
        self.hidden, self.smooth, self.centres = QCheckBox("Hidden"), QCheckBox("Smooth"), QCheckBox("Centre lines")
        self.add, self.here = QPushButton("Add a view"), QPushButton("At this place")
        self._form = QFormLayout()
        self._set_up()
        self._lay_out()
        drawing.pointed_changed.connect(self.refresh)
        drawing.changed.connect(self.refresh)
        self.refresh()

    def _set_up(self) -> None:
        for field, name in (
            (self.scale, "Scale of the view"), (self.level, "Where it is cut"), (self.axis, "Where it is bent"),
            (self.left_out, "Left out along it"),
        ):  # fmt: skip
            field.setAccessibleName(name)
        self.scale.setEditable(True)
        self.level.setToolTip(_LEVELS)
        self.axis.setToolTip(_AXIS)
        self.left_out.setPlaceholderText("nothing; or 30..90")
        self.left_out.setToolTip(
            "A stretch of a long part that is left out, along the view: from .. to, in its own lengths"
        )
        for box, name in ((self.hidden, "hidden"), (self.smooth, "tangent"), (self.centres, "centres")):
            box.setVisible(name in self._drawing.lines)
            box.clicked.connect(lambda on, name=name: self._set("lines of a view", **{name: on}))
        self.scale.textActivated.connect(self._on_scale)
        line = self.scale.lineEdit()
        assert line is not None
        line.editingFinished.connect(lambda: self._on_scale(self.scale.currentText()))
        self.level.editingFinished.connect(self._on_level)
        self.axis.editingFinished.connect(self._on_axis)
        self.left_out.editingFinished.connect(self._on_left_out)
        menu = QMenu(self.add)
        for way in WAYS:
            menu.addAction(
                "picture of three faces"
                if way == "three faces"
                else f"from the {way}"
                if way not in ("top", "bottom")
                else {"top": "from above", "bottom": "from below"}[way],
                partial(self._doings.add_side, way),
            )
        self.add.setMenu(menu)
        self.here.clicked.connect(self._on_here)

    def _lay_out(self) -> None:
        lines = QHBoxLayout()
        for box in (self.hidden, self.smooth, self.centres):
            lines.addWidget(box)
        lines.addStretch()
        self._form.addRow("Scale", self.scale)
        self._form.addRow("Cut at", self.level)
        self._form.addRow("Bent about", self.axis)
        self._form.addRow("Left out", self.left_out)
        buttons = QHBoxLayout()
        buttons.addWidget(self.add)
        buttons.addWidget(self.here)
        buttons.addStretch()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 6)
        layout.addWidget(self.title)
        layout.addWidget(self.told)
        layout.addLayout(self._form)
        layout.addLayout(lines)
        layout.addLayout(buttons)

    # --- what is done
    def _set(self, words: str, **fields: object) -> None:
        view = self._drawing.chosen_view
        if view is None or all(getattr(view, name) == value for name, value in fields.items()):
            return
        if not self._drawing.edit(lambda s: set_view(s, view.id, **fields), f"{words} changed"):
            self.refresh()

    def _on_scale(self, text: str) -> None:
        self._set("scale of a view", scale="" if text.strip() in ("", _AS_SHEET) else text.strip())

    def _on_level(self) -> None:
        """One level, or several parted by semicolons, each but the last with how far it goes."""
        view = self._drawing.chosen_view
        if view is None or view.cut is None:
            return
        if view.cut.kind == "aligned":
            turn = self.level.text().strip() or "0"
            self._set("how far a section is bent", cut=msgspec.structs.replace(view.cut, turn=turn))
            return
        levels = tuple(
            Level(at=found["at"], to=found["to"] or "")
            for part in self.level.text().split(";")
            if (found := _LEVEL.match(part)) is not None
        )
        if not levels:
            self.refresh()
            return
        kind = view.cut.kind
        if kind in ("full", "offset"):
            kind = "offset" if len(levels) > 1 else "full"
        self._set("where a view is cut", cut=msgspec.structs.replace(view.cut, levels=levels, kind=kind))

    def _on_axis(self) -> None:
        """Where an aligned section's axis lies: how far before zero, and how high."""
        view = self._drawing.chosen_view
        at, _, height = (part.strip() for part in self.axis.text().partition(";"))
        if view is None or view.cut is None or not at:
            self.refresh()
            return
        cut = msgspec.structs.replace(view.cut, levels=(Level(at=at),), edge=height or "0")
        self._set("where a section is bent", cut=cut)

    def _on_left_out(self) -> None:
        unit = INCH if self._drawing.style.unit == "in" else 1.0
        try:
            breaks = tuple(_break(part, unit) for part in self.left_out.text().split(";") if part.strip())
        except Refusal as error:
            self._drawing.session.refuse(error)
            self.refresh()
            return
        self._set("what a view leaves out", breaks=breaks)

    def _on_here(self) -> None:
        self._doings.menu(self, self.here.mapToGlobal(self.here.rect().bottomLeft()))

    # --- what is shown
    def refresh(self) -> None:
        view, pointed = self._drawing.chosen_view, self._drawing.pointed
        sheet = self._drawing.sheet
        self.add.setEnabled(sheet is not None and self._drawing.seen is not None)
        self.here.setEnabled(bool(pointed.of))
        for widget in (self.scale, self.hidden, self.smooth, self.centres, self.left_out):
            widget.setEnabled(view is not None)
        self._form.setRowVisible(self.level, view is not None and view.cut is not None)
        is_bent = view is not None and view.cut is not None and view.cut.kind == "aligned"
        self._form.setRowVisible(self.axis, is_bent)
        whole = view is not None and view.detail is None and view.way != "three faces"
        self._form.setRowVisible(self.left_out, whole)
        self.title.setText(f"View: {called(view)}" if view is not None else "View")
        self.told.setText(self._told(view))
        if view is None or sheet is None:
            return
        if self.scale.count() == 0:
            self.scale.addItems((_AS_SHEET, *(INCH_SCALES if self._drawing.style.unit == "in" else SCALES)))
        self.scale.setCurrentText(view.scale or _AS_SHEET)
        self.hidden.setChecked(view.hidden)
        self.smooth.setChecked(view.tangent)
        self.centres.setChecked(view.centres)
        if view.cut is not None:
            plain = "; ".join(f"{e.at}<{e.to}" if e.to else e.at for e in view.cut.levels)
            self.axis.setText(f"{view.cut.levels[0].at}; {view.cut.edge}")
            self.level.setText(view.cut.turn if is_bent else plain)
            self.level.setToolTip(_BENT if is_bent else _LEVELS)
            label = self._form.labelForField(self.level)
            assert isinstance(label, QLabel)
            label.setText("Bent by" if is_bent else "Cut at")
        unit = INCH if self._drawing.style.unit == "in" else 1.0
        self.left_out.setText("; ".join(f"{b.low / unit:g}..{b.high / unit:g}" for b in view.breaks))

    def _told(self, view: SheetView | None) -> str:
        pointed, seen = self._drawing.pointed, self._drawing.seen
        if pointed.number:
            return f"{self._drawing.noun.capitalize()} {pointed.number}: drag it, or move it by the arrow keys."
        if view is None:
            noun = self._drawing.noun
            n = "n" if noun[0] in "aeiou" else ""
            return f"Click a view or a{n} {noun} on the sheet. Drag moves it; the wheel zooms."
        lost = seen.views[view.id].lost if seen is not None and view.id in seen.views else ""
        if lost:
            return lost
        if pointed.place is None:
            return ""
        style = self._drawing.style
        x, y = (style.length(v) for v in pointed.place)
        where = (
            f", {pointed.words}"
            if pointed.words and "Ø" not in pointed.words
            else ", middle of a round line"
            if pointed.words
            else ""
        )
        return f"Place: {x} across, {y} up{where}."


def _break(text: str, unit: float) -> Break:
    low, dots, high = text.partition("..")
    try:
        found = sorted((float(low.replace(",", ".")) * unit, float(high.replace(",", ".")) * unit))
    except ValueError:
        found = []
    if not dots or len(found) != 2 or found[1] - found[0] < 1e-6 or found[0] * found[1] < 0:
        raise Refusal(f"“{text.strip()}” is no stretch: type it as 30..90, both ends on one side of zero.")
    return Break(low=found[0], high=found[1])
