"""What a sketch explains: limits, other solutions, free motions, what is pinned, snaps before the click."""

import math

import msgspec
import numpy as np
import pytest

from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.sketch.explain import finish
from lathed_solid.core.sketch.explain.alternatives import alternatives
from lathed_solid.core.sketch.explain.diagnose import freedom, judge
from lathed_solid.core.sketch.explain.limits import limit
from lathed_solid.core.sketch.explain.measure import present_value
from lathed_solid.core.sketch.explain.series import series
from lathed_solid.core.sketch.explain.wiggle import Wiggle
from lathed_solid.core.sketch.make import draw, size
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.make.snap import snap
from lathed_solid.core.sketch.model import ALONG, ORIGIN, Arc, Circle, Dimension, Line, Plane, Point, Relation, Sketch
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.solver.solve import Solver
from lathed_solid.core.sketch.tangents import centers, common_tangents
from lathed_solid.core.sketch.typed.commands import read_command

from .drawn import END, LEDGER, typed, values


def with_(sketch, *items):
    return msgspec.structs.replace(
        sketch,
        relations=(*sketch.relations, *(i for i in items if isinstance(i, Relation))),
        dimensions=(*sketch.dimensions, *(i for i in items if isinstance(i, Dimension))),
    )


def two_eyes(radius, over=(24, 20)):
    """Two circles of R10 and R7, 60 apart, and an arc of ``radius`` tangent to both, ending on them."""
    sketch = typed("circle R10 at 0,0", "circle R7 at 60,0")
    sketch, arc = draw.add_arc(sketch, Spot(1, 9.9, "", "c1"), Spot(59, 6.9, "", "c2"), Spot(*over))
    held = [Relation(f"t{k}", "tangent", (arc, c)) for k, c in enumerate(("c1", "c2"))]
    sketch = with_(sketch, *held, Dimension(id="waist", kind="radius", of=(arc,), text=str(radius)))
    return settle_sketch(sketch, LEDGER), arc


# --- limits
def test_a_waist_says_from_which_radius_on_it_is_possible():
    """Closed form: an arc bulging over two circles R10 and R7, 60 apart, encloses them from (60 + 10 + 7) / 2 on."""
    sketch, _ = two_eyes(70)
    tighter = msgspec.structs.replace(
        sketch,
        dimensions=tuple(msgspec.structs.replace(d, text="5") if d.id == "waist" else d for d in sketch.dimensions),
    )
    found = limit(tighter, values(tighter))
    assert found is not None
    assert (found.dimension, found.wanted) == ("waist", 5)
    assert found.now == pytest.approx(70)
    assert found.value == pytest.approx(38.5, abs=1e-4)
    sizes = {d.id for d in sketch.dimensions if d.kind != "across"}
    assert "waist" in found.because
    assert set(found.because) & sizes
    with pytest.raises(SketchError, match=r"can be at least 38\.5, not 5: beyond that"):
        settle_sketch(tighter, LEDGER)


def test_a_triangle_can_be_as_long_as_its_other_sides_together():
    sketch = typed("line 0,0 8,0 4,3 close")
    lines = [c.id for c in sketch.curves()]
    sketch = with_(sketch, *(Dimension(id=f"d{k}", kind="distance", of=(sketch.get(i).a, sketch.get(i).b), text=t) for k, (i, t) in enumerate(zip(lines, ("8", "5", "5"), strict=True))))  # fmt: skip
    sketch = settle_sketch(sketch, LEDGER)
    changed = tuple(msgspec.structs.replace(d, text="30") if d.id == "d0" else d for d in sketch.dimensions)
    with pytest.raises(SketchError, match="at most 10"):
        settle_sketch(msgspec.structs.replace(sketch, dimensions=changed), LEDGER)


# --- other solutions
@pytest.mark.parametrize(("radius", "many"), [(70, 8), (40, 8), (30, 4), (22, 2)])
def test_a_circle_touching_two_others_has_as_many_solutions_as_geometry_allows(radius, many):
    sketch = typed("circle R10 at 0,0", "circle R7 at 60,0")
    points = sketch.points()
    circles = [c for c in sketch.curves() if isinstance(c, Circle)]
    assert len(centers(circles[0], circles[1], points, radius)) == many


