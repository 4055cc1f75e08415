"""The plate on paper: the sketch as SVG, dark lines on white."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QBuffer, QIODevice, QRectF, QSize
from PyQt6.QtGui import QPainter
from PyQt6.QtSvg import QSvgGenerator

from ...core.job.files import CannotWrite, write_atomic
from ..session import Session
from ..theme.palette import LIGHT, Palette

if TYPE_CHECKING:
    from .canvas import Canvas

#: Paper under the lines: what is scribed bright on the plate is drawn dark here.
PAPER: Palette = LIGHT._replace(
    plate_top="#FFFFFF", plate_bottom="#FFFFFF", scribe="#1B2C3A", construction="#6B8296", gold="#8A5F1C"
)


def to_svg(canvas: Canvas) -> bytes:
    """The picture as it stands, in the canvas's pixels (96 to the inch)."""
    data = QBuffer()
    data.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(data)
    size = QSize(canvas.width(), canvas.height())
    generator.setSize(size)
    generator.setViewBox(QRectF(0, 0, size.width(), size.height()))
    generator.setTitle(canvas.sketch.name if canvas.sketch is not None else "sketch")
    kept = canvas.palette_
    canvas.palette_ = PAPER
    try:
        painter = QPainter(generator)
        canvas.render_on(painter, size.width(), size.height())
        painter.end()
    finally:
        canvas.palette_ = kept
    return data.data().data()


def write_svg(path: Path, canvas: Canvas, session: Session) -> None:
    """The sketch as it stands on the plate, in the plate's colours on white."""
    try:
        write_atomic(path, to_svg(canvas))
    except CannotWrite as error:
        session.say(str(error), "bad")
        return
    session.say(f"Wrote {path.name}.", "good")
