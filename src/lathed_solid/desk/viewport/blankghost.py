"""The ghost of the blank round the part: see-through, never picked."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.AIS import AIS_Shape
from OCP.Aspect import Aspect_TypeOfLine
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.gp import gp_Vec
from OCP.Prs3d import Prs3d_LineAspect
from PyQt6.QtGui import QColor

from ...core.kernel.form.bar import Section, bar_section
from ...core.kernel.form.outline import flat_face
from ...core.kernel.ground.geometry import Frame
from .surface import Surface, kernel_color


class BlankGhost:
    """At most one is shown."""

    def __init__(self, surface: Surface) -> None:
        self._surface = surface
        self._shown: AIS_Shape | None = None

    def forget(self) -> None:
        self._shown = None

    def hide(self) -> None:
        if self._shown is not None:
            self._surface.displayed.Remove(self._shown, False)
            self._shown = None
            self._surface.update()

    def show(self, section: Section, sizes: Sequence[float], frame: Frame, length: float) -> None:
        """A bar of this section, ``length`` mm along the frame's normal."""
        self.hide()
        outer, holes = bar_section(section, sizes)
        n = frame.normal
        face = flat_face(outer, holes, frame).face
        shape = BRepPrimAPI_MakePrism(face, gp_Vec(*(length * c for c in n))).Shape()
        item = AIS_Shape(shape)
        color = kernel_color(QColor("#A8762A"))
        item.SetColor(color)
        item.SetTransparency(0.82)
        drawer = item.Attributes()
        drawer.SetFaceBoundaryDraw(True)
        drawer.SetFaceBoundaryAspect(Prs3d_LineAspect(color, Aspect_TypeOfLine.Aspect_TOL_DASH, 1.2))
        context = self._surface.displayed
        context.Display(item, 1, -1, False)
        self._shown = item
        self._surface.update()
