"""Bringing an assembly together: a new relation moves the part that was tied last, then all settles.

Rows of assemblies repeat each other nearly always (four pins in line and seated say the same thing four times), so the
damping follows the residual. Directions have two solutions; which one is meant is written, and looked after.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace

from ..arrays import Floats
from ..refusal import Refusal
from ..solving.newton import Newton
from .model import Assembly
from .poses import Poses, across, turned_by
from .rows import Held
from .statement import Statement, stated
from .stops import Beyond, beyond, held
from .system import Bodies

#: Residuals below this are met (mm).
TOLERANCE = 1e-9
#: A start this far off is turned first: a solve begun with directions the wrong way round ends on the wrong side.
_ASKEW = 0.5


class NotMet(Refusal):
    """The relations cannot all be met. ``off`` is how far what is left lies off, mm; ``owners`` whose rows are left."""

    def __init__(self, off: float, owners: tuple[str, ...]) -> None:
        super().__init__("The parts cannot be put together so: the relations cannot all be met.")
        self.off, self.owners = off, owners


class Solved(NamedTuple):
    """An assembly that is put together, with the state and statement behind it."""

    assembly: Assembly
    statement: Statement
    state: Poses


def damping(worst: float) -> float:
    """Of least-change steps, by the largest residual (mm): fixed ones stall where rows repeat each other."""
    return float(np.clip(1e-4 * worst, 1e-13, 0.1))


def newton(bodies: Bodies, tolerance: float = TOLERANCE) -> Newton[Poses]:
    return Newton(bodies, tolerance, lambda state: bool(np.isfinite(state.places).all()), damping)


def solved(assembly: Assembly, new: str = "") -> Solved:
    """The assembly with all its relations met. ``new`` is the relation that was made or turned round last: what it ties
    that hangs on nothing grounded is moved to it as a whole before all settles. Axes that were put in line without
    saying which way round are turned round where the new relation needs it. Raises NotMet, or another Refusal.
    """
    try:
        return _solved(assembly, new)
    except NotMet as error:
        for other in _turned_round(assembly, new):
            try:
                return _solved(other, new)
            except NotMet:
                continue
        raise error from None


def as_far_as(assembly: Assembly) -> tuple[Solved, tuple[str, ...]]:
    """The assembly with as many of its relations met as can be, for parts that have become others, and the relations
    that were loosened for it: of those that stand against each other the newest gives way. Raises NotMet when what is
    left is no relation's, or another Refusal.
    """
    loosened: list[str] = []
    while True:
        try:
            found = solved(_loose(assembly, loosened))
            break
        except NotMet as error:
            there = [r.id for r in assembly.relations if r.id in error.owners and r.id not in loosened]
            if not there:
                raise
            loosened.append(there[-1])
    for relation in list(loosened):
        rest = [r for r in loosened if r != relation]
        try:
            found = solved(_loose(found.assembly, rest, but=relation))
        except Refusal:
            continue
        loosened = rest
    return found, tuple(loosened)


def _loose(assembly: Assembly, relations: Sequence[str], but: str = "") -> Assembly:
    made = (
        replace(r, loose=True) if r.id in relations else replace(r, loose=False) if r.id == but else r
        for r in assembly.relations
    )
    return replace(assembly, relations=tuple(made))


def still_met(found: Solved, wanted: Assembly) -> Solved | None:
    """What was found of an assembly, for an edit that moves and ties nothing (a name, a colour, something hidden); None
    for any other.
    """
    before = found.assembly
    said, was = ((a.unit, a.parts, a.relations, a.repeats) for a in (wanted, before))
    if said != was:
        return None
    if [(i.id, i.pose, i.grounded) for i in wanted.instances] != [(i.id, i.pose, i.grounded) for i in before.instances]:
        return None
    return found._replace(assembly=wanted)


def _turned_round(assembly: Assembly, new: str) -> Iterator[Assembly]:
    """The assembly with axes in line the other way round: all of those between two parts at once, for they hang
    together; first between the two that a relation ties, then between either of them and another.
    """
    wanted = next((r for r in assembly.relations if r.id == new), None)
    if wanted is None:
        return
    tied = frozenset((wanted.a.instance, wanted.b.instance))
    loose: dict[frozenset[str], set[str]] = {}
    for r in assembly.relations:
        pair = frozenset((r.a.instance, r.b.instance))
        if r.id != new and r.kind in ("in line", "screw") and not r.said and pair & tied:
            loose.setdefault(pair, set()).add(r.id)
    for pair in sorted(loose, key=lambda p: (p != tied, sorted(p))):
        turned = tuple(replace(r, opposed=not r.opposed) if r.id in loose[pair] else r for r in assembly.relations)
        yield replace(assembly, relations=turned)


def _solved(assembly: Assembly, new: str) -> Solved:
    statement = stated(assembly)
    state = statement.start
    if new:
        state = _approached(assembly, statement, state, new)
    state = _within_stops(statement, settled(statement, state))
    return Solved(statement.taken(assembly, state), statement, state)


def _within_stops(statement: Statement, state: Poses) -> Poses:
    """The state brought back to the stops it lies beyond: those hold, and what they bring about. Raises NotMet."""
    reached: dict[str, Beyond] = {}
    while over := beyond(statement, state):
        if all(b.stop.row.owner in reached for b in over):
            raise NotMet(0.0, tuple(reached))
        reached |= {b.stop.row.owner: b for b in over}
        state = settled(held(statement, reached.values()), state)
    return state


def settled(statement: Statement, state: Poses) -> Poses:
    """The nearest poses that meet every relation on its chosen side. Raises NotMet."""
    bodies = statement.bodies()
    engine = newton(bodies)
    found = engine.nearest(state) if bodies.n else state
    if found is None or engine.off(found) > TOLERANCE or wrong_sides(statement, found):
        again = _one_after_another(statement, state)
        found = engine.nearest(again) if bodies.n else state
    if found is None or engine.off(found) > TOLERANCE:
        raise _not_met(statement, bodies, state)
    if wrong := wrong_sides(statement, found):
        raise NotMet(0.0, tuple(sorted(wrong)))
    return found


def _not_met(statement: Statement, bodies: Bodies, state: Poses) -> NotMet:
    """What is left when all give way as little as they can."""
    engine = newton(bodies)
    residual = bodies.residual(state)
    for _ in range(12):
        if not bodies.n:
            break
        residual, data = bodies.evaluate(state)
        state = bodies.move(state, engine.augmented.factor(data, np.ones(bodies.n), 10.0).step(residual))
    left = np.abs(residual)
    worst = float(left.max(initial=0.0))
    owners = {bodies.owners[k] for k in np.nonzero(left > 0.1 * worst)[0]}
    return NotMet(worst, tuple(sorted(owners)))


def wrong_sides(statement: Statement, state: Poses) -> set[str]:
    """The relations whose directions look the other way."""
    found = set()
    for side in statement.sides:
        a, b = _looking(state, side.a), _looking(state, side.b)
        if (float(a @ b) > 0) != side.same:
            found.add(side.owner)
    return found


def _looking(state: Poses, held: Held) -> Floats:
    vector = np.array(held.vector)
    return vector if held.body < 0 else np.asarray(state.turns[held.body] @ vector)


def _approached(assembly: Assembly, statement: Statement, state: Poses, new: str) -> Poses:
    """The group of parts that the new relation ties, turned and moved as one body until it is met."""
    if not any(r.owner == new for r in statement.rows):
        return state
    groups = _groups(statement, without=new)
    relation = assembly.relation(new)
    at = {name: k for k, name in enumerate(statement.instances)}
    a, b = at[relation.a.instance], at[relation.b.instance]
    first, second = groups[a], groups[b]
    if first == second:
        return state
    # The one that moves: not grounded, else the smaller, else the one picked first.
    held = [bool(statement.grounded & {k for k, g in enumerate(groups) if g == which}) for which in (first, second)]
    if held[0] and held[1]:
        return state
    many = [groups.count(which) for which in (first, second)]
    body, group = (b, second) if held[0] or (not held[1] and many[1] < many[0]) else (a, first)
    members = [k for k, g in enumerate(groups) if g == group]
    before_turn, before_place = state.turns[body], state.places[body]
    moved = _pre_turned(statement, state, body, {k for k in range(len(groups)) if k not in members}, {new})
    bodies = statement.bodies([body], {new})
    found = newton(bodies).nearest(moved)
    if found is None:
        return state
    turn = found.turns[body] @ before_turn.T
    turns, places = state.turns.copy(), state.places.copy()
    for k in members:
        turns[k] = turn @ state.turns[k]
        places[k] = found.places[body] + turn @ (state.places[k] - before_place)
    return Poses(turns, places, found.wound)


def _groups(statement: Statement, without: str) -> list[int]:
    """The number of each body's group: bodies that relations hang together."""
    group = list(range(len(statement.instances)))

    def root(k: int) -> int:
        while group[k] != k:
            k = group[k]
        return k

    for row in statement.rows:
        if row.owner != without:
            ends = sorted({root(h.body) for h in row.slots if h.body >= 0})
            for end in ends[1:]:
                group[end] = ends[0]
    for k in sorted(statement.grounded)[1:]:
        group[root(k)] = root(min(statement.grounded))
    return [root(k) for k in range(len(group))]


