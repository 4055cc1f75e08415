"""Planes, axes and points of steps: drawn only while they are useful, sized to the part, picked through it."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.AIS import AIS_InteractiveObject, AIS_Shape
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt
from OCP.Graphic3d import Graphic3d_ZLayerId_Topmost
from OCP.TopAbs import TopAbs_ShapeEnum
from PyQt6.QtGui import QColor

from ...core.kernel.ground.figures import Vector
from ...core.kernel.ground.geometry import Frame
from ...core.kernel.ground.placing import point_in
from ...core.kernel.ground.topology import Shape, subshapes
from ...worker.protocol import DatumFigure
from .surface import Surface, kernel_color

_MODES = (
    AIS_Shape.SelectionMode_s(TopAbs_ShapeEnum.TopAbs_FACE),
    AIS_Shape.SelectionMode_s(TopAbs_ShapeEnum.TopAbs_EDGE),
)


class Datums:
    """What is shown of the steps that make planes, axes and points."""

    def __init__(self, surface: Surface) -> None:
        self._surface = surface
        self._figures: tuple[DatumFigure, ...] = ()
        self._shown: dict[str, AIS_InteractiveObject] = {}
        self._shapes: dict[str, Shape] = {}
        #: The steps shown and what each makes, and whether their planes are picked by the border only.
        self.kinds: dict[str, str] = {}
        self.by_border = False

    def forget(self) -> None:
        self.kinds, self.by_border = {}, False
        self._shown.clear()
        self._shapes.clear()

    def measure(self, figures: Sequence[DatumFigure]) -> None:
        """Take over where they are; what is shown is drawn anew on the next :meth:`show`."""
        self._figures = tuple(figures)
        self.show({})

    def show(
        self, kinds: dict[str, str], size: float = 50.0, middle: Vector = (0, 0, 0), by_border: bool = False
    ) -> None:
        """Draw exactly these steps (id to ``plane``, ``axis`` or ``point``) about the part's ``middle``. A plane lies
        over what is under it: picked ``by_border`` it leaves all of that to be picked.
        """
        context = self._surface.displayed
        for item in self._shown.values():
            context.Remove(item, False)
        self.forget()
        self.kinds, self.by_border = dict(kinds), by_border and bool(kinds)
        for figure in self._figures:
            if figure.step in kinds:
                shape = _drawn(figure, kinds[figure.step], size, middle)
                item = AIS_Shape(shape)
                item.SetColor(kernel_color(QColor("#2E6E8E")))
                item.SetTransparency(0.72)
                item.SetWidth(1.6)
                item.SetZLayer(Graphic3d_ZLayerId_Topmost)
                context.Display(item, 1, 0, False)
                context.Deactivate(item, 0)
                for mode in _MODES[by_border:]:
                    context.Activate(item, mode, False)
                self._shown[figure.step], self._shapes[figure.step] = item, shape
        self._surface.update()

    def step_of(self, shape: Shape) -> str:
        """The step whose plane (or its border) or axis a picked shape is; "" for none."""
        kind = shape.ShapeType()
        return next((i for i, own in self._shapes.items() if any(s.IsSame(shape) for s in subshapes(own, kind))), "")


def _drawn(figure: DatumFigure, kind: str, size: float, middle: tuple[float, float, float]) -> Shape:
    frame = Frame(figure.origin, figure.x, figure.y)
    gap = tuple(m - o for m, o in zip(middle, frame.origin, strict=True))
    u, v, w = (sum(a * b for a, b in zip(gap, way, strict=True)) for way in (frame.x, frame.y, frame.normal))
    half = 0.65 * size
    if kind == "axis":
        return BRepBuilderAPI_MakeEdge(point_in(frame, 0, 0, w - half), point_in(frame, 0, 0, w + half)).Edge()
    if kind == "point":
        r = 0.03 * size
        return BRepBuilderAPI_MakeEdge(point_in(frame, -r, 0), point_in(frame, r, 0)).Edge()
    place = gp_Ax3(gp_Pnt(*figure.origin), gp_Dir(*frame.normal), gp_Dir(*frame.x))
    return BRepBuilderAPI_MakeFace(gp_Pln(place), u - half, u + half, v - half, v + half).Face()
