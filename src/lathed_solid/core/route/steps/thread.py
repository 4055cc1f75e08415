"""Thread: a cosmetic screw thread on a round face, carrying its full designation."""

from __future__ import annotations

from typing import Literal

from ..gauges import Claim, ThreadDepth, ThreadOn, claim
from ..model import Built, FaceRef, Param, RouteView, StepBase, StepFailure, StepKind, ThreadMark, Workshop


class Thread(StepBase, frozen=True, kw_only=True, tag="thread"):
    """``note`` is a designation or a callout; ``length`` empty for the whole face."""

    face: FaceRef = FaceRef("")
    note: str = ""
    length: str = ""
    start: Literal["right", "left"] = "right"


def build(step: Thread, shop: Workshop) -> Built:
    from ...kernel.surfaces import measure_face

    if not step.face.name:
        raise StepFailure("Pick the round face that carries the thread.")
    index = shop.body.find(step.face.name)[0]
    surface = measure_face(shop.body.face(index), index)
    if surface.kind != "cylinder":
        raise StepFailure("A thread is carried by a round face; the picked face is not a cylinder.")
    thread = shop.thread(step.note)
    face_length = surface.span[1] - surface.span[0]
    length = shop.value(step.length, "Length") if step.length.strip() else face_length
    # The chamfered end belongs to the threaded length, so the face itself may be a little shorter.
    if length > face_length + 2 * thread.pitch:
        raise StepFailure(f"The thread is {length:g} long, the face only {face_length:g}.")
    if not surface.hollow and abs(2 * surface.radius - thread.diameter) > 0.3 * thread.pitch:
        raise StepFailure(
            f"{thread.designation} needs a face of about Ø{thread.diameter:g}; this one is Ø{2 * surface.radius:g}."
        )
    mark = ThreadMark(step.face.name, thread, length, surface.hollow, step.start == "right")
    return Built(shop.body, None, (mark,))


def claims(step: Thread, view: RouteView) -> list[Claim]:
    return claim(step.note, ThreadOn(step.face.name)) + claim(step.length, ThreadDepth(step.face.name))


def summary(step: Thread, view: RouteView) -> str:
    note = step.note
    if note.startswith("#") and (c := view.ledger.callouts.get(int(note[1:].partition(".")[0] or 0))):
        note = c.note
    return f"{note} · cosmetic"


KIND = StepKind(
    Thread,
    "Thread",
    "thread",
    (
        Param("face", "On", "face"),
        Param("note", "Thread", "thread", help="A designation such as M10x1.5 - 6g, or a callout."),
        Param("length", "Length", "length", help="Empty: the whole face."),
        Param("start", "Starts at", "choice", (("right", "the right end"), ("left", "the left end"))),
    ),
    build,
    claims,
    summary,
)
