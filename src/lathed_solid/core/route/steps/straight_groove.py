"""Straight groove: a square groove round a shaft or in a bore, for a ring, a seal or a tool to run out."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ...formulas import Formula
from ...refusal import said
from ..gauges import Between, Claim, Diameter, claim
from ..joining import joined
from ..kinds import RouteView, StepKind
from ..model import Built, FaceRef, Param, StepBase, StepFailure
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface


class StraightGroove(StepBase, frozen=True, kw_only=True, tag="straight-groove"):
    """``width`` wide, from ``at`` off the flat face ``datum`` on: an end or a shoulder (0: beside it). How deep is told
    by the diameter of its ``bottom`` or by the ``depth`` below the round ``face``.
    """

    face: FaceRef = FaceRef("")
    datum: FaceRef = FaceRef("")
    at: Formula = ""
    width: Formula = ""
    by: Literal["bottom", "depth"] = "bottom"
    bottom: Formula = ""
    depth: Formula = ""


def build(step: StraightGroove, shop: Workshop) -> Built:
    from ...kernel.build.outline import Segment, flat_face
    from ...kernel.build.sweep import revolve
    from ...kernel.ground.geometry import Frame, along, dot, frame_about, minus

    surface = shop.surface(step.face, "the round face that carries the groove")
    if surface.kind != "cylinder":
        raise StepFailure("A turned groove goes round a cylinder; the picked face is none.")
    datum = shop.plane(step.datum, "the end or shoulder the groove is measured from")
    if abs(abs(dot(datum.normal, surface.axis)) - 1) > 1e-9:
        raise StepFailure("The groove is measured from a flat face square to the axis. Pick an end or a shoulder.")
    width = shop.value(step.width, "Width")
    at = shop.value(step.at, "From that face", positive=False)
    told = ((s, _walls(s, dot(minus(datum.origin, s.origin), s.axis), at, width)) for s in shop.pieces(step.face))
    whole = [(piece, walls) for piece, walls in told if _holds(piece, walls)]
    if not whole:
        long = surface.span[1] - surface.span[0]
        raise StepFailure(
            f"The groove, {said(width)} wide at {said(at)} from there, runs off the picked face, {said(long)} long."
        )
    surface, (near, far) = whole[0]
    floor = _floor(step, shop, surface.radius, surface.hollow)
    out = surface.radius + (-0.05 if surface.hollow else 0.05)
    corners = [(floor, near), (floor, far), (out, far), (out, near)]
    names = ("floor", "far", "lid", "near")
    frame = frame_about(surface.origin, surface.axis)
    section = Frame(frame.origin, frame.x, frame.normal)
    places = zip(names, corners, (*corners[1:], corners[0]), strict=True)
    flat = flat_face(tuple(Segment(n, a, b) for n, a, b in places), (), section)
    foot = along(surface.origin, surface.axis, 0.0)
    return joined(step.id, "cut", [revolve(flat, foot, surface.axis, step.id, "")], shop)


def _holds(surface: Surface, walls: tuple[float, float]) -> bool:
    return min(walls) > surface.span[0] - 1e-6 and max(walls) < surface.span[1] + 1e-6


def _walls(surface: Surface, datum: float, at: float, width: float) -> tuple[float, float]:
    """The near and the far wall along the face's axis, counted from the datum towards the face."""
    toward = 1.0 if sum(surface.span) / 2 >= datum else -1.0
    return datum + toward * at, datum + toward * (at + width)


def _floor(step: StraightGroove, shop: Workshop, radius: float, hollow: bool) -> float:
    """The radius of the bottom."""
    if step.by == "bottom":
        floor = shop.value(step.bottom, "Bottom Ø") / 2
    else:
        depth = shop.value(step.depth, "Depth")
        floor = radius + depth if hollow else radius - depth
    if (floor <= radius) if hollow else (floor >= radius):
        where = "outside the bore" if hollow else "inside the shaft"
        raise StepFailure(f"The bottom Ø{said(2 * floor)} must lie {where} Ø{said(2 * radius)}.")
    if floor <= 0:
        raise StepFailure("The groove is deeper than the part.")
    return floor


def claims(step: StraightGroove, view: RouteView) -> list[Claim]:
    floor, near, far = (f"{step.id}/{name}" for name in ("floor", "near", "far"))
    # Beside a shoulder the near wall lies in it and is one face with it.
    found = claim(step.width, Between(near, far), near, far, or_else=(Between(far, step.datum.name),))
    if step.by == "bottom":
        found += claim(step.bottom, Diameter(floor))
    else:
        found += claim(step.depth, Between(floor, step.face.name), floor)
    return found + claim(step.at, Between(near, step.datum.name))


def summary(step: StraightGroove, view: RouteView) -> str:
    deep = f"Ø{view.text(step.bottom)}" if step.by == "bottom" else f"{view.text(step.depth)} deep"
    return f"{view.text(step.width)} wide · {deep} · {view.text(step.at)} from its face"


KIND = StepKind(
    StraightGroove,
    "Straight groove",
    "straight_groove",
    (
        Param("face", "Round face", "face", help="The shaft or bore that carries it."),
        Param("datum", "Measured from", "face", help="An end or a shoulder square to the axis."),
        Param("at", "From that face", "length", help="To the near wall of the groove; 0 is beside it."),
        Param("width", "Width", "length"),
        Param("by", "How deep", "choice", (("bottom", "bottom Ø"), ("depth", "depth below the face"))),
        Param("bottom", "Bottom Ø", "length", when={"by": ("bottom",)}),
        Param("depth", "Depth", "length", when={"by": ("depth",)}),
    ),
    build,
    claims,
    summary,
    repeatable=True,
)
