"""The sketch solver: exact rows, same branch, honest diagnosis."""

import math
import random

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lathed_solid.core.sketch.explain.diagnose import freedom, judge
from lathed_solid.core.sketch.model import ALONG, ORIGIN, Arc, Circle, Dimension, Line, Point, Relation, Sketch
from lathed_solid.core.sketch.solver.drag import Drag
from lathed_solid.core.sketch.solver.formulate import Formulation
from lathed_solid.core.sketch.solver.rows import KINDS
from lathed_solid.core.sketch.solver.solve import Solver, solve
from lathed_solid.core.solving.system import System


def make(entities, relations=(), dimensions=()):
    return Sketch(
        id="k1",
        name="test",
        entities=tuple(entities),
        relations=tuple(Relation(f"r{i}", kind, tuple(of)) for i, (kind, *of) in enumerate(relations)),
        dimensions=tuple(
            Dimension(id=f"d{i}", kind=kind, of=tuple(of), text="1", sense=sense)
            for i, (kind, of, _, sense) in enumerate(dimensions)
        ),
    ), {f"d{i}": value for i, (_, _, value, _) in enumerate(dimensions)}


@pytest.mark.parametrize("name", KINDS)
def test_gradients_are_those_of_the_residuals(name):
    kind, random_ = KINDS[name], np.random.default_rng(7)
    X = random_.uniform(-5, 5, (kind.slots, 6))
    P = random_.uniform(-1, 1, (kind.constants, 6))
    G = np.zeros_like(X)
    kind.evaluate(X, P, G)
    for slot in range(kind.slots):
        step = np.zeros_like(X)
        step[slot] = 1e-6
        scratch = np.zeros_like(X)
        slope = (kind.evaluate(X + step, P, scratch) - kind.evaluate(X - step, P, scratch)) / 2e-6
        assert G[slot] == pytest.approx(slope, abs=1e-6)


def plate(width=40.0, height=20.0, hole=6.0):
    """A rectangle with a hole on its middle and one corner rounded: every usual relation takes part."""
    entities = [
        Point("a", 0.3, -0.2), Point("b", 38, 0.5), Point("c", 41, 15), Point("d", 36, 21), Point("e", -0.5, 19),
        Point("o", 35, 15), Point("m", 18, 9), Point("h", 21, 11),
        Line("ab", "a", "b"), Line("bc", "b", "c"), Arc("cd", "o", "c", "d"), Line("de", "d", "e"), Line("ea", "e", "a"),
        Line("diag", "e", "b", True), Circle("hole", "h", 2.0),
    ]  # fmt: skip
    relations = [
        ("coincident", "a", ORIGIN), ("horizontal", "ab"), ("vertical", "ea"), ("parallel", "ab", "de"),
        ("perpendicular", "ab", "bc"), ("tangent", "bc", "cd"), ("tangent", "de", "cd"), ("midpoint", "m", "diag"),
        ("coincident", "h", "m"),
    ]  # fmt: skip
    dimensions = [
        ("distance", ("a", "b"), width, 1), ("distance", ("ab", "e"), height, 1), ("radius", ("cd",), 5.0, 1),
        ("diameter", ("hole",), hole, 1),
    ]  # fmt: skip
    return make(entities, relations, dimensions)


def test_a_plate_is_solved_and_fully_pinned():
    sketch, values = plate()
    solution = solve(sketch, values)
    assert solution.ok
    points = solution.sketch.points()
    assert (points["c"].x, points["d"].y) == pytest.approx((40, 20), abs=1e-9)
    assert (points["o"].x, points["o"].y) == pytest.approx((35, 15), abs=1e-9)
    assert (points["h"].x, points["h"].y) == pytest.approx((20, 10), abs=1e-9)
    assert solution.sketch.get("hole").radius == pytest.approx(3)
    assert freedom(solution.sketch, values).ways == 0


@given(st.floats(25, 90), st.floats(12, 60), st.floats(1, 9))
def test_values_come_and_go_without_a_flip(width, height, hole):
    sketch, values = plate()
    solver = Solver(sketch, values)
    first = solver.solve(values).sketch
    there = solver.solve(values | {"d0": width, "d1": height, "d3": hole})
    assert there.ok
    assert there.sketch.points()["c"].x == pytest.approx(width, abs=1e-8)
    back = solver.solve(values).sketch
    for id_, p in first.points().items():
        q = back.points()[id_]
        assert (q.x, q.y) == pytest.approx((p.x, p.y), abs=1e-8)


