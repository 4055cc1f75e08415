"""Chamfers and fillets on picked edges of the solid."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING, Literal

from ...formulas import Formula
from ...names import Renames, lone_ref, refers, renamed
from ...quantity import ExpressionError, evaluate
from ...quantity.expression import NoReference
from ..gauges import Claim, Leg, LegAngle, Radius, claim
from ..kinds import RouteView, StepKind
from ..model import Built, EdgeRef, Param, StepBase, StepFailure, Tooling, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.cut.edges import Pick
    from ...kernel.ground.named import NamedBody
    from ...kernel.ground.topology import Edge


class Chamfer(StepBase, frozen=True, kw_only=True, tag="chamfer"):
    """``size`` lies on the first face of each edge; the other leg follows from ``angle`` to that face, or is
    ``size2``.
    """

    edges: tuple[EdgeRef, ...] = ()
    form: Literal["angle", "legs"] = "angle"
    size: Formula = ""
    angle: Formula = "45°"
    size2: Formula = ""


class Fillet(StepBase, frozen=True, kw_only=True, tag="fillet"):
    """``radius`` everywhere, or from it to ``radius2`` along each edge when that is given."""

    edges: tuple[EdgeRef, ...] = ()
    radius: Formula = ""
    radius2: Formula = ""


def _chosen(edges: Sequence[EdgeRef]) -> list[Pick]:
    if not edges:
        raise Unfinished("No edge is picked yet.")
    return picks(edges)


def picks(edges: Sequence[EdgeRef]) -> list[Pick]:
    from ...kernel.cut.edges import Pick

    return [Pick(e.a, e.b, e.take, e.piece) for e in edges]


@contextmanager
def _blaming(edges: Sequence[EdgeRef]) -> Iterator[None]:
    """Of several edges, those that cannot be broken even by themselves are named; what fails may be one of many."""
    from ...kernel.cut.edges import EdgesRefused

    try:
        yield
    except EdgesRefused as error:
        if len(edges) < 2:
            raise
        names = [edges[n].was or f"the edge listed as number {n + 1}" for n in error.alone]
        fault = f"At fault: {'; '.join(names)}." if names else "Each edge takes it by itself, but not all together."
        raise StepFailure(f"{error.message} {fault}") from None


def build_chamfer(step: Chamfer, shop: Workshop) -> Built:
    return _built(step, shop)


def build_fillet(step: Fillet, shop: Workshop) -> Built:
    return _built(step, shop)


def _built(step: Chamfer | Fillet, shop: Workshop) -> Built:
    from ...kernel.cut.edges import groups

    wanted = _chosen(step.edges)
    lay = tuple(tuple(g.edges) for g in groups(shop.body, wanted).values())
    with _blaming(step.edges):
        return Built(_apply(step, shop, wanted), Tooling("break", edges=lay))


def _apply(step: Chamfer | Fillet, shop: Workshop, wanted: Sequence[Pick]) -> NamedBody:
    from ...kernel.cut.edges import chamfer, fillet

    if isinstance(step, Fillet):
        radius = shop.value(step.radius, "Radius")
        end = shop.value(step.radius2, "End radius") if step.radius2.strip() else None
        return fillet(shop.body, wanted, radius, step.id, end)
    size = shop.value(step.size, "Chamfer")
    if step.form == "legs":
        return chamfer(shop.body, wanted, size, 0.0, step.id, shop.value(step.size2, "Second leg"))
    return chamfer(shop.body, wanted, size, shop.value(step.angle, "Angle", "angle"), step.id)


def break_alike(
    step: Chamfer | Fillet,
    shop: Workshop,
    there: Mapping[str, Sequence[Sequence[Edge]]],
    renames: Mapping[str, Renames],
) -> NamedBody:
    """The body with the edges that lie where copies of the step's edges lie broken as well.

    ``there`` holds these for each copy, one group for each that was picked; ``renames`` how its faces are called.
    Raises LostReference, KernelFailure.
    """
    from ...kernel.cut.edges import Pick

    wanted = []
    for key, places in there.items():
        called = next(new for old, new in renames[key] if old == f"{step.id}/")
        for number, like in enumerate(places):
            first = renamed(step.edges[number].a, renames[key])
            wanted.append(Pick(first, "", "alike", like=tuple(like), called=f"{called}e{number}"))
    return _apply(step, shop, wanted)


def chamfer_claims(step: Chamfer, view: RouteView) -> list[Claim]:
    found: list[Claim] = []
    for number, edge in enumerate(step.edges):
        face = f"{step.id}/e{number}/side"
        found += claim(step.size, Leg(face, edge.a, edge.b, _is_even(step, view)))
        found += (
            claim(step.size2, Leg(face, edge.b, edge.a))
            if step.form == "legs"
            else claim(_angle_of(step, view), LegAngle(face, edge.a, edge.b))
        )
    return found


def _is_even(step: Chamfer, view: RouteView) -> bool:
    """Whether both legs are of one size: told by 45°."""
    try:
        angle = evaluate(_angle_of(step, view), view.ledger, "angle")
    except ExpressionError:
        return False
    return step.form == "angle" and math.isclose(angle, math.pi / 4, abs_tol=1e-9)


def _angle_of(step: Chamfer, view: RouteView) -> str:
    """The angle as told; a callout that gives the leg may state the angle with it (0.5 x 45°)."""
    size = lone_ref(step.size)
    if refers(step.angle) or size is None or size.key:
        return step.angle
    try:
        view.ledger.characteristic(size.number, "angle")
    except NoReference:
        return step.angle
    return f"{size}.angle"


def fillet_claims(step: Fillet, view: RouteView) -> list[Claim]:
    if step.radius2.strip():
        return []  # a face whose radius changes along it has none to measure
    return [c for n in range(len(step.edges)) for c in claim(step.radius, Radius(f"{step.id}/e{n}/side"))]


def chamfer_summary(step: Chamfer, view: RouteView) -> str:
    other = view.text(step.size2) if step.form == "legs" else view.text(step.angle, "angle")
    return f"{view.text(step.size)} × {other} · {_edges(step.edges)}"


def fillet_summary(step: Fillet, view: RouteView) -> str:
    end = f" to {view.text(step.radius2)}" if step.radius2.strip() else ""
    return f"R{view.text(step.radius)}{end} · {_edges(step.edges)}"


def _edges(edges: Sequence[EdgeRef]) -> str:
    if any(e.take == "sharp" for e in edges):
        return "all sharp edges"
    words = {"face": "face", "loop": "loop"}
    kinds = [words.get(e.take, "edge") for e in edges]
    said = [f"{n} {k}{'s' * (n != 1)}" for k in ("edge", "loop", "face") if (n := kinds.count(k))]
    return ", ".join(said) or "no edge"


CHAMFER = StepKind(
    Chamfer,
    "Chamfer",
    "chamfer",
    (
        Param("edges", "Edges", "edges"),
        Param("form", "Told by", "choice", (("angle", "a leg and an angle"), ("legs", "two legs"))),
        Param("size", "Size", "length", help="The leg on the first face."),
        Param("angle", "Angle", "angle", when={"form": ("angle",)}),
        Param("size2", "Second leg", "length", when={"form": ("legs",)}),
    ),
    build_chamfer,
    chamfer_claims,
    chamfer_summary,
    break_alike,
    repeatable=True,
)
FILLET = StepKind(
    Fillet,
    "Fillet",
    "fillet",
    (
        Param("edges", "Edges", "edges"),
        Param("radius", "Radius", "length"),
        Param("radius2", "End radius", "length", help="Empty: the same radius all along.", more=True),
    ),
    build_fillet,
    fillet_claims,
    fillet_summary,
    break_alike,
    repeatable=True,
)
