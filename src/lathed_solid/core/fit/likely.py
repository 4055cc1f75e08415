"""What two picked faces most likely are to each other: offered first, and previewed."""

from __future__ import annotations

from collections.abc import Iterator

from .features import Feature, feature_at
from .kinds import KINDS
from .model import Assembly, End, RelationKind

#: A shaft and its hole differ by no more than this share of the hole's diameter.
_NEAR = 0.15


def likely(assembly: Assembly, a: End, b: End) -> tuple[RelationKind, ...]:
    """The relations that two faces can have, the likeliest first. Raises Refusal for faces that offer nothing."""
    one, two = feature_at(assembly, a), feature_at(assembly, b)
    every = [k for k, kind in KINDS.items() if kind.takes(one, two)]
    first = [k for k in _likely(one, two) if k in every]
    return (*first, *(k for k in every if k not in first))


def _likely(a: Feature, b: Feature) -> Iterator[RelationKind]:
    shapes = {a.shape, b.shape}
    if shapes == {"flat"}:
        yield "seated"
        yield "flush"
    elif "ball" in shapes:
        yield "tangent" if "cone" in shapes or "flat" in shapes else "on"
    elif "flat" in shapes:
        yield "tangent"
    elif fits(a, b):
        yield "in line"
    elif a.hollow == b.hollow and a.shape == b.shape == "round":
        # Two bores are lined up for a bolt, two shafts stand beside each other.
        yield "in line" if a.hollow else "tangent"
    else:
        yield "in line"


def fits(a: Feature, b: Feature) -> bool:
    """Whether one of two round faces is a hole of nearly the other's size."""
    if not (a.radius and b.radius) or a.hollow == b.hollow:
        return False
    hole, shaft = (a, b) if a.hollow else (b, a)
    return abs(hole.radius - shaft.radius) <= _NEAR * hole.radius
