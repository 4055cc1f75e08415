"""What patterns and mirrors share: other steps' tooling set down again elsewhere, and what that states."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Literal

import msgspec

from ..names import Renames
from ..quantity import ExpressionError, evaluate
from .gauges import AxisAngle, AxisFrom, CircleThrough, Claim, Count, Diameter, Position, ThreadOn, claim
from .kinds import RouteView
from .model import Built, Param, StepBase, StepFailure, ThreadMark, Unfinished
from .workshop import Workshop

if TYPE_CHECKING:
    from ..kernel.ground.geometry import Frame
    from ..kernel.ground.named import NamedBody
    from ..kernel.ground.placing import Transform
    from .model import Tooling

#: No part has more of anything that repeats.
MOST = 5000
#: What only the first one is stated to have: where it stands.
PLACES = (AxisAngle, AxisFrom, CircleThrough, Position)


class Repeating(StepBase, frozen=True, kw_only=True):
    """The fields that every pattern and mirror has.

    ``how``: ``copy`` sets the finished shapes down again; ``again`` works every step out anew in each place, so that
    its ends find the material there. ``of_bodies`` are copied whole, ``joined`` to the one they came from or separate.
    """

    of: tuple[str, ...] = ()
    of_bodies: tuple[str, ...] = ()
    how: Literal["copy", "again"] = "copy"
    joined: Literal["separate", "joined"] = "separate"


def repeat(step: Repeating, shop: Workshop, places: Mapping[str, Transform]) -> Built:
    """What a pattern gives: ``places`` maps the key of each copy to a kernel transform. Raises StepFailure."""
    if step.of_bodies:
        return body_copies(step.id, step.of_bodies, step.joined, shop, places)
    if step.how == "again":
        return _again(step, shop, places)
    return set_down(step.id, step.of, shop, places)


def renames(id_: str, key: str, of: Sequence[str]) -> list[tuple[str, str]]:
    """How the faces of the repeated steps are called on copy ``key``."""
    return [(f"{source}/", f"{id_}/{key}/{source}/") for source in of]


def _broken(id_: str, of: Sequence[str], shop: Workshop, places: Mapping[str, Transform]) -> Tooling:
    """Break the edges of the chamfers and fillets among ``of`` at every place, once all else stands there."""
    from ..kernel.form.sweep import edges_moved
    from ..kernel.ground.named import LostReference
    from .model import Tooling

    tooling = Tooling("break")
    for source in (s for s in of if breaks(s, shop)):
        step, found = shop.steps.get(source), shop.tooling.get(source)
        if step is None or found is None or not shop.breaks_edges(step):
            raise StepFailure("The edges to repeat are missing: their step is suppressed, or copies others itself.")
        there = {key: [edges_moved(group, place) for group in found.edges] for key, place in places.items()}
        try:
            shop.current = shop.break_alike(step, there, {key: renames(id_, key, of) for key in places})
        except LostReference:
            raise StepFailure(
                f"Where the copies of “{step.name or source}” belong there are no such edges. Tick the step that makes "
                "those edges as well, or leave the copies out that have none."
            ) from None
        every = (group for groups in there.values() for group in groups)
        tooling = tooling._replace(edges=(*tooling.edges, *(tuple(g) for g in every)))
    return tooling


def body_copies(id_: str, bodies: Sequence[str], joined: str, shop: Workshop, places: Mapping[str, Transform]) -> Built:
    """Whole bodies set down at every place, ``joined`` to the one they came from or separate. Raises StepFailure."""
    from ..kernel.cut.boolean import combine
    from ..kernel.form.sweep import moved

    home = shop.active
    for source in bodies:
        if source not in shop.bodies:
            raise StepFailure("A body to repeat is not there. Choose the bodies again.")
        copies = {k: moved(shop.bodies[source], t, ("", f"{id_}/{k}/")) for k, t in places.items()}
        standing = dict(shop.frames)
        for k, t in places.items():
            shop.frames.update(_carried(standing, "", f"{id_}/{k}/", t))
        if joined == "joined":
            shop.bodies[source] = combine("add", shop.bodies[source], list(copies.values()))
        else:
            shop.bodies |= {f"{id_}/{k}/{source}": body for k, body in copies.items()}
    shop.active = home
    return Built(shop.body)


def _again(step: Repeating, shop: Workshop, places: Mapping[str, Transform]) -> Built:
    """Every source step built anew in every place."""
    from ..kernel.ground.check import KernelFailure
    from ..kernel.ground.named import LostReference
    from .model import Tooling

    if not step.of:
        raise Unfinished("Pick the step to repeat.")
    marks: tuple[ThreadMark, ...] = ()
    tools: list[NamedBody] = []
    mode: Literal["add", "cut", "keep", "break"] = "cut"
    solid = [s for s in step.of if not breaks(s, shop)]
    for key, place in places.items():
        for source in solid:
            if source not in shop.steps or source not in shop.tooling:
                raise StepFailure("The step to repeat is missing, suppressed, or cuts nothing that can be repeated.")
            sub = msgspec.structs.replace(shop.steps[source], id=f"{step.id}/{key}/{source}")
            try:
                with shop.at(place):
                    shop.at_work = sub.id
                    built = shop.build(sub)
            except (StepFailure, KernelFailure, LostReference) as error:
                raise StepFailure(
                    f"Copy {key} cannot be worked out in its place: {error.message} "
                    "Leave it out, or choose “copy of the shape”."
                ) from None
            shop.current = built.body
            marks += built.marks
            if built.tooling:
                mode = built.tooling.mode
                tools += built.tooling.tools
    if len(solid) < len(step.of):
        _broken(step.id, step.of, shop, places)
    return Built(shop.body, Tooling(mode, tuple(tools)), marks)


def breaks(source: str, shop: Workshop) -> bool:
    """Whether a step broke edges."""
    found = shop.tooling.get(source)
    return found is not None and found.mode == "break"


def set_down(id_: str, of: Sequence[str], shop: Workshop, places: Mapping[str, Transform]) -> Built:
    """The tooling of steps ``of`` at every place (key to kernel transform); faces are named ``<id>/<key>/<name>``.

    All that adds goes in one operation, then all that cuts. Raises StepFailure.
    """
    from ..kernel.cut.boolean import combine
    from ..kernel.form.sweep import moved
    from .model import Tooling

    if not of:
        raise Unfinished("Pick the step to repeat.")
    found = {source: shop.tooling.get(source) for source in of}
    if None in found.values():
        raise StepFailure("The step to repeat is missing, suppressed, or cuts nothing that can be repeated.")
    marks, last = [], None
    for mode in ("add", "cut"):
        tools: list[NamedBody] = []
        for source, tooling in found.items():
            if tooling is None or tooling.mode != mode:
                continue
            for key, place in places.items():
                new = f"{id_}/{key}/{source}/"
                tools += [moved(t, place, (f"{source}/", new)) for t in tooling.tools]
                shop.frames.update(_carried(shop.frames, f"{source}/", new, place))
                marks += [
                    msgspec.structs.replace(m, face=new + m.face.removeprefix(f"{source}/"))
                    for m in shop.marks
                    if m.face.startswith(f"{source}/")
                ]
        if tools:
            shop.current = combine(mode, shop.body, tools)
            last = Tooling(mode, tuple(tools))
    if any(breaks(s, shop) for s in of):
        broken = _broken(id_, of, shop, places)
        last = last or broken
    if last is None:
        raise StepFailure("A step that keeps only what is inside an outline cannot be repeated.")
    return Built(shop.body, last, tuple(marks))


def _carried(frames: Mapping[str, Frame], old: str, new: str, place: Transform) -> dict[str, Frame]:
    """The planes that a step's sizes are measured in, as they stand with a copy of it."""
    from ..kernel.ground.placing import moved_frame

    return {new + n.removeprefix(old): moved_frame(f, place) for n, f in frames.items() if n.startswith(old)}


