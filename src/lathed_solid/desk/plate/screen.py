"""The plate's scale in the toolkit's own points."""

from __future__ import annotations

from PyQt6.QtCore import QPointF

from ...core.drafting.place import Scale


class Transform(Scale):
    """Sketch mm to widget pixels."""

    def px(self, x: float, y: float) -> QPointF:
        return QPointF(*self.at(x, y))

    def mm(self, p: QPointF) -> tuple[float, float]:
        return self.back(p.x(), p.y())

    def zoom(self, at: QPointF, factor: float) -> None:
        """About a pixel; the place under it stays."""
        self.zoom_about(at.x(), at.y(), factor)
