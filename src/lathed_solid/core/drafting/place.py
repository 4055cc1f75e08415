"""Places, boxes and the scale of a drawing as plain values: x right, y down, in its own units (pixels, points)."""

from __future__ import annotations

from typing import NamedTuple


class Place(NamedTuple):
    x: float
    y: float


class Box(NamedTuple):
    """A box by its corner of least x and y."""

    left: float
    top: float
    width: float
    height: float

    @property
    def right(self) -> float:
        return self.left + self.width

    @property
    def bottom(self) -> float:
        return self.top + self.height

    def meets(self, other: Box) -> bool:
        """Whether the two share more than an edge."""
        return (
            self.left < other.right and other.left < self.right and self.top < other.bottom and other.top < self.bottom
        )


class Scale:
    """Sketch mm (y up) to the drawing's units (y down)."""

    def __init__(self) -> None:
        self.scale, self.x0, self.y0 = 4.0, 60.0, 150.0

    def at(self, x: float, y: float) -> Place:
        return Place(self.x0 + x * self.scale, self.y0 - y * self.scale)

    def back(self, x: float, y: float) -> tuple[float, float]:
        """The place in mm that is drawn at ``x``, ``y``."""
        return (x - self.x0) / self.scale, (self.y0 - y) / self.scale

    def zoom_about(self, x: float, y: float, factor: float) -> None:
        """The place drawn at ``x``, ``y`` stays there."""
        u, v = self.back(x, y)
        self.scale = min(2000.0, max(0.05, self.scale * factor))
        self.x0, self.y0 = x - u * self.scale, y + v * self.scale

    def fit(self, box: Box, width: int, height: int, margins: tuple[int, int, int, int]) -> None:
        """Show a box of mm (low corner) inside margins left, top, right, bottom."""
        left, top, right, bottom = margins
        room_x, room_y = max(50, width - left - right), max(40, height - top - bottom)
        self.scale = min(room_x / max(box.width, 1e-3), room_y / max(box.height, 1e-3), 60.0)
        self.x0 = left + room_x / 2 - (box.left + box.width / 2) * self.scale
        self.y0 = top + room_y / 2 + (box.top + box.height / 2) * self.scale
