"""The gauges of a sketch's dimensions: what each size lies between on the solid, the best way of reading it first."""

from __future__ import annotations

import re
from collections.abc import Callable

import msgspec

from ..names import callouts_in
from ..sketch.copies import Copy
from ..sketch.make.size import direction
from ..sketch.model import ACROSS, ORIGIN, Arc, Circle, Dimension, Line, Sketch, ends_of
from .gauges import AnyGauge, Claim, Diameter, Drawn, Radius, Site, claim
from .sites import Sites

#: Ways of reading one size, the best first.
Ways = tuple[AnyGauge, ...]


def stated_by(sites: Sites, d: Dimension) -> list[Ways]:
    """How one dimension is read; a size that several elements share is read on each."""
    if d.kind in ("radius", "diameter") and d.of[0] not in sites.sketch.points():
        return _rounds(sites, d)
    return _STATED[d.kind](sites, d) if d.kind in _STATED else []


def _drawn(sites: Sites, d: Dimension, what: str, *found: Site | None) -> Ways:
    """A drawn size between sites; none when one of them is not shown by the solid, or all by zero alone."""
    known = [s for s in found if s is not None]
    faces = [f for s in known for f in s.faces()]
    # A face is never measured against itself.
    if len(known) < len(found) or not faces or (len(known) == 2 and known[0] == known[1]):
        return ()
    return (Drawn(faces[0], f"{sites.tag}/frame", what, tuple(known), d.rim, d.far),)  # type: ignore[arg-type]


def _some(*ways: Ways) -> list[Ways]:
    """One size with all its ways of being read; nothing when there is none."""
    found = tuple(dict.fromkeys(g for w in ways for g in w))
    return [found] if found else []


# --- round elements
def _rounds(sites: Sites, d: Dimension) -> list[Ways]:
    """A radius is also that of every element said to be equal, and of every linked copy."""
    alike, found = _alike(sites.sketch, d.of[0]), []
    for curve in sites.sketch.curves():
        site = sites.of(curve.id) if curve.id in alike else None
        if site is None:
            continue
        if site.kind == "edge":  # round faces lie on no axis
            found += _some(((Radius if d.kind == "radius" else Diameter)(site.face),))
        elif isinstance(curve, Circle | Arc):  # a construction circle, by what touches it
            found += _some(_drawn(sites, d, d.kind, site))
    return found


def _alike(sketch: Sketch, id_: str) -> set[str]:
    """A curve and all that are equal to it: said to be, mirrored, or linked copies."""
    alike, grown = {id_}, True
    while grown:
        more = {i for r in sketch.relations if r.kind == "equal" and alike & set(r.of) for i in r.of}
        more |= {i for r in sketch.relations if r.kind == "symmetric" and alike & set(r.of[:2]) for i in r.of[:2]}
        more |= {e.id for e in sketch.curves() for a in alike if _copies(sketch, e.id, a)}
        grown, alike = not more <= alike, alike | more
    return alike


def _copies(sketch: Sketch, id_: str, source: str) -> bool:
    return any(id_.startswith(f"{r.id}.") and id_.endswith(f".{source}") for r in sketch.repeats)


# --- lengths
def _ordinates(sites: Sites, d: Dimension) -> list[Ways]:
    ends = [[sites.of(i)] for i in d.of]
    for k, id_ in enumerate(d.of):
        if (wall := _square(sites, id_, d.kind)) is not None:
            ends[k].append(wall)
        if sites.is_zero(id_, d.kind) and (wall := sites.wall_at_zero(d.kind)) is not None:
            ends[k].insert(0, wall)  # what is said from zero is meant from the wall that was drawn there
        if id_ in (ORIGIN, ACROSS) and d.kind == "along" and sites.sketch.plane.datum:
            ends[k].insert(0, Site("edge", sites.sketch.plane.datum, way=(0.0, 1.0)))
    return _some(*(_drawn(sites, d, d.kind, a, b) for a in ends[0] for b in ends[1]))


def _square(sites: Sites, id_: str, kind: str) -> Site | None:
    """The wall square to a size along or across that a point lies on."""
    sketch = sites.sketch
    if id_ not in sketch.points():
        return None
    wanted = "vertical" if kind == "along" else "horizontal"
    square = {r.of[0] for r in sketch.relations if r.kind == wanted and len(r.of) == 1}
    held = [r.of[1] for r in sketch.relations if r.kind == "on" and r.of[0] == id_]
    ends = [c.id for c in sketch.curves() if isinstance(c, Line) and id_ in (c.a, c.b)]
    return next((s for i in (*ends, *held) if i in square and (s := sites.of(i)) is not None), None)


