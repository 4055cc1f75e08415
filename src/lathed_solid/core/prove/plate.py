"""The solid laid out for measuring: every face's surface once, found by name; and what a reading is."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from functools import cached_property
from types import MappingProxyType
from typing import NamedTuple

from ..arrays import Floats
from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import Frame, along, cross, dot, minus, norm, unit
from ..kernel.ground.named import LostReference, NamedBody
from ..kernel.ground.topology import FACE, SOLID, Shape, ShapeMap, shape_map, subshapes
from ..kernel.measure.inside import Inside
from ..kernel.measure.surfaces import measure_faces
from ..refusal import Refusal
from ..route.gauges import Gauge
from ..route.model import ThreadMark
from ..tolerance import ONE_PLACE, PARALLEL
from . import threads

#: What the faces of a modelled thread are called.
SKIN = ("root", "rising", "crest", "falling", "groove")
#: Kinds of surface in words of the shop.
WORDS = {
    "plane": "a flat face",
    "cylinder": "a round face",
    "cone": "a cone",
    "torus": "a round edge",
    "sphere": "a ball",
    "other": "a free-form face",
}


class Unmeasurable(Refusal):
    """A gauge that cannot be read here; the text says why."""


class LostFace(Unmeasurable):
    """A face that is not on the finished part."""

    def __init__(self, name: str) -> None:
        super().__init__(
            "A face this size is measured on is not on the finished part: cut away or covered later "
            "on. If the size is still there, bind it to the faces that show it."
        )
        self.name = name


class Misfit(Unmeasurable):
    """Something measured that is wrong whatever its figure: a thread that does not suit its face."""


class Measured(NamedTuple):
    """Values read (mm, radians or a count; one per piece of a split face) and the indices of the faces touched.

    Angles repeat after ``period`` radians: a hole through both walls points both ways. ``spread`` is how far off the
    figures may be where the face itself is not exact (mm, radians), ``words`` what else was found.
    """

    values: tuple[float, ...]
    faces: tuple[int, ...]
    period: float = 2 * math.pi
    spread: float = 0.0
    words: str = ""


class SurfacePlate:
    """A finished solid. ``frames`` are the planes that sketches stood on (``s2/frame``), and those of datum steps by
    their ids. A plane called ``.../from`` is measured from only where a face of the part lies in it.
    """

    def __init__(
        self,
        body: NamedBody,
        marks: Sequence[ThreadMark] = (),
        frames: Mapping[str, Frame] = MappingProxyType({}),
    ) -> None:
        self.body = body
        self.marks = {mark.face: mark for mark in marks}
        self.frames = frames
        self.surfaces = measure_faces(body)
        self._solids: dict[int, Inside] = {}
        self.sections: dict[tuple[str, str], list[Floats]] = {}
        self._threads: dict[str, threads.Felt] = {}

    def thread(self, mark: ThreadMark) -> tuple[threads.Felt, list[int]]:
        """A modelled thread as it is felt, and its faces. Raises Unmeasurable."""
        skin = {f"{mark.skin}/{part}" for part in SKIN}
        indices = [i for i, names in self.body.names.items() if names & skin]
        axis = self.frames.get(f"{mark.skin}/axis")
        if axis is None or not indices:
            raise LostFace(mark.face)
        return self.felt(mark.skin, indices, axis, mark.thread.pitch, mark.internal), indices

    def felt(self, key: str, indices: Sequence[int], axis: Frame, pitch: float, internal: bool) -> threads.Felt:
        """The thread on some faces, felt once and kept under ``key``. Raises Misfit."""
        if key not in self._threads:
            try:
                self._threads[key] = threads.feel(self.body, indices, axis, pitch, internal)
            except threads.NoThread as error:
                raise Misfit(error.message) from None
        return self._threads[key]

    def inside(self, index: int) -> Inside:
        """Where there is material of the solid that face ``index`` belongs to; another body's does not count."""
        face = self.body.face(index)
        at = next((n for n, (_, own) in enumerate(self._parts) if own.Contains(face)), -1)
        if at not in self._solids:
            self._solids[at] = Inside(self._parts[at][0] if at >= 0 else self.body.shape)
        return self._solids[at]

    @cached_property
    def _parts(self) -> list[tuple[Shape, ShapeMap]]:
        """The solids that there are, and their faces."""
        return [(solid, shape_map(solid, FACE)) for solid in subshapes(self.body.shape, SOLID)]

    def find(self, name: str) -> list[Surface]:
        """The faces of that name, or the plane of a sketch or datum step. Raises LostFace when there is none."""
        try:
            return [self.surfaces[i - 1] for i in self.body.find(name)]
        except LostReference:
            if (plane := self._plane(name)) is not None:
                return [plane]
            raise LostFace(name) from None

    def _plane(self, name: str) -> Surface | None:
        frame = self.frames.get(name) or self.frames.get(name.partition("/")[0])
        if frame is None:
            return None
        lying = self.lying_in(frame)
        if lying:
            return lying[0]
        if name.endswith("/from"):
            raise Unmeasurable("No face of the finished part lies where this size starts.")
        return Surface(index=0, kind="plane", origin=frame.origin, axis=frame.normal, center=frame.origin)

    def lying_in(self, frame: Frame) -> list[Surface]:
        """Flat faces of the part in the plane of a frame."""
        return [
            s
            for s in self.surfaces
            if s.kind == "plane"
            and abs(dot(s.axis, frame.normal)) > 1 - PARALLEL
            and abs(dot(minus(s.origin, frame.origin), frame.normal)) < ONE_PLACE
        ]

    def one(self, name: str, *kinds: str) -> Surface:
        """The first face of that name of one of the kinds. Raises Unmeasurable."""
        return self.all(name, *kinds)[0]

    def all(self, name: str, *kinds: str) -> list[Surface]:
        """The faces of that name that are of one of the kinds: a thread or a fillet may have taken the place of a
        piece. Raises Unmeasurable when none is.
        """
        found = self.find(name)
        right = [s for s in found if s.kind in kinds or not kinds]
        if not right:
            wanted = " or ".join(WORDS[k] for k in kinds)
            raise Unmeasurable(f"This is measured on {wanted}; the face there is {WORDS[found[0].kind]}.")
        return right

    def pieces(self, name: str, like: Surface) -> list[Surface]:
        """The flat faces of that name that look the way ``like`` does: a face that something parted lies in one
        plane only as long as all its pieces do.
        """
        flat = self.all(name, "plane")
        return [s for s in flat if dot(s.axis, like.axis) > 1 - PARALLEL]

    def each(self, gauge: Gauge, kinds: tuple[str, ...], value: Callable[[Surface], float]) -> Measured:
        found = self.all(gauge.face, *kinds)
        return Measured(tuple(value(s) for s in found), tuple(s.index for s in found))


def from_axis(point: Vector, surface: Surface) -> float:
    """How far a place lies from the axis of a round face, mm."""
    gap = minus(point, surface.origin)
    return norm(minus(gap, along((0.0, 0.0, 0.0), surface.axis, dot(gap, surface.axis))))


def crossed(a: Surface, b: Surface) -> float:
    """The shortest distance between two axes that are not parallel, mm."""
    across = unit(cross(a.axis, b.axis))
    return abs(dot(minus(b.origin, a.origin), across))
