"""All rows of an assembly at once, for the solving engine: a state is poses, an unknown an increment.

The unknowns of a body that moves are six: the move of its middle (mm) and its turning about that, times its reach (mm
at the rim), so that all are alike in size. A direction d of a body changes by w x d, a point p + arm by dp + w x arm:
that is the whole chain rule.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ..arrays import Floats, Ints
from .poses import Poses, turned_by
from .rows import KINDS, Function, Row, cross, turn_between, unwound

#: No body turns more than this at a step (radians).
MOST_TURN = 0.5


class _Table(NamedTuple):
    """The rows of one kind: which held vectors fill its slots (slots, rows), its constants, where its rows stand."""

    function: Function
    slots: str
    held: Ints
    constants: Floats
    rows: slice


class Bodies:
    """Rows over ``count`` bodies of which the ``moving`` ones move; ``reach`` of every body, mm. ``couplings`` are the
    relations whose turns a state counts.
    """

    def __init__(
        self, rows: Sequence[Row], count: int, moving: Sequence[int], reach: Floats, couplings: Sequence[str] = ()
    ) -> None:
        self.moving = np.array(moving, dtype=np.int64)
        self.reach = reach
        self.n, self.m = 6 * len(moving), len(rows)
        # Body -1, the room, is the last.
        self._column = np.full(count + 1, -1)
        self._column[self.moving] = np.arange(len(moving))
        self._gather(rows, count)
        self._counted = np.array([couplings.index(row.owner) for row in rows if row.kind == "couple"], dtype=np.int64)
        self._pattern()

    def _gather(self, rows: Sequence[Row], count: int) -> None:
        at: dict[tuple[object, ...], int] = {}
        self._tables: list[_Table] = []
        order: list[int] = []
        for name, kind in KINDS.items():
            own = [k for k, row in enumerate(rows) if row.kind == name]
            if not own:
                continue
            held = np.array([[at.setdefault(h, len(at)) for h in rows[k].slots] for k in own]).T
            constants = np.array([rows[k].constants for k in own], dtype=float).T.copy()
            where = slice(len(order), len(order) + len(own))
            self._tables.append(_Table(kind.function, kind.slots, held, constants, where))
            order += own
        #: The relation of each row, and where the row stood among those given.
        self.owners = [rows[k].owner for k in order]
        self.order = np.array(order, dtype=np.int64)
        self._bodies = np.array([h[0] for h in at], dtype=np.int64) % (count + 1)
        self._local = np.array([h[1] for h in at], dtype=float).reshape(-1, 3)
        self._points = np.array([h[2] for h in at], dtype=float).reshape(-1, 1)
        self._rim = np.append(self.reach, 1.0)[self._bodies][:, None]

    def _pattern(self) -> None:
        keys = []
        for table in self._tables:
            rows = np.arange(table.rows.start, table.rows.stop)
            for slot, letter in enumerate(table.slots):
                column = self._column[self._bodies[table.held[slot]]]
                for k in range(6) if letter == "P" else range(3, 6):
                    keys.append(np.where(column >= 0, (6 * column + k) * (1 << 32) + rows, -1))
        every = np.concatenate(keys) if keys else np.zeros(0, dtype=np.int64)
        self._live = every >= 0
        unique, self._entry = np.unique(every[self._live], return_inverse=True)
        self.entries = len(unique)
        self.columns: Ints = (unique >> 32).astype(np.int64)
        self.rows: Ints = (unique & 0xFFFFFFFF).astype(np.int64)

    def world(self, state: Poses) -> tuple[Floats, Floats]:
        """Every held vector turned as its body is, and where it is in the room."""
        turns = np.concatenate([state.turns, np.eye(3)[None]])
        places = np.concatenate([state.places, np.zeros((1, 3))])
        arms = np.matmul(turns[self._bodies], self._local[:, :, None])[:, :, 0]
        return arms, arms + self._points * places[self._bodies]

    def residual(self, state: Poses) -> Floats:
        _, world = self.world(state)
        made = np.empty(self.m)
        for table, constants in self._wound(state):
            made[table.rows] = table.function(world[table.held], constants)[0]
        return made

    def evaluate(self, state: Poses) -> tuple[Floats, Floats]:
        """Residuals (m), mm, and the entries of their Jacobian."""
        arms, world = self.world(state)
        residual, parts = np.empty(self.m), []
        for table, constants in self._wound(state):
            residual[table.rows], slots = table.function(world[table.held], constants)
            gradients = np.array(slots)
            turning = cross(arms[table.held], gradients) / self._rim[table.held]
            for slot, letter in enumerate(table.slots):
                if letter == "P":
                    parts.append(gradients[slot].T.ravel())
                parts.append(turning[slot].T.ravel())
        data = np.concatenate(parts)[self._live] if parts else np.zeros(0)
        return residual, np.bincount(self._entry, weights=data, minlength=self.entries).astype(np.float64)

    def wrenches(self, state: Poses, scale: float) -> list[tuple[int, int, Floats]]:
        """Of every row and body: the row's change by a twist of the body about the room's zero (move, turning times
        ``scale`` mm). The room's own are left out.
        """
        _, world = self.world(state)
        made: dict[tuple[int, int], Floats] = {}
        for table, constants in self._wound(state):
            _, slots = table.function(world[table.held], constants)
            for slot, letter in enumerate(table.slots):
                gradient = slots[slot]
                moment = cross(world[table.held[slot]], gradient) / scale
                force = gradient if letter == "P" else np.zeros_like(gradient)
                for k, row in enumerate(range(table.rows.start, table.rows.stop)):
                    key = (row, int(self._bodies[table.held[slot][k]]))
                    made[key] = made.get(key, 0.0) + np.concatenate([force[k], moment[k]])
        room = len(self._column) - 1
        return [(row, body, w) for (row, body), w in made.items() if body != room]

    def _wound(self, state: Poses) -> list[tuple[_Table, Floats]]:
        """The tables with their constants; those of couplings from the turns the state was last at."""
        made = []
        for table in self._tables:
            constants = table.constants
            if table.slots == KINDS["couple"].slots:
                constants = constants.copy()
                constants[4:6] = state.wound[self._counted].T
            made.append((table, constants))
        return made

    def move(self, state: Poses, step: Floats) -> Poses:
        """The state after a step, which is shortened when it would turn a body too far; turns are counted on."""
        by = step.reshape(-1, 6)
        turning = by[:, 3:] / self.reach[self.moving][:, None]
        greatest = float(np.sqrt((turning**2).sum(axis=1)).max(initial=0.0))
        share = min(1.0, MOST_TURN / greatest) if greatest > 0 else 1.0
        turns, places = state.turns.copy(), state.places.copy()
        places[self.moving] += share * by[:, :3]
        turns[self.moving] = turned_by(share * turning) @ turns[self.moving]
        return self.counted(Poses(turns, places, state.wound))

    def counted(self, state: Poses) -> Poses:
        """The state with the turns of its couplings counted on from where they were last."""
        for table in self._tables:
            if table.slots == KINDS["couple"].slots:
                _, world = self.world(state)
                X = world[table.held]
                last, wound = state.wound[self._counted], state.wound.copy()
                for which, k in enumerate((0, 3)):
                    wound[self._counted, which] = unwound(turn_between(*X[k : k + 3])[0], last[:, which])
                return state._replace(wound=wound)
        return state
