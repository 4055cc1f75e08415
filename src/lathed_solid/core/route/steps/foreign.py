"""A body from a STEP, BREP or STL file: drilled, chamfered and proved like our own."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Param, StepBase


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
    claims,
    summary,
)
