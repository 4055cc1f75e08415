"""The tolerances of a title block that goes by decimal places."""

from __future__ import annotations

import math

import msgspec
from PyQt6.QtWidgets import QGridLayout, QLabel, QLineEdit, QWidget

from ...core.job import edits
from ...core.quantity import evaluate
from ...core.quantity.expression import Plain
from ...core.refusal import Refusal
from ...core.standards.general import ByPlaces
from ...core.units import UNITS
from ..session import Session

_FIELDS = (
    ("one", ".X"), ("two", ".XX"), ("three", ".XXX"), ("four", ".XXXX"), ("fraction", "fractions"), ("angle", "angles"),
)  # fmt: skip


class PlacesEditor(QWidget):
    """Six plus-minus figures; hidden while the title block names a class instead."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        self.fields: dict[str, QLineEdit] = {}
        for at, (name, words) in enumerate(_FIELDS):
            label, field = QLabel(words), QLineEdit()
            label.setObjectName("faint")
            field.setAccessibleName(f"Plus-minus {words}")
            field.setObjectName("formula")
            field.editingFinished.connect(lambda n=name: self._commit(n))
            grid.addWidget(label, 2 * (at // 3), at % 3)
            grid.addWidget(field, 2 * (at // 3) + 1, at % 3)
            self.fields[name] = field
        session.edited.connect(self.refresh)
        session.switched.connect(self.refresh)
        self.refresh()

    def _shown(self, name: str, places: ByPlaces) -> str:
        value = getattr(places, name)
        if name == "angle":
            return f"{math.degrees(value):.6g}°"
        return f"{value / UNITS[self._session.content.header.units]:.6g}"

    def _commit(self, name: str) -> None:
        places = self._session.content.header.places
        text = self.fields[name].text().strip()
        if places is None or text == self._shown(name, places):
            return
        unit = Plain(self._session.content.header.units)
        try:
            value = evaluate(text.lstrip("±"), unit, "angle" if name == "angle" else "length")
            if value <= 0:
                raise Refusal
        except Refusal:
            self._session.say(f"“{text}” is no plus-minus figure. The old one stays.", "bad")
            self.refresh()
            return
        changed = msgspec.structs.replace(places, **{name: value})
        self._session.edit(lambda c: edits.set_header(c, places=changed), "title block tolerances changed")

    def refresh(self) -> None:
        places = self._session.content.header.places
        self.setVisible(places is not None)
        for name, field in self.fields.items():
            field.setText(self._shown(name, places) if places is not None else "")
