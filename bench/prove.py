"""Proof and report of a plate with a hundred callouts, against the bare measuring calls for the same figures.

Bare: every face measured, every gauge read once, the mass integrated; no ledger, no judging, no coverage, no rows.
"""

from __future__ import annotations

from lathed_solid.core.issue.report.rows import reported
from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.proving import claims_of, prove_result, weighed
from lathed_solid.core.job.settle import settle
from lathed_solid.core.prove.measure import read
from lathed_solid.core.prove.plate import SurfacePlate, Unmeasurable
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.rebuild import Cache, RouteResult, rebuild
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.sketch.model import Plane
from lathed_solid.core.sketch.typed.commands import read_command

from .row import Row, median_ms

CALLOUTS, ACROSS, GAP = 100, 10, 12.0


def run() -> list[Row]:
    content = _plate()
    result = rebuild(content.plan(), Cache())

    def bare() -> None:
        _measure(content, _fresh(result))

    def proved() -> None:
        fresh = _fresh(result)
        proof = prove_result(content, fresh)
        assert proof is not None
        if not proof.all_in or len(proof.lines) < CALLOUTS:
            raise RuntimeError("the plate is not proved in all its callouts")
        reported(content, fresh, proof)

    ours, reference = median_ms(proved), median_ms(bare)
    return [Row(f"prove and report, {CALLOUTS} callouts", ours, reference, ours / reference, "ms (aim 1.3)")]


def _fresh(result: RouteResult) -> RouteResult:
    """The same solid with nothing measured of it yet."""
    body = result.body
    assert body is not None
    body.measured = None
    return result


def _measure(content: Content, result: RouteResult) -> None:
    assert result.body is not None
    plate = SurfacePlate(result.body, result.marks, {**result.frames, **result.datums})
    for claim in claims_of(content, {s.id for s in content.steps}):
        for gauge in (claim.gauge, *claim.or_else):
            try:
                read(plate, gauge)
                break
            except Unmeasurable:
                continue
    weighed(content, result)


def _plate() -> Content:
    """A plate with a hole of its own size for every callout but three, in rows."""
    holes = CALLOUTS - 3
    size = f"{ACROSS * GAP + 8:g}"
    notes = (size, size, "10", *(f"Ø{3 + n * 0.05:.2f} THRU" for n in range(holes)))
    content = Content()
    for note in notes:
        content, _ = edits.add_callout(content, note)
    content, sketch = edits.add_sketch(content, "outline", Plane("end"))
    command = read_command("rect #1 x #2", content.ledger(), False, content.sketch(sketch))
    content = settle(edits.set_sketch(content, command.draw(content.sketch(sketch)))).content
    content, block = edits.with_step(
        content, Extrude, sketch=sketch, depth="#3", extent="depth", direction="forward", mode="add"
    )
    face = FaceRef(f"{block}/end")
    for n in range(holes):
        x, y = ((k - (ACROSS - 1) / 2) * GAP for k in divmod(n, ACROSS))
        content, _ = edits.with_step(
            content, Hole, face=face, placement="point", diameter=f"#{n + 4}", x=f"{x:g}", y=f"{y:g}"
        )
    return settle(content).content
