"""The title block: what a drawing says about the whole part."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...core.job import edits
from ...core.job.model import Content, StatedFigures, Three
from ...core.job.stating import read_three
from ...core.quantity import evaluate
from ...core.refusal import Refusal
from ...core.standards.general import CLASSES, ByPlaces
from ...core.standards.materials import Material, all_materials
from ...core.units import INCH
from ..session import Session
from .places import PlacesEditor

_UNITS = (
    ("Millimetres", {"units": "mm", "fractions": False}),
    ("Inches, decimals", {"units": "in", "fractions": False}),
    ("Inches, fractions", {"units": "in", "fractions": True}),
)


class TitleBlock(QScrollArea):
    """Each field is an edit of its own; a wrong one keeps the old value and says why."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._values: dict[str, QLabel] = {}
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        body = QWidget()
        outer = QVBoxLayout(body)
        outer.setContentsMargins(18, 12, 18, 12)
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        left, right = QFormLayout(), QFormLayout()
        for form in (left, right):
            form.setSpacing(7)
            form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
            form.setLabelAlignment(Qt.AlignmentFlag.AlignLeft)
        self._add_drawing(left)
        self._add_whole(right)
        grid.addLayout(left, 0, 0)
        grid.addLayout(right, 0, 1)
        grid.setColumnStretch(0, 4)
        grid.setColumnStretch(1, 5)  # names of materials, and three figures in a field
        outer.addLayout(grid)
        self._error = QLabel()
        self._error.setObjectName("bad")
        self._error.setWordWrap(True)
        outer.addWidget(self._error)
        caution = QLabel(
            "A proven model is not an approved part. Where a part spins, carries load or holds pressure, follow local "
            "codes and have it checked by somebody qualified."
        )
        caution.setObjectName("faint")
        caution.setWordWrap(True)
        outer.addStretch()
        outer.addWidget(caution)
        self.setWidget(body)
        session.edited.connect(self.refresh)
        session.switched.connect(self.refresh)

    def _add_drawing(self, form: QFormLayout) -> None:
        """What the drawing is called and how it is read."""
        self.name = self._text(form, "Part name", "name")
        self.number = self._text(form, "Part number", "number")
        self.revision = self._text(form, "Revision", "revision")
        self.units = self._combo(form, "Drawing units", [w for w, _ in _UNITS], self._on_units)
        self.grade = self._combo(
            form,
            "Unstated limits",
            [*(f"ISO 2768-{g}, {w}" for g, w in CLASSES.items()), "By decimal places"],
            self._on_grade,
        )
        self.places = PlacesEditor(self._session)
        form.addRow("", self.places)
        self.projection = self._combo(form, "Projection", ["First angle", "Third angle"], self._on_projection)
        self.remarks = self._text(form, "Remarks", "remarks")

    def _add_whole(self, form: QFormLayout) -> None:
        """What is stated of the part as a whole."""
        self.material = self._combo(form, "Material", [_worded(m) for m in all_materials()], self._on_material)
        for at, material in enumerate(all_materials()):
            self.material.setItemData(at, f"{material.density:g} g/cm³", Qt.ItemDataRole.ToolTipRole)
        self.density = self._numeric(form, "Density, g/cm³", "density", self._on_density)
        self._source = QLabel()
        self._source.setObjectName("faint")
        self._source.setWordWrap(True)
        form.addRow("", self._source)
        self.volume = self._numeric(form, "Stated volume", "volume", self._on_volume)
        self.mass = self._numeric(form, "Stated mass, g", "mass", self._on_mass)
        self.area = self._numeric(form, "Stated surface", "area", self._on_area)
        self.overall = self._numeric(form, "Stated size", "size", lambda text: self._on_three(text, "size"))
        self.center = self._numeric(
            form, "Stated centre of mass", "center", lambda text: self._on_three(text, "center")
        )
        for field in (self.volume, self.mass, self.area):
            field.setToolTip("If the drawing states it")
        self.overall.setToolTip("Along machine X, Y and Z, if the drawing states it; “-” for one not stated")
        self.center.setToolTip("From machine zero, if the drawing states it; “-” for one not stated")
        self.tolerance = self._numeric(form, "Agreement within, %", "tolerance", self._on_tolerance)

    # --- fields
    def _line(self, form: QFormLayout, label: str, commit: Callable[..., object]) -> QLineEdit:
        field = QLineEdit()
        field.setAccessibleName(label)
        field.editingFinished.connect(lambda: commit(field.text().strip()))
        form.addRow(label, field)
        return field

    def _numeric(self, form: QFormLayout, label: str, name: str, commit: Callable[..., object]) -> QLineEdit:
        """A field whose text is kept as typed, with its value beside it."""
        field, value = QLineEdit(), QLabel()
        field.setAccessibleName(label)
        value.setObjectName("faint")
        field.editingFinished.connect(lambda: commit(field.text().strip()))
        row = QHBoxLayout()
        row.addWidget(field, 1)
        row.addWidget(value)
        form.addRow(label, row)
        self._values[name] = value
        return field

    def _show_number(self, field: QLineEdit, name: str, number: str) -> None:
        """The text as typed while it still gives ``number``; then the number stands beside it."""
        text = self._session.content.header.typed.get(name, "")
        kept = bool(text) and bool(number)
        field.setText(text if kept else number)
        field.setCursorPosition(0)
        self._values[name].setText(f"= {number}" if kept and text != number else "")

    def _typed(self, name: str, text: str) -> dict[str, str]:
        return {**self._session.content.header.typed, name: text}

    def _text(self, form: QFormLayout, label: str, name: str) -> QLineEdit:
        return self._line(form, label, lambda text: self._set(label.lower(), **{name: text}))

    def _combo(self, form: QFormLayout, label: str, words: list[str], commit: Callable[..., object]) -> QComboBox:
        box = QComboBox()
        box.setAccessibleName(label)
        box.addItems(words)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.setMinimumContentsLength(12)
        box.activated.connect(commit)
        form.addRow(label, box)
        return box

    def _set(self, what: str, **fields: object) -> None:
        header = self._session.content.header
        if any(getattr(header, k) != v for k, v in fields.items()):
            self._error.clear()
            self._session.edit(lambda c: _checked(c, fields), f"{what} changed")

    def _stated(self, what: str, field: str, text: str, value: float | Three | None) -> None:
        stated: StatedFigures = msgspec.structs.replace(self._session.content.header.stated, **{field: value})
        self._set(what, stated=stated, typed=self._typed(field, text))

    def _now(self, name: str, number: str) -> str:
        """What the field shows when nothing was typed into it."""
        return (self._session.content.header.typed.get(name) or number) if number else ""

    # --- commits
    def _on_units(self, index: int) -> None:
        before = self._session.content
        # What was typed was in the old unit; its number is shown in the new one.
        typed = {k: v for k, v in before.header.typed.items() if k not in ("volume", "area", "size", "center")}
        self._set("units", shown="", typed=typed, **_UNITS[index][1])
        now = self._session.content.header.units
        if now != before.header.units and (before.callouts or before.sketches):
            words = "inches" if now == "in" else "millimetres"
            self._session.say(
                f"Numbers without a unit are now read as {words}, so the part has another size. Undo takes it back.",
                "warn",
            )

    def _on_grade(self, index: int) -> None:
        if index < len(CLASSES):
            self._set("general tolerance", grade=list(CLASSES)[index], places=None)
        elif self._session.content.header.places is None:
            self._set("general tolerance", places=_usual_places(self._session.content.header.units))

    def _on_projection(self, index: int) -> None:
        self._set("projection", projection=("first", "third")[index])

    def _on_material(self, index: int) -> None:
        self._set("material", material=all_materials()[index], typed=self._typed("density", ""))

    def _number(self, text: str, field: str, old: str) -> float | None:
        """A plain positive number; None (with the reason shown) when it is not one."""
        try:
            value = evaluate(text, None, "number")
            if value <= 0:
                raise Refusal(f"{field} must be above zero.")
        except Refusal as error:
            self._error.setText(f"{field}: {error} The old value {old} stays.")
            self.refresh(keep_error=True)
            return None
        return value

    def _on_density(self, text: str) -> None:
        material = self._session.content.header.material
        if text == self._now("density", f"{material.density:g}"):
            return
        if (value := self._number(text, "Density", f"{material.density:g}")) is not None:
            changed: Material = msgspec.structs.replace(material, density=value, source="entered by hand")
            self._set("density", material=changed, typed=self._typed("density", text))

    def _on_volume(self, text: str) -> None:
        scale = INCH**3 if self._session.content.header.units == "in" else 1.0
        self._figure(text, "Stated volume", "volume", scale)

    def _on_mass(self, text: str) -> None:
        self._figure(text, "Stated mass", "mass", 1.0)

    def _figure(self, text: str, label: str, field: str, scale: float) -> None:
        old = getattr(self._session.content.header.stated, field)
        if text == self._now(field, self._shown(old, scale)):
            return
        if not text:
            self._stated(label.lower(), field, "", None)
        elif (value := self._number(text, label, self._shown(old, scale) or "(none)")) is not None:
            self._stated(label.lower(), field, text, value * scale)

    def _on_area(self, text: str) -> None:
        scale = INCH**2 if self._session.content.header.units == "in" else 1.0
        self._figure(text, "Stated surface", "area", scale)

    def _on_three(self, text: str, field: str) -> None:
        """X, Y and Z of a size or place."""
        header, label = self._session.content.header, {"size": "Size", "center": "Centre of mass"}[field]
        old: Three = getattr(header.stated, field)
        if text == self._now(field, self._three(old)):
            return
        try:
            value = read_three(text, header.units, 0.0 if field == "size" else -1e6)
        except Refusal as error:
            self._error.setText(f"{label}: {error} The old value {self._three(old) or '(none)'} stays.")
            self.refresh(keep_error=True)
            return
        self._stated(f"stated {label.lower()}", field, text, value)

    def _three(self, value: Three) -> str:
        """X, Y and Z as they would be typed."""
        if all(v is None for v in value):
            return ""
        scale = INCH if self._session.content.header.units == "in" else 1.0
        return " x ".join("-" if v is None else f"{v / scale:.10g}" for v in value)

    def _on_tolerance(self, text: str) -> None:
        old = f"{100 * self._session.content.header.stated.tolerance:g}"
        if text != self._now("tolerance", old) and (value := self._number(text, "Agreement", old)) is not None:
            self._stated("agreement", "tolerance", text, value / 100)

    @staticmethod
    def _shown(value: float | None, scale: float) -> str:
        return "" if value is None else f"{value / scale:.10g}"

    def refresh(self, keep_error: bool = False) -> None:
        header = self._session.content.header
        if not keep_error:
            self._error.clear()
        for field in ("name", "number", "revision", "remarks"):
            getattr(self, field).setText(getattr(header, field))
            getattr(self, field).setCursorPosition(0)
        self.units.setCurrentIndex(0 if header.units == "mm" else 2 if header.fractions else 1)
        by_places = header.places is not None
        self.grade.setCurrentIndex(len(CLASSES) if by_places else list(CLASSES).index(header.grade))
        self.projection.setCurrentIndex(0 if header.projection == "first" else 1)
        names = [m.name for m in all_materials()]
        self.material.setCurrentIndex(names.index(header.material.name) if header.material.name in names else -1)
        self._show_number(self.density, "density", f"{header.material.density:g}")
        self._source.setText(f"Density: {header.material.source}.")
        inches = header.units == "in"
        self._show_number(self.volume, "volume", self._shown(header.stated.volume, INCH**3 if inches else 1.0))
        self.volume.setPlaceholderText("in³" if inches else "mm³")
        self._show_number(self.mass, "mass", self._shown(header.stated.mass, 1.0))
        self.mass.setPlaceholderText("g")
        self._show_number(self.area, "area", self._shown(header.stated.area, INCH**2 if inches else 1.0))
        self.area.setPlaceholderText("in²" if inches else "mm²")
        self._show_number(self.overall, "size", self._three(header.stated.size))
        self.overall.setPlaceholderText("X x Y x Z")
        self._show_number(self.center, "center", self._three(header.stated.center))
        self.center.setPlaceholderText("X, Y, Z")
        self._show_number(self.tolerance, "tolerance", f"{100 * header.stated.tolerance:g}")


def _usual_places(unit: str) -> ByPlaces:
    """What such title blocks usually say, to start from: inch .1 .01 .005 .0005, metric 0.5 0.2 0.1 0.02."""
    if unit == "in":
        return ByPlaces(four=0.0005 * INCH)
    return ByPlaces(one=0.5, two=0.2, three=0.1, four=0.02, fraction=0.5)


def _worded(material: Material) -> str:
    """Its density stands in the field below as soon as it is chosen."""
    return f"{material.name} ({material.grade})"


def _checked(content: Content, fields: dict[str, object]) -> Content:
    changed = edits.set_header(content, **fields)
    edits.checked_header(changed.header)
    return changed
