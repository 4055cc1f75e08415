"""Showing what is open: other solutions as ghosts to choose from, and free motions played to and fro."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer

from ...core.route.settling import dimension_values
from ...core.sketch.make.choose import spoken
from ...core.sketch.model import Sketch
from ...core.sketch.refusal import SketchError
from ..session import Session

if TYPE_CHECKING:
    from ...core.sketch.explain.wiggle import Wiggle
    from .relating import Plate

FRAME_MS, FRAMES = 33, 40


class Ways:
    """Other solutions for what is chosen."""

    def __init__(self, session: Session, plate: Plate) -> None:
        self._session, self._plate = session, plate

    def find(self) -> list[Sketch]:
        """Other poses in which everything holds, for the one element or size chosen."""
        from ...core.sketch.explain.alternatives import alternatives

        sketch, chosen = self._plate.sketch, self._plate.canvas.chosen
        if sketch is None or len(chosen) != 1:
            return []
        try:
            values = dimension_values(sketch, self._session.content.ledger())
            return alternatives(sketch, values, chosen[0])
        except SketchError:
            return []

    def show(self, by: int = 1) -> None:
        """Show the ghosts, or step on to the next one."""
        canvas, sketch = self._plate.canvas, self._plate.sketch
        if sketch is None:
            return
        if not canvas.ways:
            if len(canvas.chosen) != 1:
                self._plate.strip.say("Choose one arc, circle, line, distance or angle to see its other solutions.")
                return
            canvas.show_ways(tuple(self.find()), 0)
            if not canvas.ways:
                self._plate.strip.say(f"There is only this one solution for {spoken(sketch, canvas.chosen[0])}.")
                return
        else:
            canvas.show_ways(canvas.ways, (canvas.way + by) % len(canvas.ways))
        many = len(canvas.ways)
        self._plate.strip.say(
            f"Other solution {canvas.way + 1} of {many}: V for the next, Enter or a click takes it, Esc leaves it."
        )
        self._plate.strip.withdraw()
        self._plate.strip.choices([])
        canvas.blame(frozenset())
        if many > 1:
            self._plate.strip.offer("Next", lambda: self.show(1))
        self._plate.strip.offer("Take it", self.take)
        self._plate.strip.offer("Leave it", self.leave)
        canvas.setFocus()

    def take(self) -> None:
        canvas = self._plate.canvas
        if canvas.ways:
            taken = canvas.ways[canvas.way]
            canvas.show_ways((), 0)
            self._plate.strip.withdraw()
            self._plate.put(taken, "other solution taken")

    def leave(self) -> None:
        self._plate.canvas.show_ways((), 0)
        self._plate.strip.withdraw()
        self._plate.refresh()


class Player(QObject):
    """Plays each free motion once."""

    def __init__(self, session: Session, plate: Plate, parent: QObject) -> None:
        super().__init__(parent)
        self._session, self._plate = session, plate
        self._wiggle: Wiggle | None = None
        self._way = self._frame = 0
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._step)

    @property
    def is_playing(self) -> bool:
        return self._timer.isActive()

    def play(self) -> None:
        from ...core.sketch.explain.wiggle import Wiggle

        sketch = self._plate.sketch
        if sketch is None or self.is_playing:
            self.stop()
            return
        try:
            values = dimension_values(sketch, self._session.content.ledger())
            self._wiggle = Wiggle(sketch, values)
        except SketchError as error:
            self._plate.strip.say(str(error), bad=True)
            return
        if not self._wiggle.count:
            self._plate.strip.say("Nothing can move: every size is pinned.")
            return
        self._way = self._frame = 0
        self._timer.start()

    def _step(self) -> None:
        wiggle, canvas = self._wiggle, self._plate.canvas
        if wiggle is None or self._plate.sketch is None or self._way >= wiggle.count:
            self.stop()
            return
        if self._frame == 0:
            moving = ", ".join(wiggle.moving(self._way)[:4])
            self._plate.strip.say(f"Motion {self._way + 1} of {wiggle.count}: {moving or 'a size by itself'}.")
            canvas.blame(frozenset(wiggle.moving(self._way)))
        self._frame += 1
        canvas.pose(wiggle.pose(self._way, self._frame / FRAMES))
        if self._frame >= FRAMES:
            self._way, self._frame = self._way + 1, 0

    def stop(self) -> None:
        if self._timer.isActive():
            self._timer.stop()
            self._wiggle = None
            self._plate.refresh()
