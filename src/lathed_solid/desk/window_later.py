"""The rooms of the Plan and the Issue stage, which are made when they are first entered, and where they then stand."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QStackedWidget, QWidget

from .picking import Picking
from .window_fit import FitWindow

if TYPE_CHECKING:
    from ..core.plan.shop import Shop
    from ..core.standards.speeds import ToolMaterial
    from .issue.room import IssueRoom
    from .plan.room import PlanRoom


class LaterRooms(FitWindow):
    """``upper_stack``, ``lower_stack`` and ``right_stack`` hold what the stages of a part show; until a room is needed
    an empty page keeps its place.
    """

    #: The Plan stage's room is there.
    planned = pyqtSignal()
    picking: Picking

    def __init__(self) -> None:
        super().__init__()
        self.upper_stack, self.lower_stack, self.right_stack = QStackedWidget(), QStackedWidget(), QStackedWidget()
        self._for_plan, self._for_issue = (QWidget(), QWidget()), QWidget()
        self._plan: PlanRoom | None = None
        self._issue: IssueRoom | None = None

    @property
    def plan(self) -> PlanRoom:
        """The Plan stage's room."""
        if self._plan is None:
            from .plan.room import PlanRoom

            self._plan = room = PlanRoom(self.session, self.picking)
            for stack, place, widget in zip(
                (self.lower_stack, self.right_stack), self._for_plan, (room, room.side), strict=True
            ):
                at = stack.indexOf(place)
                stack.insertWidget(at, widget)
                stack.removeWidget(place)
                place.deleteLater()
            self.planned.emit()
        return self._plan

    @property
    def issue(self) -> IssueRoom:
        """The Issue stage's room."""
        if self._issue is None:
            from .issue.room import IssueRoom

            def shop() -> tuple[Shop, ToolMaterial]:
                return self.plan.planning.shop, self.plan.planning.of

            self._issue = room = IssueRoom(self.session, self.picking, self.palette_, shop)
            at = self.right_stack.indexOf(self._for_issue)
            self.right_stack.insertWidget(at, room.side)
            self.right_stack.removeWidget(self._for_issue)
            self._for_issue.deleteLater()
            self.upper_stack.addWidget(room.canvas)
        return self._issue

    @property
    def is_planned(self) -> bool:
        """Whether that room has been entered."""
        return self._plan is not None
