"""All actions of the window, declared in one place."""

from __future__ import annotations

from functools import partial
from typing import Literal

from PyQt6.QtWidgets import QWidget

from ..core.issue.formats import FORMATS, Format
from ..core.job.rewriting.asked import Rewriting
from ..core.route.model import StepBase
from ..core.route.registry import KINDS
from .actions import Action, ActionList
from .cutting_out import write_outline
from .paper.actions import paper_actions
from .plate.actions import plate_actions
from .rail import STAGES
from .rooms import Rooms
from .route.face_looks import face_menu
from .viewport.viewsheet import NAMES


def declare(w: Rooms, actions: ActionList) -> None:
    """Fill ``actions`` with what the window can do."""
    for rows in (
        _job_actions(w),
        _stage_actions(w),
        _read_actions(w),
        _plan_actions(w),
        _fit_actions(w),
        _issue_actions(w),
        _view_actions(w),
        _route_actions(w),
        _plate_actions(w),
    ):
        for action in rows:
            actions.add(action)


def _job_actions(w: Rooms) -> list[Action]:
    s = w.session
    return [
        Action("job.new", "New job", "Ctrl+N", w.new_job, "new"),
        Action("job.assembly", "New assembly", "", w.new_assembly, "new"),
        Action("job.open", "Open a job or an assembly", "Ctrl+O", w.open_job, "open"),
        Action("job.recent", "Recent jobs", "", w.open_recent, "open"),
        Action("job.save", "Save", "Ctrl+S", w.save_here, "save"),
        Action("job.save_as", "Save under another name", "Ctrl+Shift+S", w.save_here_as, "save"),
        Action("job.earlier", "Earlier saves of this job", "", w.open_earlier, "open"),
        Action("job.close", "Close this job", "Ctrl+W", w.close_current, "delete"),
        Action("job.undo", "Undo", "Ctrl+Z", w.undo, "undo", lambda: bool(w.undo_words)),
        Action("job.redo", "Redo", "Ctrl+Y", w.redo, "redo", lambda: bool(w.redo_words)),
        Action("job.unit", "Switch millimetres and inches", "Ctrl+U", w.switch_unit),
        *(_writing(w, form) for form in FORMATS.values()),
        Action("job.issue", "Issue this revision", "", w.proof_figures.issue, "flag"),
        Action("job.cancel", "Cancel what is being worked on", "Ctrl+.", s.cancel, "", lambda: s.is_working),
        Action("app.quit", "Quit", "Ctrl+Q", w.close),
        Action("app.larger", "Larger text", "Ctrl+Alt+Up", partial(w.scale_text, 0.1)),
        Action("app.smaller", "Smaller text", "Ctrl+Alt+Down", partial(w.scale_text, -0.1)),
        Action("app.dark", "Light or dark", "Ctrl+Shift+D", w.toggle_dark, "dark"),
    ]


def _writing(w: Rooms, form: Format) -> Action:
    return Action(
        f"job.{form.id}",
        f"Write {form.title}",
        "Ctrl+Shift+E" if form.id == "step" else "",
        lambda: w.export(form.id),
        "export",
    )


def _stage_actions(w: Rooms) -> list[Action]:
    rows = [
        Action(f"stage.{name.lower()}", f"Go to {name}", f"Alt+{i}", partial(w.show_stage, name))
        for i, name in enumerate(STAGES, 1)
    ]
    return [
        *rows,
        Action("go.entry", "Go to the entry line", "Ctrl+E", w.entry.focus_line),
        Action("go.sheet", "Go to the callout sheet", "Ctrl+1", w.sheet.list.setFocus),
        Action("go.part", "Go to the part view", "Ctrl+2", lambda: w.part.setFocus()),
        Action("go.plate", "Go to the layout plate", "Ctrl+3", lambda: _to_plate(w)),
        Action("go.route", "Go to the route", "Ctrl+4", lambda: _to_route(w)),
        Action("sheet.delete", "Delete the chosen callout", "", w.sheet.delete, "delete"),
    ]


