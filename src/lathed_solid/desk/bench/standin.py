"""The simulated instrument in the hand: its display, its buttons, and what lies between its jaws."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ...core.caliper.practice import FOOT_MASS, LEVELLING_FOOT
from ...core.quantity import ExpressionError, evaluate
from ...core.quantity.expression import Plain
from .capture import Capture


class StandIn(QWidget):
    """A small window of its own, shown while a simulated instrument is connected."""

    def __init__(self, capture: Capture, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Tool)
        self._capture = capture
        self.setWindowTitle("Simulated instrument")
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 10, 14, 12)
        words = QLabel("A stand-in that sends lines as a real one would. Between its jaws lies the worn foot SKP-05.")
        words.setObjectName("faint")
        words.setWordWrap(True)
        self.display = QLabel()
        self.display.setObjectName("mass")
        self.display.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.feature = QComboBox()
        self.feature.setAccessibleName("Between the jaws")
        self.feature.addItems([f.name for f in LEVELLING_FOOT])
        self.feature.activated.connect(self._on_feature)
        self.between = QLineEdit()
        self.between.setObjectName("formula")
        self.between.setAccessibleName("Size between the jaws")
        self.between.editingFinished.connect(self._on_size)
        layout.addWidget(words)
        layout.addWidget(self.display)
        layout.addWidget(self.feature)
        layout.addWidget(self.between)
        grid = QGridLayout()
        self.buttons: dict[str, QPushButton] = {}
        for at, (name, title, run) in enumerate(
            (
                ("data", "Data", self._press), ("unit", "mm / in", self._unit), ("zero", "Zero", self._zero),
                ("cable", "Pull the cable", capture.unplug_cable), ("battery", "Battery low", self._drain),
            )
        ):  # fmt: skip
            button = QPushButton(title)
            button.clicked.connect(lambda _, r=run: r())
            grid.addWidget(button, at // 3, at % 3)
            self.buttons[name] = button
        layout.addLayout(grid)
        self.setFixedWidth(310)
        capture.changed.connect(self.refresh)

    def open(self) -> None:
        """Put the chosen feature between the jaws and show the stand-in above the panel.

        Readings begun before the cable came off go on: then neither the way of touching nor the readings change.
        """
        self._on_feature(max(0, self.feature.currentIndex()))
        parent = self.parentWidget()
        assert parent is not None
        self.adjustSize()
        # Above the panel, so that readings and suggestions stay in sight.
        self.move(parent.mapToGlobal(parent.rect().topRight()) - QPoint(self.width() + 8, self.height() + 48))
        self.show()

    def refresh(self) -> None:
        simulated = self._capture.simulated
        if simulated is None or not self._capture.connected:
            self.hide()
            return
        weighs = simulated.unit == "g"
        self.feature.setVisible(not weighs)
        self.display.setText(simulated.display())
        self.buttons["unit"].setEnabled(not weighs)

    def _on_feature(self, index: int) -> None:
        """Another feature between the jaws; the way of touching and what it is follow."""
        simulated, feature = self._capture.simulated, LEVELLING_FOOT[index]
        if simulated is None:
            return
        if simulated.unit == "g":
            simulated.size = FOOT_MASS
        else:
            simulated.size = feature.size
            if not self._capture.values or self.isVisible():
                self._capture.set_way(feature.way)
                self._capture.what = feature.what
        self.between.setText(f"{simulated.size:g}")
        self._capture.changed.emit()

    def _on_size(self) -> None:
        simulated = self._capture.simulated
        if simulated is None:
            return
        try:
            simulated.size = evaluate(self.between.text(), Plain("mm"))
        except ExpressionError:
            self.between.setText(f"{simulated.size:g}")
        self.refresh()

    def _press(self) -> None:
        if self._capture.simulated is not None:
            self._capture.simulated.press()

    def _unit(self) -> None:
        if self._capture.simulated is not None:
            self._capture.simulated.press_unit()
            self.refresh()

    def _zero(self) -> None:
        if self._capture.simulated is not None:
            self._capture.simulated.press_zero()
            self.refresh()

    def _drain(self) -> None:
        if self._capture.simulated is not None:
            self._capture.simulated.drain_battery()
