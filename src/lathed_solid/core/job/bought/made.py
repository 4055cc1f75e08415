"""A bought part made from its table: an ordinary job, with callouts, a route, and the standard it is by."""

from __future__ import annotations

import math
from collections.abc import Callable

from ...route.model import FaceRef
from ...route.steps.extrude import Extrude
from ...route.steps.polygon import Polygon
from ...route.steps.revolve import Revolve
from ...sketch.model import Plane, Station
from ...sketch.typed.commands import read_command
from ...standards.fasteners import CATALOGUE, Kind, figures
from ...standards.materials import material
from ...standards.threads import coarse_pitch
from .. import edits
from ..model import Content, Header
from ..settle import set_stations, settle

_AXIS = "on the axis"
#: A hexagon is cut from a blank so much larger than its corners.
_BLANK = 1.02


def bought(kind: Kind, size: str, length: float = 0.0) -> Content:
    """The job of a bought part; ``length`` mm where its kind has one. Raises NotTabled or Refusal."""
    what = CATALOGUE[kind]
    row = figures(kind, size)
    number = f"{what.source} {size}" + (f"x{length:g}" if what.has_length else "")
    header = Header(
        name=what.title,
        number=number,
        revision="",
        material=material("Carbon steel"),
        remarks=f"Made from the table of {what.source}. Sizes without limits are the nominal ones.",
    )
    return settle(_MAKERS[kind](Content(header=header), size, row, length)).content


def _callouts(content: Content, *notes: tuple[str, str]) -> Content:
    for note, label in notes:
        content, _ = edits.add_callout(content, note, label)
    return content


def _turned(content: Content, *stations: Station) -> Content:
    content, sketch = edits.add_sketch(content, "Turned profile", Plane("turning"))
    content, _ = edits.with_step(content, Revolve, name="Turn", sketch=sketch)
    return set_stations(content, sketch, stations)


def _cut(content: Content, name: str, on: str, command: str, depth: str) -> Content:
    """Something drawn on a face by a typed command, and cut in."""
    content, sketch = edits.add_sketch(content, name, Plane("face", on=on))
    ledger = content.ledger()
    own = content.sketch(sketch)
    content = edits.set_sketch(content, read_command(command, ledger, own.turned, own).draw(own, ()))
    content, _ = edits.with_step(
        content, Extrude, name=name, sketch=sketch, mode="cut", extent="depth", depth=depth, direction="backward"
    )
    return settle(content).content


def _thread(size: str, length: float) -> str:
    return f"{size}x{coarse_pitch(float(size[1:])):g} - 6g {length:g} long"


