"""A scan laid under a sketch: its linework in mm about a chosen zero, and which of its circles callouts speak of."""

from __future__ import annotations

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
    xs = [v for s in flat for v in (s[0], s[2])] + [v for x, _, r in round_ for v in (x - r, x + r)]
    ys = [v for s in flat for v in (s[1], s[3])] + [v for _, y, r in round_ for v in (y - r, y + r)]
    if not xs:
        return Traces(sketch="")
    x0, y0 = min(xs), min(ys)
    if zero == "circle" and round_:
        x0, y0, _ = max(round_, key=lambda c: c[2])
    elif zero != "corner":
        x0, y0 = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
    return Traces(
        sketch="",
        lines=tuple((a - x0, b - y0, c - x0, d - y0) for a, b, c, d in flat),
        circles=tuple((x - x0, y - y0, r) for x, y, r in round_),
    )


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
