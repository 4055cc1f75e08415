"""Moving parts by hand: dragged through what is free, turned, put to a typed place."""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path

import numpy as np

from ...core.fit import edits
from ...core.fit.drag import Drag
from ...core.fit.model import Assembly, Pose
from ...core.fit.solving import Solved
from ...core.kernel.ground.figures import Vector
from ..session import Session
from .worked import WorkedAssembly

#: What comes to stand farther from where it was put is held by its relations (mm).
_WENT_BACK = 1e-6


class MovedAssembly(WorkedAssembly):
    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__(session, folder)
        self._drag: Drag | None = None

    def _anew(self, found: Solved | None = None) -> None:
        self._drag = None
        super()._anew(found)

    @property
    def is_dragging(self) -> bool:
        """Whether a part is in the hand."""
        return self._drag is not None

    def take_hold(self, instance: str, at: Vector) -> bool:
        """Begin to drag a part by a point of it; False when it cannot move."""
        free = self.freedom(instance)
        if self._solved is None or free is None or not free.ways:
            return False
        self._drag = Drag(self._solved.assembly, instance, at)
        return True

    def lead(self, to: Vector) -> None:
        """One picture of the drag."""
        if self._drag is not None:
            self._drag.to(to)
            self.tried = self._drag.standing()
            self.changed.emit()

    def let_loose(self) -> None:
        """The drag or turning is over: where it was left is one edit."""
        drag, self._drag = self._drag, None
        left = drag.ended() if drag is not None else self.tried
        if left is not None:
            self.tried = None
            self.edit(lambda _: left, "moved by hand" if drag is not None else "turned by hand")

    def turn(self, instance: str, about: Vector, angle: float) -> None:
        """One picture of turning a part about its own middle."""
        self.tried = edits.turned(self.shown, instance, about, angle)
        self.changed.emit()

    def _move(self, change: Callable[[Pose], Pose], words: str) -> None:
        chosen, before = self.chosen, self.assembly
        if not chosen:
            return
        held = [i for i in chosen if before.instance(i).grounded]
        if held:
            self.session.say(f"{self.names_of(held)}: grounded, and stays where it is. Free it first.", "warn")
            return

        def put(assembly: Assembly) -> Assembly:
            for name in chosen:
                pose = change(assembly.instance(name).pose)
                assembly = edits.change_instance(assembly, name, pose=pose)
            return assembly

        wanted = put(before)
        if self.edit(lambda _: wanted, f"{self.names_of(chosen)} {words}"):
            off = max(_apart(wanted.instance(i).pose, self.assembly.instance(i).pose) for i in chosen)
            if off > _WENT_BACK:
                self.session.say(f"{self.names_of(chosen)} did not stay there: relations hold it otherwise.", "warn")

    def put_to(self, by: Vector) -> None:
        """The chosen parts moved by a way, mm; what relations hold comes back, and it is told."""
        self._move(lambda pose: edits.moved(pose, by), "moved")

    def turn_by(self, about: int, angle: float) -> None:
        """The chosen parts turned about an axis of the room (0 to 2) through the first one's zero, radians."""
        if not self.chosen:
            return
        pivot = np.array(self.assembly.instance(self.instance).pose.place)
        self._move(lambda pose: edits.turned_about(pose, pivot, about, angle), "turned")


def _apart(one: Pose, two: Pose) -> float:
    """How far two poses are from each other: in place (mm) or in turning (half angle's sine)."""
    alike = abs(sum(a * b for a, b in zip(one.turn, two.turn, strict=True)))
    return max(math.dist(one.place, two.place), math.sqrt(max(0.0, 1.0 - alike * alike)))
