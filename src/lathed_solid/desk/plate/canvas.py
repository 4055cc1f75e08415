"""The plate itself: looking, choosing, dragging, drawing with the tool in hand."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from ...core.drafting.figures import bounds, middle
from ...core.drafting.layout import direction_of, stacked_of
from ...core.sketch.hand.tools import TOOLS
from ...core.sketch.make.draw import Spot
from ...core.sketch.model import ACROSS, ALONG, ORIGIN, Sketch
from ..theme.palette import Palette
from . import figures, hit, modes, overlay, paint
from .fields import CursorFields, InPlace
from .hold import Hand
from .intents import CalloutDropped, Chosen, DeleteWanted, Intent, SizeGiven, WayWanted, WordsGiven
from .look import Look
from .picture import Picture
from .screen import Transform

#: A view is kept when the sketch takes at least this share of it.
LEAST_SEEN = 0.3


class Canvas(QWidget):
    """Shows a sketch. It owns no model: the panel hands it what it shows, and is told what gestures ask for.

    ``wanted`` carries an intent (see ``intents``), ``pointed`` where the cursor is (mm).
    """

    wanted = pyqtSignal(object)
    pointed = pyqtSignal(float, float)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self.palette_ = palette
        self.sketch: Sketch | None = None
        self.look = Look()
        self.ways: tuple[Sketch, ...] = ()
        self.way = 0
        self.chosen: tuple[str, ...] = ()
        self.t = Transform()
        self.tool = "select"
        self.hand = Hand()
        self.hover = ""
        self.cursor_at = QPointF()
        self.picture = Picture()
        self._pan: QPointF | None = None
        self._user_view = False
        self._select, self._choosing, self._areas = modes.Select(self), modes.Choosing(self), modes.Areas(self)
        self._draw, self._stroke, self._ways = modes.Draw(self), modes.Stroke(self), modes.Ways(self)
        self._editor: QLineEdit | None = None
        self.fields = CursorFields(self)
        self.fields.changed.connect(self._on_typed)
        self.fields.taken.connect(self.take_place)
        self.fields.left.connect(self._leave_fields)
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Layout plate")
        self.setMinimumHeight(150)

    @property
    def mode(self) -> modes.Mode:
        """What mouse and keys mean just now."""
        if self.ways:
            return self._ways
        if self.tool == "areas":
            return self._areas
        if self.hand.tool is None:
            return self._select
        if self.hand.choosing:
            return self._choosing
        return self._stroke if self.hand.tool.stroke else self._draw

    def _tell(self, intent: Intent | None) -> None:
        if intent is not None:
            if isinstance(intent, Chosen):
                self.chosen = intent.ids
            self.wanted.emit(intent)

    # --- what is shown
    def show_sketch(self, sketch: Sketch | None, look: Look) -> None:
        """Show a sketch as the panel sees it."""
        fresh = sketch is not None and (self.sketch is None or self.sketch.id != sketch.id)
        self.sketch, self.look = sketch, look
        known: set[str] = set()
        if sketch is not None:
            known = {e.id for e in (*sketch.entities, *sketch.dimensions, *sketch.relations)} | {ORIGIN, ALONG, ACROSS}
        self.chosen = tuple(c for c in self.chosen if c in known)
        if fresh:
            self._user_view = False
            self.hand.drop()
        if fresh or not (self._user_view or self._select.dragging or self._stays()):
            self.fit()
        if sketch is not None and self.hand.draws:
            self.hand.show(sketch, self.chosen)
        self.update()

    def show_look(self, look: Look) -> None:
        """The same sketch seen otherwise."""
        self.look = look
        self.update()

    def pose(self, sketch: Sketch, look: Look | None = None) -> None:
        """A passing pose: a frame of a drag, or of a motion that is played."""
        self.sketch, self.look = sketch, look or self.look
        self.update()

    def show_ways(self, ways: tuple[Sketch, ...], at: int) -> None:
        """Other solutions as ghosts, one of them lit; none to show them no more."""
        self.ways, self.way = ways, at
        self.update()

    def choose(self, *ids: str) -> None:
        """What is chosen from now on, said by the panel itself."""
        self.chosen = ids

    def _stays(self) -> bool:
        """The view keeps its place as long as all of the sketch and its sizes can be seen in it, and well enough."""
        if self.hand.spots or self.sketch is None:
            return bool(self.hand.spots)
        box = bounds(self.sketch, self.look.traces)
        low, high = self.t.px(box.left, box.top), self.t.px(box.right, box.bottom)
        seen, room = QRectF(low, high).normalized(), QRectF(self.rect())
        if self.hand.tool is not None:
            return room.contains(seen)
        left, top, right, below = self._margins(self.sketch)
        large = max(seen.width() / max(room.width(), 1.0), seen.height() / max(room.height(), 1.0)) > LEAST_SEEN
        return large and room.contains(seen.adjusted(-left / 2, -top / 2, right, below))

    def blame(self, ids: frozenset[str]) -> None:
        """Light what stands in the way."""
        self.show_look(self.look._replace(blamed=ids))

    def fit(self) -> None:
        self._user_view = False
        if self.sketch is not None:
            box = bounds(self.sketch, self.look.traces)
            self.t.fit(box, self.width(), self.height(), self._margins(self.sketch))
        self.update()

    def _margins(self, sketch: Sketch) -> tuple[int, int, int, int]:
        """Room for the sizes: left, top, right, bottom in pixels."""
        stacked = stacked_of(sketch)
        rows = sum(direction_of(sketch, d) == "along" for d in stacked)
        widths = figures.text_widths(tuple(stacked), self.look)
        pitch = 14 + max(widths.values(), default=44.0)
        below = min(24 + 18 * min(rows, 8), round(self.height() * 0.62))
        beside = min(46 + pitch * min(len(stacked) - rows, 5), self.width() * 0.55)
        return 46, 38, round(beside), below

    def take_tool(self, tool: str) -> None:
        """``select``, ``areas``, or one of the tools."""
        self.tool = tool
        self._stroke.trail = []
        self.hand.take(TOOLS.get(tool), bool(self.chosen_elements()))
        self.setCursor(Qt.CursorShape.ArrowCursor if tool == "select" else Qt.CursorShape.CrossCursor)
        self._lay_fields()
        self.update()

    def chosen_elements(self) -> tuple[str, ...]:
        """What is chosen of the geometry, without sizes and relations."""
        if self.sketch is None:
            return ()
        own = {e.id for e in self.sketch.entities} | {ORIGIN, ALONG, ACROSS}
        return tuple(c for c in self.chosen if c in own)

    # --- painting
    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self.sketch is None:
            paint.background(painter, self.width(), self.height(), self.palette_)
        else:
            self.picture.show(painter, self, self.sketch, self.t, self._look_now(), self.palette_)
        self._over(painter, self.width(), self.height())

    def render_on(self, painter: QPainter, width: int, height: int) -> None:
        """Paint everything but the ground onto paper (SVG)."""
        if self.sketch is not None:
            self.picture.draw(painter, self.sketch, self.t, self._look_now(), self.palette_, width, height)
        self._over(painter, width, height)

    def _look_now(self) -> Look:
        return self.look._replace(
            chosen=frozenset(self.chosen),
            hover=self.hover,
            choosing_areas=self.tool == "areas",
            dragging=self.look.dragging or bool(self._select.dragging) or self._pan is not None,
        )

    def _over(self, painter: QPainter, width: int, height: int) -> None:
        """What lies over the sketch while something is under way."""
        p = self.palette_
        if self.sketch is None:
            paint.note(painter, "Choose a step with a profile or an outline.", width, height, p)
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        overlay.ghosts(painter, self.sketch, self.ways, self.way, self.t, p)
        overlay.preview(painter, self.sketch, self.hand, self.t, p)
        overlay.prompt(painter, self.mode.prompt, self.hand.trouble, p)
        if self._stroke.trail:
            painter.setPen(p.color("gold"))
            painter.drawPolyline(QPolygonF(self._stroke.trail))
        if not self.sketch.entities and not self.hand.spots:
            paint.note(painter, "Empty plate. Fill the table, or take a tool and draw.", width, height // 2, p)

    def under(self, at: QPointF) -> str:
        """The dimension, relation mark, point or curve nearest to a pixel; empty for none.

        A point, or zero, lies over every text: it is smaller, and there is no other way to it.
        """
        if self.sketch is not None:
            found = hit.short_line(self.sketch, self.t, at, hit.SNAP) or hit.point(self.sketch, self.t, at, hit.OVER)
            if found:
                return found
        for id_, box in (*self.picture.boxes.items(), *self.picture.marks.items()):
            if box.contains(at):
                return id_
        return "" if self.sketch is None else hit.element(self.sketch, self.t, at, hit.SNAP)

    # --- mouse
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        focus = self.focusWidget()
        if focus is None or not self.fields.isAncestorOf(focus):
            self.setFocus()
        if event.button() != Qt.MouseButton.LeftButton:
            self._pan = event.position()
        elif self.sketch is not None:
            self._tell(self.mode.press(event.position(), event.modifiers()))
            self._after_place()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = self.cursor_at = event.position()
        self.pointed.emit(*self.t.mm(at))
        if self._pan is not None:
            self.t.x0 += at.x() - self._pan.x()
            self.t.y0 += at.y() - self._pan.y()
            self._pan, self._user_view = at, True
        else:
            self._tell(self.mode.move(at, event.modifiers()))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._pan = None
        for mode in dict.fromkeys((self.mode, self._select)):
            self._tell(mode.release())
        self._after_place()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        found = next((i for i, box in self.picture.boxes.items() if box.contains(event.position())), "")
        found = found or self.under(event.position())
        text = next((t for t in self.sketch.texts() if t.id == found), None) if self.sketch is not None else None
        if found in self.picture.boxes:
            self.edit_dimension(found)
        elif text is not None and not self.hand.draws:
            self.edit_words(found, text.text)
        elif self.hand.draws:
            self.mousePressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self._user_view = True
        self.t.zoom(event.position(), 1.2 ** (event.angleDelta().y() / 120))
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if not self._user_view and self.hand.tool is None:
            self.fit()

    # --- drawing with the tool in hand
    def take_place(self) -> None:
        """Return was pressed in a field: the place is where the values say."""
        if self.hand.draws and self.sketch is not None:
            self._tell(self._draw.take())
            self._after_place()

    def _after_place(self) -> None:
        """The fields for the next place, once this one is taken."""
        if self.hand.draws:
            self._lay_fields()
        self.update()

    def go_on_from(self, spot: Spot) -> None:
        """A line tool goes on from the last end."""
        self.hand.spots = [spot]
        self._lay_fields()
        self.update()

    def _lay_fields(self) -> None:
        """Fields for the next click, empty but for what was typed on purpose."""
        tool = self.hand.tool
        fields = tool.fields_at(len(self.hand.spots)) if tool is not None and not self.hand.choosing else ()
        if self.fields.isVisible() and not fields:
            self.setFocus()
        self.fields.show_for(fields, self.hand.typed)
        self._on_typed()
        if fields and any(f.want == "text" for f in fields):
            self.fields.begin("")

    def _on_typed(self) -> None:
        typed, trouble = self.fields.typed()
        tool = self.hand.tool
        now = {f.key for f in tool.fields_at(len(self.hand.spots))} if tool is not None else set()
        kept = {k: v for k, v in self.hand.typed.items() if k not in now}
        self.hand.typed = kept | typed
        if self.sketch is not None and self.hand.draws:
            self.hand.show(self.sketch, self.chosen_elements())
            if trouble:
                self.hand.trouble = trouble
            self.fields.show_live(self.hand.live(self.sketch, self.chosen_elements()), self.cursor_at)
        self.update()

    def _leave_fields(self) -> None:
        self.setFocus()
        self._lay_fields()

    # --- keys
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key, text = Qt.Key(event.key()), event.text()
        if key == Qt.Key.Key_Escape:
            self._step_back()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._tell(self.mode.enter())
            self._after_place()
        elif not self.mode.key(key, text) and not self._common_key(key, text, event.modifiers()):
            super().keyPressEvent(event)
        self.update()

    def _common_key(self, key: Qt.Key, text: str, modifiers: Qt.KeyboardModifier) -> bool:
        """Keys that mean the same in every mode; whether this was one."""
        if self.fields.isVisible() and text and (text.isalnum() or text in ".#(-@/"):
            self.fields.begin(text)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._tell(DeleteWanted())
        elif key == Qt.Key.Key_V:
            self._tell(WayWanted(-1 if modifiers & Qt.KeyboardModifier.ShiftModifier else 1))
        elif key in (Qt.Key.Key_BracketRight, Qt.Key.Key_BracketLeft, Qt.Key.Key_BraceLeft, Qt.Key.Key_BraceRight):
            forward = key in (Qt.Key.Key_BracketRight, Qt.Key.Key_BraceRight)
            more = key in (Qt.Key.Key_BraceLeft, Qt.Key.Key_BraceRight)
            self._step_choice(1 if forward else -1, more)
        elif key == Qt.Key.Key_Tab and self.fields.isVisible():
            self.fields.begin("")
        else:
            return False
        return True

    def _step_back(self) -> None:
        """Escape: what is being typed, then what was begun, then the tool, then the choice."""
        if self._editor is not None:
            self.close_editor()
            return
        begun = bool(self.hand.spots)
        self._tell(self.mode.back())
        if begun:
            self._lay_fields()

    def _step_choice(self, by: int, more: bool) -> None:
        """Go through all elements by key; with Shift they are taken together."""
        if self.sketch is None:
            return
        ids = [e.id for e in (*self.sketch.dimensions, *self.sketch.entities)]
        if ids:
            at = ids.index(self.chosen[-1]) if self.chosen and self.chosen[-1] in ids else -by
            self._tell(self._select.chosen(ids[(at + by) % len(ids)], more))

    # --- dimensions and drops
    def edit_dimension(self, id_: str) -> None:
        """A field over the dimension's text; Enter gives the new formula, Escape leaves the old one."""
        dimension = next((d for d in self.sketch.dimensions if d.id == id_), None) if self.sketch is not None else None
        if dimension is None:
            return
        self.grab().isNull()  # lays the figures out anew when the dimension has only just been made
        box = self.picture.boxes.get(
            id_, QRectF(self.rect().center().x() - 40.0, self.rect().center().y() - 10.0, 80, 20)
        )
        editor = self._edit_over(box.center(), dimension.text, 120, "Dimension")
        editor.returnPressed.connect(lambda: self._tell(SizeGiven(id_, editor.text())))

    def edit_words(self, id_: str, words: str) -> None:
        """A field over letters; Enter gives the new words."""
        if self.sketch is None:
            return
        editor = self._edit_over(self.t.px(*middle(self.sketch, id_)), words, 220, "Letters")
        editor.returnPressed.connect(lambda: self._tell(WordsGiven(id_, editor.text())))

    def _edit_over(self, at: QPointF, text: str, width: int, name: str) -> QLineEdit:
        """A field at a place on the plate, inside it."""
        self.close_editor()
        editor = InPlace(text, self)
        editor.setObjectName("formula")
        editor.setAccessibleName(name)
        left = min(max(4, int(at.x()) - width // 2), max(4, self.width() - width - 4))
        top = min(max(4, int(at.y()) - 14), max(4, self.height() - 32))
        editor.setGeometry(left, top, width, 28)
        editor.selectAll()
        editor.show()
        editor.setFocus()
        self._editor = editor
        return editor

    def close_editor(self) -> None:
        if self._editor is not None:
            self._editor.deleteLater()
            self._editor = None
            self.setFocus()

    def dragEnterEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        if event.mimeData().text().startswith("#"):
            event.acceptProposedAction()

    def dragMoveEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self.hover = self.under(event.position())
        event.acceptProposedAction()
        self.update()

    def dropEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._tell(CalloutDropped(event.mimeData().text(), event.position()))

    def place(self, x: float, y: float) -> QPoint:
        """The pixel of a place in mm (tests and drops use it)."""
        return self.t.px(x, y).toPoint()
