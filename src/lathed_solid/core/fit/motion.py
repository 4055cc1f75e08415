"""Driving: one relation's number is taken through a range, everything else follows, and never to another solution.

Each step begins by repeating the last one's move (a parallelogram goes through its flat pose so), and is halved when
the sign of the determinant changes that the equations had, chosen anew after each step: another sign is another branch.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

import msgspec
import numpy as np
import scipy.linalg
from scipy.sparse import csc_matrix
from scipy.spatial.transform import Rotation

from ..arrays import Floats, Ints
from ..units import INCH
from .kinds import KINDS
from .model import Assembly, Relation
from .poses import Poses
from .solving import TOLERANCE, NotMet, newton, wrong_sides
from .statement import Statement, stated
from .stops import beyond
from .system import Bodies
from .values import value_of

#: A step in which any part turns more than this (radians) is halved: it may have gone another way.
_MOST = 0.7
#: A drive that does not get on by this share of its range has come to its end.
_LEAST = 1e-9
_STEPS = 15
#: A step that differs from the one before by less than this share of it goes on the same way.
_GOES_ON = 0.2


class Frame(NamedTuple):
    """One moment: the driven number (mm or radians) and the assembly as it stands then."""

    value: float
    assembly: Assembly


class Film(NamedTuple):
    """A drive: its frames, and why it ended before its goal (empty when it got there)."""

    frames: tuple[Frame, ...]
    ended: str = ""


class _Step(NamedTuple):
    statement: Statement
    state: Poses
    rows: Ints
    sign: float


def written(value: float, relation: Relation, unit: str) -> str:
    """A relation's number as it is typed: to be read back as the very same."""
    want = KINDS[relation.kind].value
    scaled = math.degrees(value) if want == "angle" else value / INCH if want == "length" and unit == "in" else value
    return f"{scaled:.15g}"


def with_value(assembly: Assembly, relation: str, value: float) -> Assembly:
    """The assembly with a relation saying another number; nothing has moved yet."""
    own = assembly.relation(relation)
    said = msgspec.structs.replace(own, value=written(value, own, assembly.unit))
    return msgspec.structs.replace(
        assembly, relations=tuple(said if r.id == relation else r for r in assembly.relations)
    )


def drive(
    assembly: Assembly, relation: str, values: Sequence[float], going: Callable[[], object] = lambda: None
) -> Film:
    """The assembly at each of the values in turn; it begins as it stands. Raises Refusal for a relation without a
    number, and what ``going`` raises.
    """
    now = value_of(assembly.relation(relation), assembly)
    if now is None:
        raise NotMet(0.0, (relation,))
    frames = [Frame(now, assembly)]
    for frame in _driven(assembly, relation, now, values):
        going()
        if frame is None:
            return Film(tuple(frames), "locked")
        frames.append(frame)
    return Film(tuple(frames[1:] if values and values[0] == now else frames))


def _driven(assembly: Assembly, relation: str, now: float, values: Sequence[float]) -> Iterator[Frame | None]:
    """Frames at the values; the last before None is as far as it goes."""
    here, pace = _at(assembly, relation, now), None
    for goal in values:
        share = 1.0
        first = now
        while now != goal:
            value = goal if share >= 1.0 else now + (goal - now) * share
            made = _stepped(assembly, relation, value, here, None if pace is None else pace * (value - now))
            if made is None:
                share *= 0.35
                if share * abs(goal - now) < _LEAST * max(1.0, abs(goal - first)):
                    if now != first:
                        yield Frame(now, here.statement.taken(with_value(assembly, relation, now), here.state))
                    yield None
                    return
                continue
            pace = _between(here, made) / (value - now)
            here, now, share = made, value, min(1.0, share * 2)
        yield Frame(goal, here.statement.taken(with_value(assembly, relation, goal), here.state))


def _at(assembly: Assembly, relation: str, value: float) -> _Step:
    statement = stated(with_value(assembly, relation, value))
    return _signed(statement, statement.bodies(), statement.start)


def _signed(statement: Statement, bodies: Bodies, state: Poses) -> _Step:
    """A state with rows of full rank chosen there, and the sign of their determinant."""
    rows = _full_rank(bodies, state)
    return _Step(statement, state, rows, _sign(bodies, state, rows))


def _jacobian(bodies: Bodies, state: Poses) -> Floats:
    _, data = bodies.evaluate(state)
    return np.asarray(csc_matrix((data, (bodies.rows, bodies.columns)), shape=(bodies.m, bodies.n)).toarray())


def _full_rank(bodies: Bodies, state: Poses) -> Ints:
    if not bodies.n or not bodies.m:
        return np.zeros(0, dtype=np.int64)
    _, R, order = scipy.linalg.qr(_jacobian(bodies, state).T, mode="economic", pivoting=True)
    sizes = np.abs(np.diag(R))
    return np.sort(order[: int((sizes > 1e-7 * sizes[0]).sum())])


def _sign(bodies: Bodies, state: Poses, rows: Ints) -> float:
    """Of the determinant; 0 for what is not fully driven, which has none."""
    if len(rows) != bodies.n:
        return 0.0
    return float(np.linalg.slogdet(_jacobian(bodies, state)[rows])[0])


def _stepped(assembly: Assembly, relation: str, value: float, here: _Step, move: Floats | None) -> _Step | None:
    """The next state, or None when it is not reached, or lies on another branch or side."""
    statement = stated(with_value(assembly, relation, value))
    bodies = statement.bodies()
    starts = [(here.state, False)] if move is None else [(bodies.move(here.state, move), True), (here.state, False)]
    for start, foretold in starts:
        found = _few_steps(bodies, start)
        if found is None or wrong_sides(statement, found) or beyond(statement, found):
            continue
        turned = np.linalg.norm(found.turns @ here.state.turns.transpose(0, 2, 1) - np.eye(3), axis=(1, 2))
        if float(turned.max(initial=0.0)) > _MOST * math.sqrt(2):
            continue
        step = _signed(statement, bodies, found)
        # A move that goes on as it went crosses over where two branches meet, although the sign changes there.
        goes_on = foretold and move is not None and _far(_between(here, step) - move) < _GOES_ON * _far(move)
        if goes_on or not here.sign or _sign(bodies, found, here.rows) == here.sign:
            return step
    return None


def _far(step: Floats) -> float:
    return float(np.linalg.norm(step))


def _few_steps(bodies: Bodies, state: Poses) -> Poses | None:
    """A drive's steps are small: one that is not met soon has gone astray."""
    solver = newton(bodies)
    for _ in range(_STEPS):
        residual, data = bodies.evaluate(state)
        if float(np.abs(residual).max(initial=0.0)) <= TOLERANCE * 0.01:
            return state
        try:
            state = bodies.move(state, solver.factor(residual, data).step(residual))
        except np.linalg.LinAlgError:
            return None
    return state if float(np.abs(bodies.residual(state)).max(initial=0.0)) <= TOLERANCE else None


def _between(here: _Step, made: _Step) -> Floats:
    """The step from one state to another, in the unknowns of the bodies that move."""
    moving = made.statement.bodies().moving
    turn = made.state.turns[moving] @ here.state.turns[moving].transpose(0, 2, 1)
    about = np.asarray(Rotation.from_matrix(turn).as_rotvec()).reshape(-1, 3)
    way = made.state.places[moving] - here.state.places[moving]
    return np.hstack([way, about * made.statement.reach[moving][:, None]]).ravel()
