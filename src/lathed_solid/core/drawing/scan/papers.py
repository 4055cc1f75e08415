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
