"""Solids changed behind the model's back: a face offset, a hole moved, filled, plugged, one too many, all of it scaled.

What the route says stays as it is, and every face that was changed keeps its name, so that the proof looks where it
always does and finds something else there. ``ours`` is how many of them the proof notices by a callout that is no
longer in limits (first row) or by what else it shows (second row), ``reference`` how many there are.
"""

from __future__ import annotations

import math
import sys
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import NamedTuple

from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy, BRepBuilderAPI_Transform
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder, BRepPrimAPI_MakePrism
from OCP.gp import gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopoDS import TopoDS

from lathed_solid.core.job import storage
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.proving import claims_of, prove_result
from lathed_solid.core.job.settle import settle
from lathed_solid.core.kernel.cut.boolean import combine
from lathed_solid.core.kernel.ground.check import KernelFailure
from lathed_solid.core.kernel.ground.figures import Surface, Vector
from lathed_solid.core.kernel.ground.geometry import along, frame_about
from lathed_solid.core.kernel.ground.named import NamedBody, Pair
from lathed_solid.core.kernel.ground.placing import axes_of
from lathed_solid.core.kernel.ground.topology import FACE, Shape, subshapes
from lathed_solid.core.kernel.measure.surfaces import measure_face, measure_faces
from lathed_solid.core.plan.carriers import alone
from lathed_solid.core.prove.proof import Proof, ProofLine
from lathed_solid.core.route.gauges import LetterHeight
from lathed_solid.core.route.rebuild import Cache, RouteResult, rebuild

from .row import Row

EXAMPLES = Path(__file__).parents[1] / "examples"
#: How far faces are put off and holes are moved beyond the widest limits of what is measured on them (mm).
BEYOND = 0.2
SCALE = 1.05


class Mutant(NamedTuple):
    """A changed solid: in words how, and the faces of the sound one (indices) that are no longer what they were."""

    words: str
    kind: str
    body: NamedBody
    touched: frozenset[int]


class Verdict(NamedTuple):
    """What the proof says of a mutant. ``touches`` are the lines measured on a changed face, ``turned`` those of all
    lines that are no longer in limits, ``elsewhere`` by what else it shows: coverage, mass, comparison.
    """

    mutant: Mutant
    touches: tuple[ProofLine, ...]
    turned: tuple[ProofLine, ...]
    elsewhere: tuple[str, ...]

    @property
    def is_noticed(self) -> bool:
        """By a callout where one states what was changed: a place or a bore's length may be stated by none."""
        if self.turned:
            return True
        if self.mutant.kind == "missing" and "remark" in self.elsewhere:
            return True
        stated = self.mutant.kind in ("scaled", "offset", "resized", "missing") and any(
            line.kind != "count" for line in self.touches
        )
        return bool(self.elsewhere) and not stated


def run() -> list[Row]:
    rows = []
    for path in sorted(EXAMPLES.glob("skp-0[1-9].lathed")):
        content = settle(storage.load(path).job.content).content
        result = rebuild(content.plan(), Cache())
        if len(result.bodies) != 1:
            continue
        proof = prove_result(content, result)
        assert proof is not None
        found = [judged(content, result, proof, mutant) for mutant in mutants(result, proof)]
        for verdict in found:
            if not verdict.is_noticed:
                print(f"{path.stem}: {verdict.mutant.words}: not noticed", file=sys.stderr)
        turned, noticed, many = sum(bool(v.turned) for v in found), sum(v.is_noticed for v in found), len(found)
        rows.append(Row(f"mutants, {path.stem}, a callout turns", turned, many, turned / many, "changed solids"))
        rows.append(Row(f"mutants, {path.stem}, noticed", noticed, many, noticed / many, "changed solids (aim 1)"))
    return rows


def plans(result: RouteResult, proof: Proof, only: str = "") -> list[Callable[[], Mutant | None]]:
    """Every change that may be made to the part (``only`` of one way: offset, resized, moved, filled), in the order of
    its faces; each gives None where the kernel cannot.
    """
    body = result.body
    assert body is not None
    every = frozenset(range(1, body.face_count + 1))
    made: list[Callable[[], Mutant | None]] = []
    if not only:
        made.append(lambda: Mutant("all of it scaled", "scaled", _scaled(body), every))
    for s in measure_faces(body):
        if not body.names.get(s.index):
            continue
        makers = (_offset,) if s.kind == "plane" else _ROUND if s.kind == "cylinder" else ()
        by = BEYOND + _band(proof, s.index)
        for make in makers:
            if make.__name__ == f"_{only}" or not only:
                made += [partial(_tried, make, body, s, sign * by) for sign in (-1.0, 1.0)]
    return made


def _tried(make: Callable[[NamedBody, Surface, float], Mutant | None], body: NamedBody, s: Surface, by: float) -> (
    Mutant | None
):  # fmt: skip
    try:
        return make(body, s, by)
    except KernelFailure:
        return None


def mutants(result: RouteResult, proof: Proof) -> Iterator[Mutant]:
    """All that the kernel can make."""
    return (m for plan in plans(result, proof) if (m := plan()) is not None)


