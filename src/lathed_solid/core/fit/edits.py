"""What can be done to an assembly, each a pure function. What would leave it unmet is refused and changes nothing."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import msgspec
import numpy as np

from ..arrays import Floats
from ..drafting.sheet.changing import remove_label
from ..kernel.ground.figures import Vector
from ..refusal import Refusal
from .features import feature_at
from .kinds import KINDS
from .mass import bill
from .model import Assembly, End, Instance, PartShot, Pose, Relation, RelationKind, Repeat
from .poses import aimed, placed, pose_of, rotation
from .statement import COUPLED, tied
from .values import value_of

replace = msgspec.structs.replace


def insert(assembly: Assembly, shot: PartShot, poses: Iterable[Pose] = (Pose(),)) -> tuple[Assembly, tuple[str, ...]]:
    """One instance of a part at each pose, and their ids. The first part of an assembly is grounded where it stands."""
    known = next((p for p in assembly.parts if p.path and (p.path, p.other_hand) == (shot.path, shot.other_hand)), None)
    identifier = known.id if known is not None else f"p{assembly.next_id}"
    number = assembly.next_id + (known is None)
    item = known.item if known is not None else max((p.item for p in assembly.parts), default=0) + 1
    shot = replace(shot, id=identifier, item=item)
    others = tuple(p for p in assembly.parts if p.id != identifier)
    parts = tuple(shot if p.id == identifier else p for p in assembly.parts) if known else (*others, shot)
    made = tuple(
        Instance(id=f"i{number + k}", part=identifier, pose=pose, grounded=not assembly.instances and k == 0)
        for k, pose in enumerate(poses)
    )
    changed = replace(assembly, parts=parts, instances=assembly.instances + made, next_id=number + len(made))
    return changed, tuple(i.id for i in made)


def renewed(assembly: Assembly, shots: Iterable[PartShot]) -> Assembly:
    """With parts as they are now, told by the paths they come from; instances and relations stay."""
    taken = {(s.path, s.other_hand): s for s in shots}
    parts = tuple(replace(taken.get((p.path, p.other_hand), p), id=p.id, item=p.item) for p in assembly.parts)
    return replace(assembly, parts=parts)


def exchanged(assembly: Assembly, part: str, shot: PartShot) -> Assembly:
    """With another part in place of one: all its instances stand where they stood, and relations stay where the other
    part's faces have the same names.
    """
    changed = (replace(shot, id=part, item=p.item) if p.id == part else p for p in assembly.parts)
    return replace(assembly, parts=tuple(changed))


def remove(assembly: Assembly, instance: str) -> Assembly:
    """Without an instance and the relations that take hold of it; a part without instances goes too."""
    instances = tuple(i for i in assembly.instances if i.id != instance)
    used = {i.part for i in instances}
    sheets = assembly.sheets
    for item in (line.item for line in bill(assembly) if line.part.id not in used):
        sheets = tuple(remove_label(s, item) for s in sheets)
    return replace(
        assembly,
        sheets=sheets,
        instances=instances,
        relations=tuple(r for r in assembly.relations if instance not in (r.a.instance, r.b.instance)),
        parts=tuple(p for p in assembly.parts if p.id in used),
        repeats=tuple(_without(assembly.repeats, instance)),
    )


def _without(repeats: Iterable[Repeat], instance: str) -> Iterator[Repeat]:
    """Repeats that do not need an instance; a copy that is taken out leaves a gap."""
    for repeat in repeats:
        if instance in repeat.made:
            made = tuple("" if i == instance else i for i in repeat.made)
            if any(made):
                yield replace(repeat, made=made)
        elif instance not in (repeat.leader, repeat.about.instance):
            yield repeat


def copied(assembly: Assembly, instances: Sequence[str], by: Vector) -> tuple[Assembly, tuple[str, ...]]:
    """With the instances once more, moved by a way (mm), tied to each other as they are; and the new ones' ids."""
    new: dict[str, str] = {}
    for name in instances:
        own = assembly.instance(name)
        assembly, (made,) = insert(assembly, assembly.part(own.part), [moved(own.pose, by)])
        new[name] = made
    relations = list(assembly.relations)
    for r in assembly.relations:
        if r.a.instance in new and r.b.instance in new:
            a, b = End(new[r.a.instance], r.a.face), End(new[r.b.instance], r.b.face)
            relations.append(replace(r, id=f"r{assembly.next_id}", a=a, b=b))
            assembly = replace(assembly, next_id=assembly.next_id + 1)
    return replace(assembly, relations=tuple(relations)), tuple(new.values())


