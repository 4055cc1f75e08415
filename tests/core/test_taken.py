"""Measuring by picking: what one or two things are, and how they lie, against closed form."""

import itertools
import math

import pytest
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeVertex
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakeSphere,
    BRepPrimAPI_MakeTorus,
)
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pnt

from lathed_solid.core.job import edits, reading, storage
from lathed_solid.core.job.edits import EditRefused
from lathed_solid.core.job.measures import as_callout, bound_to, kept_on
from lathed_solid.core.job.model import Job, Kept
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.surveying import standing_of
from lathed_solid.core.kernel.ground.topology import faces
from lathed_solid.core.kernel.measure.repeats import pattern
from lathed_solid.core.kernel.measure.surfaces import measure_face
from lathed_solid.core.kernel.measure.taken import measured
from lathed_solid.core.route.model import CornerRef, FaceRef
from lathed_solid.core.route.rebuild import Cache, rebuild
from lathed_solid.core.route.steps.datum import DatumPlane

from .strangers.bench import Bench
from .strangers.milled import bolt_ring_cover, rack_row

S2, S3 = math.sqrt(2), math.sqrt(3)
EXACT = {"rel": 1e-9, "abs": 1e-9}


def face(shape, kind, nth=0):
    """The nth face of a kind, in the kernel's order."""
    return [f for f in faces(shape) if measure_face(f).kind == kind][nth]


def flat(normal, at):
    """The face of a box 10 x 20 x 30 that looks that way, its box begun at ``at``."""
    box = BRepPrimAPI_MakeBox(gp_Pnt(*at), 10, 20, 30).Shape()
    return next(f for f in faces(box) if math.dist(measure_face(f).axis, normal) < 1e-12)


def rod(radius, at=(0, 0, 0), way=(0, 0, 1), long=40.0):
    return face(BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(*at), gp_Dir(*way)), radius, long).Shape(), "cylinder")


def ball(radius, at):
    return face(BRepPrimAPI_MakeSphere(gp_Pnt(*at), radius).Shape(), "sphere")


def cone(low, high, long, at=(0, 0, 0), way=(0, 0, 1)):
    return face(BRepPrimAPI_MakeCone(gp_Ax2(gp_Pnt(*at), gp_Dir(*way)), low, high, long).Shape(), "cone")


def line(a, b):
    return BRepBuilderAPI_MakeEdge(gp_Pnt(*a), gp_Pnt(*b)).Edge()


def circle(radius, at=(0, 0, 0), way=(0, 0, 1), turn=2 * math.pi):
    return BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(gp_Pnt(*at), gp_Dir(*way)), radius), 0, turn).Edge()


def corner(*at):
    return BRepBuilderAPI_MakeVertex(gp_Pnt(*at)).Vertex()


X, Y, Z = (1, 0, 0), (0, 1, 0), (0, 0, 1)
TOP, BOTTOM = flat(Z, (0, 0, 0)), flat((0, 0, -1), (0, 0, 0))
RIGHT, LEFT, BACK = flat(X, (0, 0, 0)), flat((-1, 0, 0), (0, 0, 0)), flat(Y, (0, 0, 0))

ONE = [
    (TOP, {"area": 200, "face, Z": 30}),
    (RIGHT, {"area": 600, "face, X": 10}),
    (rod(4, (1, 2, 3)), {"diameter": 8, "radius": 4, "length": 40, "area": 2 * math.pi * 4 * 40, "axis, X": 1,
                         "axis, Y": 2}),
    (rod(4, (1, 2, 3), X, 7), {"diameter": 8, "length": 7, "axis, Y": 2, "axis, Z": 3}),
    (cone(10, 6, 8), {"included angle": 2 * math.atan(0.5), "half angle": math.atan(0.5),
                      "diameter at the wide end": 20, "diameter at the narrow end": 12, "length along the axis": 8,
                      "area": math.pi * 16 * math.hypot(4, 8)}),
    (ball(5, (7, 8, 9)), {"diameter of the ball": 10, "radius": 5, "area": 100 * math.pi, "centre, X": 7,
                          "centre, Y": 8, "centre, Z": 9}),
    (face(BRepPrimAPI_MakeTorus(20, 3).Shape(), "torus"), {"radius": 3, "diameter of its middle circle": 40,
                                                           "area": 4 * math.pi**2 * 60}),
    (line((0, 0, 0), (3, 4, 12)), {"length": 13}),
    (circle(6, (1, 2, 3)), {"diameter": 12, "radius": 6, "length of the edge": 12 * math.pi, "centre, Z": 3}),
    (circle(6, turn=math.pi / 3), {"radius": 6, "turns through": math.pi / 3, "chord": 6,
                                   "length of the edge": 2 * math.pi}),
    (corner(1, -2, 3), {"corner, X": 1, "corner, Y": -2, "corner, Z": 3}),
]  # fmt: skip

