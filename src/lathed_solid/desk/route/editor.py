"""The editor of one step, made from its kind's fields."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QFormLayout, QLabel, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...core.job import edits, suggest
from ...core.route.model import FaceRef, Param
from ...core.route.registry import DATUMS, Step, kind_of
from ...core.route.steps.edges import Chamfer, Fillet
from ..formula import FormulaField
from ..picking import Picking
from ..session import Session
from ..theme.dressing import call
from .bodies import body_name
from .cards import tone
from .fields import (
    AreasField,
    BodiesField,
    EdgesField,
    FaceField,
    FacesField,
    FileField,
    Set,
    SharpEdges,
    StepsField,
    choice,
)
from .sketch_field import SketchField

#: A label with more letters stands above a list of edges or faces, which needs the width.
SHORT = 7
#: Wider the column never gets, pixels: the part needs its room.
MOST_WIDE = 340


class StepEditor(QScrollArea):
    """Shows the chosen step's fields; every change is an edit of the job."""

    sketch_wanted = pyqtSignal(str)
    areas_wanted = pyqtSignal(str)
    file_wanted = pyqtSignal(str)

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__()
        self._session, self._picking = session, picking
        self._shown: tuple[str, tuple[str, ...]] = ("", ())
        self._formulas: dict[str, FormulaField] = {}
        self._value: Step | None = None
        #: Kinds whose further fields are open, and what finds the edges that are still sharp (set by the window).
        self._opened: frozenset[str] = frozenset()
        self.sharp: SharpEdges | None = None
        self._why: QLabel | None = None
        self._again: QPushButton | None = None
        session.reported.connect(self._tell)
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Step editor")
        self._column = QWidget()
        self._forms = QVBoxLayout(self._column)
        self._forms.setContentsMargins(0, 0, 0, 0)
        self.setWidget(self._column)

    def _step(self) -> Step | None:
        return next((s for s in self._session.content.steps if s.id == self._session.step), None)

    def refresh(self) -> None:
        """Show the present step. Formula fields are kept while only texts changed, so that typing is not disturbed."""
        step = self._step()
        if step is None:
            self._value = self._why = self._again = None
            self._show_widget(QWidget())
            self.setVisible(False)
            return
        self.setVisible(True)
        if step == self._value:
            for name, field in self._formulas.items():
                field.show_text(getattr(step, name, field.field.text()))
            return
        before, self._value = self._value, step
        if self.sharp is not None and (before is None or before.id != step.id):
            self.sharp.close()
        if before is not None and self._only_texts(before, step):
            for name, field in self._formulas.items():
                if hasattr(step, name):
                    field.show_text(getattr(step, name))
            return
        self._build(step)

    def forget(self) -> None:
        """Show the step anew, whatever is thought to be on screen."""
        self._value = None
        self.refresh()

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
        self._why, self._again = QLabel(), QPushButton("Try it again")
        self._why.setWordWrap(True)
        self._again.clicked.connect(self._session.try_again)
        form.addRow(self._why)
        form.addRow(self._again)
        name = QLineEdit(step.name)
        name.setAccessibleName("Step name")
        name.editingFinished.connect(lambda: self._set(step.id, "name", name.text().strip()))
        form.addRow("Name", name)
        shown = [p for p in kind.params if p.applies(step)]
        self._rows(form, step, [p for p in shown if not p.more])
        bodies = self._bodies_before(step)
        if len(bodies) > 1:
            which = (("", "of what is picked, or the last"), *bodies)
            form.addRow("Body", choice(step.body, which, lambda v: self._set(step.id, "body", v), "Body"))
        if more := [p for p in shown if p.more]:
            self._more(form, step, more)
        self._tell()
        self._show_widget(body)

    def _tell(self) -> None:
        """What the last build says of the step shown; nothing is left standing from an earlier one."""
        if self._why is None or self._again is None or self._value is None:
            return
        report = self._session.current.reports.get(self._value.id)
        words = report.message if report is not None else ""
        name = "bad" if report is not None and tone(report) == "out" else "warn"
        call(self._why, name)
        self._why.setText(words)
        self._why.setVisible(bool(words))
        self._again.setVisible(bool(words) and self._value.id in self._session.current.faulted)

    def _rows(self, form: QFormLayout, step: Step, params: list[Param]) -> None:
        for param in params:
            widget = self._field(step, param)
            if param.help:
                widget.setToolTip(param.help)
            if param.want == "sketch" or (param.want in ("edges", "faces") and len(param.label) > SHORT):
                # has fields of its own, which need the whole width
                form.addRow(QLabel(param.label))
                form.addRow(widget)
            else:
                form.addRow(param.label, widget)

    def _more(self, form: QFormLayout, step: Step, params: list[Param]) -> None:
        """Fields that most such steps leave alone, behind a line that opens them."""
        plain = type(step)(id=step.id)
        changed = [p for p in params if getattr(step, p.field) != getattr(plain, p.field)]
        is_open = type(step).__name__ in self._opened or bool(changed)
        head = QPushButton(f"{'▾' if is_open else '▸'} More")
        head.setObjectName("quiet")
        head.setAccessibleName("More fields")
        head.clicked.connect(lambda: self._open_more(type(step).__name__, is_open))
        form.addRow(head)
        if is_open:
            self._rows(form, step, params)

    def _open_more(self, kind: str, was_open: bool) -> None:
        self._opened = self._opened - {kind} if was_open else self._opened | {kind}
        self._value = None
        self.refresh()

    def _bodies_before(self, step: Step) -> tuple[tuple[str, str], ...]:
        """Bodies that there are, with their names; those a later step begins left out."""
        content, built = self._session.content, self._session.current.built
        ids = [s.id for s in content.steps]
        before = set(ids[: ids.index(step.id)]) if step.id in ids else set()
        found = [b.id for b in built.bodies] if built is not None else []
        return tuple((i, body_name(content, i, built)) for i in found if i.partition("/")[0] in before)

    def _planes_before(self, step: Step) -> tuple[FaceRef, ...]:
        found = []
        for other in self._session.content.steps:
            if other.id == step.id:
                break
            if isinstance(other, DATUMS):
                kind = kind_of(other)
                what = {"Plane": "plane", "Axis": "axis"}.get(kind.title, "point")
                found.append(FaceRef(f"{other.id}/{what}", f"{kind.title.lower()} “{other.name or other.id}”"))
        return tuple(found)

    def _show_widget(self, body: QWidget) -> None:
        """Exchange the form. The old one may be in the middle of its own signal, so it goes later; the keyboard stays
        in the field of the same name."""
        focus = QApplication.focusWidget()
        name = focus.accessibleName() if focus is not None and self.isAncestorOf(focus) else ""
        # Not taken out of the column before it goes: whatever changes its parent is dressed anew, which takes as long
        # as making it.
        for old in self._column.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly):
            old.hide()
            old.deleteLater()
        self._forms.addWidget(body)
        body.show()
        self._make_room(body)
        if name:
            same = next((w for w in body.findChildren(QWidget) if w.accessibleName() == name), None)
            if same is not None:
                same.setFocus()

    def _make_room(self, body: QWidget) -> None:
        """The column is as wide as its fields need: they do not scroll sideways, and nothing of them is cut off."""
        bar = self.verticalScrollBar()
        beside = bar.sizeHint().width() if bar is not None else 0
        self.setMinimumWidth(min(body.minimumSizeHint().width() + beside + 2 * self.frameWidth(), MOST_WIDE))

    def _field(self, step: Step, param: Param) -> QWidget:
        value = getattr(step, param.field)

        def change(new: object) -> None:
            self._set(step.id, param.field, new)

        if param.is_formula:
            field = FormulaField(self._session, param.want, value, param.label)
            field.committed.connect(change)
            field.typed.connect(
                lambda text: self._session.preview(lambda c: edits.change_step(c, step.id, **{param.field: text}))
            )
            field.given_up.connect(self._session.look_away)
            self._formulas[param.field] = field
            return field
        if param.want == "text":
            line = QLineEdit(value)
            line.setAccessibleName(param.label)
            line.editingFinished.connect(lambda: change(line.text().strip()))
            return line
        if param.want == "choice":
            return choice(value, param.choices, change, param.label)
        return self._picker(step, param, value, change)

    def _picker(self, step: Step, param: Param, value: Any, change: Set) -> QWidget:
        """Fields that are filled by pointing at something."""
        if param.want == "face":
            return FaceField(self._picking, value, change, param.label, self._planes_before(step))
        if param.want == "faces":
            return FacesField(self._picking, value, change, param.label, repeats=param.field == "corners")
        if param.want == "edges":
            breaks = isinstance(step, Chamfer | Fillet)
            return EdgesField(self._picking, value, change, param.label, self.sharp if breaks else None, param.most)
        if param.want == "steps":
            return StepsField(self._session, step.id, value, change)
        if param.want == "bodies":
            return BodiesField(self._picking, self._bodies_before(step), value, change, param.label)
        if param.want == "sketch":
            field = SketchField(self._session, self._picking, step, param, self._planes_before(step))
            field.wanted.connect(self.sketch_wanted)
            field.moved.connect(self.forget)
            return field
        if param.want == "file":
            return FileField(getattr(step, "file", ""), lambda: self.file_wanted.emit(step.id))
        return AreasField(value, change, lambda: self.areas_wanted.emit(getattr(step, "sketch", "")))

    def _set(self, id_: str, field: str, value: object) -> None:
        content = self._session.content
        if getattr(content.step(id_), field) != value:
            fields = {field: value} | suggest.brings_along(content, id_, field, value)
            self._session.edit(
                lambda c: edits.change_step(c, id_, **fields), f"step changed: {field.replace('_', ' ')}"
            )
