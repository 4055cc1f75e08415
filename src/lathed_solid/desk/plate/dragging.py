"""Dragging on the plate: a frame at a time, one edit when it ends."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...core.route.settling import dimension_values
from ...core.sketch.refusal import SketchError
from ...core.sketch.region import find_regions
from ..session import Session

if TYPE_CHECKING:
    from ...core.sketch.solver.drag import Drag
    from .relating import Plate

#: Sketches with more curves than this close and open their areas only when the drag has ended.
LIVE_AREAS = 120


class Dragging:
    def __init__(self, session: Session, plate: Plate) -> None:
        self._session, self._plate = session, plate
        self._drag: Drag | None = None

    def start(self, element: str, x: float, y: float) -> None:
        from ...core.sketch.solver.drag import Drag

        sketch = self._plate.sketch
        if sketch is None:
            return
        try:
            values = dimension_values(sketch, self._session.content.ledger())
            self._drag = Drag(sketch, values, element, (x, y))
        except SketchError as error:
            self._plate.strip.say(str(error), bad=True)

    def move(self, x: float, y: float) -> None:
        if self._drag is None:
            return
        canvas = self._plate.canvas
        now = self._drag.to(x, y)
        regions = find_regions(now, check=False) if len(now.curves()) <= LIVE_AREAS else None
        canvas.pose(now, canvas.look._replace(regions=regions))

    def end(self) -> None:
        if self._drag is None:
            return
        moved, self._drag = self._drag.release(), None
        if moved != self._plate.sketch:
            self._plate.put(moved, "dragged on the plate")
        else:
            self._plate.refresh()
