"""DXF outlines taken as a sketch: ends joined within a tolerance, relations proposed, what is left out named."""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, NamedTuple

import msgspec

from ..sketch.model import ALONG, Arc, Circle, Entity, Line, Point, Relation, RelationKind, Sketch
from .paper import CannotRead, whole

if TYPE_CHECKING:
    from ezdxf.entities.arc import Arc as ArcEntity
    from ezdxf.entities.circle import Circle as CircleEntity
    from ezdxf.entities.dxfentity import DXFEntity
    from ezdxf.entities.ellipse import Ellipse as EllipseEntity
    from ezdxf.entities.lwpolyline import LWPolyline
    from ezdxf.entities.polyline import Polyline

    from .dxf import DxfPaper

XY = tuple[float, float]

#: Chord error of an ellipse taken as arcs, mm.
ELLIPSE = 0.002
#: Outlines with more elements are refused: nobody would want to size them by hand.
MAX_PIECES = 2_000
#: Directions closer than this (radians) count as level, upright or tangent; sizes closer than this (relative) as equal.
ANGLE, SIZE = 2e-4, 1e-5


#: Nothing of a part lies farther from zero, mm.
_REACH = 1e7


class Piece(NamedTuple):
    """A line, or an arc counter-clockwise from ``a`` to ``b`` about ``center``; a circle has ``a`` equal to ``b``."""

    a: XY
    b: XY
    center: XY | None = None
    radius: float = 0.0


class Taken(NamedTuple):
    """The sketch with its points joined but no relations yet; ``proposed`` are the relations the shape suggests;
    ``remarks`` say what was joined, turned into arcs or left out.
    """

    sketch: Sketch
    proposed: tuple[Relation, ...]
    remarks: tuple[str, ...]

    def with_relations(self, kinds: set[str]) -> Sketch:
        """The sketch with the proposed relations of the chosen kinds, marked as assumed."""
        return msgspec.structs.replace(self.sketch, relations=tuple(r for r in self.proposed if r.kind in kinds))

    def counts(self) -> dict[str, int]:
        return dict(Counter(r.kind for r in self.proposed))


def layers(paper: DxfPaper) -> tuple[str, ...]:
    """Layers that hold outline pieces, the fullest first."""
    counted = Counter(whole(e.dxf.layer) for e in paper.space if e.dxftype() in _READERS)
    return tuple(name for name, _ in counted.most_common())


class Linework(NamedTuple):
    """The lines, arcs and circles of a layer in mm, what was turned into arcs, and how many splines were left out."""

    pieces: list[Piece]
    remarks: list[str]
    splines: int


def pieces_of(paper: DxfPaper, layer: str = "") -> Linework:
    """What a layer (all layers when empty) is drawn with."""
    scale, found = paper.natural_scale() or 1.0, Linework([], [], 0)
    for entity in paper.space:
        kind = entity.dxftype()
        if layer and whole(entity.dxf.layer) != layer:
            continue
        if kind in _READERS:
            sound = [p for p in _READERS[kind](entity, scale) if _is_sound(p)]
            if kind == "ELLIPSE":
                found.remarks.append(f"An ellipse was taken as {len(sound)} arcs, within {ELLIPSE:g} mm.")
            found.pieces.extend(sound)
        elif kind in ("SPLINE", "HELIX"):
            found = found._replace(splines=found.splines + 1)
    return found


def take_outline(paper: DxfPaper, sketch: Sketch, layer: str = "", join: float = 0.01) -> Taken:
    """The outlines on a layer (all layers when empty) as sketch elements; ends within ``join`` mm become one point.

    Raises CannotRead when nothing usable is there, or splines make up the outline.
    """
    linework = pieces_of(paper, layer)
    if linework.splines:
        raise CannotRead(
            f"The outline holds {linework.splines} spline{'s' * (linework.splines > 1)}. A spline has no radius or "
            "centre that a drawing could state, so it cannot be proved. Redraw it with arcs, or choose another layer."
        )
    pieces, remarks = linework.pieces, linework.remarks
    pieces = [p for p in pieces if p.center is not None or math.dist(p.a, p.b) > join]
    if not pieces:
        raise CannotRead("There are no lines, arcs or circles to take. Choose another layer.")
    if len(pieces) > MAX_PIECES:
        raise CannotRead(f"{len(pieces)} lines and arcs are more than a profile has. Choose the layer of the outline.")
    entities, joined, worst = _joined(_placed(pieces), join)
    if joined:
        remarks.append(f"{joined} ends were joined; the widest gap was {worst:.4f} mm.")
    made = msgspec.structs.replace(sketch, entities=tuple(entities), relations=(), dimensions=(), stations=None)
    return Taken(made, tuple(_relations(made)), tuple(remarks))


