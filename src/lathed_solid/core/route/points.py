"""The points of a sketch that holes and studs stand at."""

from __future__ import annotations

from ..sketch.model import Circle, Sketch, stands_on


def hole_points(sketch: Sketch) -> dict[str, tuple[float, float]]:
    """Where the holes of a sketch are: its points that belong to no line, and the centres of its circles."""
    points = sketch.points()
    held = {p for e in sketch.entities for p in stands_on(e)}
    centres = {e.center for e in sketch.entities if isinstance(e, Circle)}
    return {i: (p.x, p.y) for i, p in points.items() if i not in held or i in centres}


def chosen_points(only: str, sketch: Sketch) -> dict[str, tuple[float, float]]:
    """The places a step drills: all that its sketch has, or those named in ``only`` (any point will do)."""
    named = only.replace(",", " ").split()
    if not named:
        return hole_points(sketch)
    every = sketch.points()
    return {i: (every[i].x, every[i].y) for i in named if i in every}
