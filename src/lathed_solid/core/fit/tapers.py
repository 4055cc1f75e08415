"""Tapers in their holes: a taper pin seats where the diameters meet, and only when both tapers are the same."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from ..arrays import Floats
from .clearance import near_pairs
from .model import Assembly, Instance, PartShot
from .poses import placed, rotation

#: Half angles this alike are one taper (radians); axes this close are one (mm).
_ONE_TAPER, _CLOSE = 2e-5, 0.02
#: What is steeper is no taper that seats (half angle, radians): a countersink, a drill's point.
_STEEP = math.radians(10)


class Tapered(NamedTuple):
    """A cone in a hollow one: instances, the half angles (radians), and how far along it could still go in until it
    seats (mm; negative: so far too deep).
    """

    pin: str
    hole: str
    halves: tuple[float, float]
    way: float

    @property
    def is_one_taper(self) -> bool:
        return abs(self.halves[0] - self.halves[1]) < _ONE_TAPER


class _Cone(NamedTuple):
    apex: Floats
    way: Floats
    half: float


def tapers(assembly: Assembly) -> tuple[Tapered, ...]:
    """Every slender cone that stands in a hollow one about the same axis."""
    made = []
    for one, two in near_pairs(assembly)[0]:
        a, b = assembly.instances[one], assembly.instances[two]
        for pin, hole in ((a, b), (b, a)):
            made += list(_in(assembly, pin, hole))
    return tuple(made)


def _cones(part: PartShot, instance: Instance, hollow: bool) -> Iterator[_Cone]:
    turn = rotation(instance.pose)
    for s in part.surfaces:
        if s.kind == "cone" and s.hollow == hollow and s.half_angle < _STEEP:
            apex = np.array(s.origin) - s.radius / math.tan(s.half_angle) * np.array(s.axis)
            yield _Cone(placed(instance.pose, apex), turn @ np.array(s.axis), s.half_angle)


def _in(assembly: Assembly, pin: Instance, hole: Instance) -> Iterator[Tapered]:
    for cone in _cones(assembly.part(pin.part), pin, False):
        for seat in _cones(assembly.part(hole.part), hole, True):
            away = seat.apex - cone.apex
            along = float(away @ cone.way)
            if float(cone.way @ seat.way) > 1 - 1e-8 and float(np.linalg.norm(away - along * cone.way)) < _CLOSE:
                # A cone goes in towards its apex, until the apexes are one.
                yield Tapered(pin.id, hole.id, (cone.half, seat.half), -along)
