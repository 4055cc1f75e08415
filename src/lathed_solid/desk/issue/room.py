"""The room of the Issue stage: the sheet on its paper and what stands beside it; made when first entered."""

from __future__ import annotations

from collections.abc import Callable

from ...core.plan.shop import Shop
from ...core.standards.speeds import ToolMaterial
from ..picking import Picking
from ..session import Session
from ..theme.palette import Palette
from .drawing import PartDrawing
from .side import IssueSide


class IssueRoom:
    """``canvas`` stands in the middle, ``side`` on the right."""

    def __init__(
        self, session: Session, picking: Picking, palette: Palette, shop: Callable[[], tuple[Shop, ToolMaterial]]
    ) -> None:
        self.drawing = PartDrawing(session, picking)
        self.side = IssueSide(session, self.drawing, palette, shop)
        self.board = self.side.board
        self.canvas = self.board.canvas

    def look(self, on: bool) -> None:
        self.drawing.look(on)

    def dress(self, palette: Palette) -> None:
        self.canvas.dress(palette)
