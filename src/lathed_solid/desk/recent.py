"""The jobs worked on last, each with the picture it was saved with."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QListView,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ..core.job.storage import read_preview

_PICTURE = QSize(150, 112)


class RecentJobs(QDialog):
    """``chosen`` is the file that was taken; None for none."""

    def __init__(self, paths: Sequence[Path], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Recent jobs")
        self.resize(720, 460)
        self.chosen: Path | None = None
        self.list, self.take, self.back = QListWidget(), QPushButton("Open"), QPushButton("Go back")
        self.list.setViewMode(QListView.ViewMode.IconMode)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setMovement(QListView.Movement.Static)
        self.list.setIconSize(_PICTURE)
        self.list.setGridSize(_PICTURE + QSize(20, 40))
        self.list.setWordWrap(True)
        self.list.setAccessibleName("Recent jobs")
        blank = _shown(_sheet(""))
        for path in paths:
            self.list.addItem(_item(path, blank))
        self._unseen = list(range(len(paths)))
        QTimer.singleShot(0, self._show_next)
        self.list.setCurrentRow(0 if paths else -1)
        self.take.setEnabled(bool(paths))
        self.take.setDefault(True)
        self.list.itemActivated.connect(self._take)
        self.take.clicked.connect(lambda: self._take(self.list.currentItem()))
        self.back.clicked.connect(self.reject)
        words = "Enter or a double click opens one." if paths else "None yet: a job that is saved or opened comes here."
        told = QLabel(words)
        told.setObjectName("faint")
        foot = QHBoxLayout()
        foot.addWidget(told, 1)
        foot.addWidget(self.back)
        foot.addWidget(self.take)
        layout = QVBoxLayout(self)
        layout.addWidget(self.list, 1)
        layout.addLayout(foot)

    def _show_next(self) -> None:
        """One picture a turn of the event loop: reading and scaling sixteen at once would be felt."""
        if self._unseen and (item := self.list.item(self._unseen.pop(0))) is not None:
            item.setIcon(_icon(Path(item.data(Qt.ItemDataRole.UserRole))))
            QTimer.singleShot(0, self._show_next)

    def _take(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self.chosen = Path(item.data(Qt.ItemDataRole.UserRole))
            self.accept()


def _item(path: Path, blank: QIcon) -> QListWidgetItem:
    """A job without its picture yet; a ``blank`` one takes as much room."""
    item = QListWidgetItem(blank, path.stem)
    item.setData(Qt.ItemDataRole.UserRole, str(path))
    item.setToolTip(str(path))
    return item


def _icon(path: Path) -> QIcon:
    """The picture a job was saved with, or a plain sheet where it has none."""
    picture = QPixmap()
    if not picture.loadFromData(read_preview(path)):
        return _shown(_sheet("saved without\na picture"))
    return _shown(
        picture.scaled(_PICTURE, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
    )


def _sheet(words: str) -> QPixmap:
    sheet = QPixmap(_PICTURE)
    sheet.fill(Qt.GlobalColor.white)
    painter = QPainter(sheet)
    painter.setPen(Qt.GlobalColor.gray)
    painter.drawText(sheet.rect(), Qt.AlignmentFlag.AlignCenter, words)
    painter.end()
    return sheet


def _shown(picture: QPixmap) -> QIcon:
    icon = QIcon(picture)
    icon.addPixmap(picture, QIcon.Mode.Selected)  # not tinted
    return icon
