"""The turned profile: a table of stations along the axis, written out as an ordinary constrained sketch.

Every outline element is named after its station, so that names survive when rows are edited or inserted:
``a.od`` is the surface of row ``a``, ``a.end`` the face at its right end, ``a.left``/``a.right`` its edges,
``a.wall``/``a.floor`` its groove; ``start`` is the left face of the part and ``axis`` the centre line.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import msgspec

from ...quantity import ExpressionError, Scope, evaluate
from ..model import ALONG, ORIGIN, Arc, Dimension, Entity, Line, Point, Relation, Sketch, Station
from ..refusal import SketchError
from .treatment import Chamfer, Fillet, edge_treatment, groove

XY = tuple[float, float]


class _Segment(NamedTuple):
    """A straight piece of the outline between sharp corners; ``treatment`` is that of the corner at its start."""

    id: str
    start: XY
    corner: str
    treatment: Chamfer | Fillet | None


class _Row(NamedTuple):
    """A station worked out: positions and radii in mm."""

    station: Station
    z0: float
    z1: float
    r0: float
    r1: float


def from_stations(sketch: Sketch, stations: tuple[Station, ...], scope: Scope) -> Sketch:
    """``sketch`` with its geometry written from ``stations``.

    Raises SketchError naming the row, or ExpressionError for a formula that has no value.
    """
    if not stations:
        raise SketchError("The profile has no rows yet. Type a length and a diameter.")
    return _Writer(sketch, stations, scope).write()


class _Writer:
    def __init__(self, sketch: Sketch, stations: tuple[Station, ...], scope: Scope) -> None:
        self.sketch, self.stations, self.scope = sketch, stations, scope
        self.entities: list[Entity] = []
        self.relations: list[Relation] = []
        self.dimensions: list[Dimension] = []
        self.rows = self._work_out()

    def write(self) -> Sketch:
        segments = self._segments()
        self._outline(segments)
        self._measures()
        return msgspec.structs.replace(
            self.sketch,
            stations=self.stations,
            entities=tuple(self.entities),
            relations=tuple(self.relations),
            dimensions=tuple(self.dimensions),
        )

    # --- numbers
    def size(self, text: str, row: int, what: str, want: str = "length") -> float:
        try:
            value = evaluate(text, self.scope, want)
        except ExpressionError as error:
            raise SketchError(f"Row {row}, {what}: {error}") from None
        if value <= 0:
            raise SketchError(f"Row {row}: the {what} must be above zero; it is {value:g}.")
        return value

    def _work_out(self) -> list[_Row]:
        rows: list[_Row] = []
        z = 0.0
        for number, s in enumerate(self.stations, 1):
            if not s.diameter.strip():
                raise SketchError(f"Row {number} has no diameter yet.")
            if s.to.strip():
                z1 = self.size(s.to, number, "position")
                if z1 <= z:
                    raise SketchError(f"Row {number} ends at {z1:g}, but it starts at {z:g}. Positions must rise.")
            elif s.length.strip():
                z1 = z + self.size(s.length, number, "length")
            else:
                raise SketchError(f"Row {number} has neither a position nor a length yet.")
            r0 = self.size(s.diameter, number, "diameter") / 2
            r1 = self.size(s.diameter2, number, "second diameter") / 2 if s.diameter2.strip() else r0
            rows.append(_Row(s, z, z1, r0, r1))
            z = z1
        return rows

    # --- the outline with sharp corners, left to right over the top
    def _segments(self) -> list[_Segment]:
        found = [_Segment("start", (0.0, 0.0), "origin", None)]
        for number, row in enumerate(self.rows, 1):
            s = row.station
            left, right = self._edge(s.left, number), self._edge(s.right, number)
            if number > 1 and found[-1].id == "":
                if left:
                    raise SketchError(f"Row {number}: there is no corner at its left end to treat.")
                found[-1] = _Segment(f"{s.id}.od", found[-1].start, f"{s.id}.left", None)
            else:
                found.append(_Segment(f"{s.id}.od", (row.z0, row.r0), f"{s.id}.left", left))
            found += self._end(number, row, right)
        return found

    def _edge(self, text: str, number: int) -> Chamfer | Fillet | None:
        try:
            return edge_treatment(text, self.scope)
        except ExpressionError as error:
            raise SketchError(f"Row {number}: {error.message}") from None

    def _end(self, number: int, row: _Row, right: Chamfer | Fillet | None) -> list[_Segment]:
        """What closes a row on the right: a groove and its walls, a shoulder, or nothing where tapers meet."""
        s, after = row.station, self.rows[number] if number < len(self.rows) else None
        found = []
        r_end = row.r1
        try:
            cut = groove(s.groove)
        except ExpressionError as error:
            raise SketchError(f"Row {number}: {error.message}") from None
        if cut:
            if row.r0 != row.r1:
                raise SketchError(f"Row {number}: a groove is cut in a straight row, not in a taper.")
            width = self.size(cut.width, number, "groove width")
            r_floor = self.size(cut.diameter, number, "groove diameter") / 2
            if width >= row.z1 - row.z0 or r_floor >= row.r1:
                raise SketchError(f"Row {number}: the groove does not fit inside the row.")
            z = row.z1 - width
            found.append(_Segment(f"{s.id}.wall", (z, row.r1), f"{s.id}.right", right))
            found.append(_Segment(f"{s.id}.floor", (z, r_floor), f"{s.id}.root", None))
            right, r_end = None, r_floor
        if after is not None and math.isclose(after.r0, r_end, abs_tol=1e-9):
            if math.isclose(row.r0, row.r1) and math.isclose(after.r0, after.r1):
                raise SketchError(
                    f"Rows {number} and {number + 1} have the same diameter where they meet. Make them one row."
                )
            return [*found, _Segment("", (row.z1, r_end), "", None)]
        return [
            *found,
            _Segment(f"{s.id}.end", (row.z1, r_end), f"{s.id}.corner" if cut else f"{s.id}.right", right),
        ]

    # --- entities and relations
    def _outline(self, segments: list[_Segment]) -> None:
        end = self.rows[-1].z1
        corners = [segment.start for segment in segments] + [(end, 0.0)]
        ends = []
        for at, segment in enumerate(segments):
            before = corners[at - 1] if at else corners[-1]
            ends.append(self._corner(segment, before, corners[at + 1]))
        self.entities.append(Point("tail", end, 0.0))
        for at, segment in enumerate(segments):
            a = ends[at][1]
            b = ends[at + 1][0] if at + 1 < len(segments) else "tail"
            self._check_room(segment, a, b, corners[at], corners[at + 1])
            self.entities.append(Line(segment.id, a, b))
            self._direction(segment.id)
        self.entities.append(Line("axis", "tail", "origin.p"))
        self.relations.append(Relation("datum", "coincident", ("origin.p", ORIGIN)))
        self.relations.append(Relation("tail.on", "on", ("tail", ALONG)))

    def _direction(self, id_: str) -> None:
        station, _, part = id_.partition(".")
        row = next((r for r in self.rows if r.station.id == station), None)
        if part in ("end", "wall") or id_ == "start":
            self.relations.append(Relation(f"{id_}.v", "vertical", (id_,)))
        elif row is None or part == "floor" or row.r0 == row.r1:
            self.relations.append(Relation(f"{id_}.h", "horizontal", (id_,)))

    def _corner(self, segment: _Segment, before: XY, after: XY) -> tuple[str, str]:
        """Points where the outline arrives at and leaves a corner (one point when it is sharp)."""
        name, (x, y) = segment.corner or f"{segment.id}.meet", segment.start
        if segment.treatment is None:
            self.entities.append(Point(f"{name}.p", x, y))
            return f"{name}.p", f"{name}.p"
        u, v = _unit((x, y), before), _unit((x, y), after)
        maker = self._chamfer if isinstance(segment.treatment, Chamfer) else self._fillet
        maker(name, (x, y), u, v, segment)
        return f"{name}.a", f"{name}.b"

    def _chamfer(self, name: str, corner: XY, u: XY, v: XY, segment: _Segment) -> None:
        number, treatment = self._row_number(name), segment.treatment
        assert isinstance(treatment, Chamfer)
        leg = self.size(treatment.leg, number, "chamfer")
        angle = self.size(treatment.angle, number, "chamfer angle", "angle")
        if angle >= math.radians(89.9):
            raise SketchError(f"Row {number}: a chamfer angle must be under 90°.")
        # Along the turned surface by the leg, down the face by leg * tan(angle).
        along_first = abs(u[0]) >= abs(v[0])
        far = leg * math.tan(angle)
        slope = u if along_first else v
        reach = leg / abs(slope[0])
        rise = far - reach * abs(slope[1]) * (1 if slope[1] * (v if along_first else u)[1] < 0 else -1)
        first, second = (reach, rise) if along_first else (rise, reach)
        a = (corner[0] + u[0] * first, corner[1] + u[1] * first)
        b = (corner[0] + v[0] * second, corner[1] + v[1] * second)
        self.entities += [
            Point(f"{name}.a", *a),
            Point(f"{name}.b", *b),
            Line(name, f"{name}.a", f"{name}.b"),
        ]
        sense = 1 if b[0] > a[0] else -1
        tilt = math.atan2(b[1] - a[1], b[0] - a[0])
        quadrant = 0 if abs(tilt) < math.pi / 2 else 2
        tilt = math.remainder(tilt - (math.pi if quadrant else 0), 2 * math.pi)
        self._dimension(f"{name}.leg", "along", (f"{name}.a", f"{name}.b"), treatment.leg, sense=sense)
        self._dimension(
            f"{name}.angle",
            "angle",
            (ALONG, name),
            treatment.angle,
            sense=1 if tilt > 0 else -1,
            quadrant=quadrant,
        )

    def _fillet(self, name: str, corner: XY, u: XY, v: XY, segment: _Segment) -> None:
        assert isinstance(segment.treatment, Fillet)
        radius = self.size(segment.treatment.radius, self._row_number(name), "radius")
        half = math.acos(max(-1.0, min(1.0, u[0] * v[0] + u[1] * v[1]))) / 2
        reach, deep = radius / math.tan(half), radius / math.sin(half)
        a = (corner[0] + u[0] * reach, corner[1] + u[1] * reach)
        b = (corner[0] + v[0] * reach, corner[1] + v[1] * reach)
        middle = _unit((0.0, 0.0), (u[0] + v[0], u[1] + v[1]))
        center = (corner[0] + middle[0] * deep, corner[1] + middle[1] * deep)
        self.entities += [Point(f"{name}.a", *a), Point(f"{name}.b", *b), Point(f"{name}.c", *center)]
        left = (a[0] - center[0]) * (b[1] - center[1]) - (a[1] - center[1]) * (b[0] - center[0]) > 0
        first, second = ("a", "b") if left else ("b", "a")
        self.entities.append(Arc(name, f"{name}.c", f"{name}.{first}", f"{name}.{second}"))
        self._dimension(f"{name}.radius", "radius", (name,), segment.treatment.radius)
        before = self._segment_before(name)
        self.relations.append(Relation(f"{name}.t1", "tangent", (before, name)))
        self.relations.append(Relation(f"{name}.t2", "tangent", (segment.id, name)))

    def _segment_before(self, corner: str) -> str:
        """The outline piece that arrives at ``corner``."""
        station, _, part = corner.partition(".")
        if part in ("right", "corner"):
            return f"{station}.od" if part == "right" else f"{station}.floor"
        at = next(i for i, r in enumerate(self.rows) if r.station.id == station)
        return "start" if at == 0 else f"{self.rows[at - 1].station.id}.end"

    def _check_room(self, segment: _Segment, a: str, b: str, start: XY, end: XY) -> None:
        """The piece between two treated corners must still point the way it did."""
        points = {e.id: e for e in self.entities if isinstance(e, Point)}
        dx, dy = points[b].x - points[a].x, points[b].y - points[a].y
        if dx * (end[0] - start[0]) + dy * (end[1] - start[1]) <= 1e-12:
            raise SketchError(
                f"Row {self._row_number(segment.id)}: the edges do not fit; nothing is left of {_spoken(segment.id)}. "
                "Make the chamfer, radius or groove smaller."
            )

    def _row_number(self, id_: str) -> int:
        station = id_.partition(".")[0]
        return next((i for i, r in enumerate(self.rows, 1) if r.station.id == station), 1)

    # --- dimensions
    def _dimension(self, id_: str, kind: str, of: tuple[str, ...], text: str, **more: int) -> None:
        self.dimensions.append(
            Dimension(id=id_, kind=kind, of=of, text=text, **more)  # type: ignore[arg-type]
        )

    def _measures(self) -> None:
        known = {e.id for e in self.entities}
        left = "start"
        for number, row in enumerate(self.rows, 1):
            s = row.station
            end = f"{s.id}.end"
            if end not in known:
                end = next(
                    e.a for e in self.entities if isinstance(e, Line) and e.id == f"{self.rows[number].station.id}.od"
                )
            if s.to.strip():
                self._dimension(f"{s.id}.to", "along", ("start", end), s.to)
            else:
                self._dimension(f"{s.id}.length", "along", (left, end), s.length)
            self._diameters(row)
            if cut := groove(s.groove):
                self._dimension(f"{s.id}.width", "along", (f"{s.id}.wall", f"{s.id}.end"), cut.width)
                self._dimension(f"{s.id}.root", "diameter", (f"{s.id}.floor",), cut.diameter)
            left = end

    def _diameters(self, row: _Row) -> None:
        s = row.station
        if row.r0 == row.r1:
            self._dimension(f"{s.id}.diameter", "diameter", (f"{s.id}.od",), s.diameter)
            return
        line = next(e for e in self.entities if isinstance(e, Line) and e.id == f"{s.id}.od")
        for text, end, z, r, key in (
            (s.diameter, line.a, row.z0, row.r0, "diameter"),
            (s.diameter2, line.b, row.z1, row.r1, "diameter2"),
        ):
            self._dimension(f"{s.id}.{key}", "diameter", (self._sharp(row, line, end, z, r, key),), text)

    def _sharp(self, row: _Row, line: Line, end: str, z: float, r: float, key: str) -> str:
        """The sharp corner of a taper's end; a treated corner gets a point of its own on both lines."""
        point = next(e for e in self.entities if e.id == end)
        assert isinstance(point, Point)
        if abs(point.x - z) < 1e-9 and abs(point.y - r) < 1e-9:
            return end
        at = next(i for i, x in enumerate(self.rows) if x is row)
        before = "start" if at == 0 else f"{self.rows[at - 1].station.id}.end"
        face = before if key == "diameter" else f"{row.station.id}.end"
        name = f"{row.station.id}.{key}.sharp"
        self.entities.append(Point(name, z, r))
        self.relations += [
            Relation(f"{name}.l", "on", (name, line.id)),
            Relation(f"{name}.f", "on", (name, face)),
        ]
        return name