TWO = [
    # faces of boxes
    (TOP, BOTTOM, {"wall between": 30, "along Z": 30, "nearest": 30, "farthest": math.sqrt(100 + 400 + 900)}),
    (RIGHT, LEFT, {"wall between": 10, "along X": 10, "nearest": 10}),
    (TOP, flat((0, 0, -1), (0, 0, 45)), {"clear between": 15, "along Z": 15, "nearest": 15}),
    (TOP, flat(Z, (0, 0, 5)), {"one below the other": 5, "along Z": 5}),
    (TOP, RIGHT, {"angle": math.pi / 2, "half the angle": math.pi / 4, "the rest to 180°": math.pi / 2, "nearest": 0}),
    (LEFT, flat((-1, 0, 0), (-25, 0, 0)), {"one below the other": 25}),
    (BACK, flat((0, -1, 0), (50, 60, 0)), {"clear between": 40, "along Y": 40, "nearest": math.hypot(40, 40)}),
    # round against flat
    (TOP, rod(4, (5, -30, 40), X), {"axis from the face": 10, "along Z": 10, "between the near sides": 6,
                                    "over the far sides": 14, "nearest": math.hypot(30 - 4 * 30 / math.hypot(30, 10),
                                    10 - 4 * 10 / math.hypot(30, 10))}),
    (TOP, rod(4, (5, 5, 50)), {"angle": math.pi / 2, "nearest": 20}),
    (RIGHT, rod(4, (40, 5, 0)), {"axis from the face": 30, "along X": 30, "between the near sides": 26,
                                 "over the far sides": 34, "nearest": 26}),
    (RIGHT, rod(3, (40, 5, 5), (1, 0, 1)), {"angle": math.pi / 4, "half the angle": math.pi / 8}),
    (TOP, ball(5, (5, 10, 50)), {"centre from the face": 20, "along Z": 20, "between the near sides": 15,
                                 "over the far sides": 25, "nearest": 15}),
    (TOP, corner(5, 10, 42), {"corner from the face": 12, "along Z": 12, "nearest": 12}),
    (TOP, line((0, 5, 36), (9, 5, 36)), {"edge from the face": 6, "along Z": 6, "nearest": 6}),
    (TOP, line((5, 5, 40), (5, 5, 60)), {"angle": math.pi / 2, "nearest": 10}),
    (TOP, line((5, 5, 40), (6, 5, 40 + S3)), {"angle": math.pi / 3}),
    (TOP, circle(3, (5, 10, 37)), {"angle": math.pi / 2, "nearest": 7}),
    (RIGHT, circle(3, (30, 10, 15)), {"axis from the face": 20, "along X": 20, "nearest": 17}),
    # round against round
    (rod(4), rod(3, (10, 0, 0)), {"between the axes": 10, "along X": 10, "along Y": 0, "between the near sides": 3,
                                  "over the far sides": 17, "nearest": 3}),
    (rod(4), rod(3, (6, 8, 0)), {"between the axes": 10, "along X": 6, "along Y": 8, "nearest": 3}),
    (rod(10), rod(4, (0, 0, 0)), {"between the axes": 0, "difference of the radii": 6}),
    (rod(2, (0, 0, 0)), rod(2, (0, 25, 10), X), {"between the axes, where they pass": 25, "angle": math.pi / 2,
                                                 "along Y": 25, "nearest": 21}),
    (rod(1), rod(1, (0, 12, 5), (1, 0, S3)), {"between the axes, where they pass": 12, "angle": math.pi / 6,
                                             "the rest to 180°": 5 * math.pi / 6}),
    (rod(4), ball(2, (0, 15, 20)), {"centre from the axis": 15, "between the near sides": 9, "over the far sides": 21,
                                    "nearest": 9}),
    (rod(4), corner(12, 5, 20), {"corner from the axis": 13, "nearest": 9}),
    (rod(4), line((10, 0, 0), (10, 0, 9)), {"between the axis and edge": 10, "nearest": 6}),
    (rod(4), line((10, 0, 5), (10, 9, 5)), {"between the axis and edge, where they pass": 10, "angle": math.pi / 2}),
    (rod(4), cone(10, 6, 8, (30, 0, 0)), {"between the axes": 30, "along X": 30}),
    (cone(5, 3, 8), cone(5, 3, 8, (0, 0, 20), (0, 1, 0)), {"between the axes, where they pass": 0,
                                                           "angle": math.pi / 2}),
    (ball(3, (0, 0, 0)), ball(4, (2, 10, 11)), {"between the centres": 15, "along X": 2, "along Y": 10, "along Z": 11,
                                                "between the near sides": 8, "over the far sides": 22, "nearest": 8}),
    (ball(3, (0, 0, 0)), ball(5, (0, 0, 0)), {"between the centres": 0, "difference of the radii": 2}),
    (ball(3, (0, 0, 0)), corner(2, 3, 6), {"between the places": 7, "nearest": 4}),
    (face(BRepPrimAPI_MakeTorus(20, 3).Shape(), "torus"), rod(4, (9, 0, 0)), {"between the axes": 9}),
    (face(BRepPrimAPI_MakeTorus(20, 3).Shape(), "torus"), TOP, {"angle": math.pi / 2}),
    # edges and corners
    (circle(5), circle(5, (0, 0, 18)), {"between the axes": 0, "difference of the radii": 0, "nearest": 18}),
    (circle(5), circle(3, (20, 21, 0)), {"between the axes": 29, "along X": 20, "along Y": 21, "over the far sides": 37,
                                         "nearest": 21}),
    (circle(5), circle(3, (0, 40, 0), Y), {"between the axes, where they pass": 0, "angle": math.pi / 2}),
    (circle(5), corner(0, 13, 0), {"corner from the axis": 13, "nearest": 8}),
    (circle(5), line((0, 9, 0), (0, 9, 9)), {"between the axis and edge": 9, "nearest": 4}),
    (line((0, 0, 0), (10, 0, 0)), line((0, 5, 12), (10, 5, 12)), {"between the edges": 13, "along Y": 5, "along Z": 12,
                                                                  "nearest": 13, "farthest": math.sqrt(269)}),
    (line((0, 0, 0), (10, 0, 0)), line((5, 3, -4), (5, 3, 9)), {"between the edges, where they pass": 3,
                                                                "angle": math.pi / 2, "nearest": 3}),
    (line((0, 0, 0), (10, 0, 0)), line((0, 0, 0), (5, 5, 0)), {"angle": math.pi / 4, "nearest": 0}),
    (line((0, 0, 0), (10, 0, 0)), corner(4, 3, 4), {"corner from the edge": 5, "nearest": 5}),
    (corner(1, 2, 3), corner(3, 5, 9), {"between the places": 7, "along X": 2, "along Y": 3, "along Z": 6}),
    (corner(0, 0, 0), BOTTOM, {"corner from the face": 0, "nearest": 0, "farthest": math.hypot(10, 20)}),
]  # fmt: skip


