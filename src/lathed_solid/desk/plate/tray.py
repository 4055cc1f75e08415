"""The plate's tools as a row of buttons; related tools hang in a menu under the one last used."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QToolButton, QWidget

from ...core.sketch.hand.tools import GROUPS, TOOLS
from ..theme.icons import icon
from ..theme.palette import Palette

#: What is no drawing tool but stands in the row too: name, icon, words.
PLAIN = (
    ("select", "select", "Choose and drag (Esc)"),
    ("dimension", "dimension", "Size what is chosen"),
    ("areas", "areas", "Choose the areas a step takes"),
)


class Tray(QWidget):
    """``taken`` carries the name of the tool asked for."""

    taken = pyqtSignal(str)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self.tools: dict[str, QToolButton] = {}
        self._actions: dict[str, QAction] = {}
        self._group_of: dict[str, QToolButton] = {}
        self._shown: dict[QToolButton, str] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 0, 10, 4)
        row.setSpacing(2)
        for name, picture, words in PLAIN[:2]:
            row.addWidget(self._plain(name, picture, words))
        for group in GROUPS:
            row.addWidget(self._group(group))
        row.addWidget(self._plain(*PLAIN[2]))
        row.addStretch()
        self.mark("select")

    def _plain(self, name: str, picture: str, words: str) -> QToolButton:
        button = QToolButton()
        button.setToolTip(words)
        button.setAccessibleName(words)
        button.setCheckable(name != "dimension")
        button.clicked.connect(lambda: self.taken.emit(name))
        self.tools[name] = button
        self._shown[button] = picture
        button.setIcon(icon(picture, self._palette.ink))
        return button

    def _group(self, group: tuple[str, ...]) -> QToolButton:
        button = QToolButton()
        button.setCheckable(True)
        button.setObjectName("group")
        menu = QMenu(button)
        for name in group:
            action = menu.addAction(TOOLS[name].title, partial(self.taken.emit, name))
            assert action is not None
            action.setIcon(icon(TOOLS[name].icon, self._palette.ink))
            self._actions[name] = action
            self._group_of[name] = button
            self.tools[name] = button
        if len(group) > 1:
            button.setMenu(menu)
            button.setPopupMode(QToolButton.ToolButtonPopupMode.MenuButtonPopup)
        button.clicked.connect(lambda: self.taken.emit(str(button.property("tool"))))
        self._lead(button, group[0])
        return button

    def _lead(self, button: QToolButton, name: str) -> None:
        """The tool a group's button stands for."""
        button.setProperty("tool", name)
        button.setToolTip(TOOLS[name].title)
        button.setAccessibleName(TOOLS[name].title)
        button.setIcon(icon(TOOLS[name].icon, self._palette.ink))
        self._shown[button] = TOOLS[name].icon

    def mark(self, name: str) -> None:
        """Show which tool is in hand."""
        if name in self._group_of:
            self._lead(self._group_of[name], name)
        current = self.tools.get(name)
        for button in set(self.tools.values()):
            button.setChecked(button is current)

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        for button, picture in self._shown.items():
            button.setIcon(icon(picture, palette.ink))
        for name, action in self._actions.items():
            action.setIcon(icon(TOOLS[name].icon, palette.ink))