def _plan_actions(w: Rooms) -> list[Action]:
    def chosen() -> bool:
        return w.is_planned and w.plan.planning.plan.way is not None

    def shaped() -> bool:
        return bool(w.session.content.steps)

    def begin() -> None:
        w.plan.planning.begin_route()

    def cut() -> None:
        w.plan.planning.rewrite_route()

    return [
        Action("plan.blank", "Blank: what the part is cut from", "", partial(w.show_plan, "Blank"), "blank"),
        Action("plan.zero", "Machine zero and coordinates", "", partial(w.show_plan, "Zero"), "axis"),
        Action("plan.strategy", "Strategy: what the part is like", "", partial(w.show_plan, "Strategy")),
        Action("plan.routes", "Compare the routes", "", w.show_routes),
        Action("plan.setups", "Set-ups and operation sheet", "", partial(w.show_plan, "Set-ups")),
        Action("plan.tools", "Tools and speeds", "", partial(w.show_plan, "Tools")),
        Action("plan.stock", "Stock lists and prices", "", partial(w.show_plan, "Stock and prices")),
        Action("plan.begin", "Begin a route with the blank", "", begin, "blank", chosen),
        Action("plan.cut", "Cut this route from its blank", "", cut, "blank", chosen),
        Action("plan.half", "Half and mirror: rewrite the route", "", partial(_rewrite, w, "half"), "mirror", shaped),
        Action(
            "plan.whole",
            "Make it whole: rewrite a half and its mirror",
            "",
            partial(_rewrite, w, "whole"),
            "mirror",
            shaped,
        ),
        Action("plan.steps", "Take steps over from another route", "", partial(_take_steps_over, w)),
    ]


def _fit_actions(w: Rooms) -> list[Action]:
    def here() -> bool:
        return w.stage == "Fit"

    def chosen() -> bool:
        return here() and bool(w.fit.document.instance)

    def in_one() -> bool:
        return chosen() and bool(w.fit.document.assembly.part_of(w.fit.document.instance).members)

    def tied() -> bool:
        return here() and bool(w.fit.document.relation)

    def tab(name: Literal["checks", "fits", "drive", "chain", "copies", "bill", "shelf"]) -> None:
        w.show_stage("Fit")
        w.fit.which.setCurrentIndex(0)
        w.fit.tabs.setCurrentWidget(getattr(w.fit, name))

    def look() -> None:
        tab("checks")
        w.fit.checks.ask()

    def draw() -> None:
        w.show_stage("Fit")
        w.fit.draw()

    return [
        Action("fit.job", "Put the open job into the assembly", "", lambda: _in_fit(w, "put_job_in"), "foreign"),
        Action("fit.files", "Put parts from files into the assembly", "", lambda: _in_fit(w, "ask_files"), "foreign"),
        Action("fit.newer", "Look for newer parts", "", lambda: w.fit.taking.look_for_newer(), "", here),
        Action("fit.another", "Another of the chosen part", "", lambda: w.fit.document.copy(), "copy", chosen),
        Action(
            "fit.exchange", "Exchange the chosen part for another", "", lambda: w.fit.taking.ask_exchange(), "", chosen
        ),
        Action("fit.apart", "Take the chosen sub-assembly apart", "", lambda: w.fit.taking.take_apart(), "", in_one),
        Action("fit.remove", "Take out what is chosen", "", lambda: w.fit.document.remove(), "delete", here),
        Action("fit.round", "Turn the chosen relation round", "Ctrl+Alt+R", lambda: w.fit.turn_round(), "turn", tied),
        Action("fit.look", "Look for what is in the way", "", look),
        Action("fit.motion", "Drive a relation", "", partial(tab, "drive")),
        Action("fit.stack", "Stack-up between two flats of the assembly", "", partial(tab, "chain")),
        Action("fit.copies", "Rings, rows and mirror copies of parts", "", partial(tab, "copies")),
        Action("fit.bill", "Bill of materials and mass", "", partial(tab, "bill")),
        Action("fit.fits", "Fits: screws, shafts and keys in what they go into", "", partial(tab, "fits")),
        Action("fit.bought", "Bought parts: screws, nuts, pins, keys, bearings", "", partial(tab, "shelf")),
        Action("job.fit_step", "Write the assembly as STEP", "", lambda: w.fit.write_step(), "export", here),
        Action("fit.drawing", "Drawing sheet of the assembly", "", draw, "new"),
    ]


