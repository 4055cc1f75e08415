"""What is shown in the part view: the solid, its highlights, section, hidden edges, transparency, thread lines."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from typing import cast

from OCP.AIS import AIS_ColoredShape, AIS_InteractiveContext, AIS_InteractiveObject, AIS_Shape
from OCP.Aspect import Aspect_TypeOfLine
from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge
from OCP.GeomAbs import GeomAbs_Shape
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pln, gp_Pnt
from OCP.Graphic3d import (
    Graphic3d_ClipPlane,
    Graphic3d_ZLayerId_Topmost,
)
from OCP.Prs3d import Prs3d_Drawer, Prs3d_LineAspect, Prs3d_TypeOfHighlight
from OCP.StdSelect import StdSelect_BRepOwner
from OCP.TopAbs import TopAbs_ShapeEnum
from OCP.TopoDS import TopoDS, TopoDS_Compound
from PyQt6.QtGui import QColor

from ...core.job.looks import LETS_BY
from ...core.kernel.ground.figures import Surface as FaceFigure
from ...core.kernel.ground.figures import Vector
from ...core.kernel.ground.geometry import dot
from ...core.kernel.ground.named import NamedBody
from ...core.kernel.ground.picture import from_bytes
from ...core.kernel.ground.placing import triple
from ...core.kernel.ground.topology import (
    EDGE,
    FACE,
    SOLID,
    VERTEX,
    Edge,
    Shape,
    compound_of,
    edges_of,
    shape_map,
    subshapes,
)
from ...core.kernel.measure.surfaces import outward_at
from ...core.route.model import ThreadMark
from ...core.standards.threads import reach_on
from ...core.tolerance import ONE_PLACE
from ..theme.palette import Palette
from .coats import PLAIN, Coat, Coats, aspect
from .datums import Datums
from .pointing import point
from .surface import Surface, kernel_color

_FACE_MODE = AIS_Shape.SelectionMode_s(TopAbs_ShapeEnum.TopAbs_FACE)
_EDGE_MODE = AIS_Shape.SelectionMode_s(TopAbs_ShapeEnum.TopAbs_EDGE)
_CORNER_MODE = AIS_Shape.SelectionMode_s(TopAbs_ShapeEnum.TopAbs_VERTEX)


class Scene:
    """The displayed part. All methods only change what is shown; nothing is computed about the part."""

    def __init__(self, surface: Surface) -> None:
        self._surface = surface
        self._part: AIS_Shape | None = None
        self._extra: dict[str, AIS_InteractiveObject] = {}
        self.body: NamedBody | None = None
        self.coats = PLAIN
        self.datums = Datums(surface)
        self._see_through = self._hidden = False
        self._modes: tuple[int, ...] = (_FACE_MODE, _EDGE_MODE)
        self._clip: Graphic3d_ClipPlane | None = None
        self._hit: Vector | None = None
        #: A place on the section plane and its normal, while there is one.
        self.cut: tuple[Vector, Vector] | None = None

    @property
    def _context(self) -> AIS_InteractiveContext:
        return self._surface.displayed

    def clear(self) -> None:
        self._context.RemoveAll(False)
        self.datums.forget()
        self._part, self.body = None, None
        self._extra.clear()
        self._surface.update()

    def forget(self) -> None:
        """The viewer is about to go: nothing may be asked of it any more."""
        self._part, self.body, self._clip = None, None, None
        self.datums.forget()
        self._extra.clear()

    def show(
        self,
        data: bytes,
        names: Sequence[Sequence[str]],
        surfaces: Sequence[FaceFigure],
        coats: Callable[[NamedBody], Coats],
        palette: Palette,
    ) -> None:
        """Show a meshed part. ``names[i]`` are the names of face i + 1, ``surfaces[i]`` is it as measured; ``coats``
        say how bodies and faces are drawn.
        """
        shape = from_bytes(data)
        body = NamedBody(shape, ())
        body.measured = tuple(surfaces)  # measured once, where it was built
        body.names = {i: set(n) for i, n in enumerate(names, 1) if n}
        self.body, self.coats = body, coats(body)
        for key in list(self._extra):
            self._drop(key)
        self._part = self._replace(self._part, shape, palette)
        if self._hidden:
            self.show_hidden(True, palette)

    def _replace(self, old: AIS_Shape | None, shape: Shape, palette: Palette) -> AIS_Shape:
        if old is not None:
            self._context.Remove(old, False)
        several = len(self.coats.bodies) > 1 or bool(self.coats.faces)
        part = AIS_ColoredShape(shape) if several else AIS_Shape(shape)
        drawer = part.Attributes()
        drawer.SetFaceBoundaryDraw(True)
        drawer.SetAutoTriangulation(False)
        drawer.SetFaceBoundaryUpperContinuity(GeomAbs_Shape.GeomAbs_C0)
        first = self.coats.bodies[0]
        part.SetMaterial(aspect(first.finish))
        part.SetColor(kernel_color(QColor.fromRgbF(*first.color)))
        ink = QColor("#20262C") if palette.raised == "#FFFFFF" else QColor("#0C0F12")
        # The boundary's own colour must come after the part's, which would overwrite it.
        drawer.SetFaceBoundaryAspect(Prs3d_LineAspect(kernel_color(ink), Aspect_TypeOfLine.Aspect_TOL_SOLID, 1.3))
        hovered, selected = self._style(QColor("#D9A441")), self._style(QColor("#E0A63C"))
        self._context.SetHighlightStyle(Prs3d_TypeOfHighlight.Prs3d_TypeOfHighlight_LocalDynamic, hovered)
        self._context.SetHighlightStyle(Prs3d_TypeOfHighlight.Prs3d_TypeOfHighlight_LocalSelected, selected)
        part.SetDynamicHilightAttributes(hovered)
        part.SetHilightAttributes(selected)
        if isinstance(part, AIS_ColoredShape):
            self._paint_bodies(part, shape, ink)
        self._context.Display(part, 1, 0, False)
        self._context.Deactivate(part, 0)
        for mode in self._modes:
            self._context.Activate(part, mode, False)
        if self._see_through:
            self._context.SetTransparency(part, 0.62, False)
        if self._clip is not None:
            part.AddClipPlane(self._clip)
        self._surface.update()
        return part

    def _paint_bodies(self, part: AIS_ColoredShape, shape: Shape, ink: QColor) -> None:
        for solid, coat in zip(subshapes(shape, SOLID), self.coats.bodies, strict=False):
            self._paint(part, solid, coat, ink)
        for index, coat in self.coats.faces.items():
            if self.body is not None and coat.shown:
                self._paint(part, self.body.face(index), coat, ink)

    def _paint(self, part: AIS_ColoredShape, piece: Shape, coat: Coat, ink: QColor) -> None:
        if not coat.shown:
            part.CustomAspects(piece).SetHidden(True)
            return
        own = part.CustomAspects(piece)
        part.SetCustomColor(piece, kernel_color(QColor.fromRgbF(*coat.color)))
        if coat.finish is not None:
            shading = own.ShadingAspect()
            shading.SetMaterial(aspect(coat.finish))
            shading.SetColor(kernel_color(QColor.fromRgbF(*coat.color)))
        if coat.see_through:
            part.SetCustomTransparency(piece, LETS_BY)
        # A body's own colour would colour its edges too.
        own.SetFaceBoundaryDraw(True)
        own.SetFaceBoundaryAspect(Prs3d_LineAspect(kernel_color(ink), Aspect_TypeOfLine.Aspect_TOL_SOLID, 1.3))

    def _style(self, color: QColor) -> Prs3d_Drawer:
        style = Prs3d_Drawer()
        style.SetLink(self._context.DefaultDrawer())
        style.SetColor(kernel_color(color))
        style.SetDisplayMode(1)
        style.SetAutoTriangulation(False)  # the part is meshed; a thread meshed again takes a second
        style.SetTransparency(0.3)
        return style

    # --- picking
    def allow(self, faces: bool, edges: bool, corners: bool = False) -> None:
        """What the mouse can take hold of."""
        wanted = ((_FACE_MODE, faces), (_EDGE_MODE, edges), (_CORNER_MODE, corners))
        modes = tuple(mode for mode, on in wanted if on)
        if modes == self._modes:
            return
        self._modes = modes
        if self._part is not None:
            self._context.Deactivate(self._part)
            for mode in modes:
                self._context.Activate(self._part, mode, False)

    def hover(self, x: int, y: int) -> Shape | None:
        """The face or edge under a pixel, lit."""
        if self._part is None:
            return None
        found = point(self._context, self._surface.view, x, y, self.cut)
        self._surface.update()
        self._hit = found.at if found is not None else None
        shape = found.shape if found is not None else None
        if shape is not None and self.cut is not None and self._behind_cap(shape):
            self._context.ClearDetected(False)
            return None
        return shape

    def _behind_cap(self, shape: Shape) -> bool:
        """Whether a face is hit from within the material: what is seen there is the cut, which is no face."""
        place = self.detected_point()
        if place is None or not self.is_face(shape):
            return False
        eye = self._surface.view.Camera().Direction()
        return dot(outward_at(TopoDS.Face(shape), place), triple(eye)) > 1e-6

    def unhover(self) -> None:
        if self._part is not None:
            self._context.ClearDetected(False)
            self._surface.update()

    def detected_point(self) -> Vector | None:
        """Where the hovered face was hit, part mm."""
        return self._hit

    def is_face(self, shape: Shape) -> bool:
        return bool(shape.ShapeType() == FACE)

    def is_edge(self, shape: Shape) -> bool:
        return bool(shape.ShapeType() == EDGE)

    def preview(self, edges: Sequence[Edge]) -> None:
        """Edges that a click would take, drawn over everything; none takes them away."""
        if edges:
            shape = compound_of(edges)
            self._lines("preview", shape, QColor("#D9A441"), Aspect_TypeOfLine.Aspect_TOL_SOLID, 3.0, top=True)
        else:
            self._drop("preview")

    def rule(self, lines: Sequence[tuple[Vector, Vector]], color: QColor) -> None:
        """What distances lie between, drawn over everything; none takes them away."""
        made = [BRepBuilderAPI_MakeEdge(gp_Pnt(*a), gp_Pnt(*b)).Edge() for a, b in lines if math.dist(a, b) > ONE_PLACE]
        if made:
            self._lines("rule", compound_of(made), color, Aspect_TypeOfLine.Aspect_TOL_SOLID, 2.0, top=True)
        else:
            self._drop("rule")

    def light(self, faces: Iterable[int], edges: Iterable[Shape] = (), corners: Iterable[Shape] = ()) -> None:
        """Light exactly these faces (indices), edges and corners as chosen."""
        if self._part is None or self.body is None:
            return
        self._context.ClearSelected(False)
        wanted, lines = [self.body.face(i) for i in faces if 1 <= i <= self.body.face_count], list(edges)
        self._drop("taken")
        if lines and _EDGE_MODE not in self._modes:
            self._lines(
                "taken", compound_of(lines), QColor("#E0A63C"), Aspect_TypeOfLine.Aspect_TOL_SOLID, 3.0, top=True
            )
        tips = list(corners)
        for mode, kind, shapes in ((_FACE_MODE, FACE, wanted), (_EDGE_MODE, EDGE, lines), (_CORNER_MODE, VERTEX, tips)):
            selection = self._part.Selection(mode) if shapes else None
            if selection is None:  # nothing of that kind may be picked just now
                continue
            sought = shape_map(compound_of(shapes), kind)
            for entity in selection.Entities():
                owner = cast(StdSelect_BRepOwner, entity.BaseSensitive().OwnerId())
                if sought.Contains(owner.Shape()) and not owner.IsSelected():
                    self._context.AddOrRemoveSelected(owner, False)
        self._surface.update()

    def ghost(self, faces: Iterable[int], palette: Palette) -> None:
        """Faces picked before, dashed: not what is chosen now, but what a new pick takes the place of."""
        self._drop("ghost")
        if self.body is None:
            return
        edges = [e for i in faces if 1 <= i <= self.body.face_count for e in edges_of(self.body.face(i))]
        if edges:
            ink = palette.color("brass")
            self._lines("ghost", compound_of(edges), ink, Aspect_TypeOfLine.Aspect_TOL_DASH, 3.0, top=True)

    # --- ways of looking at it
    def _pick_behind(self) -> None:
        """While what lies behind is shown, edges there can be picked through the faces in front."""
        self._context.MainSelector().SetPickClosest(not (self._hidden or self._see_through))

    def see_through(self, on: bool) -> None:
        self._see_through = on
        self._pick_behind()
        if self._part is not None:
            self._context.SetTransparency(self._part, 0.62 if on else 0.0, False)
            self._surface.update()

    def show_hidden(self, on: bool, palette: Palette) -> None:
        """Edges behind the material as dashed lines."""
        self._hidden = on
        self._pick_behind()
        self._drop("hidden")
        if on and self.body is not None:
            edges = (e for e in edges_of(self.body.shape) if self.body.edge_names(e) is not None)
            self._lines(
                "hidden", compound_of(edges), palette.color("ink"), Aspect_TypeOfLine.Aspect_TOL_DASH, 1.0, top=True
            )

    def section(self, origin: Vector | None, normal: Vector = (0.0, 1.0, 0.0)) -> None:
        """Cut the picture by a plane (None: whole again). The side the normal points to is taken away."""
        for shown in (self._part, self._extra.get("threads")):
            if self._clip is not None and shown is not None:
                shown.RemoveClipPlane(self._clip)
        self._clip = None
        self.cut = (origin, normal) if origin is not None else None
        self._drop("hatch")
        if origin is not None:
            back = gp_Dir(-normal[0], -normal[1], -normal[2])
            self._clip = Graphic3d_ClipPlane(gp_Pln(gp_Pnt(*origin), back))
            self._clip.SetCapping(True)
            self._clip.SetUseObjectMaterial(False)
            self._clip.SetCappingColor(kernel_color(QColor("#E9C893")))
            self._clip.SetOn(True)
            for shown in (self._part, self._extra.get("threads")):
                if shown is not None:
                    shown.AddClipPlane(self._clip)
        self._surface.update()

    def hatch(self, data: bytes) -> None:
        if self._clip is not None:
            self._lines("hatch", from_bytes(data), QColor("#5A3B10"), Aspect_TypeOfLine.Aspect_TOL_SOLID, 1.0)

    def threads(self, marks: Sequence[ThreadMark], surfaces: Sequence[FaceFigure]) -> None:
        """Cosmetic threads: thin rings at the thread's ends and thin lines along its minor or major diameter."""
        self._drop("threads")
        if not marks or self.body is None:
            return
        compound, builder = TopoDS_Compound(), BRep_Builder()
        builder.MakeCompound(compound)
        for mark in (m for m in marks if not m.modelled):
            for index in [i for i, names in self.body.names.items() if mark.face in names]:
                for edge in thread_lines(mark, surfaces[index - 1]):
                    builder.Add(compound, edge)
        self._lines("threads", compound, QColor("#7A5210"), Aspect_TypeOfLine.Aspect_TOL_SOLID, 1.0)

    def _lines(
        self, key: str, shape: Shape, color: QColor, kind: Aspect_TypeOfLine, width: float, top: bool = False
    ) -> None:
        self._drop(key)
        lines = AIS_Shape(shape)
        aspect = Prs3d_LineAspect(kernel_color(color), kind, width)
        drawer = lines.Attributes()
        drawer.SetWireAspect(aspect)
        drawer.SetFreeBoundaryAspect(aspect)
        drawer.SetUnFreeBoundaryAspect(aspect)
        drawer.SetSeenLineAspect(aspect)
        lines.SetWidth(width)
        lines.SetColor(kernel_color(color))
        lines.Attributes().WireAspect().SetTypeOfLine(kind)
        if top:
            lines.SetZLayer(Graphic3d_ZLayerId_Topmost)
        if key == "threads" and self._clip is not None:
            lines.AddClipPlane(self._clip)
        self._context.Display(lines, 0, -1, False)
        self._extra[key] = lines
        self._surface.update()

    def _drop(self, key: str) -> None:
        if key in self._extra:
            self._context.Remove(self._extra.pop(key), False)
            self._surface.update()


def thread_lines(mark: ThreadMark, figure: FaceFigure) -> list[Edge]:
    """Rings and side lines that show a cosmetic thread on a measured cylinder."""
    if figure.kind != "cylinder":
        return []
    near, far = reach_on(figure.span, mark.length, mark.from_high)
    start, end = (far, near) if mark.from_high else (near, far)
    radius = (mark.thread.diameter / 2) if mark.internal else mark.thread.minor_diameter / 2
    shown = figure.radius * (0.985 if mark.internal else 1.004)
    ax, origin = figure.axis, figure.origin

    def at(t: float) -> gp_Pnt:
        return gp_Pnt(*(o + t * a for o, a in zip(origin, ax, strict=True)))

    made = []
    turns = max(2, min(40, round(abs(end - start) / mark.thread.pitch)))
    for k in range(turns + 1):
        t = start + (end - start) * k / turns
        made.append(BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(at(t), gp_Dir(*ax)), shown)).Edge())
    if math.isfinite(radius):
        made.append(BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(at(start), gp_Dir(*ax)), radius)).Edge())
    return made