def on_the_axis(sketch: Sketch) -> Sketch:
    """A turned profile's lower edge tied to the turning axis; its level relation would say the same twice."""
    low = {p.id for p in sketch.points().values() if abs(p.y) < 1e-9}
    lying = {e.id for e in sketch.entities if isinstance(e, Line) and {e.a, e.b} <= low}
    ends = {end for e in sketch.entities if isinstance(e, Line | Arc) for end in (e.a, e.b)} & low
    kept = tuple(r for r in sketch.relations if not (r.kind == "horizontal" and r.of[0] in lying))
    tied = tuple(Relation(f"axis.{point}", "on", (point, ALONG), True) for point in sorted(ends))
    return msgspec.structs.replace(sketch, relations=(*kept, *tied))


# --- reading entities, everything in mm
def _line(e: DXFEntity, k: float) -> Iterator[Piece]:
    yield Piece((e.dxf.start.x * k, e.dxf.start.y * k), (e.dxf.end.x * k, e.dxf.end.y * k))


def _arc(e: ArcEntity, k: float) -> Iterator[Piece]:
    c, r = e.ocs().to_wcs(e.dxf.center), e.dxf.radius * k
    a, b = e.start_point, e.end_point
    ends = ((a.x * k, a.y * k), (b.x * k, b.y * k))
    if e.dxf.extrusion.z < 0:
        ends = (ends[1], ends[0])
    yield Piece(*ends, (c.x * k, c.y * k), r)


def _circle(e: CircleEntity, k: float) -> Iterator[Piece]:
    c, r = e.ocs().to_wcs(e.dxf.center), e.dxf.radius * k
    start = (c.x * k + r, c.y * k)
    yield Piece(start, start, (c.x * k, c.y * k), r)


def _polyline(e: LWPolyline | Polyline, k: float) -> Iterator[Piece]:
    for part in e.virtual_entities():
        if part.dxftype() in ("LINE", "ARC"):
            yield from _READERS[part.dxftype()](part, k)


def _ellipse(e: EllipseEntity, k: float) -> Iterator[Piece]:
    """Arcs through three points of the ellipse each, as many as the tolerance needs."""
    start, end = float(e.dxf.start_param), float(e.dxf.end_param)
    end = end if end > start else end + 2 * math.pi
    for n in range(4, 257, 4):
        steps = [start + (end - start) * i / (2 * n) for i in range(2 * n + 1)]
        points = [(v.x * k, v.y * k) for v in e.vertices(steps)]
        quarter = [start + (end - start) * (i + 0.5) / (2 * n) for i in range(2 * n)]
        between = [(v.x * k, v.y * k) for v in e.vertices(quarter)]
        pieces, worst = [], 0.0
        for i in range(n):
            center, r = _circle_through(points[2 * i], points[2 * i + 1], points[2 * i + 2])
            worst = max(worst, *(abs(math.dist(center, p) - r) for p in between[2 * i : 2 * i + 2]))
            a, m, b = points[2 * i], points[2 * i + 1], points[2 * i + 2]
            left = (m[0] - a[0]) * (b[1] - a[1]) - (m[1] - a[1]) * (b[0] - a[0]) > 0
            pieces.append(Piece(a, b, center, r) if left else Piece(b, a, center, r))
        if worst <= ELLIPSE or n == 256:
            break
    yield from pieces


def _circle_through(a: XY, b: XY, c: XY) -> tuple[XY, float]:
    d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]))
    if abs(d) < 1e-15:
        raise CannotRead("An ellipse of the outline is flat.")
    sa, sb, sc = (p[0] ** 2 + p[1] ** 2 for p in (a, b, c))
    x = (sa * (b[1] - c[1]) + sb * (c[1] - a[1]) + sc * (a[1] - b[1])) / d
    y = (sa * (c[0] - b[0]) + sb * (a[0] - c[0]) + sc * (b[0] - a[0])) / d
    return (x, y), math.dist((x, y), a)


_READERS: dict[str, Callable[..., Iterator[Piece]]] = {
    "LINE": _line, "ARC": _arc, "CIRCLE": _circle, "LWPOLYLINE": _polyline, "POLYLINE": _polyline, "ELLIPSE": _ellipse,
}  # fmt: skip


def _is_sound(piece: Piece) -> bool:
    """A damaged file may state numbers that are none, or lines no part can have."""
    numbers = (*piece.a, *piece.b, *(piece.center or ()), piece.radius)
    return all(math.isfinite(v) and abs(v) < _REACH for v in numbers)


