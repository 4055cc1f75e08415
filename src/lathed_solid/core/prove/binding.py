"""Binding a callout by hand: which gauge the picked faces make for a characteristic."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from ..kernel.figures import Surface
from ..route.gauges import AnyGauge, AxisFrom, Between, Diameter, Leg, Radius, SeatAngle


class Binding(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Callout ``number``, characteristic ``key``, measured by ``gauge``."""

    number: int
    key: str
    gauge: AnyGauge


def suggest_gauge(kind: str, picked: Sequence[tuple[str, Surface]]) -> AnyGauge:
    """The gauge for a characteristic of ``kind`` on the picked (name, surface) faces. Raises ValueError in words."""
    kinds = sorted(surface.kind for _, surface in picked)
    names = [name for name, _ in picked]
    if kind == "diameter" and kinds in (["cylinder"], ["sphere"]):
        return Diameter(names[0])
    if kind == "radius" and kinds in (["torus"], ["cylinder"], ["sphere"]):
        return Radius(names[0])
    if kind == "angle" and kinds == ["cone"]:
        return SeatAngle(names[0])
    if kind == "length":
        if kinds == ["cone"]:
            return Leg(names[0])
        if kinds == ["cylinder", "plane"]:
            (round_name, round_face), (flat_name, flat) = sorted(picked, key=lambda p: p[1].kind)
            crossing = abs(sum(a * b for a, b in zip(round_face.axis, flat.axis, strict=True))) < 1e-9
            return AxisFrom(round_name, flat_name) if crossing and round_face.hollow else Between(flat_name, round_name)
        if kinds in (["plane", "plane"], ["cylinder", "cylinder"]):
            return Between(names[0], names[1])
    wanted = {
        "diameter": "one round face",
        "radius": "one fillet or round face",
        "angle": "one cone",
        "length": "two flat faces, a flat and a round face, or a chamfer",
    }.get(kind, "faces that can be measured")
    raise ValueError(f"For a {kind}, pick {wanted}.")
