"""The views of a sheet worked out on the kernel: lines, cuts, centre lines and threads of the part as it is built."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property

import msgspec
from msgspec.structs import replace

from ...drafting.looking import KEYS, eye_of
from ...drafting.sheet.model import Cut, Sheet, SheetView
from ...drafting.sheet.seen import Area, Seen, SeenView
from ...job.attachments import Store
from ...job.files import CannotWrite
from ...job.model import Content
from ...job.proving import weighed
from ...job.surveying import standing_of
from ...kernel.draw.bending import Bend, bent, bent_surfaces
from ...kernel.draw.cutting import CUT, Cutting, cut_open, laid_open
from ...kernel.draw.doubles import singled
from ...kernel.draw.hidden import hidden_lines
from ...kernel.draw.owners import Owners
from ...kernel.draw.strokes import Piece, Stroke, projected
from ...kernel.ground.figures import Surface
from ...kernel.ground.geometry import Frame, flat_frame
from ...kernel.ground.named import LostReference, NamedBody
from ...kernel.measure.surfaces import measure_faces
from ...plan.zero import Standing
from ...prove.plate import SurfacePlate
from ...quantity import evaluate
from ...refusal import Refusal
from ...route.rebuild import Cache, RouteResult, rebuild
from ..whole import why_not_whole
from .centres import centres
from .holds import holds_of
from .threads import thread_lines
from .wavy import wavy


def stand_in(content: Content) -> Content:
    """The part as a drawing shows it: modelled threads and knurls by their round faces."""

    def plain(step: object) -> object:
        return msgspec.structs.replace(step, form="cosmetic") if getattr(step, "form", "") == "modelled" else step  # type: ignore[type-var]

    routes = tuple(msgspec.structs.replace(r, steps=tuple(plain(s) for s in r.steps)) for r in content.routes)
    return msgspec.structs.replace(content, routes=routes)


def built_for_drawing(content: Content, cache: Cache | None, store: Store | None) -> tuple[Content, RouteResult]:
    """The part built for a drawing. Raises CannotWrite when it is not whole."""
    for content_ in (stand_in(content), content):  # where a plain face does not stand for a thread, the thread itself
        result = rebuild(content_.plan(store.find if store else None), cache)
        if not (why := why_not_whole(content, result)):
            return content_, result
    raise CannotWrite(f"A drawing needs the whole part, and {why}. Mend the route in Shape first.")


def seen(
    content: Content, sheet: Sheet, cache: Cache | None = None, store: Store | None = None,
    going: Callable[[], object] = lambda: None, tell: Callable[[Seen], object] = lambda _: None,
) -> Seen:  # fmt: skip
    """What the views of ``sheet`` show of the part, and where its callouts take hold; ``tell`` is given those that are
    drawn while others are still to come, without callouts. Raises CannotWrite.
    """
    plain, result = built_for_drawing(content, cache, store)
    body = result.body
    assert body is not None
    plate = SurfacePlate(body, result.marks, {**result.frames, **result.datums})
    painter = _Painter(plain, result, body, plate.surfaces, standing_of(plain, body))
    figures = weighed(plain, result, check=False)
    found = Seen({}, (), content.turned, figures.figures.low, figures.figures.high, figures.grams)
    for view in sheet.views:
        going()
        if found.views:
            tell(found)
        found = replace(found, views={**found.views, view.id: painter.view(view, sheet)})
    return replace(found, holds=holds_of(plain, result, plate))


class _Painter:
    """Draws views of one built part."""

    def __init__(
        self, content: Content, result: RouteResult, body: NamedBody, surfaces: Sequence[Surface], standing: Standing
    ) -> None:
        self._content, self._result, self._body = content, result, body
        self._surfaces, self._standing = surfaces, standing

    def view(self, view: SheetView, sheet: Sheet) -> SeenView:
        """A detail shows what the view it is of shows."""
        if view.detail is not None:
            view = sheet.view(view.detail.of)
        try:
            eye = self._eye(view)
        except Refusal as error:
            return SeenView(Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)), lost=error.message)
        try:
            return self._seen(view, eye)
        except Refusal as error:
            return SeenView(eye, lost=error.message)

    def _eye(self, view: SheetView) -> Frame:
        if view.way == "face":
            return self._square_to(view)
        return self._standing.in_part(eye_of(KEYS[view.way], "x" if self._content.turned else "z"))

    def _square_to(self, view: SheetView) -> Frame:
        try:
            surface = self._surfaces[self._body.find(view.face.name)[0] - 1]
        except LostReference:
            was = view.face.was or "a face"
            raise Refusal(f"This view was square to {was}, which is not on the part any more. Pick another.") from None
        if surface.kind != "plane":
            raise Refusal("A view can be square to a flat face only.")
        return flat_frame(surface.origin, surface.axis)._replace(origin=self._standing.frame.origin)

    def _seen(self, view: SheetView, eye: Frame) -> SeenView:
        body, areas, steps, levels = self._body, list[Area](), set[int](), tuple[tuple[float, float], ...]()
        surfaces, turn, aligned = self._surfaces, 0.0, view.cut is not None and view.cut.kind == "aligned"
        pivot: Frame | None = None
        if view.cut is not None:
            how = self._cutting(view.cut)
            if aligned:
                bend = self._bend(view.cut, how)
                turn, pivot = bend.turn, bend.about(eye)
                body, surfaces = bent(body, eye, bend), tuple(bent_surfaces(surfaces, eye, bend))
            body, levels = cut_open(body, eye, how), how.steps
            found, level, steps = laid_open(body, eye, how)
            areas = [Area(a.loops, 0 if aligned else a.solid) for a in found]
        owners = self._owners if body is self._body else Owners(body, measure_faces(body))
        pieces = owners.owned(hidden_lines(body.shape, eye))
        if view.cut is not None:
            pieces = _cut_lines(pieces, level, steps, view.cut.kind == "broken out")
            if view.cut.kind == "removed":
                pieces = [p for p in pieces if p.kind == "cut"]
            pieces = [p._replace(faces=self._of_whole(body, p.faces)) for p in pieces]
        strokes = tuple(singled(projected(pieces, eye)))
        threads = thread_lines(self._result.marks, self._body, surfaces, strokes, eye)
        lines = tuple(centres(surfaces, eye, strokes))
        return SeenView(eye, strokes, tuple(areas), lines, threads, levels, turn=turn, pivot=pivot)

    @cached_property
    def _owners(self) -> Owners:
        """The edges of the whole part, the same for every view of it."""
        return Owners(self._body, self._surfaces)

    def _bend(self, cut: Cut, how: Cutting) -> Bend:
        ledger = self._content.ledger()
        turn, edge = evaluate(cut.turn, ledger, "angle"), evaluate(cut.edge, ledger)
        return Bend(turn, cut.below, edge, how.steps[0][0], cut.upright)

    def _cutting(self, cut: Cut) -> Cutting:
        ledger = self._content.ledger()
        steps = tuple((evaluate(s.at, ledger), evaluate(s.to, ledger) if s.to.strip() else 0.0) for s in cut.levels)
        if cut.kind == "broken out":
            return Cutting(steps[:1], region=wavy(cut.middle, cut.reach))
        if cut.kind == "half":
            edge = evaluate(cut.edge, ledger)
            return Cutting(steps[:1], high=edge) if cut.below else Cutting(steps[:1], low=edge)
        return Cutting(steps if cut.kind == "offset" else steps[:1])

    def _of_whole(self, body: NamedBody, faces: Sequence[int]) -> tuple[int, ...]:
        """The faces of the whole part that faces of a cut one are."""
        found = []
        for index in faces:
            for name in sorted(body.names.get(index, ())):
                if not name.startswith(CUT):
                    found += [i for i, own in self._body.names.items() if name in own][:1]
                    break
        return tuple(dict.fromkeys(found))


def _cut_lines(pieces: Sequence[Piece], level: set[int], steps: set[int], broken: bool) -> list[Piece]:
    """Edges of what is laid open are cut lines; edges between two levels of one section are not drawn (ISO 128-3
    clause 6.4), nor is the middle of a half section, where the centre line stands.
    """
    found = []
    for piece in pieces:
        if steps & set(piece.faces) and not broken:
            continue
        if steps & set(piece.faces):
            found.append(piece._replace(kind="torn"))
            continue
        found.append(piece._replace(kind="cut") if level & set(piece.faces) and piece.visible else piece)
    return found


__all__ = ["Stroke", "built_for_drawing", "seen", "stand_in"]
