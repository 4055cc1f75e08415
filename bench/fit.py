"""Parts put together: solving again after one number changed, dragging, finding and judging pairs, free motions.

The reference of solving is SciPy's ``least_squares`` with numeric derivatives on the very same residual, in the same
process; of finding pairs the kernel's own distance on the pairs whose boxes are near; of free motions a dense SVD.
"""

from __future__ import annotations

import math
import statistics
import tempfile
import time
from pathlib import Path

import numpy as np
from scipy.optimize import least_squares

from lathed_solid.core.arrays import Floats
from lathed_solid.core.fit import edits
from lathed_solid.core.fit.clearance import clearances, near_pairs
from lathed_solid.core.fit.drag import Drag
from lathed_solid.core.fit.freedom import freedoms
from lathed_solid.core.fit.model import Assembly, End, PartShot, Pose
from lathed_solid.core.fit.poses import Poses, rotation, turned_by
from lathed_solid.core.fit.solving import newton, solved
from lathed_solid.core.fit.statement import stated
from lathed_solid.core.job.assembling.files import load_assembly
from lathed_solid.core.job.assembling.judging import body_of
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.kernel.ground.figures import Surface

from .row import Row, median_ms

DRUM = Path(__file__).parents[1] / "examples" / "skp-00.lathed"


def run() -> list[Row]:
    rows = []
    for count, aim in ((10, ""), (50, " (aim 60)"), (200, " (aim 400)")):
        rows += _solving(stack(count), count, aim)
    return [*rows, *_dragging(), *_judging()]


def _bar(k: int) -> PartShot:
    round_ = {"radius": 2.0, "hollow": True}
    faces = (
        Surface(index=1, kind="cylinder", origin=(0.0, 0.0, 0.0), axis=(0.0, 0.0, 1.0), **round_),  # type: ignore[arg-type]
        Surface(index=2, kind="cylinder", origin=(20.0, 0.0, 0.0), axis=(0.0, 0.0, 1.0), **round_),  # type: ignore[arg-type]
        Surface(index=3, kind="plane", origin=(0.0, 0.0, 2.0), axis=(0.0, 0.0, 1.0)),
        Surface(index=4, kind="plane", origin=(0.0, 0.0, -2.0), axis=(0.0, 0.0, -1.0)),
        Surface(index=5, kind="plane", origin=(0.0, 3.0, 0.0), axis=(0.0, 1.0, 0.0)),
    )
    box = ((-3.0, -3.0, -2.0), (23.0, 3.0, 2.0))
    return PartShot(id="", path=f"bar {k % 4}", references=("a", "b", "top", "bottom", "side"), surfaces=faces, box=box)


def stack(count: int) -> Assembly:
    """Bars on bars, each in line, seated and at an angle to the one below: three relations a bar."""
    made, names = Assembly(), list[str]()
    for k in range(count):
        made, (name,) = edits.insert(made, _bar(k), [Pose((10.0 * math.sin(k), 0.0, 4.1 * k))])
        if names:
            below = names[-1]
            for kind, mine, its, value in (
                ("in line", "b", "a", ""), ("seated", "top", "bottom", "0.1"), ("angle", "side", "side", "30"),
            ):  # fmt: skip
                side = None if kind != "in line" else False
                made, _ = edits.relate(made, kind, End(below, mine), End(name, its), value, side)  # type: ignore[arg-type]
        names.append(name)
    return solved(made).assembly


