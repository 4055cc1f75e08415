"""What can still move, by joints and loops: the rows between each two bodies leave a joint (its free twists), a tree of
joints reaches every body, and what the tree leaves over closes loops. Words and arrows come from the twists.
"""

from __future__ import annotations

import heapq
from collections.abc import Sequence
from functools import lru_cache
from typing import Literal, NamedTuple

import numpy as np

from ..arrays import Floats
from ..kernel.ground.figures import Vector
from ..tolerance import PARALLEL
from .poses import Poses, positive
from .statement import Statement

#: A singular value below this share of the largest is none: true ones lie above 1e-3, false ones below 1e-15.
_RANK = 1e-8
#: Twists smaller than this are none.
_STILL = 1e-7
#: Turning counts at this arm (mm), so that turning and moving are alike in size.
_ARM = 20.0
#: What hangs on nothing; what nothing holds moves so many ways.
_NOTHING, _ALL = -1, 6
#: So many answers are kept of each question.
_KEPT = 4096
Way = Literal["turns", "slides", "screws"]


class Motion(NamedTuple):
    """One way a body can move: about or along ``direction`` through ``at`` (mm); ``lead`` mm a turn of a screw."""

    way: Way
    direction: Vector
    at: Vector
    lead: float = 0.0

    @property
    def twist(self) -> Floats:
        """Its twist about the room's zero, one radian or one mm of it: mm, and radians times 20 mm."""
        along = np.array(self.direction)
        if self.way == "slides":
            return np.concatenate([along, np.zeros(3)])
        return np.concatenate([np.cross(self.at, along) + self.lead / (2 * np.pi) * along, along * _ARM])


class Freedom(NamedTuple):
    """What one instance can still do: how many ways, and in words what it can do in its ``parent``, the instance it
    hangs on (empty: what is grounded, or nothing); ``motions`` are those ways one by one, none for what is wholly free.
    """

    instance: str
    ways: int
    words: str
    parent: str = ""
    motions: tuple[Motion, ...] = ()


class _Matrix(NamedTuple):
    """A matrix by what it says: of a thousand parts an edit changes few, and what the others can do is known."""

    data: bytes
    columns: int

    @classmethod
    def of(cls, matrix: Floats) -> _Matrix:
        return cls(np.ascontiguousarray(matrix, dtype=float).tobytes(), matrix.shape[1])

    @property
    def array(self) -> Floats:
        made = np.frombuffer(self.data, dtype=float)
        return made.reshape(-1, self.columns) if self.columns else made.reshape(6, 0)


class _Joints(NamedTuple):
    """Free twists (count, 6), and for every body those on the way to it from where it hangs (as columns)."""

    twists: Floats
    paths: list[list[int]]
    used: set[tuple[int, int]]
    parents: dict[int, int]

    def twist(self, body: int, free: Floats | None) -> Floats:
        """What the joints let a body do (6, ways), where ``free`` is what loops leave of them (None: all)."""
        path = self.paths[body]
        if free is not None:
            return np.asarray(self.twists[path].T @ free[path]) if path else np.zeros((6, free.shape[1]))
        made = np.zeros((6, len(self.twists)))
        made[:, path] = self.twists[path].T
        return made

    def own(self, body: int, parent: int, free: Floats | None) -> Floats:
        """What it can do in its parent (none: in the room), with as few columns as that takes."""
        if free is not None:
            return self.twist(body, free) - (self.twist(parent, free) if parent >= 0 else 0.0)
        path = self.paths[body][len(self.paths[parent]) if parent >= 0 else 0 :]
        return np.asarray(self.twists[path].T).reshape(6, -1)

    def moves(self, body: int, free: Floats | None) -> int:
        """How many ways a body can move."""
        return _ways(_Matrix.of(self.own(body, _NOTHING, free)))


class Freedoms(NamedTuple):
    """Of a whole assembly: ``ways`` altogether, each instance's own, and what every body's twists follow from: the
    joints, what loops leave of them (None: all), and where each body stands in their tree.
    """

    ways: int
    each: tuple[Freedom, ...]
    joints: _Joints
    free: Floats | None
    node: tuple[int, ...]

    def twist(self, body: int) -> Floats:
        """The free twists of a body about the room's zero (6, ways): mm, and radians times 20 mm."""
        return self.joints.twist(self.node[body], self.free)


