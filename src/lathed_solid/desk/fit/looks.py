"""How the assembly is looked at: pulled apart, seen through, only what is chosen, coloured by what moves."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QSlider, QWidget

#: What parts are coloured by.
BY_MATERIAL, BY_PART, BY_MOVE = "by material", "by part", "by what moves"


class Looks(QWidget):
    """A bar over the view; nothing of it changes the assembly."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.apart = QSlider(Qt.Orientation.Horizontal)
        self.apart.setRange(0, 100)
        self.apart.setFixedWidth(90)
        self.apart.setAccessibleName("Pull apart")
        self.through, self.alone = QCheckBox("See through"), QCheckBox("Only chosen")
        self.whole = QCheckBox("Screws whole")
        self.whole.setToolTip("Screws, nuts, pins and keys are not cut open, as on a drawing")
        self.whole.setChecked(True)
        self.whole.hide()
        self.items = QCheckBox("Items")
        self.items.setToolTip("The item numbers of the bill, each on one of its parts")
        self.colors = QComboBox()
        self.colors.addItems((BY_MATERIAL, BY_PART, BY_MOVE))
        self.colors.setAccessibleName("Colours")
        self.colors.setToolTip("What parts are coloured by")
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 5, 10, 5)
        for widget in (
            QLabel("Pull apart"),
            self.apart,
            self.through,
            self.alone,
            self.items,
            self.whole,
            self.colors,
        ):
            row.addWidget(widget)
        row.addStretch()
        self.apart.valueChanged.connect(lambda _: self.changed.emit())
        self.through.toggled.connect(lambda _: self.changed.emit())
        self.alone.toggled.connect(lambda _: self.changed.emit())
        self.items.toggled.connect(lambda _: self.changed.emit())
        self.whole.toggled.connect(lambda _: self.changed.emit())
        self.colors.currentIndexChanged.connect(lambda _: self.changed.emit())

    @property
    def share(self) -> float:
        """How far it is pulled apart, 0 to 1."""
        return self.apart.value() / 100.0

    def cut_open(self, on: bool) -> None:
        """Whether the picture is cut open: then some parts may be left whole."""
        self.whole.setVisible(on)
