"""From the sizes of a swept sketch to claims on the faces its lines make."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Protocol

from ..names import refers
from ..sketch.arrange import source_of
from ..sketch.lettering import flat_capital
from ..sketch.model import Arc, Dimension, Line, Sketch
from ..sketch.region import Region, find_regions
from .dimensions import chamfer_angle, mirrored_halves, stated_by
from .gauges import AxisAngle, Claim, Count, Diameter, LetterHeight, OpenEnds, Radius, claim, faces_of
from .kinds import RouteView
from .points import chosen_points
from .sites import Sites


class Named(Protocol):
    """Whatever has the name that its faces begin with."""

    @property
    def id(self) -> str: ...


class Drawn(Named, Protocol):
    """The fields of a step that sweeps areas of a sketch."""

    @property
    def regions(self) -> tuple[str, ...]: ...


def sketch_claims(step: Drawn, sketch: Sketch, view: RouteView) -> list[Claim]:
    """What the dimensions of a swept sketch state about the faces ``<step>/<line>/side``.

    With areas chosen the step makes only the lines that bound them (a line between two of them makes no face); what
    other steps made of the same sketch is measured there.
    """
    own = _bounding(sketch, step.regions) if step.regions else None
    found = dimension_claims(step, sketch, view, own)
    found += _direction_claims(sketch, step.id)
    found += _counts(found)
    # A hole may be drawn as well as drilled: whether it goes through is seen on its wall.
    drilled = [c for c in found if c.key == "" and not c.formula and isinstance(c.gauge, Diameter)]
    found += [Claim(c.number, "thru", OpenEnds(c.gauge.face)) for c in drilled]
    if own is None:
        return found
    faces = {f"{step.id}/{name}/side" for name in own}
    return [c for one in found if (c := _made_here(one, f"{step.id}/", faces)) is not None]


def _made_here(claim: Claim, tag: str, faces: set[str]) -> Claim | None:
    """A claim without the readings that need a face this step does not make."""
    ways = (claim.gauge, *claim.or_else)
    kept = [g for g in ways if all(f in faces or not f.startswith(tag) for f in faces_of(g))]
    return claim._replace(gauge=kept[0], or_else=tuple(kept[1:])) if kept else None


def dimension_claims(
    step: Named,
    sketch: Sketch,
    view: RouteView,
    own: set[str] | None = None,
    drilled: Mapping[str, str] | None = None,
) -> list[Claim]:
    """What each driving dimension states about what ``step`` made of the sketch: the elements ``own`` (all when None),
    and holes by the points they are ``drilled`` at.
    """
    made = {**_made_by_others(step, sketch, view, own), **(drilled or {})}
    sites, found = Sites(sketch, step.id, made), []
    for d in sketch.dimensions:
        if d.reference or not refers(d.text):
            continue
        found += mirrored_halves(sites, d)
        for gauge, *others in stated_by(sites, d):
            ends = (f"{step.id}/{a}/side" for a in _ends_between(sketch, d))
            found += claim(d.text, gauge, *ends, or_else=tuple(others))
        found += chamfer_angle(sites, d)
        found += _letters(sketch, step.id, d)
    return found


def _ends_between(sketch: Sketch, d: Dimension) -> list[str]:
    """Arcs that touch both lines a width is between: the round ends of a slot, which have no size of their own."""
    if d.kind != "distance":
        return []
    touched = [{c for r in sketch.relations if r.kind == "tangent" and i in r.of for c in r.of} for i in d.of]
    both = set.intersection(*touched) if len(touched) == 2 else set()
    return [e.id for e in sketch.entities if isinstance(e, Arc) and e.id in both]


def _letters(sketch: Sketch, tag: str, d: Dimension) -> list[Claim]:
    """The height of a text that stands on a line, read off a capital that is flat at both ends."""
    text = next((t for t in sketch.texts() if d.kind == "height" and d.of == (t.id,)), None)
    line = next((c for c in sketch.curves() if text is not None and c.id == text.on and isinstance(c, Line)), None)
    if text is None or line is None or not (letter := flat_capital(text)):
        return []
    points = sketch.points()
    a, b = points[line.a], points[line.b]
    size = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    up = -(b.y - a.y) / size, (b.x - a.x) / size
    return claim(d.text, LetterHeight(f"{tag}/{letter}/side", f"{tag}/frame", up))


def _made_by_others(step: Named, sketch: Sketch, view: RouteView, own: set[str] | None) -> dict[str, str]:
    """Faces that other steps made of elements this one does not make."""
    found: dict[str, str] = {}
    for other in view.steps.values():
        if other.id == step.id or other.suppressed or getattr(other, "sketch", "") != sketch.id:
            continue
        if (regions := getattr(other, "regions", None)) is not None:
            if own is None:
                continue
            names = _bounding(sketch, regions) if regions else {c.id for c in sketch.curves() if not c.construction}
            found |= {n: f"{other.id}/{n}/side" for n in names - own if n not in found}
        elif getattr(other, "placement", "") == "sketch":
            only = getattr(other, "only", "")
            found |= {n: f"{other.id}/{n}/side" for n in chosen_points(only, sketch) if n not in found}
    return found


def _bounding(sketch: Sketch, chosen: Sequence[str]) -> set[str]:
    """Curves that bound a chosen area and are not wholly between two of them."""
    regions: list[Region] = [r for r in find_regions(sketch, check=False).every() if r.id in chosen]
    names = [name for r in regions for loop in (r.outer, *r.holes) for name, _ in loop.curves]
    return {source_of(n) for n in names if names.count(n) == 1}


def _counts(found: list[Claim]) -> list[Claim]:
    """How many round faces a callout such as ``4x R3`` states."""
    faces: dict[int, list[str]] = {}
    for c in found:
        if c.key == "" and not c.formula and isinstance(c.gauge, Radius | Diameter):
            faces.setdefault(c.number, []).append(c.gauge.face)
    return [
        Claim(number, "count", Count(names[0], tuple(names[1:]), even=False))
        for number, named in faces.items()
        if len(names := list(dict.fromkeys(named))) > 1
    ]


def _direction_claims(sketch: Sketch, tag: str) -> list[Claim]:
    """The stated direction of a side plane is that of the lowest flat it makes."""
    if sketch.plane.base != "side":
        return []
    points = sketch.points()
    level = {r.of[0] for r in sketch.relations if r.kind == "horizontal" and len(r.of) == 1}
    lines = [c for c in sketch.curves() if isinstance(c, Line) and c.id in level and not c.construction]
    if not lines:
        return []
    lowest = min(lines, key=lambda c: points[c.a].y)
    return claim(sketch.plane.angle, AxisAngle(lowest.link or f"{tag}/{lowest.id}/side"))
