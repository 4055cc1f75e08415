"""Letters and outlines engraved into a face or raised on it, flat or round."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ...sketch.lettering import all_contours
from ..gauges import Between, Claim, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase
from ..sizes import dimension_claims


class Engrave(StepBase, frozen=True, kw_only=True, tag="engrave"):
    """What is drawn in ``sketch`` goes ``depth`` into the ``face`` or stands so high on it.

    On a round face the sketch's X runs round it, true to length on the surface; ``angle`` and ``along`` say where its
    zero lies.
    """

    face: FaceRef = FaceRef("")
    sketch: str = ""
    regions: tuple[str, ...] = ()
    mode: Literal["cut", "add"] = "cut"
    depth: Formula = ""
    angle: Formula = "0°"
    along: Formula = "0"


def claims(step: Engrave, view: RouteView) -> list[Claim]:
    """How deep, at whichever end lies in or on the material, and what the drawing states."""
    ends = [Between(f"{step.id}/{end}", step.face.name) for end in ("end", "start")]
    sketch = view.sketches.get(step.sketch)
    letters = [f"{step.id}/{name}/side" for name in all_contours(sketch)] if sketch is not None else []
    found = claim(step.depth, ends[0], f"{step.id}/end", f"{step.id}/start", *letters, or_else=(ends[1],))
    return found + (dimension_claims(step, sketch, view) if sketch is not None else [])


def summary(step: Engrave, view: RouteView) -> str:
    sketch = view.sketches.get(step.sketch)
    words = " ".join(t.text for t in sketch.texts()) if sketch else ""
    how = "engraved" if step.mode == "cut" else "raised"
    return f"{how} {view.text(step.depth)}" + (f" · “{words}”" if words else "")


KIND = StepKind(
    Engrave,
    "Letters on a face",
    "text",
    (
        Param("face", "Face", "face"),
        Param("sketch", "Letters", "sketch"),
        Param("regions", "Areas", "regions", more=True),
        Param("mode", "Letters are", "choice", (("cut", "engraved"), ("add", "raised"))),
        Param("depth", "Depth", "length", help="Or the height of raised letters."),
        Param("angle", "Round to", "angle", help="On a round face: where the drawing's zero lies, from X.", more=True),
        Param("along", "Along the axis", "length", help="On a round face.", more=True),
    ),
    claims,
    summary,
    begins_with_sketch=True,
    repeatable=True,
)
