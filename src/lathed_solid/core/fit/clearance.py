"""All pairs of an assembly: which are apart, which touch, which overlap, and which thread goes into which.

Boxes leave few pairs over, and of those the ones that stand to each other as a pair that was judged already are not
judged again. An overlap that lies within a thread's ring is the thread's engagement, when the two go together.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ..arrays import Floats
from ..kernel.ground.figures import Skin, Vector
from ..refusal import said
from .model import Assembly, Instance, PartShot, Threaded
from .poses import aimed, placed, rotation

if TYPE_CHECKING:
    from ..kernel.measure.bodies import Body, Placed
    from ..kernel.measure.clash import Meeting

#: Gaps are told up to so much (mm).
NEAR = 1.0
#: Axes this close, and directions this parallel, are one (mm, radians).
_ONE_LINE, _ONE_WAY = 0.02, 1e-4


class Pair(NamedTuple):
    """Two instances judged: ``state`` apart, touching, overlapping, in a thread, or unjudged (why, in words);
    ``gap`` mm and between where; of an
    overlap the volume (mm³), depth (mm), place and skin to be shown; ``words`` say what it is, where that is known.
    """

    a: str
    b: str
    state: str
    gap: float = 0.0
    ends: tuple[Vector, Vector] | None = None
    volume: float = 0.0
    deep: float = 0.0
    place: Vector = (0.0, 0.0, 0.0)
    skin: Skin | None = None
    words: str = ""
    exact: bool = True


class Clearances(NamedTuple):
    """Every pair that is near, the worst first; how many pairs were looked at in all."""

    pairs: tuple[Pair, ...]
    looked_at: int

    @property
    def unsure(self) -> tuple[Pair, ...]:
        """Pairs that were judged by triangles only."""
        return tuple(p for p in self.pairs if not p.exact)

    @property
    def overlaps(self) -> tuple[Pair, ...]:
        return tuple(p for p in self.pairs if p.state == "overlapping")


#: Two parts and how they stand to each other.
Key = tuple[object, ...]
_ORDER = {"overlapping": 0, "unjudged": 0, "apart": 1, "touching": 2, "in thread": 3}


def near_pairs(assembly: Assembly, reach: float = NEAR) -> tuple[list[tuple[int, int]], int]:
    """Pairs of instances (indices) whose boxes, turned as they stand, come within ``reach`` mm; and of how many."""
    parts = {p.id: p for p in assembly.parts}
    shown = [k for k, i in enumerate(assembly.instances)]
    if len(shown) < 2:
        return [], 0
    boxes = np.array([parts[i.part].box for i in assembly.instances], dtype=float)
    turns = np.array([rotation(i.pose) for i in assembly.instances])
    half = (boxes[:, 1] - boxes[:, 0]) / 2
    middles = np.array([placed(i.pose, b.mean(axis=0)) for i, b in zip(assembly.instances, boxes, strict=True)])
    wide = np.einsum("kij,kj->ki", np.abs(turns), half)
    apart = np.abs(middles[:, None] - middles[None]) - wide[:, None] - wide[None]
    near = np.triu((apart <= reach).all(axis=2), 1)
    found = [(int(a), int(b)) for a, b in np.argwhere(near)]
    return found, len(shown) * (len(shown) - 1) // 2


def reach_of(assembly: Assembly) -> tuple[Vector, Vector]:
    """Low and high corner of the box round all instances, as they stand, mm."""
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    for instance in assembly.instances:
        box = np.array(assembly.part(instance.part).box)
        corners = placed(instance.pose, np.array(list(itertools.product(*box.T))))
        low, high = np.minimum(low, corners.min(axis=0)), np.maximum(high, corners.max(axis=0))
    (a, b, c), (d, e, f) = low.tolist(), high.tolist()
    return (a, b, c), (d, e, f)


def clearances(
    assembly: Assembly,
    body_of: Callable[[PartShot], Body],
    going: Callable[[], object] = lambda: None,
    known: dict[Key, tuple[Pair, Assembly]] | None = None,
) -> Clearances:
    """Every near pair judged on its solids; ``known`` are pairs judged before, by how they stand to each other. Raises
    what ``going`` raises.
    """
    found, many = near_pairs(assembly)
    known = {} if known is None else known
    pairs = []
    for one, two in found:
        going()
        a, b = assembly.instances[one], assembly.instances[two]
        key = (a.part, b.part, *np.round(_relative(a, b), 7).tolist())
        if key not in known:
            known[key] = (_judged(assembly, a, b, body_of), assembly)
            pairs.append(known[key][0])
        else:
            pairs.append(_again(*known[key], a, b))
    pairs.sort(key=lambda p: (_ORDER[p.state], -p.volume, p.gap))
    return Clearances(tuple(p for p in pairs if p.state != "apart" or p.gap <= NEAR), many)


def _relative(a: Instance, b: Instance) -> Floats:
    """Where b stands in a's axes."""
    turn = rotation(a.pose)
    return np.concatenate([(turn.T @ rotation(b.pose)).ravel(), turn.T @ np.subtract(b.pose.place, a.pose.place)])


