"""A route drafted from what was recognised on a solid; it stands beside the others, never in their place."""

from __future__ import annotations

from ..plan.turned import Piece, Profile
from ..refusal import Refusal
from ..route.settling import dimension_values
from ..route.steps.revolve import Revolve
from ..sketch.explain import finish
from ..sketch.model import Arc, Entity, Line, Plane, Point, Relation, Sketch
from . import edits
from .model import Content

#: An outline of more pieces is no profile that anyone would size by hand.
MOST = 300
_ON_AXIS = 1e-4


def turned_route(content: Content, profile: Profile) -> Content:
    """A route that turns the recognised profile, every size of it written down. Raises Refusal."""
    if len(profile.pieces) > MOST:
        raise Refusal(f"This profile has {len(profile.pieces)} pieces; {MOST} are the most that are drafted.")
    content = edits.begin_route(content)
    content, id_ = edits.add_sketch(content, "Recognised profile", Plane("turning"))
    content = edits.set_sketch(content, _sized(_outline(content.sketch(id_), profile), content))
    content, _ = edits.with_step(content, Revolve, name="Recognised profile", sketch=id_)
    return content


def _outline(sketch: Sketch, profile: Profile) -> Sketch:
    """Lines and arcs end to end, level and square ones told as that; along the axis where it lies open."""
    pieces, points = profile.pieces, [p.start for p in profile.pieces]
    entities: list[Entity] = []
    relations: list[Relation] = []
    is_open = pieces[-1].end[1] < _ON_AXIS and pieces[0].start[1] < _ON_AXIS
    if is_open:
        points.append(pieces[-1].end)
    entities += [Point(f"p{k}", x, y if y > _ON_AXIS else 0.0) for k, (x, y) in enumerate(points, 1)]
    names = [f"p{k}" for k in range(1, len(points) + 1)]
    for k, piece in enumerate(pieces):
        a, b = names[k], names[(k + 1) % len(names)]
        entities += _drawn(piece, k + 1, a, b)
        relations += _told(piece, k + 1)
    if is_open:
        entities.append(Line("l0", names[-1], names[0]))
        relations.append(Relation("r0", "collinear", ("l0", "along")))
    return Sketch(
        id=sketch.id, name=sketch.name, plane=sketch.plane, entities=tuple(entities), relations=tuple(relations)
    )


def _drawn(piece: Piece, number: int, a: str, b: str) -> list[Entity]:
    if piece.middle is None:
        return [Line(f"l{number}", a, b)]
    x, y = piece.middle
    ends = (b, a) if piece.back else (a, b)
    return [Point(f"c{number}", x, y if abs(y) > _ON_AXIS else 0.0), Arc(f"a{number}", f"c{number}", *ends)]


def _told(piece: Piece, number: int) -> list[Relation]:
    if piece.middle is not None:
        return []
    (ax, ay), (bx, by) = piece.start, piece.end
    if abs(ay - by) < _ON_AXIS:
        return [Relation(f"r{number}", "horizontal", (f"l{number}",))]
    return [Relation(f"r{number}", "vertical", (f"l{number}",))] if abs(ax - bx) < _ON_AXIS else []


def _sized(sketch: Sketch, content: Content) -> Sketch:
    """Every size that is still open, as it was read off."""
    style = content.header.typed_style
    exact = style.__class__(style.unit, 6)
    for pin in finish.pins(sketch, dimension_values(sketch, content.ledger())):
        sketch = finish.with_pin(sketch, pin, exact.length(pin.value))
    return sketch
