"""Edge treatments and grooves as typed in a profile row: ``1 x 45°``, ``R1``, ``C0.5``, ``#3``, ``2 x Ø11.2``."""

from __future__ import annotations

import re
from typing import NamedTuple

from ...names import lone_ref
from ...quantity import ExpressionError, Scope
from ...quantity.expression import NoReference


class Chamfer(NamedTuple):
    """Formulas for the leg along the axis and the angle to the axis."""

    leg: str
    angle: str


class Fillet(NamedTuple):
    radius: str


class Groove(NamedTuple):
    """Formulas for width along the axis and diameter of the floor."""

    width: str
    diameter: str


def edge_treatment(text: str, scope: Scope) -> Chamfer | Fillet | None:
    """The treatment in ``text``; None when it is empty. A lone ``#3`` is what callout 3 says it is."""
    text = text.strip()
    if not text:
        return None
    if (ref := lone_ref(text)) and not ref.key:
        try:
            scope.reference(ref.number, "angle")
        except NoReference:
            return Fillet(text)
        return Chamfer(text, f"{text}.angle")
    if match := re.fullmatch(r"R\s*(.+)", text):
        return Fillet(match[1])
    if match := re.fullmatch(r"C\s*(.+)", text):
        return Chamfer(match[1], "45°")
    if match := re.fullmatch(r"(.+?)\s*[x×X]\s*(.+)", text):
        return Chamfer(match[1], match[2])
    raise ExpressionError("An edge is typed as 1 x 45°, C1, R1 or a callout such as #3.", text, 0)


def groove(text: str) -> Groove | None:
    """The groove in ``text``; None when it is empty."""
    text = text.strip()
    if not text:
        return None
    match = re.fullmatch(r"(.+?)\s*[x×X]\s*(?:Ø|ø|dia\.?\s*)?(.+)", text)
    if not match:
        raise ExpressionError("A groove is typed as width x diameter, for example 2 x Ø11.2.", text, 0)
    return Groove(match[1], match[2])
