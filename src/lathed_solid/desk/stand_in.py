"""What stands in the part view's place until the kernel's viewer is there: the picture the job was saved with."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtOpenGLWidgets import QOpenGLWidget

from .theme.palette import Palette

WORDS = "The part view is being opened …"


class StandIn(QOpenGLWidget):
    """A picture, as large as there is room; without one, words. ``painted`` tells that it is on screen, once.

    Drawn by OpenGL like the view it stands for: a window that only gets such a widget once it is shown is made anew by
    Qt, and loses the keyboard.
    """

    painted = pyqtSignal()

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._told = False
        self.frameSwapped.connect(self._tell)
        self._palette = palette
        self._picture = QPixmap()
        self.setAccessibleName("Part view, being opened")

    def _tell(self) -> None:
        if not self._told:
            self._told = True
            self.painted.emit()

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.update()

    def show_picture(self, png: bytes) -> None:
        """The picture of a saved job (PNG); what is none leaves the words."""
        self._picture = QPixmap()
        self._picture.loadFromData(png)
        self.update()

    def paintGL(self) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._palette.color("ground_top"))
        if self._picture.isNull():
            painter.setPen(self._palette.color("ink"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, WORDS)
        else:
            size = self._picture.size().scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatioByExpanding)
            left, top = (self.width() - size.width()) // 2, (self.height() - size.height()) // 2
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawPixmap(left, top, size.width(), size.height(), self._picture)
        painter.end()
