"""Drawing: what a click makes, and every relation and dimension that can be put on it."""

import math

import msgspec
import pytest

from lathed_solid.core.callout import Ledger
from lathed_solid.core.route.settling import dimension_values
from lathed_solid.core.sketch.explain.diagnose import freedom, judge
from lathed_solid.core.sketch.make import choose, draw, size
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.model import ALONG, ORIGIN, Arc, Circle, Line, Plane, Relation, Sketch
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.region import find_regions
from lathed_solid.core.sketch.solver.solve import solve

END = Sketch(id="k", name="s", plane=Plane("end"))
TURNED = Sketch(id="k", name="s")


def values(sketch):
    return dimension_values(sketch, Ledger([]))


def related(sketch, kind, *ids):
    sketch = draw.grown(sketch, (), [choose.make_relation(sketch, kind, ids)])
    solution = solve(sketch, values(sketch))
    assert solution.ok, kind
    return solution.sketch


def sized(sketch, text, *ids, kind=None):
    made, now = size.make_dimension(sketch, ids, text, kind)
    assert now >= 0
    sketch = msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made))
    solution = solve(sketch, values(sketch))
    assert solution.ok, (ids, text)
    return solution.sketch


def two_lines():
    sketch, a = draw.add_line(END, Spot(1, 1), Spot(9, 3))
    sketch, b = draw.add_line(sketch, Spot(2, 8), Spot(8, 12))
    return sketch, a, b


def ends(sketch, line):
    p = sketch.points()
    entity = sketch.get(line)
    return (p[entity.a].x, p[entity.a].y), (p[entity.b].x, p[entity.b].y)


def direction(sketch, line):
    (ax, ay), (bx, by) = ends(sketch, line)
    return math.atan2(by - ay, bx - ax)


def length(sketch, line):
    return math.dist(*ends(sketch, line))


def test_relations_between_lines():
    sketch, a, b = two_lines()
    assert math.sin(direction(s := related(sketch, "parallel", a, b), a) - direction(s, b)) == pytest.approx(
        0, abs=1e-9
    )
    assert math.cos(direction(s := related(sketch, "perpendicular", a, b), a) - direction(s, b)) == pytest.approx(
        0, abs=1e-9
    )
    assert length(s := related(sketch, "equal", a, b), a) == pytest.approx(length(s, b))
    assert direction(related(sketch, "horizontal", a), a) == pytest.approx(0, abs=1e-9)
    assert abs(direction(related(sketch, "vertical", b), b)) == pytest.approx(math.pi / 2)


def test_relations_of_points():
    sketch, a, b = two_lines()
    p, q, m = sketch.get(a).b, sketch.get(b).b, sketch.get(b).a
    s = related(sketch, "coincident", p, q)
    assert ends(s, a)[1] == pytest.approx(ends(s, b)[1])
    s = related(sketch, "midpoint", a, m)
    (ax, ay), (bx, by) = ends(s, a)
    assert ends(s, b)[0] == pytest.approx(((ax + bx) / 2, (ay + by) / 2))
    s = related(sketch, "symmetric", m, q, a)
    u = direction(s, a)
    (mx, my), (qx, qy) = ends(s, b)
    assert (qx - mx) * math.cos(u) + (qy - my) * math.sin(u) == pytest.approx(0, abs=1e-8)
    s = related(sketch, "on", m, a)
    (ax, ay), _ = ends(s, a)
    x, y = ends(s, b)[0]
    assert (x - ax) * math.sin(direction(s, a)) == pytest.approx((y - ay) * math.cos(direction(s, a)), abs=1e-8)
    s = related(sketch, "fixed", p)
    assert ends(s, a)[1] == pytest.approx(ends(sketch, a)[1])
    s = related(sketch, "on", p, ALONG)
    assert ends(s, a)[1][1] == pytest.approx(0, abs=1e-9)
    s = related(sketch, "coincident", m, ORIGIN)
    assert ends(s, b)[0] == pytest.approx((0, 0), abs=1e-9)


