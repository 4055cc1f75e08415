"""Extrude: closed areas of a sketch swept straight, to add material, cut it away, or keep only what is inside."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ...sketch.model import Line, Sketch
from ..gauges import AnyGauge, Between, Claim, FaceAngle, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase
from ..sizes import sketch_claims


class Extrude(StepBase, frozen=True, kw_only=True, tag="extrude"):
    """``keep`` cuts away all outside the outline, ``new`` begins a body of its own.

    The sweep starts ``start`` mm off the sketch's plane, or off the flat face ``begin``. ``two`` runs ``depth`` forward
    and ``depth2`` backward; ``face`` runs to a face and ``gap`` past it (short of it when negative); ``next`` to the
    first surface on the way; ``corner`` to where three faces meet. ``draft`` leans the sides inward on the way forward,
    ``draft2`` on the way backward (empty: as forward). ``thin`` makes a wall of that thickness along the outline.
    """

    sketch: str = ""
    regions: tuple[str, ...] = ()
    mode: Literal["cut", "add", "keep", "new"] = "cut"
    extent: Literal["through", "depth", "two", "face", "next", "corner"] = "through"
    direction: Literal["both", "forward", "backward"] = "both"
    depth: Formula = ""
    depth2: Formula = ""
    face: FaceRef = FaceRef("")
    gap: Formula = "0"
    corner: tuple[FaceRef, ...] = ()
    begin: FaceRef = FaceRef("")
    start: Formula = "0"
    draft: Formula = ""
    draft2: Formula = ""
    thin: Formula = ""
    thin_side: Literal["inside", "outside", "both"] = "inside"


def claims(step: Extrude, view: RouteView) -> list[Claim]:
    sketch = view.sketches.get(step.sketch)
    if sketch is None:
        return []
    found = sketch_claims(step, sketch, view) if not step.thin.strip() else []
    first, *others = _depth_gauges(step, sketch)
    if step.extent == "depth":
        found += claim(step.depth, first, or_else=tuple(others))
    if step.extent == "two":
        for text, end in ((step.depth, "end"), (step.depth2, "start")):
            found += claim(text, Between(f"{step.id}/{end}", f"{step.id}/frame"))
    offset = _offset_gauges(step, sketch)
    found += claim(sketch.plane.offset, offset[0], or_else=tuple(offset[1:])) if offset else []
    for text, side in ((step.draft, "draft"), (step.draft2, "draft2")):
        if text.strip() and (side == "draft2" or not step.draft2.strip()):
            lines = [c.id for c in sketch.curves() if isinstance(c, Line) and not c.construction]
            found += [c for i in lines for c in claim(text, FaceAngle(f"{step.id}/{i}/side", f"{step.id}/frame"))]
    if step.thin.strip() and (line := next((c.id for c in sketch.curves()), "")):
        found += claim(step.thin, Between(f"{step.id}/{line}/side", f"{step.id}/{line}.r/side"))
    return found


def _depth_gauges(step: Extrude, sketch: Sketch) -> list[AnyGauge]:
    """How deep: between both ends, or from the far end to the face or plane that the sweep starts at.

    A cut has an end of its own only where it stops in the material, a boss loses its foot in the body it stands on.
    """
    far, near = ("start", "end") if step.direction == "backward" else ("end", "start")
    ends = Between(f"{step.id}/{far}", f"{step.id}/{near}")
    if step.direction == "both":
        return [ends]
    begin = step.begin.name or (sketch.plane.on if sketch.plane.base == "face" else "")
    moved = step.start.strip() not in ("", "0") or sketch.plane.offset.strip() not in ("", "0")
    from_face = [Between(f"{step.id}/{far}", begin)] if begin and (step.begin.name or not moved) else []
    from_plane = Between(f"{step.id}/{far}", f"{step.id}/from")
    from_zero = (
        [] if begin or step.start.strip() not in ("", "0") else [Between(f"{step.id}/{far}", f"{step.id}/frame")]
    )
    if step.mode == "cut":
        return [from_plane, *from_face, *from_zero]
    return [ends, from_plane, *from_face, *from_zero]


def _offset_gauges(step: Extrude, sketch: Sketch) -> list[AnyGauge]:
    """Where the sweep starts, counted from the face or the plane through zero that its own plane is set off from."""
    if step.start.strip() not in ("", "0") or step.begin.name:
        return []
    face = f"{step.id}/{'end' if step.direction == 'backward' else 'start'}"
    other = sketch.plane.on if sketch.plane.base == "face" else f"{step.id}/base"
    return [Between(face, other), Between(f"{step.id}/from", other)]


def summary(step: Extrude, view: RouteView) -> str:
    how = {
        "through": "through",
        "depth": f"{view.text(step.depth)} deep",
        "two": f"{view.text(step.depth)} and {view.text(step.depth2)}",
        "face": f"to {step.face.was or step.face.name or 'a face'}",
        "next": "to the next surface",
        "corner": "to a corner",
    }[step.extent]
    mode = {"keep": "keep inside", "new": "new body"}.get(step.mode, step.mode)
    lean = f" · draft {view.text(step.draft, 'angle')}" if step.draft.strip() else ""
    return f"{mode} · {how}{lean}" + (f" · wall {view.text(step.thin)}" if step.thin.strip() else "")


MATERIAL = (("cut", "cut away"), ("add", "add"), ("keep", "keep only the inside"), ("new", "begin a new body"))
KIND = StepKind(
    Extrude,
    "Extrude",
    "extrude",
    (
        Param("sketch", "Outline", "sketch"),
        Param("regions", "Areas", "regions", help="Which closed areas of the outline; none chosen: the usual ones"),
        Param("mode", "Material", "choice", MATERIAL),
        Param(
            "extent",
            "How far",
            "choice",
            (
                ("through", "through all"),
                ("depth", "to a depth"),
                ("two", "two depths"),
                ("next", "to the next surface"),
                ("face", "to a face"),
                ("corner", "to a corner"),
            ),
        ),
        Param(
            "direction",
            "Direction",
            "choice",
            (("both", "both ways"), ("forward", "forward"), ("backward", "backward")),
            when={"extent": ("through", "depth", "next", "face")},
        ),
        Param("depth", "Depth", "length", when={"extent": ("depth", "two")}),
        Param("depth2", "Depth backward", "length", when={"extent": ("two",)}),
        Param("face", "Runs to", "face", when={"extent": ("face",)}),
        Param("gap", "Past the face", "length", when={"extent": ("face",)}, help="Negative: short of it."),
        Param("corner", "Corner of", "faces", when={"extent": ("corner",)}, help="The three faces that meet there."),
        Param("begin", "Starts at", "face", help="A flat face; empty: the outline's plane.", more=True),
        Param("start", "Starts off it by", "length", more=True),
        Param("draft", "Draft", "angle", help="Leans the sides inward; empty: square.", more=True),
        Param("draft2", "Draft backward", "angle", help="Empty: as forward.", more=True),
        Param("thin", "Wall", "length", help="A wall along the outline; empty: the whole area.", more=True),
        Param(
            "thin_side",
            "Wall lies",
            "choice",
            (("inside", "inside or left"), ("outside", "outside or right"), ("both", "half each side")),
            more=True,
        ),
    ),
    claims,
    summary,
    begins_with_sketch=True,
    repeatable=True,
)
