"""Hard cases for the solver, each with what must come out: flips, near-degenerate tangencies, tiny on huge, sketches of
equals only, closed chains of arcs, starts of no length, tenfold jumps, and what cannot be.
"""

import math

import msgspec
import numpy as np
import pytest

from lathed_solid.core.callout import Ledger
from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.sketch.explain.diagnose import freedom
from lathed_solid.core.sketch.model import (
    ACROSS,
    ALONG,
    ORIGIN,
    Arc,
    Circle,
    Dimension,
    Ellipse,
    Line,
    Plane,
    Point,
    Relation,
    Repeat,
    Sketch,
)
from lathed_solid.core.sketch.refusal import SketchError

LEDGER = Ledger([])


def make(entities, relations=(), dimensions=(), **more):
    """A sketch from short forms: relations ``(kind, *ids)``, dimensions ``(kind, text, *ids)`` or with a dict last."""
    sizes = []
    for k, (kind, text, *rest) in enumerate(dimensions):
        fields = rest.pop() if rest and isinstance(rest[-1], dict) else {}
        sizes.append(Dimension(id=f"d{k}", kind=kind, of=tuple(rest), text=text, **fields))
    related = tuple(Relation(f"r{k}", kind, tuple(of)) for k, (kind, *of) in enumerate(relations))
    return Sketch(
        id="k",
        name="case",
        plane=Plane("end"),
        entities=tuple(entities),
        relations=related,
        dimensions=tuple(sizes),
        **more,
    )


def P(name, x, y):
    return Point(name, float(x), float(y))


def at(sketch, name):
    p = sketch.points()[name]
    return p.x, p.y


def solved(sketch):
    found = settle_sketch(sketch, LEDGER)
    assert freedom(found, {d.id: _value(d) for d in found.dimensions if not d.reference}).ways >= 0
    return found


def _value(d):
    from lathed_solid.core.quantity import evaluate
    from lathed_solid.core.route.settling import ANGLES

    return evaluate(d.text, LEDGER, "angle" if d.kind in ANGLES else "length")


def triangle(a, b, c, up=1):
    """Base on the axis from the origin, sides of the given texts, apex above or below."""
    return make(
        [P("o", 0, 0), P("p", 10, 0), P("q", 4, 6 * up), Line("l", "o", "p"), Line("m", "p", "q"), Line("n", "q", "o")],
        [("coincident", "o", ORIGIN), ("on", "p", ALONG)],
        [("distance", a, "o", "p"), ("distance", b, "p", "q"), ("distance", c, "q", "o")],
    )


def four_bar(crank):
    """Ground 40, crank 15, coupler 35, rocker 30; the crank's angle given."""
    turn = math.radians(60)
    return make(
        [P("a", 0, 0), P("d", 40, 0), P("b", 15 * math.cos(turn), 15 * math.sin(turn)), P("c", 41.5, 29.96),
         Line("ab", "a", "b"), Line("bc", "b", "c"), Line("cd", "c", "d")],
        [("coincident", "a", ORIGIN), ("on", "d", ALONG)],
        [("along", "40", ORIGIN, "d"), ("distance", "15", "a", "b"), ("distance", "35", "b", "c"),
         ("distance", "30", "c", "d"), ("angle", crank, ALONG, "ab")],
    )  # fmt: skip


def tangent_line(gap, radius="5"):
    """A circle over a level line at ``gap``; a second line leaves its start tangent to the circle."""
    return make(
        [P("o", 0, 0), P("e", 60, 0), P("c", 40, 5), P("t", 30, 9), Circle("k", "c", 5.0), Line("l", "o", "e"), Line("m", "o", "t")],
        [("coincident", "o", ORIGIN), ("on", "e", ALONG), ("tangent", "m", "k")],
        [("along", "60", "o", "e"), ("along", "40", "o", "c"), ("across", gap, "o", "c"), ("radius", radius, "k"), ("distance", "30", "o", "t")],
    )  # fmt: skip