def figures(*shapes):
    return {t.what: t.value for t in measured(shapes)}


@pytest.mark.parametrize(("shape", "closed"), ONE)
def test_what_one_thing_is(shape, closed):
    found = figures(shape)
    for what, value in closed.items():
        assert found[what] == pytest.approx(value, **EXACT), what


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize(("a", "b", "closed"), TWO)
def test_how_two_things_lie_whichever_was_picked_first(a, b, closed, turned):
    found = figures(b, a) if turned else figures(a, b)
    for what, value in closed.items():
        assert found[what] == pytest.approx(value, rel=1e-9, abs=1e-7 if what == "nearest" else 1e-9), what


def test_there_are_enough_pairings_and_what_is_said_lies_where_it_is_said():
    assert 2 * len(TWO) >= 80
    for a, b, _ in TWO:
        for t in measured((a, b)):
            if t.ends is not None and t.kind == "length":
                assert math.dist(*t.ends) == pytest.approx(t.value, rel=1e-7, abs=1e-6), t.what


def test_along_the_machines_axes_from_its_zero():
    axes, zero = ((0.0, 1.0, 0.0), (-1.0, 0.0, 0.0), (0.0, 0.0, 1.0)), (10.0, 20.0, 30.0)
    a, b = corner(10, 20, 30), corner(13, 27, 31)
    assert [t.value for t in measured((b,), axes, zero)] == pytest.approx([7, -3, 1])
    found = {t.what: t.value for t in measured((a, b), axes, zero)}
    assert [found[f"along {k}"] for k in "XYZ"] == pytest.approx([7, 3, 1])


