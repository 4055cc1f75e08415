"""What is shown of an assembly: its instances, each by its part's one shape, picked faces, what overlaps, section."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from OCP.AIS import AIS_ConnectedInteractive, AIS_InteractiveContext, AIS_InteractiveObject, AIS_Shape
from OCP.Aspect import Aspect_TypeOfLine
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.GeomAbs import GeomAbs_Shape
from OCP.gp import gp_Dir, gp_Pln, gp_Pnt
from OCP.Graphic3d import (
    Graphic3d_ClipPlane,
    Graphic3d_MaterialAspect,
    Graphic3d_NameOfMaterial,
    Graphic3d_ZLayerId_Topmost,
)
from OCP.Prs3d import Prs3d_Drawer, Prs3d_LineAspect, Prs3d_TypeOfHighlight
from OCP.TopAbs import TopAbs_ShapeEnum
from OCP.TopLoc import TopLoc_Location
from PyQt6.QtGui import QColor

from ...core.fit.model import Pose
from ...core.fit.poses import rotation
from ...core.kernel.ground.figures import Vector
from ...core.kernel.ground.picture import from_bytes
from ...core.kernel.ground.placing import Transform, rigid
from ...core.kernel.ground.topology import FACE, Shape, ShapeMap, compound_of, edges_of, shape_map
from ...core.tolerance import ONE_PLACE
from .arrows import Arrow, arrow_edges
from .pointing import point
from .surface import Surface, kernel_color

_FACE_MODE = AIS_Shape.SelectionMode_s(TopAbs_ShapeEnum.TopAbs_FACE)


class Shown(NamedTuple):
    """One instance to be drawn: its part's solid (by what it is called in the store), where it stands, its colour
    (sRGB), and whether light goes through it.
    """

    solid: str
    pose: Pose
    color: tuple[float, float, float]
    see_through: bool = False
    #: Left whole where all else is cut open, as screws and pins are on a drawing.
    whole: bool = False


class _Instance(NamedTuple):
    item: AIS_ConnectedInteractive
    shown: Shown


class FitScene:
    """Draws exactly what it is told to. A part's shape and triangles are there once, however many stand about."""

    def __init__(self, surface: Surface) -> None:
        self._surface = surface
        self._shapes: dict[str, Shape] = {}
        self._faces: dict[str, ShapeMap] = {}
        self._bases: dict[tuple[str, tuple[float, float, float], bool], AIS_Shape] = {}
        self._there: dict[str, _Instance] = {}
        self._marks: dict[str, AIS_InteractiveObject] = {}
        self._clip: Graphic3d_ClipPlane | None = None
        self._hit: Vector | None = None
        self.cut: tuple[Vector, Vector] | None = None
        self._ink = QColor("#20262C")

    @property
    def _context(self) -> AIS_InteractiveContext:
        return self._surface.displayed

    def knows(self, solid: str) -> bool:
        return solid in self._shapes

    def learn(self, solid: str, data: bytes) -> None:
        """Make a part's solid known, with its triangles."""
        self._shapes[solid] = from_bytes(data)
        self._faces[solid] = shape_map(self._shapes[solid], FACE)

    def dress(self) -> None:
        """How what is under the cursor is lit."""
        lit = Prs3d_Drawer()
        lit.SetLink(self._context.DefaultDrawer())
        lit.SetColor(kernel_color(QColor("#D9A441")))
        lit.SetDisplayMode(1)
        lit.SetAutoTriangulation(False)
        lit.SetTransparency(0.3)
        self._context.SetHighlightStyle(Prs3d_TypeOfHighlight.Prs3d_TypeOfHighlight_LocalDynamic, lit)

    def show(self, wanted: Mapping[str, Shown]) -> None:
        """Exactly these instances; those that only moved are only moved."""
        for name in [n for n in self._there if n not in wanted]:
            self._context.Remove(self._there.pop(name).item, False)
        for name, shown in wanted.items():
            old = self._there.get(name)
            if old is not None and old.shown == shown:
                continue
            if old is not None and old.shown._replace(pose=shown.pose) == shown:
                old.item.SetLocalTransformation(_placed(shown.pose))
                self._there[name] = _Instance(old.item, shown)
                continue
            if old is not None:
                self._context.Remove(old.item, False)
            self._there[name] = self._display(shown)
        self._surface.update()

    def _display(self, shown: Shown) -> _Instance:
        item = AIS_ConnectedInteractive()
        item.Connect(self._base(shown), _placed(shown.pose))
        self._context.Display(item, 1, 0, False)
        self._context.Deactivate(item, 0)
        self._context.Activate(item, _FACE_MODE, False)
        if self._clip is not None and not shown.whole:
            item.AddClipPlane(self._clip)
        return _Instance(item, shown)

    def _base(self, shown: Shown) -> AIS_Shape:
        """One a part, colour and look: a connected instance has no colour of its own."""
        key = (shown.solid, shown.color, shown.see_through)
        if key not in self._bases:
            base = AIS_Shape(self._shapes[shown.solid])
            drawer = base.Attributes()
            drawer.SetFaceBoundaryDraw(True)
            drawer.SetAutoTriangulation(False)
            drawer.SetFaceBoundaryUpperContinuity(GeomAbs_Shape.GeomAbs_C0)
            base.SetMaterial(Graphic3d_MaterialAspect(Graphic3d_NameOfMaterial.Graphic3d_NameOfMaterial_Plastified))
            base.SetColor(kernel_color(QColor.fromRgbF(*shown.color)))
            if shown.see_through:
                base.SetTransparency(0.7)
            drawer.SetFaceBoundaryAspect(
                Prs3d_LineAspect(kernel_color(self._ink), Aspect_TypeOfLine.Aspect_TOL_SOLID, 1.2)
            )
            self._bases[key] = base
        return self._bases[key]

    # --- picking
    def hover(self, x: int, y: int) -> tuple[str, int] | None:
        """The instance and the face (from 1) under a pixel, lit; None for nothing."""
        found = point(self._context, self._surface.view, x, y, self.cut)
        self._surface.update()
        self._hit = found.at if found is not None else None
        if found is None:
            return None
        item = self._context.DetectedInteractive()
        name = next((n for n, i in self._there.items() if i.item is item or i.item == item), "")
        if not name:
            return None
        faces, shape = self._faces[self._there[name].shown.solid], found.shape
        index = int(faces.FindIndex(shape) or faces.FindIndex(shape.Located(TopLoc_Location())))
        return (name, index) if index else None

    def unhover(self) -> None:
        if self._there:
            self._context.ClearDetected(False)
            self._surface.update()

    def hit(self) -> Vector | None:
        """Where what is under the cursor was hit, mm in the room."""
        return self._hit

    # --- what is marked
    def mark_faces(self, faces: Sequence[tuple[str, int]], color: QColor) -> None:
        """The edges of faces of instances drawn over everything; none takes them away."""
        edges = []
        for name, index in faces:
            if (there := self._there.get(name)) is None:
                continue
            table = self._faces[there.shown.solid]
            if 1 <= index <= table.Extent():
                where = TopLoc_Location(_placed(there.shown.pose))
                edges += [e.Located(where.Multiplied(e.Location())) for e in edges_of(table.FindKey(index))]
        self._mark("picked", compound_of(edges) if edges else None, color, 3.0)

    def trail(self, ways: Sequence[tuple[Vector, Vector]], color: QColor) -> None:
        """The ways that parts came, dashed; none takes them away."""
        lines = [BRepBuilderAPI_MakeEdge(gp_Pnt(*a), gp_Pnt(*b)).Edge() for a, b in ways if math.dist(a, b) > ONE_PLACE]
        self._mark("trail", compound_of(lines) if lines else None, color, 1.0)

    def arrows(self, ways: Sequence[Arrow], color: QColor) -> None:
        """How a part can move; none takes them away."""
        edges = [edge for way in ways for edge in arrow_edges(way)]
        self._mark("arrows", compound_of(edges) if edges else None, color, 2.5)

    def lay(self, skins: Sequence[bytes], color: QColor) -> None:
        """What overlaps, seen through everything."""
        shapes = [from_bytes(data) for data in skins]
        old = self._marks.pop("overlap", None)
        if old is not None:
            self._context.Remove(old, False)
        if shapes:
            item = AIS_Shape(compound_of(shapes))
            item.Attributes().SetAutoTriangulation(False)
            item.Attributes().SetFaceBoundaryDraw(False)
            item.SetColor(kernel_color(color))
            item.SetZLayer(Graphic3d_ZLayerId_Topmost)
            self._context.Display(item, 1, -1, False)
            self._marks["overlap"] = item
        self._surface.update()

    def _mark(self, key: str, shape: Shape | None, color: QColor, width: float) -> None:
        old = self._marks.pop(key, None)
        if old is not None:
            self._context.Remove(old, False)
        if shape is not None:
            item = AIS_Shape(shape)
            line = Prs3d_LineAspect(kernel_color(color), Aspect_TypeOfLine.Aspect_TOL_SOLID, width)
            item.Attributes().SetWireAspect(line)
            item.Attributes().SetLineAspect(line)
            if key in ("picked", "arrows"):
                item.SetZLayer(Graphic3d_ZLayerId_Topmost)
            self._context.Display(item, 0, -1, False)
            self._marks[key] = item
        self._surface.update()

    # --- section
    def section(self, origin: Vector | None, normal: Vector = (0.0, 1.0, 0.0)) -> None:
        """Cut the picture by a plane (None: whole again); the side the normal points to is taken away."""
        cut = [there.item for there in self._there.values() if not there.shown.whole]
        if self._clip is not None:
            for item in cut:
                item.RemoveClipPlane(self._clip)
        self._clip = None
        self.cut = (origin, normal) if origin is not None else None
        if origin is not None:
            self._clip = Graphic3d_ClipPlane(gp_Pln(gp_Pnt(*origin), gp_Dir(-normal[0], -normal[1], -normal[2])))
            self._clip.SetCapping(True)
            self._clip.SetUseObjectMaterial(True)
            self._clip.SetOn(True)
            for item in cut:
                item.AddClipPlane(self._clip)
        self._surface.update()

    def hatch(self, lines: bytes) -> None:
        """The lines of the cut faces; none takes them away."""
        shape = from_bytes(lines) if lines and self.cut is not None else None
        self._mark("hatch", shape, self._ink, 1.0)

    def forget(self) -> None:
        """The viewer is about to go."""
        self._there.clear()
        self._bases.clear()
        self._marks.clear()
        self._clip = None


def _placed(pose: Pose) -> Transform:
    return rigid(rotation(pose).tolist(), pose.place)