def test_tangencies():
    sketch, line = draw.add_line(END, Spot(0, 1), Spot(20, 2))
    sketch, circle = draw.add_circle(sketch, Spot(8, 8), 4)
    sketch, other = draw.add_circle(sketch, Spot(16, 14), 3)
    s = related(sketch, "tangent", circle, line)
    (ax, ay), u = ends(s, line)[0], direction(s, line)
    c = s.points()[s.get(circle).center]
    assert abs((c.x - ax) * math.sin(u) - (c.y - ay) * math.cos(u)) == pytest.approx(s.get(circle).radius)
    s = related(sketch, "tangent", circle, other)
    c, d = (s.points()[s.get(i).center] for i in (circle, other))
    assert math.dist((c.x, c.y), (d.x, d.y)) == pytest.approx(s.get(circle).radius + s.get(other).radius)
    assert related(sketch, "equal", circle, other).get(circle).radius == pytest.approx(
        related(sketch, "equal", circle, other).get(other).radius
    )
    joined, arc = draw.add_arc(sketch, Spot(*ends(sketch, line)[1], sketch.get(line).b), Spot(26, 9), Spot(25, 4))
    s = related(joined, "tangent", line, arc)
    entity = s.get(arc)
    c, p = s.points()[entity.center], s.points()[s.get(line).b]
    assert math.cos(direction(s, line) - math.atan2(p.y - c.y, p.x - c.x)) == pytest.approx(0, abs=1e-9)
    with pytest.raises(SketchError, match="does not go with"):
        solve(draw.grown(sketch, (), [Relation("bad", "tangent", (line, line))]), {})


def test_dimensions_of_every_kind():
    sketch, a, b = two_lines()
    assert length(sized(sketch, "12", a), a) == pytest.approx(12)
    p, q = sketch.get(a).a, sketch.get(b).a
    s = sized(sketch, "5", p, q, kind="along")
    assert s.points()[q].x - s.points()[p].x == pytest.approx(5)
    s = sized(sketch, "6", p, q, kind="across")
    assert s.points()[q].y - s.points()[p].y == pytest.approx(6)
    s = sized(sketch, "9.5", p, q)
    assert math.dist(ends(s, a)[0], ends(s, b)[0]) == pytest.approx(9.5)
    s = sized(sketch, "60", a, b)
    assert abs(direction(s, b) - direction(s, a)) == pytest.approx(math.pi / 3)
    s = sized(sketch, "4", a, q)
    (ax, ay), u = ends(s, a)[0], direction(s, a)
    x, y = ends(s, b)[0]
    assert abs((x - ax) * math.sin(u) - (y - ay) * math.cos(u)) == pytest.approx(4)
    sketch, c = draw.add_circle(sketch, Spot(20, 20), 3)
    assert sized(sketch, "11", c).get(c).radius == pytest.approx(5.5)
    assert sized(sketch, "7", c, kind="radius").get(c).radius == pytest.approx(7)
    s = sized(sketch, "2", a, c)
    (ax, ay), u = ends(s, a)[0], direction(s, a)
    center = s.points()[s.get(c).center]
    assert abs((center.x - ax) * math.sin(u) - (center.y - ay) * math.cos(u)) == pytest.approx(2 + s.get(c).radius)
    with pytest.raises(SketchError, match="Choose a line"):
        size.make_dimension(sketch, (), "1")


def test_radial_sizes_are_diameters_in_turned_profiles():
    sketch, level = draw.add_line(TURNED, Spot(0, 9), Spot(30, 9))
    made, now = size.make_dimension(sketch, (level,), "20")
    assert (made.kind, now) == ("diameter", 18)
    assert ends(sized(sketch, "20", level), level)[0][1] == pytest.approx(10)
    made, now = size.make_dimension(sketch, (sketch.get(level).a,), "20")
    assert (made.kind, now) == ("diameter", 18)
    made, _ = size.make_dimension(sketch, (level,), "30", "distance")
    assert made.kind == "distance"
    assert size.possible_dimensions(sketch, (level,)) == [
        size.Choice("diameter", "Ø"),
        size.Choice("distance", "length"),
    ]