def test_other_solutions_hold_differ_and_are_kept_through_changes():
    sketch, arc = two_eyes(70)
    found = alternatives(sketch, values(sketch), arc)
    assert len(found) >= 7
    for other in found:
        solver = Solver(other, values(other))
        residual, _ = solver.system.evaluate(solver.pose)
        assert np.abs(residual).max() < 1e-8
    places = {(*(round(v, 6) for p in s.points().values() for v in (p.x, p.y)), s.get(arc).a) for s in (sketch, *found)}
    assert len(places) == len(found) + 1
    # The one taken is kept when a number changes.
    chosen = found[0]
    center = chosen.points()[chosen.get(arc).center]
    wider = tuple(msgspec.structs.replace(d, text="75") if d.id == "waist" else d for d in chosen.dimensions)
    after = settle_sketch(msgspec.structs.replace(chosen, dimensions=wider), LEDGER)
    now = after.points()[after.get(arc).center]
    assert math.hypot(now.x - center.x, now.y - center.y) < 12


def test_a_line_touching_two_circles_has_four_ways():
    for (a, b), many in ((((0, 0, 5), (30, 0, 8)), 4), (((0, 0, 5), (10, 0, 8)), 2), (((0, 0, 5), (1, 0, 8)), 0)):
        assert len(common_tangents(a, b)) == many
    sketch = typed("circle R5 at 0,0", "circle R8 at 30,0")
    sketch, line = draw.add_line(sketch, Spot(0, 5, "", "c1"), Spot(29, 8, "", "c2"))
    sketch = with_(sketch, Relation("t1", "tangent", (line, "c1")), Relation("t2", "tangent", (line, "c2")))
    sketch = settle_sketch(sketch, LEDGER)
    assert freedom(sketch, values(sketch)).ways == 0
    assert len(alternatives(sketch, values(sketch), line)) == 3


def test_sides_and_angles_turn_over():
    sketch = typed("line 0,0 30,0", "circle R2 at 10,12")
    sketch = msgspec.structs.replace(
        sketch, dimensions=tuple(d for d in sketch.dimensions if d.kind not in ("across",))
    )
    gap = Dimension(id="gap", kind="distance", of=("l1", "c1"), text="6", sense=1)
    sketch = settle_sketch(with_(sketch, gap), LEDGER)
    (other,) = alternatives(sketch, values(sketch), "gap")
    assert other.points()[other.get("c1").center].y == pytest.approx(-8)
    hinge = typed("line 0,0 30,0")
    hinge, leaf = draw.add_line(hinge, Spot(0, 0, hinge.get("l1").a), Spot(10, 10))
    made, now = size.make_dimension(hinge, ("l1", leaf), "45°")
    assert math.degrees(now) == pytest.approx(45)
    hinge = with_(
        hinge, made, Dimension(id="long", kind="distance", of=(hinge.get(leaf).a, hinge.get(leaf).b), text="14")
    )
    hinge = settle_sketch(hinge, LEDGER)
    ways = alternatives(hinge, values(hinge), made.id)
    tips = {tuple(round(v, 3) for v in (s.points()[s.get(leaf).b].x, s.points()[s.get(leaf).b].y)) for s in ways}
    x = round(14 * math.sqrt(0.5), 3)
    assert tips >= {(x, -x), (-x, x), (-x, -x)}
    assert [round(math.degrees(v)) for _, v in size.angle_choices(hinge, made)] == [45, 135, 135, 45]


# --- motions
def test_each_free_motion_is_played_and_holds_all_relations():
    sketch = typed("line 0,0 20,0 20,10 0,10 close", "circle Ø4 at 8,5")
    known = values(sketch)
    wiggle = Wiggle(sketch, known)
    assert wiggle.count == freedom(sketch, known).ways == 2
    for way in range(wiggle.count):
        assert wiggle.moving(way)
        quarter = wiggle.pose(way, 0.25)
        assert (
            max(abs(quarter.points()[i].x - p.x) + abs(quarter.points()[i].y - p.y) for i, p in sketch.points().items())
            > 0.5
        )
        solver = Solver(quarter, known)
        assert np.abs(solver.system.evaluate(solver.pose)[0]).max() < 1e-7
        back = wiggle.pose(way, 1.0)
        assert all(abs(back.points()[i].x - p.x) < 1e-6 for i, p in sketch.points().items())
    assert Wiggle(typed("rect 10 x 5"), values(typed("rect 10 x 5"))).count == 0


