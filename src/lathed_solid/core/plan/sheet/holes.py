"""What is drilled: the cuts of every step that makes holes, by its callouts where it has them, else by its faces."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...kernel.ground.figures import Surface, Vector
from ...kernel.ground.geometry import cross, dot, minus, norm
from ...tolerance import LEVEL
from ..tooling import REAMED, Tool, tools_of_note
from .approach import common_ways
from .model import Machine
from .work import Built, Kind, Made, Operation, way_key

_KINDS: dict[str, Kind] = {
    "drill": "drill", "tap": "tap", "reamer": "ream", "counterbore": "counterbore", "countersink": "countersink",
    "turn": "bore", "mill": "bore",
}  # fmt: skip


def drilling(
    built: Built, step: Made, faces: Sequence[Surface], spindle: tuple[Vector, Vector] | None
) -> list[Operation]:
    """The operations of one step whose faces are holes; on the spindle's axis they are done in the lathe."""
    round_ = [s for s in faces if s.kind in ("cylinder", "cone") and s.hollow]
    if not round_:
        return []
    machine: Machine = "lathe" if spindle is not None and all(_lies_on(s, *spindle) for s in round_) else "mill"
    found: list[Operation] = []
    for way, group in _by_axis(round_, faces).items():
        along = tuple(w for w in common_ways(group) if abs(dot(w, group[0].axis)) > 1 - LEVEL)
        ways = _outward(along, group, built)
        key = step.id if not found else f"{step.id}:{way}"
        found += _cuts(built, key, group, ways, machine)
    return found


def _by_axis(round_: Sequence[Surface], faces: Sequence[Surface]) -> dict[str, list[Surface]]:
    """Holes that run along each other; flat floors go with the axis they are square to."""
    by: dict[str, list[Surface]] = {}
    for s in (*round_, *(s for s in faces if s not in round_)):
        way = s.axis if next((c > 0 for c in s.axis if abs(c) > LEVEL), True) else _back(s.axis)
        by.setdefault(way_key(way), []).append(s)
    return {k: v for k, v in by.items() if any(s in round_ for s in v)}


def _outward(ways: tuple[Vector, ...], group: Sequence[Surface], built: Built) -> tuple[Vector, ...]:
    """From the side of the part that the holes lie on, first."""
    size = len(group)
    off = [sum(s.center[k] for s in group) / size - (built.low[k] + built.high[k]) / 2 for k in range(3)]
    return tuple(sorted(ways, key=lambda w: -round(dot((off[0], off[1], off[2]), w), 6)))


def _back(way: Vector) -> Vector:
    return (-way[0] + 0.0, -way[1] + 0.0, -way[2] + 0.0)


def _lies_on(s: Surface, foot: Vector, way: Vector) -> bool:
    return abs(dot(s.axis, way)) > 1 - LEVEL and norm(cross(minus(s.origin, foot), way)) < 1e-4


def _count(faces: Sequence[Surface]) -> int:
    """Axes, not pieces: a hole through a hollow part is one."""
    feet = set()
    for s in faces:
        if s.kind == "cylinder" and s.hollow:
            foot = cross(s.axis, cross(s.origin, s.axis))
            feet.add(tuple(round(c, 4) + 0.0 for c in foot))
    return max(1, len(feet))


def _cuts(
    built: Built, key: str, group: Sequence[Surface], ways: tuple[Vector, ...], machine: Machine
) -> Iterator[Operation]:
    faces, count = tuple(s.index for s in group), _count(group)
    deep = max((abs(s.span[1] - s.span[0]) for s in group if s.kind == "cylinder"), default=0.0)
    tools = _stated(built, faces) or _read_off(built, group)
    if any(t.kind == "drill" for t in tools):
        yield _centred(key, faces, count, ways, machine)
    sunk = any(t.kind == "countersink" for t in tools)
    through = len(ways) > 1 or _says_through(built, faces)
    for at, tool in enumerate(tools):
        kind = _KINDS[tool.kind]
        depth = tool.depth or (deep if kind == "drill" and not through else 0.0)
        yield Operation(
            f"{key}:{kind}:{at}", kind, machine, _words(built, kind, tool, count, depth), faces, ways, tool, count,
            tool.callouts, (depth or deep) + 0.3 * tool.diameter, tool.diameter, burr=_burr(kind, through, sunk),
        )  # fmt: skip


def _says_through(built: Built, faces: Sequence[int]) -> bool:
    own, ledger = set(faces), built.ledger
    numbers = {s.number for s in built.sized if own.intersection(s.faces)} & set(ledger.callouts)
    return any(ledger.error(n) is None and ledger.reading(n).thru for n in numbers)


def _words(built: Built, kind: Kind, tool: Tool, count: int, depth: float) -> str:
    what = tool.name.partition(" ")[2]
    if kind == "bore":
        what = f"Ø{built.style.length(tool.diameter)}"
    if kind == "countersink":
        what = f"{what} {tool.why}".strip()
    many = f"{count}x " if count > 1 else ""
    deep = f", {built.style.length(depth)} deep" if depth else ""
    return f"{kind} {many}{what}{deep}"


def _burr(kind: Kind, through: bool, sunk: bool) -> str:
    """What a cut leaves sharp; a mouth that is sunk after is not."""
    if kind in ("drill", "bore"):
        return ("the far side" if sunk else "both mouths") if through else ("" if sunk else "its mouth")
    return {"tap": "" if sunk else "the first turn", "counterbore": "its rim"}.get(kind, "")


def _centred(key: str, faces: tuple[int, ...], count: int, ways: tuple[Vector, ...], machine: Machine) -> Operation:
    words = f"centre {count} places" if count > 1 else "centre"
    tool = Tool("drill", "centre drill", 3.0, 3.0, (), "so that the drill does not wander")
    return Operation(f"{key}:centre", "centre", machine, words, faces, ways, tool, count, (), 3.0, 3.0)


def _stated(built: Built, faces: Sequence[int]) -> list[Tool]:
    """What the callouts measured on these faces ask for, each tool once."""
    found: dict[str, Tool] = {}
    own = set(faces)
    for number in sorted({s.number for s in built.sized if own.intersection(s.faces)}):
        if number not in built.ledger.callouts or built.ledger.error(number) is not None:
            continue
        for tool in tools_of_note(built.ledger.reading(number), number, built.style):
            old = found.get(tool.name)
            numbers = tuple(dict.fromkeys((*old.callouts, number))) if old is not None else (number,)
            found[tool.name] = tool._replace(callouts=numbers)
    order = list(_KINDS)
    return sorted(found.values(), key=lambda t: (order.index(t.kind), t.diameter))


def _read_off(built: Built, group: Sequence[Surface]) -> list[Tool]:
    """Without a callout: the narrowest bore is drilled, wider ones are seats, cones that open are sunk."""
    style, found = built.style, []
    bores = sorted({round(2 * s.radius, 6) for s in group if s.kind == "cylinder" and s.hollow})
    thread = next((t for t in built.threads if t.internal and t.face in {s.index for s in group}), None)
    for at, size in enumerate(bores):
        if size > REAMED:
            found.append(Tool("turn", "boring bar", size, 0.0, (), "too large to be drilled"))
        elif at:
            found.append(Tool("counterbore", f"counterbore Ø{style.length(size)}", size, 0.0, (), "its seat"))
        else:
            found.append(Tool("drill", f"drill Ø{style.length(size)}", size, 0.0, (), "the hole itself"))
    if thread is not None:
        plain = thread.thread.designation.partition(" - ")[0]
        found.append(Tool("tap", f"tap {plain}", thread.thread.diameter, thread.length, (), "by hand or in step"))
    return found
