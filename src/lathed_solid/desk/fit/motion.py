"""One relation driven through a range: played, measured, and where it ends."""

from __future__ import annotations

import math

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from ...core.fit.clearance import Pair
from ...core.fit.kinds import KINDS
from ...core.fit.model import Assembly, End, Relation
from ...core.fit.motion import Film, written
from ...core.fit.reading import between, place_of
from ...core.fit.values import value_of, worked_out
from ...core.quantity import Style
from ...core.refusal import Refusal
from ..theme.palette import Palette
from .checks import figure
from .csvfile import write_csv
from .document import FitDocument
from .plot import Plot

#: Moments a drive is worked out at, and how long each is shown (ms).
_STEPS, _EACH = 60, 40
_MEASURES = (
    "X of the first face",
    "Y of the first face",
    "Z of the first face",
    "distance of the two faces",
    "angle of the two faces",
)


class Drive(QWidget):
    """A relation with a number is driven; what is picked is measured all along. ``met``: what is to be seen of two
    parts that are in each other's way.
    """

    met = pyqtSignal(tuple, tuple, tuple)

    def __init__(self, document: FitDocument, palette: Palette) -> None:
        super().__init__()
        self._document, self._palette = document, palette
        self.film = Film(())
        self._of: object = None
        self._picks: tuple[End, ...] = ()
        self.which = QComboBox()
        self.which.setAccessibleName("Relation to drive")
        self.start, self.end = QLineEdit(), QLineEdit()
        for field, name in ((self.start, "from"), (self.end, "to")):
            field.setObjectName("formula")
            field.setAccessibleName(f"Drive {name}")
            field.setMaximumWidth(90)
            field.returnPressed.connect(self.work_out)
        self.go, self.play = QPushButton("Work it out"), QPushButton("Play")
        self.play.setCheckable(True)
        self.measure = QComboBox()
        self.measure.addItems(_MEASURES)
        self.measure.setAccessibleName("What is measured")
        self.clear = QPushButton("Anything in the way?")
        self.clear.setToolTip("Judge every moment of the drive, up to the first in which parts overlap")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("Moment of the drive")
        self.state = QLabel()
        self.state.setWordWrap(True)
        self.plot = Plot(palette)
        self.write = QPushButton("Write as CSV")
        self._timer = QTimer(self)
        self._timer.setInterval(_EACH)
        self._timer.timeout.connect(self._next)
        self._lay_out()
        self.go.clicked.connect(self.work_out)
        self.play.toggled.connect(self._on_play)
        self.slider.valueChanged.connect(self._show)
        self.measure.currentIndexChanged.connect(lambda _: self._plot())
        self.which.activated.connect(lambda _: self._on_which())
        self.write.clicked.connect(self._write)
        self.clear.clicked.connect(self._look)
        document.session.fitting.driven.connect(self._on_driven)
        document.session.fitting.drive_judged.connect(self._on_judged)
        document.changed.connect(self.refresh)
        document.selected.connect(self._on_selected)
        self.refresh()

    def _lay_out(self) -> None:
        first, second = QHBoxLayout(), QHBoxLayout()
        for widget in (
            QLabel("Drive"),
            self.which,
            QLabel("from"),
            self.start,
            QLabel("to"),
            self.end,
            self.go,
            self.play,
        ):
            first.addWidget(widget)
        first.addStretch()
        second.addWidget(QLabel("Measured"))
        second.addWidget(self.measure)
        second.addWidget(self.slider, 1)
        second.addWidget(self.clear)
        second.addWidget(self.write)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(first)
        layout.addLayout(second)
        layout.addWidget(self.state)
        layout.addWidget(self.plot, 1)

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.plot.dress(palette)

    # --- what can be driven
    def refresh(self) -> None:
        document = self._document
        if document.tried is not None:
            return
        assembly = document.assembly
        if self._of is not assembly:
            self._of, self.film = assembly, Film(())
            self.play.setChecked(False)
            self._plot()
        kept = self.which.currentData()
        self.which.clear()
        for relation in assembly.relations:
            held = not relation.loose and not relation.is_stop and relation.id not in document.lost
            if KINDS[relation.kind].value and held:
                self.which.addItem(document.words_of(assembly, relation), relation.id)
        driven = assembly.drive.relation if assembly.drive is not None else ""
        at = self.which.findData(document.relation or kept or driven)
        if at >= 0:
            self.which.setCurrentIndex(at)
        there = self.which.count() > 0
        for widget in (self.which, self.start, self.end, self.go, self.measure):
            widget.setEnabled(there)
        if not there:
            self.state.setText("Nothing to drive: a relation with a number is needed, such as an angle or a distance.")
        elif not self.film.frames:
            self.state.setText("")
            self._on_which()
        self._enable()

    def _on_which(self) -> None:
        """The range that is proposed: from where it stands, a full turn or as far again."""
        relation = self._relation
        if relation is None:
            return
        assembly = self._document.assembly
        if (kept := assembly.drive) is not None and kept.relation == relation.id:
            self.start.setText(kept.start)
            self.end.setText(kept.end)
            return
        now = value_of(relation, assembly) or 0.0
        if KINDS[relation.kind].value == "angle":
            goal = now + 2 * math.pi
        else:
            goal = now + (abs(now) or 10.0)
        self.start.setText(written(now, relation, assembly.unit))
        self.end.setText(written(goal, relation, assembly.unit))

    @property
    def _relation(self) -> Relation | None:
        chosen = self.which.currentData()
        return next((r for r in self._document.assembly.relations if r.id == chosen), None)

    def _on_selected(self) -> None:
        picks = self._document.picks
        if picks != self._picks:
            self._picks = picks
            self._plot()
        at = self.which.findData(self._document.relation)
        if at >= 0 and at != self.which.currentIndex():
            self.which.setCurrentIndex(at)
            self._on_which()

    def _enable(self) -> None:
        there = len(self.film.frames) > 1
        for widget in (self.play, self.slider, self.write, self.clear):
            widget.setEnabled(there)

    # --- driving
    def work_out(self) -> None:
        """Drive the chosen relation through its range."""
        relation, document = self._relation, self._document
        if relation is None:
            return
        want = KINDS[relation.kind].value
        try:
            low, high = (worked_out(f.text(), document.assembly, want) for f in (self.start, self.end))
        except Refusal as error:
            self.state.setText(error.said_in(document.assembly.unit))
            return
        document.look_away()
        document.keep_drive(relation.id, self.start.text().strip(), self.end.text().strip())
        self._of, self.film = document.assembly, Film(())
        self._enable()
        self.go.setEnabled(False)
        self.state.setText("Working it out …")
        values = [low + (high - low) * k / _STEPS for k in range(_STEPS + 1)]
        document.session.fitting.drive(document.assembly, relation.id, values)

    def _on_driven(self, assembly: Assembly, film: Film | None) -> None:
        """The film of the assembly as it still is."""
        self.go.setEnabled(self.which.count() > 0)
        if assembly is not self._document.assembly:
            return
        if film is None:
            self.state.setText("It could not be driven so.")
            return
        self.film = film
        self.slider.blockSignals(True)
        self.slider.setRange(0, max(0, len(self.film.frames) - 1))
        self.slider.setValue(0)
        self.slider.blockSignals(False)
        self.state.setText(self._told())
        self._enable()
        self._plot()

    def _told(self) -> str:
        relation, frames = self._relation, self.film.frames
        if relation is None or not frames:
            return ""
        last = self._figure(frames[-1].value)
        if not self.film.ended:
            return f"Goes through the whole range, {self._figure(frames[0].value)} to {last}."
        first = self._figure(frames[0].value)
        return f"Goes from {first} to {last}, and no further: there the parts lock, or come to a stop."

    def _figure(self, value: float) -> str:
        relation, unit = self._relation, self._document.assembly.unit
        style = Style(unit)
        kind = KINDS[relation.kind].value if relation is not None else "number"
        return (
            style.angle(value)
            if kind == "angle"
            else style.length(value, unit=True)
            if kind == "length"
            else f"{value:g}"
        )

    def _show(self, at: int) -> None:
        if 0 <= at < len(self.film.frames):
            frame = self.film.frames[at]
            self._document.show_moment(frame.assembly)
            self.plot.point(at, self._figure(frame.value))

    def _on_play(self, on: bool) -> None:
        if on and len(self.film.frames) > 1:
            self._timer.start()
        else:
            self._timer.stop()
            if self._document.tried is not None and not on:
                self._document.look_away()

    def _next(self) -> None:
        if not self.isVisible():
            self.play.setChecked(False)
            return
        self.slider.setValue((self.slider.value() + 1) % max(1, len(self.film.frames)))

    # --- what is in the way
    def _look(self) -> None:
        self.clear.setEnabled(False)
        self.state.setText(f"{self._told()} Looking for what is in the way …")
        self._document.session.fitting.judge_drive(self._document.assembly, [f.assembly for f in self.film.frames])

    def _on_judged(self, assembly: Assembly, at: int, pair: Pair | None) -> None:
        if assembly is not self._document.assembly or not self.film.frames:
            return
        self._enable()
        if pair is None:
            words = "Nothing is in the way." if at == -1 else "What is in the way could not be found out."
            self.state.setText(f"{self._told()} {words}")
            return
        style = Style(assembly.unit)
        between = f"{assembly.called(pair.a)} – {assembly.called(pair.b)}"
        self.slider.setValue(at)
        self._show(at)
        where = self._figure(self.film.frames[at].value)
        self.state.setText(f"{self._told()} First in the way at {where}: {between}, {figure(pair, style)}.")
        self.met.emit((pair.skin.data,) if pair.skin is not None else (), (pair,), (pair.a, pair.b))

    # --- measuring
    def series(self) -> list[float]:
        """What is measured at every moment: mm or radians; none without the faces for it."""
        picks, kind = self._picks, self.measure.currentIndex()
        if len(picks) < (1 if kind < 3 else 2):
            return []
        made = []
        for frame in self.film.frames:
            if kind < 3:
                made.append(place_of(frame.assembly, picks[0])[kind])
            else:
                distance, angle = between(frame.assembly, picks[0], picks[1])
                made.append(distance if kind == 3 else angle)
        return made

    def _plot(self) -> None:
        values = self.series()
        relation, unit = self._relation, self._document.assembly.unit
        if not values or relation is None:
            why = "" if not self.film.frames else "Pick a face (or two) to have it measured all along."
            self.plot.show_line([], [], why, "", "")
            return
        inch = 25.4 if unit == "in" else 1.0
        scale = math.degrees(1) if self.measure.currentIndex() == 4 else 1 / inch
        along = KINDS[relation.kind].value
        turned = math.degrees(1) if along == "angle" else 1 / inch if along == "length" else 1.0
        self.plot.show_line(
            [f.value * turned for f in self.film.frames],
            [v * scale for v in values],
            self.measure.currentText(),
            "°" if along == "angle" else unit if along == "length" else "",
            "°" if self.measure.currentIndex() == 4 else unit,
        )

    def _write(self) -> None:
        heads = (f"driven ({self.plot.unit_x})", f"{self.measure.currentText()} ({self.plot.unit_y})")
        values = self.plot.values or [float("nan")] * len(self.film.frames)
        along = self.plot.along or [f.value for f in self.film.frames]
        write_csv(self, self._document, "motion", heads, zip(along, values, strict=True))
