"""Shafts in their holes: how much clearance there is at least and at most, by the limits that both callouts state."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from ..kernel.ground.figures import Surface
from .clearance import near_pairs
from .model import Assembly, Instance, PartShot, Sized
from .poses import placed, rotation

#: Axes this close are one (mm), and directions this parallel.
_CLOSE, _PARALLEL = 0.01, 1e-5
#: A shaft and its hole differ by no more than this share.
_NEAR = 0.05


class Fitted(NamedTuple):
    """A shaft in a hole: the two instances, nominal diameters (mm), the notes that state them (empty: none), and the
    clearance at least and at most (mm; negative: interference; None where a side has no limits). ``general`` is the
    note that has no limits but the general ones.
    """

    shaft: str
    hole: str
    diameters: tuple[float, float]
    notes: tuple[str, str]
    least: float | None
    most: float | None
    general: str = ""

    @property
    def words(self) -> str:
        """The class of the fit in shop language."""
        if self.least is None or self.most is None:
            gap = self.diameters[1] - self.diameters[0]
            return "no limits stated" if gap >= 0 else "no limits stated; the shaft is the larger"
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
    return tuple(sorted(found, key=lambda f: (f.least is None, f.least or 0.0, f.shaft, f.hole)))


def _rounds(part: PartShot, instance: Instance, hollow: bool) -> list[_Round]:
    turn, stated = rotation(instance.pose), {s.face: s for s in part.sized}
    made = []
    for name, s in zip(part.references, part.surfaces, strict=True):
        if s.kind == "cylinder" and s.hollow == hollow and s.turn > math.pi:
            at = placed(instance.pose, np.array(s.origin))
            made.append(_Round(s, at, turn @ np.array(s.axis), s.span, stated.get(name)))
    return made


def _in_each_other(assembly: Assembly, shaft: Instance, hole: Instance) -> Iterator[Fitted]:
    rods = _rounds(assembly.part(shaft.part), shaft, False)
    bores = _rounds(assembly.part(hole.part), hole, True)
    said: set[tuple[float, float, str, str]] = set()
    for rod in rods:
        for bore in bores:
            alike = abs(rod.surface.radius - bore.surface.radius) <= _NEAR * bore.surface.radius
            if not alike or not _about_one_axis(rod, bore):
                continue
            notes = (rod.sized.note if rod.sized else "", bore.sized.note if bore.sized else "")
            diameters = (2 * rod.surface.radius, 2 * bore.surface.radius)
            if (key := (*diameters, *notes)) in said:
                continue
            said.add(key)
            least = most = None
            if rod.sized is not None and bore.sized is not None:
                least, most = bore.sized.lower - rod.sized.upper, bore.sized.upper - rod.sized.lower
            general = next((s.note for s in (rod.sized, bore.sized) if s is not None and s.is_general), "")
            yield Fitted(shaft.id, hole.id, diameters, notes, least, most, general)


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
