"""What bought parts are made of: a turned body, something cut into a face, a ring, each as a job would have it."""

from __future__ import annotations

from ...route.model import FaceRef
from ...route.steps.extrude import Extrude
from ...route.steps.revolve import Revolve
from ...sketch.model import Plane, Station
from ...sketch.typed.commands import read_command
from ...standards.threads import coarse_pitch
from .. import edits
from ..model import Content
from ..settle import set_stations, settle

AXIS = "on the axis"


def callouts(content: Content, *notes: tuple[str, str]) -> Content:
    for note, label in notes:
        content, _ = edits.add_callout(content, note, label)
    return content


def turned(content: Content, *stations: Station) -> Content:
    content, sketch = edits.add_sketch(content, "Turned profile", Plane("turning"))
    content, _ = edits.with_step(content, Revolve, name="Turn", sketch=sketch)
    return set_stations(content, sketch, stations)


def cut(content: Content, name: str, on: str, command: str, depth: str) -> Content:
    """Something drawn on a face by a typed command, and cut in."""
    content, sketch = edits.add_sketch(content, name, Plane("face", on=on))
    ledger = content.ledger()
    own = content.sketch(sketch)
    content = edits.set_sketch(content, read_command(command, ledger, own.turned, own).draw(own, ()))
    content, _ = edits.with_step(
        content, Extrude, name=name, sketch=sketch, mode="cut", extent="depth", depth=depth, direction="backward"
    )
    return settle(content).content


def ring(
    content: Content, bore: float, outside: float, thick: float, bore_limits: str = "", outer_limits: str = ""
) -> Content:
    from ...route.drilling.model import Hole

    content = callouts(
        content, (f"Ø{outside:g}{outer_limits}", "outside"), (f"{thick:g}", "thick"),
        (f"Ø{bore:g}{bore_limits} THRU", "hole"),
    )  # fmt: skip
    content = turned(content, Station(id="body", length="#2", diameter="#1"))
    content, _ = edits.with_step(
        content, Hole, name="Hole", face=FaceRef("s1/start/side", "left end"), placement="axis", diameter="#3",
        extent="through",
    )  # fmt: skip
    return content


def chamfer_of(diameter: float) -> float:
    """The usual chamfer at a thread's end: to the root, one pitch or less."""
    return round(0.6 * coarse_pitch(diameter), 2)
