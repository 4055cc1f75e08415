"""How it is made: hexagons and squares on turned parts, with turned corners.."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ...refusal import said
from ..joining import joined
from ..model import Built, StepFailure
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface
    from ...kernel.ground.geometry import Frame
    from ...kernel.ground.named import NamedBody
from ...kernel.form.outline import FullCircle, Segment, flat_face
from ...kernel.form.sweep import prism, revolve
from ...kernel.ground.geometry import Frame, frame_about, shifted
from ...kernel.ground.topology import beside
from ...kernel.measure.surfaces import measure_face
from ..steps.polygon import Polygon
from ..workshop import Maker


def build(step: Polygon, shop: Workshop) -> Built:
    surface = shop.surface(step.face, "the round face to mill")
    if surface.kind != "cylinder" or surface.hollow:
        raise StepFailure("Flats are milled on an outer cylinder.")
    sides = shop.value(step.sides, "Sides", "number")
    if sides != round(sides) or sides < 3:
        raise StepFailure(f"A polygon has a whole number of sides, three at least; this is {sides:g}.")
    n, across = round(sides), shop.value(step.across, "Across flats")
    corner = across / 2 / math.cos(math.pi / n)
    if across / 2 >= surface.radius:
        raise StepFailure(
            f"{said(across)} across flats lies outside the Ø{said(2 * surface.radius)}: nothing is milled."
        )
    whole = surface.span[1] - surface.span[0]
    length = shop.value(step.length, "Length") if step.length.strip() else whole
    if length > whole + 1e-9:
        raise StepFailure(f"The face is only {said(whole)} long.")
    upward = max(surface.axis, key=abs) > 0  # low and high are those of the part, whichever way the face's axis runs
    low = surface.span[0] if (step.end == "low") == upward else surface.span[1] - length
    frame = shifted(shop.placed(frame_about(surface.origin, surface.axis)), low)
    turn = shop.value(step.turned, "Turned by", "angle", positive=False)
    places = [
        (corner * math.cos(turn + 2 * math.pi * (k + 0.5) / n), corner * math.sin(turn + 2 * math.pi * (k + 0.5) / n))
        for k in range(n)
    ]
    loop = tuple(
        Segment(f"flat{k + 1}", a, b) for k, (a, b) in enumerate(zip(places, places[1:] + places[:1], strict=True))
    )
    outside = (FullCircle("outside", (0.0, 0.0), 2 * max(surface.radius, corner)),)
    axis = frame.normal
    ring = prism(flat_face(outside, (loop,), frame), (axis[0] * length, axis[1] * length, axis[2] * length), step.id)
    tools = [ring, *_corners(step, shop, frame, length, across, max(surface.radius, corner), upward)]
    return joined(step.id, "cut", tools, shop)._replace(remark=_collar(step, shop, surface, across))


def _collar(step: Polygon, shop: Workshop, surface: Surface, across: float) -> str:
    """Where the face ends in a rounded or chamfered edge, what lies beyond the flats there stays round."""
    beyond = beside(shop.body.shape, shop.body.face(surface.index))
    near = (measure_face(shop.body.face(i), i) for i in map(shop.body.index, beyond))
    edges = (s for s in near if s.kind in ("torus", "cone"))
    if step.length.strip() or not any(c.radius > across / 2 for s in edges for c in s.circles):
        return ""
    return (
        "The edge of this face is rounded or chamfered already: a round collar stays there beside the flats. "
        "Put this step before the one that breaks the edge."
    )


def _corners(
    step: Polygon, shop: Workshop, frame: Frame, length: float, across: float, outer: float, upward: bool
) -> list[NamedBody]:
    """Rings that turn the corners off at the ends."""
    if step.corners == "none":
        return []
    angle = shop.value(step.angle, "Corner angle", "angle")
    if not 0 < angle < math.pi / 2:
        raise StepFailure("Corners are turned at an angle between 0 and 90° to the end.")
    start = shop.value(step.flat, "Corners begin at Ø") / 2 if step.flat.strip() else across / 2
    far = outer + 1.0
    if start >= outer:
        raise StepFailure("The corners begin outside the part: nothing would be turned.")
    rise = (far - start) * math.tan(angle)
    section = Frame(frame.origin, frame.normal, frame.x)
    made = []
    for end in ("low", "high"):
        if step.corners in (end, "both"):
            base, sign = (0.0, 1.0) if (end == "low") == upward else (length, -1.0)
            a, b, c = (base, start), (base + sign * rise, far), (base, far)
            loop = (Segment("corner", a, b), Segment("outer", b, c), Segment("face", c, a))
            made.append(revolve(flat_face(loop, (), section), frame.origin, frame.normal, f"{step.id}/{end}", ""))
    return made


MAKERS = {Polygon: Maker(build)}
