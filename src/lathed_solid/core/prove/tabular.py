"""Proofs as text: a figure as it is told, CSV and JSON-ready dictionaries for other programs."""

from __future__ import annotations

import csv
import io
import math
from typing import Any

import msgspec

from ..callout.model import Kind
from ..quantity import Style
from .proof import Proof

COLUMNS = (
    "balloon", "note", "characteristic", "unit", "nominal", "lower", "upper", "basis", "measured", "deviation",
    "band used %", "mark", "remark",
)  # fmt: skip


def _scale(kind: str) -> tuple[float, str]:
    if kind == "angle":
        return 180 / math.pi, "deg"
    return 1.0, {"count": "", "ratio": "", "finish": "µm"}.get(kind, "mm")


def figure(value: float, kind: Kind | str, style: Style, unit: bool = False) -> str:
    """A characteristic's figure as it is shown: lengths in the job's unit (told with ``unit``), angles in degrees,
    counts and ratios bare, finishes in µm.
    """
    if kind == "count":
        return f"{value:g}"
    if kind == "angle":
        return f"{math.degrees(value):.3f}°"
    if kind in ("ratio", "finish"):
        return f"{value:.4f}" if kind == "ratio" else f"{value:g} µm"
    return f"{style.fixed(value)} {style.unit}" if unit else style.fixed(value)


def to_csv(proof: Proof) -> str:
    """One row a characteristic, then the stated figures. Millimetres and degrees, six decimals."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for line in proof.lines:
        scale, unit = _scale(line.kind)
        figures = [f"{v * scale:.6f}" for v in (line.nominal, line.lower, line.upper)]
        measured = "" if line.measured is None else f"{line.measured * scale:.6f}"
        deviation = "" if line.measured is None else f"{(line.measured - line.nominal) * scale:.6f}"
        what = (line.key or line.kind).replace("_", " ")
        writer.writerow(
            [line.number, line.note, what, unit, *figures, line.basis, measured, deviation,
             f"{100 * line.used:.0f}", line.mark, line.message]
        )  # fmt: skip
    for check in proof.stated:
        unit = "mm3" if check.what == "volume" else "g"
        low, high = check.stated * (1 - check.tolerance), check.stated * (1 + check.tolerance)
        writer.writerow(
            ["", "stated figure", check.what, unit, f"{check.stated:.6f}", f"{low:.6f}", f"{high:.6f}", "stated",
             f"{check.measured:.6f}", f"{check.measured - check.stated:.6f}",
             f"{100 * abs(check.deviation) / check.tolerance:.0f}", check.mark, ""]
        )  # fmt: skip
    return out.getvalue()


def to_dict(proof: Proof) -> dict[str, object]:
    """The whole proof as plain data (mm, radians, grams)."""
    data: dict[str, Any] = msgspec.to_builtins(proof)
    data["all_in"] = proof.all_in
    return data
