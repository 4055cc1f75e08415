"""What can be done at a place of a sheet: sections, details, other views, callouts moved from view to view."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import msgspec
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu, QWidget

from ...core.drafting.sheet.adding import (
    aligned_through,
    bent_about,
    cut_of,
    detail_radius,
    free_place,
    larger_scale,
    section_through,
    size_seen,
)
from ...core.drafting.sheet.changing import detail_of, set_view
from ...core.drafting.sheet.model import XY, Cut, CutKind, SheetView, Way
from ...core.drafting.sheet.seen import Seen
from ...core.refusal import Refusal
from ...core.units import INCH
from .drawing import SheetDrawing

WAYS: tuple[Way, ...] = ("front", "back", "top", "bottom", "right", "left", "three faces")


def called(view: SheetView) -> str:
    """What a view is called in lists and menus."""
    if view.detail is not None:
        return f"detail {view.letter}"
    side = {"three faces": "picture", "face": f"square to {view.face.was or 'a face'}"}.get(view.way, view.way)
    if view.cut is None:
        return side
    return f"section {view.letter}-{view.letter}" if view.letter else f"{side}, {view.cut.kind} section"


class Doings:
    """Acts on the sheet that is looked at, at what is chosen there."""

    def __init__(self, drawing: SheetDrawing) -> None:
        self._session, self._drawing = drawing.session, drawing

    @property
    def _unit(self) -> float:
        return INCH if self._drawing.style.unit == "in" else 1.0

    # --- views
    def _add(self, view: SheetView, base: SheetView | None, in_line: str, words: str) -> None:
        """Add a view where it stands clear, in line with the one it is taken from."""
        drawing = self._drawing
        sheet, seen, composed = drawing.sheet, drawing.seen, drawing.composed
        if sheet is None or seen is None or composed is None:
            return
        zero = next((v.eye.origin for v in seen.views.values()), (0.0, 0.0, 0.0))
        size = size_seen(view, seen, sheet.scale_of(view), zero, self._unit)
        near = base.at if base is not None else (sheet.views[0].at if sheet.views else (100.0, 150.0))
        at, is_clear = free_place(sheet, [s.box for s in composed.scene.spots], size, near, in_line)
        drawing.add_view(msgspec.structs.replace(view, at=at), words)
        if not is_clear:
            self._session.say("No place on the sheet is free for it: drag views apart, or take larger paper.", "warn")

    def add_side(self, way: Way) -> None:
        sheet = self._drawing.sheet
        base = next((v for v in sheet.views if v.way == "front"), None) if sheet is not None else None
        line = "" if way == "three faces" else "x" if way in ("top", "bottom") else "y"
        plain = way == "three faces"
        turned = self._drawing.is_turned
        view = SheetView(id="", way=way, hidden=not plain and not turned, tangent=plain, centres=not plain)
        self._add(view, base, line, f"view added: {called(view)}")

    def cut_through(self, upright: bool) -> None:
        """A section through the place that is chosen."""
        self._section(
            lambda view, place, seen: section_through(view, place, upright, seen, self._unit), upright, "section added"
        )

    def bend_through(self) -> None:
        """An aligned section: upright through the axis, its one half through the place that is chosen."""
        self._section(
            lambda view, place, seen: aligned_through(view, place, seen, self._unit), True, "aligned section added"
        )

    def bend_about(self, section: SheetView) -> None:
        """The place that is chosen is the axis of an aligned section that is taken from the view."""
        drawing, view = self._drawing, self._drawing.chosen_view
        place, seen = drawing.pointed.place, drawing.seen
        if view is None or place is None or seen is None or section.cut is None:
            return
        cut = bent_about(section.cut, section, view, place, seen, self._unit)
        drawing.edit(lambda s: set_view(s, section.id, cut=cut), "axis of a section changed")

    def bent_from(self, view: SheetView | None) -> list[SheetView]:
        """The aligned sections that are taken from a view."""
        sheet = self._drawing.sheet
        every = sheet.views if sheet is not None and view is not None else ()
        return [v for v in every if view and v.base == view.id and v.cut is not None and v.cut.kind == "aligned"]

    def bend_last_about(self) -> None:
        """The same of the aligned section that was added last."""
        sections = self.bent_from(self._drawing.chosen_view)
        if not sections or self._drawing.pointed.place is None:
            self._session.say("Click where its axis is to be, in the view that a bent section is taken from.", "warn")
            return
        self.bend_about(sections[-1])

    def _section(self, through: Callable[[SheetView, XY, Seen], SheetView], upright: bool, words: str) -> None:
        drawing, view = self._drawing, self._drawing.chosen_view
        place, seen = drawing.pointed.place, drawing.seen
        if view is None or place is None or seen is None:
            self._session.say("Click where the plane is to go through, in a view.", "warn")
            return
        try:
            made = through(view, place, seen)
        except Refusal as error:
            self._session.refuse(error)
            return
        self._add(made, view, "y" if upright else "x", words)

    def open_up(self, kind: CutKind | None, below: bool = True) -> None:
        """The chosen view itself cut open, or whole again."""
        drawing, view = self._drawing, self._drawing.chosen_view
        if view is None or drawing.seen is None:
            return
        cut: Cut | None = None
        if kind is not None:
            cut = cut_of(view, kind, drawing.seen, self._unit, drawing.pointed.place, below)
        words = "view whole again" if kind is None else f"view cut open: {kind}"
        drawing.edit(lambda s: set_view(s, view.id, cut=cut), words)

    def enlarge(self) -> None:
        """A detail about the place that is chosen."""
        drawing, view = self._drawing, self._drawing.chosen_view
        sheet, place = drawing.sheet, drawing.pointed.place
        if sheet is None or view is None or place is None:
            self._session.say("Click what is to be drawn larger, in a view.", "warn")
            return
        made = detail_of(sheet, view.id, place, detail_radius(sheet, view), (0.0, 0.0), larger_scale(sheet, view))
        self._add(made, view, "", "detail added")

    def square_to(self) -> None:
        """A view square to the flat face that is pointed at, or picked on the part."""
        face = self._drawing.flat()
        if face is None:
            self._session.say("Point at an edge of the flat face, or pick it on the part, first.", "warn")
            return
        view = SheetView(id="", way="face", face=face)
        self._add(view, None, "", "auxiliary view added")

    # --- the menu of a place
    def menu(self, parent: QWidget, at: QPoint) -> None:
        menu = self.menu_for(parent)
        if menu.actions():
            menu.exec(at)

    def menu_for(self, parent: QWidget) -> QMenu:
        """What can be done at what is chosen."""
        menu, pointed = QMenu(parent), self._drawing.pointed
        if pointed.number:
            self._for_callout(menu, pointed.number)
        elif pointed.view:
            self._for_view(menu)
        return menu

    def _for_callout(self, menu: QMenu, number: int) -> None:
        drawing, sheet = self._drawing, self._drawing.sheet
        label = sheet.label(number) if sheet is not None else None
        if sheet is None or label is None:
            return
        by_itself = menu.addAction("Let it stand by itself", lambda: drawing.by_itself(number))
        assert by_itself is not None
        by_itself.setEnabled(label.at is not None)
        views = menu.addMenu("Write it by")
        assert views is not None
        for view in sheet.views:
            if view.id != label.view and view.way != "three faces":
                views.addAction(called(view), partial(drawing.write, [number], view.id))
        menu.addAction("Take it off the sheet", lambda: drawing.remove(f"label:{number}"))

    def _for_view(self, menu: QMenu) -> None:
        view = self._drawing.chosen_view
        if view is None:
            return
        if view.way != "three faces" and view.detail is None:
            menu.addAction("Section upright through here", partial(self.cut_through, True))
            menu.addAction("Section level through here", partial(self.cut_through, False))
            menu.addAction("Section upright, one half bent through here", self.bend_through)
            for section in self.bent_from(view):
                menu.addAction(f"Axis of {called(section)} here", partial(self.bend_about, section))
            menu.addAction("Detail, larger, of this place", self.enlarge)
            if self._drawing.has_faces:
                menu.addAction("View square to this face", self.square_to)
            own = menu.addMenu("Cut this view open")
            assert own is not None
            own.addAction("all of it", partial(self.open_up, "full"))
            own.addAction("its lower half", partial(self.open_up, "half", True))
            own.addAction("its upper half", partial(self.open_up, "half", False))
            own.addAction("only about this place", partial(self.open_up, "broken out"))
            own.addAction("only the cut itself", partial(self.open_up, "removed"))
            if view.cut is not None:
                own.addAction("not at all", partial(self.open_up, None))
        menu.addAction("Remove this view", lambda: self._drawing.remove(f"view:{view.id}"))
