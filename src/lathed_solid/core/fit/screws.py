"""Screws in what they go into: how far the threads engage, against what that material asks for; whether there is room
under the tip; whether the head sits on something, or on what stands between.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

import numpy as np

from ..arrays import Floats
from ..kernel.ground.figures import Surface
from ..refusal import said
from ..standards.engagement import engagement_for
from ..standards.threads import reach_on
from .model import BOUGHT, Assembly, Instance, PartShot, Threaded
from .poses import aimed, placed, rotation

#: Axes this close are one (mm), and directions this parallel; faces this close touch (mm).
_CLOSE, _PARALLEL, _TOUCHES = 0.02, 1e-4, 0.005
#: A nut's thread holds its screw as far as it is engaged to this share: its height is the standard's.
_WHOLE = 0.98
#: Engaged over less than this share of what the material asks for it is not held.
_FAR_BELOW = 0.6
#: A screw comes this many pitches through its nut: chamfered turns carry nothing.
_THROUGH = 1.0
#: What is farther from a head than so many times its shank's radius is not what it is to sit on.
_NO_SEAT = 8.0
#: A circle wider than so many times the head is not the hole it goes through.
_OPEN = 1.5
Mark = Literal["good", "look", "bad"]


class Screwed(NamedTuple):
    """A screw (or stud) in a tapped hole or a nut: instances, thread, how far it is engaged (mm), and what there is to
    be said of it, each with its mark.
    """

    screw: str
    into: str
    thread: str
    engaged: float
    diameter: float
    said: tuple[tuple[Mark, str], ...]

    @property
    def mark(self) -> Mark:
        marks = {mark for mark, _ in self.said}
        return "bad" if "bad" in marks else "look" if "look" in marks else "good"


class _Along(NamedTuple):
    """A line in the room: what lies along it is measured from ``at``, mm."""

    at: Floats
    way: Floats

    def of(self, point: Floats) -> float:
        return float((point - self.at) @ self.way)

    def is_on(self, point: Floats) -> bool:
        away = point - self.at
        return float(np.linalg.norm(away - (away @ self.way) * self.way)) < _CLOSE


def screws(assembly: Assembly) -> tuple[Screwed, ...]:
    """Every external thread that stands in an internal one, those with something against them first."""
    found = list(_all(assembly))
    return tuple(sorted(found, key=lambda s: ("bad", "look", "good").index(s.mark)))


def _all(assembly: Assembly) -> Iterator[Screwed]:
    parts = {p.id: p for p in assembly.parts}
    inner = [(i, t) for i in assembly.instances for t in parts[i.part].threads if t.internal]
    for screw in assembly.instances:
        for outer in parts[screw.part].threads:
            line = _line(parts[screw.part], screw, outer)
            if outer.internal or line is None:
                continue
            for into, thread in inner:
                if into.id != screw.id and _on_line(parts[into.part], into, thread, line):
                    made = _screwed(assembly, parts, (screw, outer), (into, thread), line)
                    if made is not None:
                        yield made


def _line(part: PartShot, instance: Instance, thread: Threaded) -> _Along | None:
    s = part.carrier(thread)
    if s is None or s.kind not in ("cylinder", "cone"):
        return None
    return _Along(placed(instance.pose, np.array(s.origin)), aimed(instance.pose, s.axis))


def _on_line(part: PartShot, instance: Instance, thread: Threaded, line: _Along) -> bool:
    other = _line(part, instance, thread)
    return (
        other is not None and line.is_on(other.at) and abs(abs(float(other.way @ line.way)) - 1) < _PARALLEL * _PARALLEL
    )


def _span(part: PartShot, instance: Instance, thread: Threaded, line: _Along) -> tuple[float, float]:
    """Where a thread begins and ends along a line, mm."""
    s = part.carrier(thread)
    assert s is not None
    low, high = reach_on(s.span, thread.length, thread.from_high)
    axis = np.array(s.axis)
    one, two = sorted(line.of(placed(instance.pose, np.array(s.origin) + v * axis)) for v in (low, high))
    return one, two


def _screwed(
    assembly: Assembly,
    parts: dict[str, PartShot],
    screw: tuple[Instance, Threaded],
    into: tuple[Instance, Threaded],
    line: _Along,
) -> Screwed | None:
    rod, hole = _span(parts[screw[0].part], *screw, line), _span(parts[into[0].part], *into, line)
    engaged = min(rod[1], hole[1]) - max(rod[0], hole[0])
    if engaged <= _TOUCHES:
        return None
    thread, other = screw[1].thread, into[1].thread
    name = thread.designation
    made: list[tuple[Mark, str]] = []
    if not _alike(thread, other):
        made.append(("bad", f"{name} does not go into {other.designation}"))
    # The screw goes in towards its tip: away from its head, or the way it is engaged farther.
    head = _head(parts[screw[0].part], screw[0], screw[1], line)
    tip = _tip(parts[screw[0].part], screw[0], line, head, rod, hole)
    made += _held(parts[into[0].part], engaged, hole, thread.diameter)
    made += _under_the_tip(parts[into[0].part], into, line, tip, thread.pitch)
    if head is not None:
        made += _seat(assembly, parts, screw[0], line, head, tip[1])
    return Screwed(screw[0].id, into[0].id, name, engaged, thread.diameter, tuple(made))


def _alike(a: object, b: object) -> bool:
    return all(
        abs(getattr(a, f) - getattr(b, f)) < 1e-6 for f in ("diameter", "pitch", "starts", "left_hand")
    )  # hand and starts are told apart as numbers


def _held(part: PartShot, engaged: float, hole: tuple[float, float], diameter: float) -> list[tuple[Mark, str]]:
    """How much of the thread carries, against what the material asks for."""
    much = engaged / diameter
    words = f"engaged {said(engaged)}, {much:.2g} times its diameter"
    if _is_nut(part, hole):
        if engaged >= _WHOLE * (hole[1] - hole[0]):
            return [("good", "engaged over the whole nut")]
        return [("bad", f"only {said(engaged)} of the nut's {said(hole[1] - hole[0])} engaged")]
    wanted = engagement_for(part.material)
    if wanted is None:
        material = f"for {part.material} no length is tabled" if part.material else "its material is not known"
        return [("look", f"{words}; {material}")]
    if much >= wanted - 1e-6:
        return [("good", f"{words} ({part.material}: {wanted:g})")]
    # The rule is a round figure, and a thread that is engaged all along can hold no more: far below it only is it bad.
    whole = engaged >= _WHOLE * (hole[1] - hole[0])
    told = f"{words}{', all there is of it' if whole else ''}; {part.material} asks for {wanted:g}"
    return [("bad" if much < _FAR_BELOW * wanted and not whole else "look", told)]


def _is_nut(part: PartShot, hole: tuple[float, float]) -> bool:
    """A bought nut: its thread goes through it, and its height is tabled with it."""
    return part.path.startswith(BOUGHT) and hole[1] - hole[0] > 0.5 * min(b - a for a, b in zip(*part.box, strict=True))


def _faces(part: PartShot, instance: Instance, line: _Along) -> Iterator[tuple[Surface, float, float]]:
    """Flats across a line that have a circle about it, or hold the line's own point: where along it, and which way
    they look (1: along, -1: against).
    """
    turn = rotation(instance.pose)
    for s in part.surfaces:
        if s.kind == "plane":
            looks = float(turn @ np.array(s.axis) @ line.way)
            if abs(abs(looks) - 1) < _PARALLEL:
                yield s, line.of(placed(instance.pose, np.array(s.origin))), looks


def _about(instance: Instance, s: Surface, line: _Along) -> list[float]:
    """The radii of a flat's circles about a line."""
    return [c.radius for c in s.circles if line.is_on(placed(instance.pose, np.array(c.center)))]