def test_pins_see_what_is_symmetric_and_equal():
    sketch, _ = draw.add_circle(END, Spot(-10, 4), 3)
    sketch, _ = draw.add_circle(sketch, Spot(10, 4), 3)
    found = finish.pins(sketch, {})
    said = [(p.item.kind, p.words) for p in found]
    assert said[0][0] == "symmetric"
    assert ("equal", "c2 equal to c1") in said
    for pin in found:
        sketch = finish.with_pin(sketch, pin, f"{pin.value:.6f}")
    assert freedom(sketch, values(sketch)).ways == 0
    assert len(sketch.dimensions) == 3, "one size and one place, the rest is said by relations"


def test_a_gap_is_closed_by_one_relation():
    sketch, a = draw.add_line(END, Spot(0, 0), Spot(10, 0))
    sketch, b = draw.add_line(sketch, Spot(10, 0, sketch.get(a).b), Spot(5, 8))
    sketch, _ = draw.add_line(sketch, Spot(5, 8, sketch.get(b).b), Spot(0.2, 0.3))
    from lathed_solid.core.sketch.region import find_regions

    gap = find_regions(sketch).gaps[0]
    assert gap.size == pytest.approx(math.hypot(0.2, 0.3))
    closed = settle_sketch(finish.close_gap(sketch, gap), LEDGER)
    assert find_regions(closed).problem(closed) == ""


# --- measuring in the sketch
def test_present_values_of_every_kind():
    sketch = typed(
        "circle R10 at 0,0", "circle R4 at 30,0", "ellipse 20 x 8 at 60,0", "line 0,20 40,20", "slot 6 x 20 at 0,50"
    )
    arc = next(c for c in sketch.curves() if isinstance(c, Arc))
    cases = {
        ("distance", ("c1", "c2"), (0, 0), False): 30, ("distance", ("c1", "c2"), (-1, -1), False): 16,
        ("distance", ("c1", "c2"), (1, 1), False): 44, ("distance", ("c1", "c2"), (-1, 1), False): 24,
        ("distance", ("l1", "c1"), (0, 0), False): 10, ("distance", ("l1", "c1"), (0, 0), True): 30,
        ("radius", ("c1",), (0, 0), False): 10, ("diameter", ("c2",), (0, 0), False): 8,
        ("arc_length", (arc.id,), (0, 0), False): 3 * math.pi, ("long_axis", ("e1",), (0, 0), False): 20,
        ("short_axis", ("e1",), (0, 0), False): 8,
    }  # fmt: skip
    for (kind, of, rim, far), expected in cases.items():
        sense = -1 if kind == "distance" and of[0] == "l1" else 1
        d = Dimension(id="x", kind=kind, of=of, text="1", rim=rim, far=far, sense=sense)
        assert present_value(sketch, d) == pytest.approx(expected, abs=1e-9), (kind, of, rim)


def test_rims_and_arc_lengths_drive():
    sketch = typed("circle R10 at 0,0", "circle R4 at 30,0")
    keep = tuple(d for d in sketch.dimensions if d.kind != "along")
    sketch = settle_sketch(with_(msgspec.structs.replace(sketch, dimensions=keep), Dimension(id="g", kind="distance", of=("c1", "c2"), text="20", rim=(-1, -1))), LEDGER)  # fmt: skip
    assert sketch.points()[sketch.get("c2").center].x == pytest.approx(34)
    ring = typed("circle R10 at 0,0")
    ring, inner = draw.add_circle(ring, Spot(0, 0, ring.get("c1").center), 6)
    made, wall = size.make_dimension(ring, ("c1", inner), "3", "distance", (-1, 1))
    assert wall == pytest.approx(4)
    ring = settle_sketch(with_(ring, made), LEDGER)
    assert ring.get(inner).radius == pytest.approx(7)
    bow, arc = draw.add_arc(END, Spot(10, 0), Spot(-10, 0), Spot(0, 10))
    bow = with_(bow, Relation("f", "fixed", (bow.get(arc).center,)), Dimension(id="r", kind="radius", of=(arc,), text="10"), Dimension(id="s", kind="arc_length", of=(arc,), text="20"))  # fmt: skip
    bow = settle_sketch(bow, LEDGER)
    assert present_value(bow, bow.dimensions[-1]) == pytest.approx(20)


