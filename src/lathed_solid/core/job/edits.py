"""Edits: pure functions from content to content. An edit that cannot be made raises and changes nothing."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import Any

import msgspec

from ..callout import Callout, Place
from ..callout.model import Origin
from ..names import renumbered
from ..plan.sheet.model import OperationSheet
from ..prove.binding import Binding
from ..refusal import Refusal
from ..route.model import FaceRef, StepBase
from ..route.registry import Step, kind_of
from ..sketch.bounds import within_reach
from ..sketch.model import Plane, Sketch
from . import members, sheeting, walk
from .model import BodyLook, Chain, Content, FaceLook, Header, NotThere, Route, fresh_id

#: More decimals than these are no figures any more.
MOST_DECIMALS = 8


class EditRefused(Refusal):
    """An edit that would break the job; the text says why and what to do."""


def _with(content: Content, **changes: object) -> Content:
    return msgspec.structs.replace(content, **changes)


# --- title block
def set_header(content: Content, **fields: object) -> Content:
    return _with(content, header=msgspec.structs.replace(content.header, **fields))


def checked_header(header: Header) -> Header:
    """Raises EditRefused for a title block no part can have."""
    if not 0 < header.material.density < 1000:
        raise EditRefused("The density must be above zero, and below 1000 g/cm³.")
    if not 0 <= header.decimals <= MOST_DECIMALS:
        raise EditRefused(f"Figures have 0 to {MOST_DECIMALS} decimals.")
    stated = header.stated
    if not 0 < stated.tolerance <= 1:
        raise EditRefused("The tolerance of the stated figures is a share above 0 and up to 100 %.")
    if any(v is not None and not 0 < v < 1e15 for v in (stated.volume, stated.mass, stated.area, *stated.size)):
        raise EditRefused("A stated volume, mass, surface area or size is above zero.")
    if any(v is not None and not abs(v) < 1e6 for v in stated.center):
        raise EditRefused("A stated centre of mass lies within a kilometre of zero.")
    return header


# --- how bodies and faces look
def change_body(content: Content, id_: str, **fields: object) -> Content:
    """Say how a body is called, shown or made."""
    made = msgspec.structs.replace(content.body(id_), **fields)
    rest = tuple(b for b in content.bodies if b.id != id_)
    plain = made == BodyLook(id=id_)
    return _with(content, bodies=rest if plain else (*rest, made))


def change_faces(content: Content, which: Sequence[FaceRef], **fields: object) -> Content:
    """Say how single faces look; what is said of none of them any more is forgotten."""
    there = {f.face.name: f for f in content.faces}
    for face in which:
        there[face.name] = msgspec.structs.replace(there.get(face.name, FaceLook(face=face)), **fields)
    return _with(content, faces=tuple(f for f in there.values() if f.finish or f.color is not None))


# --- callouts
def add_callout(
    content: Content,
    note: str,
    label: str = "",
    origin: Origin = "drawing",
    place: Place | None = None,
    source: str = "",
) -> tuple[Content, int]:
    """A new balloon at the end of the sheet. Raises NoteError when the note cannot be read."""
    content.ledger().try_note(note)
    number = max(content.next_callout, max((c.number for c in content.callouts), default=0) + 1)
    made = Callout(number=number, note=note.strip(), label=label.strip(), origin=origin, place=place, source=source)
    return _with(content, callouts=(*content.callouts, made), next_callout=number + 1), number


def edit_callout(content: Content, number: int, note: str | None = None, label: str | None = None) -> Content:
    """Change a callout. Raises NoteError (the old one stays) or NotThere."""
    old = next((c for c in content.callouts if c.number == number), None)
    if old is None:
        raise NotThere(f"There is no callout #{number}.")
    made = msgspec.structs.replace(
        old, note=old.note if note is None else note.strip(), label=old.label if label is None else label.strip()
    )
    changed = _with(content, callouts=tuple(made if c.number == number else c for c in content.callouts))
    error = changed.ledger().error(number)
    if error is not None:
        raise error
    return changed


def move_callout(content: Content, number: int, to: int) -> Content:
    """Put a callout at place ``to`` (from 0) of the sheet; its number stays."""
    callouts = [c for c in content.callouts if c.number != number]
    moved = next(c for c in content.callouts if c.number == number)
    callouts.insert(max(0, min(to, len(callouts))), moved)
    return _with(content, callouts=tuple(callouts))


def delete_callout(content: Content, number: int, anyway: bool = False) -> Content:
    """Remove a callout. Raises EditRefused naming where it is used, unless ``anyway``."""
    used = walk.where_used(content, number)
    if used and not anyway:
        raise EditRefused(f"Callout {number} is used by {', '.join(used)}.")
    return _with(
        content,
        callouts=tuple(c for c in content.callouts if c.number != number),
        bindings=tuple(b for b in content.bindings if b.number != number),
        chains=tuple(c for c in content.chains if number != c.overall and number not in c.parts),
        logbook=tuple(msgspec.structs.replace(e, callout=None) if e.callout == number else e for e in content.logbook),
        family=members.without(content.family, number),
        sheets=sheeting.without(content.sheets, number),
    )


def renumber_callouts(content: Content) -> Content:
    """Number the balloons as they stand on the sheet; every formula follows."""
    numbers = {c.number: at for at, c in enumerate(content.callouts, 1)}

    content = walk.rewritten(content, lambda text: renumbered(text, numbers))
    callouts = tuple(msgspec.structs.replace(c, number=numbers[c.number]) for c in content.callouts)
    bindings = tuple(msgspec.structs.replace(b, number=numbers[b.number]) for b in content.bindings)
    chains = tuple(Chain(overall=numbers[c.overall], parts=tuple(numbers[n] for n in c.parts)) for c in content.chains)
    logbook = tuple(msgspec.structs.replace(e, callout=numbers.get(e.callout or 0)) for e in content.logbook)
    return _with(
        content,
        callouts=callouts,
        chains=chains,
        logbook=logbook,
        bindings=bindings,
        family=members.renumbered(content.family, numbers),
        sheets=sheeting.renumbered(content.sheets, numbers),
        next_callout=len(callouts) + 1,
    )


def bind(content: Content, binding: Binding) -> Content:
    """Bind a characteristic by hand; a former binding of it is replaced."""
    rest = tuple(b for b in content.bindings if (b.number, b.key) != (binding.number, binding.key))
    return _with(content, bindings=(*rest, binding))


# --- route
def set_steps(content: Content, steps: Sequence[Step]) -> Content:
    route = msgspec.structs.replace(content.routes[content.route], steps=tuple(steps))
    routes = tuple(route if i == content.route else r for i, r in enumerate(content.routes))
    return _with(content, routes=routes)


def take_route(content: Content, at: int) -> Content:
    """Work on another route of the part."""
    return _with(content, route=at)


def copy_route(content: Content) -> Content:
    """The present route once more, under the next free letter, to be changed without losing it."""
    return _added_route(content, content.steps, content.sheet)


def begin_route(content: Content) -> Content:
    """An empty route beside the others."""
    return _added_route(content, ())


def _added_route(content: Content, steps: tuple[Step, ...], sheet: OperationSheet | None = None) -> Content:
    taken = {r.name for r in content.routes}
    name = next(n for n in (*"ABCDEFGHJKLMNPQRSTUVWXYZ", f"{len(taken) + 1}") if n not in taken)
    return _with(
        content,
        routes=(*content.routes, Route(name=name, steps=steps, sheet=sheet or OperationSheet())),
        route=len(content.routes),
    )


def rename_route(content: Content, name: str) -> Content:
    """Raises EditRefused when another route has that name."""
    if any(r.name == name for i, r in enumerate(content.routes) if i != content.route):
        raise EditRefused(f"Another route is called “{name}”.")
    made = msgspec.structs.replace(content.routes[content.route], name=name)
    return _with(content, routes=tuple(made if i == content.route else r for i, r in enumerate(content.routes)))


def remove_route(content: Content) -> Content:
    """Take the present route out; the first one left is worked on. Raises EditRefused for the last one."""
    if len(content.routes) < 2:
        raise EditRefused("A part needs one route at least.")
    gone = content.steps
    kept = tuple(r for i, r in enumerate(content.routes) if i != content.route)
    content = _with(content, routes=kept, route=0)
    for sketch in dict.fromkeys(id_ for s in gone for id_ in sketches_of(s)):
        content = without_unused_sketch(content, sketch)
    return content


def new_step_id(content: Content) -> tuple[Content, str]:
    """The next free id, and the content that remembers it: ids are never used twice, also not those of removed steps,
    whose face names something may still refer to.
    """
    taken = {s.id for r in content.routes for s in r.steps}
    number = content.next_step
    while f"s{number}" in taken:
        number += 1
    return _with(content, next_step=number + 1), f"s{number}"


def add_step(content: Content, step: Step, at: int | None = None) -> Content:
    """Insert a step at place ``at`` (from 0), at the end by default."""
    steps = list(content.steps)
    steps.insert(len(steps) if at is None else at, step)
    return set_steps(content, steps)


def replace_step(content: Content, step: Step) -> Content:
    content.step(step.id)
    return set_steps(content, [step if s.id == step.id else s for s in content.steps])


def change_step(content: Content, id_: str, **fields: object) -> Content:
    return replace_step(content, msgspec.structs.replace(content.step(id_), **fields))


def move_step(content: Content, id_: str, to: int) -> Content:
    steps = [s for s in content.steps if s.id != id_]
    steps.insert(max(0, min(to, len(steps))), content.step(id_))
    return set_steps(content, steps)


def remove_step(content: Content, id_: str) -> Content:
    """Take a step out; its sketch goes with it when no other step uses it."""
    gone = content.step(id_)
    content = set_steps(content, [s for s in content.steps if s.id != id_])
    for sketch in sketches_of(gone):
        content = without_unused_sketch(content, sketch)
    return content


def sketches_of(step: Step) -> tuple[str, ...]:
    """The sketches a step is made of."""
    fields = (p.field for p in kind_of(step).params if p.want == "sketch")
    return tuple(id_ for f in fields if (id_ := getattr(step, f)))


def without_unused_sketch(content: Content, sketch: str) -> Content:
    """Without a sketch, unless some step still uses it, or another sketch its lines or a point on one of them."""
    used = {id_ for r in content.routes for s in r.steps for id_ in sketches_of(s)}
    pierced = {r.of[1].partition("/")[0] for s in content.sketches for r in s.relations if r.kind == "pierce"}
    lent = {p.a for s in content.sketches if s.id != sketch for p in s.projected if p.mode == "sketch"}
    if not sketch or sketch in used | pierced | lent:
        return content
    traces = tuple(t for t in content.traces if t.sketch != sketch)
    return _with(content, sketches=tuple(s for s in content.sketches if s.id != sketch), traces=traces)


def step_number(content: Content, id_: str) -> int:
    """10, 20, 30 … as on a route card."""
    return 10 * (1 + next(i for i, s in enumerate(content.steps) if s.id == id_))


# --- sketches
def add_sketch(content: Content, name: str, plane: Plane) -> tuple[Content, str]:
    """An empty sketch; one of a name that is taken gets a number to be told by."""
    id_, names = fresh_id({s.id for s in content.sketches}, "k"), {s.name for s in content.sketches}
    numbered = (f"{name} {n}" for n in itertools.count(2))
    name = name if name not in names else next(n for n in numbered if n not in names)
    return _with(content, sketches=(*content.sketches, Sketch(id=id_, name=name, plane=plane))), id_


def set_sketch(content: Content, sketch: Sketch) -> Content:
    """Raises SketchError for a sketch that reaches farther than any part."""
    if content.sketch(sketch.id) != sketch:
        within_reach(sketch)
    return _with(content, sketches=tuple(sketch if s.id == sketch.id else s for s in content.sketches))


def with_step(content: Content, make: type[StepBase], place: int | None = None, **fields: Any) -> tuple[Content, str]:
    """Add a step of a kind at a place of the route (from 0, the end by default); its id is returned."""
    content, id_ = new_step_id(content)
    return add_step(content, make(id=id_, **fields), place), id_
