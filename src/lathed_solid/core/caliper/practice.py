"""A made-up part to practise on with the simulated instruments: the worn levelling foot of the tide recorder."""

from __future__ import annotations

from typing import NamedTuple

from .instrument import Way
from .nominal import What


class Feature(NamedTuple):
    """What lies between the jaws: its true size in mm (grams for the mass), how it is touched, what it is.

    ``pitch`` is what a pitch gauge says, mm.
    """

    name: str
    way: Way
    what: What
    size: float
    pitch: float | None = None


LEVELLING_FOOT = (
    Feature("overall", "outside", "length", 52.02),
    Feature("hexagon", "outside", "flats", 16.97),
    Feature("hexagon, thick", "step", "length", 6.01),
    Feature("neck", "outside", "diameter", 6.98),
    Feature("neck, long", "step", "length", 2.99),
    Feature("thread", "thread", "thread", 7.87, 1.25),
    Feature("threaded length", "step", "length", 28.03),
    Feature("ball", "outside", "ball", 11.99),
    Feature("screwdriver slot", "inside", "length", 1.51),
    Feature("slot, deep", "depth", "length", 2.02),
)
#: Mass of the worn foot, g.
FOOT_MASS = 31.4