def _socket_cap(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    head, high, across, deep = row
    # ISO 4762: threaded to the head when the screw is short, else over 2d + 12.
    diameter = float(size[1:])
    threaded = min(length, 2 * diameter + 12)
    content = _callouts(
        content, (f"Ø{head:g}", "head"), (f"{high:g}", "head, high"), (f"Ø{diameter:g}", "shank"),
        (f"{length:g}", "length"), (_thread(size, threaded), ""), (f"{across:g}", "socket, across flats"),
        (f"{deep:g}", "socket, deep"),
    )  # fmt: skip
    content = _turned(
        content,
        Station(id="head", length="#2", diameter="#1"),
        Station(id="shank", length="#4", diameter="#3", right=f"{_chamfer(diameter):g} x 45°", thread="#5"),
    )
    return _cut(content, "Socket", "s1/start/side", "polygon 6 A/F #6 at 0,0", "#7")


def _socket_set(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    across, deep = row
    diameter = float(size[1:])
    deep = min(deep, length - 1.0)
    content = _callouts(
        content, (f"Ø{diameter:g}", "outside"), (f"{length:g}", "length"), (_thread(size, length), ""),
        (f"{across:g}", "socket, across flats"), (f"{deep:g}", "socket, deep"),
    )  # fmt: skip
    content = _turned(
        content, Station(id="shank", length="#2", diameter="#1", right=f"{_chamfer(diameter):g} x 45°", thread="#3")
    )
    return _cut(content, "Socket", "s1/start/side", "polygon 6 A/F #4 at 0,0", "#5")


def _hexagon_head(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    across, high = row
    diameter = float(size[1:])
    content = _callouts(
        content, (f"{across:g}", "across flats"), (f"{high:g}", "head, high"), (f"Ø{diameter:g}", "shank"),
        (f"{length:g}", "length"), (_thread(size, length), ""),
    )  # fmt: skip
    corners = _BLANK * across / math.cos(math.pi / 6)
    content = _turned(
        content,
        Station(id="head", length="#2", diameter=f"{corners:.3f}"),
        Station(id="shank", length="#4", diameter="#3", right=f"{_chamfer(diameter):g} x 45°", thread="#5"),
    )
    return _flats(content, "s1/head.od/side", corners, "#1", "low")


def _flats(content: Content, face: str, corners: float, across: str, turned: str) -> Content:
    reference = FaceRef(face, f"round face Ø{corners:.3f}, {_AXIS}")
    content, _ = edits.with_step(content, Polygon, name="Hexagon", face=reference, across=across, corners=turned)
    return content


def _stud(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    diameter = float(size[1:])
    content = _callouts(content, (f"Ø{diameter:g}", "outside"), (f"{length:g}", "length"), (_thread(size, length), ""))
    chamfer = f"{_chamfer(diameter):g} x 45°"
    return _turned(content, Station(id="shank", length="#2", diameter="#1", left=chamfer, right=chamfer, thread="#3"))


def _hexagon_nut(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    from ...route.drilling.model import Hole

    across, high = row
    pitch = coarse_pitch(float(size[1:]))
    content = _callouts(
        content, (f"{across:g}", "across flats"), (f"{high:g}", "high"),
        (f"{size}x{pitch:g} - 6H THRU drill Ø{float(size[1:]) - pitch:g}", ""),
    )  # fmt: skip
    corners = _BLANK * across / math.cos(math.pi / 6)
    content = _turned(content, Station(id="body", length="#2", diameter=f"{corners:.3f}"))
    content = _flats(content, "s1/body.od/side", corners, "#1", "both")
    content, _ = edits.with_step(
        content, Hole, name="Thread", face=FaceRef("s1/start/side", "left end"), placement="axis", thread="#3",
        diameter="#3.drill", extent="through",
    )  # fmt: skip
    return content


def _washer(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    hole, outside, thick = row
    return _ring(content, hole, outside, thick)


def _ball_bearing(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    bore, outside, wide = row
    # ISO 492:2014, normal class: mean bore and mean outside diameter, 0 to so many thousandths below.
    below = next(v for upper, v in ((18, 0.008), (30, 0.010), (50, 0.012)) if bore <= upper)
    outer = next(v for upper, v in ((18, 0.008), (30, 0.009), (50, 0.011), (80, 0.013)) if outside <= upper)
    return _ring(content, bore, outside, wide, f" 0/-{below:g}", f" 0/-{outer:g}")


def _ring(
    content: Content, bore: float, outside: float, thick: float, bore_limits: str = "", outer_limits: str = ""
) -> Content:
    from ...route.drilling.model import Hole

    content = _callouts(
        content, (f"Ø{outside:g}{outer_limits}", "outside"), (f"{thick:g}", "thick"),
        (f"Ø{bore:g}{bore_limits} THRU", "hole"),
    )  # fmt: skip
    content = _turned(content, Station(id="body", length="#2", diameter="#1"))
    content, _ = edits.with_step(
        content, Hole, name="Hole", face=FaceRef("s1/start/side", "left end"), placement="axis", diameter="#3",
        extent="through",
    )  # fmt: skip
    return content


def _parallel_pin(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    content = _callouts(content, (f"Ø{size} h8", "pin"), (f"{length:g}", "length"), (f"2x {row[0]:g} x 45°", "ends"))
    return _turned(content, Station(id="pin", length="#2", diameter="#1", left="#3", right="#3"))


def _taper_pin(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    large = float(size) + length / 50.0
    content = _callouts(content, (f"Ø{size}", "small end"), (f"Ø{large:g}", "large end"), (f"{length:g}", "length"))
    return _turned(content, Station(id="pin", length="#3", diameter="#1", diameter2="#2"))


def _parallel_key(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    wide, high = row
    content = _callouts(content, (f"{wide:g}", "wide"), (f"{high:g}", "high"), (f"{length:g}", "long"))
    content, sketch = edits.add_sketch(content, "Outline", Plane("end"))
    own, ledger = content.sketch(sketch), content.ledger()
    drawn = read_command("rect #3 x #1 at 0,0", ledger, own.turned, own).draw(own, ())
    content = edits.set_sketch(content, drawn)
    content, _ = edits.with_step(content, Extrude, name="Key", sketch=sketch, mode="new", extent="depth", depth="#2")
    return content


def _chamfer(diameter: float) -> float:
    """The usual chamfer at a thread's end: to the root, one pitch or less."""
    return round(0.6 * coarse_pitch(diameter), 2)


_MAKERS: dict[Kind, Callable[[Content, str, tuple[float, ...], float], Content]] = {
    "socket_cap": _socket_cap,
    "socket_set": _socket_set,
    "hexagon_head": _hexagon_head,
    "stud": _stud,
    "hexagon_nut": _hexagon_nut,
    "washer": _washer,
    "parallel_pin": _parallel_pin,
    "taper_pin": _taper_pin,
    "parallel_key": _parallel_key,
    "ball_bearing": _ball_bearing,
}
