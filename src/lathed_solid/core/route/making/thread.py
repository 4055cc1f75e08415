"""How it is made: thread."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any, NamedTuple

from ...refusal import said
from ...standards.tables import NotTabled
from ...standards.thread_limits import limits
from ...standards.thread_profiles import PAST as _PAST
from ...standards.threads import ScrewThread
from ..model import Built, StepFailure, ThreadMark, Tooling, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.form.helicoid import Fade, Piece
    from ...kernel.ground.figures import Surface
    from ...kernel.ground.geometry import Frame
    from ...kernel.ground.named import NamedBody
import numpy as np

from ...kernel.cut.boolean import combine
from ...kernel.cut.gluing import band, chamfer_tool, exchange
from ...kernel.cut.rest import rest_of
from ...kernel.form.helicoid import Fade, Piece, thread_skin, thread_sleeve, threaded_rod
from ...kernel.ground.check import KernelFailure
from ...kernel.ground.geometry import along, dot, flat_frame
from ...kernel.ground.named import NamedBody
from ...kernel.measure.inside import Inside
from ..outlines import profile_points
from ..steps.thread import Thread
from ..workshop import Maker


def build(step: Thread, shop: Workshop) -> Built:
    if not step.face.name:
        raise Unfinished("Pick the round face that carries the thread.")
    surface = shop.surface(step.face)
    if surface.kind != "cylinder":
        raise StepFailure("A thread is carried by a round face; the picked face is not a cylinder.")
    thread = shop.thread(step.note)
    face_length = surface.span[1] - surface.span[0]
    length = shop.value(step.length, "Length") if step.length.strip() else face_length
    remark = "" if surface.hollow else _blank(step, thread, 2 * surface.radius)
    # The chamfered end belongs to the threaded length, so the face itself may be a little shorter.
    if length > face_length + 2 * thread.pitch:
        short = f"The thread is {said(length)} long, the face only {said(face_length)}: it ends with the face."
        remark = f"{remark} {short}".strip()
        length = face_length
    modelled = step.form == "modelled"
    mark = ThreadMark(step.face.name, thread, length, surface.hollow, _from_high(step, surface), modelled, step.id)
    if not modelled:
        return Built(shop.body, None, (mark,), remark)
    run = _reach(step, shop, surface, min(length, face_length), thread)
    shop.frames[f"{step.id}/axis"] = run.frame
    if run.fade.low + run.fade.high >= run.high - run.low:
        raise StepFailure(f"The run-out of {said(run.fade.low + run.fade.high)} is longer than the thread.")
    if (glued := _glued(step, shop, surface, thread, run)) is not None:
        return Built(glued, None, (mark,), remark)
    body, tool = _cut(step, shop, surface, thread, run)
    return Built(body, Tooling("cut", (tool,)), (mark,), remark)


def _blank(step: Thread, thread: ScrewThread, diameter: float) -> str:
    """What to say of the blank of an external thread. Raises StepFailure for one it cannot be cut on."""
    off = abs(diameter - thread.diameter)
    if off <= 0.3 * thread.pitch:
        return ""
    if step.form == "modelled" or off > thread.diameter - thread.minor_diameter:
        raise StepFailure(
            f"{thread.designation} needs a face of about Ø{said(thread.diameter)}; this one is Ø{said(diameter)}."
        )
    return f"{thread.designation} is cut on Ø{said(thread.diameter)}; this face is Ø{said(diameter)}. Turn it to size."


def _from_high(step: Thread, surface: Surface) -> bool:
    """Whether the thread begins at the high end of the face's own axis: the right end is that towards plus."""
    towards = max(surface.axis, key=abs) > 0
    return (step.start == "right") == towards


class _Run(NamedTuple):
    """Where the thread goes: ``frame`` at part zero on its axis, from ``low`` to ``high`` along it, how it fades, and
    the ends of the face itself.
    """

    frame: Frame
    low: float
    high: float
    fade: Fade
    face: tuple[float, float]


def _glued(step: Thread, shop: Workshop, surface: Surface, thread: ScrewThread, run: _Run) -> NamedBody | None:
    """The thread in place of a face between two flat ones, chamfered or not; None when it must be cut instead."""
    body, frame = shop.body, run.frame
    ends = band(body, surface.index, frame)
    stops = [end for end, fade in ((ends.low, run.fade.low), (ends.high, run.fade.high)) if fade] if ends else []
    if ends is None or any(end.chamfer for end in stops):
        return None
    low = run.low if ends.low in stops else ends.low.level
    high = run.high if ends.high in stops else ends.high.level
    hand: dict[str, bool] = {"left_hand": thread.left_hand}
    section, phase = _section(step, shop, surface, thread, 0.0), _phase(step, shop)
    skin = thread_skin(frame, section, thread.lead, low, high, phase=phase, fade=run.fade, sink=surface.hollow, **hand)
    rest_low = ends.low in stops
    rest = rest_of(skin, frame, surface.radius, rest_low, stops[0].level, **hand) if stops else None
    if stops and rest is None:
        return None
    past = 2 * thread.pitch
    tools = [chamfer_tool(body, end, frame, hollow=surface.hollow, past=past) for end in ends.chamfers]
    try:
        made = exchange(body, surface.index, ends, skin, frame, hollow=surface.hollow, **hand, tag=step.id, rest=rest,
                        rest_low=rest_low)  # fmt: skip
        return combine("cut", made, tools) if tools else made
    except KernelFailure:
        return None


