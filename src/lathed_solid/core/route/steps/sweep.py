"""Sweep: an outline carried along a path of lines and arcs, along edges of the part, or along a helix."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ...sketch.model import Arc, Circle, Line, Sketch
from ..gauges import Claim, HelixSize, claim
from ..joining import MATERIAL
from ..kinds import RouteView, StepKind
from ..model import EdgeRef, FaceRef, Param, StepBase


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
    claims,
    summary,
    begins_with_sketch=True,
    repeatable=True,
)
