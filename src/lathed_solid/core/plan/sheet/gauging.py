"""With what a size is measured at the machine: by its kind, where it lies, and the room its limits leave."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ...kernel.ground.figures import Surface
from ...kernel.ground.geometry import dot
from ...tolerance import LEVEL
from .work import Sized

#: The widest band (mm) that each instrument is good for at the least: ten times what it is off by itself, which is the
#: usual rule. Calipers 0.03 mm, micrometers 0.004, bore gauges and plug gauges 0.003.
CALIPERS, MICROMETER = 0.3, 0.04


class Measure(NamedTuple):
    """``instrument`` in words; ``is_rough`` tells that the limits ask for more than it is sure of."""

    instrument: str
    is_rough: bool = False


def instrument(sized: Sized, faces: Sequence[Surface]) -> Measure:
    """What to reach for. Source: the usual rule that an instrument be ten times finer than the limits it judges."""
    kind = sized.kind
    if kind == "thread":
        inside = any(s.hollow for s in faces)
        return Measure("thread plug gauge, GO and NOT GO" if inside else "thread ring gauge, or three wires")
    if kind == "angle":
        return Measure("bevel protractor", sized.band < 0.005)
    if kind == "radius":
        return Measure("radius gauge")
    if kind in ("finish", "geometric"):
        return Measure("roughness comparator" if kind == "finish" else "dial indicator")
    if kind == "count":
        return Measure("count them")
    if kind == "diameter":
        return _across(sized, any(s.hollow for s in faces))
    return _length(sized, faces)


def _across(sized: Sized, inside: bool) -> Measure:
    if sized.band >= CALIPERS:
        return Measure("calipers, inside jaws" if inside else "calipers")
    if not inside:
        return Measure("micrometer", sized.band < MICROMETER)
    if sized.nominal < 6:
        return Measure("pin gauges")
    return Measure("plug gauge, or bore gauge", sized.band < 0.01)


def ends_of(sized: Sized, faces: Sequence[Surface]) -> list[Surface]:
    """The faces a length lies between: flat ones that run along each other, where there are two; else all of them."""
    flat = [s for s in faces if s.kind == "plane"]
    for at, a in enumerate(flat):
        along = [b for b in flat[at:] if abs(dot(a.axis, b.axis)) > 1 - LEVEL]
        if sized.kind == "length" and len(along) > 1:
            return along
    return list(faces)


def _length(sized: Sized, faces: Sequence[Surface]) -> Measure:
    if sized.shape == "chamfer":
        return Measure("chamfer gauge, or calipers across it")
    fine, tight = sized.band < CALIPERS, sized.band < MICROMETER
    ends = ends_of(sized, faces)
    flat = [s for s in ends if s.kind == "plane"]
    faces_alike = len(flat) > 1 and dot(flat[0].axis, flat[1].axis) > 0
    if sized.key in ("depth", "drill_depth", "seat_depth") or faces_alike:
        return Measure("depth micrometer" if fine else "depth rod of the calipers", tight)
    if len(flat) < 2 and any(s.kind == "cylinder" for s in ends):
        return Measure("height gauge and pin" if fine else "calipers, edge and half the diameter")
    return Measure("micrometer" if fine else "calipers", tight)
