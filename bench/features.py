"""Threads, hole patterns and long routes against bare kernel calls in the same process."""

from __future__ import annotations

import math
import statistics
import time
from collections.abc import Callable
from typing import Any

from lathed_solid.core.callout import Ledger
from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.rebuild import Cache, rebuild
from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.sketch.model import Plane, Sketch
from lathed_solid.core.sketch.typed.commands import read_command

from .row import Row, median_ms

EMPTY = Ledger([])
TOP = FaceRef("s1/end")


def run() -> list[Row]:
    return [_thread(), *_counterbores(), _last_of_sixty()]


# --- a modelled thread
def _thread() -> Row:
    """M12x1.75, 30 long: ours against a 60° groove swept along the helix and cut from the blank."""
    from OCP.BRepCheck import BRepCheck_Analyzer

    from lathed_solid.core.kernel.form.helicoid import Piece, threaded_rod
    from lathed_solid.core.kernel.ground.geometry import Frame
    from lathed_solid.core.standards.thread_profiles import profile
    from lathed_solid.core.standards.threads import parse_designation

    thread = parse_designation("M12x1.75")
    frame = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    section = [Piece(*p) for p in profile(thread, 6.0, False, past=0.0)]
    ours = median_ms(lambda: threaded_rod(frame, section, 1.75, 0.0, 30.0))
    sound = BRepCheck_Analyzer(threaded_rod(frame, section, 1.75, 0.0, 30.0).solid).IsValid()
    begun = time.perf_counter()
    _naive_thread()
    reference = 1000 * (time.perf_counter() - begun)
    unit = f"ms (1/{reference / ours:.0f} of the naive cut, aim 1/40; sound: {sound})"
    return Row("modelled M12x1.75, 30 long", ours, reference, ours / reference, unit)


def _naive_thread() -> Any:
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakePolygon, BRepBuilderAPI_MakeWire
    from OCP.BRepLib import BRepLib
    from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipeShell
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder
    from OCP.Geom import Geom_CylindricalSurface
    from OCP.Geom2d import Geom2d_Line
    from OCP.gp import gp_Ax2, gp_Ax3, gp_Dir, gp_Dir2d, gp_Pnt, gp_Pnt2d

    pitch, radius, length = 1.75, 6.0, 30.0
    surface = Geom_CylindricalSurface(gp_Ax3(), radius)
    line = Geom2d_Line(gp_Pnt2d(0.0, 0.0), gp_Dir2d(2 * math.pi, pitch))
    whole = math.hypot(2 * math.pi, pitch) * length / pitch
    edge = BRepBuilderAPI_MakeEdge(line, surface, 0.0, whole).Edge()
    BRepLib.BuildCurves3d_s(edge)
    spine = BRepBuilderAPI_MakeWire(edge).Wire()
    depth = 0.6134345 * pitch
    half = (depth + 0.1) * math.tan(math.radians(30)) + pitch / 8
    polygon = BRepBuilderAPI_MakePolygon()
    for r, z in (
        (radius + 0.1, -half),
        (radius - depth, -pitch / 8),
        (radius - depth, pitch / 8),
        (radius + 0.1, half),
    ):
        polygon.Add(gp_Pnt(r, 0.0, z))
    polygon.Close()
    pipe = BRepOffsetAPI_MakePipeShell(spine)
    pipe.SetMode(True)
    pipe.Add(polygon.Wire())
    pipe.Build()
    pipe.MakeSolid()
    blank = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(), gp_Dir(0, 0, 1)), radius, length).Shape()
    return BRepAlgoAPI_Cut(blank, pipe.Shape()).Shape()


# --- a hundred counterbored holes
def _sketch(id_: str, *texts: str) -> Sketch:
    sketch = Sketch(id=id_, name=id_, plane=Plane("end"))
    for text in texts:
        sketch = settle_sketch(read_command(text, EMPTY, False, sketch).draw(sketch, ()), EMPTY)
    return sketch