def _one_after_another(statement: Statement, state: Poses) -> Poses:
    """From far away: each body in turn is turned to the chosen side of what stands already, and brought to it alone."""
    done = set(statement.grounded)
    if not done and statement.instances:
        done = {0}
    left = [k for k in range(len(statement.instances)) if k not in done]
    while left:
        body = max(left, key=lambda k: _ties(statement, k, done))
        left.remove(body)
        owners = {r.owner for r in statement.rows if _is_between(r.slots, body, done)}
        if owners:
            state = _pre_turned(statement, state, body, done, owners)
            among = done | {body}
            whole = {o for o in owners if all(_bodies_of(r.slots) <= among for r in statement.rows if r.owner == o)}
            found = newton(statement.bodies([body], whole)).nearest(state)
            state = state if found is None else found
        done.add(body)
    return state


def _ties(statement: Statement, body: int, done: set[int]) -> int:
    return sum(_is_between(r.slots, body, done) for r in statement.rows)


def _bodies_of(slots: Sequence[Held]) -> set[int]:
    return {h.body for h in slots if h.body >= 0}


def _is_between(slots: Sequence[Held], body: int, others: set[int]) -> bool:
    bodies = _bodies_of(slots)
    return body in bodies and bool(bodies & others) and bodies <= others | {body}


