"""The editor of one step, made from its kind's fields."""

from __future__ import annotations

from typing import Any

import msgspec
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QFormLayout, QLabel, QLineEdit, QPushButton, QScrollArea, QWidget

from ...core.job import edits
from ...core.route.model import FaceRef, Param
from ...core.route.registry import Step, kind_of
from ...core.sketch.model import Plane
from ..formula import FormulaField
from ..picking import Picking
from ..session import Session
from .fields import AreasField, EdgesField, FaceField, StepsField, choice

_BASES = (("end", "across the axis"), ("side", "along the axis"))


class StepEditor(QScrollArea):
    """Shows the chosen step's fields; every change is an edit of the job."""

    sketch_wanted = pyqtSignal(str)
    areas_wanted = pyqtSignal(str)

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__()
        self._session, self._picking = session, picking
        self._shown: tuple[str, tuple[str, ...]] = ("", ())
        self._formulas: dict[str, FormulaField] = {}
        self._value: Step | None = None
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Step editor")

    def _step(self) -> Step | None:
        return next((s for s in self._session.content.steps if s.id == self._session.step), None)

    def refresh(self) -> None:
        """Show the present step. Formula fields are kept while only texts changed, so that typing is not disturbed."""
        step = self._step()
        if step is None:
            self._value = None
            self._show_widget(QWidget())
            self.setVisible(False)
            return
        self.setVisible(True)
        if step == self._value:
            for name, field in self._formulas.items():
                field.show_text(getattr(step, name, field.field.text()))
            return
        before, self._value = self._value, step
        if before is not None and self._only_texts(before, step):
            for name, field in self._formulas.items():
                if hasattr(step, name):
                    field.show_text(getattr(step, name))
            return
        self._build(step)

    def _only_texts(self, a: Step, b: Step) -> bool:
        """Whether two states of a step differ only in formula fields."""
        if a.id != b.id or type(a) is not type(b):
            return False
        formulas = {p.field for p in kind_of(b).params if p.is_formula}
        return all(getattr(a, f) == getattr(b, f) for f in b.__struct_fields__ if f not in formulas)

    def _build(self, step: Step) -> None:
        self._formulas = {}
        body = QWidget()
        form = QFormLayout(body)
        form.setContentsMargins(12, 8, 12, 12)
        form.setSpacing(7)
        form.setRowWrapPolicy(QFormLayout.RowWrapPolicy.DontWrapRows)
        kind = kind_of(step)
        title = QLabel(f"Step {edits.step_number(self._session.content, step.id)} · {kind.title}")
        title.setObjectName("title")
        form.addRow(title)
        name = QLineEdit(step.name)
        name.setAccessibleName("Step name")
        name.editingFinished.connect(lambda: self._set(step.id, "name", name.text().strip()))
        form.addRow("Name", name)
        for param in kind.params:
            if param.applies(step):
                widget = self._field(step, param)
                if param.help:
                    widget.setToolTip(param.help)
                form.addRow(param.label, widget)
        report = self._session.current.reports.get(step.id)
        if report is not None and report.state == "failed":
            why = QLabel(report.message)
            why.setObjectName("bad")
            why.setWordWrap(True)
            form.addRow(why)
            if step.id in self._session.current.faulted:
                again = QPushButton("Try it again")
                again.clicked.connect(self._session.try_again)
                form.addRow(again)
        self._show_widget(body)

    def _show_widget(self, body: QWidget) -> None:
        """Exchange the form. The old one may be in the middle of its own signal, so it goes later; the keyboard stays
        in the field of the same name."""
        focus = QApplication.focusWidget()
        name = focus.accessibleName() if focus is not None and self.isAncestorOf(focus) else ""
        old = self.takeWidget()
        if old is not None:
            old.deleteLater()
        self.setWidget(body)
        if name:
            same = next((w for w in body.findChildren(QWidget) if w.accessibleName() == name), None)
            if same is not None:
                same.setFocus()

    def _field(self, step: Step, param: Param) -> QWidget:
        value = getattr(step, param.field)

        def change(new: Any) -> None:
            self._set(step.id, param.field, new)

        if param.is_formula:
            field = FormulaField(self._session, param.want, value, param.label)
            field.committed.connect(change)
            self._formulas[param.field] = field
            return field
        if param.want == "face":
            return FaceField(self._picking, value, change, param.label)
        if param.want == "edges":
            return EdgesField(self._picking, value, change, param.label)
        if param.want == "steps":
            return StepsField(self._session, step.id, value, change)
        if param.want == "sketch":
            return self._sketch(step)
        if param.want == "text":
            line = QLineEdit(value)
            line.setAccessibleName(param.label)
            line.editingFinished.connect(lambda: change(line.text().strip()))
            return line
        if param.want == "regions":
            return AreasField(value, change, lambda: self.areas_wanted.emit(getattr(step, "sketch", "")))
        return choice(value, param.choices, change, param.label)

    def _set(self, id_: str, field: str, value: Any) -> None:
        if getattr(self._session.content.step(id_), field) != value:
            self._session.edit(
                lambda c: edits.change_step(c, id_, **{field: value}), f"step changed: {field.replace('_', ' ')}"
            )

    # --- the sketch of a step: where it lies, and the way to it
    def _sketch(self, step: Step) -> QWidget:
        holder = QWidget()
        form = QFormLayout(holder)
        form.setContentsMargins(0, 0, 0, 0)
        id_ = getattr(step, "sketch", "")
        sketch = next((s for s in self._session.content.sketches if s.id == id_), None)
        if sketch is None:
            new = QPushButton("Draw points on the plate")
            new.clicked.connect(lambda: self._new_sketch(step))
            form.addRow(new)
            return holder
        alike = [s for s in self._session.content.sketches if s.turned == sketch.turned]
        if len(alike) > 1:
            names = tuple((s.id, s.name or s.id) for s in alike)
            form.addRow(choice(id_, names, lambda new: self._use_sketch(step.id, id_, new), "Which outline"))
        edit = QPushButton("Edit on the plate")
        edit.clicked.connect(lambda: self.sketch_wanted.emit(id_))
        form.addRow(edit)
        if not sketch.turned:
            plane = sketch.plane
            form.addRow("Plane", choice(plane.base, _BASES, lambda v: self._plane(id_, base=v), "Plane"))
            for name, want, label in (("angle", "angle", "Turned by"), ("offset", "length", "Offset")):
                formula = FormulaField(self._session, want, getattr(plane, name), label)
                formula.committed.connect(lambda text, f=name: self._plane(id_, **{f: text}))
                form.addRow(label, formula)
            if plane.base == "side":
                datum = FaceRef(plane.datum, plane.datum)
                field = FaceField(self._picking, datum, lambda ref: self._plane(id_, datum=ref.name), "Zero lies on")
                form.addRow("Zero on", field)
        return holder

    def _new_sketch(self, step: Step) -> None:
        """An empty sketch for a step that has none yet."""
        made: list[str] = []

        def change(content: Any) -> Any:
            content, id_ = edits.add_sketch(content, step.name or kind_of(step).title, Plane("end"))
            made.append(id_)
            return edits.change_step(content, step.id, sketch=id_)

        if self._session.edit(change, "sketch added"):
            self.sketch_wanted.emit(made[0])

    def _use_sketch(self, step: str, old: str, new: str) -> None:
        """Several steps may share one outline; one that no step uses any more goes."""

        def change(content: Any) -> Any:
            content = edits.change_step(content, step, sketch=new, regions=())
            return edits.without_unused_sketch(content, old)

        if new != old and self._session.edit(change, "step takes another outline"):
            self.sketch_wanted.emit(new)

    def _plane(self, sketch_id: str, **fields: Any) -> None:
        def change(content: Any) -> Any:
            sketch = content.sketch(sketch_id)
            plane: Plane = msgspec.structs.replace(sketch.plane, **fields)
            return edits.set_sketch(content, msgspec.structs.replace(sketch, plane=plane))

        if self._session.edit(change, "sketch plane changed"):
            self._value = None
            self.refresh()