def test_snaps_become_assumed_relations():
    sketch, a = draw.add_line(END, Spot(0, 0, ORIGIN), Spot(10, 0, "", ALONG))
    assert {r.kind for r in sketch.relations} == {"coincident", "on"}
    assert all(r.assumed for r in sketch.relations)
    sketch, b = draw.add_line(sketch, Spot(10, 0, sketch.get(a).b), Spot(10, 7))
    assert sketch.get(b).a == sketch.get(a).b
    assert sketch.relations[-1].kind == "vertical"
    assert freedom(sketch, {}).ways == 2
    for bad in (lambda: draw.add_line(sketch, Spot(1, 1), Spot(1, 1)), lambda: draw.add_rectangle(sketch, Spot(1, 1), Spot(1, 5)),
                lambda: draw.add_circle(sketch, Spot(0, 0), 0), lambda: draw.add_arc(sketch, Spot(0, 0), Spot(2, 0), Spot(1, 0))):  # fmt: skip
        with pytest.raises(SketchError):
            bad()


def test_a_rectangle_is_closed_and_deleting_takes_what_hangs_on_it():
    sketch = draw.add_rectangle(END, Spot(0, 0), Spot(10, 5))
    assert find_regions(sketch).problem(sketch) == ""
    assert freedom(sketch, {}).ways == 4
    made, _ = size.make_dimension(sketch, ("l1",), "12")
    sketch = msgspec.structs.replace(sketch, dimensions=(made,))
    less = draw.delete(sketch, ["l1"])
    assert [e.id for e in less.curves()] == ["l2", "l3", "l4"]
    assert all("l1" not in r.of for r in less.relations)
    assert less.dimensions == (made,)  # it holds on to the points, which are still there
    assert draw.delete(sketch, ["p1"]).dimensions == ()
    assert "open" in find_regions(less).problem(less)
    dashed = draw.toggle_construction(sketch, ["l1"])
    assert dashed.get("l1").construction
    assert not find_regions(dashed).regions
    linked = draw.link(sketch, "l1", "s1/a/side")
    assert (linked.get("l1").link, linked.get("l1").construction) == ("s1/a/side", True)


def test_arcs_run_over_the_place_clicked():
    for through, left in ((Spot(5, 5), True), (Spot(5, -5), False)):
        sketch, arc = draw.add_arc(END, Spot(0, 0), Spot(10, 0), through)
        entity = sketch.get(arc)
        assert isinstance(entity, Arc)
        start = sketch.points()[entity.a]
        assert (start.x == 10) == left  # counter-clockwise from the right end when it bows upward
        c = sketch.points()[entity.center]
        assert math.dist((c.x, c.y), (0, 0)) == pytest.approx(5)


def test_what_can_be_chosen_together():
    sketch, a, b = two_lines()
    sketch, c = draw.add_circle(sketch, Spot(20, 20), 3)
    assert set(choose.possible_relations(sketch, (a, b))) == {"parallel", "perpendicular", "equal", "collinear"}
    assert set(choose.possible_relations(sketch, (a, c))) == {"tangent"}
    assert "horizontal" in choose.possible_relations(sketch, (a,))
    assert choose.possible_relations(sketch, (a, b, c)) == []
    relation = choose.make_relation(sketch, "on", (a, sketch.get(b).a))
    assert relation.of == (sketch.get(b).a, a)
    assert isinstance(sketch.get(c), Circle)
    assert isinstance(sketch.get(a), Line)
    assert choose.in_words(draw.grown(sketch, (), [relation]), relation.id).startswith("on p")


def test_repeating_a_relation_is_redundant():
    sketch = draw.add_rectangle(END, Spot(0, 0), Spot(10, 5))
    verdict = judge(sketch, {}, choose.make_relation(sketch, "parallel", ("l1", "l3")))
    assert verdict.kind == "redundant"
    assert set(verdict.because) == {r.id for r in sketch.relations if r.kind == "horizontal"}
