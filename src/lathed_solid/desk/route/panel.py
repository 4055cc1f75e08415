"""The route panel: cards above, the chosen step's editor below."""

from __future__ import annotations

from functools import partial
from typing import Any

import msgspec
from PyQt6.QtCore import QModelIndex, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QListView,
    QMenu,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from ...core.job import edits, suggest
from ...core.job.model import Content
from ...core.kernel.ground.figures import Surface
from ...core.refusal import Refusal
from ...core.route.model import StepBase
from ...core.route.registry import FAMILIES, KINDS, Step, kind_of
from ...core.route.steps.edges import Chamfer, Fillet
from ...core.route.steps.extrude import Extrude
from ...core.route.steps.keyway import Keyway
from ...core.route.steps.revolve import Revolve
from ...core.route.steps.sweep import Sweep
from ...core.sketch.model import Plane, Sketch
from ..lists import Rows, dress_list, heading
from ..picking import Picking
from ..session import Session
from ..theme.icons import icon
from ..theme.palette import Palette
from .bodies import BodyList
from .cards import ID, CardDelegate, RouteModel
from .editor import StepEditor
from .routes import RouteButton


class _Cards(QListView):
    """Space ticks a step off, Delete removes it, Alt+Up and Alt+Down move it."""

    def __init__(self, panel: RoutePanel) -> None:
        super().__init__()
        self._panel = panel

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if alt and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._panel.shift(-1 if event.key() == Qt.Key.Key_Up else 1)
        elif event.key() == Qt.Key.Key_Delete:
            self._panel.remove()
        elif event.key() == Qt.Key.Key_Space:
            self._panel.tick()
        else:
            super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position().toPoint()
        index = self.indexAt(at)
        super().mouseReleaseEvent(event)
        if index.isValid() and CardDelegate.tick_box(self.visualRect(index).adjusted(8, 3, -8, -3)).contains(at):
            self._panel.tick()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The chosen card stays in sight when the list of bodies opens above it."""
        super().resizeEvent(event)
        self.scheduleDelayedItemsLayout()
        if self.currentIndex().isValid():
            self.scrollTo(self.currentIndex())


class RoutePanel(QWidget):
    sketch_wanted = pyqtSignal(str)
    areas_wanted = pyqtSignal(str)

    def __init__(self, session: Session, picking: Picking, palette: Palette) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._picking = session, picking
        self.model = RouteModel(session, self)
        self.list = _Cards(self)
        self._rows = Rows(self.list)
        self.delegate = CardDelegate(palette, self)
        dress_list(self.list, self.model, self.delegate, "Route", self._on_current, self._menu)
        self.list.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.editor = StepEditor(session, picking)
        self.editor.sketch_wanted.connect(self.sketch_wanted)
        self.editor.areas_wanted.connect(self.areas_wanted)
        self.add_button = QPushButton("Add a step")
        self.add_button.clicked.connect(self.open_add_menu)
        self._state = QLabel()
        self._told = ("", "")
        self.routes = RouteButton(session)
        self.bodies = BodyList(session)
        head, rule = heading("Route", self._state)
        head.insertWidget(1, self.routes)
        top = QWidget()
        column = QVBoxLayout(top)
        column.setContentsMargins(0, 4, 0, 8)
        column.setSpacing(6)
        column.addWidget(self.list, 1)
        row = QHBoxLayout()
        row.setContentsMargins(8, 0, 8, 0)
        row.addWidget(self.add_button)
        column.addLayout(row)
        split = QSplitter(Qt.Orientation.Vertical)
        split.addWidget(top)
        split.addWidget(self.editor)
        split.setSizes([330, 330])
        split.setChildrenCollapsible(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(head)
        layout.addWidget(rule)
        layout.addWidget(self.bodies)
        layout.addWidget(split, 1)
        session.edited.connect(self.refresh)
        session.switched.connect(self.refresh)
        session.reported.connect(self._on_reports)
        session.busy.shown.connect(self._on_progress)
        session.selected.connect(self._show_selected)

    def dress(self, palette: Palette) -> None:
        self.delegate.palette = palette
        viewport = self.list.viewport()
        if viewport is not None:
            viewport.update()

    def refresh(self) -> None:
        self.model.refresh()
        self._show_selected()
        self._on_reports()

    def _on_reports(self) -> None:
        self._rows.show(self.model.says())
        self._keep_in_sight()
        reports = self._session.current.reports.values()
        failed = next((r for r in reports if r.state == "failed"), None)
        remarks = sum(r.state == "done" and bool(r.message) for r in reports)
        busy = bool(self._session.busy.step)
        back = self._session.until
        self._state.setText(
            "working …"
            if busy
            else "1 step to fill in"
            if failed and failed.unfinished
            else "1 step failed"
            if failed
            else f"built up to {edits.step_number(self._session.content, back)}"
            if back and self.model.row_of(back) >= 0
            else f"{remarks} remark{'s' * (remarks != 1)}"
            if remarks
            else f"{len(self.model.steps)} step{'s' * (len(self.model.steps) != 1)}"
        )
        self.editor.refresh()
        self.bodies.refresh()
        self.routes.refresh()

    def _keep_in_sight(self) -> None:
        """A chosen card that has more to say than before is shown whole."""
        report = self._session.current.reports.get(self._session.step)
        told = self._session.step, report.message if report is not None else ""
        if told != self._told and told[1] and self.list.currentIndex().isValid():
            self.list.executeDelayedItemsLayout()
            self.list.scrollTo(self.list.currentIndex())
        self._told = told

    def _on_progress(self, _: str) -> None:
        self._on_reports()

    def _on_current(self, current: QModelIndex, _: QModelIndex) -> None:
        if current.isValid() and current.data(ID) != self._session.step:
            self._picking.done()
            self._session.select_step(current.data(ID))

    def _show_selected(self) -> None:
        row = self.model.row_of(self._session.step)
        if row >= 0 and self.list.currentIndex().row() != row:
            self.list.setCurrentIndex(self.model.index(row))
            self.list.scrollTo(self.model.index(row))
        elif row < 0:
            self.list.clearSelection()
            self.list.setCurrentIndex(QModelIndex())
        self.editor.refresh()

    # --- edits
    def shift(self, by: int) -> None:
        row = self.model.row_of(self._session.step)
        if row >= 0:
            id_ = self._session.step
            self._session.edit(lambda c: edits.move_step(c, id_, row + by), "step moved")

    def tick(self) -> None:
        row = self.model.row_of(self._session.step)
        if row >= 0:
            step = self.model.steps[row]
            state = Qt.CheckState.Checked if step.suppressed else Qt.CheckState.Unchecked
            self.model.setData(self.model.index(row), state, Qt.ItemDataRole.CheckStateRole)

    def remove(self) -> None:
        id_ = self._session.step
        row = self.model.row_of(id_)
        if row >= 0 and self._session.edit(lambda c: edits.remove_step(c, id_), "step removed"):
            left = self._session.content.steps  # the one that moved up, else the last
            self._session.select_step(left[min(row, len(left) - 1)].id if left else "")

    def open_add_menu(self) -> None:
        """Kinds of step; first the one the chosen callout asks for."""
        menu = self.add_menu()
        menu.exec(self.add_button.mapToGlobal(QPoint(0, self.add_button.height())))

    def add_menu(self) -> QMenu:
        menu = QMenu(self)
        number = self._session.callout
        if number is not None and (title := self._callout_step(number)):
            menu.addAction(f"{title} from callout {number}", self.add_from_callout)
            menu.addSeparator()
        for family in FAMILIES:
            below = menu.addMenu(family.title)
            assert below is not None
            for kind in family.kinds:
                below.addAction(icon(kind.icon), kind.title, partial(self.add, kind.struct))
        return menu

    def _callout_step(self, number: int) -> str:
        try:
            kind = suggest.suits(self._session.content.ledger().reading(number), self._first_figure())
        except Refusal:
            return ""
        return KINDS[kind].title if kind else ""

    def add_from_callout(self) -> None:
        number = self._session.callout
        if number is None:
            self._session.say("Choose a callout first.", "warn")
            return
        faces, edges, _ = self._picking.picked()
        surface, row = self._first_figure(), self.model.row_of(self._session.until)
        at = row + 1 if row >= 0 else None
        made = self._session.make(
            lambda c: suggest.steps_from_callout(c, number, faces, edges, surface, at), f"step from callout {number}"
        )
        if made is not None:
            self._session.select_step(made)

    def add(self, kind: type[StepBase]) -> None:
        """Add a step of a kind after the chosen one, placed on what is picked."""
        made = self._session.make(lambda content: self._added(content, kind), f"{KINDS[kind].title.lower()} added")
        if made is not None:
            self._session.select_step(made)
            if KINDS[kind].begins_with_sketch:
                self.sketch_wanted.emit(getattr(self._session.content.step(made), "sketch"))  # noqa: B009

    def _added(self, content: Content, kind: type[StepBase]) -> tuple[Content, str]:
        fields: dict[str, Any] = {"name": KINDS[kind].title}
        if KINDS[kind].begins_with_sketch:
            content, fields["sketch"] = self._first_sketch(content, kind)
        if kind in (Extrude, Revolve) and not content.steps:
            fields |= {"mode": "add"} | ({"extent": "depth"} if kind is Extrude else {})
        elif kind is Extrude and self._first_kind() == "plane":  # a boss that stands on it, until told otherwise
            fields |= {"mode": "add", "extent": "depth", "direction": "forward"}
        fields |= self._placed(content, kind) | self._as_picked(kind)
        row = self.model.row_of(self._session.step)
        content, id_ = edits.new_step_id(content)
        return edits.add_step(content, _made(kind, id_, fields), row + 1 if row >= 0 else None), id_

    def _placed(self, content: Content, kind: type[StepBase]) -> dict[str, object]:
        """What is picked, in the fields of the kind that take it."""
        fields: dict[str, Any] = {}
        names = kind.__struct_fields__
        faces = tuple(self._picking.reference(i) for i in self._picking.faces)
        if "face" in names and faces and not KINDS[kind].begins_with_sketch:
            fields["face"] = faces[0]
        if "faces" in names and faces:
            fields["faces"] = faces
        if "edges" in names:
            broken = kind in (Chamfer, Fillet)
            fields["edges"] = tuple(self._picking.edges) or (suggest.edges_of_faces(faces) if broken else ())
        if "of" in names and not {"face", "plane"} & set(names):  # a face may be meant as the mirror
            fields["of"] = self._repeated(content)
        return fields

    def _repeated(self, content: Content) -> tuple[str, ...]:
        """What a row or a ring is to repeat: the steps that made the picked faces, else the chosen one, which is mostly
        the last one made. Never the one it all began with.
        """
        names = [self._picking.reference(i).name.partition("/")[0] for i in self._picking.faces]
        after = content.steps[1:]
        picked = tuple(s.id for s in after if s.id in names)
        return picked or tuple(s.id for s in after if s.id == self._session.step and kind_of(s).repeatable)

    def _first_figure(self) -> Surface | None:
        return self._picking.figure(self._picking.faces[0]) if self._picking.faces else None

    def _first_kind(self) -> str:
        figure = self._first_figure()
        return figure.kind if figure is not None else ""

    def _as_picked(self, kind: type[StepBase]) -> dict[str, object]:
        """What a picked round face says: a sweep winds round it, a keyway in a hollow one is a bore's."""
        figure = self._first_figure()
        if figure is None or figure.kind != "cylinder":
            return {}
        if kind is Sweep:
            return {"path": "helix", "round_face": self._picking.reference(figure.index)}
        return {"form": "bore"} if kind is Keyway and figure.hollow else {}

    def _first_sketch(self, content: Content, kind: type[StepBase]) -> tuple[Content, str]:
        """A sketch for a new step: a table for turned profiles; on the picked flat face; else across the axis."""
        title = KINDS[kind].title
        if kind in (Revolve, Sweep):
            content, id_ = edits.add_sketch(content, title, Plane("turning"))
            return (
                (edits.set_sketch(content, _with_table(content.sketch(id_))), id_)
                if kind is Revolve
                else (content, id_)
            )
        figure = self._first_figure()
        if figure is not None and self._first_kind() == "plane":
            return edits.add_sketch(content, title, Plane("face", on=self._picking.reference(figure.index).name))
        return edits.add_sketch(content, title, Plane("end"))

    # --- going back, groups
    def _roll(self, until: str) -> None:
        """Build up to a step; new steps go in after it."""
        self._session.build_until(until)

    def _group_menu(self, menu: QMenu) -> None:
        """Groups of steps that are taken in and out together."""
        steps = self.model.steps
        chosen = steps[self.model.row_of(self._session.step)]
        below = menu.addMenu("Group")
        assert below is not None
        groups = sorted({s.group for s in steps if s.group} | {"edges", "cosmetic"})
        for name in groups:
            action = below.addAction(
                f"In “{name}”", partial(self._set_group, chosen.id, "" if chosen.group == name else name)
            )
            if action is not None:
                action.setCheckable(True)
                action.setChecked(chosen.group == name)
        below.addAction("In a new group …", partial(self._ask_group, chosen.id))
        below.addSeparator()
        for name in sorted({s.group for s in steps if s.group}):
            off = all(s.suppressed for s in steps if s.group == name)
            words = f"Take “{name}” in again" if off else f"Take “{name}” out"
            below.addAction(words, partial(self.take_group, name, off))

    def _set_group(self, id_: str, name: str) -> None:
        self._session.edit(lambda c: edits.change_step(c, id_, group=name), f"group “{name}”" if name else "no group")

    def _ask_group(self, id_: str) -> None:
        name, ok = QInputDialog.getText(self, "Group", "Name of the group")
        if ok and name.strip():
            self._set_group(id_, name.strip())

    def take_group(self, name: str, on: bool) -> None:
        """Suppress all steps of a group, or take them in again, in one edit."""

        def change(content: Content) -> Content:
            for step in content.steps:
                if step.group == name:
                    content = edits.change_step(content, step.id, suppressed=not on)
            return content

        self._session.edit(change, f"“{name}” {'taken in again' if on else 'taken out'}")

    def _menu(self, at: QPoint) -> None:
        if self.model.row_of(self._session.step) < 0:
            return
        menu = QMenu(self)
        menu.addAction("Tick off or on", self.tick)
        menu.addAction("Move up", lambda: self.shift(-1))
        menu.addAction("Move down", lambda: self.shift(1))
        menu.addAction("Insert a step after it", self.open_add_menu)
        menu.addAction("Build up to this step", lambda: self._roll(self._session.step))
        if self._session.until:
            menu.addAction("Build the whole route", lambda: self._roll(""))
        self._group_menu(menu)
        menu.addAction("Remove", self.remove)
        menu.exec(self.list.mapToGlobal(at))


def _with_table(sketch: Sketch) -> Sketch:
    """A turned profile starts as an empty table."""
    return msgspec.structs.replace(sketch, stations=())


def _made(kind: type[StepBase], id_: str, fields: dict[str, Any]) -> Step:
    step: Step = kind(id=id_, **fields)
    return step
