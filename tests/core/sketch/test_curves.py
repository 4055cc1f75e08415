"""Curves, where they meet, the areas they bound, and what changing them keeps: properties over random shapes."""

import itertools
import math

import msgspec
import numpy as np
import pytest
from hypothesis import Phase, assume, given, settings
from hypothesis import strategies as st

from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.sketch import curves
from lathed_solid.core.sketch.edit import copying, offset, trim
from lathed_solid.core.sketch.intersect import meet
from lathed_solid.core.sketch.model import (
    ACROSS,
    Arc,
    Circle,
    Dimension,
    Ellipse,
    Line,
    Plane,
    Point,
    Sketch,
    Spline,
    stands_on,
)
from lathed_solid.core.sketch.refusal import SketchError
from lathed_solid.core.sketch.region import find_regions, inside

from .drawn import LEDGER

QUIET = settings(max_examples=60, deadline=None)
PLACE = st.tuples(st.floats(-40, 40), st.floats(-40, 40)).map(lambda p: (round(p[0], 4), round(p[1], 4)))
SIZE = st.floats(2, 30).map(lambda v: round(v, 4))


@st.composite
def curve(draw, name):
    """A curve of any kind with its points."""
    kind = draw(st.sampled_from(["line", "circle", "arc", "ellipse", "spline"]))
    (cx, cy), r = draw(PLACE), draw(SIZE)
    turn, sweep = draw(st.floats(0, 6.2)), draw(st.floats(0.3, 5.8))
    c = Point(f"{name}c", cx, cy)
    a = Point(f"{name}a", cx + r * math.cos(turn), cy + r * math.sin(turn))
    b = Point(f"{name}b", cx + r * math.cos(turn + sweep), cy + r * math.sin(turn + sweep))
    made = {
        "line": Line(name, c.id, a.id), "circle": Circle(name, c.id, r), "arc": Arc(name, c.id, a.id, b.id),
        "ellipse": Ellipse(name, c.id, a.id, draw(SIZE)),
    }  # fmt: skip
    if kind == "spline":
        more = [Point(f"{name}{k}", *draw(PLACE)) for k in range(3)]
        assume(all(math.dist((p.x, p.y), (q.x, q.y)) > 1 for k, p in enumerate(more) for q in more[:k]))
        return Spline(name, tuple(p.id for p in more)), more
    return made[kind], [c, a, b]


@QUIET
@given(curve("a"), st.floats(0.02, 0.98))
def test_a_place_on_a_curve_has_the_parameter_it_was_made_with(made, t):
    item, points = made
    table = {p.id: p for p in points}
    x, y = curves.at(item, table, t)
    found = curves.parameter(item, table, x, y)
    px, py = curves.at(item, table, found)
    assert math.hypot(px - x, py - y) < 1e-5
    assert curves.nearest(item, table, x, y)[0] < 1e-5
    line = curves.polyline(item, table, math.pi / 720)
    # A free curve's places are not evenly spaced: its longest piece counts.
    longest = float(np.hypot(*np.diff(line, axis=0).T).max())
    assert np.hypot(line[:, 0] - x, line[:, 1] - y).min() < 0.6 * longest + 1e-6
    if isinstance(item, Line | Arc | Spline):
        for back in (False, True):
            turn, _ = curves.leaving(item, table, back)
            (ax, ay), (bx, by) = (curves.at(item, table, u) for u in ((1.0, 1 - 1e-6) if back else (0.0, 1e-6)))
            assert math.cos(turn - math.atan2(by - ay, bx - ax)) == pytest.approx(1, abs=1e-6)


@settings(max_examples=40, deadline=None, phases=[Phase.explicit, Phase.generate])
@given(curve("a"), curve("b"))
def test_meetings_lie_on_both_curves_and_none_is_missed(first, second):
    (a, p), (b, q) = first, second
    table = {i.id: i for i in (*p, *q)}
    found = meet(a, b, table)
    for m in found:
        for item, t in ((a, m.s), (b, m.t)):
            x, y = curves.at(item, table, t)
            assert math.hypot(x - m.x, y - m.y) < 5e-4  # 1e-6 where they cross; a graze is soft along the curves
    # Fine polylines that cross clearly must have been found.
    lines = [curves.polyline(i, table, math.pi / 90) for i in (a, b)]
    lines = [
        np.concatenate([k, k[:1]]) if isinstance(i, Circle | Ellipse) else k for i, k in zip((a, b), lines, strict=True)
    ]
    from lathed_solid.core.sketch.intersect import segment_meetings

    for i, j, s, t in segment_meetings(*lines):
        d, e = lines[0][i + 1] - lines[0][i], lines[1][j + 1] - lines[1][j]
        steep = abs(d[0] * e[1] - d[1] * e[0]) / (np.hypot(*d) * np.hypot(*e))
        if steep > 0.3 and 0.05 < s < 0.95 and 0.05 < t < 0.95:
            x, y = lines[0][i] + s * d
            assert min((math.hypot(m.x - x, m.y - y) for m in found), default=9.0) < 0.5


