"""Set-ups: the fewest holdings that reach everything, what stands in them, and what a set-up cannot reach."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import msgspec

from ...kernel.ground.figures import Surface, Vector
from ...kernel.ground.geometry import dot
from ...tolerance import LEVEL
from .approach import LEVEL_WAYS, is_same
from .finding import operations
from .model import OperationSheet, SetUp
from .work import ORDER, Built, Operation

_NEAR = 1e-4


class Placed(NamedTuple):
    """A set-up with its operations in order, and the face it seats on (None when the part has none there)."""

    setup: SetUp
    operations: tuple[Operation, ...]
    seat: Surface | None


def proposed(found: Sequence[Operation], built: Built) -> OperationSheet:
    """Squaring up, then the lathe's ends, then the ways a cutter comes from, each once."""
    setups: list[SetUp] = []

    def add(holding: str, up: Vector, keys: Sequence[str]) -> None:
        setups.append(
            msgspec.convert(
                {"id": f"u{len(setups) + 1}", "holding": holding, "up": up, "operations": tuple(keys)}, SetUp
            )
        )

    lathe = [o for o in found if o.machine == "lathe"]
    mill = [o for o in found if o.machine == "mill"]
    if square := [o.key for o in mill if o.kind == "square"]:
        add("vise", LEVEL_WAYS[0], square)
    for way, taken in _by_way(lathe):
        add("chuck", way, [o.key for o in taken])
    for way, taken in _by_way([o for o in mill if o.kind != "square"]):
        add("dividing" if built.turned else "vise", way, [o.key for o in taken])
    return OperationSheet(setups=tuple(setups))


def _by_way(found: Sequence[Operation]) -> list[tuple[Vector, list[Operation]]]:
    """The way that reaches most first; what can be reached from there is done there."""
    groups: list[tuple[Vector, list[Operation]]] = []
    left = list(found)
    while left:
        ways = [w for o in left for w in o.ways] or [LEVEL_WAYS[0]]
        best = max(_once(ways), key=lambda w: _worth(left, w))
        taken = [o for o in left if fits(o, best)] or left
        groups.append((best, taken))
        left = [o for o in left if o not in taken]
    return groups


def _worth(left: Sequence[Operation], way: Vector) -> tuple[int, int]:
    """How many faces are reached so, and how many operations would rather be."""
    reached = [o for o in left if fits(o, way)]
    return sum(len(o.faces) or 1 for o in reached), sum(bool(o.ways) and is_same(o.ways[0], way) for o in reached)


def _once(ways: Sequence[Vector]) -> list[Vector]:
    order = [w for w in LEVEL_WAYS if any(is_same(w, v) for v in ways)]
    for way in ways:
        if not any(is_same(way, other) for other in order):
            order.append(way)
    return order


def fits(operation: Operation, up: Vector) -> bool:
    """Whether a tool that comes from ``up`` can do it."""
    return not operation.ways or any(is_same(w, up) for w in operation.ways)


def placed(sheet: OperationSheet, found: Sequence[Operation], built: Built) -> tuple[Placed, ...]:
    """The sheet as it stands; operations it does not name yet go where the proposal would have them."""
    if not sheet.setups:
        sheet = proposed(found, built)
    by = {o.key: o for o in found}
    named = {key for setup in sheet.setups for key in setup.operations}
    lists = {s.id: [by[k] for k in s.operations if k in by] for s in sheet.setups}
    for operation in found:
        if operation.key not in named:
            _insert(lists[_home(operation, sheet.setups)], operation)
    return tuple(Placed(s, tuple(lists[s.id]), seat_of(s, built)) for s in sheet.setups)


def complete(sheet: OperationSheet, built: Built) -> OperationSheet:
    """Every operation written where it stands now, so that what is moved later moves alone."""
    lists = {p.setup.id: tuple(o.key for o in p.operations) for p in placed(sheet, operations(built), built)}
    setups = (msgspec.structs.replace(s, operations=lists[s.id]) for s in sheet.setups)
    return OperationSheet(setups=tuple(setups))


def _home(operation: Operation, setups: Sequence[SetUp]) -> str:
    own = [s for s in setups if s.machine == operation.machine]
    reached = [s for s in own if fits(operation, s.up)]
    return (reached or own or list(setups))[0].id


def _insert(into: list[Operation], operation: Operation) -> None:
    """Before the first that comes later in the trade's order."""
    rank = ORDER.index(operation.kind)
    at = next((k for k, o in enumerate(into) if ORDER.index(o.kind) > rank), len(into))
    into.insert(at, operation)


def seat_of(setup: SetUp, built: Built) -> Surface | None:
    """The flat face that bounds the part on the side away from the tool, the largest one; None where it is round."""
    flat = [s for s in built.surfaces if s.kind == "plane" and dot(s.axis, setup.up) < -1 + LEVEL]
    low = sum(min(a * u, b * u) for a, b, u in zip(built.low, built.high, setup.up, strict=True))
    return max((s for s in flat if dot(s.origin, setup.up) < low + _NEAR), key=lambda s: s.area, default=None)


# --- edits
def moved(sheet: OperationSheet, keys: Sequence[str], to: str, at: int = -1) -> OperationSheet:
    """Operations taken into a set-up, at a place among the others (-1: the end)."""
    setups = []
    for setup in sheet.setups:
        rest = [k for k in setup.operations if k not in keys]
        if setup.id == to:
            before = setup.operations[:at] if at >= 0 else setup.operations
            place = len([k for k in before if k not in keys])
            rest[place:place] = list(keys)
        setups.append(msgspec.structs.replace(setup, operations=tuple(rest)))
    return OperationSheet(setups=tuple(setups))


def changed(sheet: OperationSheet, id_: str, **fields: object) -> OperationSheet:
    """A set-up with other fields."""
    return OperationSheet(
        setups=tuple(msgspec.structs.replace(s, **fields) if s.id == id_ else s for s in sheet.setups)
    )


def added(sheet: OperationSheet, after: str, up: Vector) -> tuple[OperationSheet, str]:
    """An empty set-up after another, held as that is; its id."""
    numbers = [int(s.id[1:]) for s in sheet.setups if s.id[1:].isdigit()]
    id_ = f"u{max(numbers, default=0) + 1}"
    at = next((k for k, s in enumerate(sheet.setups) if s.id == after), len(sheet.setups) - 1)
    like = sheet.setups[at].holding if sheet.setups else "vise"
    setups = list(sheet.setups)
    setups.insert(at + 1, SetUp(id=id_, holding=like, up=up))
    return OperationSheet(setups=tuple(setups)), id_


def removed(sheet: OperationSheet, id_: str) -> OperationSheet:
    """Without a set-up; its operations go to the one before it, or the next."""
    at = next(k for k, s in enumerate(sheet.setups) if s.id == id_)
    rest = [s for s in sheet.setups if s.id != id_]
    if rest:
        to = max(0, at - 1)
        rest[to] = msgspec.structs.replace(rest[to], operations=rest[to].operations + sheet.setups[at].operations)
    return OperationSheet(setups=tuple(rest))


def shifted(sheet: OperationSheet, id_: str, by: int) -> OperationSheet:
    """A set-up earlier (-1) or later (1)."""
    setups = list(sheet.setups)
    at = next(k for k, s in enumerate(setups) if s.id == id_)
    to = min(max(at + by, 0), len(setups) - 1)
    setups.insert(to, setups.pop(at))
    return OperationSheet(setups=tuple(setups))
