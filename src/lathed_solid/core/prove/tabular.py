"""Proofs told: the rows that table, command line and CSV have in common, and JSON-ready dictionaries."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Callable
from typing import Any, NamedTuple

import msgspec

from ..callout.model import Kind
from ..cells import plain
from ..quantity import Style
from ..quantity.style import mass as mass_text
from .proof import Mark, Proof, ProofLine, StatedCheck

#: How a figure of a kind is written.
Told = Callable[[float, str], str]

COLUMNS = (
    "balloon", "note", "characteristic", "unit", "nominal", "lower", "upper", "basis", "measured", "deviation",
    "band used %", "mark", "remark",
)  # fmt: skip
_KEYS = {"thru": "open ends"}


class ProofRow(NamedTuple):
    """One judged figure as it is told; what does not apply is empty. ``number`` is the balloon, 0 for a stated one."""

    number: int
    note: str
    what: str
    unit: str
    nominal: str
    lower: str
    upper: str
    basis: str
    measured: str
    deviation: str
    used: str
    mark: Mark
    remark: str

    @property
    def limits(self) -> str:
        return "" if self.lower == self.upper else f"{self.lower} … {self.upper}"


def row_of(line: ProofLine, told: Told) -> ProofRow:
    """A characteristic, its figures written by ``told``."""
    measured, kind = line.measured, line.kind
    return ProofRow(
        line.number,
        line.note,
        _KEYS.get(line.key, (line.key or kind).replace("_", " ")),
        _unit(kind),
        told(line.nominal, kind),
        told(line.lower, kind),
        told(line.upper, kind),
        line.basis,
        "" if measured is None else told(measured, kind),
        "" if measured is None else _signed(told(measured - line.nominal, kind), kind),
        f"{100 * line.used:.0f}",
        line.mark,
        line.message,
    )


def stated_row(check: StatedCheck, told: Told) -> ProofRow:
    """A figure of the title block against the solid's."""
    low, high, kind = check.stated - check.within, check.stated + check.within, check.kind
    return ProofRow(
        0,
        "stated figure",
        check.what,
        _unit(kind),
        told(check.stated, kind),
        told(low, kind),
        told(high, kind),
        "stated",
        told(check.measured, kind),
        _signed(told(check.off, kind), kind),
        f"{100 * abs(check.off) / check.within:.0f}",
        check.mark,
        "",
    )


def deviation(check: StatedCheck, style: Style, places: int = 4) -> str:
    """How far a solid is from a stated figure: as a share of it, a length as a length."""
    if check.kind == "length":
        return _signed(figure(check.off, "length", style, unit=True), "length")
    return f"{check.off / check.stated:+.{places}%}"


def in_style(style: Style, unit: bool = False) -> Told:
    """Figures as the job shows them."""
    return lambda value, kind: figure(value, kind, style, unit)


def exact(value: float, kind: str) -> str:
    """Millimetres, degrees and grams with six decimals, for other programs."""
    return f"{math.degrees(value) if kind == 'angle' else value:.6f}"


def _unit(kind: str) -> str:
    return {
        "angle": "deg", "count": "", "ratio": "", "finish": "µm", "volume": "mm3", "mass": "g", "area": "mm2",
    }.get(kind, "mm")  # fmt: skip


def _signed(text: str, kind: str) -> str:
    """A deviation with its sign; one that shows as nothing has none, but a count has."""
    if kind != "count" and not text.strip("-0.°µm "):
        return text.lstrip("-")
    return text if text.startswith("-") else f"+{text}"


def figure(value: float, kind: Kind | str, style: Style, unit: bool = False) -> str:
    """A characteristic's figure as it is shown: lengths in the job's unit (told with ``unit``), angles in degrees,
    counts and ratios bare, finishes in µm, volumes and masses with their units.
    """
    if kind == "count":
        return f"{value:g}"
    if kind == "angle":
        return f"{math.degrees(value):.3f}°"
    if kind in ("ratio", "finish"):
        return f"{value:.4f}" if kind == "ratio" else f"{value:g} µm"
    if kind in ("volume", "mass", "area"):
        return mass_text(value) if kind == "mass" else style.volume(value) if kind == "volume" else style.area(value)
    return f"{style.fixed(value)} {style.unit}" if unit else style.fixed(value)


def to_csv(proof: Proof) -> str:
    """One row a characteristic, then the stated figures. Millimetres and degrees, six decimals."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    rows = [row_of(line, exact) for line in proof.lines] + [stated_row(check, exact) for check in proof.stated]
    for row in rows:
        writer.writerow([row.number or "", *map(plain, row[1:])])
    return out.getvalue()


def to_dict(proof: Proof) -> dict[str, object]:
    """The whole proof as plain data (mm, radians, grams)."""
    data: dict[str, Any] = msgspec.to_builtins(proof)
    data["all_in"] = proof.all_in
    return data