@given(st.integers(0, 10_000))
def test_perturbed_sketches_return_to_the_same_pose(seed):
    sketch, values = plate()
    exact = solve(sketch, values).sketch
    noise = random.Random(seed)
    shaken = msgspec.structs.replace(
        exact,
        entities=tuple(
            msgspec.structs.replace(e, x=e.x + noise.uniform(-0.4, 0.4), y=e.y + noise.uniform(-0.4, 0.4))
            if isinstance(e, Point)
            else e
            for e in exact.entities
        ),
    )
    again = solve(shaken, values)
    assert again.ok
    for id_, p in exact.points().items():
        assert math.dist((p.x, p.y), (again.sketch.points()[id_].x, again.sketch.points()[id_].y)) < 1e-7


def four_bar(crank_angle):
    """Ground 15, crank 5, coupler 12, rocker 11: crank driven by its angle."""
    x, y = 5 * math.cos(crank_angle), 5 * math.sin(crank_angle)
    gap = math.hypot(15 - x, -y)
    along = (12**2 - 11**2 + gap**2) / (2 * gap)
    up = math.sqrt(12**2 - along**2)
    ux, uy = (15 - x) / gap, -y / gap
    c = (x + along * ux - up * uy, y + along * uy + up * ux)
    entities = [
        Point("A", 0, 0), Point("D", 15, 0), Point("B", x, y), Point("C", *c),
        Line("crank", "A", "B"), Line("coupler", "B", "C"), Line("rocker", "C", "D"),
    ]  # fmt: skip
    relations = [("coincident", "A", ORIGIN), ("fixed", "D")]
    dimensions = [
        ("distance", ("A", "B"), 5.0, 1), ("distance", ("B", "C"), 12.0, 1), ("distance", ("C", "D"), 11.0, 1),
        ("angle", (ALONG, "crank"), crank_angle, 1),
    ]  # fmt: skip
    sketch, values = make(entities, relations, dimensions)
    return sketch, values, c


@given(st.floats(0.2, 6.0), st.floats(0.2, 6.0))
def test_a_linkage_never_changes_its_branch(start, end):
    sketch, values, _ = four_bar(start)
    _, _, expected = four_bar(end)
    solution = solve(sketch, values | {"d3": end})
    assert solution.ok
    c = solution.sketch.points()["C"]
    assert (c.x, c.y) == pytest.approx(expected, abs=1e-6)


def test_an_impossible_size_keeps_the_last_pose():
    sketch, values = make(
        [
            Point("a", 0, 0),
            Point("b", 4, 0),
            Point("c", 2, 2),
            Line("ab", "a", "b"),
            Line("bc", "b", "c"),
            Line("ca", "c", "a"),
        ],
        [("coincident", "a", ORIGIN), ("horizontal", "ab")],
        [("distance", ("a", "b"), 4.0, 1), ("distance", ("b", "c"), 3.0, 1), ("distance", ("c", "a"), 3.0, 1)],
    )
    solver = Solver(sketch, values)
    good = solver.solve(values).sketch
    bad = solver.solve(values | {"d0": 9.0})
    assert not bad.ok
    assert bad.sketch == good
    assert 0.2 < bad.reached < 0.6  # 4 + 0.4 * 5 = 6 is where the triangle goes flat


def test_conflicts_name_a_minimal_set():
    sketch, values = plate()
    exact = solve(sketch, values).sketch
    new = Dimension(id="n", kind="distance", of=("de", "a"), text="1", sense=1)
    flat = judge(exact, values | {"n": 20.0}, new)
    assert flat.kind == "redundant"
    clash = judge(exact, values | {"n": 23.0}, new)
    assert clash.kind == "conflict"
    assert "d1" in clash.because
    free = msgspec.structs.replace(exact, dimensions=tuple(d for d in exact.dimensions if d.id != "d1"))
    assert judge(free, values | {"n": 20.0}, new).kind == "fits"
    for name in clash.because:  # dropping any of them makes room for the new one
        less = msgspec.structs.replace(
            exact,
            relations=tuple(r for r in exact.relations if r.id != name),
            dimensions=tuple(d for d in exact.dimensions if d.id != name),
        )
        assert judge(less, values | {"n": 20.0}, new).kind == "fits", name


@given(st.sets(st.sampled_from(["d0", "d1", "d2", "d3", "r1", "r3", "r4", "r8"]), max_size=5))
def test_freedom_agrees_with_the_numerical_rank(dropped):
    sketch, values = plate()
    exact = solve(sketch, values).sketch
    loose = msgspec.structs.replace(
        exact,
        relations=tuple(r for r in exact.relations if r.id not in dropped),
        dimensions=tuple(d for d in exact.dimensions if d.id not in dropped),
    )
    found = freedom(loose, values)
    formulation = Formulation(loose, values)
    system = System(formulation, merged=False)
    J = system.dense(system.evaluate(system.start(np.array(formulation.x)))[1])
    assert found.ways == system.n - np.linalg.matrix_rank(J, tol=1e-8)
    # Moving a free point a little along its free direction must leave the rows met to first order.
    for id_, (rank, (dx, dy)) in found.directions.items():
        if rank == 1:
            i, j = (system.merge.column[k] for k in formulation.point[id_])
            null = np.linalg.svd(J)[2][np.linalg.matrix_rank(J, tol=1e-8) :]
            assert np.linalg.norm(null[:, i] * dy - null[:, j] * dx) < 1e-6


