"""How it is made: cuts turned by table."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ...refusal import said
from ...standards import seats
from ...standards.tables import NotTabled
from ...tolerance import PARALLEL
from ..joining import joined
from ..model import Built, StepFailure
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.form.outline import Loop
    from ...kernel.ground.geometry import Frame
from ...kernel.form.outline import ArcSegment, Segment, flat_face
from ...kernel.form.sweep import revolve
from ...kernel.ground.geometry import Frame, along, dot, frame_about, minus
from ..steps.turned_cut import CentreHole, Undercut
from ..workshop import Maker


def _turned(loop: Loop, frame: Frame, axis: tuple[float, float, float], id_: str, shop: Workshop) -> Built:
    return joined(id_, "cut", [revolve(flat_face(loop, (), frame), frame.origin, axis, id_, "")], shop)


def build_undercut(step: Undercut, shop: Workshop) -> Built:
    """The profile stands at the corner: u away from the shoulder along the axis, v out from the axis."""
    surface = shop.surface(step.face, "the round face")
    shoulder = shop.plane(step.shoulder, "the shoulder")
    if surface.kind != "cylinder" or surface.hollow or abs(abs(dot(surface.axis, shoulder.normal)) - 1) > PARALLEL:
        raise StepFailure("An undercut lies where an outer cylinder meets a flat shoulder square to it.")
    at = along(surface.origin, surface.axis, dot(minus(shoulder.origin, surface.origin), surface.axis))
    out = frame_about(at, shoulder.normal).x
    frame = Frame(at, shoulder.normal, out)
    big = surface.radius
    if step.form == "thread":
        drop, width, r = _thread_groove(step, shop)
        low, slope = big - drop / 2, math.tan(math.radians(30))
        run = drop / 2 / slope
        if width - run <= r:
            raise StepFailure("This thread groove does not fit its own table; check the thread.")
        loop: Loop = (
            ArcSegment("radius", (0.0, low + r), (r - r * math.sqrt(0.5), low + r - r * math.sqrt(0.5)), (r, low)),
            Segment("floor", (r, low), (width - run, low)),
            Segment("run_out", (width - run, low), (width, big)),
            Segment("open", (width, big), (width, big + 0.5)),
            Segment("lid", (width, big + 0.5), (0.0, big + 0.5)),
            Segment("shoulder", (0.0, big + 0.5), (0.0, low + r)),
        )
        return _turned(loop, frame, shoulder.normal, step.id, shop)
    try:
        size = seats.undercut(step.size)
    except NotTabled as error:
        raise StepFailure(error.message) from None
    return _turned(_din509(step.form, size, big), frame, shoulder.normal, step.id, shop)


def _thread_groove(step: Undercut, shop: Workshop) -> tuple[float, float, float]:
    try:
        return seats.thread_groove(shop.thread(step.thread).pitch)
    except NotTabled as error:
        raise StepFailure(error.message) from None


def _din509(form: str, size: seats.Undercut, big: float) -> Loop:
    """Run-out of 15° into the round face; form F goes on 8° up the shoulder."""
    r, low, width = size.radius, big - size.depth, size.width
    run = size.depth / math.tan(math.radians(15))
    u = size.face if form == "F" else 0.0
    start = (-u, low + r)
    q = r * math.sqrt(0.5)
    pieces: list[Segment | ArcSegment] = [
        ArcSegment("radius", start, (-u + r - q, low + r - q), (-u + r, low)),
        Segment("floor", (-u + r, low), (width - run, low)),
        Segment("run_out", (width - run, low), (width, big)),
        Segment("open", (width, big), (width, big + 0.05)),
        Segment("lid", (width, big + 0.05), (0.0, big + 0.05)),
    ]
    if form == "E":
        return (*pieces, Segment("shoulder", (0.0, big + 0.05), start))
    rise = size.face / math.tan(math.radians(8))
    top = min(low + r + rise, low + size.height)
    return (*pieces, Segment("shoulder", (0.0, big + 0.05), (0.0, top)), Segment("lean", (0.0, top), start))


def build_centre(step: CentreHole, shop: Workshop) -> Built:
    surface = shop.surface(step.face, "the end face")
    if surface.kind != "plane" or not surface.circles:
        raise StepFailure("A centre hole is drilled into a flat end with a round edge.")
    pilot = shop.value(step.pilot, "Pilot Ø")
    try:
        size = seats.centre(pilot)
    except NotTabled as error:
        raise StepFailure(error.message) from None
    edge = max(surface.circles, key=lambda c: c.radius)
    mouth, sink = size.mouth / 2, size.sink / 2
    if (sink if step.form == "B" else mouth) >= edge.radius:
        raise StepFailure(f"A centre hole of {said(pilot)} is wider than its face Ø{said(2 * edge.radius)}.")
    a = surface.axis
    base = frame_about(edge.center, (-a[0], -a[1], -a[2]))
    frame = Frame(base.origin, base.normal, base.x)  # u is the depth, v the radius
    d = pilot / 2
    guard = (sink - mouth) / math.tan(math.radians(60)) if step.form == "B" else 0.0
    cone = guard + (mouth - d) / math.tan(math.radians(30))
    depth = size.depth_b if step.form == "B" else size.depth_a
    tip = d / math.tan(math.radians(59))
    points = [(0.0, 0.0)]
    names = ["top"]
    if step.form == "B":
        points += [(0.0, sink), (guard, mouth), (cone, d)]
        names += ["guard", "seat"]
    else:
        points += [(0.0, mouth), (cone, d)]
        names += ["seat"]
    points += [(depth, d), (depth + tip, 0.0)]
    names += ["pilot", "tip", "axis"]
    loop: list[Segment | ArcSegment] = [
        Segment(n, p, q) for n, p, q in zip(names, points, points[1:] + points[:1], strict=True)
    ]
    if step.form == "R":
        # The seat bulges towards the centre point: an arc through both ends of the 60° cone, radius as its slant.
        p, q = points[1], points[2]
        slant = math.dist(p, q)
        middle = ((p[0] + q[0]) / 2, (p[1] + q[1]) / 2)
        bulge = slant - math.sqrt(slant**2 - slant**2 / 4)
        out = ((q[1] - p[1]) / slant, -(q[0] - p[0]) / slant)
        loop[1] = ArcSegment("seat", p, (middle[0] + bulge * out[0], middle[1] + bulge * out[1]), q)
    return _turned(tuple(loop), frame, frame.x, step.id, shop)


MAKERS = {Undercut: Maker(build_undercut), CentreHole: Maker(build_centre)}
