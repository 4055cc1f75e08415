"""What is milled: the faces of each step by the ways a cutter reaches them, and the sides squared up before all."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence

from ...kernel.ground.figures import Surface, Vector
from ...kernel.ground.geometry import dot, minus, norm
from ...tolerance import LEVEL
from ..tooling import Tool
from .approach import covered
from .work import Built, Kind, Made, Operation, way_key

_NEAR = 1e-4
#: Kinds of steps whose faces are one sort of cut, whatever they look like.
_KEYWAY: tuple[Kind, str] = ("keyway", "cut")
_BY_STEP: dict[str, tuple[Kind, str]] = {
    "Chamfer": ("chamfer", "chamfer"), "Fillet": ("round", "fillet"), "Engrave": ("engrave", "engrave"),
    "Knurl": ("knurl", "knurl"), "Sweep": ("groove", "groove"), "Rib": ("outline", "mill"),
    "Polygon": ("outline", "mill"),
}  # fmt: skip
#: What a cut is called whose step has no name.
_UNNAMED: dict[Kind, str] = {
    "outline": "the outline", "pocket": "the pocket", "slot": "the slot", "keyway": "the keyway", "round": "the edges",
    "chamfer": "the edges",
}  # fmt: skip
#: A cutter where nothing tells its size, the largest end mill usual, and a face mill, mm.
_USUAL, _LARGEST, _FACER = 12.0, 25.0, 50.0
_BURRS: dict[Kind, str] = {"outline": "its edges", "pocket": "its rim", "slot": "both rims", "keyway": "its edges"}


def squared(built: Built) -> list[Operation]:
    """The flat faces that bound the part along its axes, first of all: the others are measured from them."""
    bought = {m.id for m in built.steps if m.kind == "Stock"}
    made = (s for s, maker in zip(built.surfaces, built.makers, strict=True) if maker not in bought)
    ends = [s for s in made if s.kind == "plane" and _bounds(built, s)]
    if len(ends) < 3:
        return []
    words = " x ".join(built.style.length(b - a) for a, b in zip(built.low, built.high, strict=True))
    faces = tuple(s.index for s in ends)
    tool, length = Tool("mill", "face mill", _FACER, 0.0, (), ""), sum(s.area for s in ends) / (0.6 * _FACER)
    operation = Operation(
        "square", "square", "mill", f"square up to {words}", faces, (), tool, len(ends), built.callouts_on(faces),
        length, _FACER, burr="all its edges",
    )  # fmt: skip
    return [operation]


def _bounds(built: Built, s: Surface) -> bool:
    """Whether a flat face is the part's outermost along an axis."""
    for k in range(3):
        if abs(s.axis[k]) > 1 - LEVEL:
            return abs(s.origin[k] - (built.high if s.axis[k] > 0 else built.low)[k]) < _NEAR
    return False


def milling(built: Built, step: Made, faces: Sequence[Surface]) -> Iterator[Operation]:
    """The cuts of one step, one for each way that is needed."""
    chips, groups = built.chips_of(step.id), covered(faces)
    whole = sum(s.area for s in built.made_by(step.id)) or 1.0
    for at, (reaching, group) in enumerate(groups):
        through = tuple(w for w in reaching if _has_opposite(w, reaching))
        inside = bool(through) and _in_a_bore(built, group)
        ways = through if inside else _down_to_floors(reaching, group)
        own = tuple(s.index for s in group)
        kind, verb = _KEYWAY if inside else _kind(step, group, ways)
        key = f"{step.id}:{kind}" if not at else f"{step.id}:{kind}:{way_key(ways[0]) if ways else 'none'}"
        part = f", {_side(ways[0])}" if len(groups) > 1 and ways else ""
        tool = _cutter(built, kind, group, ways)
        area = sum(s.area for s in group)
        name = step.name or _UNNAMED.get(kind, step.kind.lower())
        verb = "" if verb[:6] in name.lower() else f"{verb} "
        taken = (chips * area / whole if chips else area) if kind in _BURRS else 0.0
        yield Operation(
            key, kind, "mill", f"{verb}{name[:1].lower() + name[1:]}{part}", own, ways, tool, 1,
            built.callouts_on(own), sum(2 * math.sqrt(s.area) for s in group), tool.diameter, taken,
            _BURRS.get(kind, ""),
        )  # fmt: skip


