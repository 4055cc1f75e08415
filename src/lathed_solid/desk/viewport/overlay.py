"""Coloured skins laid over the part: a map of its walls, what another solid has more or less. Never picked."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.AIS import AIS_ColoredShape
from OCP.Aspect import Aspect_PolygonOffsetMode
from OCP.Graphic3d import Graphic3d_TypeOfShadingModel
from PyQt6.QtGui import QColor

from ...core.kernel.ground.picture import from_bytes
from ...core.kernel.ground.topology import FACE, subshapes
from .pins import Laid
from .surface import Surface, kernel_color

#: Drawn before the part's own faces (which stand back by 1), behind its lines.
_FILL, _BEFORE = int(Aspect_PolygonOffsetMode.Aspect_POM_Fill), 0.3


class Overlay:
    def __init__(self, surface: Surface) -> None:
        self._surface = surface
        self._laid: tuple[Laid, ...] = ()
        self._shown: list[AIS_ColoredShape] = []

    def forget(self) -> None:
        """The viewer is about to go, or everything in it was taken away."""
        self._shown.clear()
        self._laid = ()

    def show(self, laid: Sequence[Laid]) -> None:
        """Exactly these; none takes them away."""
        if tuple(laid) == self._laid:
            return
        context = self._surface.displayed
        for item in self._shown:
            context.Remove(item, False)
        self._shown.clear()
        self._laid = tuple(laid)
        for one in laid:
            shape = from_bytes(one.skin.data)
            item = AIS_ColoredShape(shape)
            for face, color in zip(subshapes(shape, FACE), one.colors, strict=False):
                item.SetCustomColor(face, kernel_color(QColor(color)))
                if one.through:
                    item.SetCustomTransparency(face, one.through)
                # A colour must be the one of the scale, whichever way the face is turned.
                shading = item.CustomAspects(face).ShadingAspect().Aspect()
                shading.SetShadingModel(Graphic3d_TypeOfShadingModel.Graphic3d_TypeOfShadingModel_Unlit)
                shading.SetPolygonOffsets(_FILL, _BEFORE, _BEFORE)
            drawer = item.Attributes()
            drawer.SetFaceBoundaryDraw(False)
            drawer.SetAutoTriangulation(False)
            context.Display(item, 1, -1, False)
            self._shown.append(item)
        self._surface.update()
