"""Where holes start: on an axis, at points of a face or a sketch, so far from edges, on a round edge's axis, radial."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import TYPE_CHECKING, NamedTuple

from ...refusal import said
from ...tolerance import PARALLEL
from ..model import StepFailure, Unfinished
from ..points import chosen_points
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Surface, Vector
    from ...kernel.ground.geometry import Frame
    from ...kernel.ground.named import NamedBody
    from ...kernel.ground.topology import Face
    from ...kernel.measure.surfaces import Outline
    from .model import Hole


class Start(NamedTuple):
    """Where a hole starts: the origin in the face, the normal into the part. ``lean`` is the angle of the drill to the
    square of the face (radians): a leaning face rises above the start, and is cut there too.
    """

    frame: Frame
    lean: float = 0.0


def starts(step: Hole, shop: Workshop, surface: Surface, face: Face | None) -> dict[str, Start]:
    """Where each hole starts, by the name its faces get. ``face`` is None for a plane. Raises StepFailure."""
    if step.placement == "sketch":
        return _at_sketch(step, shop, surface, face)
    start = _start(step, shop, surface, face)
    return {"0": start._replace(frame=shop.placed(start.frame))}


def _at_sketch(step: Hole, shop: Workshop, surface: Surface, face: Face | None) -> dict[str, Start]:
    from ...kernel.ground.geometry import along, dot, minus

    sketch = shop.sketch(step.sketch)
    plane = shop.frame(sketch)
    level = surface.kind == "plane" and abs(dot(surface.axis, plane.normal)) > 1 - PARALLEL
    unknown = [i for i in step.only.replace(",", " ").split() if i not in sketch.points()]
    if unknown:
        raise StepFailure(f"The sketch has no point {', '.join(unknown)}. Its points are {', '.join(sketch.points())}.")
    found = {}
    for id_, (x, y) in chosen_points(step.only, sketch).items():
        place = plane.at(x, y)
        if level:
            place = along(place, surface.axis, dot(minus(surface.origin, place), surface.axis))
            found[id_] = _square(place, surface)
        else:
            found[id_] = _struck(face, place, plane.normal)
    if not found:
        raise Unfinished("The sketch has no points yet. Draw a point (or a circle) for every hole.")
    return found


def _square(place: Vector, surface: Surface) -> Start:
    """Square into a flat face."""
    from ...kernel.ground.geometry import frame_about

    return Start(frame_about(place, (-surface.axis[0], -surface.axis[1], -surface.axis[2])))


def _struck(face: Face | None, place: Vector, way: Vector) -> Start:
    """Where a drill that runs along ``way`` (either way round) through ``place`` first strikes the face."""
    from ...kernel.ground.geometry import dot, frame_about
    from ...kernel.ground.placing import triple
    from ...kernel.measure.surfaces import struck

    if face is None:
        raise StepFailure("A plane is drilled square to itself. Pick a face of the part to drill at an angle.")
    for towards in ((-way[0], -way[1], -way[2]), way):
        for hit, normal in struck(face, place, towards):
            square = -dot(normal, towards)
            if square > 1e-6:
                return Start(frame_about(triple(hit), towards), math.acos(min(1.0, square)))
    x, y, z = place
    raise StepFailure(f"A drill through {said(x)}, {said(y)}, {said(z)} misses the picked face. Move it.")


def _start(step: Hole, shop: Workshop, surface: Surface, face: Face | None) -> Start:
    if step.placement == "radial":
        return _radial(step, shop, surface, face)
    if step.placement == "edges":
        return _from_edges(step, shop, surface, face)
    if step.heading != "square" and step.placement == "point":
        return _along_axis(step, shop, face)
    if surface.kind == "sphere" and step.placement == "axis":
        return _at_pole(surface, face)
    if surface.kind != "plane":
        raise StepFailure(
            "A hole square to its face starts in a flat one; the picked face is not flat. Drill it along X, Y or Z at "
            "a point, radial, or at the points of a sketch."
        )
    if step.placement == "edge":
        return _square(_edge_centre(step, shop, surface), surface)
    if step.placement == "axis":
        if not surface.circles:
            raise StepFailure("The picked face has no round edge, so it has no axis.")
        return _square(max(surface.circles, key=lambda c: c.radius).center, surface)
    return _square(_in_face(step, shop, surface), surface)


def _in_face(step: Hole, shop: Workshop, surface: Surface) -> Vector:
    """The place told by X and Y, or by the pitch circle."""
    from ...kernel.ground.geometry import Frame, flat_frame

    if step.placement == "circle":
        radius = shop.value(step.circle, "Pitch circle") / 2
        angle = shop.value(step.angle, "Angle", "angle", positive=False)
        x, y = radius * math.cos(angle), radius * math.sin(angle)
    else:
        x = shop.value(step.x, "X", positive=False)
        y = shop.value(step.y, "Y", positive=False)
    across = step.placement == "circle" or step.counted == "part"
    if across and abs(surface.axis[2]) > 0.999999:
        level = Frame((0.0, 0.0, surface.origin[2]), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    elif plane := shop.datum(step.face):
        level = plane
    else:  # X is level and Y uphill as the face is seen from outside, as in a sketch that lies on it
        level = flat_frame(surface.origin, surface.axis)
    shop.frames[f"{shop.at_work}/frame"] = shop.placed(level)
    return level.at(x, y)


#: The two axes along which the place of a hole is told that is drilled along the third.
ACROSS = {"x": (1, 2), "y": (0, 2), "z": (0, 1)}


def _along_axis(step: Hole, shop: Workshop, face: Face | None) -> Start:
    """Drilled along X, Y or Z into any face, its place told along the two other axes from part zero."""
    place, way = [0.0, 0.0, 0.0], [0.0, 0.0, 0.0]
    way["xyz".index(step.heading)] = 1.0
    for k, (text, label) in zip(ACROSS[step.heading], ((step.x, "X"), (step.y, "Y")), strict=True):
        place[k] = shop.value(text, label, positive=False)
    return _struck(face, (place[0], place[1], place[2]), (way[0], way[1], way[2]))


def _at_pole(surface: Surface, face: Face | None) -> Start:
    """On the axis of a ball, from its outer end."""
    low, high = surface.span
    away = high if abs(high) >= abs(low) else low
    sign = 1.0 if away > 0 else -1.0
    way = tuple(sign * a for a in surface.axis)
    return _struck(face, surface.origin, way)  # type: ignore[arg-type]


def _from_edges(step: Hole, shop: Workshop, surface: Surface, face: Face | None) -> Start:
    """So far from two straight edges of a flat face, measured in it."""
    from ...kernel.cut.edges import Pick, picked
    from ...kernel.ground.geometry import along, cross, dot, flat_frame
    from ...kernel.measure.surfaces import edge_in_face

    if surface.kind != "plane" or face is None:
        raise StepFailure("A hole so far from two edges starts in a flat face.")
    if len(step.edge) != 2:
        raise Unfinished("Pick the two straight edges of the face that the hole is measured from.")
    rows = []
    for ref, text, label in zip(
        step.edge, (step.x, step.y), ("From the first edge", "From the second edge"), strict=True
    ):
        away = shop.value(text, label)
        told = edge_in_face(face, picked(shop.body, Pick(ref.a, ref.b, ref.take, ref.piece))[0])
        if told is None:
            raise StepFailure("The edges must be straight ones of the face the hole starts in. Pick them again.")
        rows.append((told[1], dot(told[0], told[1]) + away))
    (u, a), (v, b) = rows
    lean = dot(u, v)
    if abs(lean) > 1 - PARALLEL:
        raise StepFailure("The two edges are parallel: they do not say where the hole is. Pick one across them.")
    shop.frames[f"{shop.at_work}/frame"] = shop.placed(flat_frame(surface.origin, surface.axis))
    n = cross(u, v)
    third = dot(surface.origin, n)
    size = dot(n, n)
    place = (0.0, 0.0, 0.0)
    for way, by in ((cross(v, n), a), (cross(n, u), b), (n, third)):
        place = along(place, way, by / size)
    return _square(place, surface)


def _edge_centre(step: Hole, shop: Workshop, surface: Surface) -> Vector:
    """The centre of the picked round edge, carried along its axis into the face."""
    from ...kernel.cut.edges import Pick, picked
    from ...kernel.ground.geometry import along, dot, minus
    from ...kernel.measure.surfaces import circle_of

    if not step.edge:
        raise Unfinished("Pick the round edge whose axis the hole lies on.")
    ref = step.edge[0]
    circle = circle_of(picked(shop.body, Pick(ref.a, ref.b, ref.take, ref.piece))[0])
    if circle is None or abs(dot(circle.axis, surface.axis)) < 1 - PARALLEL:
        raise StepFailure("The picked edge is not round, or its axis is not square to the face the hole starts in.")
    return along(circle.center, surface.axis, dot(minus(surface.origin, circle.center), surface.axis))


# --- radial holes
def _radial(step: Hole, shop: Workshop, surface: Surface, face: Face | None) -> Start:
    """Square to the axis of a round face, at a place along it and an angle about it."""
    from ...kernel.ground.geometry import along, axis_frame

    if surface.kind not in ("cylinder", "cone", "sphere") or face is None:
        raise StepFailure("A radial hole starts in a round face: a cylinder, a cone or a ball.")
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    about = axis_frame(surface.origin, surface.axis)
    at = _along(step, shop, surface, about)
    middle = along(about.origin, about.normal, at)
    c, s = math.cos(angle), math.sin(angle)
    out = along(along((0.0, 0.0, 0.0), about.x, c), about.y, s)
    low, high = _extent(surface, about)
    if surface.kind != "sphere" and not low - 1e-6 <= at <= high + 1e-6:
        raise StepFailure(
            f"The hole at {said(at)} misses the picked face, which runs from {said(low)} to {said(high)}."
        )
    if surface.kind == "cylinder":
        return Start(_towards(along(middle, out, surface.radius), out))
    return _struck(face, middle, out)


def _towards(place: Vector, out: Vector) -> Frame:
    from ...kernel.ground.geometry import frame_about

    return frame_about(place, (-out[0], -out[1], -out[2]))


def _extent(surface: Surface, about: Frame) -> tuple[float, float]:
    """From where to where a round face runs along its axis, counted as the axis frame counts."""
    from ...kernel.ground.geometry import along, dot, minus

    ends = (dot(minus(along(surface.origin, surface.axis, t), about.origin), about.normal) for t in surface.span)
    low, high = sorted(ends)
    return low, high


def _along(step: Hole, shop: Workshop, surface: Surface, about: Frame) -> float:
    """Place of a radial hole along the axis, counted from part zero or from a picked end: from there to the side where
    its face lies.
    """
    from ...kernel.ground.geometry import dot, minus

    away = shop.value(step.along, "Position along the axis", positive=False)
    if not step.datum.name:
        return away
    zero = dot(minus(shop.surface(step.datum).center, about.origin), about.normal)
    low, high = _extent(surface, about)
    here, there = zero + away, zero - away
    return there if not low - 1e-6 <= here <= high + 1e-6 and low - 1e-6 <= there <= high + 1e-6 else here


def _turns(step: Hole, surface: Surface) -> bool:
    """Whether the face is seen the other way round than the part's X and Y."""
    return step.placement == "point" and step.counted == "face" and surface.axis[2] < -0.999999


