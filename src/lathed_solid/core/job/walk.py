"""One walk over everything in a job that may name a callout: formulas of steps, sketches and notes, and nothing else.

Names, letters to be engraved and remarks are no formulas: a ``#`` in them is just a sign.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from ..formulas import formulas_in
from ..formulas import rewritten as formulas_rewritten
from ..names import callouts_in
from ..route.registry import Step, kind_of
from ..sketch.model import Sketch
from .model import Content


class Place(NamedTuple):
    """Where a formula stands: the route's name and the step, or the sketch, the callout, the family's member, or what
    is planned.
    """

    route: str = ""
    step: Step | None = None
    at: int = 0
    sketch: Sketch | None = None
    callout: int = 0
    member: str = ""
    plan: str = ""

    def words(self, content: Content) -> str:
        if self.callout:
            return f"callout {self.callout}"
        if self.member:
            return f"member “{self.member}” of the family"
        if self.plan:
            return f"the {self.plan}"
        if self.sketch is not None:
            return f"sketch “{self.sketch.name}”"
        assert self.step is not None
        name = f" {self.step.name}" if self.step.name else ""
        other = "" if self.route == content.routes[content.route].name else f" of route {self.route}"
        return f"step {10 * self.at}{name}{other}"


def formulas(content: Content) -> Iterator[tuple[Place, str]]:
    """Every formula of a job with its place, callouts first, then all routes, then the sketches."""
    for c in content.callouts:
        yield Place(callout=c.number), c.note
    for route in content.routes:
        for at, step in enumerate(route.steps, 1):
            for text in formulas_in(step):
                yield Place(route=route.name, step=step, at=at), text
    for sketch in content.sketches:
        for text in formulas_in(sketch):
            yield Place(sketch=sketch), text
    for member in content.family.members:
        for text in formulas_in(member):
            yield Place(member=member.name), text
    for plan, value in (("blank", content.blank), ("zero", content.zero)):
        for text in formulas_in(value):
            yield Place(plan=plan), text
    for number, sheet in enumerate(content.sheets, 1):
        for text in formulas_in(sheet):
            yield Place(plan=f"section on drawing sheet {number}"), text


def where_used(content: Content, number: int) -> list[str]:
    """Every place that refers to a callout, in words, each once."""
    found = (p.words(content) for p, text in formulas(content) if number in callouts_in(text))
    return list(dict.fromkeys(found))


def uses(content: Content, number: int) -> int:
    """How many formulas refer to a callout; a step may do so with several of its fields."""
    return sum(number in callouts_in(text) for _, text in formulas(content))


def used_in_route(content: Content, built: set[str]) -> dict[int, str]:
    """Callouts that built steps of the present route use, themselves or in their sketches: number to step in words."""
    found: dict[int, str] = {}
    sketches = {s.id: s for s in content.sketches}
    for at, step in enumerate(content.steps, 1):
        if step.id not in built:
            continue
        words = f"step {10 * at}" + (f" {step.name}" if step.name else "")
        texts = list(formulas_in(step))
        for param in kind_of(step).params:
            if param.want == "sketch" and (sketch := sketches.get(getattr(step, param.field))):
                texts += formulas_in(sketch)
        for text in texts:
            for number in callouts_in(text):
                found.setdefault(number, words)
    return found


# --- rewriting
def rewritten(content: Content, change: Callable[[str], str]) -> Content:
    """Every formula changed by ``change``; numbers of balloons, bindings and the like are the caller's."""
    return formulas_rewritten(content, change)
