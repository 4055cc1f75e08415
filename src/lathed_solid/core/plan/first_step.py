"""The chosen blank as the first step of a route, its sizes written so that they follow the allowances."""

from __future__ import annotations

import math
from typing import Any

from ..kernel.ground.geometry import Frame, turned_in_plane
from ..route.steps.stock import Section
from ..units import UNITS
from .blank import Blank
from .choosing import AXES, Way
from .finished import Finished

_SECTIONS: dict[str, Section] = {
    "round": "round", "hexagon": "hexagon", "square": "square", "flat": "block", "tube": "tube", "plate": "block",
}  # fmt: skip


def stock_fields(way: Way, part: Finished, blank: Blank, unit: str) -> dict[str, Any]:
    """The fields of a :class:`Stock` step for a way, numbers in the drawing's unit. What is a formula of the blank
    stays one: the length follows its allowances and the callouts they name.
    """
    axis = way.along
    section, sides = section_of(way)
    length = _number(way.length, unit)
    start = _number(way.start, unit)
    if way.form not in ("plate", "cast"):
        typed = (blank.x, blank.y, blank.z)[axis] if part.words == "as typed" else ""
        held = "" if blank.from_bar else f" + ({blank.allowances.chucking})"
        bare = typed or _number(part.envelope.size[axis], unit)
        length = f"({bare}) + 2*({blank.allowances.facing}){held}"
        start = f"{_number(part.envelope.low[axis], unit)} - ({blank.allowances.facing})"
    return {
        "section": section,
        "a": _number(sides[0], unit),
        "b": _number(sides[1], unit) if len(sides) > 1 else "",
        "along": AXES[axis],
        "length": length,
        "start": start,
        "u": _number(way.lie.at[0], unit),
        "v": _number(way.lie.at[1], unit),
        "turn": f"{math.degrees(way.lie.turn):.9g}°",
    }


def section_of(way: Way) -> tuple[Section, tuple[float, ...]]:
    """The section of a way and its sizes, as the step takes them."""
    if way.form == "cast":
        u, v = way.across
        if not way.is_turned:
            return "block", (u, v)
        return ("tube", (u, (u - v) / 2)) if v else ("round", (u,))
    return _SECTIONS[way.form], way.across


def place_of(way: Way) -> Frame:
    """Where the blank begins in the part: its section lies across the frame, its length along the normal."""
    origin, ways = [0.0, 0.0, 0.0], ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    k = way.along
    origin[k], origin[(k + 1) % 3], origin[(k + 2) % 3] = way.start, *way.lie.at
    frame = Frame((origin[0], origin[1], origin[2]), ways[(k + 1) % 3], ways[(k + 2) % 3])
    return turned_in_plane(frame, way.lie.turn)


def _number(value: float, unit: str) -> str:
    text = f"{value / UNITS[unit]:.9g}"
    return "0" if text == "-0" else text
