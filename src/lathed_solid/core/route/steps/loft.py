"""Loft: a body laid through two or more outlines."""

from __future__ import annotations

from typing import Literal

from ..gauges import Claim
from ..joining import MATERIAL
from ..kinds import RouteView, StepKind
from ..model import Param, StepBase


class Loft(StepBase, frozen=True, kw_only=True, tag="loft"):
    """Through the outlines in order. ``straight`` lays flat or ruled sides between them, ``smooth`` one skin over all;
    ``first`` and ``last`` let it leave those planes square. Corners nearest to the ``guide`` lines follow them.
    """

    sketch: str = ""
    sketch2: str = ""
    sketch3: str = ""
    sketch4: str = ""
    mode: Literal["add", "cut", "keep", "new"] = "add"
    sides: Literal["straight", "smooth"] = "straight"
    first: Literal["free", "square"] = "free"
    last: Literal["free", "square"] = "free"
    guide: str = ""
    guide2: str = ""


def claims(step: Loft, view: RouteView) -> list[Claim]:
    return []


def summary(step: Loft, view: RouteView) -> str:
    names = [n for n in (step.sketch, step.sketch2, step.sketch3, step.sketch4) if n]
    return f"{step.mode} · {len(names)} outlines · {step.sides}"


_SMOOTH = {"sides": ("smooth",)}
_ENDS = (("free", "as it comes"), ("square", "square to the outline"))
KIND = StepKind(
    Loft,
    "Loft",
    "loft",
    (
        Param("sketch", "First outline", "sketch"),
        Param("sketch2", "Second outline", "sketch"),
        Param("sketch3", "Third outline", "sketch", more=True),
        Param("sketch4", "Fourth outline", "sketch", more=True),
        MATERIAL,
        Param("sides", "Sides", "choice", (("straight", "straight between outlines"), ("smooth", "one smooth skin"))),
        Param("first", "Leaves the first", "choice", _ENDS, when=_SMOOTH),
        Param("last", "Meets the last", "choice", _ENDS, when=_SMOOTH),
        Param("guide", "Guide line", "sketch", when=_SMOOTH, more=True),
        Param("guide2", "Second guide", "sketch", when=_SMOOTH, more=True),
    ),
    claims,
    summary,
    repeatable=True,
)
