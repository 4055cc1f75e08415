"""Dragging a part by a point of it: the body's middle is put there, so that its three moves are the point's, and they
weigh ten thousand times as much as any other; what must be met is met in every picture. What is held together moves as
one body, for as long as all is met so.
"""

from __future__ import annotations

import time

import numpy as np

from ..arrays import Floats
from ..solving.linear import Factor
from .groups import Grouped, alone, grouped
from .model import Assembly
from .poses import Poses, placed
from .rows import Held, Row
from .solving import damping, newton
from .statement import Statement, stated
from .stops import Beyond, beyond, held

_WEIGHT = 1e4
#: Pictures are met to this (mm); letting go meets all as anywhere.
NEAR = 1e-6
#: What is off by more (mm) is not met: groups have come apart.
_STILL_MET = 1e-5
#: The furthest the point is led at once (mm), and how far a body may turn meanwhile (radians).
_REACH, _TURN = 8.0, 0.3


class Drag:
    """One drag, from pressing to letting go. ``budget`` seconds a picture."""

    def __init__(
        self, assembly: Assembly, instance: str, at: tuple[float, float, float], budget: float = 0.012
    ) -> None:
        """``at`` is the grabbed point in the room, mm. Raises Refusal for relations that cannot be stated."""
        self.assembly, self.budget = assembly, budget
        statement = stated(assembly)
        body = statement.instances.index(instance)
        grabbed = placed_back(assembly, instance, at)
        middles = statement.middles.copy()
        shift = grabbed - middles[body]
        middles[body] = grabbed
        self.whole = _with_middle(statement, body, middles, shift)
        self._body = body
        self._every = self.whole.bodies()
        self._begin(grouped(self.whole, self.whole.start, body), self.whole.start)

    def _begin(self, groups: Grouped, state: Poses) -> None:
        """Go on with these groups from a state of theirs."""
        self.groups, self.state = groups, state
        self.bodies = groups.statement.bodies(groups.moving)
        column = np.nonzero(self.bodies.moving == self._body)[0]
        self._at = 6 * int(column[0]) if len(column) else -1
        self._weight = np.ones(self.bodies.n)
        if self._at >= 0:
            self._weight[self._at : self._at + 3] = _WEIGHT
        self._engine = newton(self.bodies, NEAR)
        self._factor: Factor | None = None

    def _is_met(self, state: Poses) -> bool:
        """Whether all rows are, not only those between groups."""
        off = self._every.residual(self.groups.expanded(state))
        return float(np.abs(off).max(initial=0.0)) <= _STILL_MET

    def to(self, target: tuple[float, float, float]) -> bool:
        """Lead the grabbed point towards a place in the room; False when the parts do not let it move at all."""
        if self._at < 0:
            return False
        end, share, fresh = time.perf_counter() + self.budget, 1.0, False
        residual, data = self.bodies.evaluate(self.state)
        while share > 0.02:
            gap = np.array(target) - self.state.places[self._body]
            far = float(np.linalg.norm(gap))
            gap *= share * min(1.0, _REACH / max(far, 1e-9))
            if self._factor is None:
                self._factor, fresh = self._engine.augmented.factor(data, self._weight, damping(0.0)), True
            moved = self.bodies.move(self.state, self._step(residual, gap))
            met, factor = self._engine.restored(moved, self._weight, self._factor, NEAR)
            if met is not None and (over := beyond(self.groups.statement, met)):
                met = self._at_stops(over, gap)
            if met is not None and not self._is_met(met):
                # They do not move as one any more: each by itself from here on.
                self._begin(alone(self.whole, self.whole.start), self.groups.expanded(self.state))
                return self.to(target)
            if met is not None:
                self.state, self._factor = met, factor
                return True
            if fresh:
                share *= 0.35
            self._factor = None
            if time.perf_counter() > end:
                return False
        return False

    def _at_stops(self, over: tuple[Beyond, ...], gap: Floats) -> Poses | None:
        """The same pull with the stops it would go beyond holding; None when that is not met either."""
        bodies = held(self.groups.statement, over).bodies(self.groups.moving)
        engine = newton(bodies, NEAR)
        residual, data = bodies.evaluate(self.state)
        factor = engine.augmented.factor(data, self._weight, damping(0.0))
        moved = bodies.move(self.state, self._bounded(factor.step(residual, self._pull(gap))))
        met, _ = engine.restored(moved, self._weight, factor, NEAR)
        return met if met is not None and not beyond(self.groups.statement, met) else None

    def _pull(self, gap: Floats) -> Floats:
        pull = np.zeros(self.bodies.n)
        pull[self._at : self._at + 3] = _WEIGHT * gap
        return pull

    def _step(self, residual: Floats, gap: Floats) -> Floats:
        assert self._factor is not None
        return self._bounded(self._factor.step(residual, self._pull(gap)))

    def _bounded(self, step: Floats) -> Floats:
        """A step in which no body turns too far at once."""
        turning = np.abs(step.reshape(-1, 6)[:, 3:] / self.bodies.reach[self.bodies.moving][:, None]).max(initial=0.0)
        return step * (_TURN / turning) if turning > _TURN else step

    def standing(self) -> Assembly:
        """The assembly as it stands in this picture."""
        return self.whole.taken(self.assembly, self.groups.expanded(self.state))

    def ended(self) -> Assembly:
        """The assembly where it was let go, met as well as any."""
        state = self.groups.expanded(self.state)
        found = newton(self._every).nearest(state)
        return self.whole.taken(self.assembly, state if found is None else found)


def placed_back(assembly: Assembly, instance: str, at: tuple[float, float, float]) -> Floats:
    """A point of the room in the axes of an instance's part, mm."""
    pose = assembly.instance(instance).pose
    zero = placed(pose, np.zeros(3))
    axes = placed(pose, np.eye(3)) - zero
    return np.asarray(axes @ (np.array(at) - zero))


def _with_middle(statement: Statement, body: int, middles: Floats, shift: Floats) -> Statement:
    """The same statement with another point of a body as its middle."""

    def moved(held: Held) -> Held:
        if held.body != body or not held.is_point:
            return held
        x, y, z = (float(a - b) for a, b in zip(held.vector, shift, strict=True))
        return held._replace(vector=(x, y, z))

    def shifted(row: Row) -> Row:
        return row._replace(slots=tuple(map(moved, row.slots)))

    rows = tuple(map(shifted, statement.rows))
    stops = tuple(s._replace(row=shifted(s.row)) for s in statement.stops)
    places = statement.start.places.copy()
    places[body] = places[body] + statement.start.turns[body] @ shift
    start = Poses(statement.start.turns, places, statement.start.wound)
    return statement._replace(rows=rows, middles=middles, start=start, stops=stops)
