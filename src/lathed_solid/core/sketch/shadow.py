"""The outline of the face under a sketch, there to snap to and size from without being taken first.

A shadow is a projection like any other, called ``face``. It is only shown: what is stored has it just when something
drawn or said refers to it.
"""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from .model import Entity, Projected, Sketch, stands_on

SHADOW = "face"


def wants_shadow(sketch: Sketch) -> bool:
    """Whether a sketch lies on a face whose outline it has not taken yet."""
    plane = sketch.plane
    has = any(p.mode == "silhouette" and p.a == plane.on for p in sketch.projected)
    return plane.base == "face" and bool(plane.on) and not has and SHADOW not in sketch.taken


def shadow_of(sketch: Sketch) -> Projected:
    return Projected(id=SHADOW, mode="silhouette", a=sketch.plane.on, was="the face under the plate")


def with_shadow(sketch: Sketch, outline: Iterable[Entity]) -> Sketch:
    """The sketch with the outline of its face among its taken lines."""
    if not wants_shadow(sketch):
        return sketch
    return msgspec.structs.replace(
        sketch,
        entities=(*outline, *sketch.entities),
        projected=(*sketch.projected, shadow_of(sketch)),
    )


def without_shadow(sketch: Sketch, named: Iterable[str] = ()) -> Sketch:
    """The sketch as it is stored: the outline stays only where something refers to it, or is ``named`` to be kept."""
    own = [e for e in sketch.entities if not in_shadow(e.id)]
    spoken = {p for e in own for p in stands_on(e)}
    spoken |= {i for r in sketch.relations for i in r.of} | {i for d in sketch.dimensions for i in d.of}
    spoken |= {i for r in sketch.repeats for i in (*r.of, r.center, r.along, r.across)} | set(named)
    used = any(in_shadow(i) for i in spoken)
    drawn = any(not getattr(e, "construction", True) for e in sketch.entities if in_shadow(e.id))
    if used or drawn or all(p.id != SHADOW for p in sketch.projected):
        return sketch
    return msgspec.structs.replace(
        sketch, entities=tuple(own), projected=tuple(p for p in sketch.projected if p.id != SHADOW)
    )


def in_shadow(id_: str) -> bool:
    return id_.partition(".")[0] == SHADOW and "." in id_
