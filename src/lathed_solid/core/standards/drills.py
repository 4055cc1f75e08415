"""Twist drills by name, the drill nearest to a size, and the drill for a thread."""

from __future__ import annotations

import math
import re
from fractions import Fraction
from functools import cache
from typing import NamedTuple

from ..units import INCH
from .tables import NotTabled, table
from .threads import ScrewThread

_NAME = re.compile(r"(?:#|NO\.?|NUMBER|LETTER)?\s*(\d{1,2}|[A-Z])", re.IGNORECASE)


class Drill(NamedTuple):
    """``diameter`` in mm; ``name`` as it is stamped: ``#25``, ``F``, ``27/64``, ``5.5 mm``."""

    name: str
    diameter: float
    family: str


@cache
def drills(families: tuple[str, ...] = ("metric", "number", "letter", "fraction")) -> tuple[Drill, ...]:
    """Drills of the families, smallest first. Sources: ISO 235, ASME B94.11M (numbers, letters, 1/64 to 1 inch)."""
    data, found = table("drills"), []
    if "metric" in families:
        sizes: set[float] = set()
        for low, high, step in data["metric"]:
            sizes.update(round(low + i * step, 3) for i in range(round((high - low) / step) + 1))
        # Quarter millimetres are shelf sizes too, but the steps of 0.1 and 0.5 above already hold halves.
        found += [Drill(f"{s:g} mm", s, "metric") for s in sizes]
    if "number" in families:
        found += [Drill(f"#{n}", d * INCH, "number") for n, d in enumerate(data["number"], 1)]
    if "letter" in families:
        found += [Drill(chr(ord("A") + n), d * INCH, "letter") for n, d in enumerate(data["letter"])]
    if "fraction" in families:
        for n in range(1, 65):
            cut = math.gcd(n, 64)
            found.append(Drill(f"{n // cut}/{64 // cut}" if n < 64 else "1", n / 64 * INCH, "fraction"))
    return tuple(sorted(found, key=lambda d: d.diameter))


def named(name: str) -> Drill:
    """A number or letter drill: ``#25``, ``NO. 25``, ``LETTER F``. Raises NotTabled."""
    match = _NAME.fullmatch(name.strip())
    wanted = match[1].upper() if match else ""
    wanted = f"#{int(wanted)}" if wanted.isdigit() else wanted
    for drill in drills(("number", "letter")):
        if drill.name == wanted:
            return drill
    raise NotTabled(f"There is no drill {name.strip()}. Numbers run from 1 to 80, letters from A to Z.")


def nearest(diameter: float, families: tuple[str, ...]) -> Drill:
    """The drill whose size lies nearest to ``diameter`` mm, or the one beyond the tables (:func:`_wide`)."""
    known = drills(families)
    wide = diameter > max(d.diameter for d in known) + 0.25
    return _wide(diameter, families) if wide else min(known, key=lambda d: abs(d.diameter - diameter))


def _wide(diameter: float, families: tuple[str, ...]) -> Drill:
    """What is wider than the tables: metric by halves of a mm (ISO 235), inch by 64ths to 1 3/4, by 32nds to 2 1/4, by
    16ths above (ASME B94.11M).
    """
    if "metric" in families:
        size = round(2 * diameter) / 2
        return Drill(f"{size:g} mm", size, "metric")
    inches = diameter / INCH
    part = Fraction(1, 64 if inches < 1.75 else 32 if inches < 2.25 else 16)
    exact = round(inches / part) * part
    whole, rest = divmod(exact, 1)
    return Drill(f"{whole} {rest}" if rest else f"{whole}", float(exact) * INCH, "fraction")


def thread_percent(thread: ScrewThread, drill: float) -> float:
    """Percentage of thread that a hole of ``drill`` mm leaves: (D - drill) / 1.299038 P (twice 3/4 of the sharp
    height, ASME B1.1 appendix B), for pipe threads against 1.280654 P.
    """
    return 100 * (thread.diameter - drill) / (_full(thread) * thread.pitch)


def _full(thread: ScrewThread) -> float:
    """How much narrower than the thread, in pitches, a hole is that leaves the whole of it."""
    return {"G": 1.280654, "Rc": 1.280654, "R": 1.280654, "NPT": 1.6, "Tr": 1.0}.get(thread.system, 1.299038106)


def tap_drill(thread: ScrewThread, percent: float | None = None) -> Drill:
    """The drill for a tapped hole.

    Metric: D - P to the nearest drill (ISO 2306); unified: the inch drill nearest to 75 % of thread (ASME B1.1
    appendix B); NPT: its own table; pipe and trapezoidal: the metric drill next above the minor diameter, and the
    next tenth where none is so wide. ``percent`` asks for another share of thread. Raises NotTabled when the share
    is outside 40 to 100.
    """
    families = ("number", "letter", "fraction") if thread.system in ("UN", "NPT") else ("metric",)
    if percent is not None:
        if not 40 <= percent <= 100:
            raise NotTabled(f"{percent:g} % of thread is outside 40 to 100 %.")
        return nearest(thread.diameter - percent / 100 * _full(thread) * thread.pitch, families)
    if thread.system == "NPT":
        return nearest(table("pipe")["npt_drill"][thread.size] * INCH, families)
    if thread.system == "UN":
        return nearest(thread.diameter - 0.75 * 1.299038106 * thread.pitch, families)
    if thread.system == "M":
        size = round(thread.diameter - thread.pitch, 2)
        return Drill(f"{size:g} mm", size, "metric")
    least = thread.minor_diameter - 1e-9
    bored = math.ceil(10 * least) / 10  # wider than any drill
    return next((d for d in drills(("metric",)) if d.diameter >= least), Drill(f"{bored:g} mm", bored, "metric"))
