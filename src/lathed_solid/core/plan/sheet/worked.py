"""The operation sheet worked out: each set-up with its operations, their pace, what to measure and what to mind."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from ...kernel.ground.figures import Surface, Vector
from ...kernel.ground.geometry import dot
from ...standards.speeds import ToolMaterial
from ...tolerance import LEVEL
from ..shop import Shop
from ..spindle import spindle_of
from ..zero import Standing
from .cautions import cautions
from .checking import Check, checks
from .finding import operations
from .model import HOLDINGS, OperationSheet, SetUp
from .order import Placed, fits, placed
from .timing import Pace, pace
from .work import Built, Operation


class Line(NamedTuple):
    """``lacks`` tells that its tool is not in the crib, ``trouble`` why it cannot be done in this set-up."""

    operation: Operation
    pace: Pace
    lacks: bool = False
    trouble: str = ""


class WorkedSetUp(NamedTuple):
    """``minutes`` are of setting up, cutting and tool changes; ``unknown`` counts operations without a time."""

    setup: SetUp
    title: str
    lines: tuple[Line, ...]
    seat: Surface | None
    lost_seat: str
    checks: tuple[Check, ...]
    burrs: tuple[str, ...]
    cautions: tuple[str, ...]
    minutes: float
    unknown: int


class Terms(NamedTuple):
    """What the sheet is worked out with: where the part stands in the machine, its material, the drills' and cutters',
    and the shop's own tables. ``find`` finds a face by its name.
    """

    machine: Standing
    material: str
    of: ToolMaterial
    shop: Shop
    find: Callable[[str], Surface | None]


def worked(sheet: OperationSheet, built: Built, terms: Terms) -> tuple[WorkedSetUp, ...]:
    """The sheet as it stands, or as proposed while it has no set-ups."""
    stands = tuple(_seated(p, terms) for p in placed(sheet, operations(built), built))
    measured = checks([p for p, _ in stands], built)
    return tuple(_worked(p, lost, measured[at], built, terms) for at, (p, lost) in enumerate(stands))


def _seated(p: Placed, terms: Terms) -> tuple[Placed, str]:
    """On the face that was picked for it, where there is one; and what is wrong with that."""
    picked = p.setup.seat
    if picked is None:
        return p, ""
    face = terms.find(picked.name)
    if face is None:
        return p, f"The seat was {picked.was or picked.name}, which is not on the part any more. Pick another."
    return p._replace(seat=face), ""


def _worked(p: Placed, lost: str, measured: tuple[Check, ...], built: Built, terms: Terms) -> WorkedSetUp:
    top = terms.shop.top_speed
    lines = tuple(
        Line(o, pace(o, terms.material, terms.of, top, built.style), _lacks(o, terms.shop), trouble(o, p.setup, built))
        for o in p.operations
    )
    times = [line.pace.minutes for line in lines]
    burrs = tuple(f"{o.words}: {o.burr}" for o in p.operations if o.burr)
    return WorkedSetUp(
        p.setup, title(p.setup, built, terms.machine), lines, p.seat, lost, measured, burrs, tuple(cautions(p, built)),
        p.setup.minutes + sum(t for t in times if t is not None), sum(t is None for t in times),
    )  # fmt: skip


def _lacks(operation: Operation, shop: Shop) -> bool:
    """Whether the crib is kept at all and has not the tool."""
    return bool(shop.crib) and operation.tool is not None and operation.tool.name not in shop.crib


def trouble(operation: Operation, setup: SetUp, built: Built) -> str:
    """Why an operation cannot be done in a set-up; empty when it can."""
    if operation.machine == "lathe" and setup.machine == "mill" and operation.kind not in _EITHER:
        return "turned work, held where nothing turns it"
    if operation.machine == "mill" and setup.machine == "lathe" and operation.kind != "square":
        return "milled or drilled off the axis, held in the lathe"
    if not fits(operation, setup.up):
        ways = ", ".join(side(w, built, None) for w in operation.ways[:3])
        return f"not reached from here: the tool must come from {ways}"
    return ""


#: Work on the axis that a mill does as well.
_EITHER = ("centre", "drill", "ream", "tap", "counterbore", "countersink", "bore")
_SIDES = (("right side", "left side"), ("back", "front"), ("top", "bottom"))


def side(way: Vector, built: Built, machine: Standing | None) -> str:
    """The side of the part that looks a way, in words; the ends of a turned one are left and right."""
    if built.turned and (spindle := spindle_of(built.surfaces)) is not None and abs(dot(way, spindle.way)) > 1 - LEVEL:
        return "right end" if dot(way, spindle.way) > 0 else "left end"
    seen = machine.way(way) if machine is not None else way
    for k, (plus, minus) in enumerate(_SIDES):
        if abs(seen[k]) > 1 - LEVEL:
            return f"{'XYZ'[k]}{'+' if seen[k] > 0 else '-'}" if built.turned else plus if seen[k] > 0 else minus
    return "the leaning side"


def title(setup: SetUp, built: Built, machine: Standing) -> str:
    """``chuck, right end out``; the user's own name, where there is one."""
    if setup.name:
        return setup.name
    held, at = HOLDINGS[setup.holding]
    return f"{held}, {side(setup.up, built, machine)} {'out' if at == 'lathe' else 'up'}"


def whole_time(setups: Sequence[WorkedSetUp]) -> float:
    """Minutes for one part."""
    return sum(s.minutes for s in setups)
