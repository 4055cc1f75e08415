"""Where the numbers of a step stand on the part."""

from __future__ import annotations

from ..core.kernel.ground.figures import Vector
from ..core.kernel.ground.geometry import cross
from ..core.names import bare, callouts_in, lone_ref
from ..core.quantity import ExpressionError, evaluate
from ..core.route.drilling.model import Hole
from ..core.route.rebuild import Plan
from ..core.route.registry import Step, kind_of
from ..core.route.steps.extrude import Extrude
from ..worker.protocol import BuiltPart
from .viewport.tags import Number

#: More than this many labels hide the part.
MOST = 7


def numbers_of(step: Step, plan: Plan, part: BuiltPart) -> tuple[Number, ...]:
    """The sizes of a step that have a value, each at a face the step made or is placed on."""
    places = _places(step, part)
    if not places:
        return ()
    view, plain = plan.view(), type(step)(id=step.id)
    found: list[Number] = []
    for param in kind_of(step).params:
        text = getattr(step, param.field)
        if not param.is_formula or param.want == "number" or not text.strip() or not param.applies(step):
            continue
        as_usual = text == getattr(plain, param.field)
        if as_usual and (param.more or text in ("0", "0°")):
            continue
        value = _designation(text, plan) if param.want == "thread" else view.text(text, param.want)
        number = Number(param.field, f"{param.label} {value}", text, places[len(found) % len(places)])
        found.append(_pulled(number, step, plan, part))
    return tuple(found[:MOST])


def _pulled(number: Number, step: Step, plan: Plan, part: BuiltPart) -> Number:
    """A depth that is a plain number can be pulled along its way: it is none of the drawing's callouts."""
    if number.field != "depth" or callouts_in(number.formula):
        return number
    way = _way(step, part)
    try:
        return number._replace(way=way, value=evaluate(number.formula, plan.ledger)) if way is not None else number
    except ExpressionError:
        return number


def _way(step: Step, part: BuiltPart) -> Vector | None:
    """Along which a depth of one mm reaches: half of it each way of an extrude that goes both ways."""
    if isinstance(step, Extrude) and step.extent == "depth":
        plane = next((s for s in part.shadows if s.sketch == step.sketch), None)
        if plane is None:
            return None
        share = {"forward": 1.0, "backward": -1.0, "both": 0.5}[step.direction]
        x, y, z = cross(plane.x, plane.y)
        return x * share, y * share, z * share
    if isinstance(step, Hole) and step.extent == "depth":
        names = zip(part.surfaces, part.names, strict=True)
        face = next((s for s, own in names if bare(step.face.name) in own and s.kind == "plane"), None)
        return (-face.axis[0], -face.axis[1], -face.axis[2]) if face is not None else None
    return None


def _designation(text: str, plan: Plan) -> str:
    """A thread as written, or the one of the callout that ``text`` names."""
    ref = lone_ref(text)
    if ref is None or ref.number not in plan.ledger.callouts:
        return text
    thread = plan.ledger.reading(ref.number).thread
    return thread.designation if thread is not None else text


def _places(step: Step, part: BuiltPart) -> list[tuple[float, float, float]]:
    """Middles of the faces a step made; else of those it refers to."""
    own = [
        s.center
        for s, names in zip(part.surfaces, part.names, strict=True)
        if any(n.startswith(f"{step.id}/") for n in names)
    ]
    if own:
        return own
    referred = {getattr(getattr(step, f), "name", "") for f in step.__struct_fields__} - {""}
    return [s.center for s, names in zip(part.surfaces, part.names, strict=True) if referred & set(names)]