class _Head(NamedTuple):
    """The underside of a head: where along the line, which way it looks, its largest radius, the shank's; what it is
    called.
    """

    at: float
    looks: float
    radius: float
    shank: float
    name: str


def _head(part: PartShot, instance: Instance, thread: Threaded, line: _Along) -> _Head | None:
    own = part.carrier(thread)
    assert own is not None
    shanks = [own.radius]
    # A plain length of shank may stand between the thread and the head.
    shanks += [s.radius for s in part.surfaces if s.kind == "cylinder" and not s.hollow and s.radius > own.radius]
    best: _Head | None = None
    middle = line.of(placed(instance.pose, np.array(own.center)))
    for s, at, looks in _faces(part, instance, line):
        radii = _about(instance, s, line)
        inner = min(radii, default=0.0)
        looks_at_thread = (middle - at) * looks > 0
        if not looks_at_thread or inner < own.radius - _CLOSE or not any(abs(inner - r) < _CLOSE for r in shanks):
            continue
        outer = max(radii) if len(radii) > 1 else float(np.sqrt(s.area / np.pi + inner * inner))
        # The first shoulder from the thread on is the one that comes to sit.
        if outer > inner + _CLOSE and (best is None or abs(at - middle) < abs(best.at - middle)):
            best = _Head(at, looks, outer, inner, "the head" if part.path.startswith(BOUGHT) else "its shoulder")
    return best


def _tip(
    part: PartShot, instance: Instance, line: _Along, head: _Head | None, rod: tuple[float, float],
    hole: tuple[float, float],
) -> tuple[float, float]:  # fmt: skip
    """Where a screw's tip is along the line, and which way it points."""
    if head is not None:
        way = head.looks
    else:
        way = 1.0 if (rod[0] + rod[1]) < (hole[0] + hole[1]) else -1.0
    ends = [at for s, at, looks in _faces(part, instance, line) if looks * way > 0]
    return (max(way * at for at in (*ends, *rod)) * way, way)


