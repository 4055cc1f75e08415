"""The routes of one part side by side: what each takes and gives, and where they disagree.

Bodies are compared by their figures, never by cutting one from the other: the kernel's cut of two bodies that were
built independently can be wrong without saying so.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping

import msgspec

from ..plan.carriers import alone
from ..prove.proof import Mark
from ..quantity import Style
from ..route.rebuild import Cache, RouteResult
from . import edits
from .attachments import Store
from .model import Content, NotThere
from .operating import Faces, faces_of
from .proving import Shown, build_and_prove
from .walk import used_in_route

#: Relative differences of volume, and of surface and place, above which two bodies are not the same.
SAME_VOLUME, SAME_LIE = 1e-6, 1e-5


class RouteSize(msgspec.Struct, frozen=True):
    """What a route states: the sketches its steps use with their relations and sizes, how many callouts it uses, and
    the bytes it takes of the file.
    """

    sketches: int = 0
    relations: int = 0
    sizes: int = 0
    callouts: int = 0
    bytes_: int = 0


class RouteFigures(msgspec.Struct, frozen=True):
    """One route built and proved. ``seconds`` is the time its steps took when they were built; ``volume`` (mm³),
    ``area`` (mm²), ``grams`` and ``center`` (mm) are of all its bodies, None when it gives no solid; ``marks`` the mark
    of each callout. ``turns`` is how often the direction of work changes from step to step. ``alone`` has, by the name
    of another route, the faces (as references) on whose surface that one has nothing.
    """

    name: str
    steps: int
    failed: int
    seconds: float
    volume: float | None = None
    area: float = 0.0
    grams: float = 0.0
    center: tuple[float, float, float] = (0.0, 0.0, 0.0)
    marks: dict[int, Mark] = {}
    turns: int = 0
    takes: RouteSize = RouteSize()
    alone: dict[str, tuple[str, ...]] = {}

    def count(self, mark: Mark) -> int:
        return sum(m == mark for m in self.marks.values())


def named_route(content: Content, name: str) -> Content:
    """The content working on the route of this name. Raises NotThere naming those there are."""
    for at, route in enumerate(content.routes):
        if route.name.casefold() == name.casefold():
            return edits.take_route(content, at)
    there = ", ".join(r.name for r in content.routes)
    raise NotThere(f"There is no route {name}. The part has {there}.")


def compare_routes(
    content: Content, cache: Cache | None = None, store: Store | None = None
) -> tuple[RouteFigures, ...]:
    """Build and prove every route."""
    cache, found, faces = cache or Cache(), [], {}
    for at, route in enumerate(content.routes):
        taken = edits.take_route(content, at)
        shown = build_and_prove(taken, cache, store=store)
        found.append(_figures(taken, shown))
        if shown.result.body is not None:
            faces[route.name] = faces_of(shown.result.body)
    return tuple(msgspec.structs.replace(f, alone=_alone(f.name, faces)) for f in found)


def _alone(name: str, faces: Mapping[str, Faces]) -> dict[str, tuple[str, ...]]:
    """By route, the faces of this one that lie where that has none."""
    if name not in faces:
        return {}
    called = {s.index: r for s, r in zip(faces[name].surfaces, faces[name].references, strict=True)}
    others = {other: alone(faces[name].surfaces, its.surfaces) for other, its in faces.items() if other != name}
    return {other: tuple(called[i] for i in indices) for other, indices in others.items() if indices}


def _figures(content: Content, shown: Shown) -> RouteFigures:
    reports = shown.result.reports
    begun = RouteFigures(
        content.routes[content.route].name,
        len(content.steps),
        sum(r.state == "failed" for r in reports),
        sum(r.seconds for r in reports if r.state == "done"),
        turns=_turns(content, shown.result),
        takes=_size(content, {r.id for r in reports if r.state == "done"}),
    )
    if (proof := shown.proof) is None:
        return begun
    return msgspec.structs.replace(
        begun,
        volume=proof.mass.volume,
        area=proof.mass.area,
        grams=proof.grams,
        center=proof.mass.center,
        marks={c.number: proof.mark_of(c.number) for c in content.callouts},
    )


def _size(content: Content, built: set[str]) -> RouteSize:
    ids = {id_ for step in content.steps for id_ in edits.sketches_of(step)}
    sketches = [s for s in content.sketches if s.id in ids]
    return RouteSize(
        len(sketches),
        sum(len(s.relations) for s in sketches),
        sum(len(s.dimensions) for s in sketches),
        len(used_in_route(content, built)),
        len(msgspec.json.encode((content.steps, sketches))),
    )


def _turns(content: Content, result: RouteResult) -> int:
    """How often a step is worked from another side than the one before it."""
    sides = []
    for step in content.steps:
        own = [f for key, f in result.frames.items() if key in (f"{step.id}/frame", f"{step.id}/0/from")]
        if own:
            sides.append(tuple(round(c, 6) + 0.0 for c in own[0].normal))
    return sum(a != b for a, b in itertools.pairwise(sides))


def disagreements(found: tuple[RouteFigures, ...], style: Style) -> list[str]:
    """What differs from the first route that gives a solid, in words; empty when all make the same part."""
    solid = [f for f in found if f.volume is not None]
    words = [f"Route {f.name} gives no solid." for f in found if f.volume is None]
    words += [f"Route {f.name}: {f.failed} of its {f.steps} steps failed." for f in solid if f.failed]
    for other in solid[1:]:
        words += _apart(solid[0], other, style)
    return words


def _apart(one: RouteFigures, other: RouteFigures, style: Style) -> list[str]:
    assert one.volume is not None
    assert other.volume is not None
    words, more, apart = [], other.volume - one.volume, math.dist(one.center, other.center)
    if abs(more) > SAME_VOLUME * one.volume:
        how = "more" if more > 0 else "less"
        words.append(f"Route {other.name} has {style.volume(abs(more))} {how} material than route {one.name}.")
    elif abs(other.area / one.area - 1) > SAME_LIE or apart > SAME_LIE * math.sqrt(one.area):
        words.append(f"Routes {one.name} and {other.name} weigh the same, but their material does not lie alike.")
    for number, mark in one.marks.items():
        if (there := other.marks.get(number, "open")) != mark:
            words.append(
                f"Callout {number} is {_SAID[mark]} on route {one.name}, {_SAID[there]} on route {other.name}."
            )
    return words


_SAID: dict[Mark, str] = {"in": "in limits", "near": "near a limit", "out": "out of limits", "open": "open"}