def blend(r, gap="60", big="10", small="7"):
    """Two circles and a convex arc over them, ends on the circles."""
    s = float(gap)
    return make(
        [P("a", 0, 0), P("b", s, 0), Circle("A", "a", float(big)), Circle("B", "b", float(small)),
         P("m", 28.5, -52.7), P("p", 4.8, 8.8), P("q", 56.5, 6.0), Arc("w", "m", "q", "p")],
        [("coincident", "a", ORIGIN), ("on", "b", ALONG), ("on", "p", "A"), ("on", "q", "B"), ("tangent", "w", "A"), ("tangent", "w", "B")],
        [("distance", gap, "a", "b"), ("radius", big, "A"), ("radius", small, "B"), ("radius", r, "w")],
    )  # fmt: skip


def ring_of_arcs(many, text, start=None):
    """A closed chain of equal arcs between the corners of a regular polygon, bulging out, tangent lines left out."""
    entities, relations = [P("m", 0, 0)], [("coincident", "m", ORIGIN)]
    size = start or 20.0
    for k in range(many):
        turn = 2 * math.pi * k / many
        entities.append(P(f"p{k}", size * math.cos(turn), size * math.sin(turn)))
        middle = turn + math.pi / many
        entities.append(P(f"c{k}", 0.6 * size * math.cos(middle), 0.6 * size * math.sin(middle)))
    for k in range(many):
        entities.append(Arc(f"a{k}", f"c{k}", f"p{k}", f"p{(k + 1) % many}"))
        entities.append(Line(f"s{k}", f"p{k}", f"p{(k + 1) % many}", True))
    entities.append(Circle("pitch", "m", size, True))
    relations += [("on", f"p{k}", "pitch") for k in range(many)]
    relations += [("equal", "s0", f"s{k}") for k in range(1, many)]
    relations += [("equal", "a0", f"a{k}") for k in range(1, many)]
    relations.append(("on", "p0", ALONG))
    return make(entities, relations, [("radius", text, "pitch"), ("radius", "24" if many == 3 else "14", "a0")])


def scaled_pair(big, tiny):
    """A large plate with a tiny hole near its far corner."""
    b, t = float(big), float(tiny)
    return make(
        [P("o", 0, 0), P("p", b, 0), P("q", b, b / 2), P("s", 0, b / 2), P("c", b - 3 * t, b / 2 - 2 * t),
         Line("l0", "o", "p"), Line("l1", "p", "q"), Line("l2", "q", "s"), Line("l3", "s", "o"), Circle("h", "c", t)],
        [("coincident", "o", ORIGIN), ("on", "p", ALONG), ("vertical", "l1"), ("horizontal", "l2"), ("on", "s", ACROSS)],
        [("distance", big, "o", "p"), ("distance", f"{big}/2", "p", "q"), ("distance", f"3*{tiny}", "l1", "c", {"sense": 1}),
         ("distance", f"2*{tiny}", "l2", "c", {"sense": 1}), ("diameter", tiny, "h")],
    )  # fmt: skip


def changed(sketch, **texts):
    return msgspec.structs.replace(
        sketch,
        dimensions=tuple(
            msgspec.structs.replace(d, text=texts[d.id]) if d.id in texts else d for d in sketch.dimensions
        ),
    )


