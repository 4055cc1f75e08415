"""Small drawings of what to touch: the ways of touching, and the conversions."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ..theme.palette import Palette
from ..theme.style import text_font


class Picture(QWidget):
    """Draws the picture called ``name`` on a board of 120 x 80."""

    def __init__(self, palette: Palette, name: str = "") -> None:
        super().__init__()
        self.palette_, self.name = palette, name
        self.setFixedSize(126, 84)

    def show_picture(self, name: str) -> None:
        self.name = name
        self.setAccessibleName(f"Picture: {name}")
        self.update()

    def dress(self, palette: Palette) -> None:
        self.palette_ = palette
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        draw = _PICTURES.get(self.name)
        if draw is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(self.width() / 120, self.height() / 80)
        draw(_Pen(painter, self.palette_))


class _Pen:
    """Strokes with a meaning: the part, the instrument, a size, its letter."""

    def __init__(self, painter: QPainter, palette: Palette) -> None:
        self.painter, self.palette = painter, palette

    def _set(self, color: str, width: float, fill: str = "", dash: bool = False) -> None:
        self.painter.setPen(
            QPen(self.palette.color(color), width, Qt.PenStyle.DashLine if dash else Qt.PenStyle.SolidLine)
        )
        self.painter.setBrush(self.palette.color(fill, 0.55) if fill else Qt.BrushStyle.NoBrush)

    def part(self, *points: tuple[float, float]) -> None:
        self._set("ink", 1.2, "rule")
        self.painter.drawPolygon(QPolygonF([QPointF(*p) for p in points]))

    def round(self, x: float, y: float, r: float, hole: bool = False) -> None:
        self._set("ink", 1.2, "panel" if hole else "rule")
        self.painter.drawEllipse(QPointF(x, y), r, r)

    def jaw(self, *points: tuple[float, float]) -> None:
        self._set("brass", 1.0, "brass")
        self.painter.drawPolygon(QPolygonF([QPointF(*p) for p in points]))

    def size(self, a: tuple[float, float], b: tuple[float, float], letter: str) -> None:
        self._set("brass", 1.1)
        self.painter.drawLine(QPointF(*a), QPointF(*b))
        upright = abs(a[0] - b[0]) < abs(a[1] - b[1])
        for x, y in (a, b):
            self.painter.drawLine(
                QPointF(x - 3 * upright, y - 3 * (not upright)), QPointF(x + 3 * upright, y + 3 * (not upright))
            )
        self.painter.setFont(text_font(5.5))
        self.painter.setPen(self.palette.color("ink"))
        at = QRectF((a[0] + b[0]) / 2 - 14 + 8 * upright, (a[1] + b[1]) / 2 - 10 + 5 * upright, 28, 10)
        self.painter.drawText(at, Qt.AlignmentFlag.AlignCenter, letter)

    def line(self, a: tuple[float, float], b: tuple[float, float], dash: bool = False) -> None:
        self._set("faint", 0.9, dash=dash)
        self.painter.drawLine(QPointF(*a), QPointF(*b))

    def arc(self, box: tuple[float, float, float, float], start: float, sweep: float) -> None:
        self._set("ink", 1.4)
        self.painter.drawArc(QRectF(*box), round(16 * start), round(16 * sweep))


def _outside(p: _Pen) -> None:
    p.round(60, 46, 20)
    p.jaw((34, 14), (40, 14), (40, 70), (34, 62))
    p.jaw((80, 14), (86, 14), (86, 62), (80, 70))
    p.jaw((20, 8), (112, 8), (112, 14), (20, 14))


def _inside(p: _Pen) -> None:
    p.part((20, 34), (100, 34), (100, 76), (20, 76))
    p.round(60, 55, 18, hole=True)
    p.jaw((42, 16), (49, 16), (46, 62), (42, 58))
    p.jaw((71, 16), (78, 16), (78, 58), (74, 62))
    p.jaw((14, 10), (106, 10), (106, 16), (14, 16))


def _depth(p: _Pen) -> None:
    p.part((20, 32), (50, 32), (50, 64), (70, 64), (70, 32), (100, 32), (100, 76), (20, 76))
    p.jaw((36, 22), (84, 22), (84, 32), (36, 32))
    p.jaw((58.5, 6), (61.5, 6), (61.5, 64), (58.5, 64))


def _step(p: _Pen) -> None:
    p.part((18, 26), (48, 26), (48, 44), (92, 44), (92, 76), (18, 76))
    p.jaw((10, 10), (48, 10), (48, 26), (44, 26), (44, 16), (10, 16))
    p.jaw((48, 10), (112, 10), (112, 16), (98, 16), (98, 70), (92, 70), (92, 16), (48, 16))


def _thread(p: _Pen) -> None:
    crest = [(30.0 + 5 * i, 30.0 if i % 2 else 34.0) for i in range(13)]
    p.part(*crest, *[(x, 92 - y) for x, y in reversed(crest)])
    p.jaw((44, 8), (78, 8), (78, 30), (44, 30))
    p.jaw((44, 62), (78, 62), (78, 76), (44, 76))


def _weight(p: _Pen) -> None:
    p.round(60, 34, 14)
    p.jaw((30, 50), (90, 50), (84, 55), (36, 55))
    p.part((36, 56), (84, 56), (92, 76), (28, 76))


def _center(p: _Pen) -> None:
    p.part((14, 24), (106, 24), (106, 70), (14, 70))
    p.round(72, 47, 13, hole=True)
    p.size((14, 47), (59, 47), "gap")
    p.size((59, 66), (85, 66), "d")


def _pitch(p: _Pen) -> None:
    p.round(30, 42, 16, hole=True)
    p.round(90, 42, 12, hole=True)
    p.size((46, 42), (78, 42), "gap")
    p.size((14, 66), (46, 66), "d1")
    p.size((78, 66), (102, 66), "d2")


def _wall(p: _Pen) -> None:
    p.round(60, 40, 32)
    p.round(60, 40, 20, hole=True)
    p.size((28, 76), (92, 76), "outside")
    p.size((40, 40), (80, 40), "bore")


def _arc(p: _Pen) -> None:
    p.arc((10, 20, 100, 100), 35, 110)
    p.line((19, 41), (101, 41))
    p.size((19, 62), (101, 62), "chord")
    p.size((60, 20), (60, 41), "h")


def _taper(p: _Pen) -> None:
    p.part((24, 18), (92, 28), (92, 56), (24, 66))
    p.size((16, 18), (16, 66), "D")
    p.size((100, 28), (100, 56), "d")
    p.size((24, 74), (92, 74), "l")


def _circle(p: _Pen) -> None:
    for x, y in ((60, 14), (82.5, 27), (82.5, 53), (60, 66), (37.5, 53), (37.5, 27)):
        p.round(x, y, 6, hole=True)
    p.size((60, 14), (82.5, 27), "pitch")


def _crests(p: _Pen) -> None:
    crest = [(15.0 + 7.5 * i, 26.0 if i % 2 else 34.0) for i in range(13)]
    p.part(*crest, *[(x, 84 - y) for x, y in reversed(crest)])
    p.size((22.5, 14), (97.5, 14), "over n crests")


def _corners(p: _Pen) -> None:
    p.part((60, 6), (89.4, 23), (89.4, 57), (60, 74), (30.6, 57), (30.6, 23))
    p.size((30.6, 40), (89.4, 40), "across flats")


def _chain(p: _Pen) -> None:
    p.part((10, 26), (42, 26), (42, 18), (74, 18), (74, 30), (110, 30), (110, 52), (10, 52))
    for a, b, letter in ((10, 42, "a"), (42, 74, "b"), (74, 110, "c")):
        p.size((a, 62), (b, 62), letter)
    p.size((10, 74), (110, 74), "overall")


_PICTURES: dict[str, Callable[[_Pen], None]] = {
    "outside": _outside, "inside": _inside, "depth": _depth, "step": _step, "thread": _thread, "weight": _weight,
    "center": _center, "pitch": _pitch, "wall": _wall, "arc": _arc, "taper": _taper, "circle": _circle,
    "crests": _crests, "corners": _corners, "chain": _chain,
}  # fmt: skip