def _pre_turned(statement: Statement, state: Poses, body: int, others: Iterable[int], owners: set[str]) -> Poses:
    """A body turned so that its directions look the chosen way at ``others``: by the shortest turn for one pair,
    exactly for two that are not parallel.
    """
    among, pairs = set(others) | {-1}, []
    for side in statement.sides:
        if side.owner in owners and (side.a.body == body) != (side.b.body == body):
            mine, its = (side.a, side.b) if side.a.body == body else (side.b, side.a)
            if its.body in among:
                pairs.append((_looking(state, mine), _looking(state, its) * (1.0 if side.same else -1.0)))
    turn = _turn_onto(pairs)
    if turn is None:
        return state
    turns = state.turns.copy()
    turns[body] = turn @ turns[body]
    return state._replace(turns=turns)


def _turn_onto(pairs: Sequence[tuple[Floats, Floats]]) -> Floats | None:
    """The turn that brings the first of each pair onto the second; None when nothing is far enough off to matter."""
    if not pairs or all(float(u @ v) > 1 - _ASKEW * _ASKEW / 2 for u, v in pairs):
        return None
    u, v = pairs[0]
    for other, onto in pairs[1:]:
        if np.linalg.norm(np.cross(other, u)) > 0.1 and np.linalg.norm(np.cross(onto, v)) > 0.1:
            return _frame(v, onto) @ _frame(u, other).T
    normal = np.cross(u, v)
    size = float(np.linalg.norm(normal))
    axis = normal / size if size > 1e-9 else across(u)[0]
    return np.asarray(turned_by((axis * np.arctan2(size, float(u @ v)))[None])[0])


def _frame(first: Floats, second: Floats) -> Floats:
    normal = np.cross(first, second)
    normal /= np.linalg.norm(normal)
    return np.stack([first, normal, np.cross(first, normal)], axis=1)
