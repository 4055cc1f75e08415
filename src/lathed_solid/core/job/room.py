"""Room for holes on the part of a job: asked of a picked floor, told as a figure, a place and the note of a callout."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from ..kernel.ground.figures import RoomFound, Skin
from ..quantity import Style
from ..route.rebuild import Cache, rebuild
from .attachments import Store
from .model import Content

#: A middle this near the axis lies on it (mm).
_ON = 1e-6


class RoomAsked(NamedTuple):
    """Through the flat face ``floor`` (a reference), keeping ``wall`` mm; ``many`` in a ring about the round face
    ``about`` (a reference; empty: the axis through part zero). The zone is shaded for ``diameter`` mm (0: none is).
    """

    floor: str
    wall: float
    many: int = 1
    about: str = ""
    diameter: float = 0.0


class Room(NamedTuple):
    """What fits (None: nothing does), the zone for the middles and the holes to be laid over the part, and why not."""

    found: RoomFound | None
    zone: Skin
    holes: Skin
    words: str = ""


def room_on(
    content: Content, asked: RoomAsked, cache: Cache | None = None, store: Store | None = None,
    going: Callable[[], object] = lambda: None,
) -> Room:  # fmt: skip
    """Look for room on the part as it is built."""
    from ..kernel.ground.named import LostReference
    from ..kernel.measure.room import holes_of, room_for, zone_of
    from ..kernel.measure.surfaces import measure_faces

    nothing, body = Skin(b"", ()), rebuild(content.plan(store.find if store else None), cache).body
    if body is None:
        return Room(None, nothing, nothing, "There is no solid.")
    try:
        floor = body.find(asked.floor)[0]
        about = body.find(asked.about)[0] if asked.about else 0
    except LostReference as lost:
        return Room(None, nothing, nothing, lost.message)
    every = measure_faces(body)
    if every[floor - 1].kind != "plane":
        return Room(None, nothing, nothing, "The floor is not flat. Pick a flat face.")
    axis = (every[about - 1].origin, every[about - 1].axis) if about else None
    found = room_for(body, floor, asked.wall, asked.many, axis, going)
    zone = zone_of(body, floor, asked.wall, asked.diameter) if asked.diameter else nothing
    return Room(found, zone, holes_of(body, floor, found, axis) if found is not None else nothing)


def note_of(found: RoomFound, style: Style, level: bool) -> str:
    """The note of a callout for what fits, its diameter rounded down; ``level`` where the ring lies square to Z, so
    that its first hole has an angle from X.
    """
    unit, places = (25.4, style.places) if style.unit == "in" else (1.0, style.places)
    diameter = math.floor(found.diameter / unit * 10**places + 1e-6) / 10**places
    hole = f"Ø{diameter:.{places}f}".rstrip("0").rstrip(".")
    if found.many < 2 or found.radius < _ON:
        return f"{hole} THRU"
    circle = f"{2 * found.radius / unit:.{places}f}".rstrip("0").rstrip(".")
    x, y, _ = found.place
    step = 360.0 / found.many
    first = f" first at {math.degrees(math.atan2(y, x)) % step:.4g}°" if level else ""
    return f"{found.many}x {hole} THRU on Ø{circle}{first}"