def first_in_the_way(
    moments: Sequence[Assembly], body_of: Callable[[PartShot], Body], going: Callable[[], object] = lambda: None
) -> tuple[int, Pair] | None:
    """The first of an assembly's moments in which two parts overlap, and the worst such pair; None for none. Pairs that
    do not move against each other are judged once.
    """
    known: dict[Key, tuple[Pair, Assembly]] = {}
    for at, moment in enumerate(moments):
        if overlaps := clearances(moment, body_of, going, known).overlaps:
            return at, overlaps[0]
    return None


def met_on_the_way(
    before: Assembly,
    now: Assembly,
    body_of: Callable[[PartShot], Body],
    going: Callable[[], object] = lambda: None,
) -> tuple[Pair, ...]:
    """Pairs that overlap now, of those that do not stand to each other as they did before: by triangles alone, while a
    part is dragged. Raises what ``going`` raises.
    """
    from ..kernel.measure.clash import crossing

    were = {i.id: i for i in before.instances}
    made = []
    for one, two in near_pairs(now, 0.0)[0]:
        a, b = now.instances[one], now.instances[two]
        if a.id in were and b.id in were and np.allclose(_relative(a, b), _relative(were[a.id], were[b.id]), atol=1e-9):
            continue
        going()
        met = crossing(_placed(now, a, body_of), _placed(now, b, body_of))
        pair = _overlap(now, a, b, met) if met is not None else None
        if pair is not None and pair.state == "overlapping":
            made.append(pair)
    return tuple(sorted(made, key=lambda p: -p.volume))


def _again(pair: Pair, judged: Assembly, a: Instance, b: Instance) -> Pair:
    """The same meeting between two others that stand alike."""
    first = judged.instance(pair.a)
    turn = rotation(a.pose) @ rotation(first.pose).T

    def there(p: Vector) -> Vector:
        x, y, z = (float(v) for v in turn @ np.subtract(p, first.pose.place) + np.array(a.pose.place))
        return x, y, z

    ends = (there(pair.ends[0]), there(pair.ends[1])) if pair.ends else None
    # Skins are drawn once, where the first of them is.
    return pair._replace(a=a.id, b=b.id, ends=ends, place=there(pair.place), skin=None)


def _judged(assembly: Assembly, a: Instance, b: Instance, body_of: Callable[[PartShot], Body]) -> Pair:
    from ..kernel.ground.check import KernelFailure
    from ..kernel.measure.clash import crossing, meeting

    try:
        one, two = _placed(assembly, a, body_of), _placed(assembly, b, body_of)
        if any(_coaxial(rod, hole) and _go_together(o, i) for (o, rod), (i, hole) in _thread_pairs(assembly, a, b)):
            # Quicker than what both have in common: where their triangles cross lies within the thread, or not.
            quick = crossing(one, two, deep=False)
            threaded = _in_thread(assembly, a, b, quick) if quick is not None else None
            if threaded is not None and threaded.state == "in thread":
                return threaded._replace(exact=True)
        met = meeting(one, two, NEAR)
    except KernelFailure as error:
        return Pair(a.id, b.id, "unjudged", words=error.message, exact=False)
    if met.state == "overlapping":
        return _overlap(assembly, a, b, met)
    place = met.ends[0] if met.ends else (0.0, 0.0, 0.0)
    return Pair(a.id, b.id, met.state, met.gap, met.ends, place=place, exact=met.exact)


