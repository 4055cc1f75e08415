"""The half section of a hole's tool: drill, tip, and every kind of seat."""

from __future__ import annotations

import math
import re
from typing import TYPE_CHECKING, NamedTuple

from ...refusal import said
from ...standards import screws
from ...standards.drills import tap_drill
from ...standards.tables import NotTabled
from ...standards.threads import ScrewThread
from ..model import StepFailure, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from .model import Hole

Points = list[tuple[float, float]]


class Section(NamedTuple):
    """Places (radius, depth) mm from the top on the axis round to the bottom on it, and the names of the pieces."""

    points: Points
    names: list[str]


def sizes(step: Hole, shop: Workshop) -> tuple[float, ScrewThread | None]:
    """Radius of the hole (mm) and its thread: as written, from the tapping drill, or from the clearance table."""
    thread = shop.thread(step.thread) if step.thread.strip() else None
    if step.diameter.strip():
        radius = shop.value(step.diameter, "Diameter") / 2
    elif thread:
        radius = tap_drill(thread).diameter / 2
    elif step.screw.strip():
        radius = _looked_up(step, lambda size: screws.clearance(size, step.fit)).diameter / 2
    else:
        raise Unfinished("The hole has no diameter yet. Write one, a thread, or the screw it clears.")
    if thread and 2 * radius >= thread.diameter:
        raise StepFailure(f"The drill Ø{said(2 * radius)} is not smaller than the thread {thread.designation}.")
    return radius, thread


def _looked_up(step: Hole, look):  # type: ignore[no-untyped-def]
    try:
        return look(step.screw.strip())
    except NotTabled as error:
        raise StepFailure(f"Clears screw: {error.message}") from None


def section(step: Hole, shop: Workshop, radius: float, length: float, lean: float = 0.0) -> Section:
    """The tool for a hole of ``radius`` whose full diameter reaches ``length`` deep. Raises StepFailure.

    Into a face that leans by ``lean`` (radians) it begins above it, where the face is highest.
    """
    points, names = [(0.0, 0.0)], ["top"]
    _seat(step, shop, radius, length, points, names)
    _stages(step, shop, radius, length, points, names)
    if lean > 1e-6:
        _from_above(points, names, lean, radius)
    points.append((radius, length))
    names.append("side")
    if step.extent == "depth" and step.tip.strip():
        half = shop.value(step.tip, "Drill tip", "angle") / 2
        if half < math.pi / 2 - 1e-9:
            points.append((0.0, length + radius / math.tan(half)))
            return Section(points, [*names, "tip"])
    points.append((0.0, length))
    return Section(points, [*names, "floor"])


def _from_above(points: Points, names: list[str], lean: float, radius: float) -> None:
    """Begin the tool in the air, with its mouth as wide."""
    if lean > math.radians(80):
        raise StepFailure("The drill would run along the face. Drill it less slanted.")
    wide = max(points[1][0], radius) if len(points) > 1 else radius
    air = wide * math.tan(lean) + 1.0
    points[0] = (0.0, -air)
    if len(points) > 2 and points[2][0] < wide:  # a countersink: straight above its mouth
        points.insert(1, (wide, -air))
        names.insert(1, "clear")
    else:
        points[1] = (wide, -air)


def _seat(step: Hole, shop: Workshop, radius: float, length: float, points: Points, names: list[str]) -> None:
    if step.seat == "none":
        if not step.stages.strip():
            points.append((radius, 0.0))
        return
    seat, depth, half = _seat_sizes(step, shop)
    if seat <= radius:
        raise StepFailure(f"The seat Ø{said(2 * seat)} is not wider than the hole Ø{said(2 * radius)}.")
    if step.seat == "countersink":
        depth = (seat - radius) / math.tan(half)
        points += [(seat, 0.0), (radius, depth)]
        names.append("sink")
    else:
        points += [(seat, 0.0), (seat, depth)]
        names.append("seat_side")
        if step.seat == "counterdrill":
            depth += (seat - radius) / math.tan(half)
            points.append((radius, depth))
        else:
            points.append((radius, depth))
        names.append("seat")
    if depth >= length:
        raise StepFailure(
            f"The seat is {said(depth)} deep, the hole only {said(length)}. Depths are from the same face."
        )


def _seat_sizes(step: Hole, shop: Workshop) -> tuple[float, float, float]:
    """Radius, depth and half angle of the seat: as written, else from the table of the screw it takes."""
    head: screws.Seat | None = None
    if step.screw.strip() and not step.seat_diameter.strip():
        head = _looked_up(step, screws.flat_head if step.seat == "countersink" else screws.socket_head)
    seat = head.diameter / 2 if head else shop.value(step.seat_diameter, "Seat diameter") / 2
    half = depth = 0.0
    if step.seat in ("countersink", "counterdrill"):
        found = head.angle if head else None
        half = (found or shop.value(step.seat_angle, "Seat angle", "angle")) / 2
        if not 0 < half < math.pi / 2:
            raise StepFailure(f"A seat of {math.degrees(2 * half):g}° cannot be: it must lie between 0 and 180°.")
    if step.seat != "countersink":
        tabled = head.depth if head and not step.seat_depth.strip() else None
        depth = tabled or shop.value(step.seat_depth, "Seat depth")
    return seat, depth, half


def read_stages(text: str) -> list[tuple[str, str]]:
    """``Ø12 x 5, Ø9 x 14`` as (diameter, depth) formulas. Raises StepFailure."""
    found = []
    for part in re.split(r"[;,]\s+|[;,]$", text.strip()):
        if not part.strip():
            continue
        halves = re.split(r"\s+[xX×]\s+", part.strip())
        if len(halves) != 2:
            raise StepFailure(
                f"“{part.strip()}” is no step of a hole. Write diameter x depth, as in “Ø12 x 5, Ø9 x 14”."
            )
        found.append((halves[0].lstrip("Øø⌀ "), halves[1]))
    return found


def _stages(step: Hole, shop: Workshop, radius: float, length: float, points: Points, names: list[str]) -> None:
    """The wider parts of a stepped hole, widest first."""
    wide, deep = math.inf, points[-1][1]
    for number, (diameter, depth) in enumerate(read_stages(step.stages), 1):
        r, to = shop.value(diameter, f"Step {number} Ø") / 2, shop.value(depth, f"Step {number} depth")
        if not radius < r < wide or not deep < to < length:
            raise StepFailure(
                f"Step {number} of the hole (Ø{said(2 * r)} to {said(to)} deep) must be narrower and deeper than the "
                f"one before, wider than Ø{said(2 * radius)} and less deep than {said(length)}."
            )
        if number == 1 and len(points) > 1:
            points[-1] = (r, points[-1][1])
        else:
            points.append((r, deep))
            if number > 1:
                names.append(f"ledge{number - 1}")
        points.append((r, to))
        names.append(f"stage{number}")
        wide, deep = r, to
    if step.stages.strip():
        names.append("ledge")
        points.append((radius, deep))