def test_one_of_a_bolt_circle_and_of_a_row():
    b, _ = bolt_ring_cover()
    surfaces = build_and_prove(b.content).result.body.measured
    (hole, *_) = [s for s in surfaces if s.kind == "cylinder" and abs(s.radius - 3.3) < 1e-9]
    found = pattern(hole, surfaces)
    assert (found.many, found.pitch) == (6, None)
    assert found.circle == pytest.approx(70)
    rim = next(s for s in surfaces if s.kind == "cylinder" and abs(s.radius - 45) < 1e-9)
    assert pattern(rim, surfaces) is None
    rods = [measure_face(rod(2, (12.5 * k, 5.0 * k, 0))) for k in range(4)]
    found = pattern(rods[1], rods)
    assert (found.many, found.circle) == (4, None)
    assert found.pitch == pytest.approx(math.hypot(12.5, 5))
    assert pattern(rods[0], rods[:1]) is None


def test_a_figure_becomes_a_callout_only_with_the_gauge_that_reads_it():
    """Two bores 30 along X and 40 along Y apart: no gauge between their axes reads 30, so a callout of that is not bound,
    and would not be marked out with 50.
    """
    b = Bench("100", "80", "10")
    plate = b.block("rect #1 x #2", depth="#3")
    holes = [b.hole(f"{plate}/end", x=x, y=y, diameter="6") for x, y in (("-15", "-20"), ("15", "20"))]
    body = build_and_prove(b.content).result.body
    picked = [(f"{h}/0/side", body.measured[body.find(f"{h}/0/side")[0] - 1]) for h in holes]
    found = {t.what: t for t in measured([body.face(s.index) for _, s in picked])}
    content, (number, bound) = as_callout(b.content, found["between the axes"], picked)
    assert bound
    assert next(x for x in build_and_prove(content).proof.lines if x.number == number).mark == "in"
    content, (number, bound) = as_callout(b.content, found["along X"], picked)
    assert not bound
    line = next(x for x in build_and_prove(content).proof.lines if x.number == number)
    assert (line.note, line.mark) == ("30", "open")
    with pytest.raises(EditRefused, match="No gauge reads “along X”"):
        bound_to(content, [line], number, found["along X"], picked)


def test_nothing_is_said_of_free_faces_but_how_near_they_are():
    b, _ = rack_row()
    every = faces(build_and_prove(b.content).result.body.shape)
    for one, two in itertools.combinations(every[:8], 2):
        assert all(t.value >= 0 for t in measured((one, two)) if t.kind != "place")


def test_what_was_kept_between_a_corner_and_a_plane_of_a_step_is_there_after_saving_and_follows_the_part():
    bench = Bench("60", "40", "10", "25")
    bench.block("rect #1 x #2", depth="#3")
    plane = bench.step(DatumPlane, by="offset", face=FaceRef("s1/end"), offset="#4")
    corner = CornerRef("s1/end", "s1/l1/side", "s1/l2/side")
    kept = Kept(id="", what="corner from the plane", faces=(FaceRef(f"{plane}/plane"),), corners=(corner,))
    content = reading.keep(bench.content, kept)
    again = storage.decode(storage.to_json(Job(content=content)), "part").job.content
    assert again.kept == content.kept and again.kept[0].corners == (corner,)
    for changed, apart in ((again, 25.0), (edits.edit_callout(again, 4, "31"), 31.0)):
        result = rebuild(changed.plan(), Cache())
        found = kept_on(changed.kept[0], result, standing_of(changed, result.body))
        assert found.value == pytest.approx(apart, **EXACT)
    gone = edits.change_step(again, plane, suppressed=True)
    result = rebuild(gone.plan(), Cache())
    assert kept_on(gone.kept[0], result, standing_of(gone, result.body)) is None