def _under_the_tip(
    part: PartShot, into: tuple[Instance, Threaded], line: _Along, tip: tuple[float, float], pitch: float
) -> list[tuple[Mark, str]]:
    """Room under the tip in a blind hole; how far it comes through where the hole goes through."""
    instance, thread = into
    at, way = tip
    start, end = _span(part, instance, thread, line)
    last = end if way > 0 else start
    floor = _floor(part, instance, thread, line, way)
    if floor is not None:
        room = (floor - at) * way
        beyond = (at - last) * way
        if room < -_TOUCHES:
            return [("bad", f"bottoms: {said(-room)} too long for its hole")]
        if beyond > pitch:
            return [("bad", f"runs {said(beyond)} past the last full thread before it is home")]
        return [("good", f"{said(room)} room under the tip")]
    through = (at - last) * way
    if not _is_nut(part, (start, end)):
        return []
    if through >= _THROUGH * pitch - _TOUCHES:
        return [("good", f"comes {said(through)} through the nut")]
    return [("look", f"comes {said(max(through, 0.0))} through the nut; a turn or more is usual")]


def _floor(part: PartShot, instance: Instance, thread: Threaded, line: _Along, way: float) -> float | None:
    """Where a blind hole ends on its axis: its drill point, or its flat floor; None for one that goes through."""
    own = part.carrier(thread)
    assert own is not None
    middle = line.of(placed(instance.pose, np.array(own.center)))
    found = []
    for s in part.surfaces:
        if s.kind == "cone" and s.hollow and line.is_on(placed(instance.pose, np.array(s.origin))):
            back = s.radius / np.tan(s.half_angle)
            apex = np.array(s.origin) - back * np.array(s.axis)
            top = line.of(placed(instance.pose, apex))
            # A countersink at the mouth widens the other way; a drill point ends on the axis.
            widens = float(aimed(instance.pose, s.axis) @ line.way)
            if widens * way < 0 and (top - middle) * way > 0 and len(s.circles) < 2:
                found.append(top)
    for s, at, looks in _faces(part, instance, line):
        radii = _about(instance, s, line)
        if looks * way < 0 and (at - middle) * way > 0 and len(radii) == 1 and abs(radii[0] - own.radius) < _CLOSE:
            found.append(at)
    return min(found, key=lambda v: v * way, default=None)


def _seat(
    assembly: Assembly, parts: dict[str, PartShot], screw: Instance, line: _Along, head: _Head, way: float
) -> Iterator[tuple[Mark, str]]:
    """What the head sits on: the nearest flat that looks at it, about the same line. A part whose every such flat is
    open wider than the head lets it through.
    """
    bears: tuple[float, Instance] | None = None
    lets: tuple[float, Instance, float] | None = None
    for other in (i for i in assembly.instances if i.id != screw.id):
        found = list(_under(parts[other.part], other, line, head, way))
        holding = [gap for gap, radius in found if radius < head.radius - _CLOSE]
        if holding and (bears is None or min(holding) < bears[0]):
            bears = min(holding), other
        elif not holding and found and (lets is None or min(found)[0] < lets[0]):
            lets = min(found)[0], other, max(min(found)[1], head.shank)
    if lets is not None and (bears is None or lets[0] < bears[0]):
        _, other, hole = lets
        wide, name = said(2 * hole), assembly.called(other.id)
        yield "bad", f"{head.name}, Ø{said(2 * head.radius)}, falls through the hole of {name}, Ø{wide}"
    elif bears is not None and bears[0] > _TOUCHES:
        # It may be meant so: an adjusting screw, a stop.
        yield "look", f"{head.name} stands {said(bears[0])} off {assembly.called(bears[1].id)}"
    elif bears is not None:
        yield "good", f"{head.name} sits on {assembly.called(bears[1].id)}"


def _under(part: PartShot, instance: Instance, line: _Along, head: _Head, way: float) -> Iterator[tuple[float, float]]:
    """Flats of a part under a head that are open about the line: how far below it, and the radius they are open to."""
    if not _holes_at(part, instance, line):
        return
    for s, at, looks in _faces(part, instance, line):
        gap, radii = (at - head.at) * way, _about(instance, s, line)
        is_under = looks * way < 0 and -_CLOSE <= gap <= _NO_SEAT * head.shank
        if is_under and radii and min(radii) < _OPEN * head.radius:
            yield gap, min(radii)


def _holes_at(part: PartShot, instance: Instance, line: _Along) -> list[float]:
    """The radii of a part's bores about a line."""
    return sorted(
        s.radius
        for s in part.surfaces
        if s.kind == "cylinder" and s.hollow and line.is_on(placed(instance.pose, np.array(s.origin)))
        and abs(abs(float(aimed(instance.pose, s.axis) @ line.way)) - 1) < _PARALLEL
    )  # fmt: skip
