"""The part view panel: mouse and keys, picking, the view sheet, what is under the cursor."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QWidget

from ...core.drafting.looking import Up, seen_from
from ...core.kernel.form.bar import Section
from ...core.kernel.ground.figures import Vector
from ...core.kernel.ground.geometry import Frame
from ...core.kernel.ground.named import NamedBody
from ...core.kernel.ground.topology import Shape
from ...core.plan.zero import OWN, Standing
from ...worker.protocol import BuiltPart
from ..theme.palette import Palette
from .blankghost import BlankGhost
from .coats import Coats
from .overlay import Overlay
from .pins import Laid, Pin, Pins
from .referring import named_corner
from .scene import Scene
from .tags import Number, Tags
from .triad import Triad
from .turnable import CLICK_SLACK, TurnableView


class PartView(TurnableView):
    """Shows the part. Faces are reported by index, edges by the two face references they lie between."""

    face_picked = pyqtSignal(int, bool)
    edge_picked = pyqtSignal(str, str, bool, int, int)
    datum_picked = pyqtSignal(str, bool)
    corner_picked = pyqtSignal(object, bool)
    number_changed = pyqtSignal(str, str)
    number_dragged = pyqtSignal(str, float, bool)
    cut_dragged = pyqtSignal(float)
    nothing_picked = pyqtSignal()
    hovered = pyqtSignal(int)
    edge_hovered = pyqtSignal(str, str, int, int)
    pointed = pyqtSignal(object)

    def __init__(self, palette: Palette) -> None:
        super().__init__(palette, "No solid yet. In Shape, add a turned profile or an extrude.", "Part view")
        self.scene = Scene(self.surface)
        self.tags, self.pins = Tags(self, self.surface), Pins(self, self.surface)
        self.tags.changed.connect(self.number_changed)
        self.tags.dragged.connect(self.number_dragged)
        self.triad, self.ghost = Triad(self.surface), BlankGhost(self.surface)
        self.overlay = Overlay(self.surface)
        self._machine = OWN
        #: Which axis is up in the named views.
        self.standing: Up = "x"
        self._press: QPointF | None = None
        self._last: QPointF | None = None
        self._moved = False
        self._part: BuiltPart | None = None
        self._waiting: tuple[BuiltPart, Callable[[NamedBody], Coats]] | None = None

    # --- buttons
    def lay_over(self, bar: QWidget) -> None:
        """A bar in the upper left corner."""
        bar.move(10, 8)
        bar.adjustSize()
        bar.raise_()
        self.tags.keep_below(bar)

    def toggle_zero(self) -> None:
        """Show or hide the triad of zero."""
        self.triad.switch(not self.triad.is_on)
        self.press_button("axis", self.triad.is_on)

    # --- content
    @property
    def shown(self) -> BuiltPart | None:
        return self._part

    def show_part(self, part: BuiltPart | None, coats: Callable[[NamedBody], Coats]) -> None:
        """Show a built part; None clears the view. Once the user has moved the camera it stays."""
        if self._shut:
            return
        if not self._ready:
            self._waiting = (part, coats) if part else None
            return
        self._empty.setVisible(part is None or not part.shape)
        if part is None or not part.shape:
            self.scene.clear()
            self.triad.forget()
            self.ghost.forget()
            self.overlay.forget()
            self._part, self._fitted = None, False
            return
        self._part = part
        self.scene.show(part.shape, part.names, part.surfaces, coats, self._palette)
        self.scene.datums.measure(part.datums)
        self.scene.threads(part.marks, part.surfaces)
        self.triad.show(part.surfaces)
        if not self._fitted:
            self._fitted = True
            self.look_from("I")
        elif not self._own_view:
            self.fit()
        self.surface.draw_now()

    def show_blank(self, section: Section, sizes: Sequence[float], frame: Frame, length: float) -> None:
        """The ghost of the blank; before there is a part it is what is looked at."""
        if not self._ready or self._shut:
            return
        self.ghost.show(section, sizes, frame, length)
        if self._part is None:
            self._empty.hide()
            self.look_from("I")

    def hide_blank(self) -> None:
        if self._ready and not self._shut:
            self.ghost.hide()
            self._empty.setVisible(self._part is None)

    def show_numbers(self, numbers: Sequence[Number]) -> None:
        """The chosen step's own sizes, on the part; double-click one to change it."""
        self.tags.show(numbers)

    def pin(self, pins: Sequence[Pin]) -> None:
        """Measurements that stay on the part."""
        if self._ready and not self._shut:
            self.scene.rule([p.ends for p in pins if p.ends is not None], self._palette.color("brass"))
            self.pins.show(pins)

    def lay(self, laid: Sequence[Laid]) -> None:
        """Skins over the part: exactly these."""
        if self._ready and not self._shut:
            self.overlay.show(laid)

    def light(
        self, faces: Sequence[int], edges: Sequence[Shape], ghosts: Sequence[int], corners: Sequence[Shape] = ()
    ) -> None:
        """Light what is chosen; ``ghosts`` are faces picked before for the field that asks."""
        self.scene.light(faces, edges, corners)
        self.scene.ghost(ghosts, self._palette)

    def show_datums(self, kinds: dict[str, str], size: float, middle: Vector, by_border: bool) -> None:
        """Show exactly these steps' planes, axes and points; planes are picked ``by_border`` where much else is."""
        datums = self.scene.datums
        if self._ready and not self._shut and (kinds, by_border and bool(kinds)) != (datums.kinds, datums.by_border):
            datums.show(kinds, size, middle, by_border)

    def _on_ready(self) -> None:
        self._ready = True
        self.dress(self._palette)
        if self._waiting:
            self.show_part(*self._waiting)
            self._waiting = None

    def look_from(self, key: str) -> None:
        if not self._ready:
            return  # nothing has been seen yet; the first part is looked at from its corner
        self._own_view = False
        eye, up = seen_from(key, self.standing)
        self.surface.look(self._machine.part_way(eye), self._machine.part_way(up))
        self.fit()
        self.sheet.mark(key)

    def eye(self) -> tuple[Vector, Up]:
        """The direction to the eye, in machine axes, and which of these is up."""
        return self._machine.way(self.surface.towards_eye()), self.standing

    def stand(self, up: Up) -> None:
        """Another axis is up; the part is looked at anew."""
        if up == self.standing:
            return
        self.standing = up
        self.sheet.stand(up)
        if self._fitted and not self._shut:
            self.look_from("I")

    def set_up(self, machine: Standing) -> None:
        """Where the part stands in the machine: the named views and the triad follow."""
        if machine == self._machine:
            return
        turned = machine.frame[1:] != self._machine.frame[1:]
        self._machine = machine
        self.triad.stand(machine.frame)
        if turned and self._fitted and not self._shut:
            self.look_from("I")

    # --- mouse
    def _on_leave(self) -> None:
        self.scene.unhover()
        super()._on_leave()

    def _on_press(self, event: QMouseEvent) -> None:
        self.setFocus()
        self._press = self._last = event.position()
        self._moved = False
        if event.button() == Qt.MouseButton.LeftButton:
            self.surface.orbit_start(*self.surface.pixel(event.position()))

    def _on_move(self, event: QMouseEvent) -> None:
        if self._press is None or self._last is None:
            self._hover(event.position())
            return
        gone = event.position() - self._press
        if not self._moved and abs(gone.x()) + abs(gone.y()) < CLICK_SLACK:
            return
        self._moved = self._own_view = True
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.buttons() & Qt.MouseButton.LeftButton and shift and self.scene.cut is not None:
            self.cut_dragged.emit(self.surface.along(*self.scene.cut, event.position() - self._last))
        elif event.buttons() & Qt.MouseButton.LeftButton:
            self.surface.orbit(*self.surface.pixel(event.position()))
            self.sheet.mark("")
        else:
            step = event.position() - self._last
            self.surface.pan(round(step.x()), round(step.y()))
        self._last = event.position()

    def _on_release(self, event: QMouseEvent) -> None:
        was_click = self._press is not None and not self._moved
        self._press = self._last = None
        if was_click and event.button() == Qt.MouseButton.LeftButton:
            more = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            self.pick(event.position().toPoint(), more)

    def _hover(self, position: QPointF) -> None:
        shape = self.scene.hover(*self.surface.pixel(position))
        body = self.scene.body
        index = body.index(shape) if shape is not None and body and self.scene.is_face(shape) else 0
        if shape is not None and body and not index and (told := self._edge(shape)) is not None:
            self.edge_hovered.emit(*told)
        else:
            self.hovered.emit(index)
        self.pointed.emit(self._point() if shape is not None else None)

    def _edge(self, shape: Shape) -> tuple[str, str, int, int] | None:
        """The two faces that an edge lies between, and which of how many it is there; None for anything else."""
        body = self.scene.body
        names = body.edge_names(shape) if body is not None and self.scene.is_edge(shape) else None
        if body is None or names is None or not all(names):
            return None
        between = body.edges_between(*names)
        return (*names, next((k for k, e in enumerate(between) if e.IsSame(shape)), 0), len(between))

    def _point(self) -> Vector | None:
        return self.scene.detected_point()

    def pick(self, position: QPoint, more: bool = False) -> None:
        """Pick what is under a widget position; ``more`` adds to what is picked."""
        shape: Shape | None = self.scene.hover(*self.surface.pixel(QPointF(position)))
        body = self.scene.body
        if shape is None or body is None:
            self.nothing_picked.emit()
        elif self.scene.is_face(shape) and body.index(shape):
            self.face_picked.emit(body.index(shape), more)
        elif step := self.scene.datums.step_of(shape):
            self.datum_picked.emit(step, more)
        elif (corner := named_corner(body, shape)) is not None:
            self.corner_picked.emit(corner, more)
        elif told := self._edge(shape):
            a, b, piece, pieces = told
            self.edge_picked.emit(a, b, more, piece, pieces)

    def shut(self) -> None:
        """Show nothing any more; the kernel's viewer is gone after this."""
        self._shut = True
        self.scene.forget()
        self.triad.forget()
        self.ghost.forget()
        self.overlay.forget()
        self.surface.shut()
