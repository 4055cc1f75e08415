"""Properties that hold for any sketch: perturbed it comes back to the same branch, conflicts are truly conflicts and end
when one of those named is dropped, and what can move agrees with the numbers.
"""

import math

import msgspec
import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from scipy.linalg import null_space

from lathed_solid.core.callout import Ledger
from lathed_solid.core.route.settling import dimension_values, settle_sketch
from lathed_solid.core.sketch.explain.diagnose import freedom, judge
from lathed_solid.core.sketch.make.draw import fresh
from lathed_solid.core.sketch.model import (
    ALONG,
    ORIGIN,
    Arc,
    Circle,
    Dimension,
    Line,
    Plane,
    Point,
    Relation,
    Sketch,
)
from lathed_solid.core.sketch.solver.formulate import Formulation
from lathed_solid.core.sketch.solver.solve import Solver
from lathed_solid.core.solving.system import System

LEDGER = Ledger([])
QUIET = settings(
    max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much]
)
LENGTHS = st.floats(3.0, 60.0).map(lambda v: round(v, 3))


class Maker:
    """Builds a solvable sketch step by step, each step fully pinned by what it states."""

    def __init__(self) -> None:
        self.sketch = Sketch(id="k", name="t", plane=Plane("end"))
        self.values: dict[str, float] = {}

    def add(self, *entities):
        self.sketch = msgspec.structs.replace(self.sketch, entities=(*self.sketch.entities, *entities))

    def relate(self, kind, *of):
        made = Relation(fresh(self.sketch, "r"), kind, of)
        self.sketch = msgspec.structs.replace(self.sketch, relations=(*self.sketch.relations, made))

    def size(self, kind, value, *of, **more):
        made = Dimension(id=fresh(self.sketch, "d"), kind=kind, of=of, text=repr(value), **more)
        self.values[made.id] = value
        self.sketch = msgspec.structs.replace(self.sketch, dimensions=(*self.sketch.dimensions, made))


@st.composite
def sketches(draw):
    """Chains of lines, arcs, circles and slanted lines, each tied to what is there already."""
    m = Maker()
    m.add(Point("p0", 0.0, 0.0))
    m.relate("coincident", "p0", ORIGIN)
    at, (x, y), line = "p0", (0.0, 0.0), ""
    for k in range(draw(st.integers(2, 7))):
        step = draw(st.sampled_from(["level", "slant", "circle", "square", "round"]))
        b, name = f"b{k}", f"l{k}"
        size = draw(LENGTHS)
        if step == "circle":
            m.add(Point(f"c{k}", x + size, y + 5.0), Circle(f"o{k}", f"c{k}", size / 3))
            m.size("along", size, at, f"c{k}")
            m.size("across", 5.0, at, f"c{k}")
            m.size("diameter", 2 * size / 3, f"o{k}")
            continue
        if step == "level" or not line:
            m.add(Point(b, x + size, y), Line(name, at, b))
            m.relate("horizontal", name)
            m.size("distance", size, at, b)
            x += size
        elif step == "slant":
            turn = draw(st.floats(0.3, 2.6))
            m.add(Point(b, x + size * math.cos(turn), y + size * math.sin(turn)), Line(name, at, b))
            m.size("angle", turn, ALONG, name)
            m.size("distance", size, at, b)
            x, y = x + size * math.cos(turn), y + size * math.sin(turn)
        elif step == "square":
            p, q = (m.sketch.points()[i] for i in (m.sketch.get(line).a, m.sketch.get(line).b))
            u = math.atan2(q.y - p.y, q.x - p.x) + math.pi / 2
            m.add(Point(b, x + size * math.cos(u), y + size * math.sin(u)), Line(name, at, b))
            m.relate("perpendicular", line, name)
            m.size("distance", size, at, b)
            x, y = x + size * math.cos(u), y + size * math.sin(u)
        else:
            p, q = (m.sketch.points()[i] for i in (m.sketch.get(line).a, m.sketch.get(line).b))
            u = math.atan2(q.y - p.y, q.x - p.x)
            sweep = draw(st.floats(0.4, 2.0))
            cx, cy = x - math.sin(u) * size, y + math.cos(u) * size
            v = u - math.pi / 2 + sweep
            ex, ey = cx + size * math.cos(v), cy + size * math.sin(v)
            m.add(Point(f"c{k}", cx, cy), Point(b, ex, ey), Arc(f"a{k}", f"c{k}", at, b))
            m.relate("tangent", line, f"a{k}")
            m.size("radius", size, f"a{k}")
            m.size("distance", math.dist((x, y), (ex, ey)), at, b)
            # A line goes on smoothly, so that the next step has one to lean on.
            w = u + sweep
            m.add(Point(f"t{k}", ex + 5 * math.cos(w), ey + 5 * math.sin(w)), Line(f"m{k}", b, f"t{k}"))
            m.relate("tangent", f"m{k}", f"a{k}")
            m.size("distance", 5.0, b, f"t{k}")
            at, x, y, line = f"t{k}", ex + 5 * math.cos(w), ey + 5 * math.sin(w), f"m{k}"
            continue
        at, line = b, name
    return m.sketch, m.values


