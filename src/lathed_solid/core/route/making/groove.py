"""How it is made: helical groove."""

from __future__ import annotations

import math

import numpy as np

from ...kernel.form.helicoid import Piece, helical_solid, straight
from ...kernel.ground.geometry import along, frame_about
from ...kernel.ground.named import NamedBody
from ...refusal import said
from ..joining import joined
from ..model import Built, StepFailure
from ..steps.groove import Groove
from ..workshop import Maker, Workshop


def build(step: Groove, shop: Workshop) -> Built:
    surface = shop.surface(step.face, "the round face that carries the groove")
    if surface.kind != "cylinder":
        raise StepFailure("A helical groove is cut into a cylinder.")
    half, depth = shop.value(step.width, "Width") / 2, shop.value(step.depth, "Depth")
    pitch, turns = shop.value(step.pitch, "Pitch"), shop.value(step.turns, "Turns", "number")
    begins = shop.value(step.begins, "Begins at", positive=False)
    if 2 * half >= pitch and turns > 1:
        raise StepFailure(
            f"The groove is {said(2 * half)} wide, the pitch only {said(pitch)}: the turns would run together."
        )
    length = surface.span[1] - surface.span[0]
    if begins < half - 1e-9 or begins + pitch * turns > length - half + 1e-9:
        raise StepFailure(f"The groove would run off the face, which is {said(length)} long.")
    sign = -1.0 if surface.hollow else 1.0
    floor, mouth = surface.radius - sign * depth, surface.radius + sign * max(0.5, 0.2 * depth)
    if floor <= 0:
        raise StepFailure("The groove is deeper than the part.")
    corners = [(-half, mouth), (-half, floor), (half, floor), (half, mouth)]
    if step.form == "round":
        centre = floor + sign * half
        if (mouth - centre) * sign <= 0:
            raise StepFailure(f"A round groove of width {said(2 * half)} must be at least {said(half)} deep here.")
        t = np.linspace(math.pi, 0.0, 25)
        arc = Piece("floor", half * np.cos(t), centre - sign * half * np.sin(t))
        pieces = [
            straight("wall1", (-half, mouth), (-half, centre)),
            arc,
            straight("wall2", (half, centre), (half, mouth)),
        ]
    else:
        pieces = [straight(n, a, b) for n, a, b in zip(("wall1", "floor", "wall2"), corners, corners[1:], strict=False)]
    pieces.append(straight("mouth", (half, mouth), (-half, mouth)))
    if surface.hollow:
        pieces = [Piece(p.name, p.at[::-1], p.radius[::-1]) for p in reversed(pieces)]
    frame = frame_about(along(surface.origin, surface.axis, surface.span[0] + begins), surface.axis)
    start = shop.value(step.start, "Starts at", "angle", positive=False)
    made = helical_solid(shop.placed(frame), pieces, pitch, turns, start=start, left_hand=step.hand == "left")
    return joined(step.id, "cut", [NamedBody(made.solid, [(f, f"{step.id}/{n}") for f, n in made.faces])], shop)


MAKERS = {Groove: Maker(build)}
