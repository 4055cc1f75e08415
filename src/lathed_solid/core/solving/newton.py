"""Step control: guarded Newton on what changed, homotopy when a step would flip the shape, least change for what is not
fully pinned. A failure never moves the state it began from.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, Protocol, TypeVar

import numpy as np

from ..arrays import Floats
from .blocks import Blocks
from .linear import EPSILON, Augmented, Factor, Square
from .pattern import Pattern

MAX_STEPS = 40
#: Steps back onto the rows from near by.
NEAR_STEPS = 14
#: Residuals above this are a step that ran away (mm).
ASTRAY = 1e9

State = TypeVar("State")


class Motion(Pattern, Protocol[State]):
    """What is to be brought to zero. A state may be anything (a vector, poses of bodies): it is only ever evaluated,
    and moved by a step over the ``n`` unknowns.
    """

    def evaluate(self, state: State, /) -> tuple[Floats, Floats]:
        """Residual (m) and Jacobian entries (in the order of ``rows`` and ``columns``)."""

    def move(self, state: State, step: Floats, /) -> State:
        """The state after a step of the unknowns."""


class Newton(Generic[State]):
    """Solving of one system. ``sound`` says which states are possible at all; ``tolerance`` is in mm.

    ``damping`` of least-change steps, by the largest residual. Rows that repeat each other and agree only at the end,
    as those of assemblies do, need one that follows the residual; a fixed one then stalls.
    """

    def __init__(
        self,
        system: Motion[State],
        tolerance: float,
        sound: Callable[[State], bool],
        damping: Callable[[float], float] = lambda worst: EPSILON,
    ) -> None:
        self.system, self.tolerance = system, tolerance
        self._sound, self._damping = sound, damping
        self._blocks: Blocks | None = None
        self._augmented: Augmented | None = None

    @property
    def blocks(self) -> Blocks:
        if self._blocks is None:
            self._blocks = Blocks(self.system)
        return self._blocks

    @property
    def augmented(self) -> Augmented:
        if self._augmented is None:
            self._augmented = Augmented(self.system)
        return self._augmented

    def off(self, state: State) -> float:
        """The largest residual, mm."""
        return float(np.abs(self.system.evaluate(state)[0]).max(initial=0.0))

    @np.errstate(over="ignore", invalid="ignore")  # what runs away is seen by its size, and refused
    def solve(self, state: State) -> tuple[State, float]:
        """The state that meets all rows on the branch of ``state``, and how far (0 to 1) they could be met."""
        residual, data = self.system.evaluate(state)
        found, reached = self._guarded(state, residual, data)
        return (found, reached) if reached == 1.0 else self.follow(state)

    @np.errstate(over="ignore", invalid="ignore")
    def nearest(self, state: State) -> State | None:
        """The nearest state that meets all rows, on whatever branch it lies; None when there is none in reach."""
        residual, data = self.system.evaluate(state)
        found = self._correct(state, np.zeros(self.system.m), residual, data, strict=False)
        return found if found is not None and self._sound(found) else None

    def _guarded(self, state: State, residual: Floats, data: Floats) -> tuple[State, float]:
        """One direct attempt: square blocks by Newton, the rest by least change; refused when the guard trips."""
        before = self.blocks.signs(data)
        moved = self._correct(state, np.zeros(self.system.m), residual, data, strict=False)
        if moved is None:
            return state, 0.0
        after = self.blocks.signs(self.system.evaluate(moved)[1])
        return (moved, 1.0) if np.array_equal(before, after) else (state, 0.0)

    def _correct(self, state: State, target: Floats, residual: Floats, data: Floats, strict: bool) -> State | None:
        """Newton to ``residual == target``; ``strict`` wants every step to contract."""
        system = self.system
        gap = residual - target
        square = self._square(gap)
        size = float(np.abs(gap).max(initial=0.0))
        for _ in range(MAX_STEPS):
            if size <= self.tolerance:
                return state
            try:
                step = self._step(square, gap, data)
            except np.linalg.LinAlgError:
                if square is None:
                    return None
                square = None
                continue
            state = system.move(state, step)
            gap_now, data = system.evaluate(state)
            gap = gap_now - target
            now = float(np.abs(gap).max(initial=0.0))
            if not np.isfinite(now) or now > ASTRAY:
                return None
            if strict and now > 0.5 * size and now > self.tolerance:
                return None
            size = now
        return None

    def _square(self, gap: Floats) -> Square | None:
        """The rows that must be solved again and their unknowns; None when the system is not square throughout."""
        blocks = self.blocks
        if not blocks.whole:
            return None
        rows = blocks.affected(np.nonzero(np.abs(gap) > self.tolerance)[0])
        return Square(self.system, rows, blocks.columns_of(rows))

    def _step(self, square: Square | None, gap: Floats, data: Floats) -> Floats:
        if square is None:
            return self.factor(gap, data).step(gap)
        step = np.zeros(self.system.n)
        step[square.columns] = -square.step(gap, data)
        return step

    def factor(self, residual: Floats, data: Floats, weight: Floats | None = None) -> Factor:
        """Ready for steps of least (weighted) change. Raises LinAlgError."""
        weights = np.ones(self.system.n) if weight is None else weight
        return self.augmented.factor(data, weights, self._damping(float(np.abs(residual).max(initial=0.0))))

    def follow(self, state: State, finest: float = 1e-4) -> tuple[State, float]:
        """Homotopy: shrink the residual from where it stands to zero, keeping every block's sign; the state reached and
        the share of the way it lies at.
        """
        first, data = self.system.evaluate(state)
        signs, first = self.blocks.signs(data), first.copy()
        reached, stride = 0.0, 0.5
        while reached < 1.0:
            goal = min(1.0, reached + stride)
            now, data_now = self.system.evaluate(state)
            moved = self._correct(state, (1.0 - goal) * first, now, data_now, strict=True)
            if (
                moved is not None
                and self._sound(moved)
                and np.array_equal(signs, self.blocks.signs(self.system.evaluate(moved)[1]))
            ):
                state, reached, stride = moved, goal, stride * 2
            else:
                stride *= 0.35
                if stride < finest:
                    return state, reached
        return state, 1.0

    def restored(
        self, state: State, weight: Floats | None = None, factor: Factor | None = None, tolerance: float = 0.0
    ) -> tuple[State | None, Factor | None]:
        """The state nearest to ``state`` that meets all rows (None when the steps to it do not contract), and the last
        factor used.

        A ``factor`` from near by is used for as long as its steps contract well, which saves most of a frame's work.
        """
        system, size = self.system, np.inf
        try:
            for _ in range(NEAR_STEPS):
                residual, data = system.evaluate(state)
                now = float(np.abs(residual).max(initial=0.0))
                if now <= (tolerance or self.tolerance):
                    break
                if now > 0.9 * size:
                    return None, None
                if factor is None or now > 0.2 * size:
                    factor = self.factor(residual, data, weight)
                size = now
                state = system.move(state, factor.step(residual))
            else:
                return None, None
        except np.linalg.LinAlgError:
            return None, None
        return (state if self._sound(state) else None), factor
