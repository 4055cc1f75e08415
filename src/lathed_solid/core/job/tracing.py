"""A scan laid under a sketch: its linework in mm about a chosen zero, and which of its circles callouts speak of."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal, NamedTuple

import msgspec

from ..sketch.make.draw import Spot, add_circle
from ..sketch.make.shapes import sized
from ..sketch.model import Sketch
from ..sketch.traces import Traces
from . import edits
from .model import Content

Zero = Literal["corner", "circle", "middle"]
Lines = Sequence[tuple[float, float, float, float]]
Circles = Sequence[tuple[float, float, float]]
#: A circle of a scan is a callout's when it is no further from its size than this share, and this, mm.
_SHARE, _OFF = 0.02, 0.35
#: Ends of lines of a scan meet within this share of the longest.
_NEAR = 0.03
#: An outline fills more than this share of the box that everything found in it fills.
_WHOLE = 0.4


class Alike(NamedTuple):
    """Circles of one size on a scan, and the callout that states it: its number, and the key of the diameter."""

    number: int
    key: str
    diameter: float
    circles: tuple[tuple[float, float, float], ...]
    words: str


def in_plane(lines: Lines, circles: Circles, scale: float, zero: Zero) -> Traces:
    """Linework in shares of the sheet's width (y down) as mm about a zero, y up. ``scale``: mm a sheet's width."""
    flat = [(a * scale, -b * scale, c * scale, -d * scale) for a, b, c, d in lines]
    round_ = [(x * scale, -y * scale, r * scale) for x, y, r in circles]
    if not flat and not round_:
        return Traces(sketch="")
    left, low, right, high = _extent(flat, round_)
    x0, y0 = left, low
    if zero == "circle" and round_:
        x0, y0, _ = max(round_, key=lambda c: c[2])
    elif zero != "corner":
        x0, y0 = (left + right) / 2, (low + high) / 2
    return Traces(
        sketch="",
        lines=tuple((a - x0, b - y0, c - x0, d - y0) for a, b, c, d in flat),
        circles=tuple((x - x0, y - y0, r) for x, y, r in round_),
    )


def _extent(lines: Lines, circles: Circles) -> tuple[float, float, float, float]:
    """Left, low, right and high of the outline: of the lines that hang together over the largest area, for bits of
    dimension lines lie about too; of everything where what hangs together is only a part of it.
    """
    xs = [v for s in lines for v in (s[0], s[2])] + [v for x, _, r in circles for v in (x - r, x + r)]
    ys = [v for s in lines for v in (s[1], s[3])] + [v for _, y, r in circles for v in (y - r, y + r)]
    every = min(xs), min(ys), max(xs), max(ys)
    boxes = [
        (min(v[0] for v in ends), min(v[1] for v in ends), max(v[0] for v in ends), max(v[1] for v in ends))
        for group in _hanging_together(lines)
        if len(group) > 1
        for ends in [[p for a, b, c, d in group for p in ((a, b), (c, d))]]
    ]
    boxes += [(x - r, y - r, x + r, y + r) for x, y, r in circles]
    whole = max(boxes, key=_area, default=every)
    return whole if _area(whole) > _WHOLE * _area(every) else every


def _area(box: tuple[float, float, float, float]) -> float:
    return (box[2] - box[0]) * (box[3] - box[1])


def _hanging_together(lines: Lines) -> list[list[tuple[float, float, float, float]]]:
    """Lines in groups: an end of one lies near an end of another, for a scan's lines stop short of their corners."""
    long = max((math.hypot(c - a, d - b) for a, b, c, d in lines), default=0.0)
    groups: list[list[tuple[float, float, float, float]]] = []
    for line in lines:
        mine = [g for g in groups if any(_meet(line, other, _NEAR * long) for other in g)]
        groups = [g for g in groups if g not in mine] + [[line, *(s for g in mine for s in g)]]
    return groups


def _meet(one: Sequence[float], other: Sequence[float], off: float) -> bool:
    return any(math.hypot(one[i] - other[k], one[i + 1] - other[k + 1]) < off for i in (0, 2) for k in (0, 2))


def stated(traces: Traces, content: Content) -> list[Alike]:
    """Circles whose size a callout states, by callout: what the scan measures is never taken for a size."""
    ledger, found = content.ledger(), []
    free = list(traces.circles)
    for callout in content.callouts:
        if ledger.error(callout.number) is not None:
            continue
        for c in ledger.reading(callout.number).characteristics:
            if c.kind != "diameter" or c.key not in ("", "seat", "drill"):
                continue
            size = c.nominal
            own = tuple(k for k in free if abs(2 * k[2] - size) <= _SHARE * size + _OFF)
            if own:
                free = [k for k in free if k not in own]
                found.append(Alike(callout.number, c.key, size, own, callout.note.splitlines()[0]))
    return found


def callout_meant(content: Content, sketch: str, value: float) -> int | None:
    """The callout whose length a distance drawn over a scan (mm) is meant to be: the only one so near, or None."""
    if not any(t.sketch == sketch for t in content.traces):
        return None
    ledger = content.ledger()
    known = [c.number for c in content.callouts if ledger.error(c.number) is None]
    lengths = [(n, ledger.reading(n).main.nominal) for n in known if ledger.reading(n).shape == "length"]
    near = [n for n, size in lengths if abs(size - abs(value)) <= _SHARE * size / 2 + _OFF]
    return near[0] if len(near) == 1 else None


def laid_under(content: Content, traces: Traces, sketch: str) -> Content:
    """The content with a scan under a sketch, in place of what lay there."""
    kept = tuple(t for t in content.traces if t.sketch != sketch)
    return msgspec.structs.replace(content, traces=(*kept, msgspec.structs.replace(traces, sketch=sketch)))


def taken_away(content: Content, sketch: str) -> Content:
    return msgspec.structs.replace(content, traces=tuple(t for t in content.traces if t.sketch != sketch))


def with_holes(content: Content, sketch: str, chosen: Sequence[Alike]) -> Content:
    """Circles drawn where the scan has them, each as large as its callout says. Raises EditRefused, SketchError."""
    drawn: Sketch = content.sketch(sketch)
    for alike in chosen:
        formula = f"#{alike.number}" + (f".{alike.key}" if alike.key else "")
        for x, y, _ in alike.circles:
            drawn, circle = add_circle(drawn, Spot(x, y), alike.diameter / 2)
            drawn = sized(drawn, "diameter", (circle,), formula)
    return edits.set_sketch(content, drawn)
