"""The part under a sketch that lies on one of its faces, there to snap to and size from without being taken first.

The outline of the face itself, called ``face``, bounds areas; the other edges of the part are only seen. All of them
are projections like any other, and only shown: what is stored has just those that something drawn or said refers to.
"""

from __future__ import annotations

import zlib
from collections.abc import Iterable
from typing import NamedTuple

import msgspec

from .model import Entity, Projected, Sketch, stands_on

SHADOW = "face"
#: How the names of all other edges begin.
PART = "part"


class Ghost(NamedTuple):
    """Lines of the part as they lie in a sketch's plane, and the projections they belong to."""

    entities: tuple[Entity, ...] = ()
    items: tuple[Projected, ...] = ()


def lies_on_part(sketch: Sketch) -> bool:
    """Whether the part is to be seen under a sketch."""
    return sketch.plane.base == "face" and bool(sketch.plane.on)


def wants_outline(sketch: Sketch) -> bool:
    """Whether the outline of the face under it was not taken yet."""
    has = any(p.mode == "silhouette" and p.a == sketch.plane.on for p in sketch.projected)
    return lies_on_part(sketch) and not has and SHADOW not in sketch.taken


def shadow_of(sketch: Sketch) -> Projected:
    return Projected(id=SHADOW, mode="silhouette", a=sketch.plane.on, was="the face under the plate")


def edge_of_part(a: str, b: str) -> Projected:
    """The edges between two faces of the part; one pair of faces always has the same name."""
    name = f"{PART}{zlib.crc32(f'{a}|{b}'.encode()):08x}"
    return Projected(id=name, mode="edge", a=a, b=b, was=f"the edge between {a} and {b}")


def with_part(sketch: Sketch, ghost: Ghost) -> Sketch:
    """The sketch with the part under it among its taken lines."""
    known = {p.id for p in sketch.projected}
    new = tuple(i for i in ghost.items if i.id not in known and (i.id != SHADOW or wants_outline(sketch)))
    heads = {i.id for i in new}
    if not new:
        return sketch
    lines = tuple(e for e in ghost.entities if _head(e.id) in heads)
    return msgspec.structs.replace(sketch, entities=(*lines, *sketch.entities), projected=(*sketch.projected, *new))


def without_part(sketch: Sketch, named: Iterable[str] = ()) -> Sketch:
    """The sketch as it is stored: lines of the part only where something refers to them, or ``named`` to be kept."""
    lent = {p.id for p in sketch.projected if _is_lent(p.id)}
    if not lent:
        return sketch
    own = [e for e in sketch.entities if _head(e.id) not in lent]
    spoken = {p for e in own for p in stands_on(e)}
    spoken |= {i for r in sketch.relations for i in r.of} | {i for d in sketch.dimensions for i in d.of}
    spoken |= {i for r in sketch.repeats for i in (*r.of, r.center, r.along, r.across)} | set(named)
    drawn = {_head(e.id) for e in sketch.entities if not getattr(e, "construction", True)}
    kept = lent & ({_head(i) for i in spoken if "." in i} | drawn)
    # Edges of the part that meet share the point between them: one that is kept keeps the other.
    while more := {_head(p) for e in sketch.entities if _head(e.id) in kept for p in stands_on(e)} & lent - kept:
        kept |= more
    gone = lent - kept
    if not gone:
        return sketch
    return msgspec.structs.replace(
        sketch,
        entities=tuple(e for e in sketch.entities if _head(e.id) not in gone),
        projected=tuple(p for p in sketch.projected if p.id not in gone),
    )


def in_shadow(id_: str) -> bool:
    """Whether an element is a line of the part that was not taken by hand."""
    return "." in id_ and _is_lent(_head(id_))


def of_part(id_: str) -> bool:
    """Whether it is one of the edges that bound no area."""
    return in_shadow(id_) and _head(id_) != SHADOW


def _head(id_: str) -> str:
    return id_.partition(".")[0]


def _is_lent(head: str) -> bool:
    return head == SHADOW or (head.startswith(PART) and len(head) == len(PART) + 8)