def _down_to_floors(ways: tuple[Vector, ...], group: Sequence[Surface]) -> tuple[Vector, ...]:
    """A floor is milled from above it, where it can be; the side of a cutter is for walls."""
    floors = tuple(w for w in ways if any(s.kind == "plane" and dot(s.axis, w) > 1 - LEVEL for s in group))
    return floors or ways


def _has_opposite(way: Vector, ways: Sequence[Vector]) -> bool:
    return any(dot(way, other) < -1 + LEVEL for other in ways)


def _in_a_bore(built: Built, group: Sequence[Surface]) -> bool:
    """Whether a floor looks across a bore, which hides it from above: it is cut along the bore."""
    return any(_looks_across(s, c) for s in group if s.kind == "plane" for c in built.surfaces)


def _looks_across(floor: Surface, bore: Surface) -> bool:
    if bore.kind != "cylinder" or not bore.hollow or bore.turn < math.pi or abs(dot(bore.axis, floor.axis)) > LEVEL:
        return False
    gap = minus(bore.origin, floor.center)
    lift = dot(gap, bore.axis)
    across = (gap[0] - lift * bore.axis[0], gap[1] - lift * bore.axis[1], gap[2] - lift * bore.axis[2])
    far, (low, high) = norm(across), bore.span
    if not low - _NEAR < -lift < high + _NEAR:  # beside the bore, not across it
        return False
    return 0.7 * bore.radius < far < 2.5 * bore.radius and dot(across, floor.axis) > 0.99 * far


_SIDES = {"+z": "from the top", "-z": "from below", "+x": "from the right", "-x": "from the left",
          "-y": "from the front", "+y": "from the back"}  # fmt: skip


def _side(way: Vector) -> str:
    return _SIDES.get(way_key(way), "from where it leans")


def _kind(step: Made, group: Iterable[Surface], ways: Sequence[Vector]) -> tuple[Kind, str]:
    if step.kind in _BY_STEP:
        return _BY_STEP[step.kind]
    if step.adds:
        return "outline", "mill"
    has_floor = any(s.kind == "plane" and dot(s.axis, w) > 1 - LEVEL for s in group for w in ways)
    return ("slot" if len(ways) > 1 and not has_floor else "pocket"), "mill"


_NAMED: dict[Kind, tuple[str, float]] = {
    "chamfer": ("chamfer mill", 6.0), "round": ("corner-rounding cutter", 6.0), "engrave": ("engraving cutter", 1.0),
    "knurl": ("knurling tool", 20.0),
}  # fmt: skip


def _cutter(built: Built, kind: Kind, group: Sequence[Surface], ways: Sequence[Vector]) -> Tool:
    if kind in _NAMED:
        name, size = _NAMED[kind]
        return Tool("mill", name, size, 0.0, (), "")
    style, up = built.style, ways[0] if ways else (0.0, 0.0, 1.0)
    upright = [s for s in group if s.kind == "cylinder" and s.hollow and abs(dot(s.axis, up)) > 1 - LEVEL]
    room = _room(group, up)
    if kind == "keyway":
        wide = f", {style.length(room)} wide" if room else ""
        return Tool("mill", f"broach or slotting tool{wide}", room or _USUAL, 0.0, (), "")
    if upright and len(upright) == len(group) and all(s.turn > 1.9 * math.pi for s in upright):
        size = 2 * min(s.radius for s in upright)
        return Tool("mill", f"boring head, or an end mill led round, Ø{style.length(size)}", size, 0.0, (), "")
    limits = [*(2 * s.radius for s in upright), *([room] if room else [])]
    if not limits or min(limits) > _LARGEST:
        usual = _USUAL if style.unit == "mm" else 12.7
        return Tool("mill", f"end mill, about Ø{style.length(usual)}", usual, 0.0, (), "")
    size = min(limits)
    deep = max((abs(s.span[1] - s.span[0]) for s in upright), default=0.0)
    why = "more than three diameters deep: it bends, take light cuts" if deep > 3 * size else ""
    return Tool("mill", f"end mill Ø{style.length(size)} or less", size, deep, (), why)


def _room(group: Sequence[Surface], up: Vector) -> float:
    """The least distance between flat walls that face each other, mm; 0 when none do."""
    walls = [s for s in group if s.kind == "plane" and abs(dot(s.axis, up)) < LEVEL]
    gaps = [
        dot(minus(b.origin, a.origin), a.axis)
        for a in walls for b in walls
        if dot(a.axis, b.axis) < -1 + LEVEL
    ]  # fmt: skip
    return min((g for g in gaps if g > _NEAR), default=0.0)
