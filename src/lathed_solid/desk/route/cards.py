"""The steps as cards on a route: a list model and how a card is drawn."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from PyQt6.QtCore import QMimeData, QModelIndex, QPoint, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QFontMetrics, QPainter, QTextOption
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from ...core.job import edits
from ...core.route.rebuild import StepReport
from ...core.route.registry import Step, kind_of
from ..lists import RowModel, Says
from ..theme.icons import pixmap
from ..theme.palette import Palette
from ..theme.style import figure_font, text_font

ID = Qt.ItemDataRole.UserRole
REPORT = Qt.ItemDataRole.UserRole + 1
SUMMARY = Qt.ItemDataRole.UserRole + 2
ICON = Qt.ItemDataRole.UserRole + 3
BUSY = Qt.ItemDataRole.UserRole + 4


def tone(report: StepReport) -> Literal["out", "warn"]:
    """The colour of what a step says: what went wrong, or what is to be filled in or known."""
    return "out" if report.state == "failed" and not report.unfinished else "warn"


class RouteModel(RowModel):
    """Rows are steps; dragging reorders them, ticking suppresses them."""

    @property
    def steps(self) -> tuple[Step, ...]:
        return self._session.content.steps

    def ids(self) -> tuple[object, ...]:
        return tuple(s.id for s in self.steps)

    def says(self) -> list[Says]:
        view, reports, busy = self._session.content.plan().view(), self._session.current.reports, self._session.busy
        found = []
        for step in self.steps:
            report, words = reports.get(step.id), kind_of(step).summary(step, view)
            shown = (step.name, step.suppressed, words, report, busy.step == step.id)
            found.append(Says(report.message if report is not None else "", shown))
        return found

    def row_of(self, id_: str) -> int:
        return next((i for i, s in enumerate(self.steps) if s.id == id_), -1)

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() or not self._session.jobs else len(self.steps)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        f = Qt.ItemFlag
        if not index.isValid():
            return f.ItemIsDropEnabled
        return f.ItemIsEnabled | f.ItemIsSelectable | f.ItemIsDragEnabled | f.ItemIsUserCheckable

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid() or index.row() >= len(self.steps):
            return None
        step = self.steps[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return step.name or kind_of(step).title
        if role == Qt.ItemDataRole.CheckStateRole:
            return Qt.CheckState.Unchecked if step.suppressed else Qt.CheckState.Checked
        if role == ID:
            return step.id
        if role == ICON:
            return kind_of(step).icon
        if role == BUSY:
            return self._session.busy.step == step.id
        if role == SUMMARY:
            return kind_of(step).summary(step, self._session.content.plan().view())
        report = self._session.current.reports.get(step.id)
        if role == REPORT:
            return report
        if role == Qt.ItemDataRole.ToolTipRole and report is not None:
            return report.message or f"volume after it {self._session.content.header.style.volume(report.volume)}"
        return None

    def setData(self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        step = self.steps[index.row()]
        if role == Qt.ItemDataRole.CheckStateRole:
            off = Qt.CheckState(value) == Qt.CheckState.Unchecked
            return self._session.edit(
                lambda c: edits.change_step(c, step.id, suppressed=off),
                f"“{step.name}” {'suppressed' if off else 'taken in again'}",
            )
        return False

    def mimeTypes(self) -> list[str]:
        return ["application/x-lathed-step"]

    def mimeData(self, indexes: Iterable[QModelIndex]) -> QMimeData:
        data = QMimeData()
        data.setData("application/x-lathed-step", str(self.data(next(iter(indexes)), ID)).encode())
        return data

    def supportedDropActions(self) -> Qt.DropAction:
        return Qt.DropAction.MoveAction | Qt.DropAction.CopyAction

    def dropMimeData(
        self, data: QMimeData | None, action: Qt.DropAction, row: int, column: int, parent: QModelIndex
    ) -> bool:
        id_ = data.data("application/x-lathed-step").data().decode() if data else ""
        if self.row_of(id_) < 0:
            return False
        to = row if row >= 0 else self.rowCount()
        if self.row_of(id_) < to:
            to -= 1
        return self._session.edit(lambda c: edits.move_step(c, id_, to), "step moved")


class CardDelegate(QStyledItemDelegate):
    def __init__(self, palette: Palette, parent: QWidget) -> None:
        super().__init__(parent)
        self.palette = palette

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        report: StepReport | None = index.data(REPORT)
        if report is not None and report.message:
            width = max(120, option.rect.width() - 66 if option.rect.width() > 0 else 190)
            font = QFontMetrics(text_font(8))
            lines = font.boundingRect(QRect(0, 0, width, 400), Qt.TextFlag.TextWordWrap, report.message)
            return QSize(200, 52 + min(lines.height(), 84) + 4)
        return QSize(200, 52)

    @staticmethod
    def tick_box(card: QRect) -> QRect:
        return QRect(card.right() - 24, card.bottom() - 24, 16, 16)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        p, report = self.palette, index.data(REPORT)
        card = option.rect.adjusted(8, 3, -8, -3)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        state = "busy" if index.data(BUSY) else report.state if report else "waiting"
        dim = state in ("suppressed", "waiting", "beyond")
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        border = "brass" if chosen or state == "busy" else "rule"
        if state in ("failed", "done") and report.message:
            border = tone(report)
        painter.setPen(p.color(border))
        painter.setBrush(p.color("brass_wash") if chosen else p.color("paper") if dim else p.color("raised"))
        painter.drawRoundedRect(QRectF(card).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5)
        painter.setFont(figure_font(11, bold=True))
        painter.setPen(p.color("faint") if dim else p.color("brass"))
        painter.drawText(
            QRect(card.left() + 8, card.top() + 5, 34, 20), Qt.AlignmentFlag.AlignLeft, str(10 * (index.row() + 1))
        )
        painter.drawPixmap(QPoint(card.left() + 9, card.top() + 24), pixmap(index.data(ICON), p.faint, 18))
        self._texts(painter, card, index, state, dim)
        self._tick(painter, card, index)
        painter.restore()

    def _texts(self, painter: QPainter, card: QRect, index: QModelIndex, state: str, dim: bool) -> None:
        p, report = self.palette, index.data(REPORT)
        left, width = card.left() + 44, card.width() - 44 - 10
        font = text_font(9.5, QFont.Weight.DemiBold)
        font.setStrikeOut(state == "suppressed")
        painter.setFont(font)
        painter.setPen(p.color("faint") if dim else p.color("ink"))
        name = QFontMetrics(font).elidedText(str(index.data()), Qt.TextElideMode.ElideRight, width - 56)
        painter.drawText(QRect(left, card.top() + 5, width - 52, 20), Qt.AlignmentFlag.AlignLeft, name)
        painter.setFont(figure_font(8))
        painter.setPen(p.color("faint"))
        note = {"busy": "working", "failed": "failed", "waiting": "waiting", "suppressed": "off", "beyond": "later"}
        right = note.get(state) or (f"{1000 * report.seconds:.0f} ms" if report else "")
        if state == "failed":
            painter.setPen(p.color(tone(report)))
            right = "to fill in" if report.unfinished else right
        painter.drawText(QRect(left, card.top() + 6, width, 18), Qt.AlignmentFlag.AlignRight, right)
        small = text_font(8)
        painter.setFont(small)
        painter.setPen(p.color("faint"))
        summary = QFontMetrics(small).elidedText(index.data(SUMMARY) or "", Qt.TextElideMode.ElideRight, width - 22)
        painter.drawText(QRect(left, card.top() + 25, width - 18, 18), Qt.AlignmentFlag.AlignLeft, summary)
        if state in ("failed", "done") and report.message:
            painter.setPen(p.color(tone(report)))
            box = QRectF(left, card.top() + 43, width - 18, card.height() - 46)
            painter.drawText(box, report.message, QTextOption(Qt.AlignmentFlag.AlignLeft))

    def _tick(self, painter: QPainter, card: QRect, index: QModelIndex) -> None:
        p, box = self.palette, self.tick_box(card)
        on = index.data(Qt.ItemDataRole.CheckStateRole) == Qt.CheckState.Checked
        painter.setPen(p.color("rule"))
        painter.setBrush(p.color("raised"))
        painter.drawRoundedRect(box.adjusted(2, 2, -2, -2), 2, 2)
        if on:
            painter.setPen(p.color("brass"))
            painter.drawLine(box.left() + 4, box.top() + 8, box.left() + 7, box.top() + 11)
            painter.drawLine(box.left() + 7, box.top() + 11, box.left() + 12, box.top() + 4)
