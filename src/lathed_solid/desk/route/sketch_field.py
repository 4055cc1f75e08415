"""The sketch of a step: which one it is, where it lies, and the way to it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import msgspec
from PyQt6 import sip
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFormLayout, QPushButton, QWidget

from ...core.job import edits
from ...core.job.model import Content
from ...core.route.model import FaceRef, Param
from ...core.route.registry import Step, kind_of
from ...core.sketch.model import Plane, Sketch
from ..formula import FormulaField
from ..picking import Picking
from ..session import Session
from .fields import FaceField, choice

_BASES = (
    ("end", "across the axis"),
    ("side", "along the axis"),
    ("face", "on a face or plane"),
    ("turning", "turned (axis and radius)"),
)


class SketchField(QWidget):
    """Several steps may share a sketch; one that no step uses any more goes. ``wanted`` asks for one to be shown on
    the plate; ``moved`` tells that its plane lies elsewhere now.
    """

    wanted = pyqtSignal(str)
    moved = pyqtSignal()

    def __init__(
        self,
        session: Session,
        picking: Picking,
        step: Step,
        param: Param,
        planes: Sequence[FaceRef],
    ) -> None:
        super().__init__()
        self._session, self._step, self._param = session, step, param
        self._picking = picking
        form = QFormLayout(self)
        form.setContentsMargins(12, 0, 0, 4)
        id_ = getattr(step, param.field)
        sketch = next((s for s in session.content.sketches if s.id == id_), None)
        others = tuple((s.id, s.name or s.id) for s in session.content.sketches)
        if len(others) > (sketch is not None):
            form.addRow(
                choice(
                    id_, (("", "choose …"), *others) if sketch is None else others, self._use, f"Which {param.label}"
                )
            )
        if sketch is None:
            new = QPushButton("Draw it on the plate")
            new.setAccessibleName(f"Draw {param.label}")
            new.clicked.connect(self._new)
            form.addRow(new)
            return
        edit = QPushButton("Edit on the plate")
        edit.setAccessibleName(f"Edit {param.label}")
        edit.clicked.connect(lambda: self.wanted.emit(id_))
        form.addRow(edit)
        if sketch.stations is None:
            self._place(form, sketch, picking, planes)

    def _place(self, form: QFormLayout, sketch: Sketch, picking: Picking, planes: Sequence[FaceRef]) -> None:
        plane = sketch.plane
        form.addRow("Plane", choice(plane.base, _BASES, lambda v: self._plane(base=v), "Plane"))
        if plane.base == "turning":
            return
        if plane.base == "face":
            on = FaceRef(plane.on, next((p.was for p in planes if p.name == plane.on), plane.on))
            form.addRow("On", FaceField(picking, on, lambda ref: self._plane(on=ref.name), "Sketch lies on", planes))
        for name, want, label in (("angle", "angle", "Turned by"), ("offset", "length", "Offset")):
            formula = FormulaField(self._session, want, getattr(plane, name), label)
            formula.committed.connect(lambda text, f=name: self._plane(**{f: text}))
            form.addRow(label, formula)
        if plane.base == "side":
            datum = FaceRef(plane.datum, plane.datum)
            form.addRow("Zero on", FaceField(picking, datum, lambda ref: self._plane(datum=ref.name), "Zero lies on"))

    def _new(self) -> None:
        """An empty sketch for a field that has none yet; it lies as the step's other sketch does."""
        step, param, on = self._step, self._param, self._flat_face()

        def change(content: Content) -> tuple[Content, str]:
            name = f"{step.name or kind_of(step).title}: {param.label.lower()}"
            content, id_ = edits.add_sketch(content, name, Plane("face", on=on) if on else Plane("end"))
            return edits.change_step(content, step.id, **{param.field: id_}), id_

        made = self._session.make(change, "sketch added")
        if made is not None and not sip.isdeleted(self):  # the edit may have shown another step
            self.wanted.emit(made)

    def _flat_face(self) -> str:
        """The flat face the step is placed on, by name; empty when there is none."""
        face = getattr(self._step, "face", FaceRef(""))
        figure = self._picking.figure(self._picking.index_of(face.name))
        return face.name if figure is not None and figure.kind == "plane" else ""

    def _use(self, new: str) -> None:
        step, field, old = self._step, self._param.field, getattr(self._step, self._param.field)

        def change(content: Content) -> Content:
            more = {"regions": ()} if field == "sketch" and hasattr(step, "regions") else {}
            content = edits.change_step(content, step.id, **{field: new, **more})
            return edits.without_unused_sketch(content, old)

        if new and new != old and self._session.edit(change, "step takes another sketch") and not sip.isdeleted(self):
            self.wanted.emit(new)

    def _plane(self, **fields: Any) -> None:
        id_ = getattr(self._step, self._param.field)

        def change(content: Content) -> Content:
            sketch = content.sketch(id_)
            plane: Plane = msgspec.structs.replace(sketch.plane, **fields)
            return edits.set_sketch(content, msgspec.structs.replace(sketch, plane=plane))

        if self._session.edit(change, "sketch plane changed") and not sip.isdeleted(self):
            self.moved.emit()
