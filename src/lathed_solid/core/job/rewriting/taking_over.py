"""Steps of one route taken over onto another: what they refer to is found on the other solid by where it lies."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

import msgspec

from ...kernel.ground.figures import Surface
from ...names import bare, piece_of, with_piece
from ...plan.carriers import partner
from ...plan.zero import finder
from ...quantity import Style
from ...route.model import EdgeRef, FaceRef
from ...route.rebuild import Cache, rebuild
from ...route.registry import Step, called, kind_of
from ...sketch.model import Arc, Circle, Ellipse, Line, Plane, Projected, Sketch, Spline
from .. import edits
from ..attachments import Store
from ..model import Content, fresh_id
from ..operating import Faces, faces_of

_LINKED = (Line, Circle, Arc, Ellipse, Spline)


class _Lost(Exception):
    """Something that the present route has not got: in words."""


class _Move(NamedTuple):
    """What a name means on the present route: ``own`` are the steps that stay behind, with what they are called,
    ``both`` those of them that the present route has as well, ``ids`` the new names of those taken over, ``there``
    finds a face of the old solid, ``here`` are the present solid's.
    """

    own: Mapping[str, str]
    both: frozenset[str]
    ids: Mapping[str, str]
    there: Any
    here: Faces
    by_index: Mapping[int, str]
    style: Style
    turned: bool

    def face(self, reference: str, was: str = "") -> str:
        """A reference as it is called on the present route. Raises _Lost."""
        name = bare(reference)
        if not name:
            return reference
        if name.partition("/")[0] not in self.own:
            piece = piece_of(reference)
            return with_piece(self._renamed(name), self._piece(piece)) if piece else self._renamed(name)
        found: Surface | None = self.there(reference)
        if found is None:
            raise _Lost(f"{was or 'a face'} that is not on the solid there any more")
        twin = partner(found, self.here.surfaces)
        if twin is None:
            raise _Lost(was or found.describe(self.style, self.turned))
        return self.by_index[twin.index]

    def _piece(self, piece: str) -> str:
        """What tells a piece of a name: a number stays, a neighbour is found like any other face."""
        return piece if piece.isdigit() else self.face(piece)

    def _renamed(self, name: str) -> str:
        return "/".join(self.ids.get(part, part) for part in name.split("/"))

    def step(self, id_: str) -> str:
        if id_ in self.own and id_ not in self.both:
            raise _Lost(f"“{self.own[id_]}”, which stays behind")
        return self.ids.get(id_, id_)

    def body(self, id_: str) -> str:
        """A body that one of the steps left behind began is the one worked on here."""
        first, *rest = id_.split("/")
        if first in self.both:
            return id_
        return "" if first in self.own else "/".join((self.ids.get(first, first), *rest))


def taken_over(
    content: Content, source: int, after: int, cache: Cache | None = None, store: Store | None = None
) -> Content:
    """The present route with the steps of route ``source`` after its first ``after`` at its end. Their faces are found
    on the present solid by where they lie. Raises EditRefused naming what is not there.
    """
    cache = cache or Cache()
    old = edits.take_route(content, source)
    kept, more = old.steps[:after], old.steps[after:]
    name = old.routes[source].name
    if source == content.route:
        raise edits.EditRefused("A route cannot take over its own steps. Choose another one.")
    if not kept or not more:
        raise edits.EditRefused(f"Route {name} has no steps before and after that one. Choose a step in between.")
    there, here = _built(old, kept[-1].id, cache, store), _built(content, "", cache, store)
    content, ids = _new_ids(content, more)
    by_index = {s.index: reference for s, reference in zip(here.surfaces, here.references, strict=True)}
    own = {s.id: called(s) for s in kept}
    both = own.keys() & {s.id for s in content.steps if s in kept}
    move = _Move(own, frozenset(both), ids, finder(*there), here, by_index, content.header.style, content.turned)
    sketches: dict[str, str] = {}
    lost: list[str] = []
    for step in more:
        try:
            content, made = _moved(content, step, move, sketches)
        except _Lost as error:
            lost.append(f"“{called(step)}” needs {error}")
            continue
        content = edits.add_step(content, made)
    if lost:
        raise edits.EditRefused(
            f"These steps of route {name} cannot be taken over, because the present part has not got what they stand "
            f"on: {'; '.join(lost[:4])}{' …' if len(lost) > 4 else ''}. Shape that first, or draw them here."
        )
    return content


def _built(content: Content, until: str, cache: Cache, store: Store | None) -> Faces:
    result = rebuild(content.plan(store.find if store else None), cache, until=until)
    failed = next((r for r in result.reports if r.state == "failed"), None)
    if result.body is None or failed is not None:
        name = content.routes[content.route].name
        raise edits.EditRefused(f"Route {name} gives no whole solid to find the faces on. Mend it first.")
    return faces_of(result.body)


def _new_ids(content: Content, steps: tuple[Step, ...]) -> tuple[Content, dict[str, str]]:
    """A step is called as it was where that is free here: what is bound to its faces stays bound."""
    ids, taken = {}, {s.id for s in content.steps}
    for step in steps:
        ids[step.id] = step.id
        if step.id in taken:
            content, ids[step.id] = edits.new_step_id(content)
    return content, ids


def _moved(content: Content, step: Step, move: _Move, sketches: dict[str, str]) -> tuple[Content, Step]:
    """A step as it is on the present route, with sketches of its own where those must differ. Raises _Lost."""
    fields: dict[str, Any] = {"id": move.ids[step.id], "body": move.body(step.body)}
    for param in kind_of(step).params:
        value = getattr(step, param.field)
        if param.want == "sketch" and value:
            content, fields[param.field] = _sketch(content, value, move, sketches)
        elif param.want == "steps":
            fields[param.field] = tuple(map(move.step, value))
        elif param.want == "bodies":
            fields[param.field] = tuple(filter(None, map(move.body, value)))
            if len(fields[param.field]) != len(value):
                raise _Lost("bodies of their own, which stay behind")
    made = msgspec.structs.replace(step, **fields)
    return content, _references(made, move)


def _references(value: Any, move: _Move) -> Any:
    """Every face and edge that a struct names, as it is called on the present route."""
    if isinstance(value, tuple):
        return tuple(_references(v, move) for v in value)
    if isinstance(value, FaceRef):
        return msgspec.structs.replace(value, name=move.face(value.name, value.was))
    if isinstance(value, EdgeRef):
        return msgspec.structs.replace(value, a=move.face(value.a, value.was), b=move.face(value.b, value.was))
    if isinstance(value, Plane):
        return msgspec.structs.replace(value, on=move.face(value.on), datum=move.face(value.datum))
    if isinstance(value, Projected) and value.mode != "sketch":
        return msgspec.structs.replace(value, a=move.face(value.a, value.was), b=move.face(value.b, value.was))
    if isinstance(value, _LINKED) and value.link:
        return msgspec.structs.replace(value, link=move.face(value.link))
    if isinstance(value, msgspec.Struct):
        fields = {f: getattr(value, f) for f in value.__struct_fields__}
        made = {f: _references(v, move) for f, v in fields.items() if isinstance(v, tuple | msgspec.Struct)}
        changed = {f: v for f, v in made.items() if v != fields[f]}
        return msgspec.structs.replace(value, **changed) if changed else value
    return value


def _sketch(content: Content, id_: str, move: _Move, sketches: dict[str, str]) -> tuple[Content, str]:
    """The sketch itself, or a copy of its own when it lies on or takes from faces that are called otherwise."""
    if id_ in sketches:
        return content, sketches[id_]
    sketch = content.sketch(id_)
    made: Sketch = _references(sketch, move)
    if made is not sketch and made != sketch:
        new = fresh_id({s.id for s in content.sketches}, "k")
        made = msgspec.structs.replace(made, id=new)
        content = msgspec.structs.replace(content, sketches=(*content.sketches, made))
        sketches[id_] = new
    else:
        sketches[id_] = id_
    return content, sketches[id_]
