"""What no sketch of a part can have: places and sizes farther off than any part reaches."""

from __future__ import annotations

from .model import Circle, Ellipse, Entity, Point, Sketch, Spline, Text
from .refusal import SketchError

#: No part has anything as far off as this, mm.
FAR = 1e6


def can_be(entity: Entity) -> bool:
    """Whether an element has places and sizes that a part can have."""
    if isinstance(entity, Point):
        return abs(entity.x) < FAR and abs(entity.y) < FAR
    if isinstance(entity, Spline):
        return len(entity.through) > 1
    size = {Circle: "radius", Ellipse: "minor", Text: "height"}.get(type(entity))
    return size is None or 0 < getattr(entity, size) < FAR


def within_reach(sketch: Sketch) -> Sketch:
    """The sketch itself. Raises SketchError when something of it lies farther off than can be saved and read again."""
    if not all(map(can_be, sketch.entities)):
        raise SketchError(
            f"Something of the sketch “{sketch.name}” would lie more than a kilometre off, or have no size. Look at "
            "the last size: is a digit too many, or its unit another?"
        )
    return sketch
