"""The sketch solver at 50, 200 and 1000 relations, against ``scipy.optimize.least_squares`` with numeric Jacobian.

SciPy is given our own vectorised residual, so only the method is compared. Sketches are chains of linked plates, fully
pinned; a warm solve changes one size by three per cent from a solved pose, a cold one starts eight per cent off. A drag
frame leaves out every seventh size; SciPy's is the same pull as soft weights, run to its optimum. Diagnosis follows a
solve, as in the window, and stands against the dense singular values of the same Jacobian.
"""

from __future__ import annotations

import gc
import math
import random
import resource
import statistics
import time
from collections.abc import Callable
from pathlib import Path

import msgspec
import numpy as np
from scipy.optimize import least_squares

from lathed_solid.core.sketch.explain.diagnose import freedom, judge
from lathed_solid.core.sketch.model import ORIGIN, Arc, Dimension, Entity, Line, Point, Relation, Sketch
from lathed_solid.core.sketch.solver.drag import Drag
from lathed_solid.core.sketch.solver.formulate import Formulation
from lathed_solid.core.sketch.solver.kept import forget, solver_for
from lathed_solid.core.sketch.solver.solve import Solver
from lathed_solid.core.solving.system import System

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
        rows += [*_diagnosis(sketch, values, count), _drag(sketch, values, count)]
    return [*rows, _memory()]


def _diagnosis(sketch: Sketch, values: dict[str, float], count: int) -> list[Row]:
    """What can still move, and naming a conflict, against dense linear algebra on the same rows."""
    from scipy.linalg import null_space

    formulation = Formulation(sketch, values)
    system = System(formulation, merged=False)
    _, data = system.evaluate(system.start(np.array(formulation.x)))
    dense = system.dense(data)
    reference = median_ms(lambda: null_space(dense), 3)
    new, moving, naming = Relation("new", "parallel", ("h2", "h5")), [], []
    for _ in range(5):
        # As the window does it: the sketch has just been solved anew, then both questions are asked in this order.
        forget()
        solver = solver_for(msgspec.structs.replace(sketch), values)
        _checked(solver, values)
        solved = solver.sketch
        moving.append(_ms(lambda s=solved: freedom(s, values)))  # type: ignore[misc]
        naming.append(_ms(lambda s=solved: judge(s, values, new)))  # type: ignore[misc]
    ours, named = statistics.median(moving), statistics.median(naming)
    unit = "ms (times faster)"
    return [
        Row(f"solver, {count} relations, what can still move", ours, reference, reference / ours, unit),
        Row(f"solver, {count} relations, a conflict named", named, reference, reference / named, unit),
    ]


def _ms(run: Callable[[], object]) -> float:
    begun = time.perf_counter()
    run()
    return 1000 * (time.perf_counter() - begun)


def loosened(sketch: Sketch, values: dict[str, float]) -> tuple[Sketch, dict[str, float], str]:
    """The sketch without every seventh size, and a point in its middle."""
    kept = tuple(d for k, d in enumerate(sketch.dimensions) if k % 7)
    point = f"b{max(1, sum(isinstance(e, Arc) for e in sketch.entities) // 2)}"
    return msgspec.structs.replace(sketch, dimensions=kept), {d.id: values[d.id] for d in kept}, point


def _drag(sketch: Sketch, values: dict[str, float], count: int) -> Row:
    loose, known, point = loosened(sketch, values)
    p = loose.points()[point]
    drag, frames = Drag(loose, known, point, (p.x, p.y)), []
    for k in range(120):
        begun = time.perf_counter()
        drag.to(p.x + 8 * math.sin(k / 19), p.y + 8 - 8 * math.cos(k / 19))
        frames.append(1000 * (time.perf_counter() - begun))
    solver = Solver(loose, known)
    _checked(solver, known)
    system, start = solver.system, solver.pose.copy()
    column = [int(system.merge.column[v]) for v in solver.formulation.point[point]]
    held = [(c, t) for c, t in zip(column, (p.x + 0.5, p.y + 0.5), strict=True) if c >= 0]

    def pulled(y: np.ndarray) -> np.ndarray:
        residual, _ = system.evaluate(y)
        return np.concatenate([1e3 * residual, 1e-3 * (y - start), [y[c] - t for c, t in held]])

    begun = time.perf_counter()
    least_squares(pulled, start, max_nfev=4 if count > 200 else 30)
    reference = 1000 * (time.perf_counter() - begun)
    ours = statistics.median(frames)
    return Row(
        f"solver, {count} relations, a frame of dragging", ours, reference, reference / ours, "ms (times faster)"
    )


def _memory() -> Row:
    """Resident memory before and after ten thousand frames, MB; the ratio should stay at one."""
    loose, known, point = loosened(*chain(200))
    p = loose.points()[point]
    drag = Drag(loose, known, point, (p.x, p.y))
    sizes = []
    for k in range(10_001):
        drag.to(p.x + 5 * math.sin(k / 19), p.y + 5 - 5 * math.cos(k / 19))
        if k in (1000, 10_000):
            gc.collect()
            sizes.append(_resident_mb())
    return Row("solver, memory over 10 000 frames of dragging", sizes[1], sizes[0], sizes[1] / sizes[0], "MB (ratio)")


def _resident_mb() -> float:
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * resource.getpagesize() / 1e6


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
