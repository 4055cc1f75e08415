"""The triad of zero: where the part's zero lies and which way its axes run, seen through everything."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.AIS import AIS_InteractiveObject, AIS_Shape, AIS_TextLabel
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.gp import gp_Pnt
from OCP.Graphic3d import Graphic3d_ZLayerId_Topmost
from OCP.TCollection import TCollection_ExtendedString
from PyQt6.QtGui import QColor

from ...core.kernel.ground.figures import Surface as FaceFigure
from ...core.kernel.ground.geometry import WORLD, Frame
from .surface import Surface, kernel_color

_AXES = (("X", (1.0, 0.0, 0.0), "#A8442A"), ("Y", (0.0, 1.0, 0.0), "#4B7A36"), ("Z", (0.0, 0.0, 1.0), "#2E6E8E"))
#: How long an axis is, of the part's own extent.
_SHARE = 0.11
#: No longer than this, however far the part reaches, mm.
_LONGEST = 1e6
#: An axis shorter than this is none, mm: of a zero so far out that its figures hold no smaller ones.
_SEEN = 1e-6


class Triad:
    """Three short lines from zero with the axis names; never picked, never fitted into the view."""

    def __init__(self, surface: Surface) -> None:
        self._surface = surface
        self._shown: list[AIS_InteractiveObject] = []
        self._length = 0.0
        self._frame = WORLD
        self.is_on = True

    def forget(self) -> None:
        self._shown.clear()
        self._length = 0.0

    def switch(self, on: bool) -> None:
        self.is_on = on
        length, self._length = self._length, 0.0
        self._draw(length)

    def stand(self, frame: Frame) -> None:
        """Machine zero is there, its axes run so."""
        self._frame = frame
        length, self._length = self._length, 0.0
        if length:
            self._draw(length)

    def show(self, faces: Sequence[FaceFigure]) -> None:
        """Draw it for a part of this size; once drawn it stays until the size is quite another."""
        places = [p for f in faces for p in (f.center, *(c.center for c in f.circles))]
        spans = [max(p[k] for p in places) - min(p[k] for p in places) for k in range(3)] if places else [50.0]
        length = min(max(_SHARE * max(*spans, 1.0), 1e-3), _LONGEST)
        if not 0.8 < length / max(self._length, 1e-9) < 1.25:
            self._draw(length)

    def _draw(self, length: float) -> None:
        context = self._surface.displayed
        for item in self._shown:
            context.Remove(item, False)
        self._shown, self._length = [], length
        if not self.is_on:
            self._surface.update()
            return
        for name, way, color in _AXES:
            zero, tip, words = (
                gp_Pnt(*self._frame.at(*(far * w for w in way))) for far in (0.0, length, 1.16 * length)
            )
            if not zero.Distance(tip) > _SEEN:
                continue
            line = AIS_Shape(BRepBuilderAPI_MakeEdge(zero, tip).Edge())
            line.SetWidth(2.0)
            label = AIS_TextLabel()
            label.SetText(TCollection_ExtendedString(name))
            label.SetPosition(words)
            label.SetHeight(13)
            for item in (line, label):
                item.SetColor(kernel_color(QColor(color)))
                item.SetZLayer(Graphic3d_ZLayerId_Topmost)
                item.SetInfiniteState(True)
                context.Display(item, 0, -1, False)
                self._shown.append(item)
        self._surface.update()
