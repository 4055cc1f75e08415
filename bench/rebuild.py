"""Rebuilding SKP-02 after a change of its first or last step, against the same kernel calls made bare.

The bare run makes just the shapes: no names, no checks, no cache. It is given the solids
that the steps before had made, as the cache gives them to us.
"""

from __future__ import annotations

import math
import statistics
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.settle import settle
from lathed_solid.core.job.storage import load
from lathed_solid.core.route.making.revolve import SEAM_ANGLE
from lathed_solid.core.route.rebuild import Cache, rebuild

from .row import Row

XY = tuple[float, float]
XYZ = tuple[float, float, float]
EXAMPLE = Path(__file__).parents[1] / "examples" / "skp-02.lathed"
TIMES = 9


def run() -> list[Row]:
    content = load(EXAMPLE).job.content
    bare = Bare()
    rows = []
    for name, change, rerun in (
        ("rebuild, last step changed", lambda k: keyway(content, 5 + 0.01 * k), bare.last),
        ("rebuild, first step changed", lambda k: rim(content, 118 + 0.01 * k), bare.all),
    ):
        cache = Cache()
        rebuild(content.plan(), cache)
        ours, reference, ran = measured(cache, change, rerun)
        rows.append(Row(name, ours, reference, ours / reference, "ms (ratio, aim 1.2)"))
        rows.append(Row(f"{name}: steps that ran", ran, 10 if "first" in name else 1, 1.0, "steps"))
    cache = Cache()
    rebuild(content.plan(), cache)
    ran = 0

    def count(_: object) -> None:
        nonlocal ran
        ran += 1

    begun = time.perf_counter()
    rebuild(content.plan(), cache, starting=count)
    idle = 1000 * (time.perf_counter() - begun)
    rows.append(Row("rebuild, nothing changed: steps that ran", ran, 0, 0.0, f"steps ({idle:.2f} ms)"))
    return rows


def measured(
    cache: Cache, change: Callable[[int], Content], bare: Callable[[int], object]
) -> tuple[float, float, float]:
    """Medians of ours and the bare run in turn, so that a busy machine troubles both alike."""
    ours, reference, ran = [], [], 0
    for k in range(1, TIMES + 1):
        plan = change(k).plan()
        begun = time.perf_counter()
        ran = 0

        def count(_: object) -> None:
            nonlocal ran
            ran += 1

        rebuild(plan, cache, starting=count)
        ours.append(1000 * (time.perf_counter() - begun))
        begun = time.perf_counter()
        bare(k)
        reference.append(1000 * (time.perf_counter() - begun))
    return statistics.median(ours), statistics.median(reference), ran


def keyway(content: Content, width: float) -> Content:
    return settle(edits.edit_callout(content, 14, f"{width:.4f}")).content


def rim(content: Content, diameter: float) -> Content:
    return settle(edits.edit_callout(content, 1, f"Ø{diameter:.4f}")).content


