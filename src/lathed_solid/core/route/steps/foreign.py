"""A body from a STEP or BREP file: drilled, chamfered and proved like our own."""

from __future__ import annotations

from typing import Literal

from ..gauges import Claim
from ..joining import joined
from ..model import Built, Param, RouteView, StepBase, StepKind, Unfinished
from ..workshop import Workshop


class Foreign(StepBase, frozen=True, kw_only=True, tag="foreign"):
    """``attachment`` is the file kept in the job, ``file`` the name it had. Faces are named after what and where they
    are, so that a new issue of the file keeps the names of faces that did not move. ``scale`` multiplies all sizes.
    """

    attachment: str = ""
    file: str = ""
    mode: Literal["add", "cut", "keep", "new"] = "new"
    scale: str = "1"


def build(step: Foreign, shop: Workshop) -> Built:
    from ...kernel.reading import read_solids

    if not step.attachment:
        raise Unfinished("Choose the STEP or BREP file.")
    data = shop.attachment(step.attachment)
    scale = shop.value(step.scale, "Scale", "number")
    bodies = read_solids(data, step.file, step.id, scale)
    return joined(step.id, step.mode, bodies, shop)


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
    ),
    build,
    claims,
    summary,
)
