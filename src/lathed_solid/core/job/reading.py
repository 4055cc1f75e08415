"""Edits of what is read and measured: drawings, the places of callouts on them, readings, chains, what is kept of a
solid's measures.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import msgspec
import numpy as np

from ..arrays import Floats
from ..caliper.logbook import LogEntry, fresh_id
from ..callout import Place
from ..drawing.paper import Drawing, Kind
from . import edits
from .model import Chain, Content, Kept, NotThere
from .model import fresh_id as fresh


def add_drawing(
    content: Content, name: str, kind: Kind, blob: str, sheets: int, scale: float = 0.0
) -> tuple[Content, str]:
    """Lay a drawing under the glass. ``scale`` mm per sheet unit when the file itself says so. The same file twice is
    refused (EditRefused).
    """
    if any(d.blob == blob for d in content.drawings):
        raise edits.EditRefused(f"{name} is already in this job.")
    id_ = fresh({d.id for d in content.drawings}, "d")
    made = Drawing(id=id_, name=name, kind=kind, blob=blob, scales=(scale,) * sheets)
    return msgspec.structs.replace(content, drawings=(*content.drawings, made)), id_


def change_drawing(content: Content, id_: str, **fields: object) -> Content:
    """Raises NotThere."""
    changed = msgspec.structs.replace(content.drawing(id_), **fields)
    drawings = tuple(changed if d.id == id_ else d for d in content.drawings)
    return msgspec.structs.replace(content, drawings=drawings)


def straightened(content: Content, id_: str, blob: str, matrix: tuple[float, ...]) -> Content:
    """A drawing of one sheet made straight: ``blob`` is its new picture, ``matrix`` the 3x3 (row by row) from
    fractions of the one shown before. The first picture is kept, balloons go with the sheet, its scale has to be set
    anew.

    Raises NotThere.
    """
    old = content.drawing(id_)
    step = np.reshape(matrix, (3, 3))
    whole = step @ (np.reshape(old.flat, (3, 3)) if old.flat else np.eye(3))
    flat = tuple(float(v) for v in whole.ravel())
    original = old.original or old.blob
    content = _moved_places(content, id_, step)
    return change_drawing(content, id_, blob=blob, original=original, flat=flat, kind="picture", scales=(0.0,))


def as_photographed(content: Content, id_: str) -> Content:
    """The picture that a straight sheet came from shown again, its balloons with it. Raises NotThere, EditRefused."""
    old = content.drawing(id_)
    if not old.original:
        raise edits.EditRefused(f"{old.name} is shown as it was opened.")
    content = _moved_places(content, id_, np.linalg.inv(np.reshape(old.flat, (3, 3))))
    kind: Kind = "pdf" if old.name.lower().endswith(".pdf") else "picture"
    return change_drawing(content, id_, blob=old.original, original="", flat=(), kind=kind, scales=(0.0,))


def _moved_places(content: Content, id_: str, matrix: Floats) -> Content:
    """Balloons on a drawing where a 3x3 of fractions takes them; their cut-outs are made anew."""

    def placed(place: Place | None) -> Place | None:
        if place is None or place.drawing != id_:
            return place
        x, y, w = matrix @ (place.x, place.y, 1.0)
        across, down = (min(max(float(v / w), 0.0), 1.0) for v in (x, y))
        return msgspec.structs.replace(place, x=across, y=down, cutout="")

    callouts = tuple(msgspec.structs.replace(c, place=placed(c.place)) for c in content.callouts)
    return msgspec.structs.replace(content, callouts=callouts)


def set_scale(content: Content, id_: str, sheet: int, scale: float) -> Content:
    """mm per sheet unit of one sheet. Raises EditRefused for a scale no drawing can have."""
    if not 1e-6 < scale < 1e6:
        raise edits.EditRefused("The known length must be above zero, and its ends apart on the sheet.")
    drawing = content.drawing(id_)
    scales = tuple(scale if n == sheet else s for n, s in enumerate(drawing.scales, 1))
    return change_drawing(content, id_, scales=scales)


def remove_drawing(content: Content, id_: str) -> Content:
    """Take a drawing out; callouts placed on it keep their cut-outs but lose their place on the sheet."""
    content.drawing(id_)
    callouts = tuple(
        msgspec.structs.replace(c, place=None) if c.place and c.place.drawing == id_ else c for c in content.callouts
    )
    return msgspec.structs.replace(
        content, callouts=callouts, drawings=tuple(d for d in content.drawings if d.id != id_)
    )


def place_callout(content: Content, number: int, place: Place | None) -> Content:
    """Put a balloon somewhere on a sheet, or take it off. Raises NotThere."""
    if not any(c.number == number for c in content.callouts):
        raise NotThere(f"There is no callout #{number}.")
    callouts = tuple(msgspec.structs.replace(c, place=place) if c.number == number else c for c in content.callouts)
    return msgspec.structs.replace(content, callouts=callouts)


def with_cut_outs(content: Content, drawing: str, cut: Mapping[tuple[int, float, float], str]) -> Content:
    """Balloons on a drawing with the cut-outs of their places (sheet, x, y)."""

    def filled(place: Place | None) -> Place | None:
        if place is None or place.drawing != drawing or place.cutout:
            return place
        return msgspec.structs.replace(place, cutout=cut.get((place.sheet, place.x, place.y), ""))

    callouts = tuple(msgspec.structs.replace(c, place=filled(c.place)) for c in content.callouts)
    return content if callouts == content.callouts else msgspec.structs.replace(content, callouts=callouts)


def log(content: Content, entry: LogEntry) -> Content:
    """Write an entry into the logbook under a fresh id, or in place of the one with its id."""
    if entry.id:
        return msgspec.structs.replace(
            content, logbook=tuple(entry if e.id == entry.id else e for e in content.logbook)
        )
    made = msgspec.structs.replace(entry, id=fresh_id({e.id for e in content.logbook}))
    return msgspec.structs.replace(content, logbook=(*content.logbook, made))


def log_all(content: Content, entries: Iterable[LogEntry]) -> Content:
    """Add imported entries; balloons they name that are not here are forgotten."""
    numbers = {c.number for c in content.callouts}
    kept = tuple(
        e if e.callout is None or e.callout in numbers else msgspec.structs.replace(e, callout=None) for e in entries
    )
    return msgspec.structs.replace(content, logbook=(*content.logbook, *kept))


def keep(content: Content, kept: Kept) -> Content:
    """Keep a measurement under a fresh id. Raises EditRefused when it is kept already."""
    alike = [msgspec.structs.replace(k, id="") for k in content.kept]
    if msgspec.structs.replace(kept, id="") in alike:
        raise edits.EditRefused("This measurement is kept already.")
    made = msgspec.structs.replace(kept, id=fresh({k.id for k in content.kept}, "m"))
    return msgspec.structs.replace(content, kept=(*content.kept, made))


def forget(content: Content, id_: str) -> Content:
    """Keep a measurement no longer."""
    return msgspec.structs.replace(content, kept=tuple(k for k in content.kept if k.id != id_))


def add_chain(content: Content, chain: Chain) -> Content:
    """Watch a chain. Raises EditRefused when it makes no sense."""
    if chain.overall in chain.parts or len(set(chain.parts)) < 2:
        raise edits.EditRefused("A chain needs at least two parts and an overall length that is not one of them.")
    if chain in content.chains:
        raise edits.EditRefused("This chain is watched already.")
    return msgspec.structs.replace(content, chains=(*content.chains, chain))