def judged(content: Content, result: RouteResult, proof: Proof, mutant: Mutant) -> Verdict:
    """What the proof of ``content`` says when its solid is the mutant."""
    (only,) = result.bodies
    seen = prove_result(content, result._replace(body=mutant.body, bodies={only: mutant.body}))
    assert seen is not None and result.body is not None
    good = {(line.number, line.key) for line in proof.lines if line.mark in ("in", "near")}
    turned = [x for x in seen.lines if (x.number, x.key) in good and x.mark in ("out", "open")]
    before, elsewhere = {(x.number, x.key): x.message for x in proof.lines}, list[str]()
    if any("Not measured in another place" in x.message and before[x.number, x.key] != x.message for x in seen.lines):
        elsewhere.append("remark")
    if len(seen.unexplained) > len(proof.unexplained):
        elsewhere.append("coverage")
    if abs(seen.mass.volume - proof.mass.volume) > max(1e-6 * proof.mass.volume, 10 * seen.mass.off):
        elsewhere.append("mass")
    if alone(measure_faces(mutant.body), measure_faces(result.body)) or alone(
        measure_faces(result.body), measure_faces(mutant.body)
    ):
        elsewhere.append("comparison")
    lettered = {c.number for c in claims_of(content, _built(result)) if isinstance(c.gauge, LetterHeight)}
    touches = [x for x in proof.lines if set(x.faces) & mutant.touched and x.number not in lettered]
    return Verdict(mutant, tuple(touches), tuple(turned), tuple(elsewhere))


def _built(result: RouteResult) -> set[str]:
    return {r.id for r in result.reports if r.state == "done"}


def _band(proof: Proof, index: int) -> float:
    """The widest band of what is measured on a face, mm."""
    bands = [x.upper - x.lower for x in proof.lines if index in x.faces and x.kind not in ("count", "angle")]
    return max(bands, default=0.0)


def _scaled(body: NamedBody) -> NamedBody:
    by = gp_Trsf()
    by.SetScale(gp_Pnt(0, 0, 0), SCALE)
    made = BRepBuilderAPI_Transform(body.shape, by, True)
    return NamedBody(made.Shape(), [(made.ModifiedShape(f), name) for f, name in body.pairs()])


def _offset(body: NamedBody, s: Surface, by: float) -> Mutant | None:
    """A flat face put off along its normal, outwards when ``by`` is positive."""
    face = TopoDS.Face(BRepBuilderAPI_Copy(body.face(s.index)).Shape())
    tool = BRepPrimAPI_MakePrism(face, gp_Vec(*(by * a for a in s.axis)), True)
    pairs: list[Pair] = [(tool.LastShape(), name) for name in body.names[s.index]]
    made = combine("add" if by > 0 else "cut", body, [NamedBody(tool.Shape(), pairs)])
    return Mutant(f"{s.describe()} put off by {by:.3g}", "offset", made, frozenset({s.index}))


def _resized(body: NamedBody, s: Surface, by: float) -> Mutant | None:
    """A round face whose radius has grown (``by`` above 0) or shrunk."""
    if s.turn < 2 * math.pi - 1e-6 or s.radius + by < 0.05:
        return None
    names, adds = body.names[s.index], (by > 0) != s.hollow
    wide, narrow = (_cylinder(s, r, *s.span) for r in sorted((s.radius, s.radius + by), reverse=True))
    if by > 0:
        tool = NamedBody(wide, _sides(wide, names))
        tool = tool if s.hollow else combine("cut", tool, [NamedBody(narrow, [])])
    else:
        tool = combine("cut", NamedBody(wide, []), [NamedBody(narrow, _sides(narrow, names))])
    made = combine("add" if adds else "cut", body, [tool])
    return Mutant(f"{s.describe()} with its radius changed by {by:.3g}", "resized", made, frozenset({s.index}))


def _moved(body: NamedBody, s: Surface, by: float) -> Mutant | None:
    """A bore filled and made again beside its place."""
    if not s.hollow or s.turn < 2 * math.pi - 1e-6:
        return None
    aside = frame_about(s.origin, s.axis).x
    filled = combine("add", body, [NamedBody(_cylinder(s, s.radius, *s.span), [])])
    other = _cylinder(s, s.radius, *s.span, along(s.origin, aside, by))
    made = combine("cut", filled, [NamedBody(other, _sides(other, body.names[s.index]))])
    return Mutant(f"{s.describe()} moved by {by:.3g}", "moved", made, frozenset({s.index}))


def _filled(body: NamedBody, s: Surface, by: float) -> Mutant | None:
    """A bore that is missing (``by`` below 0), or plugged halfway at one end."""
    if not s.hollow or s.turn < 2 * math.pi - 1e-6:
        return None
    low, high = s.span
    if by > 0:
        low = (low + high) / 2
    made = combine("add", body, [NamedBody(_cylinder(s, s.radius, low, high), [])])
    words, kind = ("missing", "missing") if by < 0 else ("plugged halfway", "plugged")
    return Mutant(f"{s.describe()} {words}", kind, made, frozenset({s.index}))


_ROUND = (_resized, _moved, _filled)


def _cylinder(s: Surface, radius: float, low: float, high: float, place: Vector | None = None) -> Shape:
    frame = frame_about(along(place or s.origin, s.axis, low), s.axis)
    return BRepPrimAPI_MakeCylinder(axes_of(frame), radius, high - low).Shape()


def _sides(shape: Shape, names: set[str]) -> list[Pair]:
    """The round side of a cylinder with its names."""
    sides = [f for f in subshapes(shape, FACE) if measure_face(TopoDS.Face(f)).kind == "cylinder"]
    return [(f, name) for f in sides for name in names]
