"""A body from a STEP or BREP file: drilled, chamfered and proved like our own."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim
from ..joining import joined
from ..kinds import RouteView, StepKind
from ..model import Built, FileLook, Param, StepBase, Unfinished
from ..workshop import Workshop


class Foreign(StepBase, frozen=True, kw_only=True, tag="foreign"):
    """``attachment`` is the file kept in the job, ``file`` the name it had. Faces are named after what and where they
    are, so that a new issue of the file keeps the names of faces that did not move. ``scale`` multiplies all sizes.
    Begun anew, every solid of the file is a body of its own, with its name and colour; ``mend`` mends faulty ones.
    """

    attachment: str = ""
    file: str = ""
    mode: Literal["add", "cut", "keep", "new"] = "new"
    scale: Formula = "1"
    mend: Literal["no", "mend"] = "no"


def build(step: Foreign, shop: Workshop) -> Built:
    from ...kernel.files.reading import read_solids

    if not step.attachment:
        raise Unfinished("Choose the STEP or BREP file.")
    data = shop.attachment(step.attachment)
    scale = shop.value(step.scale, "Scale", "number")
    found = read_solids(data, step.file, step.id, scale, step.mend == "mend")
    if step.mode != "new":
        return joined(step.id, step.mode, [f.body for f in found], shop)
    shop.begin(step.id)
    for number, one in enumerate(found, 1):
        id_ = step.id if number == 1 else f"{step.id}/{number}"
        shop.bodies[id_] = one.body
        shop.looks[id_] = FileLook(one.name, one.color)
    remark = f"The file holds {len(found)} solids: each is a body of its own." if len(found) > 1 else ""
    return Built(found[0].body, remark=remark)


def claims(step: Foreign, view: RouteView) -> list[Claim]:
    return []


def summary(step: Foreign, view: RouteView) -> str:
    return step.file or "no file yet"


KIND = StepKind(
    Foreign,
    "Body from a file",
    "foreign",
    (
        Param("attachment", "File", "file"),
        Param(
            "mode",
            "Material",
            "choice",
            (("new", "begin a new body"), ("add", "add"), ("cut", "cut away"), ("keep", "keep only the inside")),
        ),
        Param("scale", "Scale", "number", more=True),
        Param("mend", "Faults", "choice", (("no", "refuse"), ("mend", "mend")), more=True),
    ),
    build,
    claims,
    summary,
)