def test_dragging_keeps_every_relation():
    sketch, values = plate()
    exact = solve(sketch, values).sketch
    loose = msgspec.structs.replace(exact, dimensions=tuple(d for d in exact.dimensions if d.id != "d0"))
    rest = {k: v for k, v in values.items() if k != "d0"}
    drag = Drag(loose, rest, "b")
    for i in range(60):
        moved = drag.to(40 + i * 0.5, 3.0)
        assert moved.points()["b"].y == pytest.approx(0, abs=1e-7)
    ended = drag.release()
    assert ended.points()["b"].x == pytest.approx(69.5, abs=0.05)
    assert ended.points()["d"].y == pytest.approx(20, abs=1e-7)
    assert solve(ended, rest).worst < 1e-8


def test_a_drag_does_not_stick_where_a_size_shrinks():
    """Arcs and lines without sizes give way less as they get short; the point stays under the cursor throughout."""
    entities, relations, sizes = [Point("d0", 0, 0)], [("coincident", "d0", ORIGIN)], []
    for k in range(1, 9):
        x, y, at = 23.0 * (k - 1), 12.0 * (k - 1), f"d{k - 1}"
        entities += [Point(f"b{k}", x + 20, y), Point(f"o{k}", x + 20, y + 3), Point(f"c{k}", x + 23, y + 3)]
        entities += [Point(f"d{k}", x + 23, y + 12), Line(f"h{k}", at, f"b{k}"), Line(f"v{k}", f"c{k}", f"d{k}")]
        entities += [Arc(f"a{k}", f"o{k}", f"b{k}", f"c{k}")]
        relations += [("horizontal", f"h{k}"), ("tangent", f"h{k}", f"a{k}"), ("tangent", f"a{k}", f"v{k}")]
        relations += [("vertical", f"v{k}")]
        if k % 2:
            sizes.append(("distance", (at, f"b{k}"), 20.0, 1))
    sketch, values = make(entities, relations, sizes)
    drag = Drag(sketch, values, "b5")
    for k in range(60):
        x, y = 112 + 0.6 * k, 48 + 0.9 * k
        moved = drag.to(x, y)
        points = moved.points()
        assert math.hypot(points["b5"].x - x, points["b5"].y - y) < 0.1
        assert all(points[f"d{k}"].y > points[f"c{k}"].y and points[f"c{k}"].x > points[f"b{k}"].x for k in range(1, 9))
    assert solve(drag.release(), values).worst < 1e-8


def test_near_and_far_sides_of_a_circle():
    entities = [Point("c", 0, 0), Circle("bore", "c", 10), Point("p", 12, -3), Point("q", 12, 3), Line("l", "p", "q")]
    relations = [("coincident", "c", ORIGIN), ("vertical", "l")]
    sketch, values = make(entities, relations, [("radius", ("bore",), 10.0, 1), ("distance", ("l", "bore"), 22.3, 1)])
    far = msgspec.structs.replace(
        sketch, dimensions=tuple(msgspec.structs.replace(d, far=d.id == "d1") for d in sketch.dimensions)
    )
    assert solve(far, values).sketch.points()["p"].x == pytest.approx(12.3)
    assert solve(sketch, values | {"d1": 1.5}).sketch.points()["p"].x == pytest.approx(11.5)


def test_a_thousand_relations_in_one_chain():
    """A long stepped chain is solved from a rough start, exactly."""
    entities, relations, dimensions = [Point("p0", 0, 0)], [("coincident", "p0", ORIGIN)], []
    x = y = 0.0
    noise = random.Random(3)
    for i in range(1, 500):
        x, y = (x + 3, y) if i % 2 else (x, y + (1 if i % 4 else -1))
        entities += [
            Point(f"p{i}", x + noise.uniform(-0.2, 0.2), y + noise.uniform(-0.2, 0.2)),
            Line(f"l{i}", f"p{i - 1}", f"p{i}"),
        ]
        relations.append(("horizontal" if i % 2 else "vertical", f"l{i}"))
        dimensions.append(("distance", (f"p{i - 1}", f"p{i}"), 3.0 if i % 2 else 1.0, 1))
    sketch, values = make(entities, relations, dimensions)
    solution = solve(sketch, values)
    assert solution.ok
    assert (solution.sketch.points()["p499"].x, solution.sketch.points()["p499"].y) == pytest.approx((x, y), abs=1e-7)
