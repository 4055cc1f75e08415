"""Where the sizes of a sketch take hold on the solid: its lines as faces, its points as what those faces leave.

A corner is where two faces would meet (also when it was rounded off later), a centre is that of a round face; points
and construction lines that make no face are worked out from what they are tied to.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

import msgspec

from ..sketch.copies import is_given
from ..sketch.curves import arc_span
from ..sketch.model import ACROSS, ALONG, ORIGIN, Arc, Circle, Curve, Line, Point, Sketch, Spline, ends_of
from .gauges import Site

XY = tuple[float, float]
_BUILT_IN = {ORIGIN: Site("zero"), ALONG: Site("along"), ACROSS: Site("across", way=(0.0, 1.0))}
#: The line from which sizes of a kind are counted.
_ZERO_LINE = {"along": ACROSS, "across": ALONG}
#: Curves that meet at less than this (sine) touch rather than cross.
TOUCHING = 0.02


class Sites:
    """The sites of one sketch whose lines make the faces ``tag/<line>/side``.

    ``made`` names faces of elements that are called otherwise (a hole's, by its point).
    """

    def __init__(self, sketch: Sketch, tag: str, made: Mapping[str, str] | None = None) -> None:
        self.sketch, self.tag, self.made = sketch, tag, made or {}
        self._points = sketch.points()
        self._known: dict[str, Site | None] = {}
        self._asked: set[str] = set()
        self._same = self._coincident()
        self._of_point: dict[str, list[str]] = {}
        for r in sketch.relations:
            if r.kind in ("on", "midpoint", "symmetric"):
                for id_ in r.of:
                    self._of_point.setdefault(id_, []).append(r.id)
        self._relations = {r.id: r for r in sketch.relations}

    def of(self, id_: str) -> Site | None:
        """The site of an element; None when no face of the solid shows it."""
        if id_ in (ORIGIN, ALONG, ACROSS):
            return _BUILT_IN[id_]
        if id_ not in self._known:
            if id_ in self._asked:
                return None  # in a circle: it says nothing of itself
            self._asked.add(id_)
            found = self._point(id_) if id_ in self._points else self._curve(id_)
            self._asked.discard(id_)
            if found is None and self._asked:
                return None  # perhaps only because of what is being asked; to be asked again
            self._known[id_] = found
        return self._known[id_]

    def spoke(self, hub: str, at_hub: Site, end: str, at_end: Site) -> Site:
        """The line from a hub to a point or to the centre of something round."""
        curve = self.sketch.by_id.get(end)
        h, e = self._at(hub), self._at(curve.center if isinstance(curve, Circle | Arc) else end)
        return Site("through", of=(at_hub, at_end), way=(e[0] - h[0], e[1] - h[1]))

    # --- zero
    def is_zero(self, id_: str, kind: str) -> bool:
        """Whether a size ``along`` or ``across`` is counted from zero there."""
        if id_ in (ORIGIN, _ZERO_LINE[kind]):
            return True
        return id_ in self._points and ORIGIN in self._same.get(id_, ())

    def wall_at_zero(self, kind: str) -> Site | None:
        """A wall that is drawn on the line where sizes ``along`` or ``across`` are zero."""
        held = (c for c in self.sketch.curves() if self._on_axis(c) == _ZERO_LINE[kind] and self._faces(c))
        return next((s for c in held if (s := self.of(c.id)) is not None), None)

    # --- curves
    def _curve(self, id_: str) -> Site | None:
        curve = self.sketch.by_id.get(id_)
        if isinstance(curve, Spline) or not isinstance(curve, Line | Circle | Arc):
            return None
        faces = self._faces(curve)
        if faces:
            edges = tuple(Site("edge", f, near=self._middle(curve), way=self._way(curve)) for f in faces)
            if axis := self._on_axis(curve):  # a wall at zero may lie in the open, where it makes no face
                edges = (*edges, msgspec.structs.replace(_BUILT_IN[axis], way=self._way(curve)))
            return edges[0] if len(edges) == 1 else Site("first", of=edges)
        if isinstance(curve, Line):
            a, b = self.of(curve.a), self.of(curve.b)
            if a is None or b is None:
                return None
            return Site("through", of=(a, b), way=self._way(curve))
        return self._drawn_about(curve)

    def _faces(self, curve: Curve) -> tuple[str, ...]:
        """The face a line makes, those it may have been taken from, or the one it stands for."""
        if curve.id in self.made:
            return (self.made[curve.id],)
        given = is_given(self.sketch, curve.id)
        if curve.link and (curve.construction or not given):
            return (curve.link,)
        if given:
            head = curve.id.partition(".")[0]
            item = next(p for p in self.sketch.projected if p.id == head)
            if curve.construction:
                return (item.a, item.b) if item.b else (item.a,)
        if curve.construction:
            return ()
        return (f"{self.tag}/{curve.id}/side",)

    def _on_axis(self, curve: Curve) -> str:
        """The axis that relations hold a line on; "" for none."""
        if not isinstance(curve, Line):
            return ""
        for axis, square in ((ACROSS, "vertical"), (ALONG, "horizontal")):
            held = [self._held(p, axis) for p in (curve.a, curve.b)]
            upright = any(r.kind == square and r.of == (curve.id,) for r in self.sketch.relations)
            if all(held) or (any(held) and upright):
                return axis
        return ""

    def _held(self, point: str, axis: str) -> bool:
        group = self._same.get(point, frozenset((point,)))
        return ORIGIN in group or any(
            self._relations[i].kind == "on" and self._relations[i].of[1] == axis
            for p in group
            for i in self._of_point.get(p, ())
            if self._relations[i].of[0] == p
        )

    def _drawn_about(self, circle: Circle | Arc) -> Site | None:
        """A construction circle, by the lines that touch it or the corners that lie on it."""
        lines, places = [], []
        for r in self.sketch.relations:
            if circle.id not in r.of:
                continue
            other = next((i for i in r.of if i != circle.id), "")
            if r.kind == "tangent" and isinstance(self.sketch.by_id.get(other), Line):
                lines.append(self.of(other))
            elif r.kind == "on" and other in self._points:
                places.append(self.of(other))
        for found in (lines, places):
            sites = tuple(s for s in found if s is not None)
            if len(sites) >= 3 or (len(sites) == 2 and found is lines):
                c = self._points[circle.center]
                return Site("round", of=sites, near=(c.x, c.y))
        return None

    # --- points
    def _point(self, id_: str) -> Site | None:
        if id_ in self.made:
            return Site("centre", of=(Site("edge", self.made[id_], near=self._at(id_)),))
        group = self._same.get(id_, frozenset((id_,)))
        if ORIGIN in group:
            return Site("zero")
        for p in group:
            if p in self.made:
                return Site("centre", of=(Site("edge", self.made[p], near=self._at(p)),))
        return (
            self._centre(group)
            or self._corner(group, built_in=False)
            or self._corner(group, built_in=True)
            or self._tied(group)
        )

    def _centre(self, group: frozenset[str]) -> Site | None:
        real: list[Curve] = []
        drawn: list[Curve] = []
        for c in self.sketch.curves():
            if isinstance(c, Circle | Arc) and c.center in group:
                (real if self._faces(c) else drawn).append(c)
        for c in (*real, *drawn):
            if (edge := self.of(c.id)) is not None:
                return Site("centre", of=(edge,))
        return None

    def _corner(self, group: frozenset[str], built_in: bool) -> Site | None:
        """Where two curves through a point meet; those that cross at the largest angle tell it best."""
        curves = self._through(group, built_in)
        at = self._at(next(iter(group)))
        best: tuple[float, Site] | None = None
        for n, (a, first) in enumerate(curves):
            for b, second in curves[n + 1 :]:
                cross = abs(_sine(self._direction(a, at), self._direction(b, at)))
                rounds = sum(isinstance(self.sketch.by_id.get(i), Circle | Arc) for i in (a, b))
                if cross < TOUCHING and not rounds:
                    continue
                kind = "touch" if cross < TOUCHING else "crossing"
                if best is None or cross > best[0]:
                    best = (cross, Site(kind, of=(first, second), near=at))  # type: ignore[arg-type]
        return best[1] if best else None

    def _through(self, group: frozenset[str], built_in: bool) -> list[tuple[str, Site]]:
        ids = [c.id for c in self.sketch.curves() if (ends := ends_of(c)) and group & set(ends)]
        for p in group:
            for r in (self._relations[i] for i in self._of_point.get(p, ())):
                if r.kind == "on" and r.of[0] in group and (built_in or r.of[1] not in (ALONG, ACROSS)):
                    ids.append(r.of[1])
        if built_in:  # lines that are drawn, but make no face, may tell it too
            known = [(i, self.of(i)) for i in dict.fromkeys(ids)]
        else:
            known = [(i, self.of(i)) for i in dict.fromkeys(ids) if self._real(i)]
        return [(i, s) for i, s in known if s is not None]

    def _real(self, id_: str) -> bool:
        curve = self.sketch.by_id.get(id_)
        return isinstance(curve, Line | Circle | Arc) and bool(self._faces(curve))

    def _tied(self, group: frozenset[str]) -> Site | None:
        """A point by what it is tied to: the middle of something, or the mirror image of a place."""
        for p in group:
            for r in (self._relations[i] for i in self._of_point.get(p, ())):
                if r.kind == "midpoint" and r.of[0] == p:
                    ends = r.of[1:]
                    line = self.sketch.by_id.get(r.of[1])
                    if isinstance(line, Line):
                        ends = (line.a, line.b)
                    sites = [self.of(i) for i in ends]
                    if len(sites) == 2 and all(s is not None for s in sites):
                        return Site("middle", of=tuple(s for s in sites if s is not None))
                if r.kind == "symmetric" and p in r.of[:2]:
                    other = r.of[1] if r.of[0] == p else r.of[0]
                    sites = [self.of(other), self.of(r.of[2])]
                    if all(s is not None for s in sites):
                        return Site("mirrored", of=tuple(s for s in sites if s is not None))
        return None

    def _coincident(self) -> dict[str, frozenset[str]]:
        groups: dict[str, set[str]] = {}
        for r in self.sketch.relations:
            if r.kind == "coincident":
                joined = set().union(*(groups.get(i, {i}) for i in r.of))
                for i in joined:
                    groups[i] = joined
        return {i: frozenset(g) for i, g in groups.items()}

    # --- the stored pose, to tell one crossing from another
    def _at(self, id_: str) -> XY:
        p = self._points.get(id_) or Point("", 0.0, 0.0)
        return p.x, p.y

    def _middle(self, curve: Curve) -> XY:
        if isinstance(curve, Line):
            (ax, ay), (bx, by) = self._at(curve.a), self._at(curve.b)
            return (ax + bx) / 2, (ay + by) / 2
        assert isinstance(curve, Circle | Arc)
        return self._at(curve.center)

    def _way(self, curve: Curve) -> XY:
        if not isinstance(curve, Line):
            return 1.0, 0.0
        (ax, ay), (bx, by) = self._at(curve.a), self._at(curve.b)
        size = math.hypot(bx - ax, by - ay) or 1.0
        return (bx - ax) / size, (by - ay) / size

    def _direction(self, id_: str, at: XY) -> XY:
        """Which way a curve runs at a place on it."""
        if id_ in (ALONG, ACROSS):
            return (1.0, 0.0) if id_ == ALONG else (0.0, 1.0)
        curve = self.sketch.get(id_)
        if isinstance(curve, Circle | Arc):
            c = self._at(curve.center)
            radius = arc_span(curve, self._points)[2] if isinstance(curve, Arc) else curve.radius
            return (-(at[1] - c[1]) / (radius or 1.0), (at[0] - c[0]) / (radius or 1.0))
        assert isinstance(curve, Line | Spline)
        return self._way(curve)


def _sine(u: XY, v: XY) -> float:
    return u[0] * v[1] - u[1] * v[0]