class Bare:
    """SKP-02 by bare kernel calls."""

    def __init__(self) -> None:
        self._before_last: Any = self._steps(118.0)

    def all(self, k: int) -> Any:
        return self._keyway(self._steps(118 + 0.01 * k), 5.0)

    def last(self, k: int) -> Any:
        return self._keyway(self._before_last, 5 + 0.01 * k)

    def _steps(self, rim: float) -> Any:
        from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
        from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet

        # The seam stands where ours does; a seam inside the keyway would be another shape to cut.
        body = self._turn(
            [(0, 0), (rim / 2, 0), (rim / 2, 9), (54, 9), (54, 13), (21, 13), (21, 28), (0, 28)], seam=SEAM_ANGLE
        )
        body = self._cut(body, [self._turn([(0, 0), (10, 0), (10, 29), (0, 29)])])
        chamfer = BRepFilletAPI_MakeChamfer(body)
        for edge in self._circles(body, 10, (0, 28)):
            chamfer.Add(0.8, edge)
        chamfer.Build()
        fillet = BRepFilletAPI_MakeFillet(chamfer.Shape())
        for edge in self._circles(chamfer.Shape(), 21, (13,)):
            fillet.Add(2.0, edge)
        fillet.Build()
        body = fillet.Shape()
        seat: list[XY] = [(0, 0), (5, 0), (5, 5.4), (2.75, 5.4), (2.75, 29), (0, 29)]
        plain: list[XY] = [(0, 0), (9, 0), (9, 29), (0, 29)]
        for radius, first, shape in ((49, 0.0, seat), (33, math.pi / 6, plain)):
            tool = self._turn(shape, (radius * math.cos(first), radius * math.sin(first), 0))
            body = self._cut(body, [tool])
            copies = [BRepBuilderAPI_Transform(tool, self._about(k * math.pi / 3), True).Shape() for k in range(1, 6)]
            body = self._cut(body, copies)
        radial = self._turn([(0, 0), (2.1, 0), (2.1, 21), (0, 21)], (-21, 0, 21), (1, 0, 0))
        return self._cut(body, [radial])

    @staticmethod
    def _cut(body: Any, tools: list[Any]) -> Any:
        from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
        from OCP.collections import List_TopoDS_Shape

        operation, arguments, listed = BRepAlgoAPI_Cut(), List_TopoDS_Shape(), List_TopoDS_Shape()
        arguments.Append(body)
        for tool in tools:
            listed.Append(tool)
        operation.SetArguments(arguments)
        operation.SetTools(listed)
        operation.SetRunParallel(True)
        operation.Build()
        return operation.Shape()

    def _keyway(self, body: Any, width: float) -> Any:
        from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon
        from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
        from OCP.gp import gp_Pnt, gp_Vec

        polygon = BRepBuilderAPI_MakePolygon()
        for x, y in ((0, -width / 2), (12.3, -width / 2), (12.3, width / 2), (0, width / 2)):
            polygon.Add(gp_Pnt(x, y, -1))
        polygon.Close()
        face = BRepBuilderAPI_MakeFace(polygon.Wire(), True).Face()
        return self._cut(body, [BRepPrimAPI_MakePrism(face, gp_Vec(0, 0, 30)).Shape()])

    @staticmethod
    def _about(angle: float) -> Any:
        from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf

        turn = gp_Trsf()
        turn.SetRotation(gp_Ax1(gp_Pnt(), gp_Dir(0, 0, 1)), angle)
        return turn

    @staticmethod
    def _turn(outline: list[XY], origin: XYZ = (0, 0, 0), axis: XYZ = (0, 0, 1), seam: float = 0.0) -> Any:
        """A revolve of (radius, height) about an axis."""
        from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon
        from OCP.BRepPrimAPI import BRepPrimAPI_MakeRevol
        from OCP.gp import gp_Ax1, gp_Ax2, gp_Dir, gp_Pnt

        frame = gp_Ax2(gp_Pnt(*origin), gp_Dir(*axis))
        frame.Rotate(frame.Axis(), seam)
        x = frame.XDirection()
        radial = (x.X(), x.Y(), x.Z())
        polygon = BRepBuilderAPI_MakePolygon()
        for r, h in outline:
            polygon.Add(gp_Pnt(*(o + r * a + h * b for o, a, b in zip(origin, radial, axis, strict=True))))
        polygon.Close()
        face = BRepBuilderAPI_MakeFace(polygon.Wire(), True).Face()
        return BRepPrimAPI_MakeRevol(face, gp_Ax1(gp_Pnt(*origin), gp_Dir(*axis))).Shape()

    @staticmethod
    def _circles(body: Any, radius: float, heights: tuple[float, ...]) -> list[Any]:
        """Circular edges of a radius at heights, as a bare program would search them."""
        from OCP.BRepAdaptor import BRepAdaptor_Curve
        from OCP.GeomAbs import GeomAbs_CurveType
        from OCP.TopAbs import TopAbs_ShapeEnum
        from OCP.TopExp import TopExp_Explorer
        from OCP.TopoDS import TopoDS

        found: list[Any] = []
        walk = TopExp_Explorer(body, TopAbs_ShapeEnum.TopAbs_EDGE)
        while walk.More():
            edge = TopoDS.Edge(walk.Current())
            walk.Next()
            curve = BRepAdaptor_Curve(edge)
            if curve.GetType() != GeomAbs_CurveType.GeomAbs_Circle or abs(curve.Circle().Radius() - radius) > 1e-6:
                continue
            z = curve.Circle().Location().Z()
            if any(abs(z - h) < 1e-6 for h in heights) and not any(edge.IsSame(e) for e in found):
                found.append(edge)
        return found
