"""Ring pattern: what other steps cut or added, repeated round the turning axis."""

from __future__ import annotations

import math

import msgspec

from ..gauges import AxisAngle, AxisFrom, Claim, Count, Diameter, ThreadOn, claim
from ..model import Built, Param, RouteView, StepBase, StepFailure, StepKind, Tooling, Workshop


class Ring(StepBase, frozen=True, kw_only=True, tag="ring"):
    """``count`` includes the first one; ``total`` is the angle they share, a full turn by default."""

    of: tuple[str, ...] = ()
    count: str = ""
    total: str = "360°"


def build(step: Ring, shop: Workshop) -> Built:
    from ...kernel.boolean import combine
    from ...kernel.geometry import turning
    from ...kernel.sweep import moved

    count = _count(step, shop)
    total = shop.value(step.total, "Total angle", "angle")
    full = math.isclose(total, 2 * math.pi, rel_tol=1e-9)
    pitch = total / count if full else total / (count - 1)
    if not step.of:
        raise StepFailure("Pick the step to repeat.")
    marks = []
    for mode in ("add", "cut"):
        tools = []
        for source in step.of:
            tooling = shop.tooling.get(source)
            if tooling is None:
                raise StepFailure("The step to repeat is missing, suppressed, or cuts nothing that can be repeated.")
            if tooling.mode != mode:
                continue
            for k in range(1, count):
                new = f"{step.id}/{k}/{source}/"
                tools += [moved(t, turning(k * pitch), (f"{source}/", new)) for t in tooling.tools]
                marks += [
                    msgspec.structs.replace(m, face=new + m.face.removeprefix(f"{source}/"))
                    for m in shop.marks
                    if m.face.startswith(f"{source}/")
                ]
        if tools:
            shop.current = combine(mode, shop.body, tools)
            last = Tooling(mode, tuple(tools))
    return Built(shop.body, last, tuple(marks))


def _count(step: Ring, shop: Workshop) -> int:
    value = shop.value(step.count, "Count", "number")
    if value < 2 or abs(value - round(value)) > 1e-9:
        raise StepFailure(f"A ring needs a whole number of at least 2; this is {value:g}.")
    return round(value)


def claims(step: Ring, view: RouteView) -> list[Claim]:
    """The sizes of every copy, and how many there are."""
    from ...quantity import ExpressionError, evaluate

    try:
        count = round(evaluate(step.count, view.ledger, "number"))
    except ExpressionError:
        return []
    found: list[Claim] = []
    for source in step.of:
        if source not in view.steps:
            continue
        made = view.kind_of(view.steps[source]).claims(view.steps[source], view)
        for k in range(1, count):
            # Only the first one stands at the stated angle.
            found += [
                c.retagged(f"{source}/", f"{step.id}/{k}/{source}/")
                for c in made
                if not isinstance(c.gauge, AxisAngle | AxisFrom)
            ]
        side = next((c.gauge.face for c in made if isinstance(c.gauge, Diameter | ThreadOn)), "")
        if side:
            others = tuple(f"{step.id}/{k}/{side}" for k in range(1, count))
            found += claim(step.count, Count(side, others))
    return found


def summary(step: Ring, view: RouteView) -> str:
    names = [view.steps[s].name or s for s in step.of if s in view.steps]
    return f"{view.text(step.count, 'number')} × {', '.join(names) or 'nothing yet'}"


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
