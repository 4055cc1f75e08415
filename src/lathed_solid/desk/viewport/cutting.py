"""The bar of the section: through what the picture of the part is cut, how far along, how far turned."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QSlider, QWidget

from ...core.quantity import ExpressionError, Style

_BASES = (("y", "Across Y"), ("x", "Across X"), ("z", "Across Z"), ("picked", "Picked"))
#: Steps of the slider from one end of the part to the other.
_STEPS = 400


class CuttingBar(QWidget):
    """``changed`` when the plane is to lie elsewhere; ``reach`` (mm) is how far it may go along its normal."""

    changed = pyqtSignal()
    #: It is to go through something else.
    chosen = pyqtSignal()

    def __init__(self, parent: QWidget, length: Callable[[str], float]) -> None:
        super().__init__(parent)
        self.setObjectName("cutting")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._length, self._style = length, Style()
        self.base, self.offset, self.turn, self.flipped = "y", 0.0, 0.0, False
        self._reach = (-50.0, 50.0)
        self.through = QComboBox()
        self.through.setAccessibleName("Section through")
        self.through.setToolTip(
            "A plane across an axis, or what is picked: a flat face, an axis, midway between two faces"
        )
        for key, words in _BASES:
            self.through.addItem(words, key)
        self.through.activated.connect(self._choose)
        self.at = _line("Section at", "How far along, from zero or from what is picked", 72)
        self.at.editingFinished.connect(self._typed)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("Move the section")
        self.slider.setToolTip("Move the section; on the part, drag with Shift held")
        self.slider.setRange(0, _STEPS)
        self.slider.setFixedWidth(110)
        self.slider.valueChanged.connect(self._slid)
        self.angle = _line("Section turned", "How far it is turned, in degrees", 46)
        self.angle.editingFinished.connect(self._typed)
        self.flip = QPushButton("Other side")
        self.flip.setToolTip("Take away the other side")
        self.flip.clicked.connect(lambda: self._set(flipped=not self.flipped))
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 3, 6, 3)
        row.setSpacing(6)
        for part in (self.through, QLabel("at"), self.at, self.slider, QLabel("turned"), self.angle, self.flip):
            row.addWidget(part)
        self._tell()
        self.hide()

    def _choose(self) -> None:
        self.reset(self.through.currentData())
        self.chosen.emit()

    def reset(self, base: str) -> None:
        """Through ``base``, neither moved nor turned."""
        self.base, self.offset, self.turn, self.flipped = base, 0.0, 0.0, False
        self._tell()

    def fit(self, reach: tuple[float, float], style: Style) -> None:
        """How far the part goes along the normal from the plane's own place (mm), and how lengths are written."""
        self._reach, self._style = reach, style
        self._tell()

    def drag(self, by: float) -> None:
        """Move the plane along its normal by ``by`` mm, as far as the part goes."""
        low, high = self._reach
        self._set(offset=min(max(self.offset + by, low), high))

    def _set(self, **what: object) -> None:
        for name, value in what.items():
            setattr(self, name, value)
        self._tell()
        self.changed.emit()

    def _typed(self) -> None:
        try:
            offset = self._length(self.at.text()) if self.at.isModified() else self.offset
            degrees = float(self.angle.text().strip().rstrip("°") or 0)
            turn = math.radians(degrees) if self.angle.isModified() else self.turn
        except (ExpressionError, ValueError):
            self._tell()  # what cannot be read changes nothing
            return
        if (offset, turn) != (self.offset, self.turn):
            self._set(offset=offset, turn=turn)
        else:
            self._tell()

    def _slid(self, step: int) -> None:
        low, high = self._reach
        self._set(offset=low + (high - low) * step / _STEPS)

    def _tell(self) -> None:
        low, high = self._reach
        self.through.setCurrentIndex(self.through.findData(self.base))
        self.at.setText(self._style.length(self.offset))
        self.angle.setText(f"{math.degrees(self.turn):.6g}°")
        self.slider.blockSignals(True)
        self.slider.setValue(round((self.offset - low) / max(high - low, 1e-9) * _STEPS))
        self.slider.blockSignals(False)


def _line(name: str, words: str, width: int) -> QLineEdit:
    line = QLineEdit()
    line.setAccessibleName(name)
    line.setToolTip(words)
    line.setFixedWidth(width)
    return line
