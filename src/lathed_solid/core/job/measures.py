"""Measurements taken off the solid: as figures, as callouts, and kept with the part."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

from ..kernel.ground.figures import Surface
from ..names import face_name
from ..prove.binding import Binding, BindingRefused, away, suggest_gauge
from ..prove.proof import ProofLine
from ..quantity import Style
from ..refusal import Refusal
from ..route.gauges import AnyGauge
from ..units import INCH
from . import edits
from .model import Content, Kept

if TYPE_CHECKING:
    from ..kernel.measure.pair import Measurable
    from ..kernel.measure.taken import Taken
    from ..plan.zero import Standing
    from ..route.model import ThreadMark
    from ..route.rebuild import RouteResult

#: Readings this near are one figure (mm, radians).
_SAME = 1e-6
#: Kinds of figures that a callout may state, as the kinds of its characteristics are called.
STATED = {"length": "length", "diameter": "diameter", "radius": "radius", "angle": "angle"}


def of_one_face(one: Surface, every: Sequence[Surface], mark: ThreadMark | None) -> tuple[Taken, ...]:
    """What a face carries and is one of: its thread, how many are alike, their circle or pitch."""
    from ..kernel.measure.repeats import pattern
    from ..kernel.measure.taken import Taken

    found = [Taken(f"thread {mark.thread.designation}, long", "length", mark.length)] if mark is not None else []
    if (alike := pattern(one, every)) is not None:
        found.append(Taken("alike on the part", "count", alike.many))
        found += [Taken("on a circle of", "diameter", alike.circle)] if alike.circle is not None else []
        found += [Taken("pitch", "length", alike.pitch)] if alike.pitch is not None else []
    return tuple(found)


def kept_on(kept: Kept, result: RouteResult, where: Standing) -> Taken | None:
    """A kept figure on a part built here; None when what it was measured on is not there."""
    from ..kernel.ground.named import LostReference
    from ..kernel.measure.pair import datum_thing
    from ..kernel.measure.surfaces import measure_faces
    from ..kernel.measure.taken import measured

    body, marks = result.body, result.marks
    if body is None:
        return None
    datums = [(n, result.datums[n.step]) for f in kept.faces if (n := face_name(f.name)).step in result.datums]
    try:
        faces = [body.find(f.name)[0] for f in kept.faces if face_name(f.name).step not in result.datums]
        edges = [body.edges_between(e.a, e.b)[e.piece] for e in kept.edges]
        corners = [body.vertices_where(c.a, c.b, c.c)[c.piece] for c in kept.corners]
    except (LostReference, IndexError):
        return None
    frame = where.frame
    axes = frame.x, frame.y, frame.normal
    picked: list[Measurable] = [*map(body.face, faces), *edges, *corners, *(datum_thing(n.rest, f) for n, f in datums)]
    found = measured(picked, axes, frame.origin, near=kept.what == "nearest")
    if len(faces) == len(picked) == 1:
        own = body.names.get(faces[0], set())
        found += of_one_face(
            measure_faces(body)[faces[0] - 1], measure_faces(body), next((m for m in marks if m.face in own), None)
        )
    return next((t for t in found if t.what == kept.what), None)


def figure_text(value: float, kind: str, style: Style, exact: bool = False) -> str:
    """A figure of a kind of :class:`Taken` in the job's unit, to its decimals; all that are meant when ``exact``."""
    if kind == "count":
        return f"{value:.0f}"
    if kind == "angle":
        return f"{math.degrees(value):.12g}°" if exact else style.angle(value)
    if kind == "area":
        shown = value / INCH**2 if style.unit == "in" else value
        digits = f"{shown:.12g}" if exact else f"{shown:.{style.places}f}"
        return f"{digits} {style.unit}²"
    sign = {"diameter": "Ø", "radius": "R"}.get(kind, "")
    return f"{sign}{value / INCH if style.unit == 'in' else value:.12g}" if exact else f"{sign}{style.length(value)}"


def note_of(taken: Taken, style: Style) -> str:
    """A figure as the note of a callout in the drawing's unit; empty for what no callout states."""
    return figure_text(taken.value, taken.kind, style) if taken.kind in STATED else ""


def as_callout(
    content: Content, taken: Taken, picked: Sequence[tuple[str, Surface]]
) -> tuple[Content, tuple[int, bool]]:
    """A figure as a callout of its own, bound to the ``picked`` faces (name and figures) where that can be: its number,
    and whether it is bound. Raises Refusal when no callout states such a figure.
    """
    note = note_of(taken, content.header.typed_style)
    if not note:
        raise edits.EditRefused(f"No callout states “{taken.what}”: choose a length, a diameter, a radius or an angle.")
    source = f"taken off the solid: {taken.what}"
    content, number = edits.add_callout(content, note, "", "derived", None, source)
    gauge = _gauge(taken, picked)
    bound = edits.bind(content, Binding(number, "", gauge)) if gauge is not None else content
    return bound, (number, gauge is not None)


def _gauge(taken: Taken, picked: Sequence[tuple[str, Surface]]) -> AnyGauge | None:
    """The gauge that reads this very figure on the picked faces; None when none does: another would prove another."""
    try:
        gauge = suggest_gauge(STATED[taken.kind], picked, taken.value)
    except BindingRefused:
        return None
    return gauge if away(gauge, picked, taken.value) < _SAME else None


def bound_to(
    content: Content, lines: Sequence[ProofLine], number: int, taken: Taken, picked: Sequence[tuple[str, Surface]]
) -> Content:
    """The callout's size of that kind measured on the picked faces from now on. Raises Refusal."""
    kind = STATED.get(taken.kind, "")
    own = [x for x in lines if x.number == number and x.kind == kind]
    if not own:
        raise edits.EditRefused(f"Callout {number} states no {kind or taken.what}.")
    line, gauge = min(own, key=lambda x: abs(x.nominal - taken.value)), _gauge(taken, picked)
    if gauge is None:
        raise edits.EditRefused(
            f"No gauge reads “{taken.what}” off these faces alone. Choose another figure of them, or other faces."
        )
    return edits.bind(content, Binding(number, line.key, gauge))


def stands_alone(content: Content, number: int) -> bool:
    """Whether a callout says nothing but finish, form or place, or a datum's letter: nothing of it is measured."""
    try:
        return content.ledger().reading(number).shape == "surface"
    except Refusal:
        return False


def stood_on(content: Content, number: int, picked: Sequence[tuple[str, Surface]]) -> Content:
    """A finish, a tolerance of form or place, or a datum's letter put on the picked face: its leader leads there on the
    drawing. Raises Refusal.
    """
    return edits.bind(content, Binding(number, "", suggest_gauge(content.ledger().reading(number).main.kind, picked)))