def freedoms(statement: Statement, state: Poses) -> Freedoms:
    """What is free in a state that meets all relations."""
    bodies = statement.bodies()
    many = len(statement.instances)
    # All that is grounded is one body, the last.
    node = [many if k in statement.grounded else k for k in range(many)]
    pairs: dict[tuple[int, int], list[Floats]] = {}
    wide: list[dict[int, Floats]] = []
    by_row: dict[int, dict[int, Floats]] = {}
    for row, body, wrench in bodies.wrenches(state, _ARM):
        found = by_row.setdefault(row, {})
        found[node[body]] = found.get(node[body], 0.0) + wrench
    for ends in by_row.values():
        if len(ends) == 2:
            a, b = sorted(ends)
            pairs.setdefault((a, b), []).append(ends[b])
        elif len(ends) == 1 and many not in ends:
            ((b, wrench),) = ends.items()
            pairs.setdefault((b, many), []).append(wrench)
        elif len(ends) > 2:
            wide.append(ends)
    joints = _tree(pairs, many, [k for k in range(many) if k not in statement.grounded])
    loops = _loops(joints, pairs, wide)
    free = _null(loops) if loops.size else None
    each = tuple(_freedom(statement, joints, node, k, free) for k in range(many))
    return Freedoms(len(joints.twists) if free is None else free.shape[1], each, joints, free, tuple(node))


def _freedom(statement: Statement, joints: _Joints, node: Sequence[int], k: int, free: Floats | None) -> Freedom:
    """What one instance can do: in what it hangs on, if that moves itself."""
    name, parent = statement.instances[k], joints.parents.get(node[k], _NOTHING)
    if parent == _NOTHING and free is None and len(joints.paths[node[k]]) == _ALL:
        return Freedom(name, _ALL, "free")
    ways = joints.moves(node[k], free)
    if not ways:  # whatever it hangs on may do
        return Freedom(name, 0, "held")
    hangs_on = _NOTHING < parent < len(statement.instances) and joints.moves(parent, free) > 0
    words, motions = _said(_Matrix.of(joints.own(node[k], parent if hangs_on else _NOTHING, free)))
    return Freedom(name, ways, words, statement.instances[parent] if hangs_on else "", motions)


def _tree(pairs: dict[tuple[int, int], list[Floats]], many: int, loose: Sequence[int]) -> _Joints:
    """A tree that reaches every body, over the stiffest joints first; of the ``loose`` ones those that nothing holds
    move all six ways.
    """
    joint = {ends: _joint(_Matrix.of(np.array(rows))) for ends, rows in pairs.items()}
    beside: dict[int, list[int]] = {}
    for a, b in pairs:
        beside.setdefault(a, []).append(b)
        beside.setdefault(b, []).append(a)
    twists: list[Floats] = []
    paths: list[list[int]] = [[] for _ in range(many + 1)]
    seen: set[int] = set()
    used: set[tuple[int, int]] = set()
    parents: dict[int, int] = {}

    def reach(root: int) -> None:
        seen.add(root)
        edges = [(len(joint[min(root, b), max(root, b)]), b, root) for b in beside.get(root, ())]
        heapq.heapify(edges)
        while edges:
            _, body, came = heapq.heappop(edges)
            if body in seen:
                continue
            seen.add(body)
            ends = (min(body, came), max(body, came))
            used.add(ends)
            parents[body] = came
            free = joint[ends]
            paths[body] = paths[came] + list(range(len(twists), len(twists) + len(free)))
            twists.extend(free)
            for after in beside[body]:
                if after not in seen:
                    heapq.heappush(edges, (len(joint[min(body, after), max(body, after)]), after, body))

    reach(many)
    for body in loose:
        if body not in seen:
            paths[body] = list(range(len(twists), len(twists) + 6))
            twists.extend(np.eye(6))
            reach(body)
    return _Joints(np.array(twists).reshape(-1, 6), paths, used, parents)


def _loops(joints: _Joints, pairs: dict[tuple[int, int], list[Floats]], wide: Sequence[dict[int, Floats]]) -> Floats:
    """What the rows outside the tree ask of the joints (rows, joints)."""
    count = len(joints.twists)

    def reached(wrench: Floats, body: int) -> Floats:
        rows, path = np.atleast_2d(wrench), joints.paths[body]
        made = np.zeros((len(rows), count))
        made[:, path] = rows @ joints.twists[path].T
        return made

    rows = [np.zeros((0, count))]
    for (a, b), wrenches in pairs.items():
        if (a, b) not in joints.used:
            # A row's wrench on the one body is against that on the other.
            held = np.array(wrenches)
            free = a if b == len(joints.paths) - 1 else b
            other = b if free == a else a
            rows.append(reached(held, free) - reached(held, other))
    for ends in wide:
        rows.append(sum((reached(w, body) for body, w in ends.items()), np.zeros((1, count))))
    return np.vstack(rows)


