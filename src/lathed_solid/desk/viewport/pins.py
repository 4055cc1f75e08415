"""What is written on the part and laid over it: labels that follow the camera, coloured skins. Only looked at."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QObject, QPoint, Qt
from PyQt6.QtWidgets import QLabel, QWidget

from ...core.kernel.ground.figures import Skin, Vector
from .tags import free_place

if TYPE_CHECKING:
    from .surface import Surface


class Pin(NamedTuple):
    """``words`` at a place on the part (mm); ``ends`` what a distance lies between."""

    words: str
    at: Vector
    ends: tuple[Vector, Vector] | None = None


class Laid(NamedTuple):
    """A skin laid over the part, and the colour of each of its values; so much of the light passes ``through``."""

    skin: Skin
    colors: tuple[str, ...]
    through: float = 0.0


class Pins(QObject):
    def __init__(self, over: QWidget, surface: Surface) -> None:
        super().__init__(over)
        self._over, self._surface = over, surface
        self._pins: tuple[Pin, ...] = ()
        self._labels: list[QLabel] = []
        surface.painted.connect(self._place)

    def show(self, pins: Sequence[Pin]) -> None:
        if tuple(pins) == self._pins:
            return
        self._pins = tuple(pins)
        while len(self._labels) < len(pins):
            label = QLabel(self._over)
            label.setObjectName("pin")
            label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            self._labels.append(label)
        for at, label in enumerate(self._labels):
            label.setVisible(at < len(pins))
            if at < len(pins):
                label.setText(pins[at].words)
        self._place()

    def _place(self) -> None:
        """Every label beside its place in the view, none on another."""
        if not self._surface.is_seen:
            return
        ratio, taken, high = self._surface.devicePixelRatioF(), list[QPoint](), self._over.height() - 60
        for label, pin in zip(self._labels, self._pins, strict=False):
            px, py = self._surface.view.Convert(*pin.at)
            label.adjustSize()
            x = max(4, min(round(px / ratio) + 10, self._over.width() - label.width() - 4))
            at = free_place(QPoint(x, max(44, min(round(py / ratio) - 26, high))), taken, 44, high, up=False)
            taken.append(at)
            if label.pos() != at:
                label.move(at)
