"""The room of the Plan stage: its panels over one planning. Importing it loads what is needed for planning only."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from ..pages import Pages, Tabs
from ..picking import Picking
from ..session import Session
from .blank import BlankPanel
from .figures import PlanFigures
from .planning import Planning
from .routes import RoutesPanel
from .setup_side import SetUpSide
from .setups import SetUpsPanel
from .sheet import Sheet
from .stock import StockPanel
from .strategy import StrategyPanel
from .tools import ToolsPanel
from .zero import ZeroPanel


class PlanRoom(Tabs):
    """The tabs below; on the right stands ``side``: the blank in figures, or one set-up."""

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__()
        self.planning = Planning(session)
        self.blank, self.stock = BlankPanel(session, self.planning), StockPanel(session, self.planning)
        self.figures, self.tools = PlanFigures(session, self.planning), ToolsPanel(session, self.planning)
        self.zero = ZeroPanel(session, picking, self.planning)
        self.strategy, self.routes = StrategyPanel(session, picking, self.planning), RoutesPanel(session, picking)
        self.sheet = Sheet(session, self.planning)
        self.setups, self.setup_side = (
            SetUpsPanel(session, picking, self.sheet),
            SetUpSide(session, picking, self.sheet),
        )
        self.panels: dict[str, QWidget] = {
            "Blank": self.blank, "Zero": self.zero, "Strategy": self.strategy, "Routes": self.routes,
            "Set-ups": self.setups, "Tools": self.tools, "Stock and prices": self.stock,
        }  # fmt: skip
        for words, panel in self.panels.items():
            self.addTab(panel, words)
        self.side = Pages()
        for widget in (self.figures, self.setup_side):
            self.side.addWidget(widget)
        self.currentChanged.connect(lambda _: self._on_tab())

    def _on_tab(self) -> None:
        """What stands on the right is that of the tab."""
        on = self.currentWidget() is self.setups
        self.side.setCurrentWidget(self.setup_side if on else self.figures)
        self.sheet.look(on)
