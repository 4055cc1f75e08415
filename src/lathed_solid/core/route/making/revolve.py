"""How it is made: revolve."""

from __future__ import annotations

import math

from ...kernel.form.outline import flat_face
from ...kernel.form.sweep import revolve, revolve_part
from ...refusal import said
from ...sketch.region import Region
from ..joining import joined
from ..model import Built, StepFailure, Unfinished
from ..outlines import closed_regions, kernel_loop
from ..steps.revolve import Revolve
from ..workshop import Maker, Workshop

#: The profile stands off the main directions so that the seam of round faces stays clear of the usual holes.
SEAM_ANGLE = 0.6457718  # 37 degrees


FULL = 2 * math.pi


def build(step: Revolve, shop: Workshop) -> Built:
    if shop.current is None and step.mode in ("cut", "keep"):
        raise Unfinished("There is no body yet to cut from. Set Material to “add”, or put this step later.")
    sketch = shop.sketch(step.sketch)
    regions = closed_regions(sketch, step.regions)
    _clear_of_axis(regions)
    turn = shop.value(step.turn, "Turn", "angle")
    if turn > FULL + 1e-9:
        raise StepFailure(f"A turn is 360° at most; it is {math.degrees(turn):g}°.")
    full = turn > FULL - 1e-9
    frame = shop.frame(sketch, SEAM_ANGLE if full else _begin(step, shop, turn))
    axis = (frame.origin, frame.x)
    if frame.mirrored:
        turn = -turn
    bodies = []
    for region in regions:
        flat = flat_face(kernel_loop(region.outer, sketch), tuple(kernel_loop(h, sketch) for h in region.holes), frame)
        bodies.append(revolve(flat, *axis, step.id) if full else revolve_part(flat, *axis, turn, step.id))
    return joined(step.id, step.mode, bodies, shop)


def _begin(step: Revolve, shop: Workshop, turn: float) -> float:
    start = shop.value(step.start, "Start", "angle", positive=False)
    return start - {"forward": 0.0, "backward": turn, "both": turn / 2}[step.ways]


def _clear_of_axis(regions: tuple[Region, ...]) -> None:
    for region in regions:
        low = region.outer.outline[:, 1].min()
        high = region.outer.outline[:, 1].max()
        if low < -1e-7 < 1e-7 < high:
            at = region.outer.outline[region.outer.outline[:, 1].argmin()]
            raise StepFailure(
                f"The profile crosses the turning axis at Z {said(at[0])} (it reaches Ø{said(-2 * at[1])} on the "
                "other side). Keep all of it on one side."
            )


MAKERS = {Revolve: Maker(build)}
