"""A route rewritten as half of the part and its mirror, and back; what comes is held against the solid it came from."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from typing import Literal, NamedTuple

import msgspec

from ...formulas import formulas_in
from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import dot
from ...names import callouts_in
from ...plan.carriers import alone
from ...plan.symmetry import symmetries
from ...quantity import Style, evaluate
from ...refusal import Refusal
from ...route.drilling.model import Hole
from ...route.planes import MAIN_NORMALS, Base
from ...route.rebuild import Cache, RouteResult, rebuild
from ...route.registry import Step, called
from ...route.settling import dimension_values
from ...route.steps.bodies import Split
from ...route.steps.extrude import Extrude
from ...route.steps.mirror import Mirror
from ...sketch.edit.copying import mirror as mirrored_over
from ...sketch.explain import finish
from ...sketch.make.draw import Spot, add_line, add_point, delete
from ...sketch.model import ACROSS, ALONG, Dimension, Point, Sketch
from ...tolerance import LEVEL
from .. import edits
from ..attachments import Store
from ..model import Content, fresh_id
from ..operating import Faces, faces_of
from ..routes import SAME_VOLUME
from ..settle import settle

_ONE = 1e-4


class _Plane(NamedTuple):
    """A main plane at an offset (mm, and as it is written)."""

    base: Base
    offset: float
    text: str

    @property
    def normal(self) -> Vector:
        return MAIN_NORMALS[self.base]


class _Solid(NamedTuple):
    volume: float
    faces: Faces
    result: RouteResult


# --- what is compared
def _built(content: Content, cache: Cache, store: Store | None, until: str = "") -> _Solid:
    """Raises EditRefused with the step that fails."""
    result = rebuild(content.plan(store.find if store else None), cache, until=until)
    failed = next((r for r in result.reports if r.state == "failed"), None)
    if failed is not None:
        raise edits.EditRefused(f"“{called(content.step(failed.id))}” could not be built: {failed.message}")
    if result.body is None:
        raise edits.EditRefused("This route gives no solid. Shape the part first.")
    return _Solid(result.body.volume, faces_of(result.body), result)


def _apart(one: _Solid, other: _Solid, style: Style) -> str:
    """How two solids differ, in words; empty when they are the same."""
    more = other.volume - one.volume
    if abs(more) > SAME_VOLUME * one.volume:
        return f"it would have {style.volume(abs(more))} {'more' if more > 0 else 'less'} material"
    off = [*alone(one.faces.surfaces, other.faces.surfaces), *alone(other.faces.surfaces, one.faces.surfaces)]
    return f"{len(off)} of its faces would lie elsewhere" if off else ""


# --- half and mirror
def halved(
    content: Content, cache: Cache | None = None, store: Store | None = None, about: Base | Literal[""] = ""
) -> Content:
    """A route of its own that makes half of the part and mirrors it: up to where the present one is alike on both sides
    of a main plane; what breaks that comes after. The other half is cut away as early as the same part comes of it.
    Raises EditRefused.
    """
    cache, why = cache or Cache(), ""
    was = _built(content, cache, store)
    at, plane = _alike_until(content, was, cache, store, about)
    copy = edits.copy_route(content)
    for early in range(1, at + 1):
        try:
            made = _half(copy, early, at, plane, was)
            if not (apart := _apart(was, _built(made, cache, store), made.header.style)):
                return made
            why = f"Half of it and a mirror give another part: {apart}."
        except Refusal as error:
            why = error.message
    raise edits.EditRefused(f"{why} Nothing was changed.")


def _half(content: Content, early: int, at: int, plane: _Plane, was: _Solid) -> Content:
    """The route with half of it cut away after ``early`` steps, and mirrored after ``at``."""
    steps, body = list(content.steps), next((s.id for s in content.steps if s.id in was.result.bodies), "")
    for k, step in enumerate(steps[:at]):
        if isinstance(step, Hole) and step.placement == "sketch":
            content, steps[k] = _half_the_points(content, step, plane, was.result)
    content, split = edits.new_step_id(content)
    content, other = edits.new_step_id(content)
    half = Split(id=split, name="Half", by=plane.base, offset=plane.text, keep="back", body=body)
    whole = Mirror(id=other, name="Other half", of_bodies=(body,), about=plane.base, offset=plane.text, joined="joined")
    return settle(edits.set_steps(content, (*steps[:early], half, *steps[early:at], whole, *steps[at:]))).content


def _alike_until(
    content: Content, was: _Solid, cache: Cache, store: Store | None, about: Base | Literal[""]
) -> tuple[int, _Plane]:
    """After how many steps the part is last alike on both sides of a main plane that lies ``about``, and which."""
    for at in range(len(content.steps), 0, -1):
        step = content.steps[at - 1]
        if step.suppressed:
            continue
        solid = was if at == len(content.steps) else _built(content, cache, store, step.id)
        if len(solid.result.bodies) != 1:
            continue
        found = (_as_plane(s.place, s.way, content) for s in symmetries(solid.faces.surfaces) if _is_exact(s))
        new = (p for p in found if p is not None and not _is_mirrored(content, p))
        plane = next((p for p in new if about in ("", p.base)), None)
        if plane is not None:
            return at, plane
    raise edits.EditRefused(
        "The part is nowhere alike on both sides of a main plane, at no step of this route. "
        "Strategy tells what breaks it."
    )


def _is_mirrored(content: Content, plane: _Plane) -> bool:
    """Whether the route mirrors about a plane already: what is halved twice becomes a quarter."""
    ledger = content.ledger()
    return any(
        s.about == plane.base and abs(evaluate(s.offset or "0", ledger) - plane.offset) < _ONE
        for s in content.steps
        if isinstance(s, Mirror) and s.makes_whole and not s.suppressed
    )


def _is_exact(symmetry: object) -> bool:
    return getattr(symmetry, "order", 0) == 1 and getattr(symmetry, "state", "") == "exact"


def _as_plane(place: Vector, way: Vector, content: Content) -> _Plane | None:
    """A mirror plane as a main one; its offset as half of a callout, where one says so."""
    for base, normal in MAIN_NORMALS.items():
        if abs(dot(way, normal)) > 1 - LEVEL:
            offset = dot(place, normal)
            return _Plane(base, offset, _written(offset, content))
    return None


def _written(offset: float, content: Content) -> str:
    ledger = content.ledger()
    for number in ledger.callouts:
        if ledger.error(number) is None and ledger.reading(number).shape == "length":
            nominal = ledger.reading(number).main.nominal
            if abs(nominal - 2 * abs(offset)) < _ONE and abs(offset) > _ONE:
                return f"{'-' if offset < 0 else ''}#{number}/2"
    text = Style(content.header.units, 6).length(offset)
    return "0" if text in ("-0", "") else text


def _half_the_points(content: Content, step: Hole, plane: _Plane, result: RouteResult) -> tuple[Content, Hole]:
    """A step whose holes beyond the plane are left out, where each of them has its image on this side."""
    sketch = content.sketch(step.sketch)
    places = _places(sketch, result)
    loose = [e for e in sketch.entities if isinstance(e, Point)]
    if places is None or len(loose) != len(sketch.entities):
        return content, step
    height = {p.id: dot(places[p.id], plane.normal) - plane.offset for p in loose}
    beyond = [i for i, h in height.items() if h > _ONE]
    near = [i for i, h in height.items() if h < -_ONE]
    if not beyond or not all(_has_image(i, near, places, height, plane) for i in beyond):
        return content, step
    return _with_sketch(content, step, _pinned(_without(sketch, beyond, near), content, _stated(sketch, content)))


def _without(sketch: Sketch, beyond: Sequence[str], near: Sequence[str]) -> Sketch:
    """Without the points beyond. Where that breaks up a repeat, its other points stand by themselves from now on."""
    made = delete(sketch, beyond)
    left = {e.id for e in made.entities}
    for at in (sketch.points()[i] for i in near if i not in left):
        made, _ = add_point(made, Spot(at.x, at.y))
    return made


def _places(sketch: Sketch, result: RouteResult) -> dict[str, Vector] | None:
    shadow = result.shadows.get(sketch.id)
    if shadow is None:
        return None
    return {id_: shadow.frame.at(p.x, p.y) for id_, p in sketch.points().items()}


def _has_image(
    point: str, near: Sequence[str], places: dict[str, Vector], height: dict[str, float], plane: _Plane
) -> bool:
    here, up = places[point], 2 * height[point]
    image = tuple(c - up * n for c, n in zip(here, plane.normal, strict=True))
    return any(math.dist(image, places[i]) < _ONE for i in near)


# --- whole again
def made_whole(content: Content, cache: Cache | None = None, store: Store | None = None) -> Content:
    """A route of its own without the mirror and without the step that cut the half away; points of holes made in the
    half get their images. Raises EditRefused.
    """
    cache = cache or Cache()
    was = _built(content, cache, store)
    at = _mirror_at(content.steps)
    mirror, before, after = content.steps[at], content.steps[:at], content.steps[at + 1 :]
    assert isinstance(mirror, Mirror)
    plane = _Plane(mirror.about, evaluate(mirror.offset or "0", content.ledger()), mirror.offset or "0")  # type: ignore[arg-type]
    copy, why = edits.copy_route(content), ""
    for cut in _halving(before):
        rest = tuple(s for s in before if s is not cut)
        for with_images in (False, True):
            try:
                made = _whole(copy, rest, after, plane if with_images else None, was.result)
                apart = _apart(was, _built(made, cache, store), content.header.style)
            except Refusal as error:
                why = why or error.message
                continue
            if not apart:
                return made
            why = why or apart
    raise edits.EditRefused(
        f"No step before the mirror can be left out so that the same part comes ({why or 'none cuts a half away'}). "
        "When its first outline is itself half of the part, draw that whole."
    )


def _mirror_at(steps: Sequence[Step]) -> int:
    for at in range(len(steps) - 1, -1, -1):
        step = steps[at]
        if isinstance(step, Mirror) and step.makes_whole and not step.suppressed:
            return at
    raise edits.EditRefused("This route has no mirror of a whole body about a main plane: it is no half and mirror.")


def _halving(before: Sequence[Step]) -> Iterator[Step]:
    """Steps that may have cut the half away, the last first."""
    for step in reversed(before):
        parts = isinstance(step, Split) and step.keep != "both"
        if parts or (isinstance(step, Extrude) and step.mode == "cut"):
            yield step


def _whole(
    content: Content, before: Iterable[Step], after: Sequence[Step], plane: _Plane | None, result: RouteResult
) -> Content:
    steps = list(before)
    for k, step in enumerate(steps):
        if plane is not None and isinstance(step, Hole) and step.placement == "sketch":
            content, steps[k] = _with_images(content, step, plane, result)
    return settle(edits.set_steps(content, (*steps, *after))).content


def _with_images(content: Content, step: Hole, plane: _Plane, result: RouteResult) -> tuple[Content, Hole]:
    sketch, shadow = content.sketch(step.sketch), result.shadows.get(step.sketch)
    if shadow is None:
        return content, step
    frame = shadow.frame
    across, up = dot(plane.normal, frame.x), dot(plane.normal, frame.y)
    level = plane.offset - dot(plane.normal, frame.origin)
    points = tuple(e.id for e in sketch.entities if isinstance(e, Point))
    off = {i: across * p.x + up * p.y - level for i, p in sketch.points().items() if i in points}
    if max(abs(across), abs(up)) < 1 - LEVEL or not points or all(abs(v) < _ONE for v in off.values()):
        return content, step
    known = [(abs(plane.offset), plane.text.lstrip("-")), *_stated(sketch, content)]
    sketch, line = _line(
        sketch, level / (across or 1.0) if abs(across) > abs(up) else level / up, abs(across) > abs(up)
    )
    sketch, _ = mirrored_over(sketch, points, line, linked=True)
    return _with_sketch(content, step, _pinned(sketch, content, known))


def _line(sketch: Sketch, at: float, is_upright: bool) -> tuple[Sketch, str]:
    """The line to mirror about; an axis of the sketch where it is one."""
    if abs(at) < _ONE:
        return sketch, ACROSS if is_upright else ALONG
    reach = max([abs(c) for p in sketch.points().values() for c in (p.x, p.y)], default=10.0) or 10.0
    ends = (Spot(at, -reach), Spot(at, reach)) if is_upright else (Spot(-reach, at), Spot(reach, at))
    return add_line(sketch, *ends, construction=True)


def _pinned(sketch: Sketch, content: Content, known: Sequence[tuple[float, str]]) -> Sketch:
    """Every size that is still open written down; one that is ``known``, as it is written there."""
    sketch = finish.accept(sketch, [r.id for r in sketch.relations])
    for pin in finish.pins(sketch, dimension_values(sketch, content.ledger())):
        same = {text for value, text in known if isinstance(pin.item, Dimension) and abs(pin.value - value) < _ONE}
        text = same.pop() if len(same) == 1 else Style(content.header.units, 6).length(pin.value)
        sketch = finish.with_pin(sketch, pin, text)
    return sketch


def _stated(sketch: Sketch, content: Content) -> list[tuple[float, str]]:
    """The lengths that callouts of a sketch state, and their halves (mm, and as they are written)."""
    ledger, found = content.ledger(), []
    for number in sorted({n for text in formulas_in(sketch) for n in callouts_in(text)}):
        if ledger.error(number) is None and ledger.reading(number).shape == "length":
            nominal = ledger.reading(number).main.nominal
            found += [(nominal, f"#{number}"), (nominal / 2, f"#{number}/2")]
    return found


def _with_sketch(content: Content, step: Hole, sketch: Sketch) -> tuple[Content, Hole]:
    """The step on a sketch of its own: the other routes keep theirs."""
    new = fresh_id({s.id for s in content.sketches}, "k")
    made = msgspec.structs.replace(sketch, id=new, name=f"{sketch.name}, rewritten")
    content = msgspec.structs.replace(content, sketches=(*content.sketches, made))
    return content, msgspec.structs.replace(step, sketch=new)
