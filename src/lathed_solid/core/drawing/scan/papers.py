"""Paper that drawings are printed on."""

from __future__ import annotations

#: Sheets by their names, mm, the long side first (ISO 216, ASME Y14.1).
SHEETS: dict[str, tuple[float, float]] = {
    "A4": (297.0, 210.0),
    "A3": (420.0, 297.0),
    "A2": (594.0, 420.0),
    "A1": (841.0, 594.0),
    "ANSI A": (279.4, 215.9),
    "ANSI B": (431.8, 279.4),
    "ANSI C": (558.8, 431.8),
}


def likely_sheet(proportion: float, unit: str) -> str:
    """The sheet a photograph likely shows, by its width over its height: of ISO's, which are all alike, A3; ANSI's
    where the job is in inches.
    """
    if unit != "in":
        return "A3"
    wide = max(proportion, 1 / proportion)
    return min(("ANSI A", "ANSI B"), key=lambda name: abs(SHEETS[name][0] / SHEETS[name][1] - wide))
