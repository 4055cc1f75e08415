"""How it is made: split and combine."""

from __future__ import annotations

from ...kernel.cut.boolean import combine, in_order, merged, split_by_face
from ...kernel.cut.limits import carried_on, wide_plane
from ...kernel.ground.geometry import flat_frame, shifted
from ..model import Built, StepFailure, Unfinished
from ..planes import MAIN_NORMALS
from ..steps.bodies import Combine, Split
from ..workshop import Maker, Workshop


def build_split(step: Split, shop: Workshop) -> Built:
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


MAKERS = {Split: Maker(build_split), Combine: Maker(build_combine)}
