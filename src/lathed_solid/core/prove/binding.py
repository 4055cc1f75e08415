"""Binding a callout by hand: which gauge the picked faces make for a characteristic."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import cast

import msgspec

from ..callout.model import ON_THE_PART
from ..kernel.ground.figures import Surface
from ..refusal import Refusal
from ..route.gauges import (
    AnyGauge,
    AxisFrom,
    Between,
    Diameter,
    EndAngle,
    FaceAngle,
    Included,
    Leg,
    LegAngle,
    Radius,
    SeatAngle,
    StandsOn,
    ThreadOn,
    WidestCircle,
)


class Binding(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Callout ``number``, characteristic ``key``, measured by ``gauge``."""

    number: int
    key: str
    gauge: AnyGauge


Picked = Sequence[tuple[str, Surface]]
#: What to pick for each kind, in words.
WANTED = {
    "diameter": "one round face or ball",
    "radius": "one fillet, round face or ball",
    "angle": "one cone, or two faces",
    "length": "two faces (flat, round or a ball), or a chamfer and a flat face beside it (with the face beyond as the "
    "third, it is measured to their corner)",
    "thread": "the round face that carries the thread",
    **dict.fromkeys(ON_THE_PART, "the face on which it stands"),
}


class BindingRefused(Refusal):
    """Faces on which a size of this kind cannot be read; the text says which can."""


def suggest_gauge(kind: str, picked: Picked, nominal: float | None = None) -> AnyGauge:
    """The gauge for a characteristic of ``kind`` on the picked (name, surface) faces: of those that fit, the one whose
    reading comes nearest to ``nominal`` (mm, radians). Raises BindingRefused.
    """
    found = list(_fitting(kind, picked))
    if not found:
        what = {"thread": "thread"}.get(kind, f"{'an' if kind[:1] in 'aeiou' else 'a'} {kind}")
        raise BindingRefused(f"For {what}, pick {WANTED.get(kind, 'faces that can be measured')}.")
    if nominal is None or len(found) == 1:
        return found[0]
    return min(found, key=lambda gauge: away(gauge, picked, nominal))


def _fitting(kind: str, picked: Picked) -> Iterator[AnyGauge]:
    """Every gauge that the picked faces allow, the usual one first."""
    if kind in ON_THE_PART:
        yield from (StandsOn(name) for name, _ in picked[:1] if len(picked) == 1)
        return
    names, kinds = [name for name, _ in picked], [surface.kind for _, surface in picked]
    if len(picked) == 1:
        yield from _on_one(kind, names[0], kinds[0])
    elif len(picked) == 2 and kind == "length":
        yield from _lengths(names, kinds)
    elif len(picked) == 2 and kind == "angle":
        yield from _angles(names, kinds)
    elif len(picked) == 3 and kind in ("length", "angle") and kinds[0] in ("plane", "cone"):
        chamfer, along, beyond = names
        yield (Leg if kind == "length" else LegAngle)(chamfer, along, beyond)


def _on_one(kind: str, name: str, surface: str) -> Iterator[AnyGauge]:
    if kind == "diameter":
        if surface in ("cylinder", "sphere"):
            yield Diameter(name)
        elif surface == "cone":
            yield WidestCircle(name)
    elif kind == "radius" and surface in ("torus", "cylinder", "sphere", "other"):
        yield Radius(name)
    elif kind == "angle" and surface == "cone":
        yield from (SeatAngle(name), LegAngle(name), EndAngle(name))
    elif kind == "length" and surface == "cone":
        yield Leg(name)
    elif kind == "thread" and surface in ("cylinder", "other"):
        yield ThreadOn(name)


def _lengths(names: Sequence[str], kinds: Sequence[str]) -> Iterator[AnyGauge]:
    a, b = names
    if set(kinds) == {"cone", "plane"}:
        yield Leg(*(names if kinds[0] == "cone" else reversed(names)))
        return
    if kinds == ["plane", "plane"]:
        yield from (Between(a, b), Leg(a, b), Leg(b, a))
        return
    if "plane" in kinds:
        flat, round_one = (a, b) if kinds[0] == "plane" else (b, a)
        yield from (Between(flat, round_one), Between(flat, round_one, far=True), AxisFrom(round_one, flat))
    elif set(kinds) <= {"cylinder", "sphere"}:
        yield from (Between(a, b), Between(a, b, near=True), Between(a, b, far=True))


def _angles(names: Sequence[str], kinds: Sequence[str]) -> Iterator[AnyGauge]:
    a, b = names
    if set(kinds) <= {"plane", "cylinder", "cone"}:
        yield from (Included(a, b), Included(a, b, over=True))
        if "plane" in kinds:
            flat, leaning = (a, b) if kinds[0] == "plane" else (b, a)
            yield from (FaceAngle(leaning, flat), LegAngle(leaning, flat))


class _Table:
    """The picked faces by themselves, as a gauge touches them."""

    def __init__(self, picked: Picked) -> None:
        self._surfaces = dict(picked)

    def find(self, name: str) -> list[Surface]:
        return [self._surfaces[name]]

    def one(self, name: str, *kinds: str) -> Surface:
        return self.all(name, *kinds)[0]

    def all(self, name: str, *kinds: str) -> list[Surface]:
        from .plate import Unmeasurable

        if kinds and self._surfaces[name].kind not in kinds:
            raise Unmeasurable("The picked face is of another kind.")
        return [self._surfaces[name]]

    def pieces(self, name: str, like: Surface) -> list[Surface]:
        return [self._surfaces[name]]

    def each(self, gauge, kinds, value):  # type: ignore[no-untyped-def]
        from .plate import Measured

        return Measured(tuple(value(s) for s in self.all(gauge.face, *kinds)), ())


def away(gauge: AnyGauge, picked: Picked, nominal: float) -> float:
    """How far the reading lies from the stated size; infinite for what cannot be read on these faces alone."""
    from .measure import read
    from .plate import SurfacePlate, Unmeasurable

    if isinstance(gauge, Leg) and gauge.other:
        return 1e9  # its extent is known only on the part: taken when nothing else fits
    try:
        return abs(read(cast(SurfacePlate, _Table(picked)), gauge).values[0] - nominal)
    except Unmeasurable:
        return float("inf")