#: Name: (sketch that is solved first, changed texts, point or circle, where it must be).
PLACES = {
    "triangle keeps its apex above": (triangle("10", "8", "7"), {"d1": "9"}, "q", (3.4, math.sqrt(49 - 3.4**2))),
    "triangle keeps its apex below": (triangle("10", "8", "7", -1), {"d1": "9"}, "q", (3.4, -math.sqrt(49 - 3.4**2))),
    "triangle almost flat": (triangle("10", "8", "7"), {"d1": "5", "d2": "5.00001"}, "q", (5.000005, math.sqrt(5.00001**2 - 5.000005**2))),
    "triangle tenfold": (triangle("10", "8", "7"), {"d0": "100", "d1": "80", "d2": "70"}, "q", (42.5, math.sqrt(70**2 - 42.5**2))),
    "triangle a tenth": (triangle("10", "8", "7"), {"d0": "1", "d1": ".8", "d2": ".7"}, "q", (0.425, math.sqrt(0.49 - 0.425**2))),
    "triangle of right angle": (triangle("10", "8", "7"), {"d0": "3", "d1": "5", "d2": "4"}, "q", (0.0, 4.0)),
    "four bar goes on over the top": (four_bar("60°"), {"d4": "120°"}, "b", (15 * math.cos(2 * math.pi / 3), 15 * math.sin(2 * math.pi / 3))),
    "four bar goes back": (four_bar("60°"), {"d4": "5°"}, "b", (15 * math.cos(math.radians(5)), 15 * math.sin(math.radians(5)))),
    "four bar past half a turn": (four_bar("60°"), {"d4": "200°"}, "b", (15 * math.cos(math.radians(200)), 15 * math.sin(math.radians(200)))),
    "tangent line over a low circle": (tangent_line("5.0"), {"d2": "0.01"}, "c", (40, 0.01)),
    "tangent line, circle touching the axis": (tangent_line("8"), {"d2": "5"}, "c", (40, 5)),
    "tangent line, circle ten times": (tangent_line("8", "3"), {"d3": "30"}, "c", (40, 8)),
    "blend at its least radius": (blend("70"), {"d3": "38.5001"}, "b", (60, 0)),
    "blend almost straight": (blend("70"), {"d3": "50000"}, "b", (60, 0)),
    "blend of equal eyes": (blend("70"), {"d1": "8", "d2": "8"}, "b", (60, 0)),
    "blend, eyes nearly touching": (blend("70"), {"d0": "17.001"}, "b", (17.001, 0)),
    "blend, one eye tiny": (blend("70"), {"d2": "0.01"}, "b", (60, 0)),
    "blend tenfold": (blend("70"), {"d0": "600", "d1": "100", "d2": "70", "d3": "700"}, "b", (600, 0)),
    "three arcs closed": (ring_of_arcs(3, "20"), {"d0": "12"}, "p0", (12, 0)),
    "five arcs closed": (ring_of_arcs(5, "20"), {"d0": "23"}, "p0", (23, 0)),
    "eight arcs closed": (ring_of_arcs(8, "20"), {"d0": "30"}, "p0", (30, 0)),
    "twelve arcs closed, from a rough start": (ring_of_arcs(12, "20", 17.0), {}, "p0", (20, 0)),
    "tiny on huge": (scaled_pair("5000", "0.2"), {"d4": "0.1"}, "c", (5000 - 0.6, 2500 - 0.4)),
    "tiny on huger": (scaled_pair("20000", "0.05"), {}, "c", (20000 - 0.15, 10000 - 0.1)),
    "huge from tiny in one jump": (scaled_pair("10", "0.5"), {"d0": "5000", "d1": "2500"}, "q", (5000, 2500)),
    "tiny from huge in one jump": (scaled_pair("5000", "0.2"), {"d0": "5", "d1": "2.5"}, "q", (5, 2.5)),
}  # fmt: skip


@pytest.mark.parametrize("name", PLACES)
def test_it_goes_where_it_must(name):
    first, texts, point, expected = PLACES[name]
    before = settle_sketch(first, LEDGER)
    after = settle_sketch(changed(before, **texts), LEDGER)
    assert at(after, point) == pytest.approx(expected, rel=1e-7, abs=1e-6)
    for arc in (e for e in after.curves() if isinstance(e, Arc)):
        was = before.get(arc.id)
        assert _turn(before, was) * _turn(after, arc) > 0, "the arc bulges the way it did"


def _turn(sketch, arc):
    """Which side of the chord the centre lies on."""
    (ax, ay), (bx, by), (cx, cy) = (at(sketch, i) for i in (arc.a, arc.b, arc.center))
    return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) or 1.0


def test_the_rocker_stays_on_its_side_all_round():
    sketch = settle_sketch(four_bar("60°"), LEDGER)
    side = []
    for degrees in range(60, 420, 15):
        sketch = settle_sketch(changed(sketch, d4=f"{degrees}°"), LEDGER)
        (bx, by), (cx, cy), (dx, dy) = at(sketch, "b"), at(sketch, "c"), at(sketch, "d")
        side.append((dx - bx) * (cy - by) - (dy - by) * (cx - bx))
    assert all(s > 0 for s in side) or all(s < 0 for s in side)
    assert at(sketch, "c") == pytest.approx(at(settle_sketch(four_bar("405°"), LEDGER), "c"), abs=1e-6)


