"""Cutting speeds to begin with, and what they make of a spindle."""

from __future__ import annotations

import math
from typing import Literal

from .tables import table

ToolMaterial = Literal["hss", "carbide"]
#: Of the speed for turning and milling: reamers and seats run slower, and a drill is cooled less well.
SHARE = {"drill": 0.8, "reamer": 0.4, "counterbore": 0.5, "countersink": 0.4, "mill": 1.0, "turn": 1.0}


def cutting_speed(material: str, tool: ToolMaterial) -> float | None:
    """m/min for a material of the title block; None for one that is not in the table."""
    row = next((r for r in table("speeds")["speed"] if r["material"].casefold() == material.casefold()), None)
    return float(row[tool]) if row is not None else None


def source() -> str:
    return str(table("speeds")["source"])


def spindle(speed: float, diameter: float) -> float:
    """Revolutions a minute at which a diameter (mm) runs at ``speed`` (m/min): n = 1000 v / (pi d)."""
    return 1000.0 * speed / (math.pi * diameter)