def _placed(assembly: Assembly, instance: Instance, body_of: Callable[[PartShot], Body]) -> Placed:
    from ..kernel.ground.placing import rigid
    from ..kernel.measure.bodies import Placed

    turn, place = rotation(instance.pose), np.array(instance.pose.place)
    return Placed(body_of(assembly.part(instance.part)), turn, place, rigid(turn.tolist(), place.tolist()))


def _overlap(assembly: Assembly, a: Instance, b: Instance, met: Meeting) -> Pair:
    """An overlap, or the thread's engagement that it is."""
    threaded = _in_thread(assembly, a, b, met)
    if threaded is not None:
        return threaded
    assert met.lump is not None
    return Pair(
        a.id, b.id, "overlapping", 0.0, None, met.volume, met.deep, met.lump.place, met.lump.skin, exact=met.exact
    )


def _axis(part: PartShot, instance: Instance, face: str) -> tuple[Floats, Floats, float] | None:
    """A round face's axis where the instance stands: a point, a direction, the radius."""
    surface = part.surface(face)
    if surface is None or surface.kind != "cylinder":
        return None
    return (
        placed(instance.pose, np.array(surface.origin)),
        aimed(instance.pose, surface.axis),
        surface.radius,
    )


def _in_thread(assembly: Assembly, a: Instance, b: Instance, met: Meeting) -> Pair | None:
    """An overlap that is a thread's engagement, or would be if the two threads went together; None for any other."""
    for (outer, rod), (inner, hole) in _thread_pairs(assembly, a, b):
        (p, along, major), (_, _, minor) = rod, hole
        if not _coaxial(rod, hole):
            continue
        assert met.points is not None and met.lump is not None
        away = met.points - p
        lies = away @ along
        radii = np.linalg.norm(away - lies[:, None] * along, axis=1)
        slack = 0.02 + 0.01 * major
        if radii.min() < minor - slack or radii.max() > max(major, outer.thread.diameter / 2) + slack:
            continue
        engaged = float(np.ptp(lies))
        name = outer.thread.designation
        if _go_together(outer, inner):
            deep = engaged / outer.thread.diameter
            words = f"{name} engaged over {said(engaged)}, {deep:.2g} times its diameter"
            return Pair(a.id, b.id, "in thread", 0.0, None, 0.0, 0.0, met.lump.place, None, words, met.exact)
        words = f"{name} does not go into {inner.thread.designation}"
        return Pair(
            a.id, b.id, "overlapping", 0.0, None, met.volume, met.deep, met.lump.place, met.lump.skin, words, met.exact
        )
    return None


_End = tuple[Threaded, tuple[Floats, Floats, float]]


def _thread_pairs(assembly: Assembly, a: Instance, b: Instance) -> Iterator[tuple[_End, _End]]:
    """Every outer thread of the one with every inner one of the other."""
    for male, female in ((a, b), (b, a)):
        rod, nut = assembly.part(male.part), assembly.part(female.part)
        for outer in (t for t in rod.threads if not t.internal):
            for inner in (t for t in nut.threads if t.internal):
                one, two = _axis(rod, male, outer.face), _axis(nut, female, inner.face)
                if one is not None and two is not None:
                    yield (outer, one), (inner, two)


def _coaxial(rod: tuple[Floats, Floats, float], hole: tuple[Floats, Floats, float]) -> bool:
    (p, along, _), (q, other, _) = rod, hole
    return (
        abs(float(along @ other)) >= math.cos(_ONE_WAY) and float(np.linalg.norm(np.cross(q - p, along))) <= _ONE_LINE
    )


def _go_together(outer: Threaded, inner: Threaded) -> bool:
    """Whether two threads have one size, pitch, hand and number of starts."""
    o, i = outer.thread, inner.thread
    same = math.isclose(o.diameter, i.diameter, rel_tol=1e-6) and math.isclose(o.pitch, i.pitch, rel_tol=1e-6)
    return same and o.left_hand == i.left_hand and o.starts == i.starts