def apart(a, b):
    p, q = a.points(), b.points()
    return max(math.hypot(p[i].x - q[i].x, p[i].y - q[i].y) for i in p)


@QUIET
@given(sketches(), st.integers(0, 2**31), st.floats(0.0, 0.04))
def test_a_perturbed_sketch_comes_back_to_its_branch(made, seed, amount):
    sketch, values = made
    noise = np.random.default_rng(seed)
    smallest = min(v for d in sketch.dimensions if (v := values[d.id]) and d.kind != "angle")
    reach = amount * smallest
    entities = tuple(
        msgspec.structs.replace(e, x=e.x + noise.uniform(-reach, reach), y=e.y + noise.uniform(-reach, reach))
        if isinstance(e, Point)
        else e
        for e in sketch.entities
    )
    solved = Solver(msgspec.structs.replace(sketch, entities=entities), values).solve(values)
    assert solved.ok
    assert apart(solved.sketch, sketch) < 1e-6 * 100


@QUIET
@given(sketches(), st.data(), st.floats(0.7, 1.4))
def test_a_changed_size_and_back_ends_where_it_began(made, data, factor):
    sketch, values = made
    name = data.draw(st.sampled_from(sorted(values)))
    assume(abs(factor - 1) > 0.01)
    solver = Solver(sketch, values)
    there = solver.solve(values | {name: values[name] * factor})
    assume(there.ok)
    back = solver.solve(values)
    assert back.ok
    assert apart(back.sketch, sketch) < 1e-6


@QUIET
@given(sketches(), st.data())
def test_a_conflict_names_a_set_that_ends_when_one_of_it_is_dropped(made, data):
    sketch, values = made
    assert freedom(sketch, values).ways == 0
    points = [p for p in sketch.points() if p != "p0"]
    target = data.draw(st.sampled_from(points))
    kind = data.draw(st.sampled_from(["along", "across"]))
    p = sketch.points()[target]
    value = abs(p.x if kind == "along" else p.y)
    new = Dimension(
        id="new", kind=kind, of=(ORIGIN, target), text="1", sense=1 if (p.x if kind == "along" else p.y) >= 0 else -1
    )
    off = value + 7.0
    verdict = judge(sketch, values | {"new": off}, new)
    assert verdict.kind == "conflict"
    assert judge(sketch, values | {"new": value}, new).kind == "redundant"
    # Together with the new one the named ones cannot hold; without any single one of them the new one fits.
    sizes = [d for d in verdict.because if d in values]
    for dropped in verdict.because:
        less = msgspec.structs.replace(
            sketch,
            relations=tuple(r for r in sketch.relations if r.id != dropped),
            dimensions=tuple(d for d in sketch.dimensions if d.id != dropped),
        )
        assert judge(less, values | {"new": off}, new).kind == "fits", dropped
    assert sizes or all(
        r.kind in ("horizontal", "vertical", "coincident") for r in sketch.relations if r.id in verdict.because
    )


@QUIET
@given(sketches(), st.sets(st.integers(0, 40), max_size=5), st.sets(st.integers(0, 40), max_size=3))
def test_freedom_agrees_with_the_numerical_null_space(made, sizes, relations):
    sketch, values = made
    loose = msgspec.structs.replace(
        sketch,
        dimensions=tuple(d for k, d in enumerate(sketch.dimensions) if k not in sizes),
        relations=tuple(r for k, r in enumerate(sketch.relations) if k not in relations),
    )
    known = {d.id: values[d.id] for d in loose.dimensions}
    found = freedom(loose, known)
    formulation = Formulation(loose, known)
    system = System(formulation, merged=False)
    _, data = system.evaluate(system.start(np.array(formulation.x)))
    basis = null_space(system.dense(data), rcond=1e-8)
    assert found.ways == basis.shape[1]
    column = system.merge.column
    for id_, (i, j) in formulation.point.items():
        if column[i] < 0:
            continue
        block = basis[[column[i], column[j]]]
        rank = int((np.linalg.svd(block, compute_uv=False) > 1e-6).sum()) if block.size else 0
        told, way = found.directions[id_]
        assert told == rank
        if rank == 1:
            across = np.array([-way[1], way[0]])
            assert np.abs(across @ block).max() < 1e-6, "the tick lies along the motion"


@QUIET
@given(sketches())
def test_settling_is_at_rest(made):
    sketch, values = made
    assert dimension_values(sketch, LEDGER).keys() == values.keys()
    once = settle_sketch(sketch, LEDGER)
    assert settle_sketch(once, LEDGER) == once
