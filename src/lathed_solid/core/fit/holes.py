"""Things that go into holes: a screw put there in one go, in line and seated, and one for every such hole of a part."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

import msgspec
import numpy as np

from ..kernel.ground.figures import Surface, Vector
from ..refusal import Refusal
from . import edits
from .model import Assembly, End, Follow, PartShot, Relation, RelationKind
from .poses import aimed, placed, rotation

#: Axes and sizes this close are one (mm); directions this parallel.
_CLOSE, _PARALLEL = 1e-4, 1e-6
replace = msgspec.structs.replace


class _Tie(NamedTuple):
    """One relation of what is put in: its kind, the two faces, the side."""

    kind: RelationKind
    a: End
    b: End
    opposed: bool


def _dot(a: Vector, b: Vector) -> float:
    return sum(x * y for x, y in zip(a, b, strict=True))


def _less(a: Vector, b: Vector) -> Vector:
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


def _on_axis(place: Vector, surface: Surface) -> bool:
    """Whether a place lies on a round face's axis."""
    away = np.subtract(place, surface.origin)
    return float(np.linalg.norm(np.cross(away, surface.axis))) < _CLOSE


def _beside(part: PartShot, face: str) -> Iterator[tuple[str, Surface, int]]:
    """Flat faces that something can sit on or by: those a hole comes out at (no floor), a shank's shoulder (no end of
    it); each with how many circles it has about that axis.
    """
    own = part.surface(face)
    if own is None or own.kind != "cylinder":
        return
    for name, flat in zip(part.references, part.surfaces, strict=True):
        if flat.kind != "plane" or abs(abs(_dot(flat.axis, own.axis)) - 1) > _PARALLEL:
            continue
        about = [c for c in flat.circles if _on_axis(c.center, own)]
        looks_at_it = _dot(_less(own.center, flat.origin), flat.axis) > 0
        if looks_at_it != own.hollow and any(abs(c.radius - own.radius) < _CLOSE for c in about):
            yield name, flat, len(about)


def ties(assembly: Assembly, hole: End, shank: End) -> tuple[_Tie, ...]:
    """How something goes into a hole: in line, and its shoulder seated on the hole's seat, or on the face that the hole
    comes out at nearest to it. What has a hole of its own (a nut, a washer) is put before it. Raises Refusal when the
    two do not fit each other.
    """
    host, guest = assembly.part_of(hole.instance), assembly.part_of(shank.instance)
    bore, round_ = host.surface(hole.face), guest.surface(shank.face)
    if bore is None or round_ is None or not bore.hollow:
        raise Refusal("Pick a hole on one part and a shank on another.")
    if not round_.hollow and round_.radius > bore.radius * 1.3:
        raise Refusal("The shank is too large for this hole.")
    shoulder = next(iter(_beside(guest, shank.face)), None)
    # A seat has a circle outside the hole's as well; of plain faces the nearest counts.
    instance = assembly.instance(hole.instance)
    at = np.array(assembly.instance(shank.instance).pose.place)
    seats = sorted(
        _beside(host, hole.face),
        key=lambda s: (s[2] < 2, float(np.linalg.norm(placed(instance.pose, np.array(s[1].origin)) - at))),
    )
    if shoulder is None or not seats:
        facing = aimed(instance.pose, bore.axis)
        other = aimed(assembly.instance(shank.instance).pose, round_.axis)
        return (_Tie("in line", hole, shank, bool(facing @ other < 0)),)
    seat, under = seats[0], shoulder
    opposed = _dot(bore.axis, seat[1].axis) * _dot(round_.axis, under[1].axis) > 0
    return (
        _Tie("in line", hole, shank, opposed),
        _Tie("seated", End(hole.instance, seat[0]), End(shank.instance, under[0]), True),
    )


def goes_in(assembly: Assembly, a: End, b: End) -> tuple[End, End] | None:
    """Which of two faces is the hole and which the shank with a shoulder to sit on it; None when they are neither."""
    for hole, shank in ((a, b), (b, a)):
        round_ = assembly.part_of(shank.instance).surface(shank.face)
        try:
            if round_ is not None and not round_.hollow and len(ties(assembly, hole, shank)) > 1:
                return hole, shank
        except Refusal:
            continue
    return None


def round_face_for(assembly: Assembly, instance: str, other: End) -> End | None:
    """The face of an instance that goes into a hole, onto a shaft or before a hole: the round one nearest in size."""
    wanted = assembly.part_of(other.instance).surface(other.face)
    part = assembly.part_of(instance)
    if wanted is None:
        return None
    fitting = [
        (s.hollow == wanted.hollow, abs(s.radius - wanted.radius), name)
        for name, s in zip(part.references, part.surfaces, strict=True)
        if s.kind == "cylinder"
    ]
    return End(instance, min(fitting)[2]) if fitting else None


def put_in(assembly: Assembly, hole: End, shank: End) -> tuple[Assembly, str]:
    """The assembly with something tied into a hole, and the relation that puts it in line. Raises Refusal."""
    first = ""
    for tie in ties(assembly, hole, shank):
        assembly, made = edits.relate(assembly, tie.kind, tie.a, tie.b, "", tie.opposed)
        first = first or made
    return assembly, first


