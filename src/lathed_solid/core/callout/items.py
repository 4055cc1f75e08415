"""Small helpers over the items of a note's tree: their values, their words, what a word means."""

from __future__ import annotations

import re

from lark import Token, Tree

from ..quantity.expression import Node
from ..standards.screws import Series
from .model import Flag

#: Characteristics of form and place: any of the spellings, and the name the normalised note gives them.
_GEOMETRIC = (
    (r"total\s+runout|⌰", "TOTAL RUNOUT"),
    (r"runout|↗", "RUNOUT"),
    (r"(true\s+)?pos|⌖", "POSITION"),
    (r"perp|⊥", "PERPENDICULARITY"),
    (r"flat|⏥", "FLATNESS"),
    (r"conc|◎", "CONCENTRICITY"),
    (r"parallel|∥", "PARALLELISM"),
    (r"straight|⏤", "STRAIGHTNESS"),
    (r"roundness|circularity|○", "ROUNDNESS"),
    (r"cylindricity|⌭", "CYLINDRICITY"),
    (r"symmetry|⌯", "SYMMETRY"),
    (r"angularity|∠", "ANGULARITY"),
    (r"line\s+profile|profile\s+of\s+(a\s+|any\s+)?line|⌒", "LINE PROFILE"),
    (r"(surface\s+)?profile|⌓", "PROFILE"),
)


def values_of(node: Node) -> list[Node]:
    """The ``value`` children of an item, in order."""
    return [c for c in node.children if isinstance(c, Tree) and c.data == "value"]


def words_of(node: Node) -> str:
    """The keywords of an item, joined."""
    return " ".join(str(c) for c in node.children if isinstance(c, Token))


def token(node: Node, kind: str) -> Token | None:
    return next((c for c in node.children if isinstance(c, Token) and c.type == kind), None)


def screw(text: str) -> str:
    """The screw size named in ``CLEARANCE FOR M6`` or ``#10 CLR``: ``M6``, ``10``, ``1/4``."""
    found = re.search(r"M\d+(\.\d+)?|\d+\s+\d+/\d+|\d+/\d+|\d+", text, re.IGNORECASE)
    assert found is not None
    return " ".join(found[0].upper().split())


def series(text: str) -> Series:
    """The clearance series a note asks for; medium unless it says otherwise."""
    if re.search(r"fine|close", text, re.IGNORECASE):
        return "fine"
    return "coarse" if re.search(r"coarse|loose", text, re.IGNORECASE) else "medium"


def flag(text: str) -> Flag:
    low = text.lower()
    for start, name in (
        ("ref", "REF"), ("basic", "BASIC"), ("bsc", "BASIC"), ("typ", "TYP"), ("all", "ALL"), ("eq", "EQ SP"),
        ("near", "NEAR SIDE"), ("far", "FAR SIDE"), ("both", "BOTH SIDES"),
    ):  # fmt: skip
        if low.startswith(start):
            return name  # type: ignore[return-value]
    raise AssertionError(text)


def geometric(text: str) -> tuple[str, str, str]:
    """Name, value (with Ø for a round zone) and datum letters of a geometric tolerance."""
    name = next(name for pattern, name in _GEOMETRIC if re.match(pattern, text, re.IGNORECASE))
    found = re.search(r"([Øø⌀]?)\s*(\d*\.?\d+)", text)
    assert found is not None
    rest = text[found.end() :].replace("Ⓜ", " M ").replace("Ⓛ", " L ")
    rest = re.sub(r"[|,()]", " ", rest)
    return name, ("Ø" if found[1] else "") + found[2], " ".join(rest.split())
