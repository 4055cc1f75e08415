"""The window's rooms: the panels, where they stand, and what a stage shows. Knows no actions and no shortcuts."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any, Literal

from PyQt6.QtCore import QPoint, QSettings, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QApplication,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from ..core.job import edits
from ..core.job.model import Job
from ..core.plan.shop import for_buying
from .actions import ActionList
from .bench.capture import Capture
from .entry import EntryBar
from .glass.panel import Glass
from .glass.papers import Papers
from .picking import Picked, Picking
from .plate.panel import PlatePanel
from .rail import Rail
from .route.panel import RoutePanel
from .session import Session
from .sheet.sheet import CalloutSheet
from .stages.prove import ProofFigures
from .stages.proving import ProveLower
from .stages.read import ReadLower, ReadSide
from .stand_in import StandIn
from .theme.palette import DARK, LIGHT, Palette
from .theme.style import style_sheet
from .viewport.viewsheet import STANDING
from .window_later import LaterRooms

if TYPE_CHECKING:
    from ..core.kernel.measure.pair import Measurable
    from .part_desk import PartDesk
    from .part_room import PartRoom
    from .section import Section
    from .viewport.partview import PartView


#: The stages that share the part's rooms, as their panels are stacked.
_STACKED = ("Read", "Plan", "Shape", "Prove", "Issue")


class Rooms(LaterRooms):
    """``furnished`` tells that the part's room is there; until then a picture of the part stands in its place.
    ``viewer_loaded`` and ``solver_loaded`` may be sent from any thread: what that room, or the plate, needs is there.
    """

    furnished = pyqtSignal()
    viewer_loaded = pyqtSignal()
    solver_loaded = pyqtSignal()

    def __init__(self, session: Session, dark: bool = False) -> None:
        super().__init__()
        self.session, self.picking = session, Picking(session)
        self.palette_: Palette = DARK if dark else LIGHT
        self._glass_wanted: bool | None = None
        self._glass_on = False
        self._whose: dict[str, QWidget | None] = {}
        self.hidden_edges = self.is_see_through = False
        self.actions_ = ActionList()
        self._part_room: PartRoom | None = None
        self.stand_in = StandIn(self.palette_)
        self.setWindowTitle("Lathed Solid")
        self._build_panels()
        self._lay_out()
        self.viewer_loaded.connect(lambda: self.part_room)

    # --- rooms that are made when they are needed
    @property
    def part_room(self) -> PartRoom:
        """Made when it is first needed, at the latest."""
        if self._part_room is None:
            from .part_room import furnish

            self._part_room = room = furnish(self.session, self.picking, self.palette_)
            self.upper_stack.insertWidget(0, room.view)
            room.view.pointed.connect(self.walls.point)
            room.desk.enter(self.stage)
            self.furnished.emit()
            self._show_upper()
            room.view.dress(self.palette_)
            self.show_built()
            self.session.show_as(self._picture)
        return self._part_room

    def _shapes(self, picked: Picked) -> list[Measurable]:
        """What is picked on the part that is shown."""
        return self.part_desk.shapes(picked) if self.is_furnished else []

    def _over(self, way: Literal["pin", "lay"], panel: QWidget, things: tuple[Any, ...]) -> None:
        """What a panel writes on the part or lays over it; one that goes out of sight takes only its own away."""
        if self.is_furnished and (things or panel is self._whose.get(way)):
            self._whose[way] = panel if things else None
            (self.part.pin if way == "pin" else self.part.lay)(things)

    def _picture(self) -> bytes:
        """The part as it is seen, if it is that of the job worked on."""
        shown = self.session.current.shown
        return self.part.picture() if shown is not None and shown is self.part.shown else b""

    @property
    def is_furnished(self) -> bool:
        return self._part_room is not None

    @property
    def part(self) -> PartView:
        return self.part_room.view

    @property
    def section(self) -> Section:
        return self.part_room.section

    @property
    def part_desk(self) -> PartDesk:
        return self.part_room.desk

    # --- putting it together
    def _build_panels(self) -> None:
        p, s = self.palette_, self.session
        self.rail = Rail(s, p)
        self.sheet = CalloutSheet(s, p)
        self.plate = PlatePanel(s, p)
        self.route = RoutePanel(s, self.picking, p)
        self.capture = Capture(s)
        self.proof_lower = lower = ProveLower(
            s, self.picking, self.capture, p, self._shapes, lambda: for_buying(self.plan.planning.shop)
        )
        for panel in (lower.measure, lower.walls, lower.room, lower.against):
            panel.pinned.connect(partial(self._over, "pin", panel))
        for layer in (lower.walls, lower.room, lower.against):
            layer.laid.connect(partial(self._over, "lay", layer))
        self.proof_table, self.measure, self.match, self.family = (
            lower.proof_table, lower.measure, lower.match, lower.family
        )  # fmt: skip
        self.why, self.in_hand, self.report, self.limits = lower.why, lower.in_hand, lower.report, lower.limits
        self.walls, self.room, self.sense, self.against = lower.walls, lower.room, lower.sense, lower.against
        self.proof_figures = ProofFigures(s, self.picking, self.proof_table, self.export)
        self.papers = Papers(s)
        self.glass = Glass(s, self.papers, p)
        self.read_lower, self.read_side = ReadLower(s, self.capture, p), ReadSide(s, self.glass)
        self.title_block = self.read_lower.title_block
        self.entry = EntryBar(s, self.actions_)

    def _lay_out(self) -> None:
        for low, right in (
            (self.read_lower, self.read_side),
            self._for_plan,
            (self.plate, self.route),
            (self.proof_lower, self.proof_figures),
            (QWidget(), self._for_issue),
        ):
            self.lower_stack.addWidget(low)
            self.right_stack.addWidget(right)
        self.middle = QSplitter(Qt.Orientation.Vertical)
        self.upper_stack.addWidget(self.stand_in)
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
        self._for_part = across
        self.body_stack.addWidget(across)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addWidget(self.rail)
        column.addWidget(self.body_stack, 1)
        column.addWidget(self.entry)
        self.setCentralWidget(body)

    def dress(self, palette: Palette) -> None:
        """Put the window into a palette."""
        self.palette_ = palette
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        sheet = style_sheet(palette)
        if app.styleSheet() != sheet:  # to be restyled takes all widgets their time, also when nothing changes
            self.setUpdatesEnabled(False)
            app.setStyleSheet("")  # from none to another takes a fifth of the time that from one to another takes
            app.setStyleSheet(sheet)
            self.setUpdatesEnabled(True)
        for panel in (
            self.rail, self.sheet, self.stand_in, self.plate, self.route, self.proof_lower, self.glass, self.read_lower,
        ):  # fmt: skip
            panel.dress(palette)
        if self._fit is not None:
            self._fit.dress(palette)
        if self._issue is not None:
            self._issue.dress(palette)
        if self.is_furnished:
            self.part.dress(palette)
        if self.session.jobs:
            self.show_built()

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
        self.glass.light("", ())
        self.entry.read_out("")  # the place told before belongs to the view that is left
        self.rail.mark(name)
        self.entry.line.setPlaceholderText(f"{'Relation, note' if name == 'Fit' else 'Note'} or action  (Ctrl+E)")
        if name == "Fit":
            self.body_stack.setCurrentWidget(self.fit)
        if self.session.jobs:
            self.rail.refresh()
        if self._issue is not None or name == "Issue":
            self.issue.look(name == "Issue")
        if name == "Fit":
            return
        self.body_stack.setCurrentWidget(self._for_part)
        self.lower_stack.setVisible(name != "Issue")
        index = _STACKED.index(name)
        # made before it is turned to: a page put into a stack later leaves another one on top
        planned = self.plan if name == "Plan" else self._plan
        self.lower_stack.setCurrentIndex(index)
        self.right_stack.setCurrentIndex(index)
        if self.is_furnished:
            self.part_desk.enter(name)
        if planned is not None:
            planned.planning.enter(name == "Plan")
        self._show_upper()

    def _show_upper(self) -> None:
        """In Read the glass lies on top while there is a drawing on it or no part yet; Ctrl+D shows the other."""
        content = self.session.content
        usual = bool(content.drawings) or not content.steps
        wanted = usual if self._glass_wanted is None else self._glass_wanted
        on = wanted if self.stage == "Read" else self.stage == "Plan" and bool(self.glass.canvas.lit)
        shown = self.issue.canvas if self.stage == "Issue" else self.glass if on else None
        self.upper_stack.setCurrentWidget(shown or (self.part if self.is_furnished else self.stand_in))
        self._share_height()

    def _share_height(self) -> None:
        """The drawing gets the room the panel under it does not need; elsewhere the halves are equal."""
        on, height = self.stage == "Read" and self.upper_stack.currentWidget() is self.glass, self.middle.height()
        if on != self._glass_on or on:
            low = min(self.read_lower.height_wanted(), height // 2) if on else height // 2
            self.middle.setSizes([height - low, low])
        self._glass_on = on

    def light_sheet(self, drawing: str, boxes: tuple[tuple[float, float, float, float], ...]) -> None:
        """What is said of a drawing, lit on it; the part again when it is said of that."""
        self.glass.light(drawing, boxes)
        self._show_upper()

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

    def show_plan(self, name: str) -> None:
        """One of the Plan stage's panels."""
        self.show_stage("Plan")
        self.plan.setCurrentWidget(self.plan.panels[name])

    def show_routes(self) -> None:
        """The routes side by side, compared anew."""
        self.show_plan("Routes")
        self.plan.routes.compare()

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

    def open_route_menu(self) -> None:
        self.show_stage("Shape")
        menu = self.route.add_menu()
        menu.exec(self.route.add_button.mapToGlobal(QPoint(0, 0)))

    # --- the part
    def show_built(self) -> None:
        """The part as it was last built, or as it is looked at."""
        if not self.is_furnished:
            return
        job = self.session.current
        self.part.set_up(job.machine)
        self.part.stand(job.standing or ("x" if job.content.turned else "z"))
        self.part_desk.show()
        self.section.cut()

    def stand(self) -> None:
        """The next axis up; kept while the job is open."""
        job = self.session.current
        job.standing = up = STANDING[(STANDING.index(self.part.standing) + 1) % len(STANDING)]
        self.part.stand(up)
        self.session.say(f"{up.upper()} is up in the named views. Nothing of the part changes.")

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
        if self.stage == "Fit":
            self.fit.switch_unit()
            return
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