def _null(rows: Floats) -> Floats:
    """What a matrix leaves free, as columns."""
    if not rows.size:
        return np.eye(rows.shape[1])
    _, sizes, right = np.linalg.svd(rows)
    rank = int((sizes > _RANK * max(float(sizes[0]), 1e-9)).sum())
    return np.asarray(right[rank:].T)


@lru_cache(maxsize=_KEPT)
def _joint(rows: _Matrix) -> Floats:
    """The free twists that the rows between two bodies leave, kept and not to be written to."""
    made = _null(rows.array).T
    made.setflags(write=False)
    return made


@lru_cache(maxsize=_KEPT)
def _ways(twists: _Matrix) -> int:
    sizes = twists.array
    return int((np.linalg.svd(sizes, compute_uv=False) > _STILL).sum()) if sizes.size else 0


@lru_cache(maxsize=_KEPT)
def _said(free: _Matrix) -> tuple[str, tuple[Motion, ...]]:
    """Free twists (6, ways of the whole) in words, and one by one."""
    twists = free.array
    left, sizes, _ = np.linalg.svd(twists, full_matrices=False)
    ways = int((sizes > _STILL).sum())
    own = left[:, :ways]
    if not ways:
        return "held", ()
    # Moves that turn nothing, and turns square to them in the space of twists.
    _, turning, right = np.linalg.svd(own[3:])
    rank = int((turning > 1e-7).sum())
    slides = np.asarray((own[:3] @ right[rank:].T).T)
    turns = np.asarray((own @ right[:rank].T).T)
    motions = tuple(_turn(t, slides) for t in turns) if rank < 3 else _swivel(turns, slides)
    motions += tuple(Motion("slides", _tuple(positive(s / np.linalg.norm(s))), (0.0, 0.0, 0.0)) for s in slides)
    words = _words(motions, rank, len(slides))
    return words, () if len(motions) == 6 else motions


def _turn(twist: Floats, slides: Floats) -> Motion:
    """A turn or screw: its axis is where the body does not move but along it."""
    about, move = twist[3:] / _ARM, twist[:3]
    size = float(np.linalg.norm(about))
    axis = about / size
    move = move / size
    at = np.cross(axis, move)
    lead = float(axis @ move) * 2 * np.pi
    along = len(slides) > 0 and float(np.linalg.norm(slides @ axis)) > 1e-9
    way: Way = "turns" if along or abs(lead) < 1e-6 else "screws"
    return Motion(way, _tuple(positive(axis)), _tuple(at), 0.0 if way == "turns" else lead)


def _swivel(turns: Floats, slides: Floats) -> tuple[Motion, ...]:
    """Turns about three axes through one point, if there is one."""
    if len(slides) == 3:
        return tuple(Motion("turns", _tuple(axis), (0.0, 0.0, 0.0)) for axis in np.eye(3))
    turning = turns[:, 3:] / _ARM
    even = np.linalg.solve(turning, turns[:, :3])  # row k: the move of a turn about axis k
    rows = np.vstack([_skew(axis) for axis in np.eye(3)])
    at = np.linalg.lstsq(rows, -even.reshape(-1), rcond=None)[0]
    return tuple(Motion("turns", _tuple(axis), _tuple(at)) for axis in np.eye(3))


def _skew(v: Floats) -> Floats:
    return np.array([[0, -v[2], v[1]], [v[2], 0, -v[0]], [-v[1], v[0], 0]])


def _tuple(v: Floats) -> Vector:
    x, y, z = (float(c) for c in v)
    return x, y, z


_NAMED = (("X", (1.0, 0.0, 0.0)), ("Y", (0.0, 1.0, 0.0)), ("Z", (0.0, 0.0, 1.0)))


def along_words(direction: Vector) -> str:
    """A direction as it is spoken of."""
    for name, axis in _NAMED:
        if abs(sum(a * b for a, b in zip(axis, direction, strict=True))) > 1 - PARALLEL:
            return name
    return "a slanted line"


def _words(motions: Sequence[Motion], turning: int, sliding: int) -> str:
    if (turning, sliding) == (3, 3):
        return "free"
    said = []
    if turning == 3:
        said.append("swivels about a point")
    else:
        for motion in motions[:turning]:
            line = along_words(motion.direction)
            about = line if line in "XYZ" else "a slanted axis"
            said.append(f"{'turns about' if motion.way == 'turns' else 'screws along'} {about}")
    if sliding == 2:
        normal = along_words(_tuple(np.cross(motions[-1].direction, motions[-2].direction)))
        said.append("slides in a plane" + (f" square to {normal}" if normal in "XYZ" else ""))
    elif sliding == 3:
        said.append("moves any way")
    elif sliding:
        said.append(f"slides along {along_words(motions[-1].direction)}")
    return ", ".join(said)
