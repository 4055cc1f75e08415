"""How fast an operation runs and how long it takes, as an estimate with its formula."""

from __future__ import annotations

import math
from typing import NamedTuple

from ...quantity import Style
from ...standards import feeds
from ...standards.speeds import ToolMaterial
from ...units import UNITS
from ..tooling import Tool, running
from .work import Operation

#: Teeth of an end mill; what of its diameter it takes sideways and down; what a tool change takes, minutes.
TEETH, SIDE, DOWN, CHANGE = 2, 0.5, 0.5, 0.5
#: By hand, minutes each: a thread tapped, an edge broken or formed, a number cut; a keyway broached.
_BY_HAND = {"tap": 1.0, "chamfer": 0.3, "round": 0.5, "engrave": 3.0, "keyway": 5.0, "knurl": 2.0}


class Pace(NamedTuple):
    """``turns`` a minute (0: led by hand, or not known), ``feed`` mm a turn (0 likewise); ``minutes`` of cutting and
    tool change, None when nothing tells them; ``how`` is the formula with its figures.
    """

    turns: float = 0.0
    is_capped: bool = False
    feed: float = 0.0
    minutes: float | None = None
    how: str = ""


def pace(operation: Operation, material: str, of: ToolMaterial, top: float, style: Style) -> Pace:
    """The speed, feed and time to begin with. ``top`` is the machine's highest speed (0: not known)."""
    tool = operation.tool
    run = running(_at(operation, tool), material, of, top) if tool is not None else None
    turns, capped = (run.turns, run.is_capped) if run is not None else (0.0, False)
    kind, many = operation.kind, operation.many
    if kind in _BY_HAND:
        each = _BY_HAND[kind]
        minutes = each * many + CHANGE
        return Pace(turns if kind != "tap" else 0.0, capped, 0.0, minutes, f"{many} x {each:g} min by hand")
    if tool is None or not turns:
        return Pace()
    if operation.pitch:
        return _threading(operation, turns, capped, style)
    if operation.machine == "mill" and tool.kind == "mill":
        return _milled(operation, tool, material, turns, capped, style)
    return _fed(operation, material, turns, capped, style)


def _at(operation: Operation, tool: Tool) -> Tool:
    """A thread is cut at a third of the speed, to be able to stop."""
    return tool._replace(diameter=3 * tool.diameter) if operation.pitch else tool


def _threading(operation: Operation, turns: float, capped: bool, style: Style) -> Pace:
    minutes = 2 * operation.length / (operation.pitch * turns) + CHANGE
    way, pitch = style.length(round(operation.length, 2)), style.length(operation.pitch)
    how = f"2 x {way} / ({pitch} x {turns:.0f}), there and back"
    return Pace(turns, capped, operation.pitch, minutes, how)


def _milled(operation: Operation, tool: Tool, material: str, turns: float, capped: bool, style: Style) -> Pace:
    step = feeds.tooth_feed(tool.diameter) * feeds.share(material) * TEETH
    if operation.chips:
        swept = SIDE * tool.diameter * DOWN * tool.diameter
        minutes = operation.chips / (swept * step * turns)
        how = f"{style.volume(operation.chips)} / ({SIDE:g}D x {DOWN:g}D x {_small(step, style)} x {turns:.0f})"
    else:
        minutes = operation.length / (step * turns)
        how = f"{style.length(round(operation.length, 2))} / ({_small(step, style)} x {turns:.0f})"
    return Pace(turns, capped, step, minutes + CHANGE, how)


def _fed(operation: Operation, material: str, turns: float, capped: bool, style: Style) -> Pace:
    kind = operation.kind
    if kind in ("drill", "centre", "ream", "counterbore", "countersink"):
        step = feeds.drill_feed(operation.across) * (2.0 if kind == "ream" else 0.5 if kind == "counterbore" else 1.0)
    else:
        step = feeds.feed(kind if kind in ("face", "taper", "bore", "groove", "part_off") else "turn")
    step *= feeds.share(material)
    way = operation.length * (
        operation.many if kind in ("drill", "centre", "ream", "counterbore", "countersink") else 1
    )
    way *= _pecks(operation)
    how = f"{style.length(round(way, 2))} / ({_small(step, style)} x {turns:.0f})"
    return Pace(turns, capped, step, way / (step * turns) + CHANGE, how)


def _small(feed: float, style: Style) -> str:
    """A feed (mm) to three figures in the job's unit."""
    return f"{feed / UNITS[style.unit]:.3g}"


def _pecks(operation: Operation) -> float:
    """A hole of more than three diameters is drilled in pecks: the way in is gone again for each."""
    if operation.kind != "drill" or operation.across <= 0:
        return 1.0
    return 1.0 + 0.5 * max(0.0, math.floor(operation.length / (3 * operation.across) - 1e-9))
