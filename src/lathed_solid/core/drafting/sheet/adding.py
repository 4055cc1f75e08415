"""Views added to a sheet: sections through a place that was pointed at, details, other sides; and where they stand."""

from __future__ import annotations

import math
from collections.abc import Sequence

import msgspec

from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import Frame, dot, minus
from ...refusal import Refusal
from ...tolerance import PARALLEL
from ..looking import KEYS, Side, eye_of
from .blocks import Box
from .model import XY, Cut, CutKind, Level, Sheet, SheetView, ratio
from .paper import INCH_SCALES, SCALES, frame_of
from .seen import Seen
from .title import title_box

#: A detail is drawn with this radius on paper, and that much larger than its view, at least.
_RADIUS, _LARGER = 12.0, 1.9
_CLEAR, _STEP = 8.0, 5.0


def section_through(view: SheetView, place: XY, upright: bool, seen: Seen, unit: float) -> SheetView:
    """The section by a plane through a place of a view, that stands upright or lies level there; seen from the right,
    or from above. ``unit`` is that of typed lengths, mm. Raises Refusal where the view is slanted.
    """
    eye = _eye(view, seen)
    normal = eye.x if upright else eye.y
    way = next((w for w in KEYS if w != "three faces" and _same(_eye_of(w, seen).normal, normal)), None)
    if way is None or view.way == "face":
        raise Refusal("A section is taken from a view of a whole side: front, top, right …")
    at = place[0] if upright else place[1]
    return SheetView(
        id="", way=way, base=view.id, cut=Cut(levels=(Level(at=_typed(at, unit)),)), hidden=False,
        scale=view.scale,
    )  # fmt: skip


def aligned_through(view: SheetView, place: XY, seen: Seen, unit: float) -> SheetView:
    """The section upright through the axis of a view, one half of it turned so that it goes through a place; ``unit``
    is that of typed lengths, mm. Raises Refusal where the view is slanted, or the place needs no turning.
    """
    axis = axis_of(view, seen)
    plain = section_through(view, axis, True, seen, unit)
    bend = _bent_frame(view, plain, seen)
    up, near = _along(view, (place[0] - axis[0], place[1] - axis[1]), seen, (bend.y, bend.normal))
    if abs(near) < 1e-6:
        raise Refusal("This place lies in the upright plane through the axis: a plain section goes through it.")
    side = -1.0 if up < 0 else 1.0
    turn = math.degrees(math.atan2(-side * near, side * up))
    cut = Cut(kind="aligned", below=up < 0, turn=f"{round(turn, 6):.10g}")
    return msgspec.structs.replace(plain, cut=bent_about(cut, plain, view, axis, seen, unit))


def bent_about(cut: Cut, section: SheetView, view: SheetView, place: XY, seen: Seen, unit: float) -> Cut:
    """An aligned section's cut with its axis through a place of the ``view`` that the section is taken from."""
    eye = _eye_of(section.way, seen)  # type: ignore[arg-type]
    upright = _bent_frame(view, section, seen) != eye
    edge, near = _along(view, place, seen, (eye.x if upright else eye.y, eye.normal))
    levels = (Level(at=_typed(near, unit)),)
    return msgspec.structs.replace(cut, levels=levels, edge=_typed(edge, unit), upright=upright)


def _bent_frame(view: SheetView, section: SheetView, seen: Seen) -> Frame:
    """The eye of a section that is bent about an axis square to the view it is taken from, its x along that axis."""
    eye = _eye_of(section.way, seen)  # type: ignore[arg-type]
    if abs(dot(eye.x, _eye(view, seen).normal)) > 1 - PARALLEL:
        return eye
    x, y, z = eye.x
    return Frame(eye.origin, eye.y, (-x, -y, -z))


def _along(view: SheetView, place: XY, seen: Seen, ways: tuple[Vector, Vector]) -> XY:
    """How far a place of a view lies along two ways."""
    base = _eye(view, seen)
    x, y, z = (place[0] * a + place[1] * b for a, b in zip(base.x, base.y, strict=True))
    return dot((x, y, z), ways[0]), dot((x, y, z), ways[1])


def axis_of(view: SheetView, seen: Seen) -> XY:
    """About what a part that is seen from its end is bent: zero, where that is the middle of something round, else the
    middle of the largest circle, or arc.
    """
    shown = seen.views.get(view.id)
    rounds = [s.arc for s in shown.strokes if s.visible and s.arc is not None] if shown is not None else []
    if seen.turned or not rounds or any(math.hypot(*a.center) < 1e-6 for a in rounds):
        return 0.0, 0.0
    return max(rounds, key=lambda a: (a.is_whole, a.radius)).center


def cut_of(view: SheetView, kind: CutKind, seen: Seen, unit: float, place: XY | None = None, below: bool = True) -> Cut:
    """A cut of the view itself, through the middle of the part; of a turned one through its axis."""
    normal = seen.views[view.id].eye.normal
    low, high = _span(seen, seen.views[view.id].eye, normal)
    at = "0" if seen.turned and abs(normal[2]) < 1e-6 else _typed((low + high) / 2, unit)
    cut = Cut(kind=kind, levels=(Level(at=at),), below=below)
    if kind == "half" and not seen.turned:
        eye = seen.views[view.id].eye
        bottom, top = _span(seen, eye, eye.y)
        cut = msgspec.structs.replace(cut, edge=_typed((bottom + top) / 2, unit))
    if kind == "broken out" and place is not None:
        cut = msgspec.structs.replace(cut, middle=place, reach=max(1.0, 0.12 * max(high - low, _widest(seen))))
    return cut


