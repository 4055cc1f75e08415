"""Parts put together: solving again after one number changed, dragging, finding and judging pairs, free motions.

The reference of solving is SciPy's ``least_squares`` with numeric derivatives on the very same residual, in the same
process; of finding pairs the kernel's own distance on the pairs whose boxes are near; of free motions a dense SVD.
"""

from __future__ import annotations

import importlib
import math
import statistics
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from scipy.optimize import least_squares

from lathed_solid.core.arrays import Floats
from lathed_solid.core.fit import edits
from lathed_solid.core.fit.clearance import clearances, near_pairs
from lathed_solid.core.fit.drag import Drag
from lathed_solid.core.fit.freedom import freedoms
from lathed_solid.core.fit.holes import in_every_hole, put_in, round_face_for
from lathed_solid.core.fit.model import Assembly, End, PartShot, Pose
from lathed_solid.core.fit.poses import Poses, rotation, turned_by
from lathed_solid.core.fit.solving import newton, solved
from lathed_solid.core.fit.statement import stated
from lathed_solid.core.job.assembling.files import load_assembly
from lathed_solid.core.job.assembling.judging import body_of
from lathed_solid.core.job.assembling.shots import shot_of_content
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.bought.made import bought
from lathed_solid.core.kernel.ground.figures import Surface
from lathed_solid.core.kernel.ground.picture import from_bytes
from lathed_solid.core.kernel.measure.difference import FINE

from .row import Row, median_ms

#: The bench that the tests build on; untyped, as tests are.
BENCH = importlib.import_module("tests.core.strangers.bench").Bench
DRUM = Path(__file__).parents[1] / "examples" / "skp-00.lathed"


def run() -> list[Row]:
    rows = []
    for count, aim in ((10, ""), (50, " (aim 60)"), (200, " (aim 400)")):
        rows += _solving(stack(count), count, aim)
    return [*rows, *_dragging(), *_judging(), *_many()]


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

    begun = time.perf_counter()
    least_squares(residual, np.zeros(bodies.n), xtol=1e-10, ftol=1e-10, gtol=1e-10)
    reference = 1000 * (time.perf_counter() - begun)
    rows = [Row(f"fit, {count} parts, one number changed", ours, reference, reference / ours, f"times faster{aim}")]
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


def bolted_plate(wide: int, high: int, store: Store) -> Assembly:
    """A plate with rows of holes, a screw and a nut in each: three parts, ``2 wide high + 1`` instances."""
    b = BENCH(str(14 * wide), str(14 * high), "10", f"{wide * high}x Ø5.5 THRU", "14", "7")
    end = f"{b.block('rect 0,0 #1,#2', depth='#3')}/end"
    k = b.sketch("circle Ø#4 at #6,#6", base="face", on=end)
    b.draw(k, f"grid {wide} x #5 by {high} x #5 of c1")
    b.extrude(k, "", "cut", extent="through", direction="backward")
    made, names = Assembly(), []
    for content, place in (
        (b.content, (0.0, 0.0, 0.0)), (bought("socket_cap", "M5", 16), (7.0, 7.0, 30.0)),
        (bought("hexagon_nut", "M5", 0), (7.0, 7.0, -20.0)),
    ):  # fmt: skip
        shot = shot_of_content(content, content.header.number or "plate", "", store)
        store.put(shot.solid)
        made, (name,) = edits.insert(made, shot.part, [Pose(place)])
        names.append(name)
    plate, screw, nut = names
    hole = _face(made, plate, "cylinder", hollow=True, radius=2.75)
    shank, bore = round_face_for(made, screw, hole), round_face_for(made, nut, hole)
    assert shank is not None and bore is not None
    below, face = _face(made, plate, "plane", axis=(0, 0, -1)), _face(made, nut, "plane", axis=(0, 0, -1))
    made, new = put_in(made, hole, shank)
    made, new = edits.relate(solved(made, new).assembly, "in line", hole, bore)
    made, new = edits.relate(solved(made, new).assembly, "seated", below, face)
    made = solved(made, new).assembly
    return solved(in_every_hole(in_every_hole(made, screw), nut)).assembly


def _face(assembly: Assembly, instance: str, kind: str, **wanted: Any) -> End:
    part = assembly.part_of(instance)
    found = zip(part.references, part.surfaces, strict=True)
    return next(
        End(instance, name)
        for name, s in found
        if s.kind == kind and all(np.allclose(getattr(s, k), v, atol=1e-6) for k, v in wanted.items())
    )


def _many() -> list[Row]:
    """201 instances: whatever is near is judged, against reading and meshing the three parts bare."""
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        plate = bolted_plate(10, 10, store)
        begun = time.perf_counter()
        for part in plate.parts:
            BRepMesh_IncrementalMesh(from_bytes(store.get(part.shape)), FINE, False, 0.15, True)
        bare = 1000 * (time.perf_counter() - begun)
        solid = body_of(store)
        for part in plate.parts:
            assert solid(part).solid is not None
        begun = time.perf_counter()
        found = clearances(plate, solid)
        judging = 1000 * (time.perf_counter() - begun)
        finding = median_ms(lambda: near_pairs(plate))
    assert [p.state for p in found.pairs].count("in thread") == 100 and not found.overlaps
    many = len(plate.instances)
    return [
        Row(f"fit, {many} instances, near among {found.looked_at} pairs", finding, judging, finding / judging, "ms"),
        Row(f"fit, {many} instances, {len(found.pairs)} pairs judged", judging, 3000.0, judging / 3000.0, "of 3 s"),
        Row(f"fit, {many} instances, judged after", judging, bare, judging / bare, "of bare reading and meshing"),
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
