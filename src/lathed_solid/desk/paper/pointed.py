"""What lies under the pointer on a drawing sheet: a callout, or a place in a view with the faces drawn there."""

from __future__ import annotations

import math
from typing import NamedTuple

from ...core.drafting.sheet.model import XY, Sheet
from ...core.drafting.sheet.placing import Placing
from ...core.drafting.sheet.scene import Scene
from ...core.drafting.sheet.seen import Seen
from ...core.kernel.draw.strokes import Stroke


class Pointed(NamedTuple):
    """``of`` is ``label:12`` or ``view:v1``, empty for nothing; in a view ``place`` (mm of the part as seen), taken
    from the middle of a round line or the end of a straight one where one is near, and the ``faces`` of that line.
    """

    of: str = ""
    place: XY | None = None
    faces: tuple[int, ...] = ()
    words: str = ""

    @property
    def view(self) -> str:
        return self.of.removeprefix("view:") if self.of.startswith("view:") else ""

    @property
    def number(self) -> int:
        return int(self.of.removeprefix("label:")) if self.of.startswith("label:") else 0


def pointed(scene: Scene, sheet: Sheet, seen: Seen, at: XY, near: float) -> Pointed:
    """What is at a place of the page (mm); lines count within ``near``."""
    for spot in sorted(scene.spots, key=lambda s: s.of.startswith("view:")):
        left, bottom, right, top = spot.box
        if left - near <= at[0] <= right + near and bottom - near <= at[1] <= top + near:
            if not spot.of.startswith("view:"):
                return Pointed(spot.of)
            return _in_view(spot.of, sheet, seen, at, near)
    return Pointed()


def _in_view(of: str, sheet: Sheet, seen: Seen, at: XY, near: float) -> Pointed:
    view = sheet.view(of.removeprefix("view:"))
    placing = Placing(sheet, view, seen.views[view.id])
    place = placing.back(at)
    reach = near / placing.scale
    found = [(_away(s, place), s) for s in placing.seen.strokes if s.visible or view.hidden]
    off, stroke = min(found, key=lambda f: f[0], default=(1e9, None))
    if stroke is None or off > reach:
        return Pointed(of, place)
    if stroke.arc is not None:
        return Pointed(of, stroke.arc.center, stroke.faces, "middle of a round line")
    end = min((stroke.points[0], stroke.points[-1]), key=lambda p: math.dist(p, place))
    if math.dist(end, place) < reach:
        return Pointed(of, end, stroke.faces, "end of a line")
    return Pointed(of, place, stroke.faces, "on a line")


def _away(stroke: Stroke, place: XY) -> float:
    return min(_off(place, a, b) for a, b in zip(stroke.points, stroke.points[1:], strict=False))


def _off(p: XY, a: XY, b: XY) -> float:
    dx, dy = b[0] - a[0], b[1] - a[1]
    size = dx * dx + dy * dy
    t = min(1.0, max(0.0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / size)) if size else 0.0
    return math.hypot(p[0] - a[0] - t * dx, p[1] - a[1] - t * dy)
