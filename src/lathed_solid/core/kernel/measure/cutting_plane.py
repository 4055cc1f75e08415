"""Where a section plane lies: a main plane, that of a picked face, through a picked axis, midway between two faces."""

from __future__ import annotations

from collections.abc import Sequence

from ...refusal import Refusal
from ...tolerance import PARALLEL
from ..ground.figures import Surface, Vector
from ..ground.geometry import Frame, cross, dot, flat_frame, frame_about, minus, shifted, unit
from ..ground.placing import moved_frame, turning_about

_ZERO: Vector = (0.0, 0.0, 0.0)
#: Planes through zero: across Y through the turning axis (level Z, upright X, as the front view shows it), across X, Z.
MAIN: dict[str, Frame] = {
    "y": Frame(_ZERO, (0.0, 0.0, 1.0), (1.0, 0.0, 0.0)),
    "x": Frame(_ZERO, (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
    "z": Frame(_ZERO, (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
}


class NoPlane(Refusal):
    """What is picked tells no plane; the text says what would."""


def cutting_frame(base: str, picked: Sequence[Surface], offset: float, turn: float) -> Frame:
    """The frame of a section; what its normal points to is taken away.

    ``base`` is ``x``, ``y``, ``z`` or ``picked``; ``offset`` (mm) shifts it along its normal after ``turn`` (radians):
    a main plane turns about Z (that across Z about X), a flat face about its level line, a plane through a picked axis
    about that. Raises NoPlane.
    """
    frame = MAIN[base] if base in MAIN else _of_picked(picked)
    if base in MAIN:
        about = (1.0, 0.0, 0.0) if base == "z" else (0.0, 0.0, 1.0)
    else:
        about = frame.x
    turned = moved_frame(frame, turning_about(frame.origin, about, turn)) if turn else frame
    return shifted(turned, offset)


def _of_picked(picked: Sequence[Surface]) -> Frame:
    if not picked:
        raise NoPlane("Pick a flat face, a round one, or two parallel flat faces to cut midway.")
    first = picked[0]
    if first.kind == "plane":
        frame = flat_frame(first.origin, first.axis)
        if len(picked) < 2:
            return frame
        second = picked[1]
        if second.kind != "plane" or abs(dot(first.axis, second.axis)) < 1 - PARALLEL:
            raise NoPlane("The two faces are not flat and parallel, so nothing lies midway between them.")
        return shifted(frame, dot(minus(second.origin, first.origin), first.axis) / 2)
    if first.kind in ("cylinder", "cone", "torus"):
        across = unit(cross(first.axis, frame_about(first.origin, first.axis).x))
        return Frame(first.origin, first.axis, unit(cross(across, first.axis)))
    if first.kind == "sphere":
        return MAIN["y"]._replace(origin=first.origin)
    raise NoPlane("This face has neither a plane nor an axis. Pick a flat or a round one.")
