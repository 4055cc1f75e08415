"""How it is made: knurl."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ..joining import joined
from ..model import Built, StepFailure
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface
    from ...kernel.ground.named import NamedBody
from ...kernel.form.helicoid import helical_solid, straight
from ...kernel.form.outline import Segment, flat_face
from ...kernel.form.sweep import prism
from ...kernel.ground.geometry import frame_about, shifted
from ...kernel.ground.named import NamedBody
from ..steps.knurl import Knurl
from ..workshop import Maker

#: Grooves more than this are refused: the kernel would take minutes.
MOST = 160


def build(step: Knurl, shop: Workshop) -> Built:
    surface = shop.surface(step.face, "the round face to knurl")
    if surface.kind != "cylinder" or surface.hollow:
        raise StepFailure("A knurl is rolled on an outer cylinder.")
    pitch = shop.value(step.pitch, "Pitch")
    if step.form == "cosmetic":
        return Built(shop.body)
    count = round(2 * math.pi * surface.radius / pitch)
    ways = 2 if step.pattern == "crossed" else 1
    if count * ways > MOST:
        raise StepFailure(
            f"That knurl has {count * ways} grooves; modelled ones are limited to {MOST}. Take a coarser pitch or "
            "leave it cosmetic: the drawing’s note says all the workshop needs."
        )
    if count < 3:
        raise StepFailure("The pitch is too coarse for this diameter.")
    tools = _axial(step, surface, count) if step.pattern == "axial" else _helical(step, surface, count)
    return joined(step.id, "cut", tools, shop)


def _depth(surface: Surface, count: int) -> float:
    """Of a 90° groove as wide as the pitch of its points, a tenth left flat."""
    return 0.45 * 2 * math.pi * surface.radius / count


def _axial(step: Knurl, surface: Surface, count: int) -> list[NamedBody]:
    frame = shifted(frame_about(surface.origin, surface.axis), surface.span[0])
    length, r, d = surface.span[1] - surface.span[0], surface.radius, _depth(surface, count)
    n, tools = frame.normal, []
    for k in range(count):
        angle = 2 * math.pi * k / count
        c, s = math.cos(angle), math.sin(angle)
        corners = [(r - d, 0.0), (r + d, -2 * d), (r + d, 2 * d)]
        placed = [(c * x - s * y, s * x + c * y) for x, y in corners]
        loop = tuple(
            Segment(m, a, b) for m, a, b in zip(("one", "lid", "two"), placed, placed[1:] + placed[:1], strict=True)
        )
        tools.append(prism(flat_face(loop, (), frame), (n[0] * length, n[1] * length, n[2] * length), f"{step.id}/{k}"))
    return tools


def _helical(step: Knurl, surface: Surface, count: int) -> list[NamedBody]:
    """Grooves at 30° to the axis."""
    frame = shifted(frame_about(surface.origin, surface.axis), surface.span[0])
    length, r, d = surface.span[1] - surface.span[0], surface.radius, _depth(surface, count)
    lead = 2 * math.pi * r / math.tan(math.radians(30))
    half = 2 * d / math.tan(math.radians(30))  # the groove seen along the axis is so much longer
    corners = [(half, r + d), (-half, r + d), (0.0, r - d)]
    section = [
        straight(m, a, b) for m, a, b in zip(("lid", "one", "two"), corners, corners[1:] + corners[:1], strict=True)
    ]
    over = half / lead
    turns = length / lead + 2 * over
    tools = []
    for left in {"left": (True,), "right": (False,), "crossed": (True, False)}[step.pattern]:
        sign = -1.0 if left else 1.0
        for k in range(count):
            start = 2 * math.pi * k / count - sign * 2 * math.pi * over
            made = helical_solid(shifted(frame, -half), section, lead, turns, start=start, left_hand=left)
            tag = f"{step.id}/{'l' if left else 'r'}{k}"
            tools.append(NamedBody(made.solid, [(f, f"{tag}/{n}") for f, n in made.faces]))
    return tools


MAKERS = {Knurl: Maker(build)}
