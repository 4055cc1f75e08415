"""The rail across the top: stages, the job, live mass, unit."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ..core.prove.tabular import deviation, figure
from ..core.quantity.style import mass as mass_text
from .session import Session
from .theme.icons import icon
from .theme.palette import Palette
from .theme.style import text_font

STAGES = ("Read", "Plan", "Shape", "Prove", "Fit", "Issue")


class _StageButton(QAbstractButton):
    def __init__(self, number: int, name: str, palette: Palette) -> None:
        super().__init__()
        self.number, self.palette_ = number, palette
        self.setText(name)
        self.setCheckable(True)
        self.setAccessibleName(f"Stage {name}")
        self.setToolTip(f"{name} (Alt+{number})")
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(QFontMetrics(text_font(10.5)).horizontalAdvance(self.text()) + 42, 40)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, painter = self.palette_, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        on = self.isChecked()
        center = QPointF(18, self.height() / 2)
        painter.setPen(QPen(p.color("brass" if on or self.hasFocus() else "faint"), 2 if self.hasFocus() else 1.3))
        painter.setBrush(p.color("brass") if on else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(center, 10, 10)
        painter.setFont(text_font(8.5, QFont.Weight.DemiBold))
        painter.setPen(p.color("panel") if on else p.color("faint"))
        painter.drawText(QRect(8, 0, 20, self.height()), Qt.AlignmentFlag.AlignCenter, str(self.number))
        painter.setFont(text_font(10.5, QFont.Weight.DemiBold if on else QFont.Weight.Normal))
        painter.setPen(p.color("ink") if on else p.color("faint"))
        painter.drawText(QRect(34, 0, self.width() - 34, self.height()), Qt.AlignmentFlag.AlignVCenter, self.text())


class _Elided(QLabel):
    """A label that shortens its text instead of pushing its neighbours."""

    def minimumSizeHint(self) -> QSize:
        return QSize(40, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        shown = QFontMetrics(self.font()).elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, shown)


class RailWords(NamedTuple):
    """What the rail says of something other than the job."""

    name: str
    about: str
    mass: str
    figures: str
    unit: str


class Rail(QWidget):
    stage_chosen = pyqtSignal(str)
    unit_switched = pyqtSignal()
    job_chosen = pyqtSignal(int)
    dark_wanted = pyqtSignal()
    cancel_wanted = pyqtSignal()

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._palette = session, palette
        #: What it says in place of the job; None for the job.
        self.instead: Callable[[], RailWords | None] = lambda: None
        self.setFixedHeight(54)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 0, 12, 0)
        row.setSpacing(2)
        self.buttons: dict[str, _StageButton] = {}
        self._add_stages(row)
        row.addSpacing(14)
        self._add_job(row)
        row.addSpacing(10)
        self._add_names(row)
        self._add_work(row)
        row.addSpacing(8)
        self._add_figures(row)
        row.addSpacing(10)
        self._add_looks(row)
        self.dress(palette)
        self.show_busy("")
        session.edited.connect(self.refresh)
        session.switched.connect(self.refresh)
        session.jobs_changed.connect(self.refresh)
        session.proved.connect(self._figures)

    def _add_stages(self, row: QHBoxLayout) -> None:
        for number, name in enumerate(STAGES, 1):
            button = _StageButton(number, name, self._palette)
            button.clicked.connect(lambda _, n=name: self.stage_chosen.emit(n))
            self.buttons[name] = button
            row.addWidget(button)

    def _add_job(self, row: QHBoxLayout) -> None:
        self.menu_button = QPushButton("Job")
        self.menu_button.setToolTip("New, open, save, undo, write files")
        row.addWidget(self.menu_button)
        row.addSpacing(4)
        self.jobs = QComboBox()
        self.jobs.setAccessibleName("Open parts")
        self.jobs.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.jobs.setMinimumContentsLength(8)  # a long number must not push the stages
        self.jobs.setMinimumWidth(92)
        self.jobs.activated.connect(self.job_chosen)
        row.addWidget(self.jobs)

    def _add_names(self, row: QHBoxLayout) -> None:
        names = QVBoxLayout()
        names.setSpacing(0)
        self._name, self._about = _Elided(), _Elided()
        self._name.setObjectName("title")
        self._about.setObjectName("faint")
        names.addStretch()
        names.addWidget(self._name)
        names.addWidget(self._about)
        names.addStretch()
        row.addLayout(names, 1)

    def _add_work(self, row: QHBoxLayout) -> None:
        self.working = _Elided()  # what is worked at, said in full beside a long figure, would widen the window
        self.working.setObjectName("faint")
        self.cancel = QPushButton("Cancel")
        self.cancel.clicked.connect(self.cancel_wanted)
        row.addWidget(self.working)
        row.addWidget(self.cancel)

    def _add_figures(self, row: QHBoxLayout) -> None:
        self._mass, self._stated = QLabel(), QLabel()
        self._mass.setObjectName("mass")
        self._stated.setObjectName("faint")
        row.addWidget(self._mass)
        row.addSpacing(8)
        row.addWidget(self._stated)

    def _add_looks(self, row: QHBoxLayout) -> None:
        self.unit = QPushButton()
        self.unit.setToolTip("Show figures in millimetres or inches; no size changes")
        self.unit.setFixedWidth(52)
        self.unit.clicked.connect(self.unit_switched)
        row.addWidget(self.unit)
        self._dark = QToolButton()
        self._dark.setObjectName("quiet")
        self._dark.setToolTip("Light or dark")
        self._dark.setAccessibleName("Light or dark")
        self._dark.clicked.connect(self.dark_wanted)
        row.addWidget(self._dark)

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        for button in self.buttons.values():
            button.palette_ = palette
            button.update()
        self._dark.setIcon(icon("dark", palette.ink))

    def mark(self, stage: str) -> None:
        for name, button in self.buttons.items():
            button.setChecked(name == stage)

    def show_busy(self, words: str) -> None:
        self.working.setText(words)
        self.working.setToolTip(words)
        self.working.setVisible(bool(words))
        self.cancel.setVisible(bool(words))

    def refresh(self) -> None:
        if (other := self.instead()) is not None:
            self._name.setText(other.name)
            self._name.setToolTip(other.name)
            self._about.setText(other.about)
            self._mass.setText(other.mass)
            self._stated.setText(other.figures)
            self.unit.setText(other.unit)
            return
        session = self._session
        header = session.content.header
        self._name.setText(f"{header.number}  {header.name}" if header.number else header.name)
        saved = "" if session.current.history.is_saved else " · not saved"
        self._about.setText(f"rev {header.revision} · {header.material.name}{saved}")
        self._name.setToolTip(f"{header.number} {header.name}")
        self.unit.setText(header.style.unit)
        if (titles := [job.title for job in session.jobs]) != [self.jobs.itemText(i) for i in range(self.jobs.count())]:
            self.jobs.clear()
            self.jobs.addItems(titles)
        self.jobs.setCurrentIndex(session.jobs.index(session.current))
        self._figures()

    def _figures(self) -> None:
        if self.instead() is not None:
            return
        proof = self._session.current.proof
        if proof is None:
            self._mass.setText("")
            self._stated.setText("no solid yet" if self._session.current.built is None else "not proved")
            return
        self._mass.setText(mass_text(proof.grams))
        stated = self._session.content.header.stated
        worst = next((c for c in proof.stated if c.mark == "out"), None)
        check = worst or next((c for c in proof.stated if c.kind == "mass"), next(iter(proof.stated), None))
        if check is None:
            self._stated.setText("no figure stated" if stated.is_empty else "")
            return
        sign = "✓" if check.mark == "in" else "✗"
        style = self._session.content.header.style
        stated_as = figure(check.stated, check.kind, style, unit=True)
        said = f"stated {stated_as}" if check.kind in ("mass", "volume") else f"stated {check.what}"
        self._stated.setText(f"{said}\n{sign} {deviation(check, style, 3)}")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