def test_chains_and_ordinates_leave_out_what_is_pinned():
    sketch = typed("line 0,0 10,0 10,5 25,5 25,0 close")
    points = {(p.x, p.y): p.id for p in sketch.points().values()}
    ids = (points[0, 0], points[10, 0], points[25, 5], points[25, 0])
    chain = list(series(sketch, ids, "along", True, values(sketch)))
    assert [round(v) for _, v in chain] == [10, 15], "the two at 25 are above each other already"
    ordinates = list(series(sketch, ids, "along", False, values(sketch)))
    assert [round(v) for _, v in ordinates] == [10, 25]
    assert all(d.ordinate for d, _ in ordinates)


# --- snaps
def test_snaps_say_what_they_would_relate():
    sketch = typed("line 0,0 20,0 20,10", "circle Ø8 at 40,0")
    cases = {
        (19.6, 0.3): ("on point", True), (10.2, 0.4): ("middle of l1", False), (5.2, 0.3): ("on l1", False),
        (40.1, 4.2): ("on c1", False), (0.1, -0.2): ("on point", True), (60, 0.3): ("on the axis", False),
    }  # fmt: skip
    for (x, y), (words, is_point) in cases.items():
        found = snap(sketch, x, y, 0.8)
        assert words in found.words[0], (x, y, found)
        assert bool(found.spot.point) == is_point
    last = Spot(20, 10, sketch.get("l2").b)
    assert snap(sketch, 30, 10.2, 0.8, last).words == ("level",)
    assert snap(sketch, 20.3, 30, 0.8, last).words == ("upright",)
    both = snap(sketch, 44.1, 0.2, 0.8, Spot(60, 0))
    assert both.words == ("on c1", "level")
    assert (both.spot.x, both.spot.y) == pytest.approx((44, 0))
    arc, a = draw.add_arc(END, Spot(10, 0), Spot(0, 10), Spot(7.0710678, 7.0710678))
    smooth = snap(arc, -20, 10.1, 0.8, Spot(0, 10, arc.get(a).b))
    assert smooth.words[0] in ("level", f"smoothly from {a}")
    slanted, q = draw.add_arc(END, Spot(10, 0), Spot(6, 8), Spot(8.944, 4.472))
    way = snap(slanted, 6 - 8.05, 8 + 6, 0.8, Spot(6, 8, slanted.get(q).b))
    assert way.words == (f"smoothly from {q}",)
    made, line = draw.add_line(slanted, Spot(6, 8, slanted.get(q).b), way.spot)
    assert made.relations[-1].kind == "tangent"
    assert set(made.relations[-1].of) == {line, q}


def test_x_from_one_point_and_y_from_another():
    sketch = typed("circle Ø4 at 12,7", "circle Ø4 at 30,20")
    at = read_command("point c1.x,c2.y", LEDGER, False, sketch).draw(sketch)
    p = list(at.points().values())[-1]
    assert (p.x, p.y) == (12, 20)
    named = read_command("line c1 c2", LEDGER, False, sketch).draw(sketch)
    line = named.curves()[-1]
    assert isinstance(line, Line)
    assert {line.a, line.b} == {sketch.get("c1").center, sketch.get("c2").center}, "a named place is that point"


def test_redundant_on_many_rows_is_minimal_in_the_sparse_way_too():
    """A long closed chain of level and upright lines: the last level is said by exactly the others that close it."""
    many = 80
    points = [Point("p0", 0, 0)]
    lines, relations = [], [Relation("o", "coincident", ("p0", ORIGIN))]
    for k in range(1, many):
        x, y = 5.0 * ((k + 1) // 2), 3.0 * (k // 2)
        points.append(Point(f"p{k}", x, y))
        lines.append(Line(f"l{k}", f"p{k - 1}", f"p{k}"))
        relations.append(Relation(f"r{k}", "horizontal" if k % 2 else "vertical", (f"l{k}",)))
    sketch = Sketch(id="k", name="stairs", plane=Plane("end"), entities=(*points, *lines), relations=tuple(relations))
    verdict = judge(sketch, {}, Relation("new", "parallel", ("l1", "l41")))
    assert verdict.kind == "redundant"
    assert set(verdict.because) == {"r1", "r41"}
    assert judge(sketch, {}, Relation("new", "equal", ("l1", "l3"))).kind == "fits"
    assert judge(sketch, {}, Relation("new", "parallel", ("l2", ALONG))).kind == "conflict"