#: Name: (sketch, changed texts, words of the refusal). Nothing may move.
REFUSED = {
    "triangle too long": (triangle("10", "8", "7"), {"d0": "16"}, "at most 15"),
    "triangle too short": (triangle("10", "8", "3"), {"d0": "4"}, "at least 5"),
    "blend too tight": (blend("70"), {"d3": "20"}, "at least 38.5"),
    "blend too wide apart": (blend("70"), {"d0": "130"}, "at most 123"),
    "four bar against its lock": (four_bar("60°"), {"d2": "75"}, "at most 65"),
    "a size of nothing": (triangle("10", "8", "7"), {"d0": "0"}, "above zero"),
    "a size that cannot be read": (triangle("10", "8", "7"), {"d0": "10 +"}, "distance"),
}


@pytest.mark.parametrize("name", REFUSED)
def test_what_cannot_be_is_refused_with_its_limit(name):
    first, texts, words = REFUSED[name]
    before = settle_sketch(first, LEDGER)
    with pytest.raises(SketchError, match=words):
        settle_sketch(changed(before, **texts), LEDGER)


# --- equals only, starts of no length, and the rest
def test_equal_only():
    sketch = make(
        [P("a", 0, 0), P("b", 9, 1), P("c", 10, 11), P("d", 1, 8)]
        + [Line(f"l{k}", x, y) for k, (x, y) in enumerate(("ab", "bc", "cd", "da"))],
        [("equal", "l0", "l1"), ("equal", "l1", "l2"), ("equal", "l2", "l3")],
    )
    found = solved(sketch)
    sides = [math.dist(at(found, x), at(found, y)) for x, y in ("ab", "bc", "cd", "da")]
    assert max(sides) - min(sides) < 1e-9
    assert freedom(found, {}).ways == 5
    assert min(sides) > 5, "it does not shrink to a point"


def test_equal_circles_without_any_size():
    sketch = make([P(f"c{k}", 10 * k, 0) for k in range(5)] + [Circle(f"k{k}", f"c{k}", 1.0 + k) for k in range(5)],
                  [("equal", "k0", *(f"k{k}" for k in range(1, 5)))])  # fmt: skip
    found = solved(sketch)
    assert len({round(c.radius, 9) for c in found.curves()}) == 1
    assert freedom(found, {}).ways == 11


def test_everything_parallel_and_equal():
    sketch = make(
        [P(f"p{k}", 10 * k + (k % 3), 3 * k) for k in range(8)]
        + [Line(f"l{k}", f"p{2 * k}", f"p{2 * k + 1}") for k in range(4)],
        [("parallel", "l0", f"l{k}") for k in range(1, 4)] + [("equal", "l0", "l1", "l2", "l3")],
    )
    found = solved(sketch)
    ways = [np.subtract(at(found, f"p{2 * k + 1}"), at(found, f"p{2 * k}")) for k in range(4)]
    assert all(np.allclose(ways[0], w, atol=1e-8) for w in ways)


@pytest.mark.parametrize("off", [(0.0, 0.0), (1e-9, 0.0), (0.0, 1e-7)])
def test_a_line_that_starts_with_no_length_gets_one(off):
    sketch = make(
        [P("a", 0, 0), P("b", *off), Line("l", "a", "b")],
        [("coincident", "a", ORIGIN), ("horizontal", "l")],
        [("distance", "12", "a", "b")],
    )
    found = settle_sketch(sketch, LEDGER)
    assert math.dist(at(found, "a"), at(found, "b")) == pytest.approx(12)


def test_a_circle_that_starts_with_almost_no_size():
    sketch = make([P("c", 0, 0), Circle("k", "c", 1e-6)], [("coincident", "c", ORIGIN)], [("diameter", "40", "k")])
    assert solved(sketch).curves()[0].radius == pytest.approx(20)


def test_concentric_walls_turn_neither_inside_out():
    sketch = make([P("c", 0, 0), Circle("o", "c", 10.0), Circle("i", "c", 6.0)], [("coincident", "c", ORIGIN)],
                  [("distance", "4", "o", "i", {"rim": (-1, 1), "sense": -1}), ("diameter", "20", "o")])  # fmt: skip
    thin = settle_sketch(changed(sketch, d0="9.99"), LEDGER)
    assert thin.get("i").radius == pytest.approx(0.01)
    with pytest.raises(SketchError, match="at most 10"):
        settle_sketch(changed(thin, d0="11"), LEDGER)


