"""How far a sweep runs: through all, a depth, to the next surface, to a face or to a corner."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple, Protocol

from ..tolerance import PARALLEL
from .model import FaceRef, StepFailure, Unfinished
from .workshop import Workshop

if TYPE_CHECKING:
    from ..kernel.ground.geometry import Frame
    from ..kernel.ground.named import NamedBody
    from ..kernel.ground.topology import Face

#: How far a through cut runs past the part, mm.
CLEARANCE = 1.0


class Reaching(Protocol):
    """The fields of a step that sweeps as far as something on its way."""

    @property
    def id(self) -> str: ...
    @property
    def extent(self) -> str: ...
    @property
    def direction(self) -> str: ...
    @property
    def mode(self) -> str: ...
    @property
    def depth(self) -> str: ...
    @property
    def depth2(self) -> str: ...
    @property
    def gap(self) -> str: ...
    @property
    def face(self) -> FaceRef: ...
    @property
    def corner(self) -> tuple[FaceRef, ...]: ...


class Extent(NamedTuple):
    """How far the sweep runs along the plane's normal (``front``) and against it (``back``), mm; then what it stops at.

    ``stop`` trims one finished tool; it is given the tool and the frame it was swept from.
    """

    front: float
    back: float
    stop: Callable[[NamedBody, Frame], NamedBody] | None = None


def extent(step: Reaching, shop: Workshop, frame: Frame) -> Extent:
    """What the fields of an extrude say. Raises StepFailure."""
    if step.extent == "two":
        return Extent(shop.value(step.depth, "Depth"), shop.value(step.depth2, "Depth backward"))
    if step.extent == "depth":
        depth = shop.value(step.depth, "Depth")
        back = {"both": depth / 2, "forward": 0.0, "backward": depth}[step.direction]
        return Extent(depth - back, back)
    if step.extent == "face":
        return _to_face(step, shop, frame)
    if step.extent == "corner":
        return _one_way(_to_corner(step, shop, frame))
    front, back = through(step, shop, frame)
    if step.extent == "next":
        return Extent(front, back, lambda tool, at: _next(tool, at, step, shop))
    return Extent(front, back)


def through(step: Reaching, shop: Workshop, frame: Frame) -> tuple[float, float]:
    from ..kernel.measure.surfaces import reach

    normal, body = frame.normal, shop.body
    reverse = (-normal[0], -normal[1], -normal[2])
    front = 0.0 if step.direction == "backward" else reach(body.shape, frame.origin, normal) + CLEARANCE
    back = 0.0 if step.direction == "forward" else reach(body.shape, frame.origin, reverse) + CLEARANCE
    return front, back


def _one_way(far: float) -> Extent:
    if abs(far) < 1e-9:
        raise StepFailure("What the sweep runs to lies in its own plane. Pick another one, or use a depth.")
    return Extent(far, 0.0) if far > 0 else Extent(0.0, -far)


def _to_corner(step: Reaching, shop: Workshop, frame: Frame) -> float:
    from ..kernel.cut.limits import corner
    from ..kernel.ground.geometry import dot, minus

    if len(step.corner) < 3:
        raise Unfinished("Pick the three faces that meet in the corner to run to.")
    place = corner(shop.body, *(f.name for f in step.corner))
    return dot(minus(place, frame.origin), frame.normal)


def _to_face(step: Reaching, shop: Workshop, frame: Frame) -> Extent:
    """To a parallel flat face and ``gap`` past it, or trimmed by any other flat or round face."""
    from ..kernel.ground.geometry import dot, minus

    if not step.face.name:
        raise Unfinished("Pick the face to run to.")
    gap = shop.value(step.gap, "Past the face", positive=False)
    flat = None
    if step.face.name.partition("/")[0] in shop.datums or shop.surface(step.face).kind == "plane":
        flat = shop.plane(step.face)
    if flat is not None and abs(dot(flat.normal, frame.normal)) > 1 - PARALLEL:
        far = dot(minus(flat.origin, frame.origin), frame.normal)
        return _one_way(far + (1 if far >= 0 else -1) * gap)
    front, back = through(step, shop, frame)
    front, back = (f + abs(gap) if f else 0.0 for f in (front, back))
    return Extent(front, back, lambda tool, at: _trimmed(tool, at, step, shop, gap))


def _trimmed(tool: NamedBody, frame: Frame, step: Reaching, shop: Workshop, gap: float) -> NamedBody:
    """The part of a tool between its plane and the picked face carried on, ``gap`` past it.

    What the sweep meets from outside it passes into the material, what it meets from within out of it.
    """
    from ..kernel.cut.boolean import split_by_face
    from ..kernel.cut.limits import carried_on

    owner = shop.bodies[shop.owner(step.face.name)]
    face = owner.face(owner.find(step.face.name)[0])
    within = _met_from_within(face, frame, step)
    pieces = split_by_face(tool, carried_on(face, -gap if within else gap), f"{step.id}/stop")
    if len(pieces) < 2:
        raise StepFailure(
            "The sweep does not meet the face it should run to. Turn its direction round, or pick another."
        )
    return _nearest(pieces, frame, step)


def _met_from_within(face: Face, frame: Frame, step: Reaching) -> bool:
    """Whether a flat face is met by the sweep from the side of its material; a round one is met on its near side."""
    from ..kernel.ground.geometry import dot
    from ..kernel.measure.surfaces import measure_face

    surface = measure_face(face)
    if surface.kind != "plane":
        return False
    ahead = dot(surface.axis, frame.normal)
    return (ahead < 0) if step.direction == "backward" else (ahead > 0)


def _next(tool: NamedBody, frame: Frame, step: Reaching, shop: Workshop) -> NamedBody:
    """An added sweep up to the first surface it meets; a cut through the first wall it meets."""
    from ..kernel.cut.boolean import apart

    pieces = apart("cut" if step.mode in ("add", "new") else "keep", tool, [shop.body])
    if not pieces:
        raise StepFailure("There is nothing on the way that the sweep could run to.")
    return _nearest(pieces, frame, step)


def _nearest(pieces: list[NamedBody], frame: Frame, step: Reaching) -> NamedBody:
    from ..kernel.cut.boolean import in_order

    ordered = in_order(pieces, frame)
    return ordered[-1] if step.direction == "backward" else ordered[0]
