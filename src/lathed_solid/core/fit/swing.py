"""Showing how a part moves: taken along one of its free ways, a little at a time, all else following as it must."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import numpy as np

from ..arrays import Floats
from .freedom import Freedoms, Motion, freedoms
from .model import Assembly
from .poses import Poses
from .solving import newton, solved, wrong_sides
from .statement import Statement
from .stops import beyond

#: A turn is shown in so many steps; a slide goes this share of the part's size to either side in as many.
_STEPS, _SHARE = 36, 0.6
#: A turn and its arm (mm) in a twist.
_ARM = 20.0


def swing(
    assembly: Assembly, instance: str, way: int, going: Callable[[], object] = lambda: None
) -> tuple[Assembly, ...]:
    """The assembly while an instance goes its free way of that number (see ``Freedom.motions``): a whole turn, or
    forth and back as far as it goes. Empty when it cannot. Raises Refusal, and what ``going`` raises.
    """
    found = solved(assembly)
    statement, body = found.statement, found.statement.instances.index(instance)
    free = freedoms(statement, found.state)
    motions = free.each[body].motions
    if not 0 <= way < len(motions):
        return ()
    motion = motions[way]
    turns = motion.way != "slides"
    reach = 2 * math.pi if turns else _SHARE * 2 * float(statement.reach[body])
    there = list(_run(statement, found.state, body, motion, reach, going))
    whole = motion.way == "turns" and len(there) == _STEPS
    states = there if whole else [*there, *reversed(there[:-1]), found.state]
    return tuple(statement.taken(assembly, s) for s in states)


def _run(
    statement: Statement, state: Poses, body: int, motion: Motion, reach: float, going: Callable[[], object]
) -> Iterator[Poses]:
    """States along a way, as far as it goes."""
    bodies = statement.bodies()
    engine = newton(bodies)
    wanted = motion.twist * reach / _STEPS
    for _ in range(_STEPS):
        going()
        free = freedoms(statement, state)
        step = _step(statement, state, free, body, wanted)
        if step is None:
            return
        made = engine.nearest(bodies.move(state, step))
        if made is None or wrong_sides(statement, made) or beyond(statement, made):
            return
        yield made
        state = made


def _step(statement: Statement, state: Poses, free: Freedoms, body: int, wanted: Floats) -> Floats | None:
    """The move of all bodies in which one goes as wanted against what it hangs on, the others as little as they must;
    None when it does not go that way any more.
    """
    parent = free.each[body].parent
    own = free.twist(body) - (free.twist(statement.instances.index(parent)) if parent else 0.0)
    share = np.linalg.lstsq(own, wanted, rcond=1e-7)[0]
    if float(np.linalg.norm(own @ share - wanted)) > 0.2 * float(np.linalg.norm(wanted)):
        return None
    moving = statement.bodies().moving
    twists = np.array([free.twist(int(k)) @ share for k in moving])
    turning = twists[:, 3:] / _ARM
    moves = twists[:, :3] + np.cross(turning, state.places[moving])
    return np.hstack([moves, turning * statement.reach[moving][:, None]]).ravel()
