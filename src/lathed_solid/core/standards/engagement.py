"""How far a screw has to go in: thread engagement by the material it goes into."""

from __future__ import annotations

from .tables import table


def engagement_for(material: str) -> float | None:
    """Diameters of engagement (``data/engagement.toml``, shop practice); None for a material that is not tabled, such
    as a plastic: there an insert carries the thread.
    """
    rows: dict[str, float] = table("engagement")["diameters"]
    return next((much for name, much in rows.items() if material.startswith(name)), None)