def _unit(start: XY, end: XY) -> XY:
    dx, dy = end[0] - start[0], end[1] - start[1]
    length = math.hypot(dx, dy)
    if length < 1e-12:
        raise SketchError("Two corners of the profile fall on one point.")
    return dx / length, dy / length


def _spoken(id_: str) -> str:
    part = id_.partition(".")[2]
    return {
        "od": "its surface",
        "end": "the face at its end",
        "wall": "the groove wall",
        "floor": "the groove floor",
    }.get(part, "the left face")


def station_for(stations: tuple[Station, ...], dimension: str, text: str, scope: Scope) -> tuple[Station, ...]:
    """The table after a dimension of its sketch was given another formula on the plate. Raises SketchError."""
    id_, *parts = dimension.split(".")
    station = next((s for s in stations if s.id == id_), None)
    if station is None or not parts:
        raise SketchError(f"The table has no size called {dimension}.")
    field = parts[0]
    if field in ("left", "right", "corner"):
        field = "right" if field == "corner" else field
        old = edge_treatment(getattr(station, field), scope)
        if isinstance(old, Fillet):
            new = f"R{text}"
        elif isinstance(old, Chamfer):
            leg, angle = (text, old.angle) if parts[1] == "leg" else (old.leg, text)
            new = f"{leg} x {angle}"
        else:
            raise SketchError(f"The table has no size called {dimension}.")
    elif field in ("width", "root"):
        cut = groove(station.groove)
        assert cut is not None
        new = f"{text} x {cut.diameter}" if field == "width" else f"{cut.width} x {text}"
        field = "groove"
    else:
        new = text
    changed = msgspec.structs.replace(station, **{field: new})
    return tuple(changed if s.id == id_ else s for s in stations)