# --- putting it together
def _placed(pieces: list[Piece]) -> list[Piece]:
    """Moved so that the lower left corner of all lies on the origin."""
    xs = [p.a[0] for p in pieces] + [p.b[0] for p in pieces]
    ys = [p.a[1] for p in pieces] + [p.b[1] for p in pieces]
    for p in pieces:
        if p.center is not None and p.a == p.b:
            xs.append(p.center[0] - p.radius)
            ys.append(p.center[1] - p.radius)
    x0, y0 = min(xs), min(ys)

    def moved(at: XY) -> XY:
        return at[0] - x0, at[1] - y0

    return [Piece(moved(p.a), moved(p.b), moved(p.center) if p.center else None, p.radius) for p in pieces]


def _joined(pieces: list[Piece], join: float) -> tuple[list[Entity], int, float]:
    """Entities with common end points; how many ends were not exactly equal, and the widest gap closed."""
    places: list[XY] = []
    entities: list[Entity] = []
    joined, worst = 0, 0.0
    cells: dict[tuple[int, int], list[int]] = {}

    def point(at: XY) -> str:
        nonlocal joined, worst
        cx, cy = int(at[0] // join), int(at[1] // join)
        near = [n for i in (-1, 0, 1) for j in (-1, 0, 1) for n in cells.get((cx + i, cy + j), ())]
        best = min(near, key=lambda n: math.dist(places[n], at), default=None)
        if best is not None and (away := math.dist(places[best], at)) <= join:
            joined += away > 1e-9
            worst = max(worst, away)
            return f"p{best + 1}"
        places.append(at)
        cells.setdefault((cx, cy), []).append(len(places) - 1)
        entities.append(Point(f"p{len(places)}", *at))
        return f"p{len(places)}"

    def center(at: XY) -> str:
        places.append(at)
        entities.append(Point(f"p{len(places)}", *at))
        return f"p{len(places)}"

    for number, piece in enumerate(pieces, 1):
        if piece.center is None:
            a, b = point(piece.a), point(piece.b)
            if a != b:
                entities.append(Line(f"l{number}", a, b))
        elif piece.a == piece.b:
            entities.append(Circle(f"c{number}", center(piece.center), piece.radius))
        else:
            a, b = point(piece.a), point(piece.b)
            entities.append(Arc(f"a{number}", center(piece.center), a, b))
    return entities, joined, worst


def _relations(sketch: Sketch) -> Iterator[Relation]:
    """Level, upright, tangent and equal, each as far as the picked-up shape has it."""
    points, number = sketch.points(), 0

    def made(kind: RelationKind, *of: str) -> Relation:
        nonlocal number
        number += 1
        return Relation(f"r{number}", kind, of, True)

    lines = [e for e in sketch.entities if isinstance(e, Line)]
    for line in lines:
        a, b = points[line.a], points[line.b]
        tilt = math.atan2(b.y - a.y, b.x - a.x) % math.pi
        if min(tilt, math.pi - tilt) < ANGLE:
            yield made("horizontal", line.id)
        elif abs(tilt - math.pi / 2) < ANGLE:
            yield made("vertical", line.id)
    arcs = [e for e in sketch.entities if isinstance(e, Arc)]
    at_end: dict[str, list[Line]] = {}
    for line in lines:
        for end in (line.a, line.b):
            at_end.setdefault(end, []).append(line)
    for arc in arcs:
        c = points[arc.center]
        for end in (arc.a, arc.b):
            for line in at_end.get(end, ()):
                p = points[end]
                a, b = points[line.a], points[line.b]
                along = ((b.x - a.x) * (p.x - c.x) + (b.y - a.y) * (p.y - c.y)) / (
                    math.hypot(b.x - a.x, b.y - a.y) * math.hypot(p.x - c.x, p.y - c.y)
                )
                if abs(along) < 10 * ANGLE:
                    yield made("tangent", line.id, arc.id)
    radii = [(e.radius, e.id) for e in sketch.entities if isinstance(e, Circle)]
    radii += [(math.dist((points[e.a].x, points[e.a].y), (points[e.center].x, points[e.center].y)), e.id) for e in arcs]
    for before, after in _alike(radii):
        yield made("equal", before, after)


def _alike(sizes: list[tuple[float, str]]) -> Iterator[tuple[str, str]]:
    """Neighbours of equal size in a sorted list: chains rather than every pair."""
    ordered = sorted(sizes)
    for (small, a), (large, b) in itertools.pairwise(ordered):
        if large - small <= SIZE * large:
            yield a, b
