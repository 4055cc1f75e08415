"""From the sizes of a sketch to gauges on the faces its lines make."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence

import msgspec

from ..quantity import references
from ..sketch.copies import Copy
from ..sketch.model import ACROSS, ORIGIN, Arc, Circle, Dimension, Line, Sketch, ends_of
from ..sketch.region import Region, find_regions
from .gauges import AnyGauge, AxisAngle, Claim, Count, Diameter, Drawn, Radius, Site, claim
from .sites import Sites


def sketch_claims(sketch: Sketch, tag: str, chosen: Sequence[str] = ()) -> list[Claim]:
    """What the dimensions of a swept sketch state about the faces ``tag/<line>/side``.

    With areas ``chosen`` only about the lines that bound them: a line between two of them makes no face.
    """
    found = dimension_claims(sketch, tag) + _direction_claims(sketch, tag)
    found += _counts(found)
    if not chosen:
        return found
    edges = {f"{tag}/{name}/side" for name in _bounding(sketch, chosen)}
    return [c for c in found if all(f in edges or not f.startswith(f"{tag}/") for f in c.faces())]


def dimension_claims(sketch: Sketch, tag: str, made: Mapping[str, str] | None = None) -> list[Claim]:
    """What each driving dimension states; ``made`` names the faces of elements that are not called after their line."""
    sites = Sites(sketch, tag, made)
    return [
        c
        for d in sketch.dimensions
        if not d.reference and "#" in d.text
        for c in (*_mirrored_halves(sites, d), *(c for gauge in _gauges(sites, d) for c in claim(d.text, gauge)))
    ]


_HALF = re.compile(r"-?\s*(#\d+(?:\.[a-z_]+)?)\s*/\s*2\s*")


def _mirrored_halves(sites: Sites, d: Dimension) -> list[Claim]:
    """Half a size on one side of a line, and its like on the other side, stand for the whole."""
    match = _HALF.fullmatch(d.text.strip())
    if match is None or d.kind not in ("along", "across", "distance") or len(d.of) != 2:
        return []
    found: list[Claim] = []
    for middle, end in (d.of, d.of[::-1]):
        for other in _across_from(sites.sketch, d, middle, end):
            for gauge in _drawn(sites, d, d.kind, *(_square(sites, i, d.kind) for i in (end, other))):
                found += claim(match[1], gauge)
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
        if references(other.text) == references(d.text):
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


def _bounding(sketch: Sketch, chosen: Sequence[str]) -> set[str]:
    """Curves that lie on the edge of just one of the chosen areas."""
    regions: list[Region] = [r for r in find_regions(sketch, check=False).every() if r.id in chosen]
    names = [name for r in regions for loop in (r.outer, *r.holes) for name, _ in loop.curves]
    return {n for n in names if names.count(n) == 1}


def _counts(found: list[Claim]) -> list[Claim]:
    """How many round faces a callout such as ``4x R3`` states."""
    faces: dict[int, list[str]] = {}
    for c in found:
        if c.key == "" and not c.formula and isinstance(c.gauge, Radius | Diameter):
            faces.setdefault(c.number, []).append(c.gauge.face)
    return [
        Claim(number, "count", Count(names[0], tuple(names[1:]), even=False))
        for number, named in faces.items()
        if len(names := list(dict.fromkeys(named))) > 1
    ]


def _gauges(sites: Sites, d: Dimension) -> list[AnyGauge]:
    """The gauges of one dimension; a size that several elements share has one for each."""
    if d.kind in ("radius", "diameter") and d.of[0] not in sites.sketch.points():
        return _round_gauges(sites, d)
    return _STATED[d.kind](sites, d) if d.kind in _STATED else []


def _round_gauges(sites: Sites, d: Dimension) -> list[AnyGauge]:
    """A radius is also that of every element said to be equal, and of every linked copy."""
    sketch, alike = sites.sketch, _alike(sites.sketch, d.of[0])
    found: list[AnyGauge] = []
    for curve in sketch.curves():
        if curve.id not in alike:
            continue
        site = sites.of(curve.id)
        if site is None:
            continue
        if site.kind == "edge":
            found.append((Radius if d.kind == "radius" else Diameter)(site.face))
        elif isinstance(curve, Circle | Arc):  # a construction circle, by what touches it
            found += _drawn(sites, d, d.kind, site)
    return found


def _copies(sketch: Sketch, id_: str, source: str) -> bool:
    return any(id_.startswith(f"{r.id}.") and id_.endswith(f".{source}") for r in sketch.repeats)


def _drawn(sites: Sites, d: Dimension, what: str, *found: Site | None) -> list[AnyGauge]:
    """A drawn size between sites; none when one of them is not shown by the solid, or all by zero alone."""
    known = [s for s in found if s is not None]
    faces = [f for s in known for f in s.faces()]
    if len(known) < len(found) or not faces or _same(known):
        return []
    return [Drawn(faces[0], f"{sites.tag}/frame", what, tuple(known), d.rim, d.far)]  # type: ignore[arg-type]


def _same(found: Sequence[Site]) -> bool:
    """A face is never measured against itself."""
    return len(found) == 2 and found[0] == found[1]


def _ordinates(sites: Sites, d: Dimension) -> list[AnyGauge]:
    return _drawn(sites, d, d.kind, *(_square(sites, i, d.kind) for i in d.of))


def _square(sites: Sites, id_: str, kind: str) -> Site | None:
    """The site of one end of a size along or across; of a point that nothing else tells, the line square to it."""
    sketch = sites.sketch
    if id_ in (ORIGIN, ACROSS) and kind == "along" and sketch.plane.datum:
        return Site("first", of=(Site("edge", sketch.plane.datum, way=(0.0, 1.0)), Site("zero")))
    found = sites.of(id_)
    if found is not None or id_ not in sketch.points():
        return found
    wanted = "vertical" if kind == "along" else "horizontal"
    square = {r.of[0] for r in sketch.relations if r.kind == wanted and len(r.of) == 1}
    held = [r.of[1] for r in sketch.relations if r.kind == "on" and r.of[0] == id_]
    ends = [c.id for c in sketch.curves() if isinstance(c, Line) and id_ in (c.a, c.b)]
    return next((s for i in (*ends, *held) if i in square and (s := sites.of(i)) is not None), None)


def _distance(sites: Sites, d: Dimension) -> list[AnyGauge]:
    """Between two elements; a line's own length is also that of every line said to be equal."""
    found = _drawn(sites, d, "distance", *(sites.of(i) for i in d.of))
    for line in sites.sketch.curves():
        if isinstance(line, Line) and {line.a, line.b} == set(d.of):
            for other in _alike(sites.sketch, line.id) - {line.id}:
                curve = sites.sketch.by_id.get(other)
                if isinstance(curve, Line) and not curve.construction:
                    found += _drawn(sites, d, "distance", sites.of(curve.a), sites.of(curve.b))
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