def such_holes(part: PartShot, face: str) -> tuple[str, ...]:
    """Every hole of a part like one of its own: of its size, direction and length; itself too."""
    own = part.surface(face)
    if own is None or own.kind != "cylinder":
        return ()
    return tuple(
        name
        for name, s in zip(part.references, part.surfaces, strict=True)
        if s.kind == "cylinder"
        and s.hollow == own.hollow
        and math.isclose(s.radius, own.radius, abs_tol=_CLOSE)
        and math.isclose(s.area, own.area, rel_tol=1e-4)
        and abs(abs(_dot(s.axis, own.axis)) - 1) < _PARALLEL
        and abs(_dot(_less(s.center, own.center), own.axis)) < _CLOSE
    )


def hole_of(assembly: Assembly, instance: str) -> Relation | None:
    """The relation that puts an instance in line with a hole of another part."""
    for relation in assembly.relations:
        if relation.kind in ("in line", "screw") and instance in (relation.a.instance, relation.b.instance):
            end = relation.a if relation.b.instance == instance else relation.b
            surface = assembly.part_of(end.instance).surface(end.face)
            if surface is not None and surface.hollow:
                return relation
    return None


def in_every_hole(assembly: Assembly, instance: str) -> Assembly:
    """One of an instance's part for every hole like the one it is in, and they follow that part from now on: as many as
    it has such holes. Raises Refusal when it is in no hole, or there is no other.
    """
    relation = hole_of(assembly, instance)
    if relation is None:
        raise Refusal("Put it into a hole first: pick the hole and its shank.")
    hole = relation.a if relation.b.instance == instance else relation.b
    if len(such_holes(assembly.part_of(hole.instance), hole.face)) < 2:
        raise Refusal("That part has no other such hole.")
    if any(f.leader == instance for f in assembly.follows):
        raise Refusal("It is in every such hole already.")
    follow = Follow(id=f"k{assembly.next_id}", leader=instance, hole=hole, made=((hole.face, instance),))
    return followed(replace(assembly, follows=(*assembly.follows, follow), next_id=assembly.next_id + 1))


def followed(assembly: Assembly) -> Assembly:
    """With as many of what follows holes as there are holes: new ones put in, those without a hole taken out."""
    for follow in assembly.follows:
        there = {i.id for i in assembly.instances}
        if follow.leader not in there or follow.hole.instance not in there:
            assembly = replace(assembly, follows=tuple(f for f in assembly.follows if f.id != follow.id))
            continue
        holes = such_holes(assembly.part_of(follow.hole.instance), follow.hole.face)
        made = dict(follow.made)
        for face in [f for f in made if f not in holes and made[f] != follow.leader]:
            if made[face] in there:
                assembly = edits.remove(assembly, made[face])
            del made[face]
        for face in holes:
            if face not in made:
                assembly, made[face] = _another(assembly, follow, face)
        changed = replace(follow, made=tuple(made.items()))
        assembly = replace(assembly, follows=tuple(changed if f.id == follow.id else f for f in assembly.follows))
    return assembly


def _another(assembly: Assembly, follow: Follow, face: str) -> tuple[Assembly, str]:
    """One more of the leader's part in another hole, tied as the leader is."""
    host, leader = assembly.part_of(follow.hole.instance), assembly.instance(follow.leader)
    old, new = host.surface(follow.hole.face), host.surface(face)
    assert old is not None and new is not None
    turn = rotation(assembly.instance(follow.hole.instance).pose)
    way = turn @ np.subtract(new.center, old.center)
    x, y, z = (float(v) for v in np.add(leader.pose.place, way))
    own = [r for r in assembly.relations if _between(r, follow.leader, follow.hole.instance)]
    pose = replace(leader.pose, place=(x, y, z))
    assembly, (name,) = edits.insert(assembly, assembly.part(leader.part), [pose])
    assembly = edits.change_instance(assembly, name, grounded=False)
    for relation in own:
        mine, its = (relation.a, relation.b) if relation.a.instance == follow.leader else (relation.b, relation.a)
        there = End(its.instance, _moved(host, its.face, follow.hole.face, face))
        here = End(name, mine.face)
        a, b = (here, there) if relation.a.instance == follow.leader else (there, here)
        assembly, _ = edits.relate(assembly, relation.kind, a, b, relation.value, relation.opposed)
    return assembly, name


def _between(relation: Relation, one: str, two: str) -> bool:
    return {relation.a.instance, relation.b.instance} == {one, two} and relation.kind not in ("angle", "fixed")


def _moved(part: PartShot, face: str, old: str, new: str) -> str:
    """The face that is to the new hole what ``face`` is to the old one: the hole itself, its seat, or the very same."""
    if face == old:
        return new
    if any(name == face for name, *_ in _beside(part, new)):
        return face
    before, now, own = part.surface(old), part.surface(new), part.surface(face)
    assert before is not None and now is not None and own is not None
    way = np.subtract(now.center, before.center)
    for name, s in zip(part.references, part.surfaces, strict=True):
        alike = s.kind == own.kind and math.isclose(s.area, own.area, rel_tol=1e-4)
        if alike and float(np.linalg.norm(np.subtract(s.center, own.center) - way)) < 10 * _CLOSE:
            return name
    return face
