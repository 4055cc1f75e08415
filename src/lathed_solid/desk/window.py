"""The window: puts the panels together and routes what happens between them."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPoint, QSettings, Qt
from PyQt6.QtGui import QCloseEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QApplication,
    QMenu,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ..core.job import edits
from ..core.job.model import Job
from ..core.route.registry import kind_of
from .actions import Action, ActionList
from .bench.capture import Capture
from .entry import EntryBar
from .glass.panel import Glass
from .glass.papers import Papers
from .part_desk import PartDesk
from .picking import Picking
from .plate.panel import PlatePanel
from .rail import Rail
from .route.fields import SharpEdges
from .route.panel import RoutePanel
from .section import Section
from .session import Session
from .sheet.sheet import CalloutSheet
from .stages.prove import ProofFigures, ProofTable
from .stages.read import ReadLower, ReadSide
from .theme.palette import DARK, LIGHT, Palette
from .theme.style import style_sheet
from .viewport.partview import PartView
from .viewport.viewsheet import STANDING
from .window_actions import declare
from .window_files import FileWindow


class Window(FileWindow):
    def __init__(self, session: Session, dark: bool = False) -> None:
        super().__init__()
        self.session, self.picking = session, Picking(session)
        self.palette_: Palette = DARK if dark else LIGHT
        self.stage = ""
        self._glass_wanted: bool | None = None
        self._glass_on = False
        self.hidden_edges = self.is_see_through = False
        self.actions_ = ActionList()
        self.setWindowTitle("Lathed Solid")
        self._build_panels()
        self._lay_out()
        self._connect()
        declare(self, self.actions_)
        self._shortcuts()
        self._buttons()
        self.dress(self.palette_)
        self.show_stage("Shape")

    # --- putting it together
    def _build_panels(self) -> None:
        p, s = self.palette_, self.session
        self.rail = Rail(s, p)
        self.sheet = CalloutSheet(s, p)
        self.part = PartView(p)
        self.section = Section(s, self.picking, self.part)
        self.part_desk = PartDesk(s, self.picking, self.part)
        self.plate = PlatePanel(s, p)
        self.route = RoutePanel(s, self.picking, p)
        self.proof_table = ProofTable(s, p)
        self.proof_figures = ProofFigures(s, self.picking, self.proof_table, self.export)
        self.papers = Papers(s)
        self.glass = Glass(s, self.papers, p)
        self.capture = Capture(s)
        self.read_lower, self.read_side = ReadLower(s, self.capture, p), ReadSide(s, self.glass)
        self.title_block = self.read_lower.title_block
        self.entry = EntryBar(s, self.actions_)

    def _lay_out(self) -> None:
        self.lower_stack, self.right_stack = QStackedWidget(), QStackedWidget()
        for low, right in (
            (self.read_lower, self.read_side),
            (self.plate, self.route),
            (self.proof_table, self.proof_figures),
        ):
            self.lower_stack.addWidget(low)
            self.right_stack.addWidget(right)
        self.middle = QSplitter(Qt.Orientation.Vertical)
        self.upper_stack = QStackedWidget()
        self.upper_stack.addWidget(self.part)
        self.upper_stack.addWidget(self.glass)
        self.middle.addWidget(self.upper_stack)
        self.middle.addWidget(self.lower_stack)
        self.middle.setSizes([350, 350])
        self.middle.setChildrenCollapsible(False)
        across = QSplitter(Qt.Orientation.Horizontal)
        across.addWidget(self.sheet)
        across.addWidget(self.middle)
        across.addWidget(self.right_stack)
        across.setSizes([270, 730, 280])
        across.setStretchFactor(1, 1)
        across.setChildrenCollapsible(False)
        self.sheet.setMinimumWidth(220)
        self.right_stack.setMinimumWidth(240)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addWidget(self.rail)
        column.addWidget(across, 1)
        column.addWidget(self.entry)
        self.setCentralWidget(body)

    def _connect(self) -> None:
        s = self.session
        self.rail.stage_chosen.connect(self.show_stage)
        self.rail.job_chosen.connect(s.switch)
        self.rail.unit_switched.connect(self.switch_unit)
        self.rail.dark_wanted.connect(self.toggle_dark)
        self.rail.cancel_wanted.connect(s.cancel)
        self.route.sketch_wanted.connect(self.open_sketch)
        self.route.areas_wanted.connect(self.choose_areas)
        self.read_side.outline.taken.connect(self.open_sketch)
        self.glass.opened.connect(lambda: self.show_glass(True))
        self.entry.sketch_on_plate = lambda: self.plate.sketch if self.stage == "Shape" else None
        self.entry.drawn.connect(self.plate.draw_typed)
        self.glass.measure_wanted.connect(lambda: self.run(self.actions_.get("read.calipers")))
        self.read_lower.currentChanged.connect(lambda _: self._share_height())
        self.plate.pointed.connect(self._plate_cursor)
        self.plate.large_wanted.connect(self.toggle_large)
        self.plate.solid.picked = self.picking.picked
        self.route.editor.sharp = SharpEdges(self.part_desk.light_sharp, self.part_desk.light_edge)
        self.route.editor.file_wanted.connect(self.choose_file)
        self.part.pointed.connect(self._part_cursor)
        s.built.connect(self._on_built)
        s.switched.connect(self._on_switched)
        s.edited.connect(self._entitle)
        self.part.sheet.stand_wanted.connect(self.stand)
        s.edited.connect(lambda: self.part.sheet.lay_out(s.content.header.projection))
        s.selected.connect(self._on_selected)
        s.busy.shown.connect(self._on_progress)

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
        for id_ in ("view.fit", "view.zero", "view.section", "view.hidden", "view.through"):
            action = self.actions_.get(id_)
            words = f"{action.title} ({action.keys})"
            self.part.add_button(action.icon, words, partial(self.run, action), id_ != "view.fit")
        self.part.press_button("axis", True)

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

    def dress(self, palette: Palette) -> None:
        """Put the window into a palette."""
        self.palette_ = palette
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.setStyleSheet(style_sheet(palette))
        for panel in (
            self.rail, self.sheet, self.part, self.plate, self.route, self.proof_table, self.glass, self.read_lower,
        ):  # fmt: skip
            panel.dress(palette)
        if self.session.jobs:
            self._on_built()

    def toggle_dark(self) -> None:
        self.dress(LIGHT if self.palette_ is DARK else DARK)
        QSettings("lathed-solid", "desk").setValue("dark", self.palette_ is DARK)

    def scale_text(self, by: float) -> None:
        """Larger or smaller text, within what the panels have room for."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        scale = min(1.2, max(0.9, float(app.property("textScale") or 1.0) + by))
        app.setProperty("textScale", scale)
        QSettings("lathed-solid", "desk").setValue("text", scale)
        self.dress(self.palette_)
        self.session.say(f"Text at {scale:.0%}.")

    # --- stages
    def show_stage(self, name: str) -> None:
        self.stage = name
        index = ("Read", "Shape", "Prove").index(name)
        self.lower_stack.setCurrentIndex(index)
        self.right_stack.setCurrentIndex(index)
        self.rail.mark(name)
        self.part_desk.enter(name)
        self._show_upper()

    def _show_upper(self) -> None:
        """In Read the glass lies on top while there is a drawing on it or no part yet; Ctrl+D shows the other."""
        content = self.session.content
        usual = bool(content.drawings) or not content.steps
        wanted = usual if self._glass_wanted is None else self._glass_wanted
        on = self.stage == "Read" and wanted
        self.upper_stack.setCurrentWidget(self.glass if on else self.part)
        self._share_height()

    def _share_height(self) -> None:
        """The drawing gets the room the panel under it does not need; elsewhere the halves are equal."""
        on, height = self.upper_stack.currentWidget() is self.glass, self.middle.height()
        if on != self._glass_on or on:
            low = min(self.read_lower.height_wanted(), height // 2) if on else height // 2
            self.middle.setSizes([height - low, low])
        self._glass_on = on

    def show_glass(self, on: bool) -> None:
        """Show the drawing, or the part, above."""
        self._glass_wanted = on
        if on and self.stage != "Read":
            self.show_stage("Read")
        self._show_upper()

    def toggle_glass(self) -> None:
        self.show_glass(self.upper_stack.currentWidget() is not self.glass)

    def open_drawing(self) -> None:
        self.show_glass(True)
        self.glass.ask_file()

    def show_read(self, panel: QWidget) -> None:
        """One of the Read stage's lower panels."""
        self.show_stage("Read")
        self.read_lower.setCurrentWidget(panel)

    def toggle_large(self) -> None:
        """The plate takes the part view's room, or gives it back."""
        self.show_stage("Shape")
        height = sum(self.middle.sizes())
        large = self.middle.sizes()[0] > 0.3 * height
        self.middle.setSizes(
            [round(height * 0.16), round(height * 0.84)] if large else [height // 2, height - height // 2]
        )
        self.plate.large_button.setChecked(large)

    def choose_areas(self, sketch: str) -> None:
        """The plate waits for clicks into areas."""
        self.open_sketch(sketch)
        self.plate.take_tool("areas")

    def open_sketch(self, id_: str) -> None:
        self.show_stage("Shape")
        self.plate.show_sketch(id_)

    def take_up(self, stage: str) -> None:
        """Show what the session held before the window existed."""
        self.session.jobs_changed.emit()
        self.session.switched.emit()
        self.show_stage(stage)

    # --- what the session tells
    def _on_switched(self) -> None:
        self.picking.forget()
        self.part.say("")
        self._glass_wanted = None
        self._show_upper()
        self.part.refit()
        self.section.close()
        self.part.sheet.lay_out(self.session.content.header.projection)
        self._on_built()
        steps = self.session.content.steps
        self.plate.show_sketch(next((getattr(s, "sketch", "") for s in steps if getattr(s, "sketch", "")), ""))
        self._entitle()

    def _entitle(self) -> None:
        self.setWindowTitle(f"{self.session.current.title} - Lathed Solid")

    def _on_built(self) -> None:
        job = self.session.current
        self.part.stand(job.standing or ("x" if job.content.turned else "z"))
        self.part_desk.show()
        self.section.cut()

    def _on_progress(self, id_: str) -> None:
        step = next((s for s in self.session.content.steps if s.id == id_), None)
        self.rail.show_busy(f"working on {step.name or step.id} …" if step is not None else "")

    def _on_selected(self) -> None:
        """A chosen callout is shown on the part; a chosen step brings its sketch onto the plate."""
        step = next((s for s in self.session.content.steps if s.id == self.session.step), None)
        sketch = getattr(step, "sketch", "")
        # A step that is to be drawn and has no sketch yet must not leave another's on the plate to be drawn into.
        bare = step is not None and not sketch and any(p.field == "sketch" and not p.when for p in kind_of(step).params)
        if (sketch or bare) and sketch != self.plate.sketch_id:
            self.plate.show_sketch(sketch)
        self.part_desk.chosen()

    # --- the part
    def _part_cursor(self, point: tuple[float, float, float] | None) -> None:
        if point is not None:
            x, y, z = point
            style = self.session.content.header.style
            self.entry.read_out(f"Z {style.fixed(z)}   X Ø{style.fixed(2 * (x * x + y * y) ** 0.5)}")

    def _plate_cursor(self, x: float, y: float, turned: bool) -> None:
        style = self.session.content.header.style
        words = (
            f"Z {style.fixed(x)}   X Ø{style.fixed(2 * abs(y))}" if turned else f"{style.fixed(x)}   {style.fixed(y)}"
        )
        self.entry.read_out(words)

    def look_from(self, key: str) -> None:
        self.part.look_from(key)

    def stand(self) -> None:
        """The next axis up; kept while the job is open."""
        job = self.session.current
        job.standing = STANDING[(STANDING.index(self.part.standing) + 1) % len(STANDING)]
        self.part.stand(job.standing)
        self.session.say(f"{job.standing.upper()} is up in the named views. Nothing of the part changes.")

    def toggle_hidden(self) -> None:
        self.hidden_edges = not self.hidden_edges
        self.part.scene.show_hidden(self.hidden_edges, self.palette_)
        self.part.press_button("hidden", self.hidden_edges)

    def toggle_see_through(self) -> None:
        self.is_see_through = not self.is_see_through
        self.part.scene.see_through(self.is_see_through)
        self.part.press_button("seethrough", self.is_see_through)

    # --- the job
    def switch_unit(self) -> None:
        """Show figures in the other unit. No size changes: numbers are still read in the drawing's unit; that is what
        changes while there are none yet.
        """
        content = self.session.content
        header = content.header
        other = "in" if header.style.unit == "mm" else "mm"
        word = {"in": "inches", "mm": "millimetres"}
        if not content.callouts and not content.steps:
            self.session.edit(lambda c: edits.set_header(c, units=other, shown=""), f"drawing in {other}")
            self.session.say(f"The drawing's numbers are read in {word[other]} from here on.")
            return
        shown = "" if other == header.units else other
        self.session.edit(lambda c: edits.set_header(c, shown=shown), f"figures shown in {other}")
        if shown:
            self.session.say(
                f"Figures are shown in {word[other]}; numbers are still read in {word[header.units]}, as the drawing "
                "has them (title block: drawing units)."
            )

    def new_job(self) -> None:
        self.session.add(Job())
        self.show_stage("Read")
        self.read_lower.setCurrentWidget(self.title_block)
        self.title_block.name.setFocus()
        self.title_block.name.selectAll()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if not self._leave(self.session.jobs):
            event.ignore()
            return
        self.shut()
        self.session.shut()
        event.accept()

    def shut(self) -> None:
        """Let go of the view's driver, the instrument and the sheets."""
        self.capture.shut()
        self.papers.shut()
        self.part.shut()

    def open_route_menu(self) -> None:
        self.show_stage("Shape")
        menu = self.route.add_menu()
        menu.exec(self.route.add_button.mapToGlobal(QPoint(0, 0)))
