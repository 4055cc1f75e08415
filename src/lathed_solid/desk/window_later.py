"""The rooms of the Plan and the Issue stage, which are made when they are first entered, and where they then stand."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from ..core.drafting.looking import Up, seen_from
from .pages import Pages
from .picking import Picking
from .window_fit import FitWindow

if TYPE_CHECKING:
    from ..core.fit.model import Assembly
    from ..core.job.model import Content
    from ..core.kernel.ground.figures import Vector
    from ..core.plan.shop import Shop
    from ..core.standards.speeds import ToolMaterial
    from .issue.room import IssueRoom
    from .paper.board import Board
    from .picture.window import PictureWindow
    from .plan.room import PlanRoom


class LaterRooms(FitWindow):
    """``upper_stack``, ``lower_stack`` and ``right_stack`` hold what the stages of a part show; until a room is needed
    an empty page keeps its place.
    """

    #: The Plan stage's room is there.
    planned = pyqtSignal()
    picking: Picking

    @property
    def is_furnished(self) -> bool:
        raise NotImplementedError

    def __init__(self) -> None:
        super().__init__()
        self.upper_stack, self.lower_stack, self.right_stack = Pages(), Pages(), Pages()
        self._for_plan, self._for_issue = (QWidget(), QWidget()), QWidget()
        self._plan: PlanRoom | None = None
        self._issue: IssueRoom | None = None
        self._pictures: PictureWindow | None = None

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
            room.side.picture_wanted.connect(self.take_picture)
        return self._issue

    @property
    def board(self) -> Board | None:
        """The drawing board that is looked at: the part's in Issue, the assembly's in Fit."""
        if self.stage == "Issue":
            return self.issue.board
        return self.fit.board if self.stage == "Fit" else None

    def take_picture(self) -> None:
        """A rendered picture: of the assembly in Fit, else of the part."""
        from .picture.window import PictureWindow

        fit = self.stage == "Fit"

        def of() -> Content | Assembly:
            return self.fit.document.shown if fit else self.session.content

        def eye() -> tuple[Vector, Up]:
            if fit:
                return self.fit.view.eye()
            turned: Up = "x" if self.session.content.turned else "z"
            return self.part.eye() if self.is_furnished else (seen_from("I", turned)[0], turned)

        if not fit and not self.session.content.steps:
            self.session.say("There is no part to be pictured yet. Make it in Shape first.", "warn")
            return
        if self._pictures is not None:
            self._pictures.close()
            self._pictures.deleteLater()
        self._pictures = PictureWindow(self.session, of, eye, self)
        self._pictures.begin(self.fit.looks.share if fit else 0.0)

    @property
    def is_planned(self) -> bool:
        """Whether that room has been entered."""
        return self._plan is not None
