"""An assembly put into another: one piece there, whose faces are named by the instance they are on; or taken apart."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from msgspec.structs import replace

from ...fit import edits
from ...fit.mass import bill, weigh
from ...fit.model import Assembly, End, Instance, Member, PartShot
from ...fit.poses import placed, pose_of, rotation
from ...refusal import Refusal
from ..attachments import Store
from .files import load_assembly
from .paths import relative, stamp_of

if TYPE_CHECKING:
    from ...kernel.ground.topology import Shape

#: A face of a member is called by its instance and its own name, with this between.
_IN = "/"


class Inside(NamedTuple):
    """An assembly's part as one piece: the shot without its solid's figures, and its solids where they stand, with the
    names of their faces.
    """

    part: PartShot
    solids: tuple[Shape, ...]
    names: tuple[str, ...]


def inside(path: Path, where: str, stamp: str, store: Store) -> Inside:
    """The assembly in a file as a part. Raises Refusal for one that has nothing in it, or whose solids are lost."""

    from ...kernel.ground.picture import from_bytes
    from ...kernel.ground.placing import standing
    from ...kernel.ground.topology import faces

    opened = load_assembly(path, store)
    if opened.lost:
        raise Refusal(f"{path.name} lacks {'; '.join(opened.lost)}. Open it by itself and take its parts anew first.")
    assembly = opened.assembly
    if not assembly.instances:
        raise Refusal(f"{path.name} is an assembly with no part in it yet.")
    known = {p.shape: from_bytes(store.get(p.shape)) for p in assembly.parts}
    solids, names = [], list[str]()
    for instance in assembly.instances:
        part = assembly.part(instance.part)
        own = known[part.shape]
        solids.append(standing(own, rotation(instance.pose).tolist(), instance.pose.place))
        if len(part.references) != len(faces(own)):
            raise Refusal(f"{part.called} in {path.name} is not whole. Open it by itself and take it anew first.")
        names += [instance.id + _IN + name for name in part.references]
    return Inside(_as_part(assembly, where, stamp), tuple(solids), tuple(names))


def _as_part(assembly: Assembly, where: str, stamp: str) -> PartShot:
    weight = weigh(assembly)
    density = weight.grams / weight.volume * 1000.0 if weight.volume and not weight.unweighed else 0.0
    xx, yy, zz, xy, xz, yz = (v / density * 1000.0 if density else v for v in weight.inertia)
    return PartShot(
        id="", path=where, stamp=stamp, number=assembly.number, title=assembly.title, revision=assembly.revision,
        density=density, volume=weight.volume, center=weight.center,
        inertia=(xx, yy, zz, xy, xz, yz),
        threads=tuple(replace(t, face=i.id + _IN + t.face) for i, p in _each(assembly) for t in p.threads),
        sized=tuple(
            replace(s, face=i.id + _IN + s.face, other=s.other and i.id + _IN + s.other)
            for i, p in _each(assembly) for s in p.sized
        ),
        members=tuple(
            Member(line.many, line.part.number, line.part.name, line.part.material, line.grams or 0.0)
            for line in bill(assembly)
        ),
    )  # fmt: skip


def _each(assembly: Assembly) -> Iterator[tuple[Instance, PartShot]]:
    for instance in assembly.instances:
        yield instance, assembly.part(instance.part)


def taken_apart(assembly: Assembly, instance: str, inner: Assembly, rebased: dict[str, str]) -> Assembly:
    """With the parts of an inner assembly in place of the instance that stood for it, where they stood, and its
    relations; those that took hold of the piece now take hold of the part the face is on. ``rebased`` gives the paths
    of its parts as this assembly keeps them.
    """
    whole = assembly.instance(instance)
    turn, made = rotation(whole.pose), dict[str, str]()
    outer, parts = assembly, {p.id: p for p in inner.parts}
    for own in inner.instances:
        shot = replace(parts[own.part], path=rebased.get(parts[own.part].path, parts[own.part].path))
        pose = pose_of(turn @ rotation(own.pose), placed(whole.pose, np.array(own.pose.place)))
        outer, (name,) = edits.insert(outer, shot, [pose])
        outer = edits.change_instance(outer, name, grounded=own.grounded and whole.grounded, hidden=own.hidden)
        made[own.id] = name

    def held(end: End) -> End:
        inside, _, face = end.face.partition(_IN)
        return End(made[inside], face) if end.instance == instance and inside in made else end

    relations = [replace(r, a=held(r.a), b=held(r.b)) for r in outer.relations]
    for r in inner.relations:
        ends = (End(made[r.a.instance], r.a.face), End(made[r.b.instance], r.b.face))
        relations.append(replace(r, id=f"r{outer.next_id}", a=ends[0], b=ends[1]))
        outer = replace(outer, next_id=outer.next_id + 1)
    return edits.remove(replace(outer, relations=tuple(relations)), instance)


def inner_of(assembly: Assembly, instance: str, base: Path, store: Store) -> tuple[Assembly, dict[str, str]]:
    """The assembly that an instance stands for, from its file, and its parts' paths as kept from ``base``. Raises
    Refusal when its file is gone or another than what was put in.
    """
    part = assembly.part_of(instance)
    path = base / part.path
    if not part.members or not path.exists():
        raise Refusal(f"{part.called} cannot be taken apart: its file {part.path} is not found.")
    if stamp_of(path) != part.stamp:
        raise Refusal(f"{part.called} has changed since it was put in. Take it anew first (Newer parts?).")
    inner = load_assembly(path, store).assembly
    there = {p.path: relative(path.parent / p.path, base) for p in inner.parts if p.path and ":" not in p.path}
    return inner, there
