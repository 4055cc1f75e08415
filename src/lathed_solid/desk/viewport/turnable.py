"""What every view of solids has: the viewer, the view sheet, buttons, a line of words, wheel and keys for the eye."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QBuffer, QEvent, QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QLabel, QToolButton, QVBoxLayout, QWidget

from ..theme.icons import icon
from ..theme.palette import Palette
from .surface import Surface
from .viewsheet import ViewSheet

#: A press that moves less than this many pixels is a pick, not a turn.
CLICK_SLACK = 4
#: Width of the picture saved with a job or an assembly, pixels.
_PICTURE = 640
_TURNS = {
    Qt.Key.Key_Left: (-15, 0),
    Qt.Key.Key_Right: (15, 0),
    Qt.Key.Key_Up: (0, 15),
    Qt.Key.Key_Down: (0, -15),
}


class TurnableView(QWidget):
    """``empty`` is written while there is nothing to see, ``name`` is what the view is called."""

    def __init__(self, palette: Palette, empty: str, name: str) -> None:
        super().__init__()
        self._palette = palette
        self.surface = Surface(self)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.surface)
        self.sheet = ViewSheet(self, palette)
        self.sheet.chosen.connect(self.look_from)
        self._hint, self._empty = QLabel(self), QLabel(empty, self)
        for label in (self._hint, self._empty):
            label.setObjectName("over")
            label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self._hint.hide()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.surface.setMouseTracking(True)
        self.surface.installEventFilter(self)
        self.setAccessibleName(name)
        self._buttons: dict[str, QToolButton] = {}
        self._ready = self._fitted = self._shut = False
        # Until the user moves the camera, what grows is fitted again.
        self._own_view = False
        self.surface.ready.connect(self._on_ready)

    def picture(self) -> bytes:
        """The view as a small picture (PNG), without what lies over it; empty while there is nothing to see."""
        if not self._ready or self._shut or self._empty.isVisibleTo(self):
            return b""
        seen = self.surface.grabFramebuffer().scaledToWidth(_PICTURE, Qt.TransformationMode.SmoothTransformation)
        kept = QBuffer()
        kept.open(QBuffer.OpenModeFlag.WriteOnly)
        seen.save(kept, "PNG")
        return kept.data().data()

    # --- what a view does in its own way
    def look_from(self, key: str) -> None:
        """Look from a named side."""
        raise NotImplementedError

    def _on_ready(self) -> None:
        """The viewer is there."""
        raise NotImplementedError

    def _on_press(self, event: QMouseEvent) -> None:
        raise NotImplementedError

    def _on_move(self, event: QMouseEvent) -> None:
        raise NotImplementedError

    def _on_release(self, event: QMouseEvent) -> None:
        raise NotImplementedError

    def _on_leave(self) -> None:
        """The cursor has left the view."""
        self.say("")

    # --- what lies over it
    def add_button(self, name: str, words: str, run: Callable[[], object], checkable: bool) -> None:
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

    def press_button(self, name: str, on: bool) -> None:
        self._buttons[name].setChecked(on)

    def say(self, text: str) -> None:
        """A short line at the foot of the view: what is under the cursor."""
        self._hint.setText(text)
        self._hint.setVisible(bool(text))
        self._hint.adjustSize()
        self._place()

    def fit(self) -> None:
        """All of it in the view, beside the view sheet."""
        if self._ready:
            self.surface.fit(self.sheet.width() + 22)

    def refit(self) -> None:
        """Fit what is shown next."""
        self._fitted = False

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.sheet.dress(palette)
        for name, button in self._buttons.items():
            button.setIcon(icon(name, palette.ink))
        self.surface.ground(palette.color("ground_top"), palette.color("ground_bottom"))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._place()

    def _place(self) -> None:
        self.sheet.move(14, self.height() - self.sheet.height() - 12)
        self._empty.adjustSize()
        self._empty.move((self.width() - self._empty.width()) // 2, self.height() // 2 - 20)
        self._empty.raise_()
        self._hint.move(160, self.height() - self._hint.height() - 14)
        for at, button in enumerate(reversed(self._buttons.values())):
            button.setFixedSize(30, 28)
            button.move(self.width() - 12 - 34 * at - 30, 10)
            button.raise_()
        self.sheet.raise_()
        self._hint.raise_()

    # --- mouse and keys
    def eventFilter(self, watched: object, event: QEvent | None) -> bool:
        if self._shut:
            return False
        if isinstance(event, QMouseEvent):
            kind = event.type()
            if kind == QEvent.Type.MouseButtonPress:
                self._on_press(event)
            elif kind == QEvent.Type.MouseMove:
                self._on_move(event)
            elif kind == QEvent.Type.MouseButtonRelease:
                self._on_release(event)
            else:
                return False
            return True
        if isinstance(event, QWheelEvent):
            self._own_view = True
            self.surface.zoom(*self.surface.pixel(event.position()), event.angleDelta().y() / 120)
            return True
        if event is not None and event.type() == QEvent.Type.Leave:
            self._on_leave()
        return False

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key = Qt.Key(event.key())
        self._own_view = self._own_view or key in _TURNS
        middle = self.surface.pixel(QPointF(self.width() / 2, self.height() / 2))
        if key in _TURNS:
            self.surface.turn(*_TURNS[key])
            self.sheet.mark("")
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.surface.zoom(*middle, 1)
        elif key == Qt.Key.Key_Minus:
            self.surface.zoom(*middle, -1)
        else:
            super().keyPressEvent(event)
