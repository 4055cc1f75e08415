"""Lines of a sketch that come from the solid: brought up to date before the step that uses the sketch is built."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from typing import TYPE_CHECKING

import msgspec

from ..callout import Ledger
from ..sketch.copies import is_given
from ..sketch.model import BUILT_IN, Arc, Circle, Ellipse, Entity, Line, Point, Projected, Sketch, Spline, stands_on
from ..sketch.refusal import SketchError
from ..sketch.shadow import Ghost, edge_of_part, lies_on_part, shadow_of, wants_outline
from ..tolerance import ONE_PLACE
from .lending import lent
from .model import StepFailure
from .settling import settle_sketch

if TYPE_CHECKING:
    from ..kernel.ground.geometry import Frame
    from ..kernel.ground.named import NamedBody
    from ..kernel.measure.project import Flat, Seen


#: Another sketch as it stands now, and where it lies. Raises StepFailure.
Lender = Callable[[str], "tuple[Sketch, Frame]"]


def refreshed(sketch: Sketch, body: NamedBody | None, frame: Frame, ledger: Ledger, lender: Lender) -> Sketch:
    """``sketch`` with its projected lines as ``body`` and other sketches show them now, solved again when they moved.

    Raises StepFailure when what was projected is gone or the sketch cannot follow.
    """
    if not sketch.projected:
        return sketch
    if body is None and any(p.mode != "sketch" for p in sketch.projected):
        raise StepFailure(
            f"The sketch “{sketch.name}” takes lines from the solid, but there is no solid before this step."
        )
    entities: list[Entity] = []
    for item in sketch.projected:
        if item.mode == "sketch":
            pieces = lent(*lender(item.a), frame)
        else:
            assert body is not None
            pieces = _pieces(item, body, frame, sketch)
        entities += _elements(item, pieces, sketch)
    if _same(entities, [e for e in sketch.entities if _owner(sketch, e)]):
        return sketch
    rest = _standing([e for e in sketch.entities if not _owner(sketch, e)], {e.id for e in entities}, sketch)
    ids = {e.id for e in (*entities, *rest)}
    built_in = {"origin", "along", "across"}
    now = msgspec.structs.replace(
        sketch,
        entities=(*entities, *rest),
        relations=tuple(r for r in sketch.relations if r.kind == "pierce" or set(r.of) <= ids | built_in),
        dimensions=tuple(d for d in sketch.dimensions if _stands(d.of, ids | built_in, sketch)),
    )
    try:
        return settle_sketch(now, ledger)
    except SketchError as error:
        raise StepFailure(error.message) from None


def _standing(rest: list[Entity], given: set[str], sketch: Sketch) -> list[Entity]:
    """The drawn elements; those that stood on a taken point which is gone get a point of their own in its place."""
    known = given | {e.id for e in rest} | set(BUILT_IN)
    missing = dict.fromkeys(p for e in rest for p in stands_on(e) if p not in known)
    own, taken = {}, set(sketch.taken)
    for point in missing:
        own[point] = next(f"p{n}" for n in itertools.count(1) if f"p{n}" not in taken)
        taken.add(own[point])
    if not own:
        return rest
    places = sketch.points()
    made: list[Entity] = [msgspec.structs.replace(places[old], id=new) for old, new in own.items()]
    return [*made, *(_on_points(e, own) for e in rest)]


def _on_points(entity: Entity, own: dict[str, str]) -> Entity:
    fields = {}
    for field in entity.__struct_fields__:
        value = getattr(entity, field)
        if field != "id" and isinstance(value, str) and value in own:
            fields[field] = own[value]
        elif isinstance(value, tuple):
            fields[field] = tuple(own.get(v, v) for v in value)  # type: ignore[assignment]
    return msgspec.structs.replace(entity, **fields)


#: Edges of the part that are shown under a sketch at most, the nearest ones.
SHOWN = 160


def part_under(sketch: Sketch, body: NamedBody | None, frame: Frame) -> Ghost:
    """The part as it is seen under a sketch on one of its faces; nothing where there is none."""
    if body is None or not lies_on_part(sketch):
        return Ghost()
    entities: list[Entity] = []
    items: list[Projected] = []
    known: list[Seen] = []
    if wants_outline(sketch):
        _add(shadow_of(sketch), body, frame, sketch, known, entities, items)
    taken = {p.id for p in sketch.projected}
    for a, b in _pairs_near(body, frame):
        item = edge_of_part(a, b)
        if item.id not in taken:
            _add(item, body, frame, sketch, known, entities, items)
    return Ghost(tuple(entities), tuple(items))


def _add(
    item: Projected,
    body: NamedBody,
    frame: Frame,
    sketch: Sketch,
    known: list[Seen],
    entities: list[Entity],
    items: list[Projected],
) -> None:
    """Show a projection, unless all of it falls on what is shown already (the far rim of a hole)."""
    from ..kernel.measure.project import alike

    try:
        pieces = _pieces(item, body, frame, sketch)
    except StepFailure:
        return  # the face is not there: the step says so itself
    if any(not any(alike(p.piece, k.piece) for k in known) for p in pieces):
        known += pieces
        entities += _elements(item, pieces, sketch)
        items.append(item)


def _pairs_near(body: NamedBody, frame: Frame) -> list[tuple[str, str]]:
    """The pairs of faces that share edges, those nearest to the plane first."""
    from ..kernel.ground.geometry import dot, minus
    from ..kernel.measure.project import middle_of

    found: dict[tuple[str, str], float] = {}
    for sides, edge in body.sides:
        if len(sides) != 2:
            continue
        a, b = (body.name_of(i) for i in sorted(sides))
        away = abs(dot(minus(middle_of(edge), frame.origin), frame.normal))
        if a and b:
            found[a, b] = min(away, found.get((a, b), away))
    return sorted(found, key=lambda pair: (round(found[pair], 6), pair))[:SHOWN]


def _stands(of: tuple[str, ...], ids: set[str], sketch: Sketch) -> bool:
    return set(of) <= ids | {r.id for r in sketch.repeats}


def _owner(sketch: Sketch, entity: Entity) -> bool:
    head, dot, _ = entity.id.partition(".")
    return bool(dot) and any(p.id == head for p in sketch.projected)


def _pieces(item: Projected, body: NamedBody, frame: Frame, sketch: Sketch) -> list[Seen]:
    from ..kernel.ground.check import KernelFailure
    from ..kernel.ground.named import LostReference
    from ..kernel.measure.project import cut, edge_between, silhouette

    try:
        if item.mode == "edge":
            return edge_between(body, item.a, item.b, frame)
        return (silhouette if item.mode == "silhouette" else cut)(body, item.a, frame)
    except LostReference as error:
        was = item.was or "it"
        raise StepFailure(
            f"The sketch “{sketch.name}” takes {was} from the solid, which is not there any more. "
            "Take it anew or delete it.",
            lost=error.name,
        ) from None
    except KernelFailure as error:
        raise StepFailure(f"The sketch “{sketch.name}”: {error.message}") from None


def _elements(item: Projected, seen: list[Seen], sketch: Sketch) -> list[Entity]:
    """Points and construction curves for flat pieces, called after the projection.

    A piece keeps its name as long as the face on its other side does, however many pieces there are beside it.
    """
    made: list[Entity] = []
    names = _Names(item, sketch)
    for piece, beside in seen:
        id_, construction = names.of(beside)
        made += _curve(id_, piece, construction, beside)
    return made


class _Names:
    """Which of the stored pieces of a projection a new one is."""

    def __init__(self, item: Projected, sketch: Sketch) -> None:
        self._item = item
        self._old = [c for c in sketch.curves() if c.id.partition(".")[0] == item.id and is_given(sketch, c.id)]
        self._used: set[str] = set()

    def of(self, beside: str) -> tuple[str, bool]:
        """The id of a piece, and whether it is a construction line."""
        free = [c for c in self._old if c.id not in self._used]
        # Sketches of earlier versions do not know what their pieces lay beside: those go by their order.
        same = next((c for c in free if c.link == beside), None) or next((c for c in free if not c.link), None)
        if same is None:
            taken = self._used | {c.id for c in self._old}
            id_ = next(i for n in itertools.count(1) if (i := f"{self._item.id}.{n}") not in taken)
        else:
            id_ = same.id
        self._used.add(id_)
        return id_, same.construction if same is not None else True


def _curve(id_: str, piece: Flat, construction: bool, link: str) -> list[Entity]:
    from ..kernel.measure.project import Free, Oval, Round, Straight

    points: list[Entity] = []

    def point(name: str, xy: tuple[float, float]) -> str:
        points.append(Point(f"{id_}.{name}", *xy))
        return f"{id_}.{name}"

    made: Entity
    if isinstance(piece, Straight):
        made = Line(id_, point("a", piece.start), point("b", piece.end), construction, link)
    elif isinstance(piece, Oval):
        made = Ellipse(id_, point("c", piece.center), point("a", piece.end), piece.other, construction, link)
    elif isinstance(piece, Free):
        through = tuple(point(f"p{n}", xy) for n, xy in enumerate(piece.places))
        made = Spline(id_, through, construction=construction, link=link)
    elif isinstance(piece, Round) and math.dist(piece.start, piece.end) < ONE_PLACE:
        made = Circle(id_, point("c", piece.center), piece.radius, construction, link)
    else:
        assert isinstance(piece, Round)
        ends = point("c", piece.center), point("a", piece.start), point("b", piece.end)
        made = Arc(id_, *ends, construction, link)
    return [*points, made]


def _same(new: list[Entity], old: list[Entity]) -> bool:
    """Whether two lists of projected elements are the same within what the kernel rounds; outlines stay as toggled."""
    if [(type(e), e.id) for e in new] != [(type(e), e.id) for e in old]:
        return False
    for a, b in zip(new, old, strict=True):
        if getattr(a, "link", "") != getattr(b, "link", ""):
            return False
        for field in ("x", "y", "radius", "minor"):
            if abs(getattr(a, field, 0.0) - getattr(b, field, 0.0)) > 1e-7:
                return False
    return True
