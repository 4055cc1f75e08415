"""Ring pattern: what other steps cut or added, repeated round the turning axis."""

from __future__ import annotations

import math

from ..copying import copied_claims, names_of, set_down, stated_count, whole_count
from ..gauges import Claim
from ..model import Built, Param, RouteView, StepBase, StepKind, Workshop


class Ring(StepBase, frozen=True, kw_only=True, tag="ring"):
    """``count`` includes the first one; ``total`` is the angle they share, a full turn by default."""

    of: tuple[str, ...] = ()
    count: str = ""
    total: str = "360°"


def build(step: Ring, shop: Workshop) -> Built:
    from ...kernel.geometry import turning

    count = whole_count(step.count, shop, "ring")
    total = shop.value(step.total, "Total angle", "angle")
    full = math.isclose(total, 2 * math.pi, rel_tol=1e-9)
    pitch = total / count if full else total / (count - 1)
    return set_down(step.id, step.of, shop, {str(k): turning(k * pitch) for k in range(1, count)})


def claims(step: Ring, view: RouteView) -> list[Claim]:
    keys = [str(k) for k in range(1, stated_count(step.count, view))]
    return copied_claims(step.id, step.of, keys, step.count, view)


def summary(step: Ring, view: RouteView) -> str:
    return f"{view.text(step.count, 'number')} × {names_of(step.of, view)}"


KIND = StepKind(
    Ring,
    "Ring pattern",
    "ring",
    (
        Param("of", "Repeats", "steps"),
        Param("count", "Count", "number", help="With the first one."),
        Param("total", "Total angle", "angle"),
    ),
    build,
    claims,
    summary,
)
