"""A part cut open for a view: what lies before the cut is taken away, and the areas it lays open are told."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepTools import BRepTools_WireExplorer
from OCP.TopoDS import TopoDS

from ..form.outline import Segment, flat_face
from ..form.sweep import prism
from ..ground.check import KernelFailure, done
from ..ground.geometry import Frame, dot, minus
from ..ground.named import NamedBody, carry
from ..ground.topology import FACE, SOLID, WIRE, Face, shape_map, subshapes
from ..measure.boxes import box
from ..measure.curves import places_on
from .strokes import XY

#: First part of the names of faces that a cut makes.
CUT = "drawing-cut"
_PLACES = 61
#: What reaches no deeper past a level lies before it (mm).
_BEFORE = 1e-6


class Cutting(NamedTuple):
    """What is taken away, as the eye sees it (mm): all that lies before the levels ``steps``, each with how far it goes
    to the right (the last one goes all the way), between ``low`` and ``high`` upwards (None: all the way). With a
    ``region`` only what lies inside that polygon before the first level: a part broken out.
    """

    steps: tuple[tuple[float, float], ...]
    low: float | None = None
    high: float | None = None
    region: tuple[XY, ...] = ()


class CutArea(NamedTuple):
    """An area laid open: its loops (mm, as the eye sees it) and the number of the solid it belongs to."""

    loops: tuple[tuple[XY, ...], ...]
    solid: int


def cut_open(body: NamedBody, eye: Frame, how: Cutting) -> NamedBody:
    """The body without what lies before the cut, in however many pieces, slivers among them: it is drawn, not made.
    Raises KernelFailure when nothing is left, or nothing is cut.
    """
    tool = _tool(body, eye, how)
    operation = BRepAlgoAPI_Cut(body.shape, tool.shape)
    done(operation, "The part could not be cut open here; move the cut a little.")
    made = NamedBody(operation.Shape(), carry(operation, [*body.pairs(), *tool.pairs()]))
    if not subshapes(made.shape, SOLID):
        raise KernelFailure("All of the part lies before the cut: nothing is left to be drawn. Move it back.")
    if not any(n.startswith(f"{CUT}/") for names in made.names.values() for n in names):
        raise KernelFailure("The cut does not meet the part. Say how far before zero it lies, as the view is seen.")
    return made


def opened(body: NamedBody, eye: Frame, how: Cutting) -> NamedBody | None:
    """The body cut open; as it is where the cut passes it by, None where all of it lies before the cut."""
    try:
        return cut_open(body, eye, how)
    except KernelFailure:
        return None if lies_before(body, eye, how) else body


def lies_before(body: NamedBody, eye: Frame, how: Cutting) -> bool:
    """Whether all of a body lies before the cut, where that takes away what does: a bought part that is never cut is
    not drawn there.
    """
    low, high = box(body.shape)
    xs, ys, zs = zip(low, high, strict=True)
    corners = [minus(c, eye.origin) for c in itertools.product(xs, ys, zs)]
    u, v = (sum(dot(c, way) for c in corners) / 8 for way in (eye.x, eye.y))
    level = next((at for at, to in how.steps[:-1] if u < to), how.steps[-1][0])
    if min(dot(c, eye.normal) for c in corners) < level - _BEFORE:
        return False
    if how.region:
        return _holds(how.region, (u, v))
    return (how.low is None or v > how.low) and (how.high is None or v < how.high)


def _holds(ring: Sequence[XY], place: XY) -> bool:
    """Whether a polygon holds a place: by how often a level line from there crosses it."""
    (x, y), found = place, False
    for (a, b), (c, d) in zip(ring, (*ring[1:], ring[0]), strict=True):
        if (b > y) != (d > y) and x < a + (y - b) / (d - b) * (c - a):
            found = not found
    return found


def _tool(body: NamedBody, eye: Frame, how: Cutting) -> NamedBody:
    low, high = box(body.shape)
    xs, ys, zs = zip(low, high, strict=True)
    corners = [minus(c, eye.origin) for c in itertools.product(xs, ys, zs)]
    ways = (eye.x, eye.y, eye.normal)
    spans = [(min(dot(c, w) for c in corners), max(dot(c, w) for c in corners)) for w in ways]
    room = 1.0 + max(b - a for a, b in spans)
    (left, right), (bottom, top), (_, near) = ((a - room, b + room) for a, b in spans)
    if how.region:
        return _broken_out(eye, how, near)
    low_v = bottom if how.low is None else how.low
    high_v = top if how.high is None else how.high
    places = _staircase(how.steps, left, right)
    ring = [*places, (right, near), (left, near)]
    # Drawn with x to the right and y towards the eye, so that it runs downwards from the top of what is cut.
    plane = Frame(eye.at(0.0, high_v), eye.x, eye.normal)
    down = tuple(-(high_v - low_v) * c for c in eye.y)
    pieces = tuple(
        Segment(_step_name(k, a, b), a, b) for k, (a, b) in enumerate(zip(ring, [*ring[1:], ring[0]], strict=True))
    )
    return prism(flat_face(pieces, (), plane), down, CUT)  # type: ignore[arg-type]


def _step_name(k: int, a: XY, b: XY) -> str:
    return f"level{k}" if abs(a[1] - b[1]) < 1e-9 else f"step{k}"


def _staircase(steps: Sequence[tuple[float, float]], left: float, right: float) -> list[XY]:
    places, at = [], left
    for n, (level, to) in enumerate(steps):
        end = right if n == len(steps) - 1 else to
        places += [(at, level), (end, level)]
        at = end
    return places


def _broken_out(eye: Frame, how: Cutting, near: float) -> NamedBody:
    level = how.steps[0][0]
    plane = Frame(eye.at(0.0, 0.0, level), eye.x, eye.y)
    ring = list(how.region)
    pieces = tuple(Segment(f"break{k}", a, b) for k, (a, b) in enumerate(zip(ring, [*ring[1:], ring[0]], strict=True)))
    out = tuple((near - level) * c for c in eye.normal)
    return prism(flat_face(pieces, (), plane), out, CUT)  # type: ignore[arg-type]


def laid_open(body: NamedBody, eye: Frame, how: Cutting) -> tuple[list[CutArea], set[int], set[int]]:
    """The areas of a cut body, the indices of the faces they are, and those of the faces between its levels."""
    floor = f"{CUT}/start" if how.region else f"{CUT}/level"
    solids = [shape_map(s, FACE) for s in subshapes(body.shape, SOLID)]
    areas, level, between = [], set[int](), set[int]()
    for index, names in sorted(body.names.items()):
        if not any(n.startswith(f"{CUT}/") for n in names):
            continue
        if not any(n.startswith(floor) for n in names):
            between.add(index)
            continue
        level.add(index)
        face = body.face(index)
        number = next((n for n, faces in enumerate(solids) if faces.Contains(face)), 0)
        areas.append(CutArea(tuple(_loops(face, eye)), number))
    return areas, level, between


def _loops(face: Face, eye: Frame) -> Iterator[tuple[XY, ...]]:
    for wire in subshapes(face, WIRE):
        walk, places = BRepTools_WireExplorer(TopoDS.Wire(wire), face), list[XY]()
        while walk.More():
            away = [minus(p, eye.origin) for p in places_on(walk.Current(), _PLACES)]
            places += [(dot(p, eye.x), dot(p, eye.y)) for p in away][:-1]
            walk.Next()
        yield tuple(places)
