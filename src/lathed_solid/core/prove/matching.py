"""Callouts found on a solid that none of our steps made: which faces have the sizes that the drawing states.

Every offer is read off the solid before it is made: what is offered lies within its limits. It is *sure* only when
nothing else on the part fits as well; an offer that is not names how many places fit.
"""

from __future__ import annotations

import contextlib
import itertools
import math
from collections.abc import Callable, Generator, Iterable, Iterator, Sequence
from typing import NamedTuple

import msgspec

from ..callout import Characteristic, Ledger, NoteError
from ..callout.model import Reading
from ..kernel.ground.figures import Surface
from ..kernel.ground.geometry import cross, dot, minus, norm
from ..route.gauges import (
    AnyGauge,
    AxesApart,
    AxisFrom,
    Between,
    CircleThrough,
    Depth,
    Diameter,
    Included,
    Leg,
    LegAngle,
    OpenEnds,
    Radius,
    SeatAngle,
    ThreadFelt,
    WidestCircle,
)
from ..tolerance import LEVEL, ON_LIMIT, ONE_PLACE
from .measure import read
from .offer import Offer
from .plate import Measured, SurfacePlate, Unmeasurable
from .proof import ProofLine

#: So many pairs of faces are looked at for one length.
_PAIRS = 4000
#: A model's size is no farther from the figure it was made to (mm, radians).
_MADE = 2e-3
#: What only a hole or a pin has, and is therefore looked for beside it.
_BESIDE = ("thru", "depth", "drill_depth", "seat", "seat_depth", "seat_angle", "circle", "at", "tip")


class _Fit(NamedTuple):
    """Gauges that read within the limits: what they read, and on which faces."""

    gauges: tuple[AnyGauge, ...]
    values: tuple[float, ...]
    faces: tuple[int, ...]


class _Broken(NamedTuple):
    """Chamfers that were taken, and how many choices there were."""

    legs: tuple[Leg, ...]
    fit: int


def matched(plate: SurfacePlate, ledger: Ledger, lines: Sequence[ProofLine]) -> tuple[Offer, ...]:
    """Offers for the sizes of ``lines`` that are open, those with their own faces first."""
    finder, found = _Finder(plate), list[Offer]()
    wanted = {(x.number, x.key) for x in lines if x.mark == "open"}
    for number in sorted({n for n, _ in wanted}, key=lambda n: _hardest(ledger, n)):
        try:
            reading = ledger.reading(number)
        except NoteError:
            continue
        found += finder.offers(number, ledger.callouts[number].note, reading, wanted)
    return tuple(sorted(found, key=lambda o: o.number))


def _hardest(ledger: Ledger, number: int) -> tuple[int, int]:
    """What tells most is looked for first: holes with all they have, then round faces, then lengths."""
    try:
        reading = ledger.reading(number)
    except NoteError:
        return 9, number
    order = {"thread": 0, "diameter": 0, "sphere": 0, "radius": 1, "chamfer": 1, "angle": 2}
    return order.get(reading.shape, 3), number