def _distances(sites: Sites, d: Dimension) -> list[Ways]:
    """Between two elements; a line's own length is also that of every line said to be equal."""
    sketch, ends = sites.sketch, set(d.of)
    line = next((c for c in sketch.curves() if isinstance(c, Line) and {c.a, c.b} == ends), None)
    if line is None:
        pairs = [d.of, *_across_flats(sketch, *d.of)]
        return [w for pair in pairs for w in _some(_drawn(sites, d, "distance", *(sites.of(i) for i in pair)))]
    found = []
    for id_ in _alike(sketch, line.id):
        curve = sketch.by_id.get(id_)
        if isinstance(curve, Line) and (id_ == line.id or not curve.construction):
            corners = _drawn(sites, d, "distance", sites.of(curve.a), sites.of(curve.b))
            found += _some(corners, _drawn(sites, d, "distance", *_walls_at_ends(sites, curve)))
    return found


def _across_flats(sketch: Sketch, first: str, second: str) -> list[tuple[str, str]]:
    """The other pairs of opposite sides, when the two are opposite sides of a polygon of equal ones."""
    alike = _alike(sketch, first)
    sides = [c for c in sketch.curves() if isinstance(c, Line) and c.id in alike and not c.construction]
    if second not in alike or len(sides) < 4 or len(sides) % 2:
        return []
    ring, at = [next(c for c in sides if c.id == first)], ""
    while len(ring) < len(sides):
        at = ring[-1].b if ring[-1].a == at else ring[-1].a if ring[-1].b == at else ring[-1].b
        following = next((c for c in sides if c not in ring and at in (c.a, c.b)), None)
        if following is None:
            return []
        ring.append(following)
    half = len(ring) // 2
    if ring[half].id != second:
        return []
    return [(ring[k].id, ring[k + half].id) for k in range(1, half)]


def _walls_at_ends(sites: Sites, line: Line) -> tuple[Site | None, Site | None]:
    """The walls square to a line at its ends: they tell its length where the line itself made no face."""
    ux, uy = direction(sites.sketch, line.id)
    found: list[Site | None] = []
    for end in (line.a, line.b):
        square = (
            c.id
            for c in sites.sketch.curves()
            if isinstance(c, Line) and c.id != line.id and end in (c.a, c.b)
            and abs(ux * (way := direction(sites.sketch, c.id))[0] + uy * way[1]) < 1e-9
        )  # fmt: skip
        found.append(next((s for i in square if (s := sites.of(i)) is not None), None))
    return found[0], found[1]


def _axis_diameter(sites: Sites, d: Dimension) -> list[Ways]:
    level = _square(sites, d.of[0], "across")
    return _some(_drawn(sites, d, "diameter", sites.of(d.of[0])), _drawn(sites, d, "diameter", level))


def _arc_length(sites: Sites, d: Dimension) -> list[Ways]:
    arc = sites.sketch.by_id.get(d.of[0])
    if not isinstance(arc, Arc):
        return []
    return _some(_drawn(sites, d, "arc_length", sites.of(arc.id), sites.of(arc.a), sites.of(arc.b)))


def _offsets(sites: Sites, d: Dimension) -> list[Ways]:
    pairs = zip(d.of[::2], d.of[1::2], strict=True)
    return [w for a, b in pairs for w in _some(_drawn(sites, d, "wall", sites.of(a), sites.of(b)))]


# --- angles
def _angles(sites: Sites, d: Dimension) -> list[Ways]:
    found = [sites.of(i) for i in d.of]
    counted = (_reversed(s) if s is not None and d.quadrant & (k + 1) else s for k, s in enumerate(found))
    return _some(_drawn(sites, d, "angle", *counted))


def _reversed(site: Site) -> Site:
    """A line counted the other way."""
    of = tuple(_reversed(s) for s in site.of) if site.kind == "first" else site.of
    return msgspec.structs.replace(site, way=(-site.way[0], -site.way[1]), of=of)


def chamfer_angle(sites: Sites, d: Dimension) -> list[Claim]:
    """A corner broken off states its angle with its leg (``0.5 x 45°``): between the line and the break."""
    sketch = sites.sketch
    if d.kind != "distance" or not set(d.of) <= set(sketch.points()):
        return []
    sharp, foot = d.of
    lying = {r.of[1] for r in sketch.relations if r.kind == "on" and r.of[0] == sharp}
    lines = [c.id for c in sketch.curves() if isinstance(c, Line) and foot in (c.a, c.b)]
    if len(lines) != 2 or len(lying & set(lines)) != 1:
        return []
    first, second = sites.of(lines[0]), sites.of(lines[1])
    if first is None or second is None:
        return []
    if first.way[0] * second.way[0] + first.way[1] * second.way[1] < 0:
        second = _reversed(second)
    made = [c for gauge in _drawn(sites, d, "angle", first, second) for c in claim(d.text, gauge)]
    return [c._replace(key="angle") for c in made if c.key == "" and not c.formula]