def _plate() -> Content:
    content = Content(
        sketches=(
            _sketch("k1", "rect 200 x 200 at 100,100"),
            _sketch("k2", "point 10,10", "grid 10 x 20 by 10 x 20 of p1"),
        )
    )
    plate = Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="20", direction="backward")
    return edits.add_step(content, plate)


def _hole(depth: float) -> Hole:
    return Hole(
        id="s2", face=TOP, placement="sketch", sketch="k2", diameter="5", seat="counterbore", seat_diameter="10",
        seat_depth=f"{depth}",
    )  # fmt: skip


def _counterbores() -> list[Row]:
    from lathed_solid.core.kernel.form.sweep import turned_tool
    from lathed_solid.core.kernel.ground.geometry import Frame

    base, cache = _plate(), Cache()
    plate = rebuild(base.plan(), cache).body
    assert plate is not None
    shape = plate.shape

    def ours(k: int) -> object:
        return rebuild(edits.add_step(base, _hole(5 + 0.01 * k)).plan(), cache)

    def bare(k: int) -> object:
        from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform

        from lathed_solid.core.kernel.ground.placing import shifting

        d = 5 + 0.01 * k
        frame = Frame((10.0, 10.0, 0.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0))
        tool = turned_tool([(0, 0), (5, 0), (5, d), (2.5, d), (2.5, 21), (0, 21)], list("abcde"), frame, "t").shape
        spots = [(20.0 * i, 20.0 * j, 0.0) for i in range(10) for j in range(10)]
        return _bare_cut(shape, [BRepBuilderAPI_Transform(tool, shifting(s), True).Shape() for s in spots])

    mine, theirs = _in_turn(ours, bare, 5)
    unit = "ms (ratio, aim 1.3; ours names 306 faces, measures the volume and checks the solid)"
    return [Row("100 counterbored holes", mine, theirs, mine / theirs, unit)]


def _bare_cut(body: Any, tools: list[Any]) -> Any:
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut

    from lathed_solid.core.kernel.ground.topology import shape_list

    operation = BRepAlgoAPI_Cut()
    operation.SetArguments(shape_list([body]))
    operation.SetTools(shape_list(tools))
    operation.SetRunParallel(True)
    operation.Build()
    return operation.Shape()


# --- the last of sixty steps
def _last_of_sixty() -> Row:
    from lathed_solid.core.kernel.form.sweep import turned_tool
    from lathed_solid.core.kernel.ground.geometry import Frame

    content, cache = _plate(), Cache()
    for k in range(58):
        x, y = 12 + 18 * (k % 10), 12 + 18 * (k // 10)
        content = edits.add_step(
            content, Hole(id=f"h{k}", face=TOP, placement="point", x=str(x), y=str(y), diameter="6")
        )
    body = rebuild(content.plan(), cache).body
    assert body is not None

    def last(k: int) -> Hole:
        return Hole(id="last", face=TOP, placement="point", x="190", y="190", diameter=f"{8 + 0.01 * k}")

    def ours(k: int) -> object:
        return rebuild(edits.add_step(content, last(k)).plan(), cache)

    def bare(k: int) -> object:
        frame = Frame((190.0, 190.0, 0.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0))
        r = 4 + 0.005 * k
        return _bare_cut(body.shape, [turned_tool([(0, 0), (r, 0), (r, 21), (0, 21)], list("abc"), frame, "t").shape])

    mine, theirs = _in_turn(ours, bare, 7)
    return Row("60 steps, the last one changed", mine, theirs, mine / theirs, "ms (ratio, aim 1.2)")


def _in_turn(ours: Callable[[int], object], bare: Callable[[int], object], times: int) -> tuple[float, float]:
    """Medians of both, run in turn so that a busy machine troubles both alike."""
    mine: list[float] = []
    theirs: list[float] = []
    for k in range(1, times + 1):
        for found, call in ((mine, ours), (theirs, bare)):
            begun = time.perf_counter()
            call(k)
            found.append(1000 * (time.perf_counter() - begun))
    return statistics.median(mine), statistics.median(theirs)
