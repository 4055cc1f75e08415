"""Sizes of parts that are bought: screws, nuts, washers, pins, keys, ball bearings by their envelope. Lengths mm."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, NamedTuple

from .tables import NotTabled, table

Kind = Literal[
    "socket_cap", "socket_set", "hexagon_head", "stud", "hexagon_nut", "washer", "parallel_pin", "taper_pin",
    "parallel_key", "woodruff_key", "circlip_shaft", "circlip_bore", "roller", "ball", "ball_bearing",
]  # fmt: skip


class Bought(NamedTuple):
    """A kind of bought part: what it is called, its standard, whether a length is chosen besides the size, and whether
    it has a thread.
    """

    kind: Kind
    title: str
    source: str
    has_length: bool
    has_thread: bool = False


CATALOGUE: dict[Kind, Bought] = {
    b.kind: b
    for b in (
        Bought("socket_cap", "Socket head cap screw", "ISO 4762", True, True),
        Bought("socket_set", "Socket set screw, flat point", "ISO 4026", True, True),
        Bought("hexagon_head", "Hexagon head screw", "ISO 4017", True, True),
        Bought("stud", "Stud, threaded all along", "DIN 976-1", True, True),
        Bought("hexagon_nut", "Hexagon nut", "ISO 4032", False, True),
        Bought("washer", "Plain washer", "ISO 7089", False),
        Bought("parallel_pin", "Parallel pin", "ISO 2338", True),
        Bought("taper_pin", "Taper pin 1:50", "ISO 2339", True),
        Bought("parallel_key", "Parallel key, square ends", "DIN 6885-1 form B", True),
        Bought("woodruff_key", "Woodruff key", "DIN 6888", False),
        Bought("circlip_shaft", "Circlip for a shaft, its envelope", "DIN 471", False),
        Bought("circlip_bore", "Circlip for a bore, its envelope", "DIN 472", False),
        Bought("roller", "Cylindrical roller", "DIN 5402-1", False),
        Bought("ball", "Ball", "ISO 3290-1", False),
        Bought("ball_bearing", "Ball bearing, its envelope", "ISO 15", False),
    )
}
#: Lengths that screws and pins are had in (ISO 888, ISO 2338), mm.
LENGTHS = (4, 5, 6, 8, 10, 12, 14, 16, 18, 20, 22, 25, 30, 35, 40, 45, 50, 55, 60, 65, 70, 80, 90, 100, 110, 120)


def sizes(kind: Kind) -> tuple[str, ...]:
    """What sizes a kind is had in, as they are called: ``M6``, ``6``, ``5x5``, ``6203``."""
    if kind == "parallel_key":
        return tuple(f"{row[2]}x{row[3]}" for row in table("keys")["parallel"])
    if kind == "stud":
        return sizes("hexagon_nut")
    names: Sequence[str] = list(table("fasteners")[kind])
    return tuple(f"M{n}" if CATALOGUE[kind].has_thread or kind == "washer" else n for n in names)


def figures(kind: Kind, size: str) -> tuple[float, ...]:
    """The row of a size, as the data file says it. Raises NotTabled naming the sizes there are."""
    if size not in sizes(kind):
        raise NotTabled(f"There is no {CATALOGUE[kind].title.lower()} {size}. Sizes: {', '.join(sizes(kind))}.")
    if kind == "parallel_key":
        width, height = size.split("x")
        return float(width), float(height)
    if kind == "stud":
        return ()
    if kind == "ball":
        return (float(size),)
    return tuple(float(v) for v in table("fasteners")[kind][size.removeprefix("M")])


def nearest(kind: Kind, diameter: float) -> str:
    """The largest size of a kind that goes into, or onto, a diameter (mm): a screw into its clearance hole, a washer or
    bearing onto a shaft. Raises NotTabled when there is none.
    """
    fitting = [s for s in sizes(kind) if _diameter(kind, s) <= diameter + 1e-6]
    if not fitting:
        raise NotTabled(f"No {CATALOGUE[kind].title.lower()} is small enough for Ø{diameter:g}.")
    return max(fitting, key=lambda s: _diameter(kind, s))


def _diameter(kind: Kind, size: str) -> float:
    """By what a size is chosen for a hole or shaft."""
    if kind == "ball_bearing":
        return figures(kind, size)[0]
    # A circlip is called by its shaft or bore; it goes onto, or into, just that.
    return float(size.split("x")[0].removeprefix("M"))
