"""Limits on what moves: a distance or an angle that may be anything between two stops, and no further."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

import numpy as np

from .poses import Poses
from .rows import Row
from .statement import Statement, Stop

#: What comes this close to its stop is there (mm at the part's rim).
_THERE = 1e-6


class Beyond(NamedTuple):
    """A stop that a state lies beyond, and which of its two ends."""

    stop: Stop
    end: float


def beyond(statement: Statement, state: Poses) -> tuple[Beyond, ...]:
    """The stops a state lies beyond."""
    if not statement.stops:
        return ()
    rows = [s.row for s in statement.stops]
    bodies = statement.bodies(rows=rows)
    made = np.empty(bodies.m)
    made[bodies.order] = bodies.residual(state)
    found = []
    for stop, off in zip(statement.stops, made, strict=True):
        value = stop.at + off / stop.scale
        slack = _THERE / stop.scale
        if stop.low is not None and value < stop.low - slack:
            found.append(Beyond(stop, stop.low))
        elif stop.high is not None and value > stop.high + slack:
            found.append(Beyond(stop, stop.high))
    return tuple(found)


def held(statement: Statement, at: Iterable[Beyond]) -> Statement:
    """The statement with some stops reached: they hold."""
    return statement._replace(rows=(*statement.rows, *(_at_end(b) for b in at)))


def _at_end(reached: Beyond) -> Row:
    *first, _ = reached.stop.row.constants
    return reached.stop.row._replace(constants=(*first, reached.end))
