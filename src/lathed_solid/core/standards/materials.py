"""Densities and shop colours of common metals and plastics."""

from __future__ import annotations

import msgspec

from .tables import NotTabled, table


class Material(msgspec.Struct, frozen=True):
    """``density`` in g/cm³ (equal to mg/mm³); ``source`` says where it comes from; ``color`` is sRGB 0..1."""

    name: str
    grade: str = ""
    density: float = 7.85
    source: str = "entered by hand"
    color: tuple[float, float, float] = (0.66, 0.68, 0.71)

    def grams(self, volume: float) -> float:
        """Mass in grams of ``volume`` in mm³."""
        return volume * self.density / 1000


def all_materials() -> tuple[Material, ...]:
    """The table, in its order."""
    return tuple(msgspec.convert(row, Material) for row in table("materials")["material"])


def material(name: str) -> Material:
    """The material of that name. Raises NotTabled naming the known ones."""
    for found in all_materials():
        if found.name.lower() == name.lower():
            return found
    raise NotTabled(f"No material “{name}”. Known: {', '.join(m.name for m in all_materials())}.")
