"""How it is made: sweep."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...refusal import said
from ..joining import joined
from ..model import Built, StepFailure, Unfinished
from ..outlines import chain, closed_regions, flats, kernel_chain, kernel_loop, sampled
from ..workshop import Workshop
from .edges import picks

if TYPE_CHECKING:
    from ...kernel.ground.named import NamedBody
import numpy as np

from ...kernel.cut.edges import picked
from ...kernel.form.helicoid import Piece, helical_solid
from ...kernel.form.pipe import path_wire, pipe, wire_of
from ...kernel.ground.named import NamedBody
from ..steps.sweep import Sweep
from ..workshop import Maker


def build(step: Sweep, shop: Workshop) -> Built:
    tools = _helical(step, shop) if step.path == "helix" else _along(step, shop)
    return joined(step.id, step.mode, tools, shop)


def _along(step: Sweep, shop: Workshop) -> list[NamedBody]:
    sketch = shop.sketch(step.sketch)
    if step.path == "sketch":
        if not step.run:
            raise Unfinished("Draw the path, or choose the sketch that holds it.")
        run = shop.sketch(step.run)
        walk, _, _ = chain(run)
        path = path_wire(kernel_chain(walk, run), shop.frame(run))
    else:
        if not step.edges:
            raise Unfinished("Pick the edges that make the path.")
        path = wire_of([e for pick in picks(step.edges) for e in picked(shop.body, pick)])
    areas = flats(sketch, step.regions, shop.frame(sketch))
    return [pipe(flat, path, step.id) for flat in areas]


def _helical(step: Sweep, shop: Workshop) -> list[NamedBody]:
    sketch = shop.sketch(step.sketch)
    pitch = shop.value(step.pitch, "Pitch", positive=False)
    turns = _turns(step, shop, pitch)
    taper = shop.value(step.taper, "Taper", positive=False)
    start = shop.value(step.start, "Starts at", "angle", positive=False)
    plane = shop.frame(sketch)
    # The axis of the helix is the sketch's own axis: its x; the radius is its y.
    about = plane._replace(x=plane.y, y=plane.normal)
    tools = []
    for region in closed_regions(sketch, step.regions):
        if region.holes:
            raise StepFailure("An outline swept along a helix is one area without holes.")
        runs = [(p.name, np.array(sampled(p))) for p in kernel_loop(region.outer, sketch)]
        if min(float(r[:, 1].min()) for _, r in runs) < -1e-9:
            raise StepFailure("The outline of a helical sweep must lie on one side of the axis.")
        if len(runs) == 1:  # a full circle is closed in itself: in two halves it has corners
            runs = _halved(*runs[0])
        _clear_of_itself(runs, pitch, turns)
        section = [Piece(name, r[:, 0], r[:, 1]) for name, r in runs]
        made = helical_solid(about, section, pitch, turns, start=start, taper=taper, left_hand=step.hand == "left")
        tag, ends = step.id, ("start", "end")
        tools.append(
            NamedBody(made.solid, [(f, f"{tag}/{n}" if n in ends else f"{tag}/{n}/side") for f, n in made.faces])
        )
    return tools


def _halved(name: str, run):  # type: ignore[no-untyped-def]
    from scipy.interpolate import make_interp_spline

    t = np.linspace(0, 1, len(run))
    closed = make_interp_spline(t, run, k=5)
    return [(name, closed(np.linspace(0, 0.5, 13))), (name, closed(np.linspace(0.5, 1.0, 13)))]


def _clear_of_itself(runs, pitch: float, turns: float) -> None:  # type: ignore[no-untyped-def]
    width = max(float(r[:, 0].max()) for _, r in runs) - min(float(r[:, 0].min()) for _, r in runs)
    if turns > 1 and width > abs(pitch) - 1e-9:
        raise StepFailure(
            f"The outline is {said(width)} wide, the pitch only {said(abs(pitch))}: one turn would run into the next."
        )


def _turns(step: Sweep, shop: Workshop, pitch: float) -> float:
    if step.told == "turns":
        return shop.value(step.turns, "Turns", "number")
    height = shop.value(step.height, "Height")
    if abs(pitch) < 1e-9:
        raise StepFailure("A helix of no pitch has no height. Tell the turns instead.")
    return height / abs(pitch)


MAKERS = {Sweep: Maker(build)}