# --- repeats
def _repeated(sites: Sites, d: Dimension) -> list[Ways]:
    """The pitch or turn of linked copies, from one element of the original to that of its neighbour."""
    sketch = sites.sketch
    repeat = next((r for r in sketch.repeats if r.id == d.of[0]), None)
    if repeat is None:
        return []
    i, j = (0, 1) if d.kind == "pitch2" else (1, 0)
    standing = [e for e in repeat.of if e in sketch.points() or isinstance(sketch.by_id.get(e), Circle | Arc)]
    for e in repeat.of:  # the ends of its lines, where it has nothing round
        curve = sketch.by_id.get(e)
        standing += list(ends_of(curve) or ()) if curve is not None else []
    found: list[AnyGauge] = []
    for source in dict.fromkeys(standing):
        ids = source, Copy(repeat.id, i, j, source).id
        first, second = (sites.of(_spot(sketch, e)) for e in ids)
        if first is None or second is None:
            continue
        if d.kind != "turn":
            found += _drawn(sites, d, "distance", first, second)
        elif (hub := sites.of(repeat.center)) is not None:
            spokes = (sites.spoke(repeat.center, hub, e, s) for e, s in zip(ids, (first, second), strict=True))
            found += _drawn(sites, d, "angle", *spokes)
    return _some(tuple(found))


def _spot(sketch: Sketch, id_: str) -> str:
    """An element's own place: the centre of a round one."""
    curve = sketch.by_id.get(id_)
    return curve.center if isinstance(curve, Circle | Arc) else id_


_STATED: dict[str, Callable[[Sites, Dimension], list[Ways]]] = {
    "along": _ordinates,
    "across": _ordinates,
    "distance": _distances,
    "diameter": _axis_diameter,
    "angle": _angles,
    "arc_length": _arc_length,
    "offset": _offsets,
    "pitch": _repeated,
    "pitch2": _repeated,
    "turn": _repeated,
}


# --- halves
_HALF = re.compile(r"-?\s*(#\d+(?:\.[a-z_]+)?)\s*/\s*2\s*")


def mirrored_halves(sites: Sites, d: Dimension) -> list[Claim]:
    """Half a size on one side of a line, and its like on the other side, stand for the whole."""
    match = _HALF.fullmatch(d.text.strip())
    if match is None or d.kind not in ("along", "across", "distance") or len(d.of) != 2:
        return []
    found: list[Claim] = []
    for middle, end in (d.of, d.of[::-1]):
        for other in _across_from(sites.sketch, d, middle, end):
            spots = _drawn(sites, d, d.kind, sites.of(end), sites.of(other))
            walls = _drawn(sites, d, d.kind, *(_square(sites, i, d.kind) for i in (end, other)))
            for gauge, *others in _some(spots, walls):
                found += claim(match[1], gauge, or_else=tuple(others))
    return found


def _across_from(sketch: Sketch, d: Dimension, middle: str, end: str) -> list[str]:
    """Elements as far on the other side of ``middle`` as ``end`` is on this side."""
    found = [
        r.of[1 - r.of.index(end)]
        for r in sketch.relations
        if r.kind == "symmetric" and end in r.of[:2] and _in_the_middle(sketch, middle, r.of[2])
    ]
    for other in sketch.dimensions:
        if other is d or other.kind != d.kind or middle not in other.of or _HALF.fullmatch(other.text.strip()) is None:
            continue
        if callouts_in(other.text) == callouts_in(d.text):
            beyond = other.of[1 - other.of.index(middle)]
            here, there = (1 if x.of[0] == middle else -1 for x in (d, other))
            if here * d.sense != there * other.sense:
                found.append(beyond)
    return found


def _in_the_middle(sketch: Sketch, middle: str, line: str) -> bool:
    """Whether a size counted from ``middle`` is counted from that line."""
    curve = sketch.by_id.get(line)
    on_it = (curve.a, curve.b) if isinstance(curve, Line) else (ORIGIN,)
    held = {r.of[0] for r in sketch.relations if r.kind == "on" and r.of[1] == line}
    return middle == line or middle in on_it or middle in held
