"""The sketch solver at 50, 200 and 1000 relations, against ``scipy.optimize.least_squares`` with numeric Jacobian.

SciPy is given our own vectorised residual, so only the method is compared. Sketches are chains of linked plates, fully
pinned; a warm solve changes one size by three per cent from a solved pose, a cold one starts eight per cent off.
"""

from __future__ import annotations

import random
import statistics
import time

import msgspec
import numpy as np
from scipy.optimize import least_squares

from lathed_solid.core.sketch.explain.diagnose import freedom
from lathed_solid.core.sketch.model import ORIGIN, Arc, Dimension, Entity, Line, Point, Relation, Sketch
from lathed_solid.core.sketch.solver.solve import Solver

from .row import Row, median_ms


def chain(relations: int) -> tuple[Sketch, dict[str, float]]:
    """A row of rounded steps with at least ``relations`` relations and dimensions."""
    entities: list[Entity] = [Point("p0", 0, 0)]
    stated: list[Relation] = [Relation("r0", "coincident", ("p0", ORIGIN))]
    sizes: list[Dimension] = []
    values: dict[str, float] = {}
    x, y, at, k = 0.0, 0.0, "p0", 0

    def relate(kind: str, *of: str) -> None:
        stated.append(Relation(f"r{len(stated)}", kind, of))  # type: ignore[arg-type]

    def size(kind: str, value: float, *of: str) -> None:
        sizes.append(Dimension(id=f"d{len(sizes)}", kind=kind, of=of, text="1"))  # type: ignore[arg-type]
        values[sizes[-1].id] = value

    while len(stated) + len(sizes) < relations:
        k += 1
        b, c, o, d = (f"{name}{k}" for name in "bcod")
        entities += [
            Point(b, x + 20, y), Point(o, x + 20, y + 3), Point(c, x + 23, y + 3), Point(d, x + 23, y + 12),
            Line(f"h{k}", at, b), Arc(f"a{k}", o, b, c), Line(f"v{k}", c, d),
        ]  # fmt: skip
        relate("horizontal", f"h{k}")
        relate("tangent", f"h{k}", f"a{k}")
        relate("tangent", f"a{k}", f"v{k}")
        relate("perpendicular", f"h{k}", f"v{k}")
        size("distance", 20.0, at, b)
        size("radius", 3.0, f"a{k}")
        size("distance", 9.0, c, d)
        x, y, at = x + 23, y + 12, d
    return Sketch(
        id="k", name="chain", entities=tuple(entities), relations=tuple(stated), dimensions=tuple(sizes)
    ), values


def shaken(sketch: Sketch, share: float) -> Sketch:
    noise = random.Random(1)
    amount = share * 9.0
    return msgspec.structs.replace(
        sketch,
        entities=tuple(
            msgspec.structs.replace(e, x=e.x + noise.uniform(-amount, amount), y=e.y + noise.uniform(-amount, amount))
            if isinstance(e, Point)
            else e
            for e in sketch.entities
        ),
    )


def run() -> list[Row]:
    rows: list[Row] = []
    for count in (50, 200, 1000):
        sketch, values = chain(count)
        rows += [_cold(sketch, values, count), _warm(sketch, values, count)]
        ms = median_ms(lambda s=sketch, v=values: freedom(s, v), 5)  # type: ignore[misc]
        target = 6.0 if count <= 200 else 15.0
        rows.append(
            Row(f"solver, {count} relations, what can still move", ms, target, ms / target, "ms (of its target)")
        )
    return rows


def _scipy(solver: Solver, start: np.ndarray) -> float:
    system = solver.system
    begun = time.perf_counter()
    least_squares(lambda y: system.evaluate(y)[0], start, xtol=1e-14, ftol=1e-14, gtol=1e-12)
    return 1000 * (time.perf_counter() - begun)


def _cold(sketch: Sketch, values: dict[str, float], count: int) -> Row:
    rough = shaken(sketch, 0.08)
    ours = median_ms(lambda: _checked(Solver(rough, values), values), 5)
    solver = Solver(rough, values)
    reference = _scipy(solver, solver.pose.copy())
    return Row(f"solver, {count} relations, cold with set-up", ours, reference, reference / ours, "ms (times faster)")


def _warm(sketch: Sketch, values: dict[str, float], count: int) -> Row:
    solver = Solver(sketch, values)
    _checked(solver, values)
    ours = []
    names = list(values)[:: max(1, len(values) // 9)]
    for k, name in enumerate(names * 2):
        changed = values | {name: values[name] * (1.03 if k % 2 == 0 else 1.0)}
        begun = time.perf_counter()
        _checked(solver, changed)
        ours.append(1000 * (time.perf_counter() - begun))
    _checked(solver, values)
    solver.system.constants(values | {names[0]: values[names[0]] * 1.03})
    reference = _scipy(solver, solver.pose.copy())
    median = statistics.median(ours)
    return Row(
        f"solver, {count} relations, warm, one size changed",
        median,
        reference,
        reference / median,
        "ms (times faster, aim 50 at 200)",
    )


def _checked(solver: Solver, values: dict[str, float]) -> None:
    if not solver.solve(values).ok:
        raise RuntimeError("the bench sketch was not solved")
