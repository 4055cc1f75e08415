"""Row and grid pattern: what other steps cut or added, repeated along one or two main directions."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from ...formulas import Formula
from ...names import refers
from ..copying import REPEATS, Repeating, copied_claims, names_of, stated_count
from ..gauges import Apart, Claim, claim
from ..kinds import RouteView, StepKind
from ..model import Param

Direction = Literal["x", "y", "z"]


class Row(Repeating, frozen=True, kw_only=True, tag="row"):
    """Counts include the first one. A negative pitch goes the other way; ``count2`` of 1 is a plain row.

    The pitch is from one to the next, or by ``total`` from the first to the last; ``sides`` spreads the copies to both
    sides of the original. ``skip`` lists instances left out, as ``2`` in a row and ``2/1`` in a grid,
    both counted from 1.
    """

    count: Formula = ""
    pitch: Formula = ""
    along: Direction = "x"
    count2: Formula = "1"
    pitch2: Formula = ""
    across: Direction = "y"
    skip: str = ""
    by: Literal["pitch", "total"] = "pitch"
    sides: Literal["one", "both"] = "one"


def _instances(count: int, count2: int, skip: str) -> dict[str, tuple[int, int]]:
    """Copies by key (``i`` or ``i/j``, from 1), the first one and those left out not among them."""
    left_out = {s if "/" in s else f"{s}/1" for s in skip.replace(",", " ").split()}
    found = {}
    for j in range(count2):
        for i in range(count):
            if (i or j) and f"{i + 1}/{j + 1}" not in left_out:
                found[f"{i + 1}.{j + 1}" if count2 > 1 else str(i + 1)] = (i, j)
    return found


def claims(step: Row, view: RouteView) -> list[Claim]:
    count, count2 = stated_count(step.count, view), max(1, stated_count(step.count2 or "1", view))
    keys = _instances(count, count2, step.skip)
    plain = count2 == 1 and not step.skip.strip()
    found = copied_claims(step, list(keys), step.count if plain else "", view)
    if step.sides == "one":
        far = (count - 1, count2 - 1) if step.by == "total" else (1, 1)
        found += _pitches(step, step.pitch, step.along, keys, (far[0], 0), view)
        found += _pitches(step, step.pitch2, step.across, keys, (0, far[1]), view)
    return found


def _pitches(
    step: Row, text: str, way: Direction, keys: Mapping[str, tuple[int, int]], apart: tuple[int, int], view: RouteView
) -> list[Claim]:
    """A pitch is how far each one stands from the one ``apart`` before it: felt on any face of theirs that shows it."""
    tags = {(0, 0): ""} | {at: f"{step.id}/{key}/" for key, at in keys.items()}
    pairs = [(tags.get((i - apart[0], j - apart[1])), tag) for (i, j), tag in tags.items()]
    if not refers(text):
        return []
    found: list[Claim] = []
    for source in (s for s in step.of if s in view.steps):
        made = view.kind_of(view.steps[source]).claims(view.steps[source], view)
        faces = dict.fromkeys(f for c in made for f in c.faces() if f.startswith(f"{source}/"))
        shown = [f for f in faces if not f.endswith(("/from", "/frame", "/base"))]
        for before, tag in pairs:
            gauges = [Apart(before + f, tag + f, way) for f in shown if before is not None and before != tag]
            if gauges:
                found += claim(text, gauges[0], or_else=tuple(gauges[1:]))
    return found


def summary(step: Row, view: RouteView) -> str:
    second = "" if step.count2.strip() in ("", "1") else f" × {view.text(step.count2, 'number')}"
    return f"{view.text(step.count, 'number')}{second} × {names_of(step.of, view)}"


_DIRECTIONS = (("x", "X"), ("y", "Y"), ("z", "Z, the turning axis"))
KIND = StepKind(
    Row,
    "Row or grid",
    "row",
    (
        *REPEATS,
        Param("count", "Count", "number", help="With the first one."),
        Param("by", "Told by", "choice", (("pitch", "the pitch"), ("total", "first to last")), more=True),
        Param("sides", "Copies go", "choice", (("one", "one way"), ("both", "both ways")), more=True),
        Param("pitch", "Pitch", "length", help="Negative: the other way."),
        Param("along", "Along", "choice", _DIRECTIONS),
        Param("count2", "Rows", "number", help="1 for a single row.", more=True),
        Param("pitch2", "Row pitch", "length", help="Only for more than one row.", more=True),
        Param("across", "Rows go along", "choice", _DIRECTIONS, more=True),
        Param("skip", "Leave out", "text", help="Instances left out, as 2 or, in a grid, 2/1.", more=True),
    ),
    claims,
    summary,
    repeatable=True,
)
