"""Rings, rows and mirror copies of instances: made, changed, and kept to the number they say."""

from __future__ import annotations

from functools import reduce

import numpy as np
from msgspec.structs import replace

from ..refusal import Refusal
from . import edits
from .features import Gone, feature_at
from .model import Assembly, End, PartShot, Repeat, RepeatKind
from .poses import placed, pose_of, rotation
from .statement import image
from .values import many_of


def repeated(
    assembly: Assembly, kind: RepeatKind, leader: str, about: End, many: str = "2", spread: str = "",
    other_hand: PartShot | None = None,
) -> tuple[Assembly, str]:  # fmt: skip
    """With copies of an instance about a face, and the repeat's id; a mirror copy is of the part's ``other_hand``.
    Raises Refusal.
    """
    feature = feature_at(assembly, about)
    if kind == "ring" and not feature.has_axis:
        raise Refusal("A ring goes about an axis: pick a round face.")
    if kind == "mirror" and feature.shape != "flat":
        raise Refusal("A mirror copy stands on the other side of a flat face: pick one.")
    if kind == "row" and feature.shape == "ball":
        raise Refusal("A row goes along an axis or square to a flat: pick a round or flat face.")
    repeat = Repeat(
        id=f"k{assembly.next_id}", kind=kind, leader=leader, about=about, many=many, spread=spread
    )  # fmt: skip
    assembly = replace(assembly, repeats=(*assembly.repeats, repeat), next_id=assembly.next_id + 1)
    if other_hand is not None:
        assembly, made = edits.insert(assembly, other_hand, [assembly.instance(leader).pose])
        assembly = _set(assembly, replace(repeat, made=made))
    return in_number(assembly), repeat.id


def changed(assembly: Assembly, repeat: str, many: str, spread: str) -> Assembly:
    """With other figures of a repeat. Raises Refusal."""
    own = repeat_of(assembly, repeat)
    return in_number(_set(assembly, replace(own, many=many, spread=spread)))


def set_free(assembly: Assembly, repeat: str) -> Assembly:
    """Without a repeat; its copies stay where they are and go their own way."""
    return replace(assembly, repeats=tuple(r for r in assembly.repeats if r.id != repeat))


def repeat_of(assembly: Assembly, repeat: str) -> Repeat:
    return next(r for r in assembly.repeats if r.id == repeat)


def in_number(assembly: Assembly) -> Assembly:
    """With as many copies as each repeat says. Raises Refusal for a number that cannot be read."""
    for repeat in assembly.repeats:
        there = {i.id for i in assembly.instances}
        made = tuple(name if name in there else "" for name in repeat.made)
        wanted = many_of(repeat, assembly) - 1
        for out in filter(None, made[wanted:]):
            assembly = edits.remove(assembly, out)
        made = made[:wanted]
        if missing := wanted - len(made):
            leader = assembly.instance(repeat.leader)
            assembly, new = edits.insert(assembly, assembly.part(leader.part), [leader.pose] * missing)
            free = lambda a, i: edits.change_instance(a, i, grounded=False)  # noqa: E731
            assembly, made = reduce(free, new, assembly), (*made, *new)
        repeat = replace(repeat, made=made)
        assembly = _standing(_set(assembly, repeat), repeat)
    return assembly


def _standing(assembly: Assembly, repeat: Repeat) -> Assembly:
    """With the copies where they belong: so that bringing all together moves nothing else."""
    about, leader = assembly.instance(repeat.about.instance).pose, assembly.instance(repeat.leader).pose
    try:
        feature = feature_at(assembly, repeat.about)
    except Gone:
        return assembly
    base, hand = rotation(about), np.diag((-1.0, 1.0, 1.0)) if repeat.kind == "mirror" else np.eye(3)
    pivot = placed(about, np.array(feature.at))
    for number, name in enumerate(repeat.made, 1):
        if name:
            turn, shift = image(repeat, np.array(feature.along), number, assembly)
            own = base @ turn @ base.T
            place = own @ np.subtract(leader.place, pivot) + pivot + base @ shift
            pose = pose_of(own @ rotation(leader) @ hand, place)
            assembly = edits.change_instance(assembly, name, pose=pose)
    return assembly


def _set(assembly: Assembly, repeat: Repeat) -> Assembly:
    return replace(assembly, repeats=tuple(repeat if r.id == repeat.id else r for r in assembly.repeats))
