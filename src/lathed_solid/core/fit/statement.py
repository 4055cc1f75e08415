"""An assembly as rows: bodies in the order of its instances, each relation stated by its kind."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Sequence
from typing import NamedTuple

import msgspec
import numpy as np

from ..arrays import Floats
from ..refusal import Refusal
from .features import Gone, feature_at
from .kinds import KINDS
from .model import Assembly, End, Instance, PartShot, Pose, Relation, RelationKind, Repeat
from .poses import Poses, placed, pose_of, positive, rotation, turned_by
from .rows import Row, direction, point
from .stating import STATEMENTS, Asked, Grip, Side, Stated
from .system import Bodies
from .values import limits_of, many_of, value_of, worked_out

#: A part without size of its own counts as this large (mm).
LEAST_REACH = 1.0
_COLLINEAR = 1e-7
#: Relations that count turns.
COUPLED: frozenset[RelationKind] = frozenset(("screw", "gear", "rack"))


class Stop(NamedTuple):
    """A row that holds only at the ends of a range: its last constant is what is limited, stated here ``at`` a value,
    and a residual of ``scale`` is one unit more (mm, or radians at the rim).
    """

    row: Row
    at: float
    low: float | None
    high: float | None
    scale: float = 1.0


class Statement(NamedTuple):
    """What an assembly comes down to. ``start`` are its poses as they stand; ``instances`` and ``couplings`` (ids) in
    the order of bodies and of turns counted; ``middles`` of the parts, in their own axes. ``lost`` are relations whose
    faces are gone, with the words for it: they hold nothing.
    """

    rows: tuple[Row, ...]
    sides: tuple[Side, ...]
    start: Poses
    instances: tuple[str, ...]
    grounded: frozenset[int]
    reach: Floats
    middles: Floats
    couplings: tuple[str, ...]
    lost: tuple[tuple[str, str], ...] = ()
    stops: tuple[Stop, ...] = ()

    def bodies(
        self,
        moving: Sequence[int] | None = None,
        owners: Collection[str] | None = None,
        rows: Sequence[Row] | None = None,
    ) -> Bodies:
        """The rows of all relations, of ``owners``, or these, over the bodies that move (all but the grounded ones)."""
        every = [k for k in range(len(self.instances)) if k not in self.grounded]
        if rows is None:
            rows = self.rows if owners is None else [r for r in self.rows if r.owner in owners]
        return Bodies(rows, len(self.instances), every if moving is None else moving, self.reach, self.couplings)

    def pose(self, state: Poses, body: int) -> Pose:
        """Where an instance stands in a state."""
        turn = state.turns[body]
        return pose_of(turn, state.places[body] - turn @ self.middles[body])

    def taken(self, assembly: Assembly, state: Poses) -> Assembly:
        """The assembly as it stands in a state."""
        at = {name: k for k, name in enumerate(self.instances)}
        wound = {name: k for k, name in enumerate(self.couplings)}

        def moved(instance: Instance) -> Instance:
            pose = self.pose(state, at[instance.id])
            return instance if _alike(pose, instance.pose) else msgspec.structs.replace(instance, pose=pose)

        def turned(relation: Relation) -> Relation:
            if relation.id not in wound:
                return relation
            one, two = (float(v) for v in state.wound[wound[relation.id]])
            return msgspec.structs.replace(relation, turned=(one, two))

        return msgspec.structs.replace(
            assembly,
            instances=tuple(map(moved, assembly.instances)),
            relations=tuple(map(turned, assembly.relations)),
        )


def _alike(a: Pose, b: Pose) -> bool:
    """Whether two poses are one, but for what arithmetic leaves."""
    return (
        math.dist(a.place, b.place) < 1e-12 and abs(sum(x * y for x, y in zip(a.turn, b.turn, strict=True))) > 1 - 1e-15
    )


class _Desk:
    """What relations are stated from: features gripped by bodies."""

    def __init__(self, assembly: Assembly) -> None:
        self.assembly = assembly
        self.at = {instance.id: k for k, instance in enumerate(assembly.instances)}
        parts = {p.id: p for p in assembly.parts}
        boxes = np.array([parts[i.part].box for i in assembly.instances], dtype=float).reshape(-1, 2, 3)
        self.middles: Floats = boxes.mean(axis=1)
        half = np.linalg.norm(boxes[:, 1] - boxes[:, 0], axis=1) / 2
        self.reach: Floats = np.maximum(half, LEAST_REACH)

    def grip(self, end: End) -> Grip:
        body = self.at[end.instance]
        feature = feature_at(self.assembly, end)
        return Grip(body, feature, np.array(feature.at) - self.middles[body], np.array(feature.along))

    def start(self, couplings: Sequence[Relation]) -> Poses:
        poses = [i.pose for i in self.assembly.instances]
        turns = np.array([rotation(p) for p in poses]).reshape(-1, 3, 3)
        places = np.array([placed(p, m) for p, m in zip(poses, self.middles, strict=True)]).reshape(-1, 3)
        return Poses(turns, places, np.array([r.turned for r in couplings], dtype=float).reshape(-1, 2))


def stated(assembly: Assembly) -> Statement:
    """All relations that are obeyed, as rows. Raises Refusal for one that says what cannot be."""
    desk = _Desk(assembly)
    obeyed = [r for r in assembly.relations if not r.loose]
    rows: list[Row] = []
    sides: list[Side] = []
    couplings: list[Relation] = []
    lost: list[tuple[str, str]] = []
    stops: list[Stop] = []
    for relation in obeyed:
        try:
            if relation.is_stop:
                stops.append(_stop(desk, relation, obeyed))
                continue
            made = _relation(desk, relation, obeyed)
        except Gone as error:
            lost.append((relation.id, error.message))
            continue
        if relation.kind in COUPLED:
            couplings.append(relation)
        rows += made.rows
        sides += made.sides
    for repeat in assembly.repeats:
        try:
            rows += _copies(desk, repeat)
        except Gone as error:
            lost.append((repeat.id, error.message))
    grounded = frozenset(k for k, i in enumerate(assembly.instances) if i.grounded)
    names = tuple(i.id for i in assembly.instances)
    return Statement(
        tuple(rows), tuple(sides), desk.start(couplings), names, grounded, desk.reach, desk.middles,
        tuple(r.id for r in couplings), tuple(lost), tuple(stops),
    )  # fmt: skip


def _stop(desk: _Desk, relation: Relation, every: Sequence[Relation]) -> Stop:
    """What a relation limits: the one row of it that has its number. Raises Refusal for one that cannot be limited."""
    low, high = limits_of(relation, desk.assembly)
    if relation.kind not in ("distance", "angle"):
        raise Refusal(f"“{relation.kind}” cannot be limited: say “distance” or “angle”.")
    if low is not None and high is not None and high < low:
        raise Refusal("The least is more than the most: nothing could move between them.")
    if relation.kind == "angle" and _hinge(desk, relation, every) is None:
        raise Refusal("An angle is limited about an axis: put the two parts in line first.")
    # Stated in the middle of its range, a full turn away at most.
    ends = [v for v in (low, high) if v is not None]
    row, shift, scale = _valued(desk, relation, sum(ends) / len(ends), every)
    if relation.kind == "angle" and row.kind != "angle":
        raise Refusal("An angle is limited about an axis: pick faces that are square to it.")
    least, most = (None if v is None else v + shift for v in (low, high))
    return Stop(row, row.constants[-1], least, most, scale)


def _valued(desk: _Desk, relation: Relation, at: float, every: Sequence[Relation]) -> tuple[Row, float, float]:
    """The row of a distance or angle that has its number, stated at a value; how much more its constant is than the
    number (turned round, an angle is counted from the other way), and the residual of one unit.
    """
    if relation.kind == "distance":
        at = at or 1.0  # a distance of nothing would be another relation
    asked = msgspec.structs.replace(relation, value=repr(at) + (" rad" if relation.kind == "angle" else " mm"))
    row = _relation(desk, asked, every).rows[-1]
    return row, row.constants[-1] - at, row.constants[0] if row.kind == "angle" else 1.0


def present(assembly: Assembly, relation: Relation) -> float | None:
    """What the number of a distance or an angle would be as the parts stand: mm or radians. Raises Refusal."""
    if relation.kind not in ("distance", "angle"):
        return None
    desk = _Desk(assembly)
    row, shift, scale = _valued(desk, relation, 1.0, [r for r in assembly.relations if not r.loose])
    bodies = Bodies([row], len(desk.at), [], desk.reach)
    off = float(bodies.residual(desk.start([]))[0])
    if row.kind == "lean":
        return math.acos(min(1.0, max(-1.0, off / row.constants[0] + row.constants[1])))
    return row.constants[-1] + off / scale - shift


def _copies(desk: _Desk, repeat: Repeat) -> Iterator[Row]:
    """Every copy stands to its leader as the repeat says, in the axes of the part whose face it goes about."""
    about, leader = desk.grip(repeat.about), desk.at[repeat.leader]
    for number, name in enumerate(repeat.made, 1):
        if not name:
            continue
        copy = desk.at[name]
        turn, shift = image(repeat, about.along, number, desk.assembly)
        # A mirror image's own axes are the leader's seen in the mirror of its own X.
        hand = np.diag((-1.0, 1.0, 1.0)) if repeat.kind == "mirror" else np.eye(3)
        reach = float(max(desk.reach[leader], desk.reach[copy]))
        middle = hand @ desk.middles[leader] - desk.middles[copy]
        for e in np.eye(3):
            to, of = direction(about.body, e), direction(about.body, turn.T @ e)
            points = (about.point, point(leader, np.zeros(3)), point(copy, middle))
            yield Row("carried", (to, of, *points), (float(e @ shift),), repeat.id)
            for k in (0, 1):
                axes = (direction(leader, np.eye(3)[k] * hand[k, k]), direction(copy, np.eye(3)[k]))
                yield Row("alike", (to, of, *axes), (reach,), repeat.id)


def image(repeat: Repeat, along: Floats, number: int, assembly: Assembly) -> tuple[Floats, Floats]:
    """The turning (or reflection) and shift (mm) that take the leader to its copy of that number, about the face's
    point, in its part's axes. Raises Refusal for figures that cannot be read.
    """
    if repeat.kind == "mirror":
        return np.eye(3) - 2 * np.outer(along, along), np.zeros(3)
    if repeat.kind == "row":
        pitch = worked_out(repeat.spread, assembly, "length")
        return np.eye(3), number * pitch * along
    # Counted the way that is positive, whichever way the face's own axis runs.
    along, many = positive(along), many_of(repeat, assembly)
    spread = worked_out(repeat.spread, assembly, "angle") if repeat.spread.strip() else 2 * math.pi
    # A whole turn comes back to the leader; a part of one has a copy at its end.
    whole = abs(abs(spread) - 2 * math.pi) < 1e-9
    step = spread / (many if whole else max(1, many - 1))
    return np.asarray(turned_by((number * step * along)[None])[0]), np.zeros(3)


def tied(assembly: Assembly, relation: Relation) -> Relation:
    """A relation with what it keeps of how the parts stand just now: where b is held, or where turns are counted from.
    Raises Refusal.
    """
    if relation.kind == "fixed":
        a, b = assembly.instance(relation.a.instance).pose, assembly.instance(relation.b.instance).pose
        turn = rotation(a).T
        return msgspec.structs.replace(relation, held=pose_of(turn @ rotation(b), turn @ np.subtract(b.place, a.place)))
    if relation.kind not in COUPLED:
        return relation
    fresh = msgspec.structs.replace(relation, turned=(0.0, 0.0), phase=0.0, loose=False)
    desk = _Desk(assembly)
    others = [r for r in assembly.relations if not r.loose and r.id != relation.id]
    row = next(r for r in _relation(desk, fresh, [*others, fresh]).rows if r.kind == "couple")
    bodies = Bodies([row], len(desk.at), [], desk.reach, (relation.id,))
    state = bodies.counted(desk.start([fresh]))
    one, two = (float(v) for v in state.wound[0])
    phase = float(bodies.residual(state)[0])
    return msgspec.structs.replace(relation, turned=(one, two), phase=phase)


#: Relations stated before, by themselves and the unit they are written in, the bodies they tie and the parts these are:
#: an edit changes one of many.
_known: dict[tuple[Relation, str, int, int, int, int], tuple[PartShot, PartShot, Stated]] = {}
_KEPT = 8192
#: What these say follows from other relations too.
_OF_OTHERS: frozenset[RelationKind] = frozenset(("angle", "gear", "rack", "fixed"))


def _relation(desk: _Desk, relation: Relation, every: Sequence[Relation]) -> Stated:
    a, b = desk.assembly.part_of(relation.a.instance), desk.assembly.part_of(relation.b.instance)
    if relation.kind in _OF_OTHERS or "#" in relation.value:
        return _stated(desk, relation, every)
    ends = desk.at[relation.a.instance], desk.at[relation.b.instance]
    key = (relation, desk.assembly.unit, *ends, id(a), id(b))
    # Kept with the parts: while they are, no other has their identity.
    known = _known.get(key)
    if known is None:
        if len(_known) >= _KEPT:
            _known.clear()
        known = _known[key] = (a, b, _stated(desk, relation, every))
    return known[2]


def _stated(desk: _Desk, relation: Relation, every: Sequence[Relation]) -> Stated:
    if relation.kind == "fixed":
        return _fixed(desk, relation)
    a, b = desk.grip(relation.a), desk.grip(relation.b)
    if not KINDS[relation.kind].takes(a.feature, b.feature):
        raise Refusal(f"“{relation.kind}” cannot be said of these two faces any more. Pick others, or take it off.")
    reach = float(max(desk.reach[a.body], desk.reach[b.body]))
    asked = Asked(a, b, value_of(relation, desk.assembly), relation.opposed, relation.phase, reach, relation.id)
    if relation.kind == "angle":
        asked = asked._replace(hinge=_hinge(desk, relation, every))
    if relation.kind == "gear" and _turned_against(desk, a, b):
        # Turns of parallel axes are counted one way round, whichever way their faces' axes run.
        b = b._replace(along=-b.along)
        asked = asked._replace(b=b)
    if relation.kind in ("gear", "rack"):
        asked = asked._replace(bearings=(_bearing(desk, relation, a, every), _bearing(desk, relation, b, every)))
    return STATEMENTS[relation.kind](asked)


def _fixed(desk: _Desk, relation: Relation) -> Stated:
    """b keeps its place and its turning in a's axes."""
    a, b = desk.at[relation.a.instance], desk.at[relation.b.instance]
    held = relation.held or Pose()
    turn, place = rotation(held), np.array(held.place)
    reach = float(max(desk.reach[a], desk.reach[b]))
    rows = []
    for k, (u, v) in enumerate(((0, 1), (1, 2), (2, 0))):
        # Where b's axis is to lie, it is square to the two others.
        rows.append(Row("lean", (direction(a, turn[:, u]), direction(b, np.eye(3)[v])), (reach, 0.0), relation.id))
        middle = turn @ desk.middles[b] + place - desk.middles[a]
        rows.append(
            Row("plane", (direction(a, np.eye(3)[k]), point(a, middle), point(b, np.zeros(3))), (0.0,), relation.id)
        )
    sides = tuple(Side(direction(a, turn[:, k]), direction(b, np.eye(3)[k]), True, relation.id) for k in range(3))
    return Stated(tuple(rows), sides)


