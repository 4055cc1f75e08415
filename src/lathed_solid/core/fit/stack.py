"""Stack-ups across parts: from one flat to another through callouts of the parts and the relations between them.

The chain is the one with the fewest sizes that nothing limits, then with the fewest links. Worst case adds limits, root
sum square takes them as three standard deviations each (the usual rule of statistical tolerancing).
"""

from __future__ import annotations

import heapq
import math
from collections.abc import Iterator
from itertools import count
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from ..refusal import Refusal
from .features import feature_at
from .model import Assembly, End
from .poses import aimed, placed, rotation
from .values import value_of

#: Directions this square to each other belong to one chain.
_PARALLEL = 1e-6
#: A size that no callout limits costs as much as so many that are limited.
_UNLIMITED = 1000


class Link(NamedTuple):
    """One length of a chain: of an instance or between two (``what``, in words), ``nominal`` mm with its sign along the
    chain, its limits with the same sign (None: nothing states them), and its share of the variance (0 to 1).
    """

    what: str
    instance: str
    nominal: float
    limits: tuple[float, float] | None
    share: float = 0.0


class Stack(NamedTuple):
    """A chain added up, mm: what it comes to, between what by worst case and by root sum square."""

    links: tuple[Link, ...]
    nominal: float
    worst: tuple[float, float]
    squares: tuple[float, float]

    @property
    def unlimited(self) -> tuple[Link, ...]:
        """Lengths that no callout limits: what is told is without them."""
        return tuple(k for k in self.links if k.limits is None)


class _Edge(NamedTuple):
    to: End
    cost: int
    link: Link


class _Chain:
    """Flats square to a direction, and what leads from one to another."""

    def __init__(self, assembly: Assembly, along: Floats) -> None:
        self.assembly, self.along = assembly, along
        self.at: dict[End, float] = {}
        for instance in assembly.instances:
            part, turn = assembly.part(instance.part), rotation(instance.pose)
            for name, s in zip(part.references, part.surfaces, strict=True):
                if s.kind == "plane" and float(np.linalg.norm(np.cross(turn @ np.array(s.axis), along))) < _PARALLEL:
                    place = placed(instance.pose, np.array(s.origin))
                    self.at[End(instance.id, name)] = float(place @ along)
        self._across = {end: list(self._relations(end)) for end in self.at}

    def edges(self, here: End) -> Iterator[_Edge]:
        yield from self._across[here]
        yield from self._within(here)

    def _within(self, here: End) -> Iterator[_Edge]:
        """To the other flats of the same part: by a callout, else by what was measured."""
        part, name = self.assembly.part_of(here.instance), self.assembly.called(here.instance)
        stated = {frozenset((s.face, s.other)): s for s in part.sized if s.other}
        for there in (e for e in self.at if e.instance == here.instance and e.face != here.face):
            nominal = self.at[there] - self.at[here]
            own = stated.get(frozenset((here.face, there.face)))
            if own is None:
                link = Link(f"{name}: nothing states it", here.instance, nominal, None)
                yield _Edge(there, _UNLIMITED + 1, link)
                continue
            low, high = sorted((math.copysign(own.lower, nominal), math.copysign(own.upper, nominal)))
            words = f"{name}: {own.note}" + ("" if own.basis == "stated" else f" ({own.basis})")
            yield _Edge(there, 1, Link(words, here.instance, nominal, (low, high)))

    def _relations(self, here: End) -> Iterator[_Edge]:
        """To what a flat is seated on, level with or held off from: exactly so far."""
        for relation in self.assembly.relations:
            if relation.kind not in ("seated", "flush", "distance") or relation.loose or relation.is_stop:
                continue
            for mine, its in ((relation.a, relation.b), (relation.b, relation.a)):
                if mine == here and its in self.at:
                    gap = self.at[its] - self.at[here]
                    if not value_of(relation, self.assembly):
                        yield _Edge(its, 1, Link("", its.instance, gap, (gap, gap)))
                    else:
                        words = f"{relation.kind} {relation.value}, as the relation says"
                        yield _Edge(its, 1, Link(words, its.instance, gap, (gap, gap)))


def stack(assembly: Assembly, one: End, two: End) -> Stack:
    """The chain from one flat to another, added up. Raises Refusal when they are not parallel flats, or nothing leads
    from one to the other.
    """
    a, b = feature_at(assembly, one), feature_at(assembly, two)
    if a.shape != "flat" or b.shape != "flat":
        raise Refusal("A stack-up runs between two flats: pick a flat face on each side.")
    along = aimed(assembly.instance(one.instance).pose, a.along)
    other = aimed(assembly.instance(two.instance).pose, b.along)
    if float(np.linalg.norm(np.cross(along, other))) > _PARALLEL:
        raise Refusal("The two flats are not parallel: there is no one length between them.")
    links = [k for k in _way(_Chain(assembly, along), one, two) if k.what]
    if not links:
        raise Refusal("The two flats lie on each other: there is nothing to add up.")
    return _added(links)


def _way(chain: _Chain, one: End, two: End) -> list[Link]:
    """The cheapest way (Dijkstra). Raises Refusal when there is none."""
    best, order = {one: 0}, count()
    todo: list[tuple[int, int, End, tuple[Link, ...]]] = [(0, next(order), one, ())]
    while todo:
        cost, _, here, links = heapq.heappop(todo)
        if here == two:
            return list(links)
        if cost > best[here]:
            continue
        for edge in chain.edges(here):
            if cost + edge.cost < best.get(edge.to, 1 << 60):
                best[edge.to] = cost + edge.cost
                heapq.heappush(todo, (best[edge.to], next(order), edge.to, (*links, edge.link)))
    raise Refusal("Nothing leads from one flat to the other: no relation ties their parts along that direction.")


def _added(links: list[Link]) -> Stack:
    nominal = sum(k.nominal for k in links)
    if nominal < 0:
        # Told the positive way.
        links = [
            k._replace(nominal=-k.nominal, limits=None if k.limits is None else (-k.limits[1], -k.limits[0]))
            for k in links
        ]
        nominal = -nominal
    bands = [k.limits or (k.nominal, k.nominal) for k in links]
    middle = sum((a + b) / 2 for a, b in bands)
    squares = [(b - a) ** 2 / 4 for a, b in bands]
    half, all_ = math.sqrt(sum(squares)), sum(squares) or 1.0
    ranked = [k._replace(share=own / all_) for k, own in zip(links, squares, strict=True)]
    worst = (sum(a for a, _ in bands), sum(b for _, b in bands))
    return Stack(tuple(ranked), nominal, worst, (middle - half, middle + half))
