"""The rows each kind of dimension comes down to, and where its value enters them."""

from __future__ import annotations

from collections.abc import Callable

from ..model import Arc, Dimension, Ellipse
from ..refusal import Unstatable
from .elements import Elements
from .offsets import state_offset


def _ordinate(k: int) -> Callable[[Elements, Dimension, float], None]:
    def rule(f: Elements, d: Dimension, value: float) -> None:
        p, q = f.anchor(d.of[0]), f.anchor(d.of[1])
        f.slot(f.row("linear", (q[k], p[k]), 1, -1, 0, d.sense * value), 3, d.sense)

    return rule


def _distance(f: Elements, d: Dimension, value: float) -> None:
    a, b = d.of
    lines = [i for i in (a, b) if i in f.ends and i not in f.radius]
    if not lines:
        _between(f, d, value)
        return
    line = f.line(lines[0])
    other = next((i for i in (a, b) if i not in lines), b)
    if other in f.radius:
        lean = d.sense * (1.0 if not d.far else -1.0)
        row = f.row("offset", (*line[0], *line[1], *f.center(other), f.radius[other]), lean, d.sense * value)
    else:
        row = f.row("offset", (*line[0], *line[1], *f.anchor(other)), 0, d.sense * value)
    f.slot(row, 1, d.sense)


def _between(f: Elements, d: Dimension, value: float) -> None:
    """Straight distance of points or circles, from centre or from the near or far edge of each."""
    a, b = d.of
    rims = [rim if id_ in f.radius else 0 for id_, rim in zip(d.of, d.rim, strict=True)]
    p, q = f.anchor(a), f.anchor(b)
    if any(rims) and (p == q or f.root(_name(f, a)) == f.root(_name(f, b))):
        ra, rb = (f.radius.get(i, 0) for i in (a, b))
        if rims[0] == rims[1]:
            f.slot(f.row("linear", (ra, rb), 1, 1, 0, value), 3, 1)
        else:
            f.slot(f.row("linear", (rb, ra), 1, -1, 0, d.sense * value), 3, d.sense)
        return
    radii = tuple(f.radius.get(i, 0) if rim else 0 for i, rim in zip(d.of, rims, strict=True))
    f.slot(f.row("distance", (*p, *q, *radii), -rims[0], -rims[1], value), 2, 1)


def _name(f: Elements, id_: str) -> str:
    return id_ if id_ in f.point else getattr(f.element(id_), "center", id_)


def _radius(f: Elements, d: Dimension, value: float) -> None:
    f.slot(f.row("linear", (f.radius[d.of[0]],), 1, 0, 0, value), 3, 1)


def _diameter(f: Elements, d: Dimension, value: float) -> None:
    id_ = d.of[0]
    variable = f.radius[id_] if id_ in f.radius else f.anchor(id_)[1]
    sense = 1 if id_ in f.radius else d.sense
    f.slot(f.row("linear", (variable,), 1, 0, 0, sense * value / 2), 3, sense / 2)


def _angle(f: Elements, d: Dimension, value: float) -> None:
    first, second = f.line(d.of[0]), f.line(d.of[1])
    if d.quadrant & 1:
        first = first[::-1]
    if d.quadrant & 2:
        second = second[::-1]
    row = f.row("turn", (*first[0], *first[1], *second[0], *second[1]), d.sense * value, f.weight(first, second))
    f.slot(row, 0, d.sense)


def _arc_length(f: Elements, d: Dimension, value: float) -> None:
    arc = f.element(d.of[0])
    if not isinstance(arc, Arc):
        raise Unstatable("only an arc has an arc length")
    ends = (*f.point[arc.center], *f.point[arc.a], *f.point[arc.b])
    f.slot(f.row("arc_length", (*ends, f.radius[arc.id]), value), 0, 1)


def _long_axis(f: Elements, d: Dimension, value: float) -> None:
    ellipse = f.element(d.of[0])
    if not isinstance(ellipse, Ellipse):
        raise Unstatable("only an ellipse has axes")
    row = f.row("distance", (*f.point[ellipse.center], *f.point[ellipse.a]), 0, 0, value / 2)
    f.slot(row, 2, 0.5)


def _own_size(share: float) -> Callable[[Elements, Dimension, float], None]:
    """A size an element has to itself: a text's height, half of an ellipse's other axis."""

    def rule(f: Elements, d: Dimension, value: float) -> None:
        f.slot(f.row("linear", (f.scalar[d.of[0]],), 1, 0, 0, share * value), 3, share)

    return rule


def _offset(f: Elements, d: Dimension, value: float) -> None:
    state_offset(f, d, value)


def _pitch(second: bool) -> Callable[[Elements, Dimension, float], None]:
    def rule(f: Elements, d: Dimension, value: float) -> None:
        f.slot(f.row("distance", (0, 0, *f.step[d.of[0]][second]), 0, 0, value), 2, 1)

    return rule


def _turn(f: Elements, d: Dimension, value: float) -> None:
    """Its value has entered the copies' rows already (see ``repeats``)."""


DIMENSIONS: dict[str, Callable[[Elements, Dimension, float], None]] = {
    "along": _ordinate(0),
    "across": _ordinate(1),
    "distance": _distance,
    "radius": _radius,
    "diameter": _diameter,
    "angle": _angle,
    "arc_length": _arc_length,
    "long_axis": _long_axis,
    "short_axis": _own_size(0.5),
    "height": _own_size(1.0),
    "offset": _offset,
    "pitch": _pitch(False),
    "pitch2": _pitch(True),
    "turn": _turn,
}
