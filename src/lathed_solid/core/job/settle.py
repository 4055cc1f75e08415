"""Settling: after an edit, every sketch takes the pose its numbers ask for."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import msgspec

from ..names import refers
from ..quantity.expression import NoReference
from ..route.model import FaceRef
from ..route.registry import Step
from ..route.settling import settle_sketch
from ..route.steps.revolve import Revolve
from ..route.steps.thread import Thread
from ..sketch.model import Station
from ..sketch.refusal import SketchError
from ..sketch.turned.profile import from_stations
from . import edits
from .model import Content
from .piercing import pierced


class Settled(NamedTuple):
    """``problems`` maps a sketch id to why it kept its old pose."""

    content: Content
    problems: Mapping[str, str]


def settle(content: Content) -> Settled:
    """Bring all sketches to their numbers; one that cannot follow keeps its pose and is reported."""
    ledger, problems = content.ledger(), {}
    for sketch in content.sketches:
        try:
            settled = settle_sketch(pierced(content, sketch, ledger), ledger, content.header.style)
        except SketchError as error:
            problems[sketch.id] = error.said_in(content.header.units)
            continue
        if settled != sketch:
            content = edits.set_sketch(content, settled)
    return Settled(content, problems)


def set_stations(content: Content, sketch_id: str, stations: tuple[Station, ...]) -> Content:
    """Write the turned-profile table, its sketch and the thread steps of its rows.

    Raises SketchError naming the row; nothing changes then.
    """
    sketch = content.sketch(sketch_id)
    made = from_stations(sketch, stations, content.ledger())
    content = edits.set_sketch(content, made)
    turned = next((s for s in content.steps if isinstance(s, Revolve) and s.sketch == sketch_id), None)
    return _threads(content, turned, stations) if turned else content


def _threads(content: Content, turned: Revolve, stations: tuple[Station, ...]) -> Content:
    """One cosmetic Thread step for every row that states a thread, kept in step with the table."""
    wanted: dict[str, Step] = {}
    for station in stations:
        if station.thread.strip():
            id_ = f"{turned.id}t{station.id}"
            note, _, length = station.thread.partition(",")
            note = note.strip()
            if not length.strip() and refers(note) and _states_depth(content, note):
                length = f"{note}.depth"
            last = station.id == stations[-1].id
            wanted[id_] = Thread(
                id=id_,
                name="Thread",
                face=FaceRef(f"{turned.id}/{station.id}.od/side"),
                note=note,
                length=length.strip(),
                start="right" if last or station.id != stations[0].id else "left",
            )
    steps: list[Step] = []
    for step in content.steps:
        owned = isinstance(step, Thread) and step.id.startswith(f"{turned.id}t")
        if owned and step.id not in wanted:
            continue
        if owned:
            fresh = wanted.pop(step.id)
            step = msgspec.structs.replace(fresh, name=step.name, suppressed=step.suppressed)
        steps.append(step)
    return edits.set_steps(content, [*steps, *wanted.values()])


def _states_depth(content: Content, reference: str) -> bool:
    try:
        content.ledger().characteristic(int(reference[1:]), "depth")
    except (NoReference, ValueError):  # a depth written as a figure is no reference
        return False
    return True
