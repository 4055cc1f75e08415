"""The plate panel: title, table or plate, tools, and the strip that says what is open."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...core.drafting.words import freedom_words, pinned_words
from ...core.job import edits, tracing
from ...core.quantity import evaluate
from ...core.sketch.edit import copying
from ...core.sketch.explain import finish
from ...core.sketch.hand.tool import Given
from ...core.sketch.hand.tools import TOOLS
from ...core.sketch.make import draw
from ...core.sketch.make.choose import in_words
from ...core.sketch.make.draw import Spot
from ...core.sketch.model import Sketch
from ...core.sketch.refusal import SketchError
from ...core.sketch.shadow import lies_on_part, with_part, without_part
from ...core.sketch.typed.commands import Command
from ..ask import ask_to_write
from ..pages import Pages
from ..session import Session
from ..theme.palette import Palette
from .advice import Advice
from .canvas import Canvas
from .dragging import Dragging
from .intents import (
    AreaClicked,
    CalloutDropped,
    Chosen,
    DeleteWanted,
    DragBegun,
    DragEnded,
    Dragged,
    Intent,
    Made,
    SizeGiven,
    TextMoved,
    ToolDropped,
    WayTaken,
    WayWanted,
    WordsGiven,
)
from .look import Look
from .motion import Player, Ways
from .printing import write_svg
from .relating import Relating
from .shown import Shown, look_of, shown_of
from .sizing import Sizing
from .solid import FromSolid
from .strip import Strip
from .table import StationTable
from .tray import Tray


class PlatePanel(QWidget):
    """Edits one sketch of the job."""

    pointed = pyqtSignal(float, float, bool)
    large_wanted = pyqtSignal()

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._palette, self.sketch_id = session, palette, ""
        #: The solver is still being loaded: what can still move is shown later.
        self.waits = False
        self.canvas, self.table, self.strip, self.tray = Canvas(palette), StationTable(session), Strip(), Tray(palette)
        self._shown: Shown | None = None
        #: Something was edited while nobody saw the plate.
        self._is_behind = False
        #: The sketch, the part it lies on, and the two together.
        self._over: tuple[Sketch, object, Sketch] | None = None
        self.stack = Pages()
        self.stack.addWidget(self.canvas)
        self.stack.addWidget(self.table)
        self.relating, self.dragging = Relating(session, self), Dragging(session, self)
        self.sizing = Sizing(session, self)
        self.ways, self.player, self.solid = Ways(session, self), Player(session, self, self), FromSolid(session, self)
        self._build_head()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._head)
        layout.addWidget(self.tray)
        layout.addWidget(self.stack, 1)
        layout.addWidget(self.strip)
        self._connect()

    @property
    def tools(self) -> dict[str, object]:
        return dict(self.tray.tools)

    def _connect(self) -> None:
        self.tray.taken.connect(self.take_tool)
        self.canvas.wanted.connect(self._on_intent)
        self.canvas.pointed.connect(lambda x, y: self.pointed.emit(x, y, self._turned()))
        self._session.edited.connect(self._on_edited)
        self._session.built.connect(self._on_built)
        self._session.selected.connect(self._on_selected)
        self._session.switched.connect(lambda: self.show_sketch(""))

    def _on_intent(self, intent: Intent) -> None:
        """Do what a gesture asks for."""
        match intent:
            case Made(tool, given):
                self._on_made(tool, given)
            case Chosen():
                self._on_chosen()
            case DragBegun(element, x, y):
                self.dragging.start(element, x, y)
            case Dragged(x, y):
                self.dragging.move(x, y)
            case TextMoved(dimension, x, y):
                self.sizing.move_text(dimension, x, y)
            case DragEnded():
                self.dragging.end()
                self.sizing.drop_text()
            case SizeGiven(dimension, text):
                self.sizing.resize(dimension, text)
            case WordsGiven(letters, words):
                self.sizing.reletter(letters, words)
            case DeleteWanted():
                self.delete_chosen()
            case ToolDropped():
                self.take_tool("select")
            case CalloutDropped(text, at):
                self._on_drop(text, at)
            case AreaClicked(x, y):
                self.solid.toggle_area(x, y)
            case WayWanted(by):
                self.ways.show(by)
            case WayTaken():
                self.ways.take()

    # --- building the panel
    def _build_head(self) -> None:
        self._head = QWidget()
        row = QHBoxLayout(self._head)
        row.setContentsMargins(12, 4, 10, 3)
        row.setSpacing(4)
        self._title = QLabel("Layout plate")
        self._title.setObjectName("title")
        self._kind = QLabel()
        self._kind.setObjectName("faint")
        row.addWidget(self._title)
        row.addSpacing(6)
        row.addWidget(self._kind)
        row.addStretch()
        self.advice = Advice(self._session, self.put)
        self.advice.lit.connect(lambda ids: self.canvas.blame(frozenset(ids)))
        self.advice.play.connect(self.player.play)
        row.addWidget(self.advice)
        self.table_button = QPushButton("Table")
        self.table_button.setCheckable(True)
        self.table_button.setToolTip("The turned profile as a table of stations")
        self.table_button.clicked.connect(self.show_table)
        row.addWidget(self.table_button)
        self.large_button = QPushButton("Large")
        self.large_button.setCheckable(True)
        self.large_button.setToolTip("Give the plate the room of the part view (Ctrl+L)")
        self.large_button.clicked.connect(self.large_wanted.emit)
        row.addWidget(self.large_button)

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.canvas.palette_ = palette
        self.tray.dress(palette)
        self.canvas.update()

    # --- what is shown
    @property
    def sketch(self) -> Sketch | None:
        """The sketch on the plate, with the part under it where it lies on one of its faces."""
        found = next((s for s in self._session.content.sketches if s.id == self.sketch_id), None)
        if found is None or not lies_on_part(found):
            return found
        if self._over is None or self._over[0] is not found or self._over[1] is not self._session.current.shown:
            self._over = (found, self._session.current.shown, with_part(found, self.solid.ghost(found.id)))
        return self._over[2]

    def _turned(self) -> bool:
        return self.sketch is not None and self.sketch.turned

    def show_sketch(self, id_: str) -> None:
        if id_ != self.sketch_id and self.canvas.tool == "areas":  # they were to be chosen on the other one
            self.take_tool("select")
        self.sketch_id = id_
        sketch = self.sketch
        self.strip.withdraw()
        self.canvas.show_ways((), 0)
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
        self.tray.setVisible(not on)

    def _on_edited(self) -> None:
        """An edit that changes nothing of what is here leaves the plate as it is, with no need to paint it."""
        if not self.isVisible():
            self._is_behind = True
            return
        self._read_typed()
        shown = self._shown_now()
        passing = self.canvas.ways or self.canvas.look.blamed or self.strip.offers or self.player.is_playing
        if passing or shown is None or shown != self._shown:
            self._show(shown)

    def _on_built(self) -> None:
        """The face under the sketch may be another one now."""
        if self.sketch is not None and self._shown is not None and self.sketch != self._shown.sketch:
            self._on_edited()

    def showEvent(self, event: QShowEvent | None) -> None:
        if self._is_behind:
            self.refresh()

    def _shown_now(self) -> Shown | None:
        sketch, content = self.sketch, self._session.content
        if sketch is None:
            return None
        problem = self._session.current.problems.get(sketch.id, "")
        areas, needed = self.solid.areas(sketch), self.solid.needs_outline(sketch)
        shown = shown_of(sketch, content.ledger(), content.header.style, problem, areas, needed)
        return shown._replace(traces=content.traces_of(sketch.id))

    def go_on(self) -> None:
        """The solver is loaded: from now on every sketch shows at once what can still move."""
        self.waits = False
        self.refresh()

    def refresh(self) -> None:
        self._show(self._shown_now())

    def _show(self, shown: Shown | None) -> None:
        self._shown, self._is_behind, sketch = shown, False, self.sketch
        self.player.stop()
        self.table.refresh()
        self.canvas.show_ways((), 0)
        if shown is None or sketch is None:
            self.advice.show_for(None, 0)
            self.canvas.show_sketch(None, Look(all_marks=self.canvas.look.all_marks))
            self._kind.setText("")
            self.strip.say("")
            self.strip.choices([])
            return
        self._title.setText(sketch.name or "Layout plate")
        self._kind.setText("turned profile · sizes as diameters" if sketch.turned else "outline")
        self._read_typed()
        look, problem = look_of(shown, self.solid.axes(sketch), self.canvas.look.all_marks, not self.waits)
        self.canvas.show_sketch(sketch, look)
        if not self.waits:
            self.strip.withdraw()
            self.strip.say(problem or self._state_words(sketch), bad=bool(problem))
        self.advice.show_for(sketch, look.freedom.ways if look.freedom is not None else 0)
        self._on_chosen()

    def _read_typed(self) -> None:
        """The fields beside the cursor read and write numbers as this job does."""
        content = self._session.content
        ledger = content.ledger()
        self.canvas.fields.read = lambda text, want: evaluate(text, ledger, want)
        self.canvas.fields.style_ = content.header.typed_style

    def _state_words(self, sketch: Sketch) -> str:
        """What can move, and what is open; a gap comes with the offer to close it."""
        if not sketch.entities:
            return ""
        words = freedom_words(sketch, self.canvas.look.freedom)
        regions = self.canvas.look.regions
        needed = self.solid.needs_outline(sketch)
        if needed and regions is not None and regions.divided and not self.solid.areas(sketch):
            words += f"  The lines enclose {len(regions.every())} areas: choose those to be taken."
            if self.canvas.tool == "select":
                self.strip.offer("Choose areas", lambda: self.take_tool("areas"))
        if needed and regions is not None and (open_ := regions.problem(sketch, bool(self.solid.areas(sketch)))):
            words += f"  {open_}"
            gap = min((g for g in regions.gaps if g.other), key=lambda g: g.size, default=None)
            if gap is not None and self.canvas.tool == "select":
                self.strip.offer(
                    f"Close the gap of {gap.size:.3g} mm",
                    lambda: self.put(finish.close_gap(sketch, gap), "gap closed"),
                )
        return words

    def _on_selected(self) -> None:
        sketch = self.sketch
        if sketch is not None:
            self.canvas.show_look(self.canvas.look._replace(areas=self.solid.areas(sketch)))

    def _on_chosen(self) -> None:
        """Offer what the chosen elements can take, and say when nothing about them is left to find."""
        sketch = self.sketch
        if sketch is None or self.stack.currentWidget() is self.table:
            self.strip.choices([])
            return
        self.strip.choices(self.relating.choices(sketch) if self.canvas.tool == "select" else [])
        chosen = self.canvas.chosen
        if len(chosen) == 1 and not self._session.current.problems.get(sketch.id):
            style = self._session.content.header.style
            said = pinned_words(sketch, chosen[0], self.canvas.look.freedom, style)
            if said:
                self.strip.say(f"{said}  {freedom_words(sketch, self.canvas.look.freedom)}")

    # --- tools and drawing
    def take_tool(self, name: str) -> None:
        if name == "dimension":
            self.relating.dimension()
            return
        self.show_table(False)
        self.tray.mark(name)
        self.canvas.take_tool(name)
        self.canvas.setFocus()
        self._on_chosen()

    def _on_made(self, tool: str, given: Given) -> None:
        """A tool has all it needs."""
        sketch, kind = self.sketch, TOOLS[tool]
        if sketch is None:
            return
        try:
            made = kind.make(sketch, given)
        except SketchError as error:
            self.strip.say(str(error), bad=True)
            return
        if not self.put(made, f"{kind.title.lower()} drawn"):
            return
        if tool in ("move", "turn"):
            self._say_what_held(made, given)
        if kind.goes_on:
            self._go_on(given.spots[-1])

    def _say_what_held(self, asked: Sketch, given: Given) -> None:
        """What was moved may be pulled back by what holds it."""
        now = self.sketch
        if now is None:
            return
        p, q = asked.points(), now.points()
        if any(abs(p[i].x - q[i].x) + abs(p[i].y - q[i].y) > 1e-6 for i in p if i in q):
            held = [in_words(now, i) for i in copying.ties(now, given.chosen)][:4]
            self.strip.say(
                f"It is held where it is by {', '.join(held) or 'its sizes'}. Drop or change those.", bad=True
            )

    def _go_on(self, at: Spot) -> None:
        now = self.sketch
        if now is not None and not at.point:
            near = next((p for p in now.points().values() if abs(p.x - at.x) + abs(p.y - at.y) < 1e-6), None)
            at = Spot(at.x, at.y, near.id) if near else Spot(at.x, at.y)
        self.canvas.go_on_from(at)

    def draw_typed(self, command: Command) -> None:
        """Draw what was typed in the entry line; one edit, so one undo."""
        sketch = self.sketch
        if sketch is None:
            return
        chosen = tuple(i for i in self.canvas.chosen if not any(d.id == i for d in sketch.dimensions))
        try:
            made = command.draw(sketch, chosen)
        except SketchError as error:
            self._session.refuse(error)
            return
        self.show_table(False)
        if self.put(made, f"{command.words} drawn"):
            self._session.say(f"Drew {command.words}.", "good")

    def put(self, sketch: Sketch, what: str) -> bool:
        """Make a changed sketch the present one: one edit of the job."""
        led = self.sketch is not None and bool(self.sketch.stations)
        done = self._session.edit(lambda c: edits.set_sketch(c, without_part(sketch)), what)
        if done and led and sketch.stations is None:
            self._session.say("The profile was changed on the plate; its table no longer leads it.", "warn")
        return done

    def delete_chosen(self) -> None:
        sketch = self.sketch
        if sketch is not None and self.canvas.chosen:
            chosen = self.canvas.chosen
            self.canvas.choose()
            self.put(draw.delete(sketch, chosen), "deleted from the sketch")

    def toggle_construction(self) -> None:
        sketch = self.sketch
        if sketch is not None and self.canvas.chosen:
            self.put(draw.toggle_construction(sketch, self.canvas.chosen), "construction changed")

    def toggle_marks(self) -> None:
        """All relation marks, or only those that were assumed or belong to what is chosen."""
        self.canvas.show_look(self.canvas.look._replace(all_marks=not self.canvas.look.all_marks))

    # --- paper
    def take_scan_away(self) -> None:
        """The scan that lies under the sketch, no more."""
        sketch, content = self.sketch, self._session.content
        if sketch is None or content.traces_of(sketch.id) is None:
            self._session.say("No scan lies under this sketch.")
        else:
            self._session.edit(lambda c: tracing.taken_away(c, sketch.id), "scan taken away")

    def ask_svg(self) -> None:
        """Print the sketch to a file that is asked for."""
        if self.sketch is None:
            self._session.say("There is no sketch on the plate.", "warn")
            return
        path = ask_to_write(self, "Print the sketch", f"{self.sketch.name or 'sketch'}.svg", "SVG (*.svg)")
        if path is not None:
            write_svg(path, self.canvas, self._session)

    # --- dimensions
    def _on_drop(self, text: str, at: QPointF) -> None:
        """A balloon dropped on a dimension gives it that callout; dropped on geometry it sizes it."""
        sketch = self.sketch
        if sketch is None:
            return
        found = self.canvas.under(at)
        if any(d.id == found for d in sketch.dimensions):
            self.sizing.resize(found, text)
        elif found:
            if found not in self.canvas.chosen:
                self.canvas.choose(found)
            self.relating.dimension(text)
