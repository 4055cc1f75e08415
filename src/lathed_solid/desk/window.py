"""The window: its rooms, the actions that run in them, and what happens between them."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QMenu,
)

from ..core.job.recent import left_open
from ..core.refusal import worded
from ..core.route.registry import called, kind_of
from ..core.route.steps.foreign import Foreign
from .actions import Action
from .dropped import files_of, sorted_out
from .rooms import Rooms
from .route.fields import SharpEdges
from .session import Session
from .window_actions import declare


class Window(Rooms):
    def __init__(self, session: Session, dark: bool = False) -> None:
        super().__init__(session, dark)
        self._connect()
        declare(self, self.actions_)
        self._shortcuts()
        self._buttons()
        self.dress(self.palette_)
        self.show_stage("Shape")

    # --- putting it together
    def _connect(self) -> None:
        s = self.session
        self.rail.stage_chosen.connect(self.show_stage)
        self.rail.job_chosen.connect(s.switch)
        self.rail.unit_switched.connect(self.switch_unit)
        self.rail.dark_wanted.connect(self.toggle_dark)
        self.rail.cancel_wanted.connect(s.cancel)
        self.route.sketch_wanted.connect(self.open_sketch)
        self.route.areas_wanted.connect(self.choose_areas)
        self.route.routes.compare_wanted.connect(self.show_routes)
        self.read_side.outline.taken.connect(self.open_sketch)
        self.read_side.traced.taken.connect(self.open_sketch)
        self.glass.opened.connect(lambda: self.show_glass(True))
        self.entry.sketch_on_plate = lambda: self.plate.sketch if self.stage == "Shape" else None
        self.entry.drawn.connect(self.plate.draw_typed)
        self.entry.sentences = lambda: self.fit.sentences if self.stage == "Fit" else None
        self.glass.measure_wanted.connect(lambda: self.run(self.actions_.get("read.calipers")))
        self.read_lower.currentChanged.connect(lambda _: self._share_height())
        self.proof_figures.why_wanted.connect(lambda: self.run(self.actions_.get("prove.why")))
        self.plate.pointed.connect(self._plate_cursor)
        self.plate.large_wanted.connect(self.toggle_large)
        self.plate.solid.picked = lambda: self.picking.picked()[:2]
        self.route.editor.sharp = SharpEdges(
            lambda *told: self.part_desk.light_sharp(*told), lambda *told: self.part_desk.light_edge(*told)
        )
        self.route.editor.file_wanted.connect(self.choose_file)
        s.built.connect(self.show_built)
        s.proved.connect(self._tell_zero)
        s.switched.connect(self._on_switched)
        s.edited.connect(self._entitle)
        s.edited.connect(self._lay_out_sheet)
        s.selected.connect(self._on_selected)
        s.busy.shown.connect(self._on_progress)
        self.setAcceptDrops(True)
        self.furnished.connect(self._on_furnished)
        self.planned.connect(self._on_planned)
        self.fitted.connect(self._on_fitted)
        self.rail.instead = lambda: self.fit.rail_words() if self.stage == "Fit" and self.is_fitted else None

    def _buttons(self) -> None:
        """The job menu and the part view's buttons, made from the actions."""
        menu = QMenu(self.rail.menu_button)
        for action in self.actions_:
            if action.id.startswith(("job.", "app.")):
                made = menu.addAction(action.title, partial(self.run, action))
                if made is not None and action.keys:
                    # Shown only: the window's own shortcut does the work.
                    made.setText(f"{action.title}\t{action.keys}")
        menu.aboutToShow.connect(lambda: self._enable(menu))
        self.rail.menu_button.setMenu(menu)

    def _on_furnished(self) -> None:
        """The part's room is there: its buttons are made from the actions."""
        self.part.pointed.connect(self._part_cursor)
        self.part.sheet.stand_wanted.connect(self.stand)
        self._lay_out_sheet()
        for id_ in ("view.fit", "view.zero", "view.section", "view.hidden", "view.through"):
            action = self.actions_.get(id_)
            words = f"{action.title} ({action.keys})"
            self.part.add_button(action.icon, words, partial(self.run, action), id_ != "view.fit")
        self.part.press_button("axis", True)

    def _on_fitted(self) -> None:
        """The Fit stage's room is there: the rail and the title follow it."""
        document = self.fit.document

        def follow() -> None:
            if document.tried is None:  # nothing of it changes while parts are only being led
                self._entitle()
                self.rail.refresh()

        document.changed.connect(follow)

    def _on_planned(self) -> None:
        """The Plan stage's room is there: what happens between it and the others."""
        self.plan.planning.begun.connect(lambda: self.show_stage("Shape"))
        self.plan.planning.changed.connect(self._show_ghost)
        self.plan.strategy.drafted.connect(self.open_sketch)
        self.plan.strategy.drawing_wanted.connect(self.papers.views)
        self.plan.strategy.on_sheet.connect(self.light_sheet)
        self.papers.viewed.connect(self.plan.strategy.take_views)
        self.plan.strategy.begin.connect(lambda kind: self.run(self.actions_.get(f"step.{kind}")))

    def _enable(self, menu: QMenu) -> None:
        titles = {a.title: a for a in self.actions_}
        for item in menu.actions():
            item.setEnabled(titles[item.text().partition("\t")[0]].enabled())

    def _shortcuts(self) -> None:
        for action in self.actions_:
            if action.keys:
                shortcut = QShortcut(QKeySequence(action.keys), self)
                shortcut.activated.connect(lambda a=action: self.run(a))

    def run(self, action: Action) -> None:
        if action.enabled():
            action.run()

    # --- what the session tells
    def _on_switched(self) -> None:
        self.picking.forget()
        self._glass_wanted = None
        self._show_upper()
        if self.is_furnished:
            self.part.say("")
            self.part.refit()
            self.section.close()
        self._lay_out_sheet()
        self.show_built()
        steps = self.session.content.steps
        self.plate.show_sketch(next((getattr(s, "sketch", "") for s in steps if getattr(s, "sketch", "")), ""))
        self._entitle()

    def _lay_out_sheet(self) -> None:
        if self.is_furnished:
            self.part.sheet.lay_out(self.session.content.header.projection)

    def _entitle(self) -> None:
        title = self.fit.document.title if self.stage == "Fit" else self.session.current.title
        self.setWindowTitle(f"{title} - Lathed Solid")

    def _on_progress(self, id_: str) -> None:
        step = next((s for s in self.session.content.steps if s.id == id_), None)
        task = self.session.busy.task
        words = f"working on {called(step)}" if step is not None else task.words if task is not None else ""
        self.rail.show_busy(f"{words} …" if words else "")

    def _on_selected(self) -> None:
        """A chosen callout is shown on the part; a chosen step brings its sketch onto the plate."""
        step = next((s for s in self.session.content.steps if s.id == self.session.step), None)
        sketch = getattr(step, "sketch", "")
        # A step that is to be drawn and has no sketch yet must not leave another's on the plate to be drawn into.
        bare = step is not None and not sketch and any(p.field == "sketch" and not p.when for p in kind_of(step).params)
        if (sketch or bare) and sketch != self.plate.sketch_id:
            self.plate.show_sketch(sketch)
        if self.is_furnished:
            self.part_desk.chosen()

    # --- the part
    def _tell_zero(self) -> None:
        """A machine zero that the part has lost must not be found out at the machine."""
        lost = self.session.current.machine.lost
        if lost:
            self.session.say(f"{worded(lost[0], self.session.content.header.style.unit)} See Plan, Zero.", "warn")

    def _show_ghost(self) -> None:
        """The chosen blank round the part, while it is planned."""
        if not self.is_furnished:
            return
        from ..core.plan.first_step import place_of, section_of

        way = self.plan.planning.plan.way if self.stage == "Plan" else None
        if way is None:
            self.part.hide_blank()
        else:
            self.part.show_blank(*section_of(way), place_of(way), way.length)

    def _part_cursor(self, point: tuple[float, float, float] | None) -> None:
        if point is not None:
            x, y, z = self.session.current.machine.machine(point)
            style = self.session.content.header.style
            # A turned part is read as on the lathe, along the axis and across it; a milled one as on the mill.
            turned = f"Z {style.fixed(z)}   X Ø{style.fixed(2 * (x * x + y * y) ** 0.5)}"
            milled = f"X {style.fixed(x)}   Y {style.fixed(y)}   Z {style.fixed(z)}"
            self.entry.read_out(turned if self.session.content.turned else milled)

    def _plate_cursor(self, x: float, y: float, turned: bool) -> None:
        """In machine axes; a plate that is nowhere yet tells its own two."""
        style, place = self.session.content.header.style, self.plate.solid.place(x, y)
        if turned:
            on_axis = self.session.current.machine.machine((0.0, 0.0, x))
            self.entry.read_out(f"Z {style.fixed(on_axis[2])}   X Ø{style.fixed(2 * abs(y))}")
        elif place is None:
            self.entry.read_out(f"{style.fixed(x)}   {style.fixed(y)}")
        else:
            self._part_cursor(place)

    # --- files dropped on it
    def dragEnterEvent(self, a0: QDragEnterEvent | None) -> None:
        if a0 is not None and files_of(a0.mimeData()):
            a0.acceptProposedAction()

    def dropEvent(self, a0: QDropEvent | None) -> None:
        if a0 is not None and (paths := files_of(a0.mimeData())):
            a0.acceptProposedAction()
            self.take_files(paths)

    def take_files(self, paths: Sequence[Path]) -> None:
        """Jobs are opened, drawings go under the glass, solids into the assembly in Fit and else into the route."""
        found = sorted_out(paths)
        for path in found.jobs:
            self.open_file(path)
        for path in found.drawings:
            self.show_glass(True)
            self.glass.open_file(path)
        if found.solids and self.stage == "Fit":
            self.fit.taking.put_files_in(list(found.solids))
        elif found.solids:
            self._take_solids(found.solids)
        if found.others:
            names = ", ".join(p.name for p in found.others)
            self.session.say(f"{names}: no job, drawing or solid, going by the ending. It was left alone.", "warn")

    def _take_solids(self, paths: Sequence[Path]) -> None:
        """Each as a body from a file, a step of the route."""
        self.show_stage("Shape")
        for path in paths:
            self.route.add(Foreign)
            if self.session.step:
                self.take_file(self.session.step, path)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if not self._leave(self.session.jobs) or not self.leave_assembly():
            event.ignore()
            return
        paths = [job.path for job in self.session.jobs] + [self.fit.document.path if self.is_fitted else None]
        left_open(self.session.state, [p for p in paths if p is not None])
        self.shut()
        self.session.shut()
        event.accept()

    def shut(self) -> None:
        """Let go of the view's driver, the instrument and the sheets."""
        self.capture.shut()
        self.papers.shut()
        self.family.shut()
        self.read_lower.complete.shut()
        if self.is_fitted:
            self.fit.document.let_go()
            self.fit.shut()
        if self.is_furnished:
            self.part.shut()
