"""Where the chosen parts stand, in figures: typed places, and turning by an angle about an axis of the room."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ...core.quantity import Style
from ...core.quantity.expression import Plain, evaluate
from ...core.refusal import Refusal
from .document import FitDocument


class Placing(QWidget):
    """X, Y and Z are those of the zero of the part chosen first; the others go with it."""

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self.fields = [QLineEdit() for _ in "XYZ"]
        self.angle, self.about, self.turn = QLineEdit("90"), QComboBox(), QPushButton("Turn")
        self.about.addItems(("about X", "about Y", "about Z"))
        self.about.setCurrentIndex(2)
        self.about.setAccessibleName("Axis to turn about")
        self.angle.setAccessibleName("Angle to turn by, degrees")
        self.angle.setMaximumWidth(64)
        layout, places, turning = QVBoxLayout(self), QGridLayout(), QHBoxLayout()
        layout.setContentsMargins(10, 0, 10, 0)
        layout.setSpacing(4)
        for k, (name, field) in enumerate(zip("XYZ", self.fields, strict=True)):
            field.setAccessibleName(f"Place of the part, {name}")
            field.setToolTip(f"{name} of the part's zero; Enter puts it there")
            field.setObjectName("formula")
            field.returnPressed.connect(self._put)
            places.addWidget(QLabel(name), 0, 2 * k)
            places.addWidget(field, 0, 2 * k + 1)
        for widget in (self.turn, self.angle, QLabel("°"), self.about):
            turning.addWidget(widget)
        turning.addStretch()
        layout.addLayout(places)
        layout.addLayout(turning)
        self.angle.returnPressed.connect(self._turn)
        self.turn.clicked.connect(self._turn)
        document.changed.connect(self.refresh)
        document.selected.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        document = self._document
        self.setVisible(bool(document.instance))
        if not document.instance or document.instance not in {i.id for i in document.shown.instances}:
            return
        place = document.shown.instance(document.instance).pose.place
        style = Style(document.assembly.unit)
        for field, value in zip(self.fields, place, strict=True):
            text = style.length(value)
            if field.property("given") != text or not field.hasFocus():
                field.setProperty("given", text)
                field.setText(text)

    def _put(self) -> None:
        document = self._document
        if not document.instance:
            return
        place = document.assembly.instance(document.instance).pose.place
        try:
            x, y, z = (self._way(field, at) for field, at in zip(self.fields, place, strict=True))
        except Refusal as error:
            document.session.say(error.said_in(document.assembly.unit), "bad")
            return
        document.put_to((x, y, z))
        self._anew()

    def _way(self, field: QLineEdit, at: float) -> float:
        """How far a typed place is from where it is; a figure nobody touched stays as it is, not as it is shown. Raises
        Refusal.
        """
        if field.text() == field.property("given"):
            return 0.0
        return evaluate(field.text(), Plain(self._document.assembly.unit), "length") - at

    def _turn(self) -> None:
        document = self._document
        try:
            angle = evaluate(self.angle.text(), Plain(document.assembly.unit), "angle")
        except Refusal as error:
            document.session.say(error.said_in(document.assembly.unit), "bad")
            return
        document.turn_by(self.about.currentIndex(), angle)
        self._anew()

    def _anew(self) -> None:
        """What is shown is where the part now stands, whatever was typed."""
        for field in self.fields:
            field.setProperty("given", None)
        self.refresh()
