"""Instruments, and the ways of touching a part with them."""

from __future__ import annotations

import math
from typing import Literal

import msgspec

Way = Literal["outside", "inside", "depth", "step", "thread", "weight"]


class Instrument(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A hand instrument. ``resolution`` and ``error`` (largest permissible error, plus-minus) in mm, for a scale in
    grams; ``flat`` is the width of the inside jaws' flats in mm.
    """

    name: str = "Digital caliper 150"
    kind: Literal["caliper", "scale"] = "caliper"
    resolution: float = 0.01
    error: float = 0.02
    flat: float = 0.4


#: A usual digital caliper (maximum permissible error of DIN 862 up to 150 mm) and a usual bench scale.
CALIPER = Instrument()
SCALE = Instrument(name="Bench scale 500 g", kind="scale", resolution=0.01, error=0.02)


class Touch(msgspec.Struct, frozen=True):
    """One way of touching: what it gives, what goes wrong with it, and what to do first."""

    way: Way
    title: str
    gives: str
    mind: str
    caution: str


_STILL = "The part stands still and the spindle is locked out: never measure a part that is turning. Deburr first."
WAYS: dict[Way, Touch] = {
    "outside": Touch(
        "outside",
        "Outside jaws",
        "outside diameter, thickness, width, across flats",
        "Rock the jaws and take the smallest reading; tilted jaws read large. Measure deep in the jaws.",
        _STILL,
    ),
    "inside": Touch(
        "inside",
        "Inside jaws",
        "bore, slot width",
        "Rock and take the largest reading. The jaws' flats make a small bore read small.",
        _STILL,
    ),
    "depth": Touch(
        "depth",
        "Depth rod",
        "blind depth, edge to feature",
        "Keep the beam's end flat on the face; a tilted rod reads large, swarf under it reads small.",
        _STILL,
    ),
    "step": Touch(
        "step",
        "Step face",
        "shoulder to shoulder, edge distance",
        "The steadiest way from shoulder to shoulder. Fixed face on one shoulder, slide on the other.",
        _STILL,
    ),
    "thread": Touch(
        "thread",
        "Outside jaws over thread crests",
        "crest diameter of an external thread",
        "Crests are truncated: an M8 reads 7.8 to 7.95. Lay the jaws over several crests and add a pitch gauge.",
        _STILL,
    ),
    "weight": Touch(
        "weight",
        "Bench scale",
        "mass",
        "Level the scale, press zero, keep draughts off. Wipe off oil and chips.",
        "Lift heavy parts with help; know what the scale carries.",
    ),
}


def flat_error(reading: float, flat: float) -> float:
    """How much too small inside jaws with flats ``flat`` mm wide read a bore of ``reading`` mm.

    The flats' edges touch, so the reading is a chord's height: d - sqrt(d² - b²), with d solved from the reading.
    """
    if reading <= 0:
        return 0.0
    true = math.hypot(reading, flat)
    return true - reading


def systematic(way: Way, reading: float, instrument: Instrument) -> tuple[float, float]:
    """Range in mm that the true size may lie away from the mean reading by the way of touching (low, high).

    Tilt of up to half a degree over the jaws' 40 mm reads an outside size large by 1 - cos; inside jaws read small by
    their flats.
    """
    tilt = reading * (1 - math.cos(math.radians(0.5)))
    if way == "inside":
        return 0.0, flat_error(reading, instrument.flat) + tilt
    if way in ("outside", "thread", "depth"):
        return -tilt, 0.0
    return 0.0, 0.0
