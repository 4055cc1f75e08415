"""Machine zero: which way the part lies, and where its coordinates count from. The solid does not change."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Literal, NamedTuple

import msgspec

from ..callout import Ledger
from ..formulas import Formula
from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import WORLD, Frame, along, cross, dot
from ..names import bare
from ..quantity import evaluate
from ..refusal import Refusal, said
from ..route.model import FaceRef
from ..tolerance import LEVEL

Way = Literal["+x", "-x", "+y", "-y", "+z", "-z"]
WAYS: dict[str, Vector] = {
    f"{sign}{axis}": tuple((1.0 if sign == "+" else -1.0) if k == n else 0.0 for k in range(3))  # type: ignore[misc]
    for n, axis in enumerate("xyz")
    for sign in "+-"
}
#: No zero lies farther from what it counts from, mm.
FARTHEST = 1e5
#: A way for X that climbs more steeply than this cosine is no way for X.
_STEEP = 0.8


class Mark(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Where one axis counts from: ``faces`` none, the part's own zero; one, a flat face square to the axis or the axis
    of a round one; two, the middle between them. Zero lies ``shift`` beyond that, the way the axis runs.
    """

    faces: tuple[FaceRef, ...] = ()
    shift: Formula = "0"


class Zero(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``up`` is the way of the part that lies on top, ``right`` the way X runs; ``face``, when given, is a flat face
    that lies on top instead, X as near to ``right`` as it can.
    """

    up: Way = "+z"
    right: Way = "+x"
    face: FaceRef = FaceRef("")
    x: Mark = Mark()
    y: Mark = Mark()
    z: Mark = Mark()


Find = Callable[[str], Surface | None]


class Standing(NamedTuple):
    """Machine axes in the part's own: ``frame.x`` is X, ``frame.y`` Y, its normal Z; ``lost`` says what of the zero
    could not be found, and counts from the part's own zero instead.
    """

    frame: Frame
    lost: tuple[str, ...] = ()

    def machine(self, place: Vector) -> Vector:
        """A place of the part in machine axes, mm."""
        return self.frame.coordinates(place)

    def way(self, way: Vector) -> Vector:
        """A direction of the part in machine axes."""
        f = self.frame
        return (dot(way, f.x), dot(way, f.y), dot(way, f.normal))

    def part_way(self, way: Vector) -> Vector:
        """A direction in machine axes as one of the part."""
        return self.frame._replace(origin=(0.0, 0.0, 0.0)).at(*way)

    def in_part(self, frame: Frame) -> Frame:
        """A frame given in machine axes as one of the part."""
        return Frame(self.frame.at(*frame.origin), self.part_way(frame.x), self.part_way(frame.y), frame.mirrored)

    def seen(self, surface: Surface) -> Surface:
        """A face of the part as it lies in machine axes."""
        return surface.elsewhere(self.machine, self.way)

    @property
    def is_level(self) -> bool:
        """Whether each machine axis runs along one of the part's."""
        return all(max(map(abs, way)) > 1 - LEVEL for way in self._ways)

    def sizes(self, low: Vector, high: Vector) -> Vector:
        """The sides of a box of the part along the machine's axes; along its own where those lean."""
        own = (high[0] - low[0], high[1] - low[1], high[2] - low[2])
        if not self.is_level:
            return own
        x, y, z = (sum(abs(w) * s for w, s in zip(way, own, strict=True)) for way in self._ways)
        return x, y, z

    @property
    def _ways(self) -> tuple[Vector, Vector, Vector]:
        return self.frame.x, self.frame.y, self.frame.normal

    def axis(self, along: int) -> int:
        """The machine axis (0 to 2) that runs along an axis of the part; the same number when none does."""
        return next((k for k, way in enumerate(self._ways) if abs(way[along]) > 1 - LEVEL), along)


OWN = Standing(WORLD)


def finder(references: Sequence[str], names: Sequence[Sequence[str]], surfaces: Sequence[Surface]) -> Find:
    """Faces of a built part by name: the very piece where one was parted, else any that bears the name."""
    just = dict(zip(references, surfaces, strict=False))

    def find(name: str) -> Surface | None:
        if name in just:
            return just[name]
        plain = bare(name)
        return next((s for s, own in zip(surfaces, names, strict=False) if plain in own), None)

    return find


def axes(zero: Zero, find: Find) -> tuple[Vector, Vector, Vector]:
    """X, Y and Z of the machine in the part's own axes. Raises Refusal for ways that run along each other."""
    up = WAYS[zero.up]
    if zero.face.name:
        up = _flat(zero.face, find, "the top").axis
    right = WAYS[zero.right]
    level = along(right, up, -dot(right, up))
    size = math.sqrt(dot(level, level))
    if size < LEVEL:
        raise Refusal("X cannot run up or down. Choose another way for X.")
    x = (level[0] / size, level[1] / size, level[2] / size)
    return x, cross(up, x), up


def stand(zero: Zero, ledger: Ledger, find: Find) -> Standing:
    """Where the machine's axes stand. What cannot be found is told, and left at the part's own zero."""
    lost: list[str] = []
    try:
        ways = axes(zero, find)
    except Refusal as error:
        lost.append(error.message)
        ways = (WAYS["+x"], WAYS["+y"], WAYS["+z"])
    origin = (0.0, 0.0, 0.0)
    for name, way in zip("xyz", ways, strict=True):
        try:
            origin = along(origin, way, counted(getattr(zero, name), way, ledger, find, name.upper()))
        except Refusal as error:
            lost.append(error.message)
    return Standing(Frame(origin, ways[0], ways[1]), tuple(lost))


def counted(mark: Mark, way: Vector, ledger: Ledger, find: Find, name: str) -> float:
    """Where an axis counts from, along ``way`` from the part's own zero (mm). Raises Refusal."""
    at = [_place(ref, way, find, name) for ref in mark.faces]
    return (sum(at) / len(at) if at else 0.0) + shift_of(mark, ledger, name)


def shift_of(mark: Mark, ledger: Ledger, name: str) -> float:
    """How far beyond what it counts from an axis has its zero, mm. Raises Refusal."""
    try:
        shift = evaluate(mark.shift, ledger) if mark.shift.strip() else 0.0
    except Refusal as error:
        raise Refusal(f"Zero of {name}, shift: {error.message}") from error
    if not abs(shift) <= FARTHEST:
        raise Refusal(f"Zero of {name} cannot lie {said(shift)} away: no machine reaches {said(FARTHEST)}.")
    return shift


def _place(ref: FaceRef, way: Vector, find: Find, name: str) -> float:
    surface = find(ref.name)
    if surface is None:
        raise Refusal(f"Zero of {name} was at {ref.was or 'a face'}, which is not on the part any more. Pick another.")
    if words := unfit(surface, way, name):
        raise Refusal(words)
    return dot(surface.origin, way)


def unfit(surface: Surface, way: Vector, name: str) -> str:
    """Why an axis cannot count from a face; empty when it can."""
    if surface.kind == "plane":
        return "" if abs(dot(surface.axis, way)) > 1 - LEVEL else f"This face is not square to {name}."
    if surface.kind in ("cylinder", "cone", "torus"):
        return "" if abs(dot(surface.axis, way)) < LEVEL else f"The axis of this face runs along {name}."
    return "" if surface.kind == "sphere" else "Zero cannot sit on a free face. Pick a flat or a round one."


def _flat(ref: FaceRef, find: Find, what: str) -> Surface:
    surface = find(ref.name)
    if surface is None:
        raise Refusal(f"The face of {what} ({ref.was or ref.name}) is not on the part any more. Pick another.")
    if surface.kind != "plane":
        raise Refusal(f"Only a flat face can be {what}.")
    return surface


# --- choosing
def laid_on_top(zero: Zero, ref: FaceRef, surface: Surface) -> Zero:
    """A flat face on top; X keeps its way where it can, else takes the first that is level enough."""
    if surface.kind != "plane":
        raise Refusal("Only a flat face can lie on top.")
    ways: tuple[Way, ...] = (zero.right, "+x", "+y", "+z")
    right = next(w for w in ways if abs(dot(WAYS[w], surface.axis)) < _STEEP)
    return msgspec.structs.replace(zero, face=ref, right=right)


def moved_to(zero: Zero, picked: tuple[tuple[FaceRef, Surface], ...], find: Find, middle: bool = False) -> Zero:
    """Zero on what was picked: each face for the axes it fits; with ``middle``, half-way between two faces.

    Raises Refusal when nothing of it fits any axis.
    """
    ways = axes(zero, find)
    if middle:
        return _between(zero, picked, ways)
    marks: dict[str, Mark] = {}
    for ref, surface in picked:
        for name, way in zip("xyz", ways, strict=True):
            if not unfit(surface, way, name.upper()):
                marks[name] = Mark(faces=(ref,))
    if not marks:
        raise Refusal("Nothing picked fits an axis: pick a flat face square to one, or a round face.")
    return msgspec.structs.replace(zero, **marks)


def _between(zero: Zero, picked: tuple[tuple[FaceRef, Surface], ...], ways: tuple[Vector, Vector, Vector]) -> Zero:
    if len(picked) != 2:
        raise Refusal("Pick two faces; zero then lies half-way between them.")
    marks = {
        name: Mark(faces=(picked[0][0], picked[1][0]))
        for name, way in zip("xyz", ways, strict=True)
        if all(not unfit(surface, way, name.upper()) for _, surface in picked)
        and abs(dot(picked[0][1].origin, way) - dot(picked[1][1].origin, way)) > LEVEL
    }
    if not marks:
        raise Refusal("These two faces have no middle along an axis: pick two that face each other, or two axes.")
    return msgspec.structs.replace(zero, **marks)
