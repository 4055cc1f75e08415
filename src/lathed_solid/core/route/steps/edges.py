"""Chamfers and fillets on picked edges of the solid."""

from __future__ import annotations

from ..gauges import Claim, Leg, LegAngle, Radius, claim
from ..model import Built, EdgeRef, Param, RouteView, StepBase, StepKind, Workshop


class Chamfer(StepBase, frozen=True, kw_only=True, tag="chamfer"):
    """``size`` lies on the first face of each edge, ``angle`` is to that face."""

    edges: tuple[EdgeRef, ...] = ()
    size: str = ""
    angle: str = "45°"


class Fillet(StepBase, frozen=True, kw_only=True, tag="fillet"):
    edges: tuple[EdgeRef, ...] = ()
    radius: str = ""


def build_chamfer(step: Chamfer, shop: Workshop) -> Built:
    from ...kernel.edges import chamfer

    size = shop.value(step.size, "Chamfer")
    angle = shop.value(step.angle, "Angle", "angle")
    return Built(chamfer(shop.body, [(e.a, e.b) for e in step.edges], size, angle, step.id), None, ())


def build_fillet(step: Fillet, shop: Workshop) -> Built:
    from ...kernel.edges import fillet

    radius = shop.value(step.radius, "Radius")
    return Built(fillet(shop.body, [(e.a, e.b) for e in step.edges], radius, step.id), None, ())


def chamfer_claims(step: Chamfer, view: RouteView) -> list[Claim]:
    found: list[Claim] = []
    for number, edge in enumerate(step.edges):
        face = f"{step.id}/e{number}/side"
        found += claim(step.size, Leg(face, edge.a)) + claim(step.angle, LegAngle(face, edge.a))
    return found


def fillet_claims(step: Fillet, view: RouteView) -> list[Claim]:
    return [c for n in range(len(step.edges)) for c in claim(step.radius, Radius(f"{step.id}/e{n}/side"))]


def chamfer_summary(step: Chamfer, view: RouteView) -> str:
    return f"{view.text(step.size)} × {view.text(step.angle, 'angle')} · {_edges(len(step.edges))}"


def fillet_summary(step: Fillet, view: RouteView) -> str:
    return f"R{view.text(step.radius)} · {_edges(len(step.edges))}"


def _edges(count: int) -> str:
    return f"{count} edge{'s' * (count != 1)}"


CHAMFER = StepKind(
    Chamfer,
    "Chamfer",
    "chamfer",
    (
        Param("edges", "Edges", "edges"),
        Param("size", "Size", "length"),
        Param("angle", "Angle", "angle"),
    ),
    build_chamfer,
    chamfer_claims,
    chamfer_summary,
)
FILLET = StepKind(
    Fillet,
    "Fillet",
    "fillet",
    (Param("edges", "Edges", "edges"), Param("radius", "Radius", "length")),
    build_fillet,
    fillet_claims,
    fillet_summary,
)