def _typed(value: float, unit: float) -> str:
    return f"{round(value / unit, 6):.10g}" if abs(value) > 1e-9 else "0"


def _widest(seen: Seen) -> float:
    return max(b - a for a, b in zip(seen.low, seen.high, strict=True))


def _eye(view: SheetView, seen: Seen) -> Frame:
    return _eye_of(view.way, seen) if view.way != "face" else seen.views[view.id].eye


def _eye_of(way: Side, seen: Seen) -> Frame:
    return eye_of(KEYS[way], "x" if seen.turned else "z")


def _same(a: Vector, b: Vector) -> bool:
    return dot(a, b) > 1 - PARALLEL


def _span(seen: Seen, eye: Frame, way: Vector) -> tuple[float, float]:
    """From where to where the part reaches along a way, from the eye's zero."""
    xs, ys, zs = zip(seen.low, seen.high, strict=True)
    reached = [dot(minus((x, y, z), eye.origin), way) for x in xs for y in ys for z in zs]
    return min(reached), max(reached)


def detail_radius(sheet: Sheet, view: SheetView) -> float:
    """What a detail of a view shows, mm of the part."""
    return _RADIUS / sheet.scale_of(view) / _LARGER


def larger_scale(sheet: Sheet, view: SheetView) -> str:
    """The next scale that is about twice as large as that of a view."""
    inch = sheet.size.startswith("ANSI")
    wanted = _LARGER * sheet.scale_of(view)
    return next((s for s in reversed(INCH_SCALES if inch else SCALES) if ratio(s) >= wanted), "50:1")


# --- where a new view stands
def size_seen(view: SheetView, seen: Seen, scale: float, zero: Vector, unit: float) -> Box:
    """About what a view takes up, from where its zero lies (mm of paper); ``unit`` is that of typed lengths, mm."""
    if view.detail is not None:
        reach = view.detail.radius * scale
        return -reach, -reach, reach, reach
    eye = _eye(view, seen)._replace(origin=zero)
    (left, right), (bottom, top) = _span(seen, eye, eye.x), _span(seen, eye, eye.y)
    if view.cut is not None and view.cut.kind == "aligned":
        left, bottom, right, top = _bent_box((left, bottom, right, top), view, view.cut, seen, eye, unit)
    return scale * left, scale * bottom, scale * right, scale * top


def _bent_box(plain: Box, view: SheetView, cut: Cut, seen: Seen, eye: Frame, unit: float) -> Box:
    """What an aligned section may take up: the half that is bent reaches as far from the axis as the view it is taken
    from shows anything.
    """
    base = seen.views.get(view.base)
    try:
        edge, depth = float(cut.edge) * unit, float(cut.levels[0].at) * unit
    except ValueError:  # a formula of a hand
        return plain
    if base is None:
        return plain
    away = minus(eye.at(edge, 0.0, depth) if cut.upright else eye.at(0.0, edge, depth), base.eye.origin)
    axis = dot(away, base.eye.x), dot(away, base.eye.y)
    far = max((math.dist(p, axis) for s in base.strokes if s.visible for p in s.points), default=0.0)
    left, bottom, right, top = plain
    if cut.upright:
        return (left, bottom, max(right, edge + far), top) if cut.below else (min(left, edge - far), bottom, right, top)
    return (left, min(bottom, edge - far), right, top) if cut.below else (left, bottom, right, max(top, edge + far))


def free_place(sheet: Sheet, taken: Sequence[Box], size: Box, near: XY, in_line: str) -> tuple[XY, bool]:
    """Where a view of that ``size`` about its zero stands clear of what is ``taken``, as near as it can to another
    one's zero: beside it ``in_line`` "y", above or below in line "x", anywhere ("") if neither will do. Where it covers
    least, and False, when no place is clear.
    """
    left, bottom, right, top = frame_of(sheet.size)
    others = (*taken, title_box(sheet.size))

    def box(at: XY) -> Box:
        return size[0] + at[0], size[1] + at[1], size[2] + at[0], size[3] + at[1]

    def inside(b: Box) -> bool:
        return b[0] > left + 3 and b[1] > bottom + 3 and b[2] < right - 3 and b[3] < top - 10

    def clear(b: Box) -> bool:
        return inside(b) and not any(_meets(b, t) for t in others)

    reach = int(max(right - left, top - bottom) / _STEP)
    steps = [s * _STEP * sign for s in range(1, reach) for sign in (1, -1)]
    rows = {"y": [(near[0] + d, near[1]) for d in steps], "x": [(near[0], near[1] + d) for d in steps]}.get(in_line, [])
    places = [
        (x, y) for y in _from(top - 12 - size[3], bottom - size[1]) for x in _from(right - 5 - size[2], left - size[0])
    ]
    found = next((at for at in (*rows, *places) if clear(box(at))), None)
    if found is not None:
        return found, True
    within = [at for at in places if inside(box(at))]
    return min(within, key=lambda at: sum(_common(box(at), t) for t in others), default=near), False


def _common(a: Box, b: Box) -> float:
    """The area that two boxes share, mm²."""
    return max(0.0, min(a[2], b[2]) - max(a[0], b[0])) * max(0.0, min(a[3], b[3]) - max(a[1], b[1]))


def _from(high: float, low: float) -> list[float]:
    return [high - k * _STEP for k in range(max(1, int((high - low) / _STEP)))]


def _meets(a: Box, b: Box) -> bool:
    return a[0] < b[2] + _CLEAR and b[0] < a[2] + _CLEAR and a[1] < b[3] + _CLEAR and b[1] < a[3] + _CLEAR
