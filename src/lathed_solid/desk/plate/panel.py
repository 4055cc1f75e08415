"""The plate panel: title, table or plate, tools, relations, and the strip that says what is open."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

import msgspec
from PyQt6.QtCore import QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QStackedWidget, QToolButton, QVBoxLayout, QWidget

from ...core.job import edits
from ...core.job.settle import set_stations
from ...core.quantity import ExpressionError
from ...core.route.settling import dimension_values
from ...core.sketch.make import choose, draw, size
from ...core.sketch.make.draw import Spot
from ...core.sketch.model import Dimension, DimensionKind, Relation, RelationKind, Sketch
from ...core.sketch.region import find_regions
from ...core.sketch.solver.formulate import SketchError
from ...core.sketch.turned.profile import station_for
from ...core.sketch.typed.commands import Command
from ..session import REFUSALS, Session, words_of
from ..theme.icons import icon
from ..theme.palette import Palette
from .advice import Advice
from .canvas import Canvas
from .strip import Strip, empty
from .table import StationTable
from .words import freedom_words, size_texts

if TYPE_CHECKING:
    from ...core.sketch.solver.drag import Drag

TOOLS = (
    ("select", "Choose and drag"),
    ("line", "Line"),
    ("rectangle", "Rectangle"),
    ("circle", "Circle"),
    ("arc", "Arc over three places"),
    ("dimension", "Dimension what is chosen"),
)


class PlatePanel(QWidget):
    """Edits one sketch of the job."""

    pointed = pyqtSignal(float, float, bool)

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._palette, self.sketch_id = session, palette, ""
        self.canvas, self.table = Canvas(palette), StationTable(session)
        self.stack = QStackedWidget()
        self.stack.addWidget(self.canvas)
        self.stack.addWidget(self.table)
        self._drag: Drag | None = None
        self._pending: Relation | Dimension | None = None
        self._build_head()
        self.strip = Strip()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._head)
        layout.addWidget(self.stack, 1)
        layout.addWidget(self.strip)
        c = self.canvas
        c.drawn.connect(self._on_drawn)
        c.chosen_changed.connect(self._on_chosen)
        c.drag_started.connect(self._on_drag_start)
        c.dragged.connect(self._on_drag)
        c.drag_ended.connect(self._on_drag_end)
        c.dimension_given.connect(self._on_dimension)
        c.delete_wanted.connect(self.delete_chosen)
        c.tool_dropped.connect(lambda: self.take_tool("select"))
        c.callout_dropped.connect(self._on_drop)
        c.pointed.connect(lambda x, y: self.pointed.emit(x, y, self._turned()))
        session.edited.connect(self.refresh)
        session.switched.connect(lambda: self.show_sketch(""))

    # --- building the panel
    def _build_head(self) -> None:
        self._head = QWidget()
        row = QHBoxLayout(self._head)
        row.setContentsMargins(12, 5, 10, 5)
        row.setSpacing(4)
        self._title = QLabel("Layout plate")
        self._title.setObjectName("title")
        self._kind = QLabel()
        self._kind.setObjectName("faint")
        row.addWidget(self._title)
        row.addSpacing(6)
        row.addWidget(self._kind)
        row.addStretch()
        self.advice = Advice(self._session, self._put)
        self.advice.lit.connect(self._light)
        row.addWidget(self.advice)
        self._relations = QHBoxLayout()
        self._relations.setSpacing(3)
        row.addLayout(self._relations)
        self.tools: dict[str, QToolButton] = {}
        for name, words in TOOLS:
            button = QToolButton()
            button.setIcon(icon(name, self._palette.ink))
            button.setToolTip(words)
            button.setAccessibleName(words)
            button.setCheckable(name != "dimension")
            button.clicked.connect(lambda _, n=name: self.take_tool(n))
            self.tools[name] = button
            row.addWidget(button)
        row.addSpacing(8)
        self.table_button = QPushButton("Table")
        self.table_button.setCheckable(True)
        self.table_button.setToolTip("The turned profile as a table of stations")
        self.table_button.clicked.connect(self.show_table)
        row.addWidget(self.table_button)
        self.tools["select"].setChecked(True)

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.canvas.palette_ = palette
        for name, button in self.tools.items():
            button.setIcon(icon(name, palette.ink))
        self.canvas.update()

    # --- what is shown
    @property
    def sketch(self) -> Sketch | None:
        return next((s for s in self._session.content.sketches if s.id == self.sketch_id), None)

    def _turned(self) -> bool:
        return self.sketch is not None and self.sketch.turned

    def show_sketch(self, id_: str) -> None:
        self.sketch_id = id_
        sketch = self.sketch
        self.strip.withdraw()
        self.table.show_sketch(id_)
        has_table = sketch is not None and sketch.turned
        self.table_button.setVisible(has_table)
        if not has_table or (sketch is not None and sketch.stations is None):
            self.show_table(False)
        elif sketch is not None and not sketch.stations:
            self.show_table(True)
        self.refresh()

    def show_table(self, on: bool) -> None:
        self.table_button.setChecked(on)
        self.stack.setCurrentWidget(self.table if on else self.canvas)
        for button in self.tools.values():
            button.setVisible(not on)

    def refresh(self) -> None:
        sketch = self.sketch
        self.table.refresh()
        self.canvas.blamed = frozenset()
        if sketch is None:
            self.advice.show_for(None, 0)
            self.canvas.show_sketch(None)
            self._kind.setText("")
            self.strip.say("")
            return
        self._title.setText(sketch.name or "Layout plate")
        self._kind.setText("turned profile · sizes as diameters" if sketch.turned else "outline")
        style = self._session.content.header.style
        ledger = self._session.content.ledger()
        self.canvas.texts = size_texts(sketch, ledger, style)
        self.canvas.regions = find_regions(sketch)
        self._diagnose(sketch)
        self.advice.show_for(sketch, self.canvas.freedom.ways if self.canvas.freedom is not None else 0)
        self.canvas.show_sketch(sketch)
        self._on_chosen()

    def _light(self, ids: tuple[str, ...]) -> None:
        """Show what an entry of the advice is about."""
        self.canvas.blamed = frozenset(ids)
        self.canvas.update()

    def _diagnose(self, sketch: Sketch) -> None:
        from ...core.sketch.explain.diagnose import freedom

        problem = self._session.current.problems.get(sketch.id, "")
        self.canvas.freedom = None
        try:
            values = dimension_values(sketch, self._session.content.ledger())
            self.canvas.freedom = freedom(sketch, values)
        except SketchError as error:
            problem = problem or str(error)
        if problem:
            self.strip.say(problem, bad=True)
            return
        words = freedom_words(sketch, self.canvas.freedom) if sketch.entities else ""
        regions = self.canvas.regions
        if sketch.entities and regions is not None and (open_ := regions.problem(sketch)):
            words += f"  {open_}"
        self.strip.say(words)

    # --- tools and drawing
    def take_tool(self, name: str) -> None:
        if name == "dimension":
            self.dimension_chosen()
            return
        for key, button in self.tools.items():
            button.setChecked(key == name)
        self.canvas.take_tool(name)
        self.canvas.setFocus()

    def _on_drawn(self, tool: str, spots: list[Spot]) -> None:
        sketch = self.sketch
        if sketch is None:
            return
        try:
            made = self._drawn(sketch, tool, spots)
        except ValueError as error:
            self.strip.say(str(error), bad=True)
            return
        self._put(made, f"{tool} drawn")
        if tool == "line":
            at = spots[1]
            now = self.sketch
            if now is not None and not at.point:
                near = next((p for p in now.points().values() if abs(p.x - at.x) + abs(p.y - at.y) < 1e-6), None)
                at = Spot(at.x, at.y, near.id) if near else at
            self.canvas.go_on_from(at)

    def draw_typed(self, command: Command) -> None:
        """Draw what was typed in the entry line; one edit, so one undo."""
        sketch = self.sketch
        if sketch is None:
            return
        try:
            made = command.draw(sketch)
        except ValueError as error:
            self._session.say(str(error), "bad")
            return
        self.show_table(False)
        if self._put(made, f"{command.words} drawn"):
            self._session.say(f"Drew {command.words}.", "good")

    @staticmethod
    def _drawn(sketch: Sketch, tool: str, spots: list[Spot]) -> Sketch:
        a, b = spots[0], spots[1]
        if tool == "line":
            return draw.add_line(sketch, a, b)[0]
        if tool == "rectangle":
            return draw.add_rectangle(sketch, a, b)
        if tool == "circle":
            return draw.add_circle(sketch, a, ((a.x - b.x) ** 2 + (a.y - b.y) ** 2) ** 0.5)[0]
        return draw.add_arc(sketch, a, b, spots[2])[0]

    def _put(self, sketch: Sketch, what: str) -> bool:
        led = self.sketch is not None and self.sketch.stations is not None
        done = self._session.edit(lambda c: edits.set_sketch(c, sketch), what)
        if done and led and sketch.stations is None:
            self._session.say("The profile was changed on the plate; its table no longer leads it.", "warn")
        return done

    def delete_chosen(self) -> None:
        sketch = self.sketch
        if sketch is not None and self.canvas.chosen:
            chosen, self.canvas.chosen = tuple(self.canvas.chosen), []
            self._put(draw.delete(sketch, chosen), "deleted from the sketch")

    def toggle_construction(self) -> None:
        sketch = self.sketch
        if sketch is not None and self.canvas.chosen:
            self._put(draw.toggle_construction(sketch, self.canvas.chosen), "construction changed")

    def stand_for(self, face: str) -> None:
        """The chosen line or circle stands for a face of the solid: sizes from it are measured on that face."""
        sketch = self.sketch
        curves = [i for i in self.canvas.chosen if sketch and any(c.id == i for c in sketch.curves())]
        if sketch is None or len(curves) != 1:
            self._session.say("Choose one line or circle on the plate, and pick one face on the part.", "warn")
            return
        if self._put(draw.link(sketch, curves[0], face), "line stands for a face"):
            self._session.say(f"{curves[0]} stands for {face}.", "good")

    # --- dragging
    def _on_drag_start(self, point: str) -> None:
        from ...core.sketch.solver.drag import Drag
        from ...core.sketch.solver.solve import Solver

        sketch = self.sketch
        if sketch is None:
            return
        try:
            values = dimension_values(sketch, self._session.content.ledger())
            solver = Solver(sketch, values)
            solver.solve(values)
            self._drag = Drag(solver, point)
        except SketchError as error:
            self.strip.say(str(error), bad=True)

    def _on_drag(self, x: float, y: float) -> None:
        if self._drag is not None:
            self.canvas.sketch = self._drag.to(x, y)
            self.canvas.regions = find_regions(self.canvas.sketch)

    def _on_drag_end(self) -> None:
        if self._drag is not None:
            moved, self._drag = self._drag.release(), None
            if moved != self.sketch:
                self._put(msgspec.structs.replace(moved, stations=moved.stations), "dragged on the plate")
            else:
                self.refresh()

    # --- relations and dimensions
    def _on_chosen(self) -> None:
        """Offer the relations that what is chosen can take."""
        empty(self._relations)
        sketch = self.sketch
        if sketch is None or self.stack.currentWidget() is self.table:
            return
        ids = tuple(i for i in self.canvas.chosen if not any(d.id == i for d in sketch.dimensions))
        if not ids:
            return
        for size, label in size.possible_dimensions(sketch, ids):
            self._add_choice(f"size {label}", partial(self.dimension_chosen, "", size))
        for kind in choose.possible_relations(sketch, ids):
            self._add_choice(kind, partial(self.relate, kind))

    def _add_choice(self, words: str, run: Callable[[], object]) -> None:
        button = QPushButton(words)
        button.setObjectName("quiet")
        button.clicked.connect(lambda: run())
        self._relations.addWidget(button)

    def relate(self, kind: RelationKind) -> None:
        sketch = self.sketch
        if sketch is not None:
            self._offer(choose.make_relation(sketch, kind, tuple(self.canvas.chosen)), {})

    def dimension_chosen(self, text: str = "", kind: DimensionKind | None = None) -> None:
        """Size what is chosen; the present size stands in the field, ready to be typed over."""
        sketch = self.sketch
        if sketch is None:
            return
        ids = tuple(i for i in self.canvas.chosen if not any(d.id == i for d in sketch.dimensions))
        try:
            made, value = size.make_dimension(sketch, ids, text or "0", kind)
        except (ValueError, LookupError) as error:
            self.strip.say(str(error), bad=True)
            return
        style = self._session.content.header.typed_style
        if not text:
            shown = style.angle(value) if made.kind == "angle" else style.length(value)
            made = msgspec.structs.replace(made, text=shown)
        if self._offer(made, {made.id: value} if not text else {}) and not text:
            QTimer.singleShot(0, lambda: self.canvas.edit_dimension(made.id))

    def _offer(self, new: Relation | Dimension, value: dict[str, float]) -> bool:
        """Add a relation or dimension if it says something new; else say what already determines it."""
        from ...core.sketch.explain.diagnose import judge

        sketch = self.sketch
        assert sketch is not None
        try:
            values = dimension_values(sketch, self._session.content.ledger()) | value
            if isinstance(new, Dimension) and new.id not in values:
                values |= dimension_values(
                    msgspec.structs.replace(sketch, dimensions=(new,)), self._session.content.ledger()
                )
            verdict = judge(sketch, values, new)
        except (SketchError, ExpressionError) as error:
            self.strip.say(str(error), bad=True)
            return False
        if verdict.kind == "fits":
            return self._put(_with(sketch, new), f"{new.kind} added")
        self._refuse(sketch, new, verdict.kind, verdict.because)
        return False

    def _refuse(self, sketch: Sketch, new: Relation | Dimension, kind: str, because: tuple[str, ...]) -> None:
        named = "; ".join(choose.in_words(sketch, i) for i in because) or "what is fixed already"
        lead = "already pinned by" if kind == "redundant" else "contradicts"
        self.strip.say(f"This {new.kind} {lead}: {named}.", bad=True)
        stated: list[Relation | Dimension] = [*sketch.relations, *sketch.dimensions]
        lit = {i for b in because for r in stated if r.id == b for i in r.of}
        self.canvas.blamed = frozenset({*because, *lit})
        self.canvas.update()
        self.strip.withdraw()
        if isinstance(new, Dimension):
            self.strip.offer("Show it as a reference", lambda: self._keep_reference(new))
        for id_ in because[:2]:
            self.strip.offer(f"Drop {choose.in_words(sketch, id_)}", partial(self._swap, id_, new))
        self.strip.offer("Leave it", self.refresh)

    def _keep_reference(self, new: Dimension) -> None:
        sketch = self.sketch
        if sketch is not None:
            self._put(_with(sketch, msgspec.structs.replace(new, reference=True)), "reference size added")

    def _swap(self, dropped: str, new: Relation | Dimension) -> None:
        sketch = self.sketch
        if sketch is not None:
            self._put(_with(draw.delete(sketch, (dropped,)), new), f"{new.kind} in place of another")

    def _on_dimension(self, id_: str, text: str) -> None:
        """A dimension got a new formula; in a profile led by its table the table's cell gets it."""
        sketch = self.sketch
        if sketch is None:
            return
        ledger = self._session.content.ledger()
        try:
            changed = tuple(msgspec.structs.replace(d, text=text) if d.id == id_ else d for d in sketch.dimensions)
            dimension_values(msgspec.structs.replace(sketch, dimensions=changed), ledger)
            if sketch.stations:
                stations = station_for(sketch.stations, id_, text, ledger)
                done = self._session.edit(lambda c: set_stations(c, sketch.id, stations), "size changed on the plate")
            else:
                made = msgspec.structs.replace(sketch, dimensions=changed)
                done = self._session.edit(lambda c: edits.set_sketch(c, made), "size changed on the plate")
        except REFUSALS as error:
            self.strip.say(words_of(error), bad=True)
            return
        if done:
            self.canvas.close_editor()

    def _on_drop(self, text: str, at: QPointF) -> None:
        """A balloon dropped on a dimension gives it that callout; dropped on geometry it sizes it."""
        sketch = self.sketch
        if sketch is None:
            return
        found = self.canvas.under(at)
        if any(d.id == found for d in sketch.dimensions):
            self._on_dimension(found, text)
        elif found:
            self.canvas.chosen = [found]
            self.dimension_chosen(text)


def _with(sketch: Sketch, new: Relation | Dimension) -> Sketch:
    if isinstance(new, Dimension):
        return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, new), stations=None)
    return msgspec.structs.replace(sketch, relations=(*sketch.relations, new), stations=None)
