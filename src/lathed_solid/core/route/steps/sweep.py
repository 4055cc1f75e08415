"""Sweep: an outline carried along a path of lines and arcs, along edges of the part, or along a helix."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ...formulas import Formula
from ...refusal import said
from ...sketch.model import Arc, Circle, Line, Sketch
from ..gauges import Claim, HelixSize, claim
from ..joining import MATERIAL, joined
from ..kinds import RouteView, StepKind
from ..model import Built, EdgeRef, FaceRef, Param, StepBase, StepFailure, Unfinished
from ..outlines import chain, closed_regions, flats, kernel_chain, kernel_loop, sampled
from ..workshop import Workshop
from .edges import picks

if TYPE_CHECKING:
    from ...kernel.ground.named import NamedBody


class Sweep(StepBase, frozen=True, kw_only=True, tag="sweep"):
    """``helix``: the outline lies in an axial plane (axis to the right, radius up) and goes round that axis, ``pitch``
    mm on each turn; ``turns`` or the ``height`` says how far. ``taper`` widens it by so much radius a turn.
    ``round_face`` is what its sizes are measured from.
    """

    sketch: str = ""
    regions: tuple[str, ...] = ()
    mode: Literal["add", "cut", "keep", "new"] = "add"
    path: Literal["sketch", "edges", "helix"] = "sketch"
    run: str = ""
    edges: tuple[EdgeRef, ...] = ()
    pitch: Formula = ""
    told: Literal["turns", "height"] = "turns"
    turns: Formula = ""
    height: Formula = ""
    taper: Formula = "0"
    hand: Literal["right", "left"] = "right"
    start: Formula = "0°"
    round_face: FaceRef = FaceRef("")


def build(step: Sweep, shop: Workshop) -> Built:
    tools = _helical(step, shop) if step.path == "helix" else _along(step, shop)
    return joined(step.id, step.mode, tools, shop)


def _along(step: Sweep, shop: Workshop) -> list[NamedBody]:
    from ...kernel.build.pipe import path_wire, pipe, wire_of
    from ...kernel.cut.edges import picked

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
    import numpy as np

    from ...kernel.build.helicoid import Piece, helical_solid
    from ...kernel.ground.named import NamedBody

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
    import numpy as np
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


def claims(step: Sweep, view: RouteView) -> list[Claim]:
    """Of a helix that was cut from a round face: its pitch, its turns and the width of its bottom, off an axial
    section.
    """
    sketch = view.sketches.get(step.sketch)
    if step.path != "helix" or sketch is None or not step.round_face.name:
        return []
    bottom = _bottom(sketch)
    if bottom is None:
        return []
    side, face = f"{step.id}/{bottom.id}/side", step.round_face.name
    ends = (f"{step.id}/start", f"{step.id}/end")
    drawn = [f"{step.id}/{c.id}/side" for c in sketch.curves() if not c.construction]
    found = claim(step.pitch, HelixSize(side, face, "pitch"), *drawn, *ends)
    if step.told == "turns":
        found += claim(step.turns, HelixSize(side, face, "turns", ends))
    ways = ((bottom.id,), (bottom.a, bottom.b), (bottom.b, bottom.a)) if isinstance(bottom, Line) else ((bottom.id,),)
    for d in sketch.dimensions:
        if d.of in ways and d.kind in ("diameter", "distance", "along"):
            found += claim(d.text, HelixSize(side, face, "width"), *ends)
    return found


def _bottom(sketch: Sketch) -> Circle | Arc | Line | None:
    """What of the outline runs deepest: its round, or the line nearest to the axis that runs along it."""
    drawn = [c for c in sketch.curves() if not c.construction]
    if round_ := next((c for c in drawn if isinstance(c, Circle | Arc)), None):
        return round_
    points = sketch.points()
    level = [c for c in drawn if isinstance(c, Line) and abs(points[c.a].y - points[c.b].y) < 1e-6]
    return min(level, key=lambda c: points[c.a].y, default=None)


def summary(step: Sweep, view: RouteView) -> str:
    if step.path != "helix":
        return f"{step.mode} · along {'a path' if step.path == 'sketch' else 'edges'}"
    how = f"{view.text(step.turns, 'number')} turns" if step.told == "turns" else f"{view.text(step.height)} high"
    return f"{step.mode} · helix, pitch {view.text(step.pitch)}, {how}"


_HELIX = {"path": ("helix",)}
KIND = StepKind(
    Sweep,
    "Sweep",
    "sweep",
    (
        Param("sketch", "Outline", "sketch"),
        Param("regions", "Areas", "regions"),
        MATERIAL,
        Param(
            "path",
            "Along",
            "choice",
            (("sketch", "a drawn path"), ("edges", "edges of the part"), ("helix", "a helix")),
        ),
        Param("run", "Path", "sketch", when={"path": ("sketch",)}),
        Param("edges", "Edges", "edges", when={"path": ("edges",)}),
        Param("round_face", "Wound on", "face", when=_HELIX, help="The round face its sizes are measured from."),
        Param("pitch", "Pitch", "length", when=_HELIX),
        Param("told", "Told by", "choice", (("turns", "turns"), ("height", "height")), when=_HELIX),
        Param("turns", "Turns", "number", when={"path": ("helix",), "told": ("turns",)}),
        Param("height", "Height", "length", when={"path": ("helix",), "told": ("height",)}),
        Param("taper", "Wider a turn", "length", when=_HELIX, more=True),
        Param("hand", "Hand", "choice", (("right", "right"), ("left", "left")), when=_HELIX),
        Param("start", "Starts at", "angle", when=_HELIX, more=True),
    ),
    build,
    claims,
    summary,
    begins_with_sketch=True,
    repeatable=True,
)
