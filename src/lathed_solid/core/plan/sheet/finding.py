"""All operations that a built part asks for, in the order of the trade."""

from __future__ import annotations

from ...kernel.ground.figures import Surface
from ..spindle import spindle_of
from .holes import drilling
from .lathe import turning
from .mill import milling, squared
from .work import ORDER, Built, Operation


def operations(built: Built) -> tuple[Operation, ...]:
    """Each face belongs to one cut, or to several of one hole; what comes as bought (the blank's own) to none."""
    spindle = spindle_of(built.surfaces) if built.turned else None
    axis = (spindle.foot, spindle.way) if spindle is not None else None
    drilled = {m.id: drilling(built, m, built.made_by(m.id), axis) for m in built.steps if m.kind == "Hole"}
    found = [o for cuts in drilled.values() for o in cuts]
    done = {f for o in found for f in o.faces}
    first = turning(built, done) if built.turned else squared(built)
    done |= {f for o in first for f in o.faces}
    for made in built.steps:
        if made.kind == "Stock":
            continue
        left: list[Surface] = [s for s in built.made_by(made.id) if s.index not in done]
        if left and built.turned and made.kind == "Revolve":
            first = _with_rest(first, left)
        elif left:
            found += milling(built, made, left)
    return tuple(sorted([*first, *found], key=lambda o: ORDER.index(o.kind)))


def _with_rest(turned: list[Operation], left: list[Surface]) -> list[Operation]:
    """What a turned profile has besides, free faces and cut-up ones, comes with what is turned from the same end."""
    at = next((k for k, o in enumerate(turned) if o.kind == "turn"), None)
    if at is None:
        return turned
    made = turned[at]._replace(faces=(*turned[at].faces, *(s.index for s in left)))
    return [*turned[:at], made, *turned[at + 1 :]]
