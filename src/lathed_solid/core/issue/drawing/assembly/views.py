"""The views of an assembly worked out on the kernel: every part where it stands, cut open as drawings cut."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace
from shapely import Polygon
from shapely import box as rectangle

from ....drafting.looking import KEYS, eye_of
from ....drafting.sheet.model import Cut, Sheet, SheetView
from ....drafting.sheet.seen import Area, Hold, Seen, SeenView
from ....fit.mass import bill, weigh
from ....fit.model import Assembly, Instance
from ....fit.poses import rotation
from ....fit.values import worked_out
from ....job.assembling.judging import body_of
from ....job.attachments import Store
from ....job.files import CannotWrite
from ....kernel.draw.bending import Bend, bent_among
from ....kernel.draw.cutting import Cutting, laid_open, lies_before, opened
from ....kernel.draw.doubles import singled
from ....kernel.draw.hidden import hidden_lines_of
from ....kernel.draw.shadows import shadow, uncovered
from ....kernel.draw.strokes import XY, Stroke, projected
from ....kernel.ground.geometry import Frame
from ....kernel.ground.named import NamedBody
from ....kernel.ground.placing import moved, rigid
from ....kernel.ground.topology import Shape
from ....kernel.measure.boxes import box
from ....refusal import Refusal
from ..wavy import wavy
from .axes import Looked, axes

#: An edge so near the step between two levels of a section is that step (mm).
_STEP = 1e-2
_FAR = 1e6


class _Stood(NamedTuple):
    """An instance where it stands; ``number`` is that of its part, ``whole`` whether it is never cut open."""

    instance: Instance
    number: int
    shape: Shape
    whole: bool


def seen(
    assembly: Assembly, sheet: Sheet, store: Store, going: Callable[[], object] = lambda: None,
    tell: Callable[[Seen], object] = lambda _: None,
) -> Seen:  # fmt: skip
    """What the views of ``sheet`` show of an assembly as it stands, and where its items take hold: lines belong to the
    instances that are shown, counted from 1. ``tell`` is given the views that are drawn while others are still to come.
    Raises CannotWrite for an empty one, or Refusal for a part that is not at hand.
    """
    stood = list(_standing(assembly, store))
    if not stood:
        raise CannotWrite("There is nothing in this assembly to draw. Put parts in first.")
    corners = np.array([box(one.shape) for one in stood])
    low, high = tuple(corners[:, 0].min(axis=0).tolist()), tuple(corners[:, 1].max(axis=0).tolist())
    found = Seen({}, (), False, low, high, weigh(assembly).grams)
    for view in sheet.views:
        going()
        if found.views:
            tell(found)
        found = replace(found, views={**found.views, view.id: _view_of(view, sheet, stood, assembly)})
    return replace(found, holds=_holds(assembly, stood))


def _standing(assembly: Assembly, store: Store) -> Iterator[_Stood]:
    solid, numbers = body_of(store), {p.id: n for n, p in enumerate(assembly.parts)}
    for instance in assembly.instances:
        if not instance.hidden:
            part = assembly.part(instance.part)
            shape = moved(solid(part).shape, rigid(rotation(instance.pose).tolist(), instance.pose.place))
            yield _Stood(instance, numbers[instance.part], shape, part.is_fastener)


def _holds(assembly: Assembly, stood: Sequence[_Stood]) -> tuple[Hold, ...]:
    """One a line of the bill: its item number, and the instances of that part."""
    found = []
    for line in bill(assembly):
        own = tuple(n for n, s in enumerate(stood, 1) if s.instance.part == line.part.id)
        if own:
            found.append(Hold(line.item, "", own))
    return tuple(found)


def _view_of(view: SheetView, sheet: Sheet, stood: Sequence[_Stood], assembly: Assembly) -> SeenView:
    """A detail shows what the view it is of shows."""
    if view.detail is not None:
        view = sheet.view(view.detail.of)
    if view.way == "face":
        eye = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
        return SeenView(eye, lost="An assembly is seen from its sides; this view is square to a face of a part.")
    eye = eye_of(KEYS[view.way], "z")
    try:
        how = _cutting(view.cut, assembly) if view.cut is not None else None
        bend = _bend(view.cut, how, assembly) if view.cut is not None and view.cut.kind == "aligned" and how else None
        drawn = _drawn([_bent(one, eye, bend) for one in stood] if bend else stood, eye, view, how, bend)
        looked = Looked(eye, how, bend, view.hidden)
        lines = tuple(axes(assembly, [one.instance for one in stood], looked, drawn.strokes))
        drawn = replace(drawn, centres=lines if view.cut is None or view.cut.kind != "removed" else ())
        return replace(drawn, turn=bend.turn, pivot=bend.about(eye)) if bend else drawn
    except Refusal as error:
        return SeenView(eye, lost=error.said_in(assembly.unit))


def _cutting(cut: Cut, assembly: Assembly) -> Cutting:
    """Raises Refusal for a number that cannot be worked out."""
    far = [worked_out(s.to, assembly, "length") if s.to.strip() else 0.0 for s in cut.levels]
    steps = tuple((worked_out(s.at, assembly, "length"), to) for s, to in zip(cut.levels, far, strict=True))
    if cut.kind == "broken out":
        return Cutting(steps[:1], region=wavy(cut.middle, cut.reach))
    if cut.kind == "half":
        edge = worked_out(cut.edge, assembly, "length")
        return Cutting(steps[:1], high=edge) if cut.below else Cutting(steps[:1], low=edge)
    return Cutting(steps if cut.kind == "offset" else steps[:1])


def _bend(cut: Cut, how: Cutting, assembly: Assembly) -> Bend:
    turn, edge = worked_out(cut.turn, assembly, "angle"), worked_out(cut.edge, assembly, "length")
    return Bend(turn, cut.below, edge, how.steps[0][0], cut.upright)


def _bent(one: _Stood, eye: Frame, bend: Bend) -> _Stood:
    body = bent_among(NamedBody(one.shape, []), eye, bend, one.whole)
    return one._replace(shape=body.shape if body is not None else one.shape.__class__())


def _drawn(
    stood: Sequence[_Stood], eye: Frame, view: SheetView, how: Cutting | None, bend: Bend | None = None
) -> SeenView:
    """Bought parts are not cut (ISO 128-3 clause 6.5). Where two halves meet that are bent, there is no line."""
    shapes, areas = list[Shape](), list[Area]()
    owners: list[int] = []  # the instance of each area
    for n, one in enumerate(stood, 1):
        body = NamedBody(one.shape, [])
        if one.shape.IsNull() or (one.whole and how is not None and lies_before(body, eye, how)):
            shapes.append(one.shape.__class__())
            continue
        if how is not None and not one.whole:
            made = opened(body, eye, how)
            if made is None:
                shapes.append(one.shape.__class__())
                continue
            body = made
            found, _, _ = laid_open(body, eye, how)
            areas += [Area(a.loops, one.number) for a in found]
            owners += [n] * len(found)
        shapes.append(body.shape)
    if how is not None:
        whole = [s for one, s in zip(stood, shapes, strict=True) if one.whole and not s.IsNull()]
        covers = [c for shape in whole for c in _covered(shape, eye, how)]
        rest = [uncovered(a.loops, covers) for a in areas]
        owners = [n for n, pieces in zip(owners, rest, strict=True) for _ in pieces]
        areas = [Area(loops, a.solid) for a, pieces in zip(areas, rest, strict=True) for loops in pieces]
    levels = how.steps if how is not None else ()
    if view.cut is not None and view.cut.kind == "removed":
        rims = [Stroke("cut", True, _ring(loop), (n,)) for n, a in zip(owners, areas, strict=True) for loop in a.loops]
        return SeenView(eye, tuple(rims), tuple(areas), levels=levels)
    strokes = singled(projected(hidden_lines_of(shapes, eye, view.hidden), eye))
    shown = (s for s in strokes if not _is_step(s, levels) and not (_is_joint(s, bend) and _is_cut(s, stood)))
    return SeenView(eye, tuple(shown), tuple(areas), levels=levels)


def _ring(loop: Sequence[XY]) -> tuple[XY, ...]:
    return (*loop, loop[0]) if loop[0] != loop[-1] else tuple(loop)


def _covered(shape: Shape, eye: Frame, how: Cutting) -> Iterator[Polygon]:
    """What a part that is left whole covers of the areas behind it, level by level."""
    start = -_FAR
    for n, (level, to) in enumerate(how.steps):
        end = _FAR if n == len(how.steps) - 1 else to
        strip = rectangle(start, -_FAR, end, _FAR)
        for outline in shadow(shape, eye._replace(origin=eye.at(0.0, 0.0, level))):
            left = outline.intersection(strip)
            yield from (p for p in getattr(left, "geoms", (left,)) if isinstance(p, Polygon))
        start = end


def _is_joint(stroke: Stroke, bend: Bend | None) -> bool:
    """Whether a line lies where the halves of an aligned section meet."""
    if bend is None or not stroke.is_straight:
        return False
    return all(abs(p[0 if bend.upright else 1] - bend.edge) < _STEP for p in stroke.points)


def _is_cut(stroke: Stroke, stood: Sequence[_Stood]) -> bool:
    """Whether a line belongs to parts that are cut open."""
    return all(not stood[n - 1].whole for n in stroke.faces)


def _is_step(stroke: Stroke, levels: Sequence[tuple[float, float]]) -> bool:
    """Whether a line is the step between two levels of one section, which is not drawn (ISO 128-3 clause 6.4)."""
    return stroke.is_straight and any(all(abs(p[0] - to) < _STEP for p in stroke.points) for _, to in levels[:-1])
