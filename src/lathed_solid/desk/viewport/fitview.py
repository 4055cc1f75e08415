"""The view of an assembly: mouse and keys, picking, dragging parts. Knows no document."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from enum import Enum

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from ...core.drafting.looking import Up, seen_from
from ...core.kernel.ground.figures import Vector
from ..theme.palette import Palette
from .fitscene import FitScene, Shown
from .pins import Pins
from .turnable import CLICK_SLACK, TurnableView


class _Doing(Enum):
    NOTHING = 0
    PRESSED = 1
    ORBITING = 2
    PANNING = 3
    DRAGGING = 4


class FitView(TurnableView):
    """Faces are told by instance and index (from 1). A part that may move is dragged by the left button; the ground, or
    one that is held, turns the view. With Shift the part turns about its own middle.
    """

    picked = pyqtSignal(str, int)
    nothing_picked = pyqtSignal()
    #: With Ctrl: a part chosen besides, or let go.
    also_picked = pyqtSignal(str)
    #: Return: take what is offered; Delete: take out what is chosen.
    accepted = pyqtSignal()
    deleted = pyqtSignal()
    hovered = pyqtSignal(str, int)
    #: A part is taken hold of at a place, led to a place, let loose.
    grabbed = pyqtSignal(str, object)
    led = pyqtSignal(object)
    loosed = pyqtSignal()
    #: A part is turned about a direction of the room, by radians.
    turned = pyqtSignal(str, object, float)

    def __init__(self, palette: Palette) -> None:
        super().__init__(palette, "No part yet. Put the open job in, or a file.", "Assembly view")
        self.scene = FitScene(self.surface)
        self.sheet.stand("z")
        self.pins = Pins(self, self.surface)
        self._doing, self._press, self._last = _Doing.NOTHING, QPointF(), QPointF()
        self._under: tuple[str, int] | None = None
        self._at: Vector | None = None
        self._waiting: Mapping[str, Shown] | None = None
        #: Whether a part lets itself be dragged.
        self.can_move: Callable[[str], bool] = lambda name: False

    def eye(self) -> tuple[Vector, Up]:
        """The direction to the eye, and which axis is up."""
        return self.surface.towards_eye(), "z"

    # --- what is shown
    def show_parts(self, wanted: Mapping[str, Shown]) -> None:
        self._empty.setVisible(not wanted)
        if self._shut:
            return
        if not self._ready:
            self._waiting = wanted
            return
        self.scene.show(wanted)
        if wanted and not self._fitted:
            self._fitted = True
            self.look_from("I")
        elif not wanted:
            self._fitted = False
        self.surface.moved()

    @property
    def is_ready(self) -> bool:
        return self._ready and not self._shut

    def _on_ready(self) -> None:
        self._ready = True
        self.dress(self._palette)
        if self._waiting is not None:
            self.show_parts(self._waiting)
            self._waiting = None

    def dress(self, palette: Palette) -> None:
        super().dress(palette)
        if self._ready:
            self.scene.dress()

    def look_from(self, key: str) -> None:
        if self._ready:
            eye, up = seen_from(key, "z")
            self.surface.look(eye, up)
            self.fit()
            self.sheet.mark(key)

    # --- mouse
    def _on_leave(self) -> None:
        self.scene.unhover()
        self.hovered.emit("", 0)

    def _on_press(self, event: QMouseEvent) -> None:
        self.setFocus()
        self._press = self._last = event.position()
        self._under = self.scene.hover(*self.surface.pixel(event.position()))
        self._at = self.scene.hit() if self._under is not None else None
        self._doing = _Doing.PRESSED
        if event.button() == Qt.MouseButton.LeftButton:
            self.surface.orbit_start(*self.surface.pixel(event.position()))

    def _on_move(self, event: QMouseEvent) -> None:
        if self._doing is _Doing.NOTHING:
            self._hover(event.position())
            return
        gone = event.position() - self._press
        if self._doing is _Doing.PRESSED:
            if abs(gone.x()) + abs(gone.y()) < CLICK_SLACK:
                return
            self._doing = self._begun(event)
        pixel, step = self.surface.pixel(event.position()), event.position() - self._last
        self._last = event.position()
        if self._doing is _Doing.ORBITING:
            self.surface.orbit(*pixel)
            self.sheet.mark("")
        elif self._doing is _Doing.PANNING:
            self.surface.pan(round(step.x()), round(step.y()))
        elif self._doing is _Doing.DRAGGING and self._at is not None and self._under is not None:
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                about, angle = self.surface.turning(step)
                self.turned.emit(self._under[0], about, angle)
            else:
                self.led.emit(self.surface.across(pixel, self._at))

    def _begun(self, event: QMouseEvent) -> _Doing:
        if not event.buttons() & Qt.MouseButton.LeftButton:
            return _Doing.PANNING
        if self._under is None or self._at is None or not self.can_move(self._under[0]):
            return _Doing.ORBITING
        if not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.grabbed.emit(self._under[0], self._at)
        return _Doing.DRAGGING

    def _on_release(self, event: QMouseEvent) -> None:
        doing, self._doing = self._doing, _Doing.NOTHING
        if doing is _Doing.DRAGGING:
            self.loosed.emit()
        elif doing is _Doing.PRESSED and event.button() == Qt.MouseButton.LeftButton:
            if self._under is None:
                self.nothing_picked.emit()
            elif event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self.also_picked.emit(self._under[0])
            else:
                self.picked.emit(*self._under)

    def _hover(self, position: QPointF) -> None:
        under = self.scene.hover(*self.surface.pixel(position))
        self.hovered.emit(*(under or ("", 0)))

    # --- keys
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        told = {
            Qt.Key.Key_Escape: self.nothing_picked,
            Qt.Key.Key_Return: self.accepted,
            Qt.Key.Key_Enter: self.accepted,
            Qt.Key.Key_Delete: self.deleted,
        }
        if (signal := told.get(Qt.Key(event.key()))) is not None:
            signal.emit()
        else:
            super().keyPressEvent(event)

    def shut(self) -> None:
        """Show nothing any more; the kernel's viewer is gone after this."""
        self._shut = True
        self.scene.forget()
        self.surface.shut()