class LevelFaces:
    """The flat face that holes start in, and those of the body level with it: one step may cross to them."""

    def __init__(self, body: NamedBody, surface: Surface, face: Face | None) -> None:
        self._body, self._surface, self._face = body, surface, face
        self._known: list[Outline] = []

    def reached(self, place: Vector, radius: float) -> bool:
        """Whether a circle about a place lies at least partly in one of them; True where there is no flat face."""
        from ...kernel.measure.surfaces import Outline

        if self._surface.kind != "plane" or self._face is None:
            return True
        if not self._known:
            self._known.append(Outline(self._face))
        if self._known[0].reached(place, radius):
            return True
        if len(self._known) < 2:
            self._known += [Outline(face) for face in self._others()]
        return any(outline.reached(place, radius) for outline in self._known[1:])

    def _others(self) -> Iterator[Face]:
        from ...kernel.ground.geometry import dot, minus
        from ...kernel.measure.surfaces import measure_faces

        mine = self._surface
        for other in measure_faces(self._body):
            like = other.kind == "plane" and other.index != mine.index and dot(other.axis, mine.axis) > 1 - PARALLEL
            if like and abs(dot(minus(other.origin, mine.origin), mine.axis)) < 1e-6:
                yield self._body.face(other.index)


def must_start_inside(step: Hole, frame: Frame, surface: Surface, level: LevelFaces, radius: float) -> None:
    """A hole square to a flat face must meet it, or one level with it, or what lies inside its outer edge.

    Raises StepFailure.
    """
    if step.placement in ("sketch", "point", "edges"):
        if not level.reached(frame.origin, radius):
            x, y, z = frame.origin
            how = " X and Y are counted as the face is seen; along the part’s is under More."
            seen = how if _turns(step, surface) else ""
            raise StepFailure(
                f"A hole at {said(x)}, {said(y)}, {said(z)} misses the picked face. Move it or pick another face.{seen}"
            )
        return
    if surface.circles and surface.kind == "plane" and step.placement != "edge":
        edge = max(surface.circles, key=lambda c: c.radius)
        away = math.dist(edge.center, frame.origin)
        if away + 1e-9 > edge.radius or (away < 1e-9 and radius >= edge.radius - 1e-9):
            raise StepFailure(
                f"The hole Ø{said(2 * radius)} does not fit its face Ø{said(2 * edge.radius)}"
                + (f" (its middle is {said(away)} from the face's)" if away > 1e-9 else "")
                + ". Make it smaller or pick another face."
            )
