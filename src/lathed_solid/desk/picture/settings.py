"""How a picture is wanted: where the eye stands, the light, the ground, its size."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QFormLayout, QPushButton, QSlider, QWidget

from ...core.issue.picture.model import GROUNDS, LIGHTS, PASSES, SIZES, CutAway, Shot, checked, pixels

_CUTS: dict[CutAway, str] = {"": "nothing", "quarter": "a quarter", "half": "the near half"}


class Settings(QWidget):
    """``changed``: something else is wanted. ``eye_wanted``: the eye is to stand where it stands in the view."""

    changed = pyqtSignal()
    eye_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.turn, self.above, self.lens = _angle(-180, 180), _angle(-90, 90), _angle(15, 400)
        self.lens.setSuffix(" mm")
        self.lens.setToolTip("As on a camera with a 36 mm wide frame: 85 looks natural, 24 wide, 200 hardly narrows")
        self.eye = QPushButton("As in the view")
        self.light, self.ground, self.cut = QComboBox(), QComboBox(), QComboBox()
        self.pixels, self.quality = QComboBox(), QComboBox()
        self.shadow = QCheckBox("Shadow on the ground")
        self.apart = QSlider(Qt.Orientation.Horizontal)
        self._up = Shot().up
        self._set_up()
        self._lay_out()
        self.show_shot(Shot())

    def _set_up(self) -> None:
        self.light.addItems(LIGHTS)
        self.ground.addItems(GROUNDS)
        self.ground.setToolTip("clear: see-through but for the part and its shadow, for a page of your own")
        self.cut.addItems(list(_CUTS.values()))
        self.pixels.setEditable(True)
        self.pixels.addItems([f"{w} x {h}" for w, h in SIZES])
        self.pixels.setToolTip("Pixels; any other size may be typed")
        self.quality.addItems(list(PASSES))
        self.quality.setToolTip("How often light is gathered for every pixel: 3, 12 or 40 times")
        self.apart.setRange(0, 100)
        for field, name in (
            (self.turn, "Turn"), (self.above, "Height"), (self.lens, "Lens"), (self.light, "Light"),
            (self.ground, "Ground"), (self.cut, "Cut away"), (self.pixels, "Size of the picture"),
            (self.quality, "Quality"), (self.apart, "Pulled apart"),
        ):  # fmt: skip
            field.setAccessibleName(name)
        self.eye.setAutoDefault(False)
        self.eye.clicked.connect(self.eye_wanted)
        for spin in (self.turn, self.above, self.lens):
            spin.valueChanged.connect(lambda _: self.changed.emit())
        for box in (self.light, self.ground, self.cut):
            box.currentIndexChanged.connect(lambda _: self.changed.emit())
        self.shadow.toggled.connect(lambda _: self.changed.emit())
        self.apart.valueChanged.connect(lambda _: self.changed.emit())

    def _lay_out(self) -> None:
        self.form = QFormLayout(self)
        self.form.setContentsMargins(0, 0, 0, 0)
        for words, field in (
            ("Turn", self.turn), ("Height", self.above), ("", self.eye), ("Lens", self.lens), ("Light", self.light),
            ("Ground", self.ground), ("", self.shadow), ("Cut away", self.cut), ("Apart", self.apart),
            ("Size", self.pixels), ("Quality", self.quality),
        ):  # fmt: skip
            self.form.addRow(words, field)

    def of_assembly(self, on: bool) -> None:
        """Only an assembly can be pulled apart."""
        self.form.setRowVisible(self.apart, on)

    def show_shot(self, shot: Shot) -> None:
        """Have the fields say what a shot says; nobody is told."""
        self.blockSignals(True)
        self._up = shot.up
        self.turn.setValue(shot.turn)
        self.above.setValue(shot.height)
        self.lens.setValue(shot.lens)
        self.light.setCurrentText(shot.light)
        self.ground.setCurrentText(shot.ground)
        self.shadow.setChecked(shot.shadow)
        self.cut.setCurrentText(_CUTS[shot.cut])
        self.apart.setValue(round(100 * shot.apart))
        self.pixels.setCurrentText(f"{shot.size[0]} x {shot.size[1]}")
        self.quality.setCurrentText(shot.quality)
        self.blockSignals(False)

    def shot(self) -> Shot:
        """What is wanted. Raises NoPicture for a size that cannot be read or made."""
        said = {
            "turn": self.turn.value(), "height": self.above.value(), "lens": self.lens.value(), "up": self._up,
            "light": self.light.currentText(), "ground": self.ground.currentText(), "shadow": self.shadow.isChecked(),
            "cut": next(c for c, words in _CUTS.items() if words == self.cut.currentText()),
            "apart": self.apart.value() / 100, "size": pixels(self.pixels.currentText()),
            "quality": self.quality.currentText(),
        }  # fmt: skip
        return checked(msgspec.convert(said, Shot))


def _angle(low: float, high: float) -> QDoubleSpinBox:
    spin = QDoubleSpinBox()
    spin.setRange(low, high)
    spin.setDecimals(1)
    spin.setSingleStep(5.0)
    spin.setWrapping(low == -180)
    spin.setSuffix("°")
    spin.setKeyboardTracking(False)
    spin.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
    spin.setToolTip("Type it, or step by the arrow keys")
    return spin