def whole_count(text: str, shop: Workshop, what: str, least: int = 2) -> int:
    """A count formula. Raises StepFailure for what is no whole number of at least ``least``."""
    value = shop.value(text, "Count", "number")
    if value < least or abs(value - round(value)) > 1e-9:
        raise StepFailure(f"A {what} needs a whole number of at least {least}; this is {value:g}.")
    if value > MOST:
        raise StepFailure(f"A {what} of {value:.0f} is more than the {MOST} that can be made.")
    return round(value)


def spread(k: int, count: int) -> int:
    """How many pitches copy ``k`` stands from the original when that is in the middle: the first half of them are on
    the other side.
    """
    first = (count - 1) // 2
    return -k if k <= first else k - first


def stated_count(text: str, view: RouteView) -> int:
    """The count a formula states; 0 when it cannot be read, or is more than can be made."""
    try:
        found = round(evaluate(text, view.ledger, "number"))
    except ExpressionError:
        return 0
    return found if found <= MOST else 0


def copied_claims(
    step: Repeating,
    keys: Sequence[str],
    count: str,
    view: RouteView,
    turned_over: bool = False,
    about_axis: bool = False,
) -> list[Claim]:
    """The sizes of every copy, and how many there are by the formula ``count`` ("" to leave that out).

    Copies turned ``about_axis`` all lie on the circle that the first one lies on.

    Copies that are ``turned_over`` (a mirror's) do not start in the face the original started in.
    """
    if step.of_bodies:
        return body_claims(step.id, keys, view)
    found: list[Claim] = []
    for source in step.of:
        if source not in view.steps:
            continue
        made = view.kind_of(view.steps[source]).claims(view.steps[source], view)
        for key in keys:
            found += _elsewhere(made, renames(step.id, key, step.of), not turned_over, about_axis)
        side = next((c.gauge.face for c in made if isinstance(c.gauge, Diameter | ThreadOn)), "")
        if side and count:
            found += claim(count, Count(side, tuple(f"{step.id}/{key}/{side}" for key in keys)))
    return found


def body_claims(id_: str, keys: Sequence[str], view: RouteView) -> list[Claim]:
    """All that was stated before of the bodies that are copied whole; the copies keep every face's name."""
    found: list[Claim] = []
    for other in view.steps.values():
        if other.id == id_:
            break
        if other.suppressed:
            continue
        made = view.kind_of(other).claims(other, view)
        for key in keys:
            found += _elsewhere(made, [("", f"{id_}/{key}/")], True)
    return found


def _elsewhere(made: Sequence[Claim], names: Renames, foreign: bool, on_circle: bool = False) -> list[Claim]:
    kept = (c for c in made if not isinstance(c.gauge, PLACES) or (on_circle and isinstance(c.gauge, CircleThrough)))
    there = (c.retagged(names, foreign) for c in kept)
    return [c for c in there if c is not None]


def names_of(of: Sequence[str], view: RouteView) -> str:
    return ", ".join(view.steps[s].name or s for s in of if s in view.steps) or "nothing yet"


#: The fields of :class:`Repeating` as the editor shows them.
REPEATS = (
    Param("of", "Repeats", "steps"),
    Param("of_bodies", "Bodies", "bodies", help="Whole bodies instead of steps.", more=True),
    Param(
        "how",
        "Each copy is",
        "choice",
        (("copy", "a copy of the shape"), ("again", "worked out again in its place")),
        more=True,
    ),
    Param("joined", "Copied bodies", "choice", (("separate", "stay separate"), ("joined", "are joined")), more=True),
)
