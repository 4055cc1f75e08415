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
from ...core.sketch.region import Regions
from ..theme.palette import Palette
from . import figures, hit, overlay, paint
from .fields import CursorFields, InPlace
from .hold import Hand
from .look import Look
from .picture import Picture
from .screen import Transform

#: A view is kept when the sketch takes at least this share of it.
LEAST_SEEN = 0.3
#: A point this near (pixels) is meant, whatever is written over it.
OVER = 4
SNAP = 9.0


class Canvas(QWidget):
    """Shows a sketch. It owns no model: gestures are told by signals, and the panel answers with a new sketch.

    ``made`` carries (tool id, what was given), ``drag_*`` an element id and places in mm, ``area_clicked`` a place.
    """

    made = pyqtSignal(str, object)
    chosen_changed = pyqtSignal()
    drag_started = pyqtSignal(str, float, float)
    dragged = pyqtSignal(float, float)
    drag_ended = pyqtSignal()
    dimension_given = pyqtSignal(str, str)
    words_given = pyqtSignal(str, str)
    text_placed = pyqtSignal(str, float, float)
    delete_wanted = pyqtSignal()
    pointed = pyqtSignal(float, float)
    tool_dropped = pyqtSignal()
    callout_dropped = pyqtSignal(str, QPointF)
    area_clicked = pyqtSignal(float, float)
    way_wanted = pyqtSignal(int)
    way_taken = pyqtSignal()

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self.palette_ = palette
        self.sketch: Sketch | None = None
        self.t = Transform()
        self.tool = "select"
        self.hand = Hand()
        self.chosen: list[str] = []
        self.look = Look()
        self.ghosts: list[Sketch] = []
        self.ghost = 0
        self._hover = ""
        self.picture = Picture()
        self._press: QPointF | None = None
        self._pan: QPointF | None = None
        self._cursor = QPointF()
        self._dragging = ""
        self._stroke: list[QPointF] = []
        self._user_view = False
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

    # --- content
    def show_sketch(self, sketch: Sketch | None) -> None:
        fresh = sketch is not None and (self.sketch is None or self.sketch.id != sketch.id)
        self.sketch = sketch
        known: set[str] = set()
        if sketch is not None:
            known = {e.id for e in (*sketch.entities, *sketch.dimensions, *sketch.relations)} | {ORIGIN, ALONG, ACROSS}
        self.chosen = [c for c in self.chosen if c in known]
        if fresh:
            self._user_view = False
            self.hand.drop()
        if fresh or not (self._user_view or self._dragging or self._stays()):
            self.fit()
        if sketch is not None and self.hand.draws:
            self.hand.show(sketch, tuple(self.chosen))
        self.update()

    def _stays(self) -> bool:
        """The view keeps its place as long as all of the sketch and its sizes can be seen in it, and well enough."""
        if self.hand.spots or self.sketch is None:
            return bool(self.hand.spots)
        box = bounds(self.sketch)
        low, high = self.t.px(box.left, box.top), self.t.px(box.right, box.bottom)
        seen, room = QRectF(low, high).normalized(), QRectF(self.rect())
        if self.hand.tool is not None:
            return room.contains(seen)
        left, top, right, below = self._margins(self.sketch)
        large = max(seen.width() / max(room.width(), 1.0), seen.height() / max(room.height(), 1.0)) > LEAST_SEEN
        return large and room.contains(seen.adjusted(-left / 2, -top / 2, right, below))

    @property
    def freedom(self) -> object:
        return self.look.freedom

    @property
    def regions(self) -> Regions | None:
        return self.look.regions

    @property
    def texts(self) -> dict[str, str]:
        return self.look.texts

    @property
    def blamed(self) -> frozenset[str]:
        return self.look.blamed

    def blame(self, ids: frozenset[str]) -> None:
        """Light what stands in the way."""
        self.look = self.look._replace(blamed=ids)
        self.update()

    def fit(self) -> None:
        self._user_view = False
        if self.sketch is not None:
            box = bounds(self.sketch)
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
        self._stroke.clear()
        self.hand.take(TOOLS.get(tool), bool(self._chosen_elements()))
        self.setCursor(Qt.CursorShape.ArrowCursor if tool == "select" else Qt.CursorShape.CrossCursor)
        self._lay_fields()
        self.update()

    def _chosen_elements(self) -> tuple[str, ...]:
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
            hover=self._hover,
            choosing_areas=self.tool == "areas",
            dragging=bool(self._dragging) or self._pan is not None,
        )

    def _over(self, painter: QPainter, width: int, height: int) -> None:
        """What lies over the sketch while something is under way."""
        p = self.palette_
        if self.sketch is None:
            paint.note(painter, "Choose a step with a profile or an outline.", width, height, p)
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        overlay.ghosts(painter, self.sketch, self.ghosts, self.ghost, self.t, p)
        overlay.preview(painter, self.sketch, self.hand, self.t, p)
        overlay.prompt(painter, self._prompt(), self.hand.trouble, p)
        if self._stroke:
            painter.setPen(p.color("gold"))
            painter.drawPolyline(QPolygonF(self._stroke))
        if not self.sketch.entities and not self.hand.spots:
            paint.note(painter, "Empty plate. Fill the table, or take a tool and draw.", width, height // 2, p)

    def _prompt(self) -> str:
        return "Click the areas this step is to take; Esc when done" if self.tool == "areas" else self.hand.prompt

    def under(self, at: QPointF) -> str:
        """The dimension, relation mark, point or curve nearest to a pixel; empty for none.

        A point, or zero, lies over every text: it is smaller, and there is no other way to it.
        """
        if self.sketch is not None:
            found = hit.short_line(self.sketch, self.t, at, SNAP) or hit.point(self.sketch, self.t, at, OVER)
            if found:
                return found
        for id_, box in (*self.picture.boxes.items(), *self.picture.marks.items()):
            if box.contains(at):
                return id_
        return "" if self.sketch is None else hit.element(self.sketch, self.t, at, SNAP)

    # --- mouse
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not self.fields.isAncestorOf(self.focusWidget()) if self.focusWidget() else True:
            self.setFocus()
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            self._pan = at
            return
        if self.sketch is None:
            return
        if self.ghosts:
            self.way_taken.emit()
            return
        if self.tool == "areas":
            self.area_clicked.emit(*self.t.mm(at))
            return
        if self.hand.draws:
            self._press = at
            if self.hand.tool is not None and self.hand.tool.stroke:
                self._stroke = [at]
            else:
                self._move_hand(at, event.modifiers())
                self.take_place()
            return
        self._press = at
        more = bool(event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier))
        self._choose(self.under(at), more or self.hand.choosing)

    def _choose(self, id_: str, more: bool) -> None:
        if not more:
            self.chosen = [id_] if id_ else []
        elif id_ in self.chosen:
            self.chosen.remove(id_)
        elif id_:
            self.chosen.append(id_)
        self.chosen_changed.emit()
        self.update()

    def _move_hand(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        if self.sketch is None:
            return
        x, y = self.t.mm(at)
        free = bool(modifiers & Qt.KeyboardModifier.AltModifier)
        self.hand.move(self.sketch, x, y, SNAP / self.t.scale, free, self._chosen_elements())
        self.fields.show_live(self.hand.live(self.sketch, self._chosen_elements()), at)

    def take_place(self) -> None:
        """The place under the cursor is clicked, or Return was pressed in a field."""
        if not self.hand.draws or self.sketch is None:
            return
        tool = self.tool
        given = self.hand.click(self._chosen_elements())
        if given is not None:
            self.made.emit(tool, given)
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
            self.hand.show(self.sketch, self._chosen_elements())
            if trouble:
                self.hand.trouble = trouble
            self.fields.show_live(self.hand.live(self.sketch, self._chosen_elements()), self._cursor)
        self.update()

    def _leave_fields(self) -> None:
        self.setFocus()
        self._lay_fields()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = self._cursor = event.position()
        x, y = self.t.mm(at)
        self.pointed.emit(x, y)
        if self._pan is not None:
            self.t.x0 += at.x() - self._pan.x()
            self.t.y0 += at.y() - self._pan.y()
            self._pan, self._user_view = at, True
        elif self._dragging in self.picture.boxes and self._dragging:
            self.text_placed.emit(self._dragging, x, y)
        elif self._dragging:
            self.dragged.emit(x, y)
        elif self._stroke:
            self._stroke.append(at)
        elif self.hand.draws:
            self._hover = ""
            self._move_hand(at, event.modifiers())
        elif self._press is not None and hit.gap(self._press, at) > 4 and self.sketch is not None:
            self._begin_drag()
        else:
            self._hover = self.under(at)
        self.update()

    def _begin_drag(self) -> None:
        assert self.sketch is not None and self._press is not None
        id_ = self.chosen[-1] if len(self.chosen) == 1 else ""
        if id_ in self.picture.boxes:
            self._dragging = id_
        elif any(e.id == id_ for e in self.sketch.entities):
            self._dragging = id_
            self.drag_started.emit(id_, *self.t.mm(self._press))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._pan = self._press = None
        if self._stroke:
            self._end_stroke()
        if self._dragging:
            self._dragging = ""
            self.drag_ended.emit()
        self.update()

    def _end_stroke(self) -> None:
        """A click with a stroke tool, or a stroke across."""
        stroke, self._stroke = self._stroke, []
        self._move_hand(stroke[0], Qt.KeyboardModifier.NoModifier)
        if len(stroke) > 3:
            self.hand.spots = [Spot(*self.t.mm(p)) for p in stroke]
            given = self.hand.finish(self._chosen_elements())
            if given is not None:
                self.made.emit(self.tool, given)
        else:
            self.take_place()
        self.update()

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

    # --- keys
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key, text = Qt.Key(event.key()), event.text()
        if key == Qt.Key.Key_Escape:
            self._step_back()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._on_return()
        elif self.hand.draws and key in (Qt.Key.Key_X, Qt.Key.Key_Y):
            self.hand.hold("x" if key == Qt.Key.Key_X else "y")
            self._move_hand(self._cursor, Qt.KeyboardModifier.NoModifier)
        elif self.fields.isVisible() and text and (text.isalnum() or text in ".#(-@/"):
            self.fields.begin(text)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.delete_wanted.emit()
        elif key == Qt.Key.Key_V:
            self.way_wanted.emit(-1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
        elif key in (Qt.Key.Key_BracketRight, Qt.Key.Key_BracketLeft, Qt.Key.Key_BraceLeft, Qt.Key.Key_BraceRight):
            forward = key in (Qt.Key.Key_BracketRight, Qt.Key.Key_BraceRight)
            more = key in (Qt.Key.Key_BraceLeft, Qt.Key.Key_BraceRight)
            self._step_choice(1 if forward else -1, more)
        elif key == Qt.Key.Key_Tab and self.fields.isVisible():
            self.fields.begin("")
        else:
            super().keyPressEvent(event)
        self.update()

    def _step_back(self) -> None:
        """Escape: what was begun, then the tool, then the choice."""
        if self._editor is not None:
            self.close_editor()
        elif self.ghosts:
            self.ghosts = []
        elif self.hand.spots:
            given = self.hand.finish(self._chosen_elements()) if self.hand.tool and self.hand.tool.clicks < 0 else None
            self.hand.drop()
            self._lay_fields()
            if given is not None:
                self.made.emit(self.tool, given)
        elif self.tool != "select":
            self.tool_dropped.emit()
        else:
            self._choose("", False)

    def _on_return(self) -> None:
        if self.ghosts:
            self.way_taken.emit()
        elif self.hand.choosing and self._chosen_elements():
            self.take_tool(self.tool)
        elif self.hand.tool is not None and self.hand.tool.clicks < 0:
            given = self.hand.finish(self._chosen_elements())
            if given is not None:
                self.made.emit(self.tool, given)
        elif self.hand.draws:
            self.take_place()
        elif len(self.chosen) == 1 and self.chosen[0] in self.picture.boxes:
            self.edit_dimension(self.chosen[0])

    def _step_choice(self, by: int, more: bool) -> None:
        """Go through all elements by key; with Shift they are taken together."""
        if self.sketch is None:
            return
        ids = [e.id for e in (*self.sketch.dimensions, *self.sketch.entities)]
        if ids:
            at = ids.index(self.chosen[-1]) if self.chosen and self.chosen[-1] in ids else -by
            self._choose(ids[(at + by) % len(ids)], more)

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
        editor.returnPressed.connect(lambda: self.dimension_given.emit(id_, editor.text()))

    def edit_words(self, id_: str, words: str) -> None:
        """A field over letters; Enter gives the new words."""
        if self.sketch is None:
            return
        editor = self._edit_over(self.t.px(*middle(self.sketch, id_)), words, 220, "Letters")
        editor.returnPressed.connect(lambda: self.words_given.emit(id_, editor.text()))

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
        self._hover = self.under(event.position())
        event.acceptProposedAction()
        self.update()

    def dropEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self.callout_dropped.emit(event.mimeData().text(), event.position())

    def place(self, x: float, y: float) -> QPoint:
        """The pixel of a place in mm (tests and drops use it)."""
        return self.t.px(x, y).toPoint()
