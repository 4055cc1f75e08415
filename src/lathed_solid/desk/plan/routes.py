"""The tab Routes: what each route of the part takes and gives, in columns, where they disagree, and another way made
of one.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import NamedTuple
from weakref import WeakKeyDictionary

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QListWidget,
    QMenu,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
)

from ...core.job.edits import take_route
from ...core.job.enduring import Endured
from ...core.job.model import Content, part_of
from ...core.job.rewriting.asked import Rewriting
from ...core.job.routes import RouteFigures, disagreements
from ...core.quantity import Style
from ...core.route.registry import called
from ...core.route.steps.mirror import Mirror
from ..picking import Picking
from ..seen import SeenPanel
from ..session import Session
from ..session.documents import OpenJob
from ..theme.dressing import call

_HOW = (
    "Several routes may make the same part: one that adds block on block, one cut from the blank, one rich profile, a "
    "half and its mirror. Copy or begin a route in Shape, then compare them here. The best of each row is marked, no "
    "more: which way is yours to choose."
)


_HALF = "A route of its own that makes half of this part and mirrors it, where it is alike on both sides."
_WHOLE = "A route of its own without the mirror and without the cut that leaves half."
_OVER = "Goes on with the steps of another route. What they stand on is found on this part by where it lies."
_DONE = {
    "half": "Route {name} makes half of the part and mirrors it: the same part. The other routes are kept.",
    "quarter": "Route {name} makes a quarter and mirrors it twice: the same part. The other routes are kept.",
    "whole": "Route {name} makes the whole part without a mirror: the same part. The other routes are kept.",
    "steps": "{more} steps were taken over onto route {name}.",
}


class Row(NamedTuple):
    """``value`` is what is compared (None: not known), ``better`` its better end: the least, the most, or neither."""

    words: str
    text: Callable[[RouteFigures, Style], str]
    value: Callable[[RouteFigures], float | None] = lambda _: None
    better: Callable[..., float] | None = None


def _counted(words: str, of: Callable[[RouteFigures], float], better: Callable[..., float] = min) -> Row:
    return Row(words, lambda f, _: f"{of(f):g}", of, better)


SURVIVES = Row("Survives ±10 %", lambda f, _: "")
ROWS = (
    _counted("Steps", lambda f: f.steps),
    _counted("Sketches", lambda f: f.takes.sketches),
    _counted("Relations stated", lambda f: f.takes.relations),
    _counted("Sizes stated", lambda f: f.takes.sizes),
    _counted("Changes of direction", lambda f: f.turns),
    _counted("Callouts used", lambda f: f.takes.callouts, max),
    _counted("In limits", lambda f: f.count("in") + f.count("near"), max),
    SURVIVES,
    Row("Built in", lambda f, _: f"{f.seconds:.2f} s", lambda f: f.seconds, min),
    Row("Takes of the file", lambda f, _: f"{f.takes.bytes_ / 1000:.1f} kB", lambda f: f.takes.bytes_, min),
    Row("Volume", lambda f, style: "no solid" if f.volume is None else style.volume(f.volume)),
)


class _Found(NamedTuple):
    part: Content
    figures: tuple[RouteFigures, ...]
    endured: dict[str, Endured]


def _same(content: Content) -> Content:
    """What is compared, whichever route is worked on."""
    return part_of(take_route(content, 0))


class RoutesPanel(SeenPanel):
    """Built beside the part, each figure as it comes; what came counts only while the part is the same."""

    def __init__(self, session: Session, picking: Picking) -> None:
        super().__init__(session, session.edited, session.switched)
        self._picking = picking
        self._found: WeakKeyDictionary[OpenJob, _Found] = WeakKeyDictionary()
        self._asked: Content | None = None
        self.go = QPushButton("Compare the routes")
        self.go.clicked.connect(self.compare)
        self.half, self.whole = QPushButton("Half and mirror"), QPushButton("Make it whole")
        self.half.clicked.connect(lambda: self.rewrite(Rewriting("half")))
        self.whole.clicked.connect(lambda: self.rewrite(Rewriting("whole")))
        self.over = QPushButton("Take steps over")
        self.over.setMenu(QMenu(self.over))
        for button, tip in ((self.half, _HALF), (self.whole, _WHOLE), (self.over, _OVER)):
            button.setToolTip(tip)
        self.differing: tuple[tuple[int, ...], ...] = ()
        self.where = QListWidget()
        self.where.setAccessibleName("Where the routes differ")
        self.where.currentRowChanged.connect(self._show_where)
        self.state = QLabel()
        self.state.setWordWrap(True)
        self.table = QTableWidget()
        self.table.setAccessibleName("Routes side by side")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        header, rows = self.table.horizontalHeader(), self.table.verticalHeader()
        assert header is not None and rows is not None
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        rows.setDefaultSectionSize(21)
        rows.hide()
        bar = QHBoxLayout()
        bar.addWidget(self.go)
        bar.addStretch()
        for button in (self.half, self.whole, self.over):
            bar.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.state)
        layout.addWidget(self.where)
        layout.addWidget(self.table, 1)
        layout.addStretch()  # before there is a table the words stand under the buttons
        session.rewritten.connect(self._on_rewritten)
        session.compared.connect(self._on_compared)
        session.endured.connect(self._on_endured)
        session.edited.connect(self._let_go)
        self.refresh()

    def _let_go(self) -> None:
        """What is still being built of routes that no job has any more is not built to its end."""
        if self._asked is not None and self._job_of(self._asked) is None:
            self._asked = None
            self._session.drop_comparison()

    def compare(self) -> None:
        self._asked = self._session.content
        self._session.compare_routes()
        self.state.setText("Each route is built and proved, then each of its numbers changed. You can go on working.")

    # --- another way
    def rewrite(self, asked: Rewriting) -> None:
        self._session.rewrite(asked)
        self._session.say("The route is being rewritten and held against what it makes now. You can go on working.")

    def _on_rewritten(self, job: OpenJob, content: Content, asked: Rewriting, made: Content) -> None:
        """It is taken if the job is still what was asked about."""
        if job is not self._session.current or job.content != content:
            self._session.say("The part was changed meanwhile: the rewritten route was not taken. Ask again.", "warn")
        elif self._session.edit(lambda _: made, asked.words):
            name = made.routes[made.route].name
            more = len(made.steps) - len(content.steps)
            self._session.say(_DONE[asked.how].format(name=name, more=more), "good")

    def _fill_menu(self, content: Content) -> None:
        """The other routes, and after which of their steps to go on."""
        menu = self.over.menu()
        assert menu is not None
        menu.clear()
        for at, route in enumerate(content.routes):
            if at == content.route or len(route.steps) < 2:
                continue
            its = menu.addMenu(f"Route {route.name}")
            assert its is not None
            for after in range(1, len(route.steps)):
                step, left = route.steps[after - 1], len(route.steps) - after
                action = its.addAction(f"after “{called(step)}”: {left} step{'s' if left > 1 else ''}")
                assert action is not None
                action.triggered.connect(partial(self.rewrite, Rewriting("steps", at, after)))
        self.over.setEnabled(bool(content.steps) and not menu.isEmpty())

    # --- what comes
    def _job_of(self, content: Content) -> OpenJob | None:
        """The job whose routes were compared, if it is still what it was."""
        return next((j for j in self._session.jobs if _same(j.content) == _same(content)), None)

    def _on_compared(self, job: OpenJob, content: Content, figures: tuple[RouteFigures, ...]) -> None:
        self._found[job] = _Found(_same(content), figures, {})
        self.refresh()

    def _on_endured(self, job: OpenJob, content: Content, route: str, endured: Endured) -> None:
        if (found := self._found.get(job)) is not None and found.part == _same(content):
            found.endured[route] = endured
            self.refresh()

    # --- what is shown
    @property
    def found(self) -> _Found | None:
        """What came of the routes as they are now."""
        found = self._found.get(self._session.current)
        return found if found is not None and found.part == _same(self._session.content) else None

    def refresh(self) -> None:
        content, found = self._session.content, self.found
        self.go.setEnabled(any(r.steps for r in content.routes))
        self.half.setEnabled(bool(content.steps))
        self.whole.setEnabled(any(isinstance(s, Mirror) and s.makes_whole for s in content.steps))
        self._fill_menu(content)
        self._fill_where(found)
        self.table.setVisible(found is not None)
        words = disagreements(found.figures, content.header.style) if found is not None else []
        if found is None:
            self.state.setText(_HOW)
        elif len(found.figures) < 2:
            self.state.setText("The part has one route. Copy it, or begin another in Shape, to have them side by side.")
        else:
            self.state.setText("\n".join(words) or "All routes make the same part, as far as it is measured.")
        call(self.state, "warn" if words else "faint")
        if found is not None:
            self._fill(found, content.header.style)

    def _fill_where(self, found: _Found | None) -> None:
        """The faces of one route that lie where another has nothing; those of the present route can be lit."""
        here = self._session.content.routes[self._session.content.route].name
        rows: list[tuple[str, tuple[int, ...]]] = []
        for figures in found.figures if found is not None else ():
            for other, faces in figures.alone.items():
                count = f"{len(faces)} face{'s' if len(faces) > 1 else ''}"
                words = f"Route {figures.name} has {count} where route {other} has nothing."
                if figures.name == here:
                    rows.insert(0, (words, tuple(filter(None, map(self._picking.index_of, faces)))))
                elif other == here:
                    rows.append((f"{words} Work on it to see where.", ()))
        self.differing = tuple(faces for _, faces in rows)
        self.where.blockSignals(True)
        self.where.clear()
        self.where.addItems([words for words, _ in rows])
        self.where.blockSignals(False)
        self.where.setVisible(bool(rows))
        self.where.setFixedHeight(8 + 22 * min(4, len(rows)))

    def _show_where(self, row: int) -> None:
        if 0 <= row < len(self.differing):
            self._picking.show(self.differing[row])

    def _fill(self, found: _Found, style: Style) -> None:
        self.table.setColumnCount(1 + len(found.figures))
        self.table.setHorizontalHeaderLabels(["", *(f"Route {f.name}" for f in found.figures)])
        self.table.setRowCount(len(ROWS))
        for at, row in enumerate(ROWS):
            if row is SURVIVES:
                self._survives(at, found)
            else:
                best = _best([row.value(f) for f in found.figures], row.better)
                self._row(at, row.words, [row.text(f, style) for f in found.figures], best)

    def _survives(self, at: int, found: _Found) -> None:
        """Which changes each route follows, as far as they have been tried."""
        shares = [found.endured.get(f.name) for f in found.figures]
        texts = ["…" if e is None else f"{e.followed} of {e.tried}" for e in shares]
        known = [e.followed / e.tried if e is not None and e.tried else None for e in shares]
        self._row(at, SURVIVES.words, texts, set() if None in known else _best(known, max))

    def _row(self, at: int, words: str, texts: list[str], best: set[int]) -> None:
        self.table.setItem(at, 0, QTableWidgetItem(words))
        for column, text in enumerate(texts):
            item = QTableWidgetItem(f"{text}  ◂" if column in best else text)
            if column in best:
                font = QFont(self.table.font())
                font.setBold(True)
                item.setFont(font)
            self.table.setItem(at, 1 + column, item)


def _best(values: list[float | None], better: Callable[..., float] | None) -> set[int]:
    """Which columns have the best of a row; none where all are alike."""
    known = [v for v in values if v is not None]
    if better is None or len(set(known)) < 2:
        return set()
    best = better(known)
    return {k for k, v in enumerate(values) if v == best}