def change_instance(assembly: Assembly, instance: str, **fields: object) -> Assembly:
    """With some fields of an instance changed."""
    changed = tuple(replace(i, **fields) if i.id == instance else i for i in assembly.instances)
    return replace(assembly, instances=changed)


def standing(assembly: Assembly, poses: Iterable[Pose]) -> Assembly:
    """With its instances standing so, in their order."""
    instances = tuple(replace(i, pose=p) for i, p in zip(assembly.instances, poses, strict=True))
    return replace(assembly, instances=instances)


def turned(assembly: Assembly, instance: str, about: Vector, angle: float) -> Assembly:
    """With an instance turned about a direction of the room through the middle of its box (radians)."""
    own = assembly.instance(instance)
    middle = np.mean(assembly.part(own.part).box, axis=0)
    turn = _turned(angle * np.array(about) / np.linalg.norm(about))
    stays = placed(own.pose, middle)
    now = turn @ rotation(own.pose)
    return change_instance(assembly, instance, pose=pose_of(now, stays - now @ middle))


def moved(pose: Pose, by: tuple[float, float, float], about: int = 2, angle: float = 0.0) -> Pose:
    """A pose moved by a way (mm) and turned about an axis of the room (0 to 2) through its own zero (radians)."""
    vector = np.zeros(3)
    vector[about] = angle
    turn = _turned(vector) @ rotation(pose)
    return pose_of(turn, np.add(pose.place, by))


def turned_about(pose: Pose, pivot: Floats, about: int, angle: float) -> Pose:
    """A pose turned about an axis of the room (0 to 2) through a place, radians."""
    vector = np.zeros(3)
    vector[about] = angle
    turn = _turned(vector)
    return pose_of(turn @ rotation(pose), turn @ np.subtract(pose.place, pivot) + pivot)


def relate(
    assembly: Assembly, kind: RelationKind, a: End, b: End, value: str = "", opposed: bool | None = None
) -> tuple[Assembly, str]:
    """With a relation between two faces of different instances, and its id. The side is the one that is nearer, unless
    it is said. Raises Refusal.
    """
    if a.instance == b.instance:
        raise Refusal("Both faces are on one part. A relation ties two parts: pick a face of another.")
    if assembly.instance(a.instance).grounded and assembly.instance(b.instance).grounded:
        raise Refusal("Both parts are fixed to the ground, so nothing could move. Free one of them first.")
    if not KINDS[kind].takes(feature_at(assembly, a), feature_at(assembly, b)):
        raise Refusal(f"“{kind}” needs {KINDS[kind].words}. Pick two such faces.")
    relation = Relation(id=f"r{assembly.next_id}", kind=kind, a=a, b=b, value=value)
    side = _facing(assembly, relation) if opposed is None else opposed
    relation = tied(assembly, replace(relation, opposed=side, said=opposed is not None))
    value_of(relation, assembly)
    return replace(assembly, relations=(*assembly.relations, relation), next_id=assembly.next_id + 1), relation.id


def change_relation(assembly: Assembly, relation: str, **fields: object) -> Assembly:
    """With some fields of a relation changed. Raises Refusal for a value that cannot be read."""
    changed = replace(assembly.relation(relation), **fields)
    if "opposed" in fields:
        changed = replace(changed, said=True)
    if changed.kind in COUPLED | {"fixed"} and fields.keys() & {"value", "opposed", "loose"}:
        changed = tied(assembly, changed)
    value_of(changed, assembly)
    return replace(assembly, relations=tuple(changed if r.id == relation else r for r in assembly.relations))


def unrelate(assembly: Assembly, relation: str) -> Assembly:
    return replace(assembly, relations=tuple(r for r in assembly.relations if r.id != relation))


def _facing(assembly: Assembly, relation: Relation) -> bool:
    """Whether two directions face each other as the parts stand; faces that could be either way are seated opposed."""
    a, b = feature_at(assembly, relation.a), feature_at(assembly, relation.b)
    if relation.kind == "seated":
        return True
    if relation.kind in ("flush", "gear", "rack", "angle"):
        return False
    one = aimed(assembly.instance(relation.a.instance).pose, a.along)
    two = aimed(assembly.instance(relation.b.instance).pose, b.along)
    return bool(one @ two < -1e-9)


def _turned(vector: Floats) -> Floats:
    """The matrix of a turn about a vector, by its length (radians)."""
    from scipy.spatial.transform import Rotation  # the window does not wait for it

    return np.asarray(Rotation.from_rotvec(vector).as_matrix())
