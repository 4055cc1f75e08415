"""What a face offers a relation: a plane, an axis, a point, with its radius."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

from ..kernel.ground.figures import Surface, Vector
from ..refusal import Refusal
from .model import Assembly, End

Shape = Literal["flat", "round", "cone", "ball"]
_SHAPES: dict[str, Shape] = {"plane": "flat", "cylinder": "round", "torus": "round", "cone": "cone", "sphere": "ball"}


class Gone(Refusal):
    """A relation takes hold of a face that its part has no more. ``end`` is what it took hold of."""

    def __init__(self, end: End, called: str) -> None:
        super().__init__(
            f"A face it takes hold of is not on {called} any more. Pick it again, or take the relation off."
        )
        self.end = end


class Feature(NamedTuple):
    """A face as relations see it, in its part's own axes: ``along`` is the outward normal of a flat, the axis of a
    round face or cone (in which a cone widens), ``at`` a point on it, a cone's apex, a ball's centre. mm, radians.
    """

    shape: Shape
    at: Vector
    along: Vector
    radius: float = 0.0
    hollow: bool = False
    half_angle: float = 0.0

    @property
    def has_axis(self) -> bool:
        return self.shape in ("round", "cone")


def feature_of(surface: Surface) -> Feature:
    """What a measured face offers. Raises Refusal for a face that is neither flat nor round."""
    shape = _SHAPES.get(surface.kind)
    if shape is None:
        raise Refusal("This face is neither flat nor round: nothing can be put to it. Pick a flat or a round face.")
    at = surface.origin
    if shape == "cone":
        back = surface.radius / math.tan(surface.half_angle)
        x, y, z = (p - back * a for p, a in zip(surface.origin, surface.axis, strict=True))
        at = (x, y, z)
    radius = surface.radius if surface.kind in ("cylinder", "sphere") else 0.0
    return Feature(shape, at, surface.axis, radius, surface.hollow, surface.half_angle)


def feature_at(assembly: Assembly, end: End) -> Feature:
    """What a relation takes hold of. Raises Gone when the part has not that face any more, or another Refusal."""
    part = assembly.part_of(end.instance)
    surface = part.surface(end.face)
    if surface is None:
        raise Gone(end, assembly.called(end.instance))
    if surface.kind == "other" and (thread := next((t for t in part.threads if t.has(end.face)), None)) is not None:
        surface = part.carrier(thread) or surface
    return feature_of(surface)
