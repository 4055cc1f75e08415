"""One walk over everything in a job that may name a callout: formulas of steps, sketches and notes, and nothing else.

Names, letters to be engraved and remarks are no formulas: a ``#`` in them is just a sign.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any, NamedTuple

import msgspec

from ..callout import Callout
from ..quantity import references
from ..route.registry import Step, kind_of
from ..sketch.model import Sketch, Station
from .model import Content


class Place(NamedTuple):
    """Where a formula stands: the route's name and the step, or the sketch, or the callout."""

    route: str = ""
    step: Step | None = None
    at: int = 0
    sketch: Sketch | None = None
    callout: int = 0

    def words(self, content: Content) -> str:
        if self.callout:
            return f"callout {self.callout}"
        if self.sketch is not None:
            return f"sketch “{self.sketch.name}”"
        assert self.step is not None
        name = f" {self.step.name}" if self.step.name else ""
        other = "" if self.route == content.routes[content.route].name else f" of route {self.route}"
        return f"step {10 * self.at}{name}{other}"


def step_formulas(step: Step) -> Iterator[str]:
    """The texts of a step that are worked out as numbers."""
    for param in kind_of(step).params:
        if param.is_formula or param.formulas:
            yield getattr(step, param.field)


def sketch_formulas(sketch: Sketch) -> Iterator[str]:
    yield from (sketch.plane.offset, sketch.plane.angle)
    yield from (d.text for d in sketch.dimensions)
    for repeat in sketch.repeats:
        yield from (repeat.count, repeat.count2)
    for station in sketch.stations or ():
        yield from (getattr(station, f) for f in _cells(station))


def _cells(station: Station) -> tuple[str, ...]:
    return tuple(f for f in station.__struct_fields__ if f != "id")


def formulas(content: Content) -> Iterator[tuple[Place, str]]:
    """Every formula of a job with its place, callouts first, then all routes, then the sketches."""
    for c in content.callouts:
        yield Place(callout=c.number), c.note
    for route in content.routes:
        for at, step in enumerate(route.steps, 1):
            for text in step_formulas(step):
                yield Place(route=route.name, step=step, at=at), text
    for sketch in content.sketches:
        for text in sketch_formulas(sketch):
            yield Place(sketch=sketch), text


def where_used(content: Content, number: int) -> list[str]:
    """Every place that refers to a callout, in words, each once."""
    found = (p.words(content) for p, text in formulas(content) if number in references(text))
    return list(dict.fromkeys(found))


def used_in_route(content: Content, built: set[str]) -> dict[int, str]:
    """Callouts that built steps of the present route use, themselves or in their sketches: number to step in words."""
    found: dict[int, str] = {}
    sketches = {s.id: s for s in content.sketches}
    for at, step in enumerate(content.steps, 1):
        if step.id not in built:
            continue
        words = f"step {10 * at}" + (f" {step.name}" if step.name else "")
        texts = list(step_formulas(step))
        for param in kind_of(step).params:
            if param.want == "sketch" and (sketch := sketches.get(getattr(step, param.field))):
                texts += sketch_formulas(sketch)
        for text in texts:
            for number in references(text):
                found.setdefault(number, words)
    return found


# --- rewriting
def rewritten(content: Content, change: Callable[[str], str]) -> Content:
    """Every formula changed by ``change``; numbers of balloons, bindings and the like are the caller's."""
    return msgspec.structs.replace(
        content,
        callouts=tuple(_with(c, {"note": change(c.note)}) for c in content.callouts),
        routes=tuple(
            msgspec.structs.replace(r, steps=tuple(_step(s, change) for s in r.steps)) for r in content.routes
        ),
        sketches=tuple(_sketch(s, change) for s in content.sketches),
    )


def _with(item: Callout | Any, fields: Mapping[str, Any]) -> Any:
    """The very same struct when nothing differs: what is kept with it stays."""
    changed = {f: v for f, v in fields.items() if getattr(item, f) != v}
    return msgspec.structs.replace(item, **changed) if changed else item


def _step(step: Step, change: Callable[[str], str]) -> Step:
    fields = {p.field: change(getattr(step, p.field)) for p in kind_of(step).params if p.is_formula or p.formulas}
    return _with(step, fields)  # type: ignore[no-any-return]


def _sketch(sketch: Sketch, change: Callable[[str], str]) -> Sketch:
    plane = _with(sketch.plane, {"offset": change(sketch.plane.offset), "angle": change(sketch.plane.angle)})
    stations = sketch.stations
    if stations is not None:
        stations = tuple(_with(s, {f: change(getattr(s, f)) for f in _cells(s)}) for s in stations)
    fields = {
        "plane": plane,
        "dimensions": tuple(_with(d, {"text": change(d.text)}) for d in sketch.dimensions),
        "repeats": tuple(_with(r, {"count": change(r.count), "count2": change(r.count2)}) for r in sketch.repeats),
        "stations": stations,
    }
    return _with(sketch, fields)  # type: ignore[no-any-return]
