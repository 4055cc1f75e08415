"""The nominal finder against simulated parts measured with a realistic caliper."""

from __future__ import annotations

import random
from typing import NamedTuple

from lathed_solid.core.caliper.instrument import CALIPER, Way
from lathed_solid.core.caliper.nominal import Habit, What, suggest
from lathed_solid.core.caliper.statistics import summarise
from lathed_solid.core.standards import drills, stock

from .row import Row

PARTS = 2000


class Outcome(NamedTuple):
    """``place`` of the true nominal among the suggestions (0 first, None when missing); ``apart``: whether the next
    nominal such parts are made to lies further away than three times the stated uncertainty."""

    place: int | None
    apart: bool
    what: str
    habit: str


def _population(what: What, habit: Habit) -> list[tuple[float, float]]:
    """``(nominal mm, how often)``: what drawings of that habit ask for."""
    if habit == "either":
        return [*_population(what, "mm"), *_population(what, "in")]
    if what == "flats":
        return [(size, 1.0) for _, size in stock.bars("hexagon", habit)]
    if what == "bore" and habit == "mm":
        metric = [d.diameter for d in drills.drills(("metric",)) if 2 <= d.diameter <= 30]
        return [(d, 1.0 if d % 0.5 == 0 else 0.15) for d in metric]
    if what == "bore":
        found = [(d.diameter, 1.0) for d in drills.drills(("fraction",)) if d.diameter > 3]
        return found + [(d.diameter, 0.5) for d in drills.drills(("number", "letter")) if d.diameter > 3]
    if habit == "mm":
        steps = ((10.0, 2.0), (5.0, 1.5), (1.0, 1.0), (0.5, 0.25), (0.1, 0.01))
        sizes = [n / 10 for n in range(30, 1201)]
        return [(s, max(w for step, w in steps if abs(s / step - round(s / step)) < 1e-9)) for s in sizes]
    return [
        (n / 64 * 25.4, 2.0 if n % 8 == 0 else 1.0 if n % 4 == 0 else 0.2 if n % 2 == 0 else 0.05)
        for n in range(8, 320)
    ]


def simulate(parts: int, seed: int) -> list[Outcome]:
    """Make, measure and name ``parts`` sizes."""
    rng, found = random.Random(seed), []
    for _ in range(parts):
        habit: Habit = rng.choices(("mm", "in", "either"), (6, 3, 1))[0]
        what: What = rng.choices(("length", "diameter", "bore", "flats"), (4, 3, 2, 1))[0]
        sizes = _population(what, habit)
        nominal = rng.choices([s for s, _ in sizes], [w for _, w in sizes])[0]
        # Workmanship: within a fine general tolerance, drilled holes a little large.
        made = nominal + rng.uniform(-0.03, 0.03) + (rng.uniform(0.0, 0.03) if what == "bore" else 0.0)
        way: Way = {"bore": "inside", "length": "step"}.get(what, "outside")  # type: ignore[assignment]
        summary = summarise(_readings(rng, made, way), CALIPER, way)
        gaps = [abs(s - nominal) for s, _ in sizes if abs(s - nominal) > 1e-9]
        ranked = [s.nominal for s in suggest(summary, way, what, habit)]
        place = next((i for i, s in enumerate(ranked) if abs(s - nominal) < 1e-6), None)
        found.append(Outcome(place, min(gaps) > 3 * summary.U, what, habit))
    return found


def _readings(rng: random.Random, made: float, way: Way) -> list[float]:
    """Three to five readings: an instrument error for the day, noise, tilt, flats of the inside jaws, whole digits."""
    day = rng.uniform(-CALIPER.error, CALIPER.error)
    readings = []
    for _ in range(rng.randint(3, 5)):
        size = made + day + rng.gauss(0, 0.007)
        if way == "inside":
            size = (size**2 - CALIPER.flat**2) ** 0.5
        elif way == "outside":
            size += abs(rng.gauss(0, 0.004))
        readings.append(round(size / CALIPER.resolution) * CALIPER.resolution)
    return readings


def shares(outcomes: list[Outcome]) -> tuple[float, float]:
    """Share with the true nominal first, and among the first three."""
    n = len(outcomes)
    return sum(o.place == 0 for o in outcomes) / n, sum(o.place is not None and o.place < 3 for o in outcomes) / n


def run() -> list[Row]:
    outcomes = simulate(PARTS, seed=7)
    rows = []
    for name, chosen in (
        ("nominals apart", [o for o in outcomes if o.apart]),
        ("harder cases", [o for o in outcomes if not o.apart]),
    ):
        first, three = shares(chosen)
        rows.append(
            Row(f"nominal finder, {name} ({len(chosen)} of {PARTS}): first", 100 * first, 95.0, first / 0.95, "%")
        )
        rows.append(Row(f"nominal finder, {name}: in the first three", 100 * three, 99.5, three / 0.995, "%"))
    return rows
