"""Chamfers and fillets on picked edges of the solid."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from ...formulas import Formula
from ...names import lone_ref, refers
from ...quantity import ExpressionError, evaluate
from ...quantity.expression import NoReference
from ..gauges import Claim, Leg, LegAngle, Radius, claim
from ..kinds import RouteView, StepKind
from ..model import EdgeRef, Param, StepBase


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
    chamfer_claims,
    chamfer_summary,
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
    fillet_claims,
    fillet_summary,
    repeatable=True,
)
