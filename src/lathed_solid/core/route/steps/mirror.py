"""Mirror: what other steps cut or added, on the other side of a plane."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ..copying import copied_claims, names_of, set_down
from ..gauges import Claim
from ..model import Built, FaceRef, Param, RouteView, StepBase, StepFailure, StepKind, Workshop

if TYPE_CHECKING:
    from ...kernel.figures import Vector

_NORMALS: dict[str, Vector] = {"yz": (1.0, 0.0, 0.0), "xz": (0.0, 1.0, 0.0), "xy": (0.0, 0.0, 1.0)}


class Mirror(StepBase, frozen=True, kw_only=True, tag="mirror"):
    """About a main plane at ``offset``, a flat ``face``, or midway between the faces ``face`` and ``other``."""

    of: tuple[str, ...] = ()
    about: Literal["yz", "xz", "xy", "face", "midway"] = "yz"
    offset: str = "0"
    face: FaceRef = FaceRef("")
    other: FaceRef = FaceRef("")


def build(step: Mirror, shop: Workshop) -> Built:
    from ...kernel.geometry import mirroring

    return set_down(step.id, step.of, shop, {"m": mirroring(*_plane(step, shop))})


def _plane(step: Mirror, shop: Workshop) -> tuple[Vector, Vector]:
    """A point on the plane (mm) and its unit normal."""
    from ...kernel.geometry import along, dot, minus

    if step.about in _NORMALS:
        normal = _NORMALS[step.about]
        return along((0.0, 0.0, 0.0), normal, shop.value(step.offset, "Offset", positive=False)), normal
    origin, normal = _flat(step.face, shop)
    if step.about == "face":
        return origin, normal
    second, other = _flat(step.other, shop)
    if abs(dot(normal, other)) < 1 - 1e-9:
        raise StepFailure("The two faces are not parallel, so nothing lies midway between them.")
    return along(origin, normal, dot(minus(second, origin), normal) / 2), normal


def _flat(ref: FaceRef, shop: Workshop) -> tuple[Vector, Vector]:
    from ...kernel.surfaces import measure_face

    if not ref.name:
        raise StepFailure("Pick the face to mirror about.")
    surface = measure_face(shop.body.face(shop.body.find(ref.name)[0]))
    if surface.kind != "plane":
        raise StepFailure("A mirror lies in a flat face; the picked one is round.")
    return surface.origin, surface.axis


def claims(step: Mirror, view: RouteView) -> list[Claim]:
    return copied_claims(step.id, step.of, ["m"], "", view)


def summary(step: Mirror, view: RouteView) -> str:
    where = {"yz": "across X", "xz": "across Y", "xy": "across Z", "face": "about a face", "midway": "about the middle"}
    return f"{names_of(step.of, view)} · {where[step.about]}"


KIND = StepKind(
    Mirror,
    "Mirror",
    "mirror",
    (
        Param("of", "Repeats", "steps"),
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
)
