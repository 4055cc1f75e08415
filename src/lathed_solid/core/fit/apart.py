"""Pulled apart along relations: every part away from what it is put to, the outermost the farthest."""

from __future__ import annotations

from collections import deque
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace

from ..arrays import Floats
from ..kernel.ground.figures import Vector
from .features import Gone, feature_at
from .model import Assembly, End, Relation
from .poses import aimed, placed, rotation

#: Between parts that are pulled apart, this share of the smaller one's size is left.
_GAP = 0.4
_PARALLEL = 0.999


class _Move(NamedTuple):
    """How one instance comes off: what it was put to, the direction away, how long it is along that."""

    parent: str
    away: Floats
    long: float


def pulled_apart(assembly: Assembly, share: float) -> tuple[Assembly, tuple[tuple[Vector, Vector], ...]]:
    """The assembly with parts moved apart, ``share`` of the whole way (0 to 1), and the ways of their middles (mm)."""
    if share <= 0 or not assembly.instances:
        return assembly, ()
    moves = _moves(assembly)
    shift = {i.id: np.zeros(3) for i in assembly.instances}
    # What hangs on something comes after it.
    for name, move in moves.items():
        before = [o for o in moves if _comes_off_before(assembly, moves, o, name)]
        own = move.long * (1 + _GAP) + sum(moves[o].long * (1 + _GAP) for o in before)
        shift[name] = shift[move.parent] + move.away * own
    instances, trails, by_hand = [], [], dict(assembly.apart.moved)
    for instance in assembly.instances:
        by = share * (shift[instance.id] + np.array(by_hand.get(instance.id, (0.0, 0.0, 0.0))))
        x, y, z = (float(v) for v in np.add(instance.pose.place, by))
        instances.append(replace(instance, pose=replace(instance.pose, place=(x, y, z))))
        if float(np.linalg.norm(by)) > 1e-6:
            a = placed(instance.pose, np.mean(assembly.part(instance.part).box, axis=0))
            trails.append((_tuple(a), _tuple(a + by)))
    return replace(assembly, instances=tuple(instances)), tuple(trails)


def _tuple(v: Floats) -> Vector:
    x, y, z = (float(c) for c in v)
    return x, y, z


def _moves(assembly: Assembly) -> dict[str, _Move]:
    """Every instance that hangs on another, from the grounded ones outwards."""
    found: dict[str, _Move] = {}
    roots = [i.id for i in assembly.instances if i.grounded] or [assembly.instances[0].id]
    seen, todo = set(roots), deque(roots)
    while todo:
        here = todo.popleft()
        beside: dict[str, list[Relation]] = {}
        for relation in assembly.relations:
            ends = (relation.a.instance, relation.b.instance)
            if here in ends and not relation.loose:
                beside.setdefault(ends[0] if ends[1] == here else ends[1], []).append(relation)
        for name, relations in beside.items():
            if name not in seen:
                seen.add(name)
                todo.append(name)
                away = _away(assembly, here, name, relations)
                found[name] = _Move(here, away, _long(assembly, name, away))
    return found


def _away(assembly: Assembly, parent: str, child: str, relations: list[Relation]) -> Floats:
    """The direction in which a part comes off another: square to the face it sits on, else along their axis."""
    for kinds in (("seated", "flush"), ("in line", "screw", "tangent", "on")):
        for relation in relations:
            if relation.kind in kinds and (way := _direction(assembly, parent, relation)) is not None:
                if kinds[0] == "seated":
                    return way
                off = _middle(assembly, child) - _middle(assembly, parent)
                return way if float(way @ off) >= 0 else -way
    off = _middle(assembly, child) - _middle(assembly, parent)
    size = float(np.linalg.norm(off))
    return off / size if size > 1e-9 else np.array([0.0, 0.0, 1.0])


def _direction(assembly: Assembly, parent: str, relation: Relation) -> Floats | None:
    end: End = relation.a if relation.a.instance == parent else relation.b
    try:
        feature = feature_at(assembly, end)
    except Gone:
        return None
    return aimed(assembly.instance(parent).pose, feature.along)


def _middle(assembly: Assembly, name: str) -> Floats:
    instance = assembly.instance(name)
    return placed(instance.pose, np.mean(assembly.part(instance.part).box, axis=0))


def _long(assembly: Assembly, name: str, away: Floats) -> float:
    """How long a part is along a direction, mm."""
    instance = assembly.instance(name)
    half = np.ptp(np.array(assembly.part(instance.part).box), axis=0) / 2
    return float(2 * np.abs(rotation(instance.pose).T @ away) @ half)


def _comes_off_before(assembly: Assembly, moves: dict[str, _Move], other: str, name: str) -> bool:
    """Whether another part of the same parent lies on the same line further in: it must be passed by ``name``."""
    mine, its = moves[name], moves[other]
    if other == name or its.parent != mine.parent or float(mine.away @ its.away) < _PARALLEL:
        return False
    off = _middle(assembly, name) - _middle(assembly, other)
    along = float(off @ mine.away)
    across = float(np.linalg.norm(off - along * mine.away))
    return along > 1e-6 and across < 0.5 * max(mine.long, its.long)