def _solving(together: Assembly, count: int, aim: str) -> list[Row]:
    seat = [r.id for r in together.relations if r.kind == "angle"][count // 2]
    changed = edits.change_relation(together, seat, value="31")
    statement = stated(changed)
    bodies = statement.bodies()
    engine = newton(bodies)
    ours = median_ms(lambda: engine.nearest(statement.start))
    start = statement.start

    def residual(step: Floats) -> Floats:
        by = step.reshape(-1, 6)
        turns, places = start.turns.copy(), start.places.copy()
        places[bodies.moving] += by[:, :3]
        turns[bodies.moving] = turned_by(by[:, 3:] / bodies.reach[bodies.moving][:, None]) @ turns[bodies.moving]
        return bodies.residual(Poses(turns, places, start.wound))

    rows = []
    if count <= 50:
        begun = time.perf_counter()
        least_squares(residual, np.zeros(bodies.n), xtol=1e-10, ftol=1e-10, gtol=1e-10)
        reference = 1000 * (time.perf_counter() - begun)
        rows.append(
            Row(f"fit, {count} parts, one number changed", ours, reference, reference / ours, f"times faster{aim}")
        )
    else:
        # One numeric Jacobian alone: the least that the reference needs.
        begun = time.perf_counter()
        least_squares(residual, np.zeros(bodies.n), max_nfev=1)
        reference = 1000 * (time.perf_counter() - begun)
        rows.append(
            Row(f"fit, {count} parts, one number changed", ours, reference, reference / ours, f"x one Jacobian{aim}")
        )
    found = solved(together)
    free = median_ms(lambda: freedoms(found.statement, found.state), 3)
    _, data = bodies.evaluate(start)
    J = np.zeros((bodies.m, bodies.n))
    J[bodies.rows, bodies.columns] = data
    dense = median_ms(lambda: np.linalg.svd(J, full_matrices=True), 1)
    rows.append(Row(f"fit, {count} parts, what can move", free, dense, free / dense, "of a dense SVD"))
    return rows


def _dragging() -> list[Row]:
    made = stack(50)
    angle = [r.id for r in made.relations if r.kind == "angle"][24]
    loose = edits.unrelate(made, angle)
    name = loose.instances[25].id
    pose = loose.instance(name).pose
    grabbed = rotation(pose) @ np.array([20.0, 0.0, 0.0]) + np.array(pose.place)
    hold = Drag(loose, name, (float(grabbed[0]), float(grabbed[1]), float(grabbed[2])), budget=1.0)
    frames = []
    for k in range(60):
        turn = 0.02 * k
        way = rotation(pose) @ np.array([20.0 * math.cos(turn), 20.0 * math.sin(turn), 0.0]) + np.array(pose.place)
        begun = time.perf_counter()
        hold.to((float(way[0]), float(way[1]), float(way[2])))
        frames.append(1000 * (time.perf_counter() - begun))
    frames.sort()
    middle, late = statistics.median(frames), frames[int(0.95 * len(frames))]
    return [
        Row("fit, 50 parts, dragging: a picture", middle, 4.0, middle / 4.0, "ms, median (aim 4)"),
        Row("fit, 50 parts, dragging: a late picture", late, 8.0, late / 8.0, "ms, 95 of 100 (aim 8)"),
    ]


def _judging() -> list[Row]:
    from OCP.BRepExtrema import BRepExtrema_DistShapeShape

    from lathed_solid.core.kernel.ground.placing import rigid

    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        drum = load_assembly(DRUM, store).assembly
        solid = body_of(store)
        pairs, many = near_pairs(drum)
        finding = median_ms(lambda: near_pairs(drum))
        shapes = [
            solid(drum.part(i.part)).placed(rigid(rotation(i.pose).tolist(), i.pose.place)) for i in drum.instances
        ]
        begun = time.perf_counter()
        for a, b in pairs:
            BRepExtrema_DistShapeShape(shapes[a], shapes[b])
        kernel = 1000 * (time.perf_counter() - begun)
        for part in drum.parts:
            assert solid(part).solid is not None  # meshed once a part, not counted here
        begun = time.perf_counter()
        found = clearances(drum, solid)
        judging = 1000 * (time.perf_counter() - begun)
    assert not found.overlaps
    return [
        Row(
            f"fit, SKP-00, near among {many} pairs", finding, kernel, finding / kernel, "of kernel distances (aim 0.05)"
        ),
        Row(f"fit, SKP-00, {len(pairs)} near pairs judged", judging, kernel, judging / kernel, "of kernel distances"),
    ]