def _issue_actions(w: Rooms) -> list[Action]:
    def new() -> None:
        w.show_stage("Issue")
        w.issue.drawing.propose()

    return [
        Action("issue.new", "New drawing sheet of the part", "", new, "new"),
        Action("issue.picture", "Picture: the part or the assembly rendered", "", lambda: w.take_picture()),
        *paper_actions(lambda: w.board),
    ]


def _in_fit(w: Rooms, what: Literal["put_job_in", "ask_files"]) -> None:
    w.show_stage("Fit")
    getattr(w.fit.taking, what)()


def _rewrite(w: Rooms, how: Literal["half", "whole"]) -> None:
    w.show_plan("Routes")
    w.plan.routes.rewrite(Rewriting(how))


def _take_steps_over(w: Rooms) -> None:
    """The button whose menu has the routes and their steps."""
    w.show_plan("Routes")
    w.plan.routes.over.setFocus()


def _prove(w: Rooms, panel: QWidget) -> None:
    """One of the Prove stage's panels."""
    w.show_stage("Prove")
    w.proof_lower.setCurrentWidget(panel)


def _match(w: Rooms) -> None:
    _prove(w, w.match)
    w.match.look()


def _why(w: Rooms) -> None:
    """Of the stated figures where they do not agree, else of the first callout that is out."""
    _prove(w, w.why)
    w.why.ask(None)


def _read_actions(w: Rooms) -> list[Action]:
    lower, side = w.read_lower, w.read_side
    return [
        Action("job.drawing", "Open a drawing", "Ctrl+Shift+O", w.open_drawing, "open"),
        Action("read.glass", "Drawing or part", "Ctrl+D", w.toggle_glass),
        Action("read.turn", "Turn the sheet a quarter", "", w.glass.turn, "turn"),
        Action("read.scale", "Set the drawing's scale", "", lambda: _tool(w, "scale")),
        Action("read.measure", "Measure on the drawing", "", lambda: _tool(w, "measure")),
        Action("read.accept", "Accept all offers of the sheet", "", side.offers.accept_all),
        Action("read.calipers", "Measure with calipers", "Ctrl+M", lambda: _to_calipers(w)),
        Action("read.ask", "Take a reading from the instrument", "F8", w.capture.ask_reading),
        Action("read.convert", "Work a size out", "", lambda: w.show_read(lower.convert)),
        Action("read.logbook", "Logbook", "", lambda: w.show_read(lower.logbook)),
        Action("read.complete", "Is the drawing complete?", "Ctrl+K", lambda: w.show_read(lower.complete)),
    ]


def _tool(w: Rooms, tool: str) -> None:
    w.show_glass(True)
    w.glass.take_tool(tool)


def _to_calipers(w: Rooms) -> None:
    w.show_read(w.read_lower.calipers)
    w.read_lower.calipers.field.setFocus()


def _to_plate(w: Rooms) -> None:
    w.show_stage("Shape")
    (w.plate.table.grid if w.plate.table_button.isChecked() else w.plate.canvas).setFocus()


def _to_route(w: Rooms) -> None:
    w.show_stage("Shape")
    w.route.list.setFocus()


def _view_actions(w: Rooms) -> list[Action]:
    rows = [
        Action(f"view.{key}", f"Look from: {name}", f"Shift+{key}" if len(key) == 1 else "", partial(w.look_from, key))
        for key, name in NAMES.items()
    ]
    return [
        *rows,
        Action("view.fit", "Fit the part in the view", "Ctrl+0", w.fit_view, "fit"),
        Action("view.stand", "Stand the part another way: which axis is up", "Shift+U", w.stand),
        Action("view.zero", "Show or hide zero and its axes", "Ctrl+Alt+Z", lambda: w.part.toggle_zero(), "axis"),
        Action("view.section", "Section: cut the picture open", "Ctrl+Shift+X", w.cut_open, "section"),
        Action("view.hidden", "Hidden edges", "Ctrl+Shift+H", w.toggle_hidden, "hidden"),
        Action("view.through", "See through the part", "Ctrl+Shift+T", w.toggle_see_through, "seethrough"),
    ]


