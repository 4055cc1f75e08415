"""The tab Strategy: what the part is like, what follows for the way to make it, and a button that begins so."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from ...core.drawing.paper import Drawing
from ...core.drawing.views import DrawnView
from ...core.job.datums import hung
from ...core.job.drafted import flat_route, turned_route
from ...core.job.model import Content
from ...core.job.rewriting.asked import Rewriting
from ...core.plan.advice import Advice
from ...core.plan.coordinates import places
from ...core.plan.drawn import from_views
from ...core.plan.prismatic import Prism, prism_of
from ...core.plan.strategy import Datum, Seen, from_callouts, from_solid
from ...core.plan.symmetry import main_axis
from ...core.plan.turned import profile_of
from ...core.route.registry import KINDS
from ...core.tolerance import LEVEL, ONE_PLACE
from ..picking import Picking
from ..session import Session
from .planning import Planning

_TITLES = {kind.struct.__name__.lower(): kind.title for kind in KINDS.values()}
_TITLES |= dict.fromkeys(("turned", "flat"), "a route so drafted") | {
    "half": "half and mirror",
    "quarter": "quarter and mirrors",
}
_NONE = "Type callouts, or build a solid: then it says what the part is like and how it may be begun."
_HOW = "Choose a sentence: the faces it is about are lit, and the rule behind it is told here."


class StrategyPanel(QWidget):
    """``begin`` asks for a step of a kind."""

    begin = pyqtSignal(str)
    #: A recognised route has been drafted; its sketch.
    drafted = pyqtSignal(str)
    #: A DXF of the job whose views are wanted: before there is a solid it tells how the part may be begun.
    drawing_wanted = pyqtSignal(object)
    #: Places of that drawing to be lit (none to let the part be seen).
    on_sheet = pyqtSignal(str, tuple)

    def __init__(self, session: Session, picking: Picking, planning: Planning) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._picking, self._planning = session, picking, planning
        self.advice: tuple[Advice, ...] = ()
        self._views: dict[str, tuple[DrawnView, ...]] = {}
        self.list = QListWidget()
        self.list.setAccessibleName("What the part is like")
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(self._on_row)
        self.rule = QLabel(_NONE)
        self.rule.setObjectName("faint")
        self.rule.setWordWrap(True)
        self.go = QPushButton("Begin so")
        self.go.clicked.connect(self._begin)
        foot = QHBoxLayout()
        foot.addWidget(self.rule, 1)
        foot.addWidget(self.go)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addWidget(self.list, 1)
        layout.addLayout(foot)
        planning.changed.connect(self.refresh)
        self._show_chosen()

    @property
    def chosen(self) -> Advice | None:
        row = self.list.currentRow()
        return self.advice[row] if 0 <= row < len(self.advice) else None

    def refresh(self) -> None:
        advice = self._worked_out()
        if advice == self.advice:
            return
        self.advice = advice
        self.list.blockSignals(True)
        self.list.clear()
        self.list.addItems([a.words for a in advice])
        self.list.blockSignals(False)
        self._show_chosen()

    def _worked_out(self) -> tuple[Advice, ...]:
        content, solid = self._session.content, self._planning.solid
        part, style = self._session.current.shown, content.header.style
        if solid is None or part is None or not part.shape:
            return (*self._from_drawing(content), *from_callouts(content.ledger(), self._planning.plan.part))
        machine = self._session.current.machine
        found = places(part.surfaces, (), machine, style, content.turned)
        datums = tuple(
            Datum(self._picking.words(index), numbers, index)
            for name, numbers in hung(content)
            if (index := self._picking.index_of(name))
        )
        seen = Seen(part.surfaces, solid.symmetries, found, machine, solid.volume, self._prism(), datums)
        return from_solid(seen, style)

    # --- the drawing
    @property
    def _drawing(self) -> Drawing | None:
        return next((d for d in self._session.content.drawings if d.kind == "dxf"), None)

    def _from_drawing(self, content: Content) -> tuple[Advice, ...]:
        if (drawing := self._drawing) is None:
            return ()
        if drawing.blob not in self._views:
            self._views[drawing.blob] = ()  # asked for once
            self.drawing_wanted.emit(drawing)
        return from_views(self._views[drawing.blob], drawing.scale(1), content.header.style)

    def take_views(self, blob: str, views: tuple[DrawnView, ...]) -> None:
        """The views of a drawing that were asked for."""
        self._views[blob] = views
        self.refresh()

    def _on_row(self, _: int) -> None:
        self._show_chosen()
        if (advice := self.chosen) is not None:
            self._picking.show(advice.faces)
            drawing = self._drawing
            self.on_sheet.emit(drawing.id if drawing is not None else "", advice.boxes)

    def _show_chosen(self) -> None:
        advice = self.chosen
        self.rule.setText(advice.rule if advice is not None else _HOW if self.advice else _NONE)
        self.go.setEnabled(advice is not None and bool(advice.start))
        title = _TITLES.get(advice.start, "") if advice is not None else ""
        self.go.setText(f"Begin: {title}" if title else "Begin so")

    def _begin(self) -> None:
        advice = self.chosen
        if advice is not None and advice.start == "turned":
            self._draft_turned()
        elif advice is not None and advice.start == "flat":
            if (prism := self._prism()) is not None:
                self._drafted(lambda c: flat_route(c, prism), "")
        elif advice is not None and advice.start in ("half", "quarter"):
            self._session.rewrite(Rewriting(advice.start, about=advice.about))
        elif advice is not None and advice.start:
            self.begin.emit(advice.start)

    def _prism(self) -> Prism | None:
        """The flat part recognised, if it is one."""
        solid, part = self._planning.solid, self._session.current.shown
        if solid is None or solid.outline is None or part is None:
            return None
        return prism_of(part.surfaces, solid.outline, self._session.content.ledger())

    def _drafted(self, make: Callable[[Content], Content], where: str) -> None:
        before = {s.id for s in self._session.content.sketches}
        if self._session.edit(make, "a route as it was recognised"):
            self._session.say(f"What was recognised is drafted as a route of its own.{where}", "good")
            self.drafted.emit(next(s.id for s in self._session.content.sketches if s.id not in before))

    def _draft_turned(self) -> None:
        """The recognised profile as a route of its own."""
        part = self._session.current.shown
        axis = main_axis(part.surfaces) if part is not None else None
        profile = profile_of(part.surfaces, *axis) if part is not None and axis is not None else None
        if profile is None or axis is None:
            return
        on_z = abs(axis[1][2]) > 1 - LEVEL and max(abs(axis[0][0]), abs(axis[0][1])) < ONE_PLACE
        where = "" if on_z else " It stands on Z; the solid lies elsewhere."
        self._drafted(lambda c: turned_route(c, profile), where)
