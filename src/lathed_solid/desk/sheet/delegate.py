"""How a callout's row is drawn: balloon, notation, limits, label, proof mark."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QPainter
from PyQt6.QtWidgets import QLineEdit, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from ..theme.palette import Palette
from ..theme.style import figure_font, text_font
from .marks import draw_balloon, draw_mark
from .model import DRAWN, ERROR, LABEL, LIMITS, MARK, NUMBER


class CalloutDelegate(QStyledItemDelegate):
    def __init__(self, palette: Palette, parent: QWidget) -> None:
        super().__init__(parent)
        self.palette = palette

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        second = bool(index.data(LABEL)) or bool(index.data(LIMITS))
        return QSize(200, 42 if second else 34)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        p, box = self.palette, option.rect
        painter.save()
        if option.state & QStyle.StateFlag.State_Selected:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(p.color("brass_wash"))
            painter.drawRoundedRect(box.adjusted(4, 1, -4, -1), 4, 4)
        error = index.data(ERROR)
        middle = box.center().y() + 1
        draw_balloon(
            painter, QPointF(box.left() + 24, middle), index.data(NUMBER), p.color("ink"), broken=not index.data(DRAWN)
        )
        text = QRect(box.left() + 44, box.top(), box.width() - 44 - 34, box.height())
        self._lines(painter, text, index, bool(error))
        draw_mark(painter, QPointF(box.right() - 20, middle), "out" if error else index.data(MARK), p)
        # A rectangle, for a smoothed line across the row takes ten times as long.
        painter.fillRect(box.left() + 10, box.bottom(), box.width() - 20, 1, p.color("rule", 0.6))
        painter.restore()

    def _lines(self, painter: QPainter, box: QRect, index: QModelIndex, wrong: bool) -> None:
        p = self.palette
        label, limits = index.data(LABEL), index.data(LIMITS)
        font = figure_font(10)
        note = index.data(Qt.ItemDataRole.DisplayRole)
        if QFontMetrics(font).horizontalAdvance(note) > box.width():
            font = figure_font(8.5)
        painter.setFont(font)
        painter.setPen(p.color("out" if wrong else "ink"))
        shown = QFontMetrics(font).elidedText(note, Qt.TextElideMode.ElideRight, box.width())
        two = bool(label or limits)
        first = QRectF(box.left(), box.top() + (4 if two else 0), box.width(), 20 if two else box.height())
        align = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(first, align | Qt.AlignmentFlag.AlignLeft, shown)
        if not two:
            return
        small = text_font(8)
        painter.setFont(small)
        painter.setPen(p.color("faint"))
        second = QRectF(box.left(), box.top() + 22, box.width(), 16)
        painter.drawText(second, align | Qt.AlignmentFlag.AlignRight, limits or "")
        room = box.width() - QFontMetrics(small).horizontalAdvance(limits or "") - 8
        painter.drawText(
            second,
            align | Qt.AlignmentFlag.AlignLeft,
            QFontMetrics(small).elidedText(label or "", Qt.TextElideMode.ElideRight, room),
        )

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget:
        field = QLineEdit(parent)
        field.setObjectName("formula")
        field.setAccessibleName("Callout note")
        return field

    def updateEditorGeometry(self, editor: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert editor is not None
        editor.setGeometry(option.rect.adjusted(42, 4, -6, -4))
