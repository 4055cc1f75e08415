"""A second look at a note: what is still to be asked, and what is unusual about it."""

from __future__ import annotations

import re
from collections.abc import Iterator

from ..quantity import Style
from ..standards import thread_limits
from ..standards.threads import screw_size
from .model import Reading


def asks(reading: Reading) -> tuple[str, ...]:
    """Questions a maker would have to ask before the part can be made to this note."""
    found = []
    if reading.seat == "counterbore" and reading.get("seat_depth") is None and "SPOTFACE" not in reading.flags:
        found.append("How deep is the counterbore? Write cbore Ø10 x 5.4 deep.")
    if reading.seat == "countersink" and reading.get("seat") is None:
        found.append("How wide is the countersink? Write csk Ø10 x 90°.")
    if reading.is_hole and not reading.thru and reading.get("depth") is None and reading.shape == "diameter":
        found.append("Through, or how deep? Write THRU or 12 deep.")
    if reading.thread is not None and reading.thread.internal and not reading.thru and reading.get("depth") is None:
        found.append("How deep is the thread? Write 14 deep or THRU.")
    if reading.shape == "keyway" and reading.get("across") is None and reading.get("depth") is None:
        found.append("How deep is the keyway? Write KEYWAY 5 x 22.3 ACROSS, or x 2.3 DEEP.")
    if "EQ SP" in reading.flags and reading.count < 2:
        found.append("Equally spaced, but how many? Write 6x or 6 HOLES.")
    if "EQ SP" in reading.flags and reading.get("circle") is None:
        found.append("Equally spaced on which circle? Write on Ø98.")
    return tuple(found)


def odd(reading: Reading, style: Style, part_size: float | None = None) -> tuple[str, ...]:
    """What a reader would stumble over; ``part_size`` is the part's greatest extent in mm, when it is known."""
    return (*_drill_and_thread(reading, style), *_depths(reading, style, part_size), *_tolerances(reading, style))


def _drill_and_thread(reading: Reading, style: Style) -> Iterator[str]:
    drill, thread = reading.known("drill"), reading.thread
    if thread is None or drill is None:
        return
    low, high = thread_limits.minor_limits(thread)
    name, size = thread.designation, style.length(drill.nominal)
    if drill.nominal > high + 1e-6:
        share = f"{style.length(low)} to {style.length(high)}"
        yield f"The drill Ø{size} is larger than {name} allows (minor diameter {share}): too little thread is left."
    elif drill.nominal < low - 0.02 * thread.pitch and reading.get("drill") is not None:
        yield f"The drill Ø{size} is smaller than the minor diameter {style.length(low)} of {name}; the tap may break."


def _depths(reading: Reading, style: Style, part_size: float | None) -> Iterator[str]:
    depth, drilled, seat = reading.get("depth"), reading.get("drill_depth"), reading.get("seat_depth")
    if depth is not None and drilled is not None:
        if depth.nominal > drilled.nominal:
            yield f"The thread is {style.length(depth.nominal)} deep, the drill only {style.length(drilled.nominal)}."
        elif reading.thread is not None and drilled.nominal < depth.nominal + 2 * reading.thread.pitch:
            yield "The drill goes less than two pitches beyond the thread; a plug tap will not reach."
    if depth is not None and seat is not None and seat.nominal >= depth.nominal:
        yield "The seat is as deep as the hole: depths are counted from the same face."
    if reading.thru and depth is not None and reading.shape == "diameter":
        yield "THRU and a depth: one of them is not meant."
    if part_size is not None:
        for c in (depth, drilled, seat):
            if c is not None and c.nominal > part_size:
                yield f"{style.length(c.nominal)} deep is more than the part is long ({style.length(part_size)})."
                return


def _tolerances(reading: Reading, style: Style) -> Iterator[str]:
    if reading.seat_for:
        yield from _seat_for_another_screw(reading, style)
    if re.fullmatch(r"[\d./]+ [+-]\d*\.?\d+", reading.main.written):
        sign, rest = reading.main.written.rsplit(" ", 1)[1][0], reading.main.written.rsplit(" ", 1)[1]
        meant = f"{rest}/0" if sign == "+" else f"0/{rest}"
        yield f"Read as a sum, {style.length(reading.main.nominal)}. If {rest} is a tolerance, write {meant}."
    for c in reading.characteristics:
        if not c.tolerance or c.tolerance in ("MAX", "MIN", "BASIC") or c.kind not in ("length", "diameter", "radius"):
            continue
        if c.upper - c.lower > 0.1 * abs(c.nominal) and c.upper - c.lower > 0.5:
            yield (
                f"A tolerance of {style.length(c.upper - c.lower)} on {style.length(c.nominal)} is very wide. "
                "For a sum write 100 + 20 - 5, with spaces around the signs."
            )
    if "SPOTFACE" not in reading.flags and reading.seat == "counterbore" and not reading.seat_for:
        seat, main = reading.get("seat"), reading.main
        if seat is not None and main.kind == "diameter" and seat.nominal > 4 * main.nominal:
            yield "The counterbore is more than four times as wide as its hole."


def _seat_for_another_screw(reading: Reading, style: Style) -> Iterator[str]:
    """A seat taken from a screw table around a hole that screw does not pass."""
    hole, seat = reading.get("drill") or reading.main, reading.get("seat")
    size = screw_size(reading.seat_for) if not reading.seat_for.startswith("M") else float(reading.seat_for[1:])
    if hole.kind != "diameter" or seat is None:
        return
    if hole.nominal < size - 1e-6:
        yield f"A screw {reading.seat_for} does not pass a hole Ø{style.length(hole.nominal)}. Inches read as mm?"