def _phase(step: Thread, shop: Workshop) -> float:
    return shop.value(step.phase, "Phase", "angle", positive=False)


#: Turns in one row of patches, tried in this order: the kernel's cut fails on some meetings of patch and cylinder and
#: works on others, and says nothing when it is wrong.
_TRIES = (2.0, 1.0, 1.37, 0.73, 2.61)


#: A result is believed when what it took away is so near to the integral of the profile (ends and chamfers differ).
_NEAR = 0.25


def _cut(step: Thread, shop: Workshop, surface: Surface, thread: ScrewThread, run: _Run) -> tuple[NamedBody, NamedBody]:
    body, wanted = shop.body, _missing(step, shop, surface, thread, run)
    for turns in _TRIES:
        tool = _tool(step, shop, surface, thread, run, turns)
        try:
            made = combine("cut", body, [tool])
        except KernelFailure:
            continue
        if abs((body.volume - made.volume) / wanted - 1) < _NEAR:
            return made, tool
    raise StepFailure(
        "The kernel could not cut this thread here. Thread the whole face between two flat ends, change its phase or "
        "length a little, or leave it cosmetic."
    )


def _missing(step: Thread, shop: Workshop, surface: Surface, thread: ScrewThread, run: _Run) -> float:
    """What the thread takes away by the integral of its profile, mm³; half of it where it fades."""
    section = _section(step, shop, surface, thread, _PAST)
    at, radius = (np.concatenate([getattr(p, f) for p in section]) for f in ("at", "radius"))
    r = np.interp(np.linspace(0.0, thread.lead, 4001), at, radius, period=thread.lead)
    blank = surface.radius
    clipped = np.maximum(r, blank) if surface.hollow else np.minimum(r, blank)
    area = float(np.mean(np.abs(clipped**2 - blank**2))) * math.pi
    low, high = max(run.low, run.face[0]), min(run.high, run.face[1])
    return area * (high - low - (run.fade.low + run.fade.high) / 2)


def _tool(step: Thread, shop: Workshop, surface: Surface, thread: ScrewThread, run: _Run, turns: float) -> NamedBody:
    """What is cut away: the sleeve round an external thread, or the rod of an internal one."""
    section = _section(step, shop, surface, thread, _PAST)
    how: dict[str, Any] = {
        "phase": _phase(step, shop), "left_hand": thread.left_hand, "fade": run.fade, "turns_a_row": turns
    }  # fmt: skip
    if surface.hollow:
        made = threaded_rod(run.frame, section, thread.lead, run.low, run.high, sink=True, **how)
    else:
        outside = surface.radius + 2 * thread.pitch
        made = thread_sleeve(run.frame, section, thread.lead, run.low, run.high, outside, **how)
    return NamedBody(made.solid, [(f, f"{step.id}/{name}") for f, name in made.faces])


def _reach(step: Thread, shop: Workshop, surface: Surface, length: float, thread: ScrewThread) -> _Run:
    """A free end is carried past the face, through its chamfer, into the open; so is the far end of a thread over the
    whole face unless a shoulder or the bottom of the hole is in the way.
    """
    frame = flat_frame((0.0, 0.0, 0.0), surface.axis)
    at = dot(surface.origin, surface.axis)
    frame = frame._replace(origin=along(surface.origin, surface.axis, -at))
    low, high = at + surface.span[0], at + surface.span[1]
    over = abs(surface.radius - thread.minor_diameter / 2) + 2 * thread.pitch
    run_out = shop.value(step.run_out, "Run-out") if step.run_out.strip() else thread.pitch
    right = _from_high(step, surface)
    if length >= high - low - 1e-9:
        inside = Inside((shop.bodies.get(shop.owner(step.face.name)) or shop.body).shape)
        wide = surface.radius + (0.3 if surface.hollow else 0.05) * thread.pitch
        far = low - 0.02 * thread.pitch if right else high + 0.02 * thread.pitch
        if not any(inside(frame.at(wide * c, wide * s, far)) for c, s in _RING):
            return _Run(frame, low - over, high + over, Fade(), (low, high))
    if right:
        return _Run(frame, high - length, high + over, Fade(low=run_out), (low, high))
    return _Run(frame, low - over, low + length, Fade(high=run_out), (low, high))


_RING = tuple((math.cos(a), math.sin(a)) for a in (0.1, 1.7, 3.3, 4.9))


def _section(step: Thread, shop: Workshop, surface: Surface, thread: ScrewThread, past: float) -> list[Piece]:
    from ...standards.thread_profiles import free_profile, profile

    try:
        if step.profile == "free":
            pieces = free_profile(
                profile_points(shop.sketch(step.sketch)), thread, surface.radius, surface.hollow, past
            )
        else:
            pieces = profile(thread, surface.radius, surface.hollow, _allowance(step, thread, surface.hollow), past)
    except NotTabled as error:
        raise StepFailure(error.message) from None
    return [Piece(p.name, p.at, p.radius) for p in pieces]


def _allowance(step: Thread, thread: ScrewThread, internal: bool) -> float:
    """How far the flanks lie from the basic profile, radially (mm): half the pitch diameter's deviation."""
    if step.fit == "basic":
        return 0.0
    try:
        low, high = limits(thread, internal).pitch
    except NotTabled:
        return 0.0
    return ((low + high) / 2 - thread.pitch_diameter) / 2


MAKERS = {Thread: Maker(build)}
