"""Conversions people do on paper, each with its formula kept as text that the ledger works out again.

A reading becomes a callout first; a conversion is a callout too, whose note refers to them (``#3 + #4/2``).
"""

from __future__ import annotations

import re
from typing import NamedTuple

from ..names import lone_ref
from ..refusal import Refusal


class Input(NamedTuple):
    """``key`` stands in the formula in braces; ``label`` says what to touch. A summand may be ``optional``.

    ``counted`` is a plain number, not something measured.
    """

    key: str
    label: str
    optional: bool = False
    counted: bool = False


class Unanswered(Refusal):
    """An input of a conversion that is still empty."""


class Conversion(NamedTuple):
    """``formula`` in the expression language with ``{key}`` for each input; ``prefix`` such as ``Ø`` for the note."""

    id: str
    title: str
    inputs: tuple[Input, ...]
    formula: str
    prefix: str = ""
    why: str = ""

    def note(self, values: dict[str, str], unit: str = "mm") -> str:
        """The derived callout's note for texts such as ``#3`` or ``12.5`` (in ``unit``). Raises Unanswered when an
        input is missing.
        """
        formula = self.formula
        for wanted in self.inputs:
            if not values.get(wanted.key, "").strip():
                if not wanted.optional:
                    raise Unanswered(f"{self.title}: “{wanted.label}” is still empty.")
                formula = formula.replace(f" + {{{wanted.key}}}", "")
        texts = {i.key: _term(values.get(i.key, ""), "" if i.counted else unit) for i in self.inputs}
        return self.prefix + formula.format(**texts)


def _term(text: str, unit: str) -> str:
    """A text as part of a formula: a bare number gets its unit, so that squares of it are areas."""
    text = text.strip()
    if lone_ref(text):
        return text
    return f"({text} {unit})" if unit and re.fullmatch(r"\d*\.?\d+", text) else f"({text})"


_GAP = Input("gap", "edge to the hole's near side")
CONVERSIONS: tuple[Conversion, ...] = (
    Conversion(
        "center",
        "Centre from edge gap and diameter",
        (_GAP, Input("d", "hole diameter")),
        "{gap} + {d}/2",
        why="centre = gap + half the diameter",
    ),
    Conversion(
        "pitch",
        "Pitch from gap and two diameters",
        (Input("gap", "gap between the holes"), Input("d1", "first diameter"), Input("d2", "second diameter")),
        "{gap} + {d1}/2 + {d2}/2",
        why="pitch = gap + half of each diameter",
    ),
    Conversion(
        "wall",
        "Wall from outside and bore",
        (Input("od", "outside diameter"), Input("id", "bore")),
        "({od} - {id})/2",
        why="wall = (outside - bore)/2",
    ),
    Conversion(
        "arc",
        "Radius from chord and height",
        (Input("chord", "chord across the arc"), Input("height", "height over the chord")),
        "{chord}^2/(8*{height}) + {height}/2",
        "R",
        why="r = c²/8h + h/2",
    ),
    Conversion(
        "taper",
        "Taper angle from two diameters and a length",
        (Input("large", "large diameter"), Input("small", "small diameter"), Input("length", "distance between them")),
        "2*atan(({large} - {small})/(2*{length}))",
        why="included angle = 2 atan((D - d)/2l)",
    ),
    Conversion(
        "circle",
        "Pitch circle from neighbouring holes",
        (Input("pitch", "centre to centre of neighbours"), Input("n", "number of holes", counted=True)),
        "{pitch}/sin(180/{n})",
        "Ø",
        why="D = pitch/sin(180°/n), holes evenly spaced",
    ),
    Conversion(
        "crests",
        "Thread pitch from n crests",
        (Input("run", "length over the crests"), Input("n", "number of crests spanned", counted=True)),
        "{run}/({n} - 1)",
        why="pitch = length/(crests - 1)",
    ),
    Conversion(
        "corners",
        "Hexagon across corners from across flats",
        (Input("af", "across flats"),),
        "2*{af}/sqrt(3)",
        why="corners = 1.1547 × flats",
    ),
    Conversion(
        "chain",
        "Overall from a chain",
        (
            Input("a", "first length"),
            Input("b", "second length"),
            Input("c", "third length", True),
            Input("d", "fourth length", True),
        ),
        "{a} + {b} + {c} + {d}",
        why="overall = sum of the chain",
    ),
)


def conversion(id_: str) -> Conversion:
    """The conversion of that id. Raises Unanswered."""
    for found in CONVERSIONS:
        if found.id == id_:
            return found
    raise KeyError(f"There is no conversion {id_}.")