def _axis_diameter(sites: Sites, d: Dimension) -> list[AnyGauge]:
    return _drawn(sites, d, "diameter", _square(sites, d.of[0], "across"))


def _angle(sites: Sites, d: Dimension) -> list[AnyGauge]:
    found = [sites.of(i) for i in d.of]
    turned = [_reversed(s) if s is not None and d.quadrant & (k + 1) else s for k, s in enumerate(found)]
    return _drawn(sites, d, "angle", *turned)


def _reversed(site: Site) -> Site:
    """A line counted the other way."""
    of = tuple(_reversed(s) for s in site.of) if site.kind == "first" else site.of
    return msgspec.structs.replace(site, way=(-site.way[0], -site.way[1]), of=of)


def _arc_length(sites: Sites, d: Dimension) -> list[AnyGauge]:
    arc = sites.sketch.by_id.get(d.of[0])
    if not isinstance(arc, Arc):
        return []
    return _drawn(sites, d, "arc_length", sites.of(arc.id), sites.of(arc.a), sites.of(arc.b))


def _offsets(sites: Sites, d: Dimension) -> list[AnyGauge]:
    pairs = zip(d.of[::2], d.of[1::2], strict=True)
    return [g for a, b in pairs for g in _drawn(sites, d, "wall", sites.of(a), sites.of(b))]


def _repeated(sites: Sites, d: Dimension) -> list[AnyGauge]:
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
    for source in dict.fromkeys(standing):
        pair = sites.of(_spot(sketch, source)), sites.of(_spot(sketch, Copy(repeat.id, i, j, source).id))
        if None in pair:
            continue
        if d.kind != "turn":
            return _drawn(sites, d, "distance", *pair)
        hub = sites.of(repeat.center)
        if hub is not None:
            ids = source, Copy(repeat.id, i, j, source).id
            spokes = zip(ids, pair, strict=True)
            return _drawn(sites, d, "angle", *(sites.spoke(repeat.center, hub, e, p) for e, p in spokes if p))
    return []


def _spot(sketch: Sketch, id_: str) -> str:
    """An element's own place: the centre of a round one."""
    curve = sketch.by_id.get(id_)
    return curve.center if isinstance(curve, Circle | Arc) else id_


_STATED: dict[str, Callable[[Sites, Dimension], list[AnyGauge]]] = {
    "along": _ordinates,
    "across": _ordinates,
    "distance": _distance,
    "diameter": _axis_diameter,
    "angle": _angle,
    "arc_length": _arc_length,
    "offset": _offsets,
    "pitch": _repeated,
    "pitch2": _repeated,
    "turn": _repeated,
}


def _direction_claims(sketch: Sketch, tag: str) -> list[Claim]:
    """The stated direction of a side plane is that of the lowest flat it makes."""
    if sketch.plane.base != "side":
        return []
    points = sketch.points()
    level = {r.of[0] for r in sketch.relations if r.kind == "horizontal" and len(r.of) == 1}
    lines = [c for c in sketch.curves() if isinstance(c, Line) and c.id in level and not c.construction]
    if not lines:
        return []
    lowest = min(lines, key=lambda c: points[c.a].y)
    return claim(sketch.plane.angle, AxisAngle(lowest.link or f"{tag}/{lowest.id}/side"))
