"""Thread: a screw thread on a round face, cosmetic with its full designation, or modelled with its true profile."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ...names import lone_ref
from ..gauges import Claim, ThreadDepth, ThreadOn, claim
from ..kinds import RouteView, StepKind
from ..model import FaceRef, Param, StepBase


class Thread(StepBase, frozen=True, kw_only=True, tag="thread"):
    """``note`` is a designation or a callout; ``length`` empty for the whole face.

    A modelled thread is cut into its face: ``phase`` turns it about its axis, ``fit`` takes the basic sizes or the
    middle of the class limits, ``run_out`` is the length over which its groove comes out at the far end. A ``free``
    profile is drawn in ``sketch``: one pitch of the groove's bottom, X along the axis, Y the radius.
    """

    face: FaceRef = FaceRef("")
    note: Formula = ""
    length: Formula = ""
    start: Literal["right", "left"] = "right"
    form: Literal["cosmetic", "modelled"] = "cosmetic"
    profile: Literal["standard", "free"] = "standard"
    sketch: str = ""
    fit: Literal["basic", "class"] = "class"
    phase: Formula = "0°"
    run_out: Formula = ""


def claims(step: Thread, view: RouteView) -> list[Claim]:
    skin = ("root", "rising", "crest", "falling", "groove") if step.form == "modelled" else ()
    faces = (f"{step.id}/{name}" for name in skin)
    return claim(step.note, ThreadOn(step.face.name), *faces) + claim(step.length, ThreadDepth(step.face.name))


def summary(step: Thread, view: RouteView) -> str:
    note = step.note
    if (ref := lone_ref(note)) and (c := view.ledger.callouts.get(ref.number)):
        note = c.note
    return f"{note} · {step.form}"


_MODELLED = {"form": ("modelled",)}
KIND = StepKind(
    Thread,
    "Thread",
    "thread",
    (
        Param("face", "On", "face"),
        Param("note", "Thread", "thread", help="A designation such as M10x1.5 - 6g, or a callout."),
        Param("length", "Length", "length", help="Empty: the whole face."),
        Param("start", "Starts at", "choice", (("right", "the right end"), ("left", "the left end"))),
        Param("form", "Shown", "choice", (("cosmetic", "as lines (cosmetic)"), ("modelled", "modelled, true profile"))),
        Param(
            "profile",
            "Profile",
            "choice",
            (("standard", "of its standard"), ("free", "drawn in a sketch")),
            when=_MODELLED,
        ),
        Param("sketch", "Drawn in", "sketch", when={"form": ("modelled",), "profile": ("free",)}),
        Param(
            "fit",
            "Sizes",
            "choice",
            (("class", "middle of its class"), ("basic", "basic (no allowance)")),
            when=_MODELLED,
        ),
        Param("phase", "Phase", "angle", when=_MODELLED, help="Turns the thread; a nut and bolt of one phase mesh."),
        Param("run_out", "Run-out", "length", when=_MODELLED, help="Empty: one pitch."),
    ),
    claims,
    summary,
    repeatable=True,
)
