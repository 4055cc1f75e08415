"""A route drafted from what was recognised on a solid; it stands beside the others, never in their place."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import msgspec

from ..kernel.measure.pieces import XY, Piece
from ..plan.prismatic import LYING, Holes, Lying, Prism
from ..plan.turned import Profile
from ..quantity import Style
from ..refusal import Refusal
from ..route.drilling.model import Hole
from ..route.model import FaceRef
from ..route.settling import dimension_values
from ..route.steps.extrude import Extrude
from ..route.steps.revolve import Revolve
from ..sketch.explain import finish
from ..sketch.model import Arc, Circle, Entity, Line, Plane, Point, Relation, Sketch
from . import edits
from .model import Content
from .suggest import hole_fields

#: An outline of more pieces is no profile that anyone would size by hand.
MOST = 300
_ON_AXIS = 1e-4
#: The plane on which the outline of a part lies that is flat along an axis.
_PLANES: dict[Lying, Plane] = {"z": Plane("end"), "y": Plane("side"), "x": Plane("side", angle="270°")}
#: Where a hole stands is told by the places recognised, whatever its callout says of it.
_PLACES = ("placement", "circle", "x", "y", "along", "angle")


def turned_route(content: Content, profile: Profile) -> Content:
    """A route that turns the recognised profile, every size of it written down. Raises Refusal."""
    content = edits.begin_route(content)
    content, id_ = _drafted(content, "Recognised profile", Plane("turning"), profile.pieces, on_axis=True)
    content, _ = edits.with_step(content, Revolve, name="Recognised profile", sketch=id_)
    return content


def flat_route(content: Content, prism: Prism) -> Content:
    """A route of the recognised outline with its thickness, and a step for the holes of each size, by the callouts that
    state them where there are any. Raises Refusal.
    """
    content = edits.begin_route(content)
    axis = next(axis for axis, frame in LYING.items() if frame == prism.outline.frame)
    plane = msgspec.structs.replace(_PLANES[axis], offset=_length(prism.outline.high, content))
    content, id_ = _drafted(content, "Recognised outline", plane, prism.outline.pieces, on_axis=False)
    content, plate = edits.with_step(
        content, Extrude, name="Recognised outline", sketch=id_, mode="add", extent="depth", direction="backward",
        depth=_length(prism.thickness, content),
    )  # fmt: skip
    for holes in prism.holes:
        content = _drilled(content, holes, plane, FaceRef(f"{plate}/end", "top"))
    return content


def _drilled(content: Content, holes: Holes, plane: Plane, face: FaceRef) -> Content:
    size = holes.size
    content, id_ = edits.add_sketch(content, "Recognised holes", plane)
    sketch = content.sketch(id_)
    points = tuple(Point(f"p{k}", x, y) for k, (x, y) in enumerate(holes.places, 1))
    content = edits.set_sketch(content, _sized(msgspec.structs.replace(sketch, entities=points), content))
    if holes.callout:
        fields = hole_fields(holes.callout, content.ledger().reading(holes.callout))
    else:
        fields = {"name": "Hole", "diameter": _length(size.diameter, content)}
        if size.depth is not None:
            tip = f"{math.degrees(size.tip):.6g}°"
            fields |= {"extent": "depth", "depth": _length(size.depth, content), "tip": tip}
        if size.seat:
            seat = {"seat": "counterbore", "seat_diameter": _length(size.seat, content)}
            fields |= {**seat, "seat_depth": _length(size.seat_depth, content)}
    kept: dict[str, Any] = {k: v for k, v in fields.items() if k not in _PLACES}
    content, _ = edits.with_step(content, Hole, face=face, placement="sketch", sketch=id_, **kept)
    return content


def _drafted(content: Content, name: str, plane: Plane, pieces: Sequence[Piece], on_axis: bool) -> tuple[Content, str]:
    """A sketch of an outline with every size written; its id."""
    if len(pieces) > MOST:
        raise Refusal(f"This outline has {len(pieces)} pieces; {MOST} are the most that are drafted.")
    content, id_ = edits.add_sketch(content, name, plane)
    drawn = _outline(content.sketch(id_), pieces, on_axis)
    return edits.set_sketch(content, _sized(drawn, content)), id_


def _outline(sketch: Sketch, pieces: Sequence[Piece], on_axis: bool) -> Sketch:
    """Lines and arcs end to end, level and square ones told as that; along the turning axis where it lies open."""
    if len(pieces) == 1 and pieces[0].middle is not None:
        (x, y), (ax, ay) = pieces[0].middle, pieces[0].start
        whole = (Point("p1", x, y), Circle("c1", "p1", math.hypot(ax - x, ay - y)))
        return msgspec.structs.replace(sketch, entities=whole)
    entities: list[Entity] = []
    relations: list[Relation] = []
    points = [p.start for p in pieces]
    is_open = on_axis and pieces[-1].end[1] < _ON_AXIS and pieces[0].start[1] < _ON_AXIS
    if is_open:
        points.append(pieces[-1].end)
    entities += [_point(f"p{k}", place, on_axis) for k, place in enumerate(points, 1)]
    names = [f"p{k}" for k in range(1, len(points) + 1)]
    for k, piece in enumerate(pieces):
        entities += _drawn(piece, k + 1, names[k], names[(k + 1) % len(names)], on_axis)
        relations += _told(piece, k + 1)
    if is_open:
        entities.append(Line("l0", names[-1], names[0]))
        relations.append(Relation("r0", "collinear", ("l0", "along")))
    return msgspec.structs.replace(sketch, entities=tuple(entities), relations=tuple(relations))


def _point(name: str, place: XY, on_axis: bool) -> Point:
    """What lies on the turning axis lies on it exactly."""
    return Point(name, place[0], 0.0 if on_axis and abs(place[1]) < _ON_AXIS else place[1])


def _drawn(piece: Piece, number: int, a: str, b: str, on_axis: bool) -> list[Entity]:
    if piece.middle is None:
        return [Line(f"l{number}", a, b)]
    ends = (b, a) if piece.back else (a, b)
    return [_point(f"c{number}", piece.middle, on_axis), Arc(f"a{number}", f"c{number}", *ends)]


def _told(piece: Piece, number: int) -> list[Relation]:
    if piece.middle is not None:
        return []
    (ax, ay), (bx, by) = piece.start, piece.end
    if abs(ay - by) < _ON_AXIS:
        return [Relation(f"r{number}", "horizontal", (f"l{number}",))]
    return [Relation(f"r{number}", "vertical", (f"l{number}",))] if abs(ax - bx) < _ON_AXIS else []


def _sized(sketch: Sketch, content: Content) -> Sketch:
    """Every size that is still open, as it was read off."""
    for pin in finish.pins(sketch, dimension_values(sketch, content.ledger())):
        sketch = finish.with_pin(sketch, pin, _length(pin.value, content))
    return sketch


def _length(value: float, content: Content) -> str:
    """A length as it is typed in the drawing's unit, to a millionth."""
    return Style(content.header.units, 6).length(value)