class _Finder:
    def __init__(self, plate: SurfacePlate) -> None:
        self.plate = plate
        self.names = {s.index: plate.body.name_of(s.index) for s in plate.surfaces}
        self.known = [s for s in plate.surfaces if self.names[s.index]]
        self.planes = _one_each(s for s in self.known if s.kind == "plane")
        #: Pairs and groups of faces that a size was found on already: another callout of the same size means others.
        self.used: set[frozenset[int]] = set()

    def offers(self, number: int, note: str, reading: Reading, wanted: set[tuple[int, str]]) -> Iterator[Offer]:
        main, holes, broken = reading.characteristics[0], list[Surface](), _Broken((), 0)
        lead = main if main.kind == "diameter" else reading.get("drill")
        if lead is not None:
            holes = yield from self._round(number, note, lead, reading, wanted)
        elif reading.shape == "chamfer":
            broken = yield from self._chamfers(number, note, main, reading, wanted)
        elif main.kind == "thread" and lead is None:
            yield from self._thread(number, note, reading, wanted)
        elif (number, "") in wanted and main.kind in _LOOK:
            yield from self._offer(number, main, note, _LOOK[main.kind](self, main, reading))
        for c in reading.characteristics[1:]:
            if (number, c.key) not in wanted or c is lead:
                continue
            if holes and c.key in _BESIDE:
                fits = [self._beside(c, hole) for hole in holes]
                if all(f is not None for f in fits):
                    yield from self._offer(number, c, note, [_together([f for f in fits if f is not None])])
            elif broken.legs and c.kind == "angle":
                fit = self._reads(c, (LegAngle(g.face, g.other, g.beyond) for g in broken.legs))
                if fit is not None:
                    yield Offer(number, c.key, note, fit.gauges, fit.values[0], fit.faces, broken.fit)

    def _offer(self, number: int, c: Characteristic, note: str, fits: Sequence[_Fit]) -> Iterator[Offer]:
        """The first fit that no other callout has taken, and how many there were to choose from: a model is made to the
        figure itself, so that what only lies within its limits is never sure.
        """
        free = [f for f in fits if c.key or frozenset(f.faces) not in self.used]
        exact = [f for f in free if _exact(f, c)]
        if free:
            first = (exact or free)[0]
            if not c.key:
                self.used.add(frozenset(first.faces))
            places = len(exact) if exact else max(2, len(free))
            yield Offer(number, c.key, note, first.gauges, first.values[0], first.faces, places)

    def _reads(self, c: Characteristic, gauges: Iterable[AnyGauge]) -> _Fit | None:
        """The gauges' readings when every one lies within the limits."""
        made, values, faces = tuple(gauges), list[float](), dict[int, None]()
        for gauge in made:
            try:
                found = read(self.plate, gauge)
            except Unmeasurable:
                return None
            if not all(_within(v, c) for v in found.values):
                return None
            values += found.values
            faces.update(dict.fromkeys(found.faces))
        return _Fit(made, tuple(values), tuple(faces)) if values else None

    # --- round faces
    def _round(
        self, number: int, note: str, c: Characteristic, reading: Reading, wanted: set[tuple[int, str]]
    ) -> Generator[Offer, None, list[Surface]]:
        """The round faces of a diameter, as many as the note says; returned are those taken."""
        many = reading.count
        groups = [g for g in self._alike(c) if not reading.is_hole or g[0].hollow]
        fits = []
        for group in groups:
            if len(group) >= many and (fit := self._reads(c, (Diameter(self.names[s.index]) for s in group[:many]))):
                fits.append((fit, group))
        fits.sort(key=lambda f: (len(f[1]) != many, not _exact(f[0], c)))
        free = [f for f in fits if frozenset(f[0].faces) not in self.used]
        if not free:
            return []
        fit, group = free[0]
        exact = sum(len(g) == many and _exact(f, c) for f, g in free)
        self.used.add(frozenset(fit.faces))
        if (number, c.key) in wanted:
            places = exact if len(group) == many and _exact(fit, c) else max(2, len(free))
            yield Offer(number, c.key, note, fit.gauges, fit.values[0], fit.faces, places)
        return group[:many]

    def _alike(self, c: Characteristic) -> list[list[Surface]]:
        """Round faces of that diameter, one an axis, in groups of one size and one side of the material."""
        groups: dict[tuple[float, bool], list[Surface]] = {}
        for s in self.known:
            if s.kind not in ("cylinder", "sphere") or (s.kind == "cylinder" and s.turn < math.pi - LEVEL):
                continue
            if _within(2 * s.radius, c):
                own = groups.setdefault((round(s.radius, 5), s.hollow), [])
                if not any(_one_axis(s, other) for other in own):
                    own.append(s)
        return list(groups.values())

    def _beside(self, c: Characteristic, hole: Surface) -> _Fit | None:
        """What belongs to a hole: its ends, depth, seat, place; made to the figure where there is a choice."""
        fits = [f for g in self._of_hole(c.key, hole) if (f := self._reads(c, (g,))) is not None]
        return next((f for f in fits if _exact(f, c)), next(iter(fits), None))

    def _of_hole(self, key: str, hole: Surface) -> Iterator[AnyGauge]:
        name = self.names[hole.index]
        coaxial = [s for s in self.known if s.index != hole.index and s.kind != "plane" and _one_axis(s, hole)]
        near = self.plate.body.beside(hole.index)
        coaxial.sort(key=lambda s: s.index not in near)  # its own countersink before another at the same end
        square = [p for p in self.planes if abs(dot(p.axis, hole.axis)) > 1 - LEVEL]
        if key == "thru":
            yield OpenEnds(name)
        elif key in ("depth", "drill_depth"):
            yield from (Depth(name, self.names[p.index]) for p in square if _opens(p, hole))
        elif key == "seat":
            yield from (Diameter(self.names[s.index], about=name) for s in coaxial if s.kind == "cylinder")
            yield from (WidestCircle(self.names[s.index], about=name) for s in coaxial if s.kind == "cone")
        elif key == "seat_depth":
            seats = [s for s in coaxial if s.kind == "cylinder"]
            mouths = ((s, p) for s in seats for p in square if _opens(p, s))
            yield from (Depth(self.names[s.index], self.names[p.index]) for s, p in mouths)
        elif key in ("seat_angle", "tip"):
            yield from (SeatAngle(self.names[s.index]) for s in coaxial if s.kind == "cone")
        elif key == "circle":
            yield CircleThrough(name)
        elif key == "at":
            yield from (AxisFrom(name, self.names[p.index]) for p in self.planes)

    def _thread(self, number: int, note: str, reading: Reading, wanted: set[tuple[int, str]]) -> Iterator[Offer]:
        """A modelled thread, felt about every axis of the part; cut in or standing out."""
        if reading.thread is None or not any(s.kind == "other" for s in self.plate.surfaces):
            return
        found: list[tuple[ThreadFelt, Measured]] = []
        for axis, internal in itertools.product(self._one_an_axis("cylinder", "cone"), (False, True)):
            gauge = ThreadFelt(self.names[axis.index], thread=reading.thread.designation, internal=internal)
            with contextlib.suppress(Unmeasurable):
                found.append((gauge, read(self.plate, gauge)))
        own = {frozenset(m.faces): (gauge, m) for gauge, m in reversed(found) if frozenset(m.faces) not in self.used}
        taken = list(own.items())[: reading.count]
        if len(taken) < reading.count:
            return
        self.used |= {faces for faces, _ in taken}
        whole = _together([_Fit((gauge,), m.values, m.faces) for _, (gauge, m) in taken])
        places = 1 if len(own) == reading.count else len(own)
        if (number, "") in wanted:
            yield Offer(number, "", note, whole.gauges, whole.values[0], whole.faces, places)
        if (depth := reading.get("depth")) is not None and (number, "depth") in wanted:
            deep = [msgspec.structs.replace(gauge, what="length") for _, (gauge, _) in taken]
            long = [read(self.plate, gauge) for gauge in deep]
            if all(abs(m.values[0] - depth.nominal) <= m.spread for m in long):
                fit = _together([_Fit((g,), m.values, m.faces) for g, m in zip(deep, long, strict=True)])
                yield Offer(number, "depth", note, fit.gauges, fit.values[0], fit.faces, places)

    def _one_an_axis(self, *kinds: str) -> list[Surface]:
        """A round face for each axis that faces of these kinds have."""
        kept: list[Surface] = []
        for s in self.known:
            if s.kind in kinds and not any(_one_axis(s, other) for other in kept):
                kept.append(s)
        return kept

    # --- lengths and the rest
    def _lengths(self, c: Characteristic, reading: Reading) -> list[_Fit]:
        """Flat faces so far apart, outer ones first; then axes from flat faces, axes from each other, broken edges."""
        found: list[_Fit] = []
        for ways in (self._flat_pairs(c), self._axis_and_flat(c), self._axes(c)):
            found += [f for g in itertools.islice(ways, _PAIRS) if (f := self._reads(c, (g,)))]
        broken: dict[str, _Fit] = {}
        for leg in itertools.islice(self._legs(), _PAIRS):
            if leg.face not in broken and (fit := self._reads(c, (leg,))) is not None:
                broken[leg.face] = fit
        return [*found, *broken.values()]

    def _flat_pairs(self, c: Characteristic) -> Iterator[AnyGauge]:
        pairs = [
            (a, b) for a, b in itertools.combinations(self.planes, 2)
            if abs(dot(a.axis, b.axis)) > 1 - LEVEL and _within(abs(dot(minus(b.origin, a.origin), a.axis)), c)
        ]  # fmt: skip
        # Faces that look away from each other are what calipers close on; then slots; then steps.
        pairs.sort(key=lambda p: (dot(p[0].axis, p[1].axis) > 0, dot(minus(p[1].origin, p[0].origin), p[0].axis) > 0))
        yield from (Between(self.names[a.index], self.names[b.index]) for a, b in pairs)

    def _axis_and_flat(self, c: Characteristic) -> Iterator[AnyGauge]:
        rounds = [s for s in self.known if s.kind == "cylinder"]
        for s, p in itertools.product(rounds, self.planes):
            if abs(dot(s.axis, p.axis)) < LEVEL and _within(abs(dot(minus(s.origin, p.origin), p.axis)), c):
                yield AxisFrom(self.names[s.index], self.names[p.index])

    def _axes(self, c: Characteristic) -> Iterator[AnyGauge]:
        for a, b in itertools.combinations(self._one_an_axis("cylinder"), 2):
            if abs(dot(a.axis, b.axis)) > 1 - LEVEL and _within(norm(cross(minus(b.origin, a.origin), a.axis)), c):
                yield AxesApart(self.names[a.index], self.names[b.index])

    def _radii(self, c: Characteristic, reading: Reading) -> list[_Fit]:
        """Every rounding of that radius together: a note speaks of all of them."""
        kinds = ("torus", "cylinder", "sphere")
        alike = [s for s in self.known if s.kind in kinds and _within(s.radius, c) and s.turn < 2 * math.pi - LEVEL]
        alike += [s for s in self.known if s.kind == "torus" and _within(s.radius, c) and s not in alike]
        if not alike:
            return []
        groups: dict[float, list[Surface]] = {}
        for s in alike:
            groups.setdefault(round(s.radius, 5), []).append(s)
        fits = [f for own in groups.values() if (f := self._reads(c, (Radius(self.names[s.index]) for s in own)))]
        many = reading.count
        return sorted(fits, key=lambda f: len(f.faces) != many) if many > 1 else fits

    def _angles(self, c: Characteristic, reading: Reading) -> list[_Fit]:
        cones = [s for s in self.known if s.kind == "cone"]
        ways: list[AnyGauge] = [SeatAngle(self.names[s.index]) for s in cones]
        ways += [LegAngle(self.names[s.index]) for s in cones]
        for a, b in itertools.combinations(self.planes, 2):
            ways += [Included(self.names[a.index], self.names[b.index], over=over) for over in (False, True)]
        return [f for g in ways[:_PAIRS] if (f := self._reads(c, (g,)))]

    def _chamfers(
        self, number: int, note: str, c: Characteristic, reading: Reading, wanted: set[tuple[int, str]]
    ) -> Generator[Offer, None, _Broken]:
        """Broken edges of that leg and angle, as many as the note says; returned are those taken."""
        angle, found = reading.get("angle"), list[tuple[Leg, _Fit]]()
        for leg in itertools.islice(self._legs(), _PAIRS):
            fit = self._reads(c, (leg,))
            turned = angle is None or self._reads(angle, (LegAngle(leg.face, leg.other, leg.beyond),)) is not None
            if fit is not None and turned and not any(g.face == leg.face for g, _ in found):
                found.append((leg, fit))
        free = [(g, f) for g, f in found if frozenset(f.faces) not in self.used]
        if len(free) < reading.count:
            return _Broken((), 0)
        free.sort(key=lambda f: not _exact(f[1], c))
        taken = free[: reading.count]
        exact = sum(_exact(f, c) for _, f in free)
        places = 1 + exact - len(taken) if exact >= len(taken) else max(2, len(free))
        self.used |= {frozenset(f.faces) for _, f in taken}
        if (number, "") in wanted:
            whole = _together([f for _, f in taken])
            yield Offer(number, "", note, whole.gauges, whole.values[0], whole.faces, places)
        return _Broken(tuple(g for g, _ in taken), places)

    def _legs(self) -> Iterator[Leg]:
        """Faces that may be chamfers, with the faces beside them that they break."""
        for s in self.known:
            if s.kind not in ("cone", "plane"):
                continue
            beside = [self.plate.surfaces[i - 1] for i in self.plate.body.beside(s.index)]
            flat = [f for f in beside if f.kind in ("plane", "cylinder") and self.names[f.index]]
            for a, b in itertools.permutations(flat, 2):
                if (a.kind == "plane" and abs(dot(a.axis, b.axis)) < 1 - LEVEL) or a.kind != b.kind:
                    yield Leg(self.names[s.index], self.names[a.index], self.names[b.index])


