"""The operation sheet in words and figures, the same in the window, on paper and in a table."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from ...cells import plain
from ...quantity import Style
from ...units import UNITS
from .cautions import GENERAL
from .checking import Check
from .worked import Line, WorkedSetUp

HEADS = (
    "set-up", "what", "text", "tool", "in the crib", "callouts", "turns a minute", "feed a turn", "minutes",
    "lower", "upper", "instrument", "remark",
)  # fmt: skip


class Told(NamedTuple):
    """One operation as it is told; what does not apply is empty."""

    words: str
    tool: str
    callouts: str
    turns: str
    feed: str
    minutes: str
    remark: str


def told(line: Line, style: Style) -> Told:
    o, pace = line.operation, line.pace
    tool = o.tool.name if o.tool is not None else ""
    turns = f"{_round(pace.turns)}{' (the machine’s highest)' if pace.is_capped else ''}" if pace.turns else ""
    feed = f"{pace.feed / UNITS[style.unit]:.3g}" if pace.feed else ""
    why = o.tool.why if o.tool is not None and "bends" in o.tool.why else ""
    remark = "; ".join(filter(None, (line.trouble, "not in the crib" if line.lacks else "", why)))
    numbers = ", ".join(map(str, o.callouts))
    return Told(o.words, tool, numbers, turns, feed, minutes(pace.minutes), remark)


def _round(turns: float) -> str:
    """As a spindle can be set: two figures."""
    step = 10 ** max(0, math.floor(math.log10(turns)) - 1) if turns >= 1 else 1
    return f"{round(turns / step) * step:.0f}"


def minutes(value: float | None) -> str:
    return "" if value is None else f"{value:.1f}"


def limits(check: Check, style: Style) -> tuple[str, str]:
    """Lower and upper limit in the job's unit; angles in degrees. A thread's are in its gauge."""
    sized = check.sized
    if sized.kind == "thread":
        return "GO", "NOT GO"
    if sized.kind == "angle":
        return f"{math.degrees(sized.lower):.3f}°", f"{math.degrees(sized.upper):.3f}°"
    if sized.kind in ("finish", "ratio"):
        return f"{sized.lower:g}", f"{sized.upper:g}"
    return style.fixed(sized.lower), style.fixed(sized.upper)


def what(check: Check, again: bool = False) -> str:
    """Which figure of a callout: its note, and the characteristic where it is not the main one; ``again`` tells that
    the note stands in the line above.
    """
    key = check.sized.key.replace("_", " ")
    if again:
        return key or check.sized.kind
    return f"{check.sized.note}{f', {key}' if key else ''}"


def with_what(check: Check) -> str:
    rough = ", with care: tight limits" if check.measure.is_rough else ""
    return f"{check.measure.instrument}{rough}"


def to_csv(setups: Sequence[WorkedSetUp], style: Style) -> str:
    """One line an operation, a size to measure, an edge to deburr and a caution; feeds and limits in the job's unit."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(HEADS)
    for at, setup in enumerate(setups, 1):
        for row in _rows(setup, style):
            rows.writerow([at, *map(plain, row)])
    rows.writerow(["", "caution", GENERAL, *[""] * (len(HEADS) - 3)])
    return out.getvalue()


def _rows(setup: WorkedSetUp, style: Style) -> Iterator[tuple[str, ...]]:
    blank = ("",) * 9
    rest = f"{setup.minutes:.1f}"
    yield ("set-up", setup.title, "", "", "", "", "", rest, "", "", "", setup.setup.note)
    for line in setup.lines:
        t = told(line, style)
        has = "" if line.operation.tool is None else "no" if line.lacks else "yes"
        yield ("operation", t.words, t.tool, has, t.callouts, t.turns, t.feed, t.minutes, "", "", "", t.remark)
    for burr in setup.burrs:
        yield ("deburr", burr, *blank, "")
    for check in setup.checks:
        low, high = limits(check, style)
        number = str(check.sized.number)
        yield ("measure", what(check), "", "", number, "", "", "", low, high, with_what(check), check.chain)
    for caution in setup.cautions:
        yield ("caution", caution, *blank, "")
