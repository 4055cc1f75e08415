"""Small features cut by table: keyways, undercuts and thread run-outs, centre holes."""

from __future__ import annotations

from typing import NamedTuple

from .tables import NotTabled, table


class Key(NamedTuple):
    """Width of the key, depth of its seat in the shaft and in the hub, mm; ``cutter`` diameter of a Woodruff seat."""

    width: float
    shaft: float
    hub: float
    cutter: float
    source: str


class Undercut(NamedTuple):
    """``radius``, ``depth`` below the round face, ``width`` along it, ``height`` up the shoulder and ``face`` depth
    into it, mm."""

    radius: float
    depth: float
    width: float
    height: float
    face: float


class Centre(NamedTuple):
    """``pilot``, ``mouth`` and protecting ``sink`` diameters; least depths of type A and B, mm."""

    pilot: float
    mouth: float
    sink: float
    depth_a: float
    depth_b: float


def key(diameter: float, woodruff: bool = False) -> Key:
    """The key for a shaft. Source: DIN 6885-1 table 1; DIN 6888 row A. Raises NotTabled outside the table."""
    rows = table("keys")["woodruff" if woodruff else "parallel"]
    for over, to, width, second, shaft, hub in rows:
        if over < diameter <= to:
            source = "DIN 6888" if woodruff else "DIN 6885-1"
            return Key(width, shaft, hub, float(second) if woodruff else 0.0, source)
    raise NotTabled(f"The table has keys for shafts over {rows[0][0]:g} up to {rows[-1][1]:g}, not for Ø{diameter:g}.")


def undercut(name: str) -> Undercut:
    """Sizes of a DIN 509 undercut such as ``0.6x0.3``. Raises NotTabled."""
    rows = table("undercuts")["din509"]
    found = rows.get(name.lower().replace(" ", "").replace("×", "x"))
    if found is None:
        raise NotTabled(f"DIN 509 has no undercut {name}. Known: {', '.join(rows)}.")
    return Undercut(*found)


def thread_groove(pitch: float) -> tuple[float, float, float]:
    """Diameter below nominal, width and radius of a thread's run-out groove. Source: DIN 76-1. Raises NotTabled."""
    found = table("undercuts")["din76"].get(f"{pitch:g}")
    if found is None:
        raise NotTabled(f"DIN 76-1 is not tabled here for a pitch of {pitch:g}.")
    return found[0], found[1], found[2]


def centre(pilot: float) -> Centre:
    """Sizes of a centre hole by its pilot diameter. Source: DIN 332-1. Raises NotTabled."""
    rows = table("centres")["centre"]
    found = rows.get(f"{pilot:g}")
    if found is None:
        raise NotTabled(f"There is no centre drill {pilot:g}. Known: {', '.join(rows)}.")
    return Centre(pilot, *found)
