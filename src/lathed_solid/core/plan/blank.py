"""What a part is cut from, as the job states it: allowances, the finished size, the bar chosen."""

from __future__ import annotations

from typing import Literal, NamedTuple

import msgspec

from ..callout import Ledger
from ..formulas import Formula
from ..quantity import evaluate
from ..refusal import Refusal

Form = Literal["", "round", "hexagon", "square", "flat", "tube", "plate", "cast"]
#: As they are called in the shop.
FORM_WORDS: dict[str, str] = {
    "round": "round bar", "hexagon": "hexagon bar", "square": "square bar", "flat": "flat bar", "tube": "tube",
    "plate": "plate, sawn", "cast": "casting",
}  # fmt: skip


class Allowances(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What is left on for machining, all formulas: ``face`` on every milled face, ``diameter`` on a turned diameter,
    ``facing`` at each end, ``chucking`` to be held by, ``cut_off`` the width of the parting tool, ``kerf`` of the saw.
    """

    face: Formula = "1 mm"
    diameter: Formula = "2 mm"
    facing: Formula = "1 mm"
    chucking: Formula = "0"
    cut_off: Formula = "3 mm"
    kerf: Formula = "2 mm"


class Blank(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``form``, ``size`` (the stock's name) and ``along`` (the axis its length runs along) are what was chosen; empty
    while nothing is. ``kind`` says whether the part is turned; empty: as its route begins.

    ``x``, ``y`` and ``z`` are the finished size by formulas, of a turned part ``x`` the diameter and ``z`` the length;
    empty: as the solid is, else as the callouts suggest. Pieces are sawn off, or parted off in the machine when
    ``from_bar``; ``bar`` is the length that is bought. ``lists`` names the unit of the stock lists, empty: the
    drawing's.
    """

    form: Form = ""
    size: str = ""
    along: Literal["", "x", "y", "z"] = ""
    kind: Literal["", "turned", "milled"] = ""
    x: Formula = ""
    y: Formula = ""
    z: Formula = ""
    allowances: Allowances = Allowances()
    from_bar: bool = False
    bar: Formula = "3000 mm"
    quantity: Formula = "1"
    lists: Literal["", "mm", "in"] = ""


#: What an inch drawing begins with.
INCH_BLANK = Blank(
    allowances=Allowances(
        face="1/32 in", diameter="1/16 in", facing="1/32 in", cut_off="1/8 in", kerf="1/16 in"
    ),
    bar="144 in",
)  # fmt: skip


def fresh_blank(units: str) -> Blank:
    return INCH_BLANK if units == "in" else Blank()


class Allowed(NamedTuple):
    """The allowances worked out, mm; ``quantity`` a count."""

    face: float
    diameter: float
    facing: float
    chucking: float
    cut_off: float
    kerf: float
    bar: float
    quantity: int
    from_bar: bool


def worked_out(blank: Blank, ledger: Ledger) -> Allowed:
    """Raises Refusal naming the field that has no value, or one that nobody means."""
    a = blank.allowances
    fields = (
        ("Per face", a.face), ("Per diameter", a.diameter), ("Facing", a.facing), ("Chucking", a.chucking),
        ("Cut-off", a.cut_off), ("Kerf", a.kerf), ("Bar", blank.bar),
    )  # fmt: skip
    values = [_length(words, text, ledger) for words, text in fields]
    count = _worked("Pieces", blank.quantity, ledger, "number")
    if count != int(count) or not 1 <= count <= 1e6:
        raise Refusal(f"Pieces: {count:g} is no number of pieces. Type a whole number from 1.")
    if values[-1] <= 0:
        raise Refusal("Bar: the length that is bought must be more than nothing.")
    face, diameter, facing, chucking, cut_off, kerf, bar = values
    return Allowed(face, diameter, facing, chucking, cut_off, kerf, bar, int(count), blank.from_bar)


def _length(words: str, text: str, ledger: Ledger) -> float:
    value = _worked(words, text, ledger, "length")
    if not 0 <= value <= 1e5:
        raise Refusal(f"{words}: {value:g} mm is no allowance. Type a length from 0 up.")
    return value


def _worked(words: str, text: str, ledger: Ledger, want: str) -> float:
    try:
        return evaluate(text, ledger, want)
    except Refusal as error:
        raise Refusal(f"{words}: {error.message}") from error