_LOOK: dict[str, Callable[[_Finder, Characteristic, Reading], list[_Fit]]] = {
    "length": _Finder._lengths,
    "radius": _Finder._radii,
    "angle": _Finder._angles,
}


def _opens(plane: Surface, hole: Surface) -> bool:
    """Whether a hole lies beneath a flat face: it begins there, and does not end there."""
    return dot(plane.axis, minus(hole.center, plane.origin)) < 0


def _exact(fit: _Fit, c: Characteristic) -> bool:
    """Whether all was made to the figure, or to the middle of its limits."""
    middle = (c.lower + c.upper) / 2
    return all(min(abs(v - c.nominal), abs(v - middle)) < _MADE for v in fit.values)


def _within(value: float, c: Characteristic) -> bool:
    return c.lower - ON_LIMIT <= value <= c.upper + ON_LIMIT


def _together(fits: Sequence[_Fit]) -> _Fit:
    """Several as one: all of their gauges."""
    return _Fit(
        tuple(g for f in fits for g in f.gauges),
        tuple(v for f in fits for v in f.values),
        tuple(dict.fromkeys(i for f in fits for i in f.faces)),
    )


def _one_each(planes: Iterable[Surface]) -> list[Surface]:
    """Flat faces, one of those that lie in one plane and look the same way."""
    kept: list[Surface] = []
    for p in planes:
        if not any(
            dot(p.axis, k.axis) > 1 - LEVEL and abs(dot(minus(p.origin, k.origin), k.axis)) < ONE_PLACE for k in kept
        ):
            kept.append(p)
    return kept


def _one_axis(a: Surface, b: Surface) -> bool:
    if a.kind == b.kind == "sphere":
        return norm(minus(a.origin, b.origin)) < ONE_PLACE
    if "sphere" in (a.kind, b.kind):
        return False
    along = abs(dot(a.axis, b.axis)) > 1 - LEVEL
    return along and norm(cross(minus(b.origin, a.origin), a.axis)) < 1e-5
