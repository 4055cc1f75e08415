"""Gauges on solids of known size, and what they say when they cannot be read."""

import math

import msgspec
import pytest

from lathed_solid.core.job import edits
from lathed_solid.core.job.settle import set_stations, settle
from lathed_solid.core.prove.measure import read
from lathed_solid.core.prove.plate import SurfacePlate, Unmeasurable
from lathed_solid.core.route import gauges as g
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import EdgeRef, FaceRef
from lathed_solid.core.route.rebuild import rebuild
from lathed_solid.core.route.steps.edges import Chamfer, Fillet
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.thread import Thread
from lathed_solid.core.sketch.make import draw
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.model import Plane, Station

from .test_route import turned, with_steps

OD, START, END = "s1/a.od/side", "s1/start/side", "s1/a.end/side"


@pytest.fixture(scope="module")
def plate():
    """A Ø40 x 50 bar with a taper, holes every way, a flat, edges and threads."""
    content = turned(
        Station(id="a", to="50", diameter="40", left="2 x 30°"), Station(id="b", to="80", diameter="30", diameter2="20")
    )
    content = with_steps(
        content,
        (Hole, {"face": FaceRef(START), "thread": "M8", "extent": "depth", "depth": "20", "thread_depth": "15"}),
        (Hole, {"face": FaceRef(OD), "placement": "radial", "along": "30", "angle": "50°", "diameter": "5", "extent": "depth", "depth": "9", "tip": ""}),
        (Hole, {"face": FaceRef(START), "placement": "circle", "circle": "28", "angle": "20°", "diameter": "4"}),
        (Ring, {"of": ("s4",), "count": "5", "total": "200°"}),
        (Chamfer, {"edges": (EdgeRef(END, OD),), "size": "1.5", "angle": "60°"}),
        (Fillet, {"edges": (EdgeRef("s1/b.end/side", "s1/b.od/side"),), "radius": "1"}),
        (Hole, {"face": FaceRef("s1/b.end/side"), "diameter": "6", "seat": "countersink", "seat_diameter": "9", "seat_angle": "82°",
                "extent": "depth", "depth": "12"}),
    )  # fmt: skip
    content, k = edits.add_sketch(content, "flat", Plane("side", angle="90°"))
    content = edits.set_sketch(content, draw.add_rectangle(content.sketch(k), Spot(15, 17), Spot(25, 30)))
    content, _ = edits.with_step(content, Extrude, sketch=k)
    result = rebuild(settle(content).content.plan())
    assert all(r.state == "done" for r in result.reports), result.reports
    return SurfacePlate(result.body, result.marks)


FLAT = "s9/l1/side"
SIZES = [
    (g.Diameter(OD), 40),
    (g.DiameterAt("s1/b.od/side", END), 30),
    (g.DiameterAt("s1/b.od/side", "s1/b.end/side"), 20),
    (g.Radius("s7/e0/side"), 1),
    (g.Between(START, END), 50),
    (g.Between(FLAT, OD), 3),
    (g.Between(OD, FLAT, True), 37),
    (g.Between("s3/0/side", OD), 0),
    (g.Between("s4/0/side", "s5/1/s4/0/side"), 28 * math.sin(math.radians(25))),
    (g.Leg("s1/a.left/side"), 2),
    (g.LegAngle("s1/a.left/side"), math.radians(30)),
    (g.Leg("s6/e0/side", END), 1.5),
    (g.LegAngle("s6/e0/side", END), math.radians(60)),
    (g.SeatAngle("s8/0/sink"), math.radians(82)),
    (g.SeatAngle("s2/0/tip"), math.radians(118)),
    (g.WidestCircle("s8/0/sink"), 9),
    (g.Depth("s2/0/side", START), 20),
    (g.Depth("s3/0/side", OD), 9),
    (g.Depth("s8/0/side", "s1/b.end/side"), 12),
    (g.AxisFrom("s3/0/side", START), 30),
    (g.CircleThrough("s4/0/side"), 28),
    (g.AxisAngle("s4/0/side"), math.radians(20)),
    (g.AxisAngle("s5/4/s4/0/side"), math.radians(-140)),
    (g.AxisAngle("s3/0/side"), math.radians(50)),
    (g.AxisAngle(FLAT), math.radians(90)),
    (g.OpenEnds("s4/0/side"), 2),
    (g.OpenEnds("s3/0/side"), 1),
    (g.OpenEnds("s2/0/side"), 1),
    (g.ThreadOn("s2/0/side"), 8),
    (g.ThreadDepth("s2/0/side"), 15),
]


