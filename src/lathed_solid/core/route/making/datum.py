"""How it is made: planes, axes and points."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ...kernel.ground.topology import Edge
from ...tolerance import PARALLEL
from ..model import Built, StepBase, StepFailure, Unfinished
from ..planes import MAIN_NORMALS
from ..workshop import Workshop
from .edges import picks

if TYPE_CHECKING:
    from ...kernel.ground.figures import Vector
    from ...kernel.ground.geometry import Frame
from ...kernel.cut.edges import picked
from ...kernel.cut.limits import corner
from ...kernel.ground.geometry import along, cross, dot, flat_frame, frame_about, minus, norm, unit
from ...kernel.measure.curves import on_edge, straight_edge
from ...kernel.measure.surfaces import circle_of
from ..steps.datum import DatumAxis, DatumPlane, DatumPoint
from ..workshop import Maker


def _edge(step: DatumPlane | DatumAxis | DatumPoint, shop: Workshop) -> Edge:
    if not step.edge:
        raise Unfinished("Pick an edge.")
    return picked(shop.body, picks(step.edge)[0])[0]


def _marked(step: StepBase, frame: Frame, shop: Workshop) -> Built:
    return Built(shop.current, datums=((step.id, frame),))


def build_plane(step: DatumPlane, shop: Workshop) -> Built:
    origin, normal = _plane(step, shop)
    frame = flat_frame(origin, normal)
    return _marked(step, frame if step.by != "square" else frame._replace(origin=origin), shop)


def _plane(step: DatumPlane, shop: Workshop) -> tuple[Vector, Vector]:
    if step.by == "offset":
        normal = shop.plane(step.face).normal if step.of == "face" else MAIN_NORMALS[step.of]
        start = shop.plane(step.face).origin if step.of == "face" else (0.0, 0.0, 0.0)
        return along(start, normal, shop.value(step.offset, "Offset", positive=False)), normal
    if step.by == "midway":
        first, second = shop.plane(step.face), shop.plane(step.other, "the second face")
        if abs(dot(first.normal, second.normal)) < 1 - PARALLEL:
            raise StepFailure("The two faces are not parallel, so nothing lies midway between them.")
        return along(
            first.origin, first.normal, dot(minus(second.origin, first.origin), first.normal) / 2
        ), first.normal
    if step.by == "leaned":
        return _leaned(step, shop)
    if step.by == "corners":
        return _through_corners(step, shop)
    if step.by == "square":
        return on_edge(_edge(step, shop), shop.value(step.part, "Part of the way", "number", positive=False))
    origin, way = shop.axis(step.face, "the round face it touches")
    surface = shop.surface(step.face)
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    hint = (1.0, 0.0, 0.0) if abs(way[0]) < 0.9 else (0.0, 1.0, 0.0)
    x = unit(minus(hint, along((0.0, 0.0, 0.0), way, dot(hint, way))))
    y = cross(way, x)
    out = along(along((0.0, 0.0, 0.0), x, math.cos(angle)), y, math.sin(angle))
    if surface.kind != "cylinder" or norm(out) < 0.5:
        raise StepFailure("A touching plane needs a cylinder.")
    return along(origin, out, surface.radius), out


def _leaned(step: DatumPlane, shop: Workshop) -> tuple[Vector, Vector]:
    """The plane of a face turned about one of its straight edges; a positive angle leans it out of the material."""
    found = straight_edge(_edge(step, shop))
    if found is None:
        raise StepFailure("A plane leans about a straight edge; the picked one is not straight.")
    flat = shop.plane(step.face, "the face it leans from")
    place, way = found
    if abs(dot(way, flat.normal)) > 1e-9:
        raise StepFailure("The edge does not lie in the face the plane leans from.")
    # The same sense on every edge: the way along the edge goes round the face.
    middle = shop.surface(step.face).center if step.face.name.partition("/")[0] not in shop.datums else flat.origin
    if dot(cross(way, minus(middle, place)), flat.normal) < 0:
        way = (-way[0], -way[1], -way[2])
    angle = shop.value(step.angle, "Angle", "angle", positive=False)
    across = cross(way, flat.normal)
    c, s = math.cos(angle), math.sin(angle)
    return place, along(along((0.0, 0.0, 0.0), flat.normal, c), across, s)


def _through_corners(step: DatumPlane, shop: Workshop) -> tuple[Vector, Vector]:
    """Three corners, each told by three faces that meet there: nine faces in all."""
    names = [f.name for f in step.corners]
    if len(names) != 9:
        raise Unfinished(f"Pick three faces for each of the three corners, nine in all; {len(names)} are picked.")
    a, b, c = (corner(shop.body, *names[k : k + 3]) for k in (0, 3, 6))
    normal = cross(minus(b, a), minus(c, a))
    if norm(normal) < 1e-9:
        raise StepFailure("The three corners lie in one line.")
    return a, unit(normal)


def build_axis(step: DatumAxis, shop: Workshop) -> Built:
    return _marked(step, frame_about(*_axis(step, shop)), shop)


def _axis(step: DatumAxis, shop: Workshop) -> tuple[Vector, Vector]:
    if step.by == "round":
        return shop.axis(step.face)
    if step.by == "edge":
        found = straight_edge(_edge(step, shop))
        if found is None:
            raise StepFailure("An axis needs a straight edge.")
        return found
    a, b = shop.plane(step.face), shop.plane(step.other, "the second face")
    way = cross(a.normal, b.normal)
    size = norm(way)
    if size < 1e-9:
        raise StepFailure("The two faces are parallel, so they do not cross.")
    da, db = dot(a.origin, a.normal), dot(b.origin, b.normal)
    place = along(along((0.0, 0.0, 0.0), cross(b.normal, way), da / size**2), cross(way, a.normal), db / size**2)
    return place, unit(way)


def build_point(step: DatumPoint, shop: Workshop) -> Built:
    way = (0.0, 0.0, 1.0)
    if step.by == "numbers":
        x, y, z = (shop.value(t, n, positive=False) for t, n in ((step.x, "X"), (step.y, "Y"), (step.z, "Z")))
        place = (x, y, z)
    elif step.by == "corner":
        if len(step.corners) < 3:
            raise Unfinished("Pick the three faces that meet there.")
        place = corner(shop.body, *(f.name for f in step.corners))
    else:
        circle = circle_of(_edge(step, shop))
        if circle is None:
            raise StepFailure("Only a round edge has a centre.")
        place, way = circle.center, circle.axis
    return _marked(step, frame_about(place, way), shop)


MAKERS = {DatumPlane: Maker(build_plane), DatumAxis: Maker(build_axis), DatumPoint: Maker(build_point)}
