"""From an assembly's parts to their solids, for what needs them."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from ...fit.clearance import Clearances, Pair, clearances, first_in_the_way, met_on_the_way, reach_of
from ...fit.edits import standing
from ...fit.model import Assembly, PartShot, Pose
from ...fit.poses import rotation
from ...kernel.ground.figures import Vector
from ...refusal import Refusal
from ..attachments import NoAttachment, Store

if TYPE_CHECKING:
    from ...kernel.measure.bodies import Body

#: Solids made ready are kept for so many distinct parts.
_KEPT = 64
#: Hatch lines lie this share of the assembly's size apart.
_LINES = 90.0
_ready: dict[str, Body] = {}


def body_of(store: Store) -> Callable[[PartShot], Body]:
    """The solid of a part, made ready once a process. Raises Refusal when it is not at hand."""

    def found(part: PartShot) -> Body:
        from ...kernel.ground.picture import from_bytes
        from ...kernel.measure.bodies import Body

        if part.shape not in _ready:
            try:
                solid = store.get(part.shape)
            except NoAttachment:
                raise Refusal(f"The solid of {part.called} is not at hand. Take the part anew from its file.") from None
            while len(_ready) >= _KEPT:
                _ready.pop(next(iter(_ready)))
            _ready[part.shape] = Body(from_bytes(solid), part.surfaces)
        return _ready[part.shape]

    return found


def judged(assembly: Assembly, store: Store, going: Callable[[], object] = lambda: None) -> Clearances:
    """Every near pair of an assembly (see ``fit.clearance``). Raises Refusal."""
    return clearances(assembly, body_of(store), going)


def met_now(
    assembly: Assembly, poses: tuple[Pose, ...], store: Store, going: Callable[[], object] = lambda: None
) -> tuple[Pair, ...]:
    """What an assembly runs into with its instances standing so (see ``fit.clearance.met_on_the_way``)."""
    return met_on_the_way(assembly, standing(assembly, poses), body_of(store), going)


def first_met(
    assembly: Assembly, moments: Sequence[tuple[Pose, ...]], store: Store, going: Callable[[], object] = lambda: None
) -> tuple[int, Pair] | None:
    """Of an assembly whose instances stand in turn as ``moments`` say, the first in which two overlap."""
    return first_in_the_way([standing(assembly, poses) for poses in moments], body_of(store), going)


def cut_open(
    assembly: Assembly, origin: Vector, normal: Vector, whole: Collection[str], store: Store,
    going: Callable[[], object] = lambda: None,
) -> bytes:  # fmt: skip
    """Outlines and hatch lines where a plane cuts an assembly as it stands, but for the instances left ``whole``; as
    edges to be drawn. Raises Refusal.
    """
    from ...kernel.ground.picture import to_bytes
    from ...kernel.measure.slices import hatched

    solid = body_of(store)
    low, high = reach_of(assembly)
    cut = []
    for instance in assembly.instances:
        going()
        if instance.id not in whole and not instance.hidden:
            place = np.column_stack([rotation(instance.pose), instance.pose.place])
            number = [p.id for p in assembly.parts].index(instance.part)
            body = solid(assembly.part(instance.part))
            cut += [(member.solid.transform(place), number + k) for k, member in enumerate(body.members or [body])]
    return to_bytes(hatched(cut, origin, normal, math.dist(low, high) / _LINES))


def write_assembly(assembly: Assembly, path: Path, store: Store) -> None:
    """STEP with the assembly's structure: each distinct part once, named and coloured, and where it stands. Raises
    Refusal or OSError.
    """
    from ...kernel.files.step import Component, write_structure
    from ...kernel.ground.placing import rigid

    solid = body_of(store)
    components = [
        Component(
            instance.part,
            solid(assembly.part(instance.part)).shape,
            assembly.part(instance.part).called,
            assembly.part(instance.part).color or (0.66, 0.68, 0.71),
            rigid(rotation(instance.pose).tolist(), instance.pose.place),
        )
        for instance in assembly.instances
    ]
    write_structure(path, assembly.number or assembly.title or path.stem, components)