@pytest.mark.parametrize(("gauge", "size"), SIZES, ids=lambda v: str(v)[:60])
def test_gauges_read_the_solid(plate, gauge, size):
    found = read(plate, gauge)
    assert found.values[0] == pytest.approx(size, abs=1e-7)
    assert found.faces


WRONG = [
    (g.Diameter(START), "measured on a round face or a ball; the face there is a flat face"),
    (g.Diameter("s9/none"), "is not on the finished part"),
    (g.Radius(START), "measured on a round edge"),
    (g.Between(START, FLAT), "not parallel"),
    (g.Between(START, OD), "not parallel to the axis"),
    (g.AxisFrom(OD, START), "not parallel to the face"),
    (g.CircleThrough("s3/0/side"), "not parallel to the turning axis"),
    (g.WidestCircle("s9/none"), "is not on the finished part"),
    (g.Count("s4/0/side", ("s3/0/side",)), "not all of one size"),
    (g.ThreadOn(OD), "carries no thread"),
    (g.ThreadDepth(OD), "carries no thread"),
    (g.Depth(START, OD), "measured on a round face"),
    (g.Between(OD, OD), "the same face"),
]


@pytest.mark.parametrize(("gauge", "words"), WRONG, ids=lambda v: str(v)[:60])
def test_gauges_say_why_they_cannot_be_read(plate, gauge, words):
    with pytest.raises(Unmeasurable, match=words):
        read(plate, gauge)


def test_uneven_spacing_is_noticed():
    holes = [
        (Hole, {"face": FaceRef(START), "placement": "circle", "circle": "28", "angle": f"{a}°", "diameter": "4"})
        for a in (0, 80, 140, 240)
    ]
    result = rebuild(with_steps(turned(Station(id="a", to="50", diameter="40")), *holes).plan())
    with pytest.raises(Unmeasurable, match="not evenly spaced"):
        read(SurfacePlate(result.body), g.Count("s2/0/side", ("s3/0/side", "s4/0/side", "s5/0/side")))


def test_a_drill_too_large_for_its_thread_is_noticed():
    hole = (Hole, {"face": FaceRef(START), "thread": "M8 - 6H", "diameter": "7.2"})
    result = rebuild(with_steps(turned(Station(id="a", to="50", diameter="40")), hole).plan())
    with pytest.raises(Unmeasurable, match=r"outside the minor diameter 6\.647 to 6\.912"):
        read(SurfacePlate(result.body, result.marks), g.ThreadOn("s2/0/side"))


def test_the_table_keeps_its_thread_steps():
    content = turned(Station(id="a", to="30", diameter="12", thread="M12, 20"), Station(id="b", to="50", diameter="30"))
    (thread,) = [s for s in content.steps if isinstance(s, Thread)]
    assert (thread.note, thread.length, thread.start) == ("M12", "20", "left")
    renamed = edits.change_step(content, thread.id, name="Nut end", suppressed=True)
    longer = set_stations(
        renamed,
        "k1",
        (Station(id="a", to="30", diameter="12", thread="M12x1, 25"), Station(id="b", to="50", diameter="30")),
    )
    (thread,) = [s for s in longer.steps if isinstance(s, Thread)]
    assert (thread.note, thread.length, thread.name, thread.suppressed) == ("M12x1", "25", "Nut end", True)
    bare = set_stations(
        longer, "k1", (Station(id="a", to="30", diameter="12"), Station(id="b", to="50", diameter="30"))
    )
    assert not [s for s in bare.steps if isinstance(s, Thread)]


def test_a_sketch_that_cannot_follow_keeps_its_shape_and_says_so(flange):
    impossible = edits.set_sketch(
        flange,
        msgspec.structs.replace(
            flange.sketch("k2"),
            dimensions=tuple(
                msgspec.structs.replace(d, text="-4") if d.id == "width" else d for d in flange.sketch("k2").dimensions
            ),
        ),
    )
    settled = settle(impossible)
    assert "must be above zero" in settled.problems["k2"]
    assert settled.content.sketch("k2").entities == flange.sketch("k2").entities
