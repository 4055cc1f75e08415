"""What a tool is: how many clicks, which fields beside the cursor, and what it makes of them."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Literal, NamedTuple

from ..make.draw import Spot
from ..model import Sketch

XY = tuple[float, float]
Want = Literal["length", "angle", "number", "text"]


class Field(NamedTuple):
    """A field beside the cursor. ``usual`` is taken when nothing is typed; a field without one follows the cursor."""

    key: str
    label: str
    want: Want = "length"
    usual: str = ""


class Typed(NamedTuple):
    """What stands in a field: the text, and its value in mm, radians or plain (0 for a text)."""

    text: str
    value: float = 0.0


Values = Mapping[str, Typed]


class Given(NamedTuple):
    """What a tool works from: places clicked, values typed, elements chosen before."""

    spots: tuple[Spot, ...]
    typed: Values
    chosen: tuple[str, ...]


def _as_is(spots: tuple[Spot, ...], here: Spot, typed: Values) -> Spot:
    return here


def _nothing(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    return {}


def _no_measure(sketch: Sketch, given: Given) -> dict[str, float]:
    return {}


class Tool(NamedTuple):
    """``clicks`` places finish it (0: Enter alone; -1: any number, ended by Enter). ``fields`` are per click.

    ``aim`` moves the place under the cursor to where typed values want it, ``live`` gives the values the cursor shows.
    ``chosen`` says what must be chosen first ("" for nothing). ``goes_on`` starts anew from the last place,
    ``stroke`` tools take a drawn stroke, ``measure`` shows values that need the sketch.
    """

    id: str
    title: str
    icon: str
    prompts: tuple[str, ...]
    make: Callable[[Sketch, Given], Sketch]
    clicks: int = 2
    fields: tuple[tuple[Field, ...], ...] = ()
    aim: Callable[[tuple[Spot, ...], Spot, Values], Spot] = _as_is
    live: Callable[[tuple[Spot, ...], Spot], dict[str, float]] = _nothing
    chosen: str = ""
    goes_on: bool = False
    stroke: bool = False
    measure: Callable[[Sketch, Given], dict[str, float]] = _no_measure

    def fields_at(self, click: int) -> tuple[Field, ...]:
        return self.fields[click] if click < len(self.fields) else ()

    def prompt(self, click: int) -> str:
        return self.prompts[min(click, len(self.prompts) - 1)]


LENGTH_ANGLE = (Field("length", "length"), Field("angle", "angle", "angle"))


def aim_polar(spots: tuple[Spot, ...], here: Spot, typed: Values) -> Spot:
    """From the last place: as far as a typed length, in the direction of a typed angle."""
    if not spots or not ("length" in typed or "angle" in typed):
        return here
    last = spots[-1]
    turn = math.atan2(here.y - last.y, here.x - last.x)
    far = math.hypot(here.x - last.x, here.y - last.y)
    if "angle" in typed:
        turn = typed["angle"].value
        far = (here.x - last.x) * math.cos(turn) + (here.y - last.y) * math.sin(turn)
    if "length" in typed:
        far = typed["length"].value
    return Spot(_round(last.x + far * math.cos(turn)), _round(last.y + far * math.sin(turn)))


def live_polar(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    if not spots:
        return {}
    last = spots[-1]
    dx, dy = here.x - last.x, here.y - last.y
    return {"length": math.hypot(dx, dy), "angle": math.atan2(dy, dx) % (2 * math.pi)}


def aim_box(spots: tuple[Spot, ...], here: Spot, typed: Values) -> Spot:
    """The opposite corner at typed width and height, on the side where the cursor is."""
    if not spots or not ("width" in typed or "height" in typed):
        return here
    a = spots[-1]
    x, y = here.x, here.y
    if "width" in typed:
        x = a.x + math.copysign(typed["width"].value, x - a.x)
    if "height" in typed:
        y = a.y + math.copysign(typed["height"].value, y - a.y)
    return Spot(x, y)


def live_box(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    return {"width": abs(here.x - spots[-1].x), "height": abs(here.y - spots[-1].y)} if spots else {}


def aim_half_box(spots: tuple[Spot, ...], here: Spot, typed: Values) -> Spot:
    return aim_box(spots, here, {k: Typed(v.text, v.value / 2) for k, v in typed.items()})


def live_half_box(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
    return {k: 2 * v for k, v in live_box(spots, here).items()}


def aim_radial(key: str, share: float = 0.5) -> Callable[[tuple[Spot, ...], Spot, Values], Spot]:
    """At ``share`` of the typed value from the first place."""

    def aim(spots: tuple[Spot, ...], here: Spot, typed: Values) -> Spot:
        if not spots or key not in typed:
            return here
        c, far = spots[0], typed[key].value * share
        turn = math.atan2(here.y - c.y, here.x - c.x)
        return Spot(c.x + far * math.cos(turn), c.y + far * math.sin(turn))

    return aim


def live_radial(key: str, share: float = 0.5) -> Callable[[tuple[Spot, ...], Spot], dict[str, float]]:
    def live(spots: tuple[Spot, ...], here: Spot) -> dict[str, float]:
        return {key: math.hypot(here.x - spots[0].x, here.y - spots[0].y) / share} if spots else {}

    return live


def gap_to(a: Spot, b: Spot, p: Spot) -> float:
    """Distance of ``p`` from the line a b, mm."""
    size = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    return abs((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)) / size


def _round(value: float) -> float:
    return round(value, 12) + 0.0
