"""Mirror: what other steps cut or added, on the other side of a plane."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ...formulas import Formula
from ..copying import REPEATS, copied_claims, names_of, repeat
from ..gauges import Claim
from ..kinds import RouteView, StepKind
from ..model import Built, FaceRef, Param, StepBase, StepFailure
from ..planes import MAIN_NORMALS
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.figures import Vector


class Mirror(StepBase, frozen=True, kw_only=True, tag="mirror"):
    """About a main plane at ``offset``, a flat ``face``, or midway between the faces ``face`` and ``other``."""

    of: tuple[str, ...] = ()
    of_bodies: tuple[str, ...] = ()
    how: Literal["copy", "again"] = "copy"
    joined: Literal["separate", "joined"] = "separate"
    about: Literal["yz", "xz", "xy", "face", "midway"] = "yz"
    offset: Formula = "0"
    face: FaceRef = FaceRef("")
    other: FaceRef = FaceRef("")


def build(step: Mirror, shop: Workshop) -> Built:
    from ...kernel.ground.placing import mirroring

    return repeat(step, shop, {"m": mirroring(*_plane(step, shop))})


def _plane(step: Mirror, shop: Workshop) -> tuple[Vector, Vector]:
    """A point on the plane (mm) and its unit normal."""
    from ...kernel.ground.geometry import along, dot, minus

    if step.about in MAIN_NORMALS:
        normal = MAIN_NORMALS[step.about]
        return along((0.0, 0.0, 0.0), normal, shop.value(step.offset, "Offset", positive=False)), normal
    first = shop.plane(step.face, "the face to mirror about")
    if step.about == "face":
        return first.origin, first.normal
    second = shop.plane(step.other, "the second face")
    if abs(dot(first.normal, second.normal)) < 1 - 1e-9:
        raise StepFailure("The two faces are not parallel, so nothing lies midway between them.")
    halfway = dot(minus(second.origin, first.origin), first.normal) / 2
    return along(first.origin, first.normal, halfway), first.normal


def claims(step: Mirror, view: RouteView) -> list[Claim]:
    return copied_claims(step, ["m"], "", view, turned_over=True)


def summary(step: Mirror, view: RouteView) -> str:
    where = {"yz": "across X", "xz": "across Y", "xy": "across Z", "face": "about a face", "midway": "about the middle"}
    return f"{names_of(step.of, view)} · {where[step.about]}"


KIND = StepKind(
    Mirror,
    "Mirror",
    "mirror",
    (
        *REPEATS,
        Param(
            "about",
            "About",
            "choice",
            (
                ("yz", "the plane across X"),
                ("xz", "the plane across Y"),
                ("xy", "the plane across Z"),
                ("face", "a flat face"),
                ("midway", "midway between two faces"),
            ),
        ),
        Param("offset", "Offset", "length", when={"about": ("yz", "xz", "xy")}),
        Param("face", "Face", "face", when={"about": ("face", "midway")}),
        Param("other", "Second face", "face", when={"about": ("midway",)}),
    ),
    build,
    claims,
    summary,
    repeatable=True,
)
