"""The plate itself: looking, choosing, dragging, drawing with the tool in hand."""

from __future__ import annotations

import itertools
import math
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from ...core.sketch.curves import polyline
from ...core.sketch.make.draw import Spot
from ...core.sketch.model import ACROSS, ALONG, ORIGIN, Sketch
from ...core.sketch.region import Regions
from ..theme.palette import Palette
from . import layout, paint

if TYPE_CHECKING:
    from ...core.sketch.explain.diagnose import Freedom  # loads SciPy, which a picture does not need

SNAP = 9.0


class Canvas(QWidget):
    """Shows a sketch. It owns no model: gestures are told by signals, and the panel answers with a new sketch.

    ``drawn`` carries (tool, spots), ``chosen_changed`` the ids, ``drag_*`` a point id and a place in mm.
    """

    drawn = pyqtSignal(str, object)
    chosen_changed = pyqtSignal()
    drag_started = pyqtSignal(str)
    dragged = pyqtSignal(float, float)
    drag_ended = pyqtSignal()
    dimension_given = pyqtSignal(str, str)
    delete_wanted = pyqtSignal()
    pointed = pyqtSignal(float, float)
    tool_dropped = pyqtSignal()
    callout_dropped = pyqtSignal(str, QPointF)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self.palette_ = palette
        self.sketch: Sketch | None = None
        self.t = layout.Transform()
        self.tool = "select"
        self.chosen: list[str] = []
        self.texts: dict[str, str] = {}
        self.freedom: Freedom | None = None
        self.regions: Regions | None = None
        self.blamed: frozenset[str] = frozenset()
        self._hover, self._boxes = "", {}  # type: tuple[str, dict[str, QRectF]]
        self._spots: list[Spot] = []
        self._here: Spot | None = None
        self._press: QPointF | None = None
        self._pan: QPointF | None = None
        self._dragging = ""
        self._user_view = False
        self._editor: QLineEdit | None = None
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Layout plate")
        self.setMinimumHeight(150)

    # --- content
    def show_sketch(self, sketch: Sketch | None) -> None:
        fresh = sketch is not None and (self.sketch is None or self.sketch.id != sketch.id)
        self.sketch = sketch
        known = {e.id for e in (*sketch.entities, *sketch.dimensions)} | {ORIGIN, ALONG, ACROSS} if sketch else set()
        self.chosen = [c for c in self.chosen if c in known]
        if fresh:
            self._user_view = False
            self._spots.clear()
        if not self._user_view and not self._dragging:
            self.fit()
        self.update()

    def fit(self) -> None:
        self._user_view = False
        if self.sketch is not None:
            box = layout.bounds(self.sketch)
            below = 24 + 18 * min(len(layout.lengths_of(self.sketch)), 8)
            self.t.fit(box, self.width(), self.height(), (46, 38, 46, min(below, round(self.height() * 0.62))))
        self.update()

    def take_tool(self, tool: str) -> None:
        self.tool = tool
        self._spots.clear()
        self.setCursor(Qt.CursorShape.ArrowCursor if tool == "select" else Qt.CursorShape.CrossCursor)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        paint.background(painter, self.width(), self.height(), self.palette_)
        if self.sketch is None:
            paint.note(
                painter, "Choose a step with a profile or an outline.", self.width(), self.height(), self.palette_
            )
            return
        look = paint.Look(frozenset(self.chosen), self._hover, self.freedom, self.regions, self.texts, self.blamed)
        paint.sketch(painter, self.sketch, self.t, look, self.palette_, self.width(), self.height())
        self._boxes = paint.dimensions(painter, layout.lay_out(self.sketch, self.t), look, self.palette_)
        if not self.sketch.entities and not self._spots:
            words = "Empty plate. Fill the table, or take a tool and draw."
            paint.note(painter, words, self.width(), self.height() // 2, self.palette_)
        self._preview(painter)

    def _preview(self, painter: QPainter) -> None:
        """What the tool in hand would draw, and the snap under the cursor."""
        if self.tool == "select" or self._here is None:
            return
        painter.setPen(QPen(self.palette_.color("gold"), 1.4))
        here = self.t.px(self._here.x, self._here.y)
        if self._here.point or self._here.curve:
            painter.drawEllipse(here, 7, 7)
        if not self._spots:
            return
        first = self.t.px(self._spots[0].x, self._spots[0].y)
        if self.tool == "rectangle":
            painter.drawRect(QRectF(first, here).normalized())
        elif self.tool == "circle":
            r = math.hypot(here.x() - first.x(), here.y() - first.y())
            painter.drawEllipse(first, r, r)
        else:
            painter.drawPolyline(QPolygonF([*(self.t.px(s.x, s.y) for s in self._spots), here]))

    # --- what lies under a place
    def under(self, at: QPointF) -> str:
        """The dimension, point or curve nearest to a pixel; empty for none."""
        for id_, box in self._boxes.items():
            if box.contains(at):
                return id_
        if self.sketch is None:
            return ""
        for p in self.sketch.points().values():
            if _gap(self.t.px(p.x, p.y), at) < SNAP - 1:
                return p.id
        points, best = self.sketch.points(), (SNAP - 2, "")
        for curve in self.sketch.curves():
            line = [self.t.px(float(x), float(y)) for x, y in polyline(curve, points, math.pi / 24)]
            if len(line) > 2 and not hasattr(curve, "a"):
                line.append(line[0])
            for a, b in itertools.pairwise(line):
                best = min(best, (_to_segment(at, a, b), curve.id))
        if best[1]:
            return best[1]
        if _gap(self.t.px(0, 0), at) < SNAP:
            return ORIGIN
        return ALONG if abs(at.y() - self.t.y0) < 4 and self.tool != "select" else ""

    def spot(self, at: QPointF, free: bool = False) -> Spot:
        """Where a click lands: on a point, on a line, level with or upright over the last one, or just there."""
        x, y = self.t.mm(at)
        if self.sketch is None or free:
            return Spot(x, y)
        found = self.under(at)
        points = self.sketch.points()
        if found in points:
            return Spot(points[found].x, points[found].y, found)
        if found == ORIGIN:
            return Spot(0.0, 0.0, ORIGIN)
        if self._spots:
            last = self._spots[-1]
            if abs(y - last.y) * self.t.scale < 7:
                y = last.y
            elif abs(x - last.x) * self.t.scale < 7:
                x = last.x
        if abs(y) * self.t.scale < 7:
            return Spot(x, 0.0, "", ALONG)
        return Spot(x, y)

    # --- mouse
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            self._pan = at
            return
        if self.sketch is None:
            return
        if self.tool != "select":
            self._draw(self.spot(at, bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)))
            return
        self._press = at
        found = self.under(at)
        more = bool(event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier))
        self._choose(found, more)

    def _choose(self, id_: str, more: bool) -> None:
        if not more:
            self.chosen = [id_] if id_ else []
        elif id_ in self.chosen:
            self.chosen.remove(id_)
        elif id_:
            self.chosen.append(id_)
        self.chosen_changed.emit()
        self.update()

    def _draw(self, spot: Spot) -> None:
        self._spots.append(spot)
        need = {"line": 2, "circle": 2, "rectangle": 2, "arc": 3}.get(self.tool, 1)
        if len(self._spots) >= need:
            spots, self._spots = self._spots, []
            self.drawn.emit(self.tool, spots)
        self.update()

    def go_on_from(self, spot: Spot) -> None:
        """A line tool goes on from the last end."""
        self._spots = [spot]

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        x, y = self.t.mm(at)
        self.pointed.emit(x, y)
        if self._pan is not None:
            self.t.x0 += at.x() - self._pan.x()
            self.t.y0 += at.y() - self._pan.y()
            self._pan, self._user_view = at, True
        elif self._dragging:
            self.dragged.emit(x, y)
        elif self._press is not None and _gap(self._press, at) > 4 and self.sketch is not None:
            id_ = self.chosen[0] if len(self.chosen) == 1 else ""
            if id_ in self.sketch.points():
                self._dragging = id_
                self.drag_started.emit(id_)
        else:
            self._hover = self.under(at)
            self._here = self.spot(at, bool(event.modifiers() & Qt.KeyboardModifier.AltModifier))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._pan = self._press = None
        if self._dragging:
            self._dragging = ""
            self.drag_ended.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        found = self.under(event.position())
        if found in self._boxes:
            self.edit_dimension(found)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self._user_view = True
        self.t.zoom(event.position(), 1.2 ** (event.angleDelta().y() / 120))
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if not self._user_view:
            self.fit()

    # --- keys
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape:
            if self._spots:
                self._spots.clear()
            elif self.tool != "select":
                self.tool_dropped.emit()
            else:
                self._choose("", False)
            self.update()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.delete_wanted.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and len(self.chosen) == 1 and self.chosen[0] in self._boxes:
            self.edit_dimension(self.chosen[0])
        elif key in (Qt.Key.Key_BracketRight, Qt.Key.Key_BracketLeft):
            self._step_choice(1 if key == Qt.Key.Key_BracketRight else -1)
        else:
            super().keyPressEvent(event)

    def _step_choice(self, by: int) -> None:
        """Go through all elements by key."""
        if self.sketch is None:
            return
        ids = [e.id for e in (*self.sketch.dimensions, *self.sketch.entities)]
        if ids:
            at = ids.index(self.chosen[-1]) if self.chosen and self.chosen[-1] in ids else -by
            self._choose(ids[(at + by) % len(ids)], False)

    # --- dimensions and drops
    def edit_dimension(self, id_: str) -> None:
        """A field over the dimension's text; Enter gives the new formula, Escape leaves the old one."""
        if self.sketch is None:
            return
        dimension = next((d for d in self.sketch.dimensions if d.id == id_), None)
        if dimension is None:
            return
        self.grab().isNull()  # lays the figures out anew when the dimension has only just been made
        box = self._boxes.get(id_, QRectF(self.rect().center().x() - 40.0, self.rect().center().y() - 10.0, 80, 20))
        self.close_editor()
        editor = QLineEdit(dimension.text, self)
        editor.setObjectName("formula")
        editor.setAccessibleName("Dimension")
        editor.setGeometry(int(box.center().x()) - 60, int(box.center().y()) - 14, 120, 28)
        editor.selectAll()
        editor.returnPressed.connect(lambda: self.dimension_given.emit(id_, editor.text()))
        editor.show()
        editor.setFocus()
        self._editor = editor

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


def _gap(a: QPointF, b: QPointF) -> float:
    return math.hypot(a.x() - b.x(), a.y() - b.y())


def _to_segment(p: QPointF, a: QPointF, b: QPointF) -> float:
    dx, dy = b.x() - a.x(), b.y() - a.y()
    length = dx * dx + dy * dy
    t = max(0.0, min(1.0, ((p.x() - a.x()) * dx + (p.y() - a.y()) * dy) / length)) if length else 0.0
    return math.hypot(p.x() - a.x() - t * dx, p.y() - a.y() - t * dy)
