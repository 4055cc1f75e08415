"""Revolve: a turned profile swung once round the turning axis."""

from __future__ import annotations

from ...sketch.region import Region
from ..gauges import Claim
from ..model import Built, Param, RouteView, StepBase, StepFailure, StepKind, Workshop
from ..outlines import closed_regions, kernel_loop, sketch_claims, sketch_frame

#: The profile stands off the main directions so that the seam of round faces stays clear of the usual holes.
SEAM_ANGLE = 0.6457718  # 37 degrees


class Revolve(StepBase, frozen=True, kw_only=True, tag="revolve"):
    sketch: str = ""
    regions: tuple[str, ...] = ()


def build(step: Revolve, shop: Workshop) -> Built:
    from ...kernel.boolean import combine
    from ...kernel.check import accept
    from ...kernel.outline import flat_face
    from ...kernel.sweep import revolve

    sketch = shop.sketch(step.sketch)
    regions = closed_regions(sketch, step.regions)
    _clear_of_axis(regions)
    frame = sketch_frame(sketch, 0.0, SEAM_ANGLE)
    bodies = []
    for region in regions:
        flat = flat_face(kernel_loop(region.outer, sketch), tuple(kernel_loop(h, sketch) for h in region.holes), frame)
        bodies.append(revolve(flat, (0.0, 0.0, 0.0), (0.0, 0.0, 1.0), step.id))
    if shop.current is None:
        first, rest = bodies[0], bodies[1:]
        body = accept(first.shape, first.pairs(), None, "more")
        return Built(combine("add", body, rest) if rest else body, None, ())
    return Built(combine("add", shop.current, bodies), None, ())


def _clear_of_axis(regions: tuple[Region, ...]) -> None:
    for region in regions:
        low = region.outer.outline[:, 1].min()
        high = region.outer.outline[:, 1].max()
        if low < -1e-7 < 1e-7 < high:
            at = region.outer.outline[region.outer.outline[:, 1].argmin()]
            raise StepFailure(
                f"The profile crosses the turning axis at Z {at[0]:.3f} (it reaches Ø{-2 * at[1]:.3f} on the "
                "other side). Keep all of it on one side."
            )


def claims(step: Revolve, view: RouteView) -> list[Claim]:
    sketch = view.sketches.get(step.sketch)
    return sketch_claims(sketch, step.id) if sketch else []


def summary(step: Revolve, view: RouteView) -> str:
    sketch = view.sketches.get(step.sketch)
    if sketch is None or not sketch.points():
        return "no profile yet"
    points = sketch.points().values()
    return f"full turn · Ø{2 * max(abs(p.y) for p in points):.6g} × {max(p.x for p in points):.6g}"


KIND = StepKind(
    Revolve,
    "Turned profile",
    "revolve",
    (Param("sketch", "Profile", "sketch"), Param("regions", "Areas", "regions")),
    build,
    claims,
    summary,
)
