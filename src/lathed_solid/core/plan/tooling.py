"""The tools that the stated sizes ask for, and the spindle speeds to begin with."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import Literal, NamedTuple

from ..callout import Ledger
from ..callout.model import Reading
from ..kernel.ground.figures import Surface
from ..kernel.ground.geometry import dot
from ..quantity import Style
from ..standards.drills import thread_percent
from ..standards.speeds import SHARE, ToolMaterial, cutting_speed, spindle
from ..tolerance import LEVEL
from .spindle import is_groove, spindle_of
from .zero import Standing

Kind = Literal["drill", "tap", "reamer", "counterbore", "countersink", "mill", "turn"]
#: In which order tools are used.
_ORDER: tuple[Kind, ...] = ("turn", "mill", "drill", "tap", "reamer", "counterbore", "countersink")
#: Reamed holes up to this, mm; larger ones are bored.
REAMED = 32.0
#: What a reamer leaves to be cut, mm on the diameter, by the hole's: up to 5, 10, 20 and on.
_LEFT = ((5.0, 0.1), (10.0, 0.2), (20.0, 0.25), (math.inf, 0.3))


class Tool(NamedTuple):
    """``name`` as it is asked for over the counter; ``diameter`` is what runs (mm), ``depth`` how far it goes (mm, 0
    when through or not known), ``callouts`` ask for it, ``why`` says what for.
    """

    kind: Kind
    name: str
    diameter: float
    depth: float
    callouts: tuple[int, ...]
    why: str


def tools(
    ledger: Ledger, surfaces: Sequence[Surface], machine: Standing, style: Style, turned: bool
) -> tuple[Tool, ...]:
    """Each tool once, with all callouts that ask for it, in the order in which they are used."""
    found: dict[str, Tool] = {}
    for number in ledger.callouts:
        if ledger.error(number) is not None:
            continue
        for tool in tools_of_note(ledger.reading(number), number, style):
            old = found.get(tool.name)
            deep = max(tool.depth, old.depth) if old is not None else tool.depth
            numbers = (*old.callouts, number) if old is not None else (number,)
            found[tool.name] = tool._replace(callouts=numbers, depth=deep)
    if turned:
        found |= {t.name: t for t in (*_lathe(ledger), *_grooved(surfaces, style))}
    else:
        found |= {t.name: t for t in _mills(surfaces, machine, style)}
    return tuple(sorted(found.values(), key=lambda t: (_ORDER.index(t.kind), t.diameter)))


def tools_of_note(note: Reading, number: int, style: Style) -> Iterator[Tool]:
    def drill(size: float, why: str, key: str) -> Tool:
        depth = note.known(key)
        deep = depth.nominal if depth is not None else 0.0
        return Tool("drill", f"drill Ø{style.length(size)}", size, deep, (number,), why)

    drilled = note.known("drill")
    if note.thread is not None and drilled is not None:
        share = thread_percent(note.thread, drilled.nominal)
        yield drill(drilled.nominal, f"for {note.thread.designation}: {share:.0f} % of the thread", "drill_depth")
        depth = note.known("depth")
        deep = depth.nominal if depth is not None else 0.0
        name = f"tap {note.thread.designation.partition(' - ')[0]}"
        yield Tool(
            "tap", name, note.thread.diameter, deep, (number,), "by hand, or where the machine follows the pitch"
        )
    elif note.is_hole and note.shape == "diameter":
        yield from _hole(note, number, style, drill)
    yield from _seat(note, number, style)


def _hole(note: Reading, number: int, style: Style, drill: Callable[[float, str, str], Tool]) -> Iterator[Tool]:
    size = note.main.nominal
    if not note.fit:
        if size <= REAMED:
            yield drill(size, "the hole itself", "depth")
        else:
            yield Tool("turn", "boring bar", size, 0.0, (number,), f"Ø{style.length(size)} is too large to be drilled")
        return
    left = next(more for most, more in _LEFT if size <= most)
    yield drill(size - left, f"leaves {style.length(left)} for the fit", "depth")
    if size <= REAMED:
        yield Tool("reamer", f"reamer Ø{style.length(size)} {note.fit}", size, 0.0, (number,), "brings the fit")
    else:
        yield Tool("turn", "boring bar", size, 0.0, (number,), f"Ø{style.length(size)} {note.fit} is bored: no reamer")


def _seat(note: Reading, number: int, style: Style) -> Iterator[Tool]:
    seat = note.known("seat")
    if seat is None or not note.seat:
        return
    if note.seat == "countersink":
        angle = note.known("seat_angle")
        turn = f" {math.degrees(angle.nominal):.4g}°" if angle is not None else ""
        size = seat.nominal
        yield Tool("countersink", f"countersink{turn}", size, 0.0, (number,), f"to Ø{style.length(size)}")
    else:
        deep = note.known("seat_depth")
        depth = deep.nominal if deep is not None else 0.0
        name = f"counterbore Ø{style.length(seat.nominal)}"
        yield Tool("counterbore", name, seat.nominal, depth, (number,), f"the {note.seat}")


def _lathe(ledger: Ledger) -> Iterator[Tool]:
    """What the outside asks for: a tool for the diameters, one for each external thread."""
    outer, largest = [], 0.0
    for number in ledger.callouts:
        if ledger.error(number) is not None:
            continue
        note = ledger.reading(number)
        if note.shape == "diameter" and not note.is_hole:
            outer.append(number)
            largest = max(largest, note.main.nominal)
        if note.thread is not None and note.known("drill") is None:
            name = f"threading tool, pitch {note.thread.pitch:.4g} mm"
            yield Tool("turn", name, note.thread.diameter, 0.0, (number,), f"for {note.thread.designation}, or a die")
    if outer:
        yield Tool("turn", "turning tool", largest, 0.0, tuple(outer), "diameters and faces; speed for the largest")


def grooving(width: float, style: Style) -> str:
    """The tool for a neck (mm wide), as it is asked for."""
    return f"grooving tool, {style.length(width)} wide or less"


def _grooved(surfaces: Sequence[Surface], style: Style) -> Iterator[Tool]:
    """One tool for all necks: as wide as the narrowest."""
    spindle = spindle_of(surfaces)
    necks = [f for f in spindle.outside if is_groove(f, spindle)] if spindle is not None else []
    if necks:
        many = f"{len(necks)} necks" if len(necks) > 1 else "the neck"
        across = 2 * max(f.most for f in necks)
        yield Tool("turn", grooving(min(f.length for f in necks), style), across, 0.0, (), f"{many} of the solid")


def _mills(surfaces: Sequence[Surface], machine: Standing, style: Style) -> Iterator[Tool]:
    """The largest cutter that goes into the tightest inside corner along Z, and how deep it must reach."""
    up = machine.frame.normal
    corners = [
        s for s in surfaces
        if s.kind == "cylinder" and s.hollow and s.turn < 1.9 * math.pi and abs(dot(s.axis, up)) > 1 - LEVEL
    ]  # fmt: skip
    if not corners:
        return
    tightest = min(s.radius for s in corners)
    deep = max(abs(s.span[1] - s.span[0]) for s in corners if s.radius < tightest + 1e-6)
    why = f"inside corners R{style.length(tightest)}, {style.length(deep)} deep"
    if deep > 6 * tightest:
        why += "; that is more than three diameters: it bends, take light cuts"
    yield Tool("mill", f"end mill Ø{style.length(2 * tightest)} or less", 2 * tightest, deep, (), why)


class Running(NamedTuple):
    """Revolutions a minute, and whether the machine's own highest speed has set them."""

    turns: float
    is_capped: bool


def running(tool: Tool, material: str, of: ToolMaterial, top: float) -> Running | None:
    """The speed to begin with; None for a material that is not in the table, and for taps: those are led by hand, or as
    the machine's own makers say. ``top`` is the machine's highest (0: not known). Reamers and seats are of high-speed
    steel.
    """
    speed = cutting_speed(material, "hss" if tool.kind in ("reamer", "countersink", "counterbore") else of)
    if speed is None or tool.diameter <= 0 or tool.kind == "tap":
        return None
    turns = spindle(speed * SHARE[tool.kind], tool.diameter)
    return Running(min(turns, top), turns > top) if top > 0 else Running(turns, False)
