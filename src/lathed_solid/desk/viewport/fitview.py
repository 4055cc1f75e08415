"""The view of an assembly: mouse and keys, picking, dragging parts. Knows no document."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from enum import Enum

from PyQt6.QtCore import QEvent, QObject, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QLabel, QToolButton, QVBoxLayout, QWidget

from ...core.kernel.ground.figures import Vector
from ..theme.icons import icon
from ..theme.palette import Palette
from .fitscene import FitScene, Shown
from .partview import CLICK_SLACK
from .pins import Pins
from .surface import Surface
from .viewsheet import ViewSheet, seen_from


class _Doing(Enum):
    NOTHING = 0
    PRESSED = 1
    ORBITING = 2
    PANNING = 3
    DRAGGING = 4


class FitView(QWidget):
    """Faces are told by instance and index (from 1). A part that may move is dragged by the left button; the ground, or
    one that is held, turns the view. With Shift the part turns about its own middle.
    """

    picked = pyqtSignal(str, int)
    nothing_picked = pyqtSignal()
    hovered = pyqtSignal(str, int)
    #: A part is taken hold of at a place, led to a place, let loose.
    grabbed = pyqtSignal(str, object)
    led = pyqtSignal(object)
    loosed = pyqtSignal()
    #: A part is turned about a direction of the room, by radians.
    turned = pyqtSignal(str, object, float)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self.surface = Surface(self)
        self.scene = FitScene(self.surface)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.surface)
        self.sheet = ViewSheet(self, palette)
        self.sheet.stand("z")
        self.sheet.chosen.connect(self.look_from)
        self.pins = Pins(self, self.surface)
        self._hint, self._empty = QLabel(self), QLabel("No part yet. Put the open job in, or a file.", self)
        for label in (self._hint, self._empty):
            label.setObjectName("over")
            label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self._hint.hide()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Assembly view")
        self.surface.setMouseTracking(True)
        self.surface.installEventFilter(self)
        self._buttons: dict[str, QToolButton] = {}
        self._doing, self._press, self._last = _Doing.NOTHING, QPointF(), QPointF()
        self._under: tuple[str, int] | None = None
        self._at: Vector | None = None
        self._ready = self._shut = self._fitted = False
        self._waiting: Mapping[str, Shown] | None = None
        #: Whether a part lets itself be dragged.
        self.can_move: Callable[[str], bool] = lambda name: False
        self.surface.ready.connect(self._on_ready)

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

    def refit(self) -> None:
        """Fit what is shown next."""
        self._fitted = False

    def _on_ready(self) -> None:
        self._ready = True
        self.dress(self._palette)
        if self._waiting is not None:
            self.show_parts(self._waiting)
            self._waiting = None

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.sheet.dress(palette)
        for name, button in self._buttons.items():
            button.setIcon(icon(name, palette.ink))
        self.surface.ground(palette.color("ground_top"), palette.color("ground_bottom"))
        if self._ready:
            self.scene.dress()

    def look_from(self, key: str) -> None:
        if self._ready:
            eye, up = seen_from(key, "z")
            self.surface.look(eye, up)
            self.fit()
            self.sheet.mark(key)

    def fit(self) -> None:
        if self._ready:
            self.surface.fit(self.sheet.width() + 22)

    def say(self, text: str) -> None:
        """A short line at the foot of the view."""
        self._hint.setText(text)
        self._hint.setVisible(bool(text))
        self._hint.adjustSize()
        self._place()

    def add_button(self, name: str, words: str, run: Callable[[], object], checkable: bool) -> QToolButton:
        """A button in the upper right corner."""
        button = QToolButton(self)
        button.setIcon(icon(name, self._palette.ink))
        button.setToolTip(words)
        button.setAccessibleName(words)
        button.setCheckable(checkable)
        button.setObjectName("over")
        button.clicked.connect(lambda: run())
        self._buttons[name] = button
        self._place()
        return button

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._place()

    def _place(self) -> None:
        self.sheet.move(10, self.height() - self.sheet.height() - 8)
        self._hint.move(self.sheet.width() + 22, self.height() - self._hint.height() - 10)
        self._empty.adjustSize()
        self._empty.move((self.width() - self._empty.width()) // 2, self.height() // 2)
        x = self.width() - 8
        for button in reversed(self._buttons.values()):
            button.adjustSize()
            x -= button.width() + 2
            button.move(x, 8)
            button.raise_()

    # --- mouse
    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if not self.is_ready:
            return False
        if isinstance(event, QWheelEvent):
            self.surface.zoom(*self.surface.pixel(event.position()), event.angleDelta().y() / 120)
            return True
        if not isinstance(event, QMouseEvent):
            if event is not None and event.type() == QEvent.Type.Leave:
                self.scene.unhover()
                self.hovered.emit("", 0)
            return False
        if event.type() == QEvent.Type.MouseButtonPress:
            self._on_press(event)
        elif event.type() == QEvent.Type.MouseMove:
            self._on_move(event)
        elif event.type() == QEvent.Type.MouseButtonRelease:
            self._on_release(event)
        return False

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
            else:
                self.picked.emit(*self._under)

    def _hover(self, position: QPointF) -> None:
        under = self.scene.hover(*self.surface.pixel(position))
        self.hovered.emit(*(under or ("", 0)))

    # --- keys
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        turns = {
            Qt.Key.Key_Left: (-15, 0),
            Qt.Key.Key_Right: (15, 0),
            Qt.Key.Key_Up: (0, 15),
            Qt.Key.Key_Down: (0, -15),
        }
        key = Qt.Key(event.key())
        middle = self.surface.pixel(QPointF(self.width() / 2, self.height() / 2))
        if key in turns:
            self.surface.turn(*turns[key])
            self.sheet.mark("")
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.surface.zoom(*middle, 1)
        elif key == Qt.Key.Key_Minus:
            self.surface.zoom(*middle, -1)
        else:
            super().keyPressEvent(event)

    def shut(self) -> None:
        """Show nothing any more; the kernel's viewer is gone after this."""
        self._shut = True
        self.scene.forget()
        self.surface.shut()
