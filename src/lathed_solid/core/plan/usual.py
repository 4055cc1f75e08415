"""Where zero usually sits: on the spindle's axis at either end, on a top corner or in the middle of the top."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import msgspec

from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import dot
from ..refusal import Refusal
from ..route.model import FaceRef
from ..tolerance import LEVEL
from .zero import Find, Mark, Zero, axes

#: What is offered, turned and milled; a sign says which extreme of an axis, "m" the middle of both.
TURNED = (("left face, on the axis", "  -"), ("right face, on the axis", "  +"))
MILLED = (
    ("top, front left corner", "--+"), ("top, front right corner", "+-+"), ("top, back left corner", "-++"),
    ("top, back right corner", "+++"), ("top, in the middle", "mm+"), ("bottom, front left corner", "---"),
)  # fmt: skip
Named = Sequence[tuple[Surface, FaceRef]]


def set_to(zero: Zero, how: str, faces: Named, find: Find, words: Callable[[int], str]) -> Zero:
    """Zero at one of the usual places; ``how`` has a sign for each axis, a blank for the part's own.

    Raises Refusal when the part has no flat face there.
    """
    marks = {}
    for name, sign, way in zip("xyz", how, axes(zero, find), strict=True):
        if sign == " ":
            marks[name] = Mark()
        elif sign == "m":
            marks[name] = Mark(faces=(_outermost(faces, way, -1, name, words), _outermost(faces, way, 1, name, words)))
        else:
            marks[name] = Mark(faces=(_outermost(faces, way, 1 if sign == "+" else -1, name, words),))
    return msgspec.structs.replace(zero, **marks)


def _outermost(faces: Named, way: Vector, side: int, name: str, words: Callable[[int], str]) -> FaceRef:
    """The flat face that looks that way and lies farthest out."""
    there = [(side * dot(s.origin, way), s.area, s, ref) for s, ref in faces if _looks(s, way, side)]
    if not there:
        raise Refusal(f"The part has no flat face at that end of {name.upper()}. Pick where it counts from.")
    farthest = max(t for t, _, _, _ in there)
    _, _, surface, ref = max((t for t in there if t[0] > farthest - LEVEL), key=lambda t: t[1])
    return msgspec.structs.replace(ref, was=words(surface.index))


def _looks(s: Surface, way: Vector, side: int) -> bool:
    return s.kind == "plane" and side * dot(s.axis, way) > 1 - LEVEL
