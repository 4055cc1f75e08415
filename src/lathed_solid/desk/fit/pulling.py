"""What the hand does in the view: parts that are together are dragged through what is free; of parts pulled apart the
way they come off is changed, which is kept with the assembly and moves nothing.
"""

from __future__ import annotations

import numpy as np
from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.fit.model import Apart, Assembly
from ...core.kernel.ground.figures import Vector
from ..viewport.fitview import FitView
from .document import FitDocument
from .looks import Looks


class Pulling(QObject):
    """``changed``: parts are shown pulled apart in another way."""

    changed = pyqtSignal()

    def __init__(self, document: FitDocument, view: FitView, looks: Looks) -> None:
        super().__init__()
        self._document, self._looks = document, looks
        self._hand: tuple[str, Vector] | None = None
        self._way: Vector = (0.0, 0.0, 0.0)
        view.can_move = self.can_move
        view.grabbed.connect(self._grab)
        view.led.connect(self._lead)
        view.turned.connect(self._turn)
        view.loosed.connect(self._loose)
        looks.apart.sliderReleased.connect(self._keep_share)

    def can_move(self, name: str) -> bool:
        if self._looks.share > 0:
            return True
        free = self._document.freedom(name)
        return free is not None and free.ways > 0

    def shown(self, assembly: Assembly) -> Assembly:
        """The assembly with the way it is pulled apart just now."""
        if self._hand is None:
            return assembly
        return replace(assembly, apart=_moved(assembly.apart, self._hand[0], self._way, self._looks.share))

    def _grab(self, instance: str, at: Vector) -> None:
        if self._looks.share > 0:
            self._hand, self._way = (instance, at), (0.0, 0.0, 0.0)
        else:
            self._document.take_hold(instance, at)

    def _lead(self, to: Vector) -> None:
        if self._hand is None:
            self._document.lead(to)
            return
        x, y, z = (float(v) for v in np.subtract(to, self._hand[1]))
        self._way = (x, y, z)
        self.changed.emit()

    def _turn(self, instance: str, about: Vector, angle: float) -> None:
        if self._hand is None and self._looks.share == 0:
            self._document.turn(instance, about, angle)

    def _loose(self) -> None:
        hand, self._hand = self._hand, None
        if hand is None:
            self._document.let_loose()
            return
        way, share, name = self._way, self._looks.share, self._document.assembly.called(hand[0])
        self._document.edit(
            lambda a: replace(a, apart=_moved(a.apart, hand[0], way, share)), f"{name} pulled another way"
        )

    def _keep_share(self) -> None:
        """How far it was pulled apart last is kept for the sheets."""
        share = self._looks.share
        if share > 0 and abs(share - self._document.assembly.apart.share) > 1e-9:
            self._document.edit(lambda a: replace(a, apart=replace(a.apart, share=share)), "pulled apart")


def _moved(apart: Apart, instance: str, way: Vector, share: float) -> Apart:
    """With an instance coming off another way: what it was moved by at a share counts in full at the whole."""
    moved = dict(apart.moved)
    x, y, z = (a + b / share for a, b in zip(moved.get(instance, (0.0, 0.0, 0.0)), way, strict=True))
    moved[instance] = (x, y, z)
    return Apart(share, tuple(moved.items()))
