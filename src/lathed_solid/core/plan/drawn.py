"""What a drawing's views tell before there is a solid: which carries the shape, what is turned, alike, repeated."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from ..drawing.views import DrawnView
from ..quantity import Style
from .advice import XY, Advice, Alike, SheetBox, ring_or_grid

#: A view is alike on both sides of a line when all of it is; a section shows some holes on one side only.
_ALIKE, _MOSTLY = 1.0, 0.6
#: Sizes and middles of views that belong together agree to this share.
_AGREE = 0.02
#: Circles stand in a ring or grid within this (mm on the sheet).
_NEAR = 0.02


def from_views(views: Sequence[DrawnView], scale: float, style: Style) -> tuple[Advice, ...]:
    """The advice of a drawing's views; ``scale`` is mm of the part for one of the views' own (0: not known)."""
    turned = tuple(_turned(views, scale, style))
    return (*_carries(views), *turned, *(() if turned else _alike(views)), *_repeats(views, scale, style))


def _carries(views: Sequence[DrawnView]) -> Iterator[Advice]:
    whole = sum(v.pieces for v in views)
    if len(views) > 1 and views[0].pieces > 0.5 * whole:
        yield Advice(
            f"Of the drawing's {len(views)} views, {_where(views[0], views)} carries the shape: {views[0].pieces} of "
            f"{whole} lines, arcs and circles.",
            "Draw the view in which most of the part is lines; the others then only give depths.",
            boxes=(views[0].on_sheet,),
        )


def _turned(views: Sequence[DrawnView], scale: float, style: Style) -> Iterator[Advice]:
    """A round view, and one beside or below it that is alike on both sides of the common axis and as wide."""
    for end in views:
        radius = _round(end)
        if not radius:
            continue
        for side in views:
            if side is not end and (_lines_up(end, side, radius, 1) or _lines_up(end, side, radius, 0)):
                size = f" Ø{style.length(2 * radius * scale)}" if scale else ""
                yield Advice(
                    f"Round{size} in {_where(end, views)}, and alike on both sides of the axis in "
                    f"{_where(side, views)}: a turned part.",
                    "What is round is drawn once, as half its section, and turned: begin with a turned profile.",
                    "revolve",
                    boxes=(end.on_sheet, side.on_sheet),
                )
                return


def _round(view: DrawnView) -> float:
    """The radius of the circle that is the outline of a view; 0 for none."""
    x, y = view.middle
    about = [r for c, r in view.circles if math.dist(c, (x, y)) < _AGREE * r]
    largest = max(about, default=0.0)
    return largest if largest and abs(max(view.size) / 2 - largest) < _AGREE * largest else 0.0


def _lines_up(end: DrawnView, side: DrawnView, radius: float, across: int) -> bool:
    """Whether a view stands beside (1) or above or below (0) the round one on its axis, and is as wide."""
    alike = side.level if across == 1 else side.upright
    on_axis = abs(side.middle[across] - end.middle[across]) < _AGREE * radius
    return alike >= _MOSTLY and on_axis and abs(side.size[across] / 2 - radius) < _AGREE * radius


def _alike(views: Sequence[DrawnView]) -> Iterator[Advice]:
    for view in views[:1]:
        lines = [name for name, share in (("an upright", view.upright), ("a level", view.level)) if share >= _ALIKE]
        if lines:
            both = len(lines) == 2
            yield Advice(
                f"{_where(view, views)[0].upper()}{_where(view, views)[1:]} is alike on both sides of "
                f"{' and of '.join(lines)} line through its middle.",
                f"A {'quarter' if both else 'half'} of it is drawn and mirrored: "
                f"{'a quarter of' if both else 'half'} the numbers, and it stays alike.",
                "extrude",
                boxes=(view.on_sheet,),
            )


def _repeats(views: Sequence[DrawnView], scale: float, style: Style) -> Iterator[Advice]:
    """Circles of one size, or about one middle, that stand in a ring or a grid."""
    for view in views:
        about: dict[XY, list[tuple[XY, float]]] = {}
        for at, radius in view.circles:
            about.setdefault((round(at[0], 2), round(at[1], 2)), []).append((at, round(radius, 3)))
        alike: dict[tuple[float, ...], list[XY]] = {}
        for circles in about.values():
            alike.setdefault(tuple(sorted(r for _, r in circles)), []).append(circles[0][0])
        for radii, places in alike.items():
            sizes = " and ".join(f"Ø{style.length(2 * r * scale)}" for r in radii) if scale else "of one size"
            boxes = tuple(_round_about(view, p, radii[-1]) for p in places)
            many = Alike(f"{len(places)} circles {sizes}", places, boxes=boxes)
            yield from ring_or_grid(many, (lambda d: style.length(d * scale)) if scale else None, _NEAR)


def _round_about(view: DrawnView, place: XY, radius: float) -> SheetBox:
    """The box of a circle on the sheet."""
    left, low, right, high = view.box
    a, top, b, bottom = view.on_sheet

    def x(value: float) -> float:
        return a + (value - left) / ((right - left) or 1.0) * (b - a)

    def y(value: float) -> float:
        return top + (high - value) / ((high - low) or 1.0) * (bottom - top)

    return x(place[0] - radius), y(place[1] + radius), x(place[0] + radius), y(place[1] - radius)


def _where(view: DrawnView, views: Sequence[DrawnView]) -> str:
    """A view by where it stands among the others: ``the view at the lower left``."""
    if len(views) == 1:
        return "the view"
    xs, ys = [v.middle[0] for v in views], [v.middle[1] for v in views]
    across = _side(view.middle[0], min(xs), max(xs), ("left", "right"), max(v.size[0] for v in views))
    up = _side(view.middle[1], min(ys), max(ys), ("lower", "upper"), max(v.size[1] for v in views))
    place = (
        f"{up} {across}".strip() if across and up else across or {"lower": "bottom", "upper": "top"}.get(up, "middle")
    )
    return f"the view at the {place}"


def _side(at: float, low: float, high: float, names: tuple[str, str], size: float) -> str:
    if high - low < 0.25 * size:
        return ""
    share = (at - low) / (high - low)
    return names[0] if share < 1 / 3 else names[1] if share > 2 / 3 else ""
