"""The tab Look over: one panel at a time of those that look at the solid itself."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ..pages import Pages


class LookOver(QWidget):
    """Panels behind a row of buttons that say what each looks for."""

    def __init__(self, panels: Sequence[tuple[QWidget, str]]) -> None:
        super().__init__()
        self.setObjectName("panel")
        self._stack, self._buttons = Pages(), QButtonGroup(self)
        row = QHBoxLayout()
        row.setContentsMargins(14, 8, 14, 0)
        for at, (panel, title) in enumerate(panels):
            self._stack.addWidget(panel)
            button = QPushButton(title)
            button.setCheckable(True)
            self._buttons.addButton(button, at)
            row.addWidget(button)
        row.addStretch()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(row)
        layout.addWidget(self._stack, 1)
        self._buttons.idClicked.connect(self._stack.setCurrentIndex)
        self.show_panel(panels[0][0])

    def holds(self, panel: QWidget) -> bool:
        return self._stack.indexOf(panel) >= 0

    def button_of(self, panel: QWidget) -> QAbstractButton | None:
        return self._buttons.button(self._stack.indexOf(panel))

    def show_panel(self, panel: QWidget) -> None:
        self._stack.setCurrentWidget(panel)
        if (button := self.button_of(panel)) is not None:
            button.setChecked(True)
