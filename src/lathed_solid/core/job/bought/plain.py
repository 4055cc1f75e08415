"""Parts without a thread: washers, bearings, pins, keys, rollers, balls, circlips."""

from __future__ import annotations

from msgspec.structs import replace

from ...prove.binding import Binding
from ...route.gauges import Between
from ...route.steps.extrude import Extrude
from ...route.steps.revolve import Revolve
from ...sketch.make.size import make_dimension
from ...sketch.model import Plane, Station
from ...sketch.typed.commands import read_command
from .. import edits
from ..model import Content
from ..settle import settle
from .making import callouts, cut, ring, turned

#: The gap of a circlip in its groove, by its bore.
_GAP = 0.15


def washer(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    hole, outside, thick = row
    return ring(content, hole, outside, thick)


def ball_bearing(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    bore, outside, wide = row
    # ISO 492:2014, normal class: mean bore and mean outside diameter, 0 to so many thousandths below.
    below = next(v for upper, v in ((18, 0.008), (30, 0.010), (50, 0.012)) if bore <= upper)
    outer = next(v for upper, v in ((18, 0.008), (30, 0.009), (50, 0.011), (80, 0.013)) if outside <= upper)
    return ring(content, bore, outside, wide, f" 0/-{below:g}", f" 0/-{outer:g}")


def parallel_pin(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    content = callouts(content, (f"Ø{size} h8", "pin"), (f"{length:g}", "length"), (f"2x {row[0]:g} x 45°", "ends"))
    return turned(content, Station(id="pin", length="#2", diameter="#1", left="#3", right="#3"))


def taper_pin(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    large = float(size) + length / 50.0
    content = callouts(content, (f"Ø{size}", "small end"), (f"Ø{large:g}", "large end"), (f"{length:g}", "length"))
    return turned(content, Station(id="pin", length="#3", diameter="#1", diameter2="#2"))


def parallel_key(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    wide, high = row
    content = callouts(content, (f"{wide:g}", "wide"), (f"{high:g}", "high"), (f"{length:g}", "long"))
    content, sketch = edits.add_sketch(content, "Outline", Plane("end"))
    own, ledger = content.sketch(sketch), content.ledger()
    drawn = read_command("rect #3 x #1 at 0,0", ledger, own.turned, own).draw(own, ())
    content = edits.set_sketch(content, drawn)
    content, _ = edits.with_step(content, Extrude, name="Key", sketch=sketch, mode="new", extent="depth", depth="#2")
    return content


def woodruff_key(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    """A segment of a disc: its flat lies ``high`` from the round."""
    wide, high, disc = row
    content = callouts(content, (f"{wide:g}", "wide"), (f"Ø{disc:g}", "disc"), (f"{high:g}", "high"))
    content, sketch = edits.add_sketch(content, "Disc", Plane("end"))
    own, ledger = content.sketch(sketch), content.ledger()
    drawn = read_command("circle Ø#2 at 0,0", ledger, own.turned, own).draw(own, ())
    content = edits.set_sketch(content, drawn)
    content, _ = edits.with_step(content, Extrude, name="Key", sketch=sketch, mode="new", extent="depth", depth="#1")
    content = cut(content, "Flat", "s1/end", "rect 2*#2 x #2 at 0,#3", "#1")
    return edits.bind(content, Binding(3, "", Between("s2/l1/side", "s1/c1/side")))


def roller(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    diameter, long, broken = row
    content = callouts(content, (f"Ø{diameter:g}", "roller"), (f"{long:g}", "length"), (f"2x {broken:g} x 45°", "ends"))
    return turned(content, Station(id="roller", length="#2", diameter="#1", left="#3", right="#3"))


def ball(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    radius = float(size) / 2
    content = callouts(content, (f"SØ{float(size):g}", "ball"))
    content, sketch = edits.add_sketch(content, "Half disc", Plane("side"))
    for command in (f"line {-radius:g},0 {radius:g},0", f"arc {radius:g},0 {-radius:g},0 0,{radius:g}"):
        own = content.sketch(sketch)
        drawn = read_command(command, content.ledger(), own.turned, own).draw(own, ())
        content = settle(edits.set_sketch(content, drawn)).content
    own = content.sketch(sketch)
    sized, _ = make_dimension(own, ("a1",), "#1", "diameter")
    content = edits.set_sketch(content, replace(own, dimensions=(*own.dimensions, sized)))
    content, _ = edits.with_step(content, Revolve, name="Turn", sketch=sketch)
    return content


def circlip(content: Content, size: str, row: tuple[float, ...], length: float) -> Content:
    """By its envelope, sprung into its groove: a ring with a gap, without the lugs."""
    inner, outer, thick = row
    content = ring(content, inner, outer, thick)
    content = callouts(content, (f"{_GAP * inner:.3g}", "gap"))
    return cut(content, "Gap", "s1/start/side", "rect #4 x #1 at 0,#1/2", "#2")
