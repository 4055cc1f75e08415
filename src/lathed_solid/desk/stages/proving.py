"""The lower room of Prove: its panels as tabs."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from ...core.plan.shop import Shop
from ..bench.capture import Capture
from ..family.panel import FamilyPanel
from ..pages import Tabs
from ..picking import Picked, Picking
from ..session import Session
from ..theme.palette import Palette
from .against import AgainstPanel
from .inhand import InHandPanel
from .limits import LimitsPanel
from .lookover import LookOver
from .match import MatchPanel
from .measure import MeasurePanel
from .prove import ProofTable
from .report import ReportPanel
from .room import RoomPanel
from .sense import SensePanel
from .walls import WallsPanel
from .why import WhyPanel

if TYPE_CHECKING:
    from ...core.kernel.measure.pair import Measurable


class ProveLower(Tabs):
    """``shapes`` finds what is picked on the part that is shown; ``shop`` is asked when a family is priced."""

    def __init__(
        self, session: Session, picking: Picking, capture: Capture, palette: Palette,
        shapes: Callable[[Picked], list[Measurable]], shop: Callable[[], Shop],
    ) -> None:  # fmt: skip
        super().__init__()
        self.proof_table = ProofTable(session, palette)
        self.measure, self.match = MeasurePanel(session, picking, shapes), MatchPanel(session, picking)
        self.family, self.why = FamilyPanel(session, palette, shop), WhyPanel(session, picking)
        self.in_hand, self.limits = InHandPanel(session, capture, palette), LimitsPanel(session, palette)
        self.walls, self.room = WallsPanel(session, picking), RoomPanel(session, picking)
        self.sense, self.against = SensePanel(session, picking), AgainstPanel(session)
        self.report = ReportPanel(
            session,
            lambda: self.in_hand.in_hand,
            lambda: self.why.why if self.why.is_done else None,
            lambda: self.walls.words,
        )
        self.look_over = LookOver(
            (
                (self.walls, "Thin walls"),
                (self.room, "Room for holes"),
                (self.sense, "Shop sense"),
                (self.against, "Compare"),
            )
        )  # fmt: skip
        for panel, title in (
            (self.proof_table, "Proof"), (self.measure, "Measure"), (self.match, "Find callouts"),
            (self.look_over, "Look over"), (self.limits, "Limits"), (self.family, "Family"), (self.why, "Why"),
            (self.in_hand, "Part in hand"), (self.report, "Report"),
        ):  # fmt: skip
            self.addTab(panel, title)
        self.proof_table.why_wanted.connect(self._ask_why)

    def setCurrentWidget(self, panel: QWidget | None) -> None:
        if panel is not None and self.look_over.holds(panel):
            self.look_over.show_panel(panel)
            panel = self.look_over
        super().setCurrentWidget(panel)

    def _ask_why(self, line: tuple[int, str]) -> None:
        self.setCurrentWidget(self.why)
        self.why.ask(line)

    def dress(self, palette: Palette) -> None:
        for panel in (self.proof_table, self.family, self.in_hand, self.limits):
            panel.dress(palette)