def _hinge(desk: _Desk, relation: Relation, every: Sequence[Relation]) -> Grip | None:
    """The axis, held by a, about which b turns in a: of a relation that puts two of their axes in line."""
    pair = {relation.a.instance, relation.b.instance}
    for other in every:
        if other.kind in ("in line", "screw") and {other.a.instance, other.b.instance} == pair:
            end = other.a if other.a.instance == relation.a.instance else other.b
            grip = desk.grip(end)
            if grip.feature.has_axis:
                return grip
    return None


def _bearing(desk: _Desk, relation: Relation, grip: Grip, every: Sequence[Relation]) -> Grip | None:
    """The axis of another body with which a relation puts this very axis in line, running the same way as it."""
    own = relation.a.instance if desk.at[relation.a.instance] == grip.body else relation.b.instance
    for other in every:
        if other.kind not in ("in line", "screw") or own not in (other.a.instance, other.b.instance):
            continue
        mine, its = (other.a, other.b) if other.a.instance == own else (other.b, other.a)
        held, bearing = desk.grip(mine), desk.grip(its)
        if bearing.feature.has_axis and held.feature.has_axis and _one_axis(held, grip):
            # The bearing counts turns about the axis of what turns in it.
            same = float(held.along @ grip.along) * (-1.0 if other.opposed else 1.0)
            return bearing if same > 0 else bearing._replace(along=-bearing.along)
    return None


def _turned_against(desk: _Desk, a: Grip, b: Grip) -> bool:
    """Whether two axes run against each other as the bodies stand."""
    one, two = (rotation(desk.assembly.instances[g.body].pose) @ g.along for g in (a, b))
    return bool(one @ two < -0.5)


def _one_axis(a: Grip, b: Grip) -> bool:
    away = b.at - a.at
    return bool(
        np.linalg.norm(np.cross(a.along, b.along)) < _COLLINEAR
        and np.linalg.norm(np.cross(a.along, away)) < _COLLINEAR * max(1.0, float(np.linalg.norm(away)))
    )
