"""The solving engine by itself: a plain problem in the plane, and bodies in space whose state is no vector."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from lathed_solid.core.solving.newton import Newton
from lathed_solid.core.solving.problem import Problem
from lathed_solid.core.solving.rows import Kind, linear
from lathed_solid.core.solving.system import System


class Bodies:
    """Bodies in space. The state is their poses (rotations k x 3 x 3, places k x 3); the unknowns are increments: three
    of place (mm) and three of turning times ``reach`` (mm at the rim), so that all are alike in size. Body 0 is fixed.
    """

    reach = 20.0

    def __init__(self, count, ties):
        """``ties`` are (body, its point, other body, its point) that are to be one place."""
        self.ties = ties
        self.m, self.n = 3 * len(ties), 6 * count
        entries = {}
        for k, (i, _, j, _) in enumerate(ties):
            for body in (i, j):
                for column in range(6 * body, 6 * body + 6):
                    for row in range(3 * k, 3 * k + 3):
                        entries.setdefault((column, row), len(entries))
        self._at = np.array(sorted(entries))
        self.columns, self.rows = self._at.T.copy()
        self.entries = len(self._at)

    def evaluate(self, state):
        turned, place = state
        residual, J = np.zeros(self.m), np.zeros((self.m, self.n))
        for k, (i, a, j, b) in enumerate(self.ties):
            for body, point, sign in ((i, a, 1.0), (j, b, -1.0)):
                arm = turned[body] @ point
                residual[3 * k : 3 * k + 3] += sign * (place[body] + arm)
                if body:
                    J[3 * k : 3 * k + 3, 6 * body : 6 * body + 3] = sign * np.eye(3)
                    J[3 * k : 3 * k + 3, 6 * body + 3 : 6 * body + 6] = -sign * _cross(arm) / self.reach
        return residual, J[self.rows, self.columns]

    def move(self, state, step):
        turned, place = state
        step = step.reshape(-1, 6)
        greatest = np.linalg.norm(step[:, 3:], axis=1).max() / self.reach
        step = step * min(1.0, 0.5 / max(greatest, 1e-12))  # no body turns more than half a radian at once
        more = Rotation.from_rotvec(step[:, 3:] / self.reach).as_matrix()
        return more @ turned, place + step[:, :3]


def _cross(v):
    return np.array([[0, -v[2], v[1]], [v[2], 0, -v[0]], [-v[1], v[0], 0]])


def chain(count):
    """A row of blocks, each tied to the one before by the four corners of a face: twelve rows for six freedoms."""
    corners = np.array([(y, z) for y in (-5.0, 5.0) for z in (-5.0, 5.0)])
    ties = [(k, np.array([10.0, y, z]), k + 1, np.array([-10.0, y, z])) for k in range(count - 1) for y, z in corners]
    return Bodies(count, ties)


def upset(count, by, turn, seed=3):
    rng = np.random.default_rng(seed)
    place = np.array([(20.0 * k, 0.0, 0.0) for k in range(count)]) + rng.uniform(-by, by, (count, 3))
    turned = Rotation.from_rotvec(rng.uniform(-turn, turn, (count, 3))).as_matrix()
    place[0], turned[0] = 0.0, np.eye(3)
    return turned, place


def test_the_gradient_of_bodies_is_that_of_their_moves():
    system, state = chain(3), upset(3, 2.0, 0.3)
    _, data = system.evaluate(state)
    J = np.zeros((system.m, system.n))
    J[system.rows, system.columns] = data
    for column in range(6, system.n):
        step = np.zeros(system.n)
        step[column] = 1e-4
        difference = (
            system.evaluate(system.move(state, step))[0] - system.evaluate(system.move(state, -step))[0]
        ) / 2e-4
        assert np.allclose(difference, J[:, column], atol=1e-7)


@pytest.mark.parametrize(("by", "turn"), [(0.5, 0.02), (3.0, 0.2), (10.0, 0.6)])
def test_bodies_in_space_come_together_although_their_rows_repeat_each_other(by, turn):
    system = chain(12)
    newton = Newton(system, 1e-10, lambda state: True, lambda worst: float(np.clip(1e-4 * worst, 1e-13, 0.1)))
    found = newton.nearest(upset(12, by, turn))
    assert found is not None
    turned, place = found
    assert newton.off(found) <= 1e-10
    assert np.allclose(place, [(20.0 * k, 0.0, 0.0) for k in range(12)], atol=1e-8)
    assert np.allclose(turned, np.eye(3), atol=1e-9)


def test_what_cannot_come_together_is_refused_and_the_state_stays():
    system = Bodies(2, [(0, np.zeros(3), 1, np.zeros(3)), (0, np.array([9.0, 0, 0]), 1, np.array([5.0, 0, 0]))])
    state = upset(2, 1.0, 0.1)
    kept = (state[0].copy(), state[1].copy())
    newton = Newton(system, 1e-10, lambda state: True, lambda worst: float(np.clip(1e-4 * worst, 1e-13, 0.1)))
    assert newton.nearest(state) is None
    assert np.array_equal(state[0], kept[0]) and np.array_equal(state[1], kept[1])


class Plain(Problem):
    """x + y = a and x - y = b; y enters x's row through a value."""

    kinds = {"linear": Kind(3, 4, linear)}

    def __init__(self, values):
        super().__init__(values)
        x, y = self.variable(1.0), self.variable(2.0)
        for owner, sign in (("a", 1.0), ("b", -1.0)):
            self._owner = owner
            self.slot(self.row("linear", (x, y), 1, sign, 0, values[owner]), 3, 1.0)


def test_a_plain_problem_takes_new_values_without_being_stated_anew():
    system = System(Plain({"a": 5.0, "b": 1.0}))
    newton = Newton(system, 1e-12, lambda y: True)
    y, reached = newton.solve(system.start(np.array(system.problem.x)))
    assert reached == 1.0 and system.full(y)[1:] == pytest.approx([3.0, 2.0])
    system.constants({"a": 10.0, "b": 1.0})
    assert newton.off(y) == pytest.approx(5.0)
    y, reached = newton.solve(y)
    assert reached == 1.0 and system.full(y)[1:] == pytest.approx([5.5, 4.5])
    assert [system.owner(i) for i in range(system.m)] == ["a", "b"]