def _route_actions(w: Rooms) -> list[Action]:
    rows = [
        Action(f"step.{kind.icon}", f"Add: {kind.title.lower()}", "", partial(_add, w, kind.struct), kind.icon)
        for kind in KINDS.values()
    ]
    return [
        *rows,
        Action("step.menu", "Add a step", "Ctrl+Shift+A", w.open_route_menu),
        Action(
            "step.callout", "Step from the chosen callout", "Ctrl+Return", lambda: _from_callout(w), "",
            lambda: w.session.callout is not None,
        ),
        Action("step.tick", "Tick the step off or on", "", w.route.tick),
        Action("step.remove", "Remove the chosen step", "", w.route.remove, "delete"),
        Action("step.all", "Build the whole route", "", lambda: _build_until(w, "")),
        Action("body.looks", "Body: name, colour, material, finish", "", lambda: _body_menu(w)),
        Action(
            "job.outline", "Write the outline of a face or section as DXF, for cutting", "",
            lambda: write_outline(w.session, w.picking, w.section, w), "export", lambda: w.is_furnished,
        ),
        Action(
            "face.looks", "Picked faces: finish and colour", "", lambda: _face_menu(w), "",
            lambda: bool(w.picking.faces),
        ),
        Action("step.until", "Build up to the chosen step", "", lambda: _build_until(w, w.session.step)),
        Action("step.build", "Build again", "", w.session.rebuild),
        Action("step.again", "Try fallen steps again", "", w.session.try_again),
        Action("prove.measure", "Measure what is picked", "", partial(_prove, w, w.measure)),
        Action("prove.match", "Find the callouts on the part", "", partial(_match, w), "", lambda: w.match.can_look),
        Action("prove.walls", "Thinnest walls", "", partial(_prove, w, w.walls)),
        Action("prove.room", "Room for another hole, or a ring of them", "", partial(_prove, w, w.room)),
        Action("prove.sense", "Shop sense: what a shop would say of it", "", partial(_prove, w, w.sense)),
        Action("prove.against", "Compare with a route, a revision, a file", "", partial(_prove, w, w.against)),
        Action("prove.limits", "Carry limits through: stacks and clearances", "", partial(_prove, w, w.limits)),
        Action("prove.inhand", "Measure the part in hand", "", partial(_prove, w, w.in_hand)),
        Action("prove.report", "Inspection report", "", partial(_prove, w, w.report), "", lambda: w.report.can_make),
        Action("prove.why", "Why does the stated figure not agree?", "", partial(_why, w), "", lambda: w.why.can_ask),
        Action("prove.bind", "Bind the chosen row to the picked faces", "Ctrl+B", w.proof_figures.bind),
    ]  # fmt: skip


def _add(w: Rooms, kind: type[StepBase]) -> None:
    w.show_stage("Shape")
    w.route.add(kind)


def _from_callout(w: Rooms) -> None:
    w.show_stage("Shape")
    w.route.add_from_callout()


def _body_menu(w: Rooms) -> None:
    """What can be said of the body that is picked, or of the only one."""
    w.show_stage("Shape")
    picked = w.picking.body_of(w.picking.faces[0]) if w.picking.faces else ""
    w.route.bodies.say_more(picked, w.route.mapToGlobal(w.route.rect().center()))


def _face_menu(w: Rooms) -> None:
    """What can be said of how the picked faces look."""
    faces = [w.picking.reference(f) for f in w.picking.faces if f]
    if faces:
        face_menu(w.session, faces, w).exec(w.part.mapToGlobal(w.part.rect().center()))


def _build_until(w: Rooms, step: str) -> None:
    w.session.build_until(step)


def _plate_actions(w: Rooms) -> list[Action]:
    return [
        *(Action(id_, title, keys, run, picture) for id_, title, keys, run, picture in plate_actions(w.plate)),
        Action("plate.link", "Plate: chosen line stands for the picked face", "", lambda: _link(w)),
        Action("plate.large", "Plate: large, or beside the part", "Ctrl+L", w.toggle_large),
    ]


def _link(w: Rooms) -> None:
    faces = w.picking.faces
    if len(faces) != 1:
        w.session.say("Choose one line or circle on the plate, and pick one face on the part.", "warn")
        return
    w.plate.solid.stand_for(w.picking.reference(faces[0]).name)
