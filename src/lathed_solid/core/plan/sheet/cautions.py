"""What must be minded at the machine. Practice and the machine's own manual come first; local rules decide."""

from __future__ import annotations

from collections.abc import Iterator

from .order import Placed
from .work import Built

GENERAL = (
    "Guards on, eyes covered; no gloves, rings or loose sleeves near a spindle. Never measure or clear chips while "
    "anything turns. The tool maker's and the machine's limits come first; local rules and somebody qualified decide."
)
_LONG = 4.0


def cautions(placed: Placed, built: Built) -> Iterator[str]:
    """For one set-up; the general one besides."""
    setup, kinds = placed.setup, {o.kind for o in placed.operations}
    if setup.machine == "lathe":
        yield "Never leave the key in the chuck. Turn the work round by hand once before the spindle runs."
        across = max((o.across for o in placed.operations), default=0.0)
        out = max((_reach(o.faces, placed, built) for o in placed.operations), default=0.0)
        if across and setup.holding in ("chuck", "collet") and out > _LONG * across:
            yield "It stands out more than four diameters: bring up the centre or a steady before cutting."
    else:
        yield "Seat the work on parallels and tap it down; nothing may lift when the clamps are drawn up."
    if "part_off" in kinds:
        yield "Part off close to the chuck, at low speed; never catch the part by hand."
    if kinds & {"drill", "bore"}:
        yield "Clear the drill often: long chips whip, and the work and the drill come out hot."
    if "tap" in kinds:
        yield "Tap by hand or at the slowest speed, with cutting oil; a broken tap cannot be drilled out."
    if setup.machine == "mill" and kinds & {"drill", "counterbore", "countersink", "tap"}:
        yield "A part held by hand under a drill is torn out of it: clamp it."


def _reach(faces: tuple[int, ...], placed: Placed, built: Built) -> float:
    """How far a face lies from the other end, mm."""
    up = placed.setup.up
    low = sum(min(a * u, b * u) for a, b, u in zip(built.low, built.high, up, strict=True))
    at = [sum(c * u for c, u in zip(built.surfaces[f - 1].center, up, strict=True)) for f in faces]
    return max(at, default=low) - low