@QUIET
@given(st.lists(st.integers(1, 39), max_size=4, unique=True), st.lists(st.integers(1, 24), max_size=4, unique=True))
def test_a_plate_divided_by_lines_keeps_its_area_and_its_names(xs, ys):
    """A grid of lines that meet in shared points: as many areas as fields, together the whole."""
    across, along = sorted({0, 40, *xs}), sorted({0, 25, *ys})
    points = [Point(f"p{x}_{y}", float(x), float(y)) for x in across for y in along]
    lines = [Line(f"h{x}_{y}", f"p{x}_{y}", f"p{n}_{y}") for y in along for x, n in itertools.pairwise(across)]
    lines += [Line(f"v{x}_{y}", f"p{x}_{y}", f"p{x}_{n}") for x in across for y, n in itertools.pairwise(along)]
    sketch = Sketch(id="k", name="grid", plane=Plane("end"), entities=(*points, *lines))
    found = find_regions(sketch)
    assert found.problem(sketch) == ""
    assert len(found.regions) == (len(across) - 1) * (len(along) - 1)
    assert sum(r.outer.area for r in found.regions) == pytest.approx(1000)
    assert all(r.outer.area > 0 for r in found.regions)
    assert len({r.id for r in found.regions}) == len(found.regions)
    loose = msgspec.structs.replace(
        sketch, entities=(*sketch.entities, Point("z", -9.0, -9.0), Line("zz", "z", "p0_0"))
    )
    assert {r.id for r in find_regions(loose).regions} == {r.id for r in found.regions}


def polygon(sides, radius, seed):
    """A convex polygon whose corners are shifted a little from even spacing."""
    noise = np.random.default_rng(seed)
    turns = [2 * math.pi * (k + noise.uniform(-0.25, 0.25)) / sides for k in range(sides)]
    points = [Point(f"p{k}", radius * math.cos(t), radius * math.sin(t)) for k, t in enumerate(turns)]
    lines = [Line(f"l{k}", f"p{k}", f"p{(k + 1) % sides}") for k in range(sides)]
    return Sketch(id="k", name="polygon", plane=Plane("end"), entities=(*points, *lines))


@QUIET
@given(st.integers(3, 7), st.integers(0, 2**31), st.floats(0.2, 1.5))
def test_an_offset_polygon_is_as_far_everywhere(sides, seed, far):
    sketch = polygon(sides, 30, seed)
    made, copies = offset.offset(sketch, tuple(f"l{k}" for k in range(sides)), f"{far:.6f}", round(far, 6))
    made = settle_sketch(made, LEDGER)
    points = made.points()
    for k, copy in enumerate(copies):
        source, line = made.get(f"l{k}"), made.get(copy)
        a, b = points[source.a], points[source.b]
        size = math.hypot(b.x - a.x, b.y - a.y)
        for end in (points[line.a], points[line.b]):
            away = ((b.x - a.x) * (end.y - a.y) - (b.y - a.y) * (end.x - a.x)) / size
            assert away == pytest.approx(-round(far, 6), abs=1e-8), "outside a counter-clockwise outline is right"
    (ring,) = find_regions(made).regions
    assert len(ring.holes) == 1


@QUIET
@given(st.integers(3, 7), st.integers(0, 2**31))
def test_mirrored_twice_it_is_where_it_was(sides, seed):
    sketch = polygon(sides, 30, seed)
    ids = tuple(f"l{k}" for k in range(sides))
    once, new = copying.mirror(sketch, ids, ACROSS, linked=False)
    twice, back = copying.mirror(once, tuple(new[i] for i in ids), ACROSS, linked=False)
    p, q = sketch.points(), twice.points()
    for k in range(sides):
        i = f"p{k}"
        assert (q[back[new[i]]].x, q[back[new[i]]].y) == pytest.approx((p[i].x, p[i].y), abs=1e-12)


@QUIET
@given(st.integers(3, 7), st.integers(0, 2**31), st.floats(0.1, 0.9))
def test_splitting_and_trimming_away_one_part_leaves_the_rest(sides, seed, t):
    sketch = polygon(sides, 30, seed)
    at = curves.at(sketch.get("l0"), sketch.points(), t)
    two = trim.split(sketch, "l0", at)
    assert find_regions(two).regions[0].outer.area == pytest.approx(find_regions(sketch).regions[0].outer.area)
    whole = sum(curves.length(c, two.points()) for c in two.curves())
    assert whole == pytest.approx(sum(curves.length(c, sketch.points()) for c in sketch.curves()))
    assert all(i in two.by_id for c in two.curves() for i in stands_on(c))
    assert inside(find_regions(two).regions[0].outer.outline, 0.0, 0.0) == inside(
        find_regions(sketch).regions[0].outer.outline, 0.0, 0.0
    )


def test_an_offset_too_large_for_a_sketch_is_refused_in_words():
    sketch = polygon(4, 10, 5)
    ids = tuple(f"l{k}" for k in range(4))
    with pytest.raises(SketchError, match="smaller"):
        offset.offset(sketch, ids, "-9", -9.0)
    with pytest.raises(SketchError, match="do not hang together"):
        offset.offset(sketch, ("l0", "l2"), "1", 1.0)
    made, _ = offset.offset(sketch, ids, "1", 1.0)
    again, _ = offset.offset(made, ids, "1", -1.0)
    joined = offset.under_one_value(again, next(d.id for d in again.dimensions if d.kind == "offset"))
    assert len([d for d in joined.dimensions if d.kind == "offset"]) == 1
    bigger = msgspec.structs.replace(
        joined, dimensions=tuple(msgspec.structs.replace(d, text="1.5") for d in joined.dimensions)
    )
    assert isinstance(bigger.dimensions[0], Dimension)
    assert find_regions(settle_sketch(bigger, LEDGER)).problem(bigger) == ""
