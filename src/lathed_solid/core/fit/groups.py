"""Bodies that move as one: while a part is dragged what is held together is one body, what is held fast is the room.

A group is told by its free twists, which are those of each of its bodies. That holds where it is looked at; whoever
goes on from there looks whether all is still met (see ``drag``).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from .freedom import freedoms
from .poses import Poses
from .rows import Held, Row
from .statement import Statement

#: Twists this alike are one (mm, and radians times 20 mm).
_ALIKE = 1e-7
_ROOM = -1


class Grouped(NamedTuple):
    """A statement over the leaders of groups only; ``leader`` of every body (-1: it is held fast), and the poses in
    which the groups were formed.
    """

    statement: Statement
    leader: tuple[int, ...]
    start: Poses

    @property
    def moving(self) -> list[int]:
        return sorted({k for k in self.leader if k != _ROOM})

    def expanded(self, state: Poses) -> Poses:
        """The poses of all bodies from those of the leaders."""
        turns, places = state.turns.copy(), state.places.copy()
        lead = np.array(self.leader)
        own = np.nonzero((lead != np.arange(len(lead))) & (lead != _ROOM))[0]
        if len(own):
            first = lead[own]
            turn = state.turns[first] @ self.start.turns[first].transpose(0, 2, 1)
            arms = self.start.places[own] - self.start.places[first]
            turns[own] = turn @ self.start.turns[own]
            places[own] = state.places[first] + np.einsum("kij,kj->ki", turn, arms)
        return Poses(turns, places, state.wound)


def grouped(statement: Statement, state: Poses, leading: int) -> Grouped:
    """The groups as the bodies stand; ``leading`` leads its own."""
    free = freedoms(statement, state)
    many = len(statement.instances)
    leader, known = list(range(many)), dict[bytes, int]()
    for k in (leading, *(k for k in range(many) if k != leading)):
        twist = free.twist(k)
        if float(np.abs(twist).max(initial=0.0)) < _ALIKE:
            leader[k] = _ROOM
        else:
            # Two that fall on either side of a rounding lead themselves: more work, and no harm.
            leader[k] = known.setdefault(np.round(twist / _ALIKE).astype(np.int64).tobytes(), k)
    rows = tuple(moved for row in statement.rows if (moved := _of_leaders(row, leader, state)) is not None)
    stops = tuple(
        stop._replace(row=moved)
        for stop in statement.stops
        if (moved := _of_leaders(stop.row, leader, state)) is not None
    )
    return Grouped(statement._replace(rows=rows, stops=stops), tuple(leader), state)


def alone(statement: Statement, state: Poses) -> Grouped:
    """Every body by itself."""
    fast = statement.grounded
    return Grouped(statement, tuple(_ROOM if k in fast else k for k in range(len(statement.instances))), state)


def _of_leaders(row: Row, leader: list[int], state: Poses) -> Row | None:
    """A row between leaders; None for one within a group, which is met for good."""
    slots = tuple(_held_by(held, leader[held.body] if held.body >= 0 else _ROOM, state) for held in row.slots)
    if len({held.body for held in slots}) == 1:
        return None
    return row._replace(slots=slots)


def _held_by(held: Held, leader: int, state: Poses) -> Held:
    """A point or direction as the leader of its body has it."""
    if held.body in (leader, _ROOM):
        return held
    vector: Floats = state.turns[held.body] @ np.array(held.vector)
    if held.is_point:
        vector = vector + state.places[held.body]
    if leader != _ROOM:
        if held.is_point:
            vector = vector - state.places[leader]
        vector = state.turns[leader].T @ vector
    x, y, z = (float(v) for v in vector)
    return Held(leader, (x, y, z), held.is_point)
