"""Split and combine: one body made into several, several into one."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Built, FaceRef, Param, StepBase, StepFailure, Unfinished
from ..planes import MAIN_NORMALS
from ..workshop import Workshop


class Split(StepBase, frozen=True, kw_only=True, tag="split"):
    """The body is parted by a plane or by a face carried on; ``keep`` says what stays. The part on the far side of a
    plane's normal keeps the body's place, the other becomes a body of its own.
    """

    by: Literal["face", "xy", "xz", "yz"] = "face"
    face: FaceRef = FaceRef("")
    offset: Formula = "0"
    keep: Literal["both", "front", "back"] = "both"


class Combine(StepBase, frozen=True, kw_only=True, tag="combine"):
    """The bodies ``others`` are added to the body worked on, cut from it, or only what they share is kept.

    With ``tools`` kept the others stay as they are.
    """

    mode: Literal["add", "cut", "keep"] = "add"
    others: tuple[str, ...] = ()
    tools: Literal["used", "kept"] = "used"


def build_split(step: Split, shop: Workshop) -> Built:
    from ...kernel.cut.boolean import in_order, merged, split_by_face
    from ...kernel.cut.limits import carried_on, wide_plane
    from ...kernel.ground.geometry import flat_frame, shifted

    offset = shop.value(step.offset, "Offset", positive=False)
    if step.by != "face":
        frame = shifted(flat_frame((0.0, 0.0, 0.0), MAIN_NORMALS[step.by]), offset)
        tool = wide_plane(frame)
    elif step.face.name.partition("/")[0] in shop.datums or shop.surface(step.face).kind == "plane":
        frame = shifted(shop.plane(step.face), offset)
        tool = wide_plane(frame)
    else:
        owner = shop.bodies[shop.owner(step.face.name)]
        tool = carried_on(owner.face(owner.find(step.face.name)[0]))
        frame = flat_frame((0.0, 0.0, 0.0), shop.surface(step.face).axis)
    pieces = in_order(split_by_face(shop.body, tool, f"{step.id}/cut"), frame)
    if len(pieces) < 2:
        raise StepFailure("The cut does not part the body: it lies beside it.")
    home = shop.active
    if step.keep == "front":
        kept = pieces[1:] if len(pieces) == 2 else pieces[-1:]
    else:
        kept = pieces[:1] if step.keep == "back" else pieces
    shop.bodies[home] = kept[0]
    for number, piece in enumerate(kept[1:], 1):
        shop.bodies[step.id if number == 1 else f"{step.id}/{number}"] = piece
    shop.active = home
    return Built(merged(kept[0]))


def build_combine(step: Combine, shop: Workshop) -> Built:
    from ...kernel.cut.boolean import combine

    others = [i for i in step.others if i != shop.active]
    if not others:
        raise Unfinished("Choose the bodies to combine with this one.")
    missing = [i for i in others if i not in shop.bodies]
    if missing:
        raise StepFailure("A body to combine is not there. Choose the bodies again.")
    made = combine(step.mode, shop.body, [shop.bodies[i] for i in others])
    if step.tools == "used":
        for i in others:
            shop.bodies.pop(i)
    return Built(made)


def claims(step: StepBase, view: RouteView) -> list[Claim]:
    return []


def split_summary(step: Split, view: RouteView) -> str:
    return {"both": "both parts stay", "front": "front part stays", "back": "back part stays"}[step.keep]


def combine_summary(step: Combine, view: RouteView) -> str:
    count = len(step.others)
    how = {"add": "add", "cut": "cut away", "keep": "keep what is shared with"}[step.mode]
    return f"{how} {count} bod{'y' if count == 1 else 'ies'}"


SPLIT = StepKind(
    Split,
    "Split",
    "part_off",
    (
        Param(
            "by",
            "By",
            "choice",
            (
                ("face", "a face or plane"),
                ("xy", "the plane across Z"),
                ("xz", "the plane across Y"),
                ("yz", "the plane across X"),
            ),
        ),
        Param("face", "Face", "face", when={"by": ("face",)}),
        Param("offset", "Offset", "length"),
        Param(
            "keep", "Stays", "choice", (("both", "both parts"), ("front", "the front part"), ("back", "the back part"))
        ),
    ),
    build_split,
    claims,
    split_summary,
)
COMBINE = StepKind(
    Combine,
    "Combine bodies",
    "combine",
    (
        Param("mode", "How", "choice", (("add", "add"), ("cut", "cut away"), ("keep", "keep what they share"))),
        Param("others", "Bodies", "bodies"),
        Param("tools", "Those bodies", "choice", (("used", "are used up"), ("kept", "stay"))),
    ),
    build_combine,
    claims,
    combine_summary,
)