def test_a_point_on_a_circle_stays_on_its_side():
    sketch = make([P("c", 0, 0), P("p", 6, 8), Circle("k", "c", 10.0)], [("coincident", "c", ORIGIN), ("on", "p", "k")],
                  [("radius", "10", "k"), ("along", "6", ORIGIN, "p")])  # fmt: skip
    found = settle_sketch(sketch, LEDGER)
    for text, y in (("9.999", math.sqrt(100 - 9.999**2)), ("1", math.sqrt(99)), ("6", 8.0)):
        found = settle_sketch(changed(found, d1=text), LEDGER)
        assert at(found, "p") == pytest.approx((float(text), y), abs=1e-7)
    with pytest.raises(SketchError, match="at most 10"):
        settle_sketch(changed(found, d1="10.5"), LEDGER)


def test_an_angle_keeps_its_quadrant_through_a_right_angle():
    sketch = make([P("a", 0, 0), P("b", 20, 0), P("c", 10, 10), Line("l", "a", "b"), Line("m", "a", "c")],
                  [("coincident", "a", ORIGIN), ("on", "b", ALONG)],
                  [("distance", "20", "a", "b"), ("distance", "14", "a", "c"), ("angle", "45°", "l", "m")])  # fmt: skip
    found = settle_sketch(sketch, LEDGER)
    for degrees in (89, 91, 135, 179, 90, 1):
        found = settle_sketch(changed(found, d2=f"{degrees}°"), LEDGER)
        turn = math.radians(degrees)
        assert at(found, "c") == pytest.approx((14 * math.cos(turn), 14 * math.sin(turn)), abs=1e-7)


def test_a_needle_ellipse_is_touched_where_it_must_be():
    sketch = make([P("c", 0, 0), P("a", 30, 0), Ellipse("e", "c", "a", 2.0), P("p", -40, 1.9), P("q", 40, 2.2), Line("l", "p", "q")],
                  [("coincident", "c", ORIGIN), ("on", "a", ALONG), ("horizontal", "l"), ("tangent", "l", "e")],
                  [("long_axis", "60", "e"), ("short_axis", "0.5", "e"), ("along", "40", ORIGIN, "p", {"sense": -1}), ("along", "40", ORIGIN, "q")])  # fmt: skip
    assert at(solved(sketch), "p")[1] == pytest.approx(0.25, abs=1e-9)


def test_a_ring_of_copies_grows_tenfold():
    sketch = make([P("m", 0, 0), P("c", 20, 0), Circle("h", "c", 2.0)], [("coincident", "m", ORIGIN), ("on", "c", ALONG)],
                  [("diameter", "4", "h"), ("along", "20", ORIGIN, "c")],
                  repeats=(Repeat(id="m1", kind="ring", of=("c", "h"), count="9", center="m"),))  # fmt: skip
    found = settle_sketch(sketch, LEDGER)
    far = settle_sketch(changed(found, d1="200"), LEDGER)
    assert len(far.curves()) == 9
    assert all(math.hypot(*at(far, c.center)) == pytest.approx(200) for c in far.curves())
    assert freedom(far, {"d0": 4.0, "d1": 200.0}).ways == 0
    less = msgspec.structs.replace(far, repeats=(msgspec.structs.replace(far.repeats[0], count="4"),))
    angles = sorted(
        round(math.degrees(math.atan2(*reversed(at(s, c.center))))) % 360
        for s in (settle_sketch(less, LEDGER),)
        for c in s.curves()
    )
    assert angles == [0, 90, 180, 270]


def test_said_twice_still_solves():
    sketch = triangle("10", "8", "7")
    twice = msgspec.structs.replace(
        sketch, relations=(*sketch.relations, Relation("x", "horizontal", ("l",)), Relation("y", "on", ("o", ALONG)))
    )
    assert at(settle_sketch(changed(twice, d0="9"), LEDGER), "p") == pytest.approx((9, 0))


def test_there_are_enough_of_them():
    here = [n for n in globals() if n.startswith("test_")]
    assert len(PLACES) + len(REFUSED) + len(here) >= 40
