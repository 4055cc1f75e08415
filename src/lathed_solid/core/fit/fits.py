"""Shafts in their holes, and keys in their seats: how much clearance there is at least and at most, by the limits that
both callouts state.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from ..kernel.ground.figures import Surface
from ..refusal import said
from .clearance import near_pairs
from .model import Assembly, Instance, PartShot, Sized
from .poses import placed, rotation

#: Axes this close are one (mm), and directions this parallel.
_CLOSE, _PARALLEL = 0.01, 1e-5
#: A shaft and its hole differ by no more than this share.
_NEAR = 0.05


class Fitted(NamedTuple):
    """A shaft in a hole, or what is ``wide`` in a slot: the two instances, nominal diameters or widths (mm), the notes
    that state them (empty: none), and the clearance at least and at most (mm; negative: interference; None where a side
    has no limits). ``general`` is the note that has no limits but the general ones.
    """

    shaft: str
    hole: str
    sizes: tuple[float, float]
    notes: tuple[str, str]
    least: float | None
    most: float | None
    general: str = ""
    wide: bool = False

    @property
    def goes_in(self) -> bool:
        """Whether the sizes are those of a fit at all."""
        return self.sizes[0] <= (1 + _NEAR) * self.sizes[1]

    @property
    def words(self) -> str:
        """The class of the fit in shop language."""
        if not self.goes_in:
            return f"does not go in: it is {said(self.sizes[0] - self.sizes[1])} larger"
        if self.least is None or self.most is None:
            gap = self.sizes[1] - self.sizes[0]
            return (
                "no limits stated"
                if gap >= 0
                else f"no limits stated; the {'key' if self.wide else 'shaft'} is the larger"
            )
        if self.general:
            return f"{self.general} has its general tolerance only: no fit is stated"
        if self.least >= 0:
            return "clearance fit: always goes together"
        if self.most <= 0:
            return "interference fit: pressed or shrunk"
        return "transition fit: may need a press"


class _Round(NamedTuple):
    """A round face where it stands: its axis, how far along that it reaches, and what is stated of it."""

    surface: Surface
    at: Floats
    along: Floats
    span: tuple[float, float]
    sized: Sized | None


def fits(assembly: Assembly) -> tuple[Fitted, ...]:
    """Every shaft that stands in a hole, the tightest first."""
    found = []
    pairs, _ = near_pairs(assembly)
    for one, two in pairs:
        a, b = assembly.instances[one], assembly.instances[two]
        for shaft, hole in ((a, b), (b, a)):
            found += list(_in_each_other(assembly, shaft, hole))
            found += list(_key_in_seat(assembly, shaft, hole))
    return tuple(sorted(found, key=lambda f: (f.least is None, f.least or 0.0, f.shaft, f.hole)))


def _rounds(part: PartShot, instance: Instance, hollow: bool) -> list[_Round]:
    turn, stated = rotation(instance.pose), {s.face: s for s in part.sized if not s.other}
    made, threaded = [], {t.face for t in part.threads}
    for name, s in zip(part.references, part.surfaces, strict=True):
        if s.kind == "cylinder" and s.hollow == hollow and s.turn > math.pi and name not in threaded:
            at = placed(instance.pose, np.array(s.origin))
            made.append(_Round(s, at, turn @ np.array(s.axis), s.span, stated.get(name)))
    return made


def _in_each_other(assembly: Assembly, shaft: Instance, hole: Instance) -> Iterator[Fitted]:
    rods = _rounds(assembly.part(shaft.part), shaft, False)
    bores = _rounds(assembly.part(hole.part), hole, True)
    said: set[tuple[float, float, str, str]] = set()
    for rod in rods:
        for bore in bores:
            # What stands in a hole far smaller than itself is told as well: it cannot be missed.
            goes_with = rod.surface.radius >= (1 - _NEAR) * bore.surface.radius
            if not goes_with or not _about_one_axis(rod, bore):
                continue
            notes = _notes(rod.sized, bore.sized)
            diameters = (2 * rod.surface.radius, 2 * bore.surface.radius)
            if (key := (*diameters, *notes)) in said:
                continue
            said.add(key)
            yield _fitted(shaft, hole, diameters, (rod.sized, bore.sized))


def _notes(inner: Sized | None, outer: Sized | None) -> tuple[str, str]:
    return (inner.note if inner else "", outer.note if outer else "")


def _fitted(
    inner: Instance, outer: Instance, sizes: tuple[float, float], stated: tuple[Sized | None, Sized | None],
    wide: bool = False,
) -> Fitted:  # fmt: skip
    """What goes in, and what it goes into, by what their callouts state."""
    small, large = stated
    least = most = None
    if small is not None and large is not None:
        least, most = large.lower - small.upper, large.upper - small.lower
    general = next((s.note for s in stated if s is not None and s.is_general), "")
    return Fitted(inner.id, outer.id, sizes, _notes(small, large), least, most, general, wide)


class _Walls(NamedTuple):
    """Two parallel walls where they stand: how far apart, the middle between them, the direction square to them, how
    far they reach sideways (mm), and what is stated of them.
    """

    wide: float
    middle: Floats
    way: Floats
    reach: float
    sized: Sized | None


def _walls(part: PartShot, instance: Instance, slot: bool) -> list[_Walls]:
    """Pairs of opposite flats that have a slot between them, or the part itself."""
    turn, made = rotation(instance.pose), []
    stated = {frozenset((s.face, s.other)): s for s in part.sized if s.other}
    flats = [(n, s) for n, s in zip(part.references, part.surfaces, strict=True) if s.kind == "plane"]
    for k, (name, one) in enumerate(flats):
        for other_name, two in flats[k + 1 :]:
            normal, way = np.array(one.axis), np.subtract(one.center, two.center)
            across = float(way @ normal)
            if float(normal @ two.axis) > _PARALLEL - 1 or (across < 0) != slot or abs(across) < _CLOSE:
                continue
            reach = float(np.sqrt(max(one.area, two.area)))
            if float(np.linalg.norm(way - across * normal)) > reach:
                continue
            middle = placed(instance.pose, np.add(one.center, two.center) / 2)
            made.append(_Walls(abs(across), middle, turn @ normal, reach, stated.get(frozenset((name, other_name)))))
    return made


def _key_in_seat(assembly: Assembly, key: Instance, seat: Instance) -> Iterator[Fitted]:
    """Of a key in its seat the closest pair of walls only: a key has but one width."""
    slots = _walls(assembly.part(seat.part), seat, True)
    found = []
    for tongue in _walls(assembly.part(key.part), key, False) if slots else ():
        for slot in slots:
            away = slot.middle - tongue.middle
            off = float(away @ slot.way)
            alike = abs(slot.wide - tongue.wide) <= _NEAR * slot.wide and abs(off) <= 0.5 * _NEAR * slot.wide
            beside = float(np.linalg.norm(away - off * slot.way)) < max(slot.reach, tongue.reach)
            if alike and beside and abs(abs(float(slot.way @ tongue.way)) - 1) < _PARALLEL:
                found.append((float(np.linalg.norm(away)), tongue, slot))
    if found:
        _, tongue, slot = min(found, key=lambda f: f[0])
        yield _fitted(key, seat, (tongue.wide, slot.wide), (tongue.sized, slot.sized), True)


def _about_one_axis(rod: _Round, bore: _Round) -> bool:
    """Whether two round faces have one axis and stand within each other's length."""
    if abs(abs(float(rod.along @ bore.along)) - 1) > _PARALLEL:
        return False
    away = bore.at - rod.at
    if float(np.linalg.norm(np.cross(away, rod.along))) > _CLOSE:
        return False
    shift, way = float(away @ rod.along), math.copysign(1.0, float(rod.along @ bore.along))
    low, high = sorted(shift + way * v for v in bore.span)
    first, last = sorted(rod.span)
    return min(high, last) - max(low, first) > 1e-6
