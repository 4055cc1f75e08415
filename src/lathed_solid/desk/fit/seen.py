"""How parts of an assembly look: their colours, the arrows of what moves, the items of the bill."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...core.fit.freedom import Motion
from ...core.fit.mass import Line, bill
from ...core.fit.model import Assembly, PartShot, Pose
from ...core.fit.poses import across, placed, rotation
from ...core.kernel.ground.figures import Vector
from ..viewport.arrows import Arrow

Color = tuple[float, float, float]
#: A part whose material has no colour.
PLAIN: Color = (0.66, 0.68, 0.71)
#: Colours that tell parts from each other, and those that move from those that are held.
_SET: tuple[Color, ...] = (
    (0.55, 0.65, 0.75), (0.80, 0.65, 0.32), (0.62, 0.72, 0.58), (0.76, 0.55, 0.48), (0.64, 0.58, 0.72),
    (0.70, 0.70, 0.66),
)  # fmt: skip
_MOVES: tuple[Color, ...] = (PLAIN, (0.48, 0.66, 0.78), (0.44, 0.70, 0.56), (0.86, 0.68, 0.36))
#: How much of the brass a chosen part takes on.
_TINT, _BRASS = 0.45, (0.88, 0.65, 0.24)
#: Arrows reach so far past the part.
_PAST = 1.2


def of_part(part: PartShot) -> Color:
    """A colour that tells a part from its neighbours in the bill."""
    return _SET[part.item % len(_SET)]


def of_ways(ways: int) -> Color:
    """A colour that tells how many ways something can move."""
    return _MOVES[min(ways, len(_MOVES) - 1)]


def tinted(color: Color, chosen: bool) -> Color:
    """A colour as it is, or with the brass of what is chosen."""
    if not chosen:
        return color
    r, g, b = (c + _TINT * (t - c) for c, t in zip(color, _BRASS, strict=True))
    return r, g, b


def arrow_of(motion: Motion, part: PartShot, pose: Pose) -> Arrow:
    """The arrow of a free way: round the part, or along it."""
    along, turn = np.array(motion.direction), rotation(pose)
    half = np.ptp(np.array(part.box), axis=0) / 2
    middle = placed(pose, np.mean(part.box, axis=0))
    if motion.way == "slides":
        size, at = _PAST * float(np.abs(turn.T @ along) @ half), middle
    else:
        axis = np.array(motion.at)
        at = axis + float((middle - axis) @ along) * along
        size = _PAST * max(float(np.abs(turn.T @ across_) @ half) for across_ in across(along))
    x, y, z = (float(v) for v in at)
    return Arrow(motion.way != "slides", (x, y, z), motion.direction, size)


def items_in(assembly: Assembly) -> Iterator[tuple[Line, Vector]]:
    """Every line of the bill, and a place on one of its parts as they stand: the first that is not hidden."""
    for line in bill(assembly):
        own = next((i for i in assembly.instances if i.part == line.part.id and not i.hidden), None)
        if own is not None:
            x, y, z = (float(v) for v in placed(own.pose, np.mean(line.part.box, axis=0)))
            yield line, (x, y, z)
