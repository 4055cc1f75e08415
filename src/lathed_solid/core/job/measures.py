"""Measurements taken off the solid: as figures, as callouts, and kept with the part."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

from ..kernel.ground.figures import Surface
from ..prove.binding import Binding, BindingRefused, suggest_gauge
from ..prove.proof import ProofLine
from ..quantity import Style
from ..units import INCH
from . import edits
from .model import Content

if TYPE_CHECKING:
    from ..kernel.measure.taken import Taken

#: Kinds of figures that a callout may state, as the kinds of its characteristics are called.
STATED = {"length": "length", "diameter": "diameter", "radius": "radius", "angle": "angle"}


def figure_text(taken: Taken, style: Style, exact: bool = False) -> str:
    """A figure in the job's unit, to its decimals; all that are meant when ``exact``."""
    if taken.kind == "count":
        return f"{taken.value:.0f}"
    if taken.kind == "angle":
        return f"{math.degrees(taken.value):.12g}°" if exact else style.angle(taken.value)
    if taken.kind == "area":
        value = taken.value / INCH**2 if style.unit == "in" else taken.value
        digits = f"{value:.12g}" if exact else f"{value:.{style.places}f}"
        return f"{digits} {style.unit}²"
    value = taken.value / INCH if style.unit == "in" else taken.value
    sign = {"diameter": "Ø", "radius": "R"}.get(taken.kind, "")
    return f"{sign}{value:.12g}" if exact else f"{sign}{style.length(taken.value)}"


def note_of(taken: Taken, style: Style) -> str:
    """A figure as the note of a callout in the drawing's unit; empty for what no callout states."""
    return figure_text(taken, style) if taken.kind in STATED else ""


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
    try:
        gauge = suggest_gauge(STATED[taken.kind], picked, taken.value)
    except BindingRefused:
        return content, (number, False)
    return edits.bind(content, Binding(number, "", gauge)), (number, True)


def bound_to(
    content: Content, lines: Sequence[ProofLine], number: int, taken: Taken, picked: Sequence[tuple[str, Surface]]
) -> Content:
    """The callout's size of that kind measured on the picked faces from now on. Raises Refusal."""
    kind = STATED.get(taken.kind, "")
    own = [x for x in lines if x.number == number and x.kind == kind]
    if not own:
        raise edits.EditRefused(f"Callout {number} states no {kind or taken.what}.")
    line = min(own, key=lambda x: abs(x.nominal - taken.value))
    return edits.bind(content, Binding(number, line.key, suggest_gauge(kind, picked, line.nominal)))
