"""How it is made: straight groove."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...refusal import said
from ...tolerance import PARALLEL
from ..joining import joined
from ..model import Built, StepFailure
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface
from ...kernel.form.outline import Segment, flat_face
from ...kernel.form.sweep import revolve
from ...kernel.ground.geometry import Frame, along, dot, frame_about, minus
from ..steps.straight_groove import StraightGroove
from ..workshop import Maker


def build(step: StraightGroove, shop: Workshop) -> Built:
    surface = shop.surface(step.face, "the round face that carries the groove")
    if surface.kind != "cylinder":
        raise StepFailure("A turned groove goes round a cylinder; the picked face is none.")
    datum = shop.plane(step.datum, "the end or shoulder the groove is measured from")
    if abs(abs(dot(datum.normal, surface.axis)) - 1) > PARALLEL:
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


MAKERS = {StraightGroove: Maker(build)}
