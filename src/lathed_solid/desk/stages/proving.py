"""The lower room of Prove: its panels as tabs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QTabWidget

from ...core.plan.shop import Shop
from ...core.route.model import EdgeRef
from ..bench.capture import Capture
from ..family.panel import FamilyPanel
from ..picking import Picking
from ..session import Session
from ..theme.palette import Palette
from .inhand import InHandPanel
from .limits import LimitsPanel
from .match import MatchPanel
from .measure import MeasurePanel
from .prove import ProofTable
from .read import without_line
from .report import ReportPanel
from .room import RoomPanel
from .sense import SensePanel
from .walls import WallsPanel
from .why import WhyPanel

if TYPE_CHECKING:
    from ...core.kernel.ground.topology import Shape


class ProveLower(QTabWidget):
    """``shapes`` finds what is picked on the part that is shown; ``shop`` is asked when a family is priced."""

    def __init__(
        self, session: Session, picking: Picking, capture: Capture, palette: Palette,
        shapes: Callable[[Sequence[int], Sequence[EdgeRef]], list[Shape]], shop: Callable[[], Shop],
    ) -> None:  # fmt: skip
        super().__init__()
        self.setDocumentMode(True)
        without_line(self)
        self.proof_table = ProofTable(session, palette)
        self.measure, self.match = MeasurePanel(session, picking, shapes), MatchPanel(session, picking)
        self.family, self.why = FamilyPanel(session, palette, shop), WhyPanel(session, picking)
        self.in_hand, self.limits = InHandPanel(session, capture, palette), LimitsPanel(session, palette)
        self.walls, self.room = WallsPanel(session, picking), RoomPanel(session, picking)
        self.sense = SensePanel(session, picking)
        self.report = ReportPanel(
            session,
            lambda: self.in_hand.in_hand,
            lambda: self.why.why if self.why.is_done else None,
            lambda: self.walls.words,
        )
        for panel, title in (
            (self.proof_table, "Proof"), (self.measure, "Measure"), (self.match, "Find callouts"),
            (self.walls, "Walls"), (self.room, "Room"), (self.sense, "Shop sense"), (self.limits, "Limits"),
            (self.family, "Family"), (self.why, "Why"), (self.in_hand, "Part in hand"), (self.report, "Report"),
        ):  # fmt: skip
            self.addTab(panel, title)
        self.proof_table.why_wanted.connect(self._ask_why)

    def _ask_why(self, line: tuple[int, str]) -> None:
        self.setCurrentWidget(self.why)
        self.why.ask(line)

    def dress(self, palette: Palette) -> None:
        for panel in (self.proof_table, self.family, self.in_hand, self.limits):
            panel.dress(palette)
