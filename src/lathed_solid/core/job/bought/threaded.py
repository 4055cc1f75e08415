"""Screws, studs and nuts."""

from __future__ import annotations

import math

from msgspec.structs import replace

from ...route.drilling.model import Hole
from ...route.model import FaceRef
from ...route.steps.polygon import Polygon
from ...route.steps.thread import Thread
from ...sketch.model import Station
from ...standards.threads import coarse_pitch
from .. import edits
from ..model import Content
from ..settle import set_stations
from .making import AXIS, callouts, chamfer_of, cut, turned

#: A hexagon is cut from a blank so much larger than its corners.
_BLANK = 1.02


def thread_note(size: str, length: float) -> str:
    return f"{size}x{coarse_pitch(float(size[1:])):g} - 6g {length:g} long"


def socket_cap(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    head, high, across, deep = row
    # ISO 4762: threaded to the head when the screw is short, else over 2d + 12.
    diameter = float(size[1:])
    threaded = min(length, 2 * diameter + 12)
    content = callouts(
        content, (f"Ø{head:g}", "head"), (f"{high:g}", "head, high"), (f"Ø{diameter:g}", "shank"),
        (f"{length:g}", "length"), (thread_note(size, threaded), ""), (f"{across:g}", "socket, across flats"),
        (f"{deep:g}", "socket, deep"),
    )  # fmt: skip
    content = turned(
        content,
        Station(id="head", length="#2", diameter="#1"),
        Station(id="shank", length="#4", diameter="#3", right=f"{chamfer_of(diameter):g} x 45°", thread="#5"),
    )
    return cut(content, "Socket", "s1/start/side", "polygon 6 A/F #6 at 0,0", "#7")


def socket_set(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    across, deep = row
    diameter = float(size[1:])
    deep = min(deep, length - 1.0)
    content = callouts(
        content, (f"Ø{diameter:g}", "outside"), (f"{length:g}", "length"), (thread_note(size, length), ""),
        (f"{across:g}", "socket, across flats"), (f"{deep:g}", "socket, deep"),
    )  # fmt: skip
    content = turned(
        content, Station(id="shank", length="#2", diameter="#1", right=f"{chamfer_of(diameter):g} x 45°", thread="#3")
    )
    return cut(content, "Socket", "s1/start/side", "polygon 6 A/F #4 at 0,0", "#5")


def hexagon_head(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    across, high = row
    diameter = float(size[1:])
    content = callouts(
        content, (f"{across:g}", "across flats"), (f"{high:g}", "head, high"), (f"Ø{diameter:g}", "shank"),
        (f"{length:g}", "length"), (thread_note(size, length), ""),
    )  # fmt: skip
    corners = _BLANK * across / math.cos(math.pi / 6)
    content = turned(
        content,
        Station(id="head", length="#2", diameter=f"{corners:.3f}"),
        Station(id="shank", length="#4", diameter="#3", right=f"{chamfer_of(diameter):g} x 45°", thread="#5"),
    )
    return _flats(content, "s1/head.od/side", corners, "#1", "low")


def _flats(content: Content, face: str, corners: float, across: str, turned: str) -> Content:
    reference = FaceRef(face, f"round face Ø{corners:.3f}, {AXIS}")
    content, _ = edits.with_step(content, Polygon, name="Hexagon", face=reference, across=across, corners=turned)
    return content


def stud(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    diameter = float(size[1:])
    content = callouts(
        content, (f"Ø{diameter:g}", "outside"), (f"{length:g}", "length"), (thread_note(size, length), "")
    )
    chamfer = f"{chamfer_of(diameter):g} x 45°"
    return turned(content, Station(id="shank", length="#2", diameter="#1", left=chamfer, right=chamfer, thread="#3"))


def hexagon_nut(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    across, high = row
    pitch = coarse_pitch(float(size[1:]))
    content = callouts(
        content, (f"{across:g}", "across flats"), (f"{high:g}", "high"),
        (f"{size}x{pitch:g} - 6H THRU drill Ø{float(size[1:]) - pitch:g}", ""),
    )  # fmt: skip
    corners = _BLANK * across / math.cos(math.pi / 6)
    content = turned(content, Station(id="body", length="#2", diameter=f"{corners:.3f}"))
    content = _flats(content, "s1/body.od/side", corners, "#1", "both")
    content, _ = edits.with_step(
        content, Hole, name="Thread", face=FaceRef("s1/start/side", "left end"), placement="axis", thread="#3",
        diameter="#3.drill", extent="through",
    )  # fmt: skip
    return content


def modelled(content: Content) -> Content:
    """The same part with its threads cut into the solid, at the middle of their class limits."""
    for sketch in content.sketches:
        for station in sketch.stations or ():
            if station.thread:
                plain = tuple(replace(s, thread="") if s.id == station.id else s for s in sketch.stations or ())
                content = set_stations(content, sketch.id, plain)
                face = FaceRef(f"s1/{station.id}.od/side", "the thread")
                content, _ = edits.with_step(
                    content, Thread, name="Thread", face=face, note=station.thread, form="modelled"
                )
    for step in content.steps:
        if isinstance(step, Hole) and step.thread:
            content = edits.change_step(content, step.id, thread="")
            face = FaceRef(f"{step.id}/0/side", "the thread")
            content, _ = edits.with_step(content, Thread, name="Thread", face=face, note=step.thread, form="modelled")
    return content
