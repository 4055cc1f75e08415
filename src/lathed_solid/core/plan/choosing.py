"""Which stock a part comes out of: every form in every sensible way, the next size up, ranked by what is wasted."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from typing import NamedTuple, cast, get_args

from ..kernel.measure.bars import Along, Envelope
from ..refusal import Refusal, said
from ..standards.stock import Stock
from .blank import Allowed, Form
from .finished import Finished

#: Stock may be so much smaller than is needed and still counts as the size (mm): outlines are followed no nearer.
_FITS = 0.005
#: A square set up on its corner is only offered when it saves this much, mm.
_LESS = 0.1
#: The relation of a hexagon's area to the square of its width across flats.
_HEXAGON = math.sqrt(3) / 2
AXES = "xyz"
_LISTED: tuple[Form, ...] = tuple(f for f in get_args(Form) if f not in ("", "cast"))


class Lie(NamedTuple):
    """How a part lies in a section: ``needed`` is the least that holds it (mm, as the size of :class:`Stock`), ``at``
    its middle in the two directions across, ``turn`` its turning (radians).
    """

    needed: tuple[float, ...]
    at: tuple[float, float]
    turn: float = 0.0


class Way(NamedTuple):
    """One blank: ``across`` are its own sides (mm), ``start`` is where it begins along its axis, ``length`` how long it
    is. ``volume`` is its own in mm³; ``taken`` what one piece takes of the stock, cuts and all. ``pieces`` come out of
    a bar, ``rest`` mm are left of it, ``bars`` are bought for all pieces; 0 for what is not cut off a bar.
    ``is_turned``: it goes into a chuck.
    """

    form: Form
    stock: Stock
    along: int
    lie: Lie
    across: tuple[float, ...]
    start: float
    length: float
    volume: float
    taken: float
    pieces: int = 0
    rest: float = 0.0
    bars: int = 0
    is_turned: bool = False

    @property
    def key(self) -> tuple[str, str, str]:
        """What the job keeps of a choice."""
        return self.form, self.stock.name, AXES[self.along]

    def share(self, part: float) -> float:
        """How much of what is taken is in the part."""
        return part / self.taken


Lists = Mapping[str, tuple[Stock, ...]]


def ways(part: Finished, allowed: Allowed, lists: Lists) -> tuple[Way, ...]:
    """Each form's best in each way it may lie, the least taken first, castings last: they want a pattern. Forms whose
    list has nothing large enough, or whose bar is too short for one piece, are left out.
    """
    found = [w for w in _every(part, allowed, lists) if w.bars or w.form in ("plate", "cast")]
    return tuple(sorted(found, key=lambda w: (w.form == "cast", w.taken, w.along)))


def chosen(part: Finished, allowed: Allowed, lists: Lists, key: tuple[str, str, str]) -> Way:
    """The way that was chosen, worked out anew. Raises Refusal when that stock is not listed any more, or too small."""
    form, name, along = cast("tuple[Form, str, str]", key)
    axis = AXES.index(along)
    if form == "cast":
        return _cast(part, allowed)
    stock = next((s for s in lists.get(form, ()) if s.name == name), None)
    if stock is None:
        raise Refusal(f"{form.capitalize()} {name} is not in the stock list. Choose another, or add it to the list.")
    lies = tuple(_lies(part, allowed, axis, form))
    for lie in lies:
        if _holds(form, stock, lie.needed):
            return _way(part, allowed, form, stock, axis, lie)
    least = " x ".join(said(n) for n in lies[0].needed) if lies else "what this part has no room for"
    raise Refusal(f"{form.capitalize()} {name} is too small now: it must be at least {least}. Choose a larger one.")


def _every(part: Finished, allowed: Allowed, lists: Lists) -> Iterator[Way]:
    for form in _LISTED:
        if part.turned and form == "flat":
            continue  # a square bar is the same, and plate is nearer
        for axis in (2,) if part.turned else range(3):
            fitting = [
                _way(part, allowed, form, stock, axis, lie)
                for lie in _lies(part, allowed, axis, form)
                for stock in lists.get(form, ())
                if _holds(form, stock, lie.needed)
            ]
            if fitting:
                yield min(fitting, key=lambda w: w.taken)
    yield _cast(part, allowed)


def _sides(part: Finished, allowed: Allowed, axis: int) -> tuple[float, float]:
    """What the box needs in both directions across."""
    size, more = part.envelope.size, allowed.diameter if part.turned else 2 * allowed.face
    return size[(axis + 1) % 3] + more, size[(axis + 2) % 3] + more


def _lies(part: Finished, allowed: Allowed, axis: int, form: str) -> Iterator[Lie]:
    """The least section of a form, for each way the part may lie in it."""
    seen: Along = part.envelope.along[axis]
    more = allowed.diameter if part.turned else 2 * allowed.face
    middle = _middle(part.envelope, axis)
    u, v = _sides(part, allowed, axis)
    if form == "round":
        yield Lie((seen.round.size + more,), seen.round.at)
    elif form == "hexagon":
        yield Lie((seen.hexagon.size + more,), seen.hexagon.at, seen.hexagon.turn)
    elif form == "square":
        if seen.square.size + more < max(u, v) - _LESS:
            yield Lie((seen.square.size + more,), seen.square.at, seen.square.turn)
        yield Lie((max(u, v),), middle)
    elif form == "tube" and seen.bore > more:
        yield Lie((seen.round.size + more, seen.bore - more), seen.round.at)
    elif form == "flat":
        yield Lie((min(u, v), max(u, v)), middle, 0.0 if u <= v else math.pi / 2)
    elif form == "plate":
        yield Lie((part.envelope.size[axis] + 2 * _ends(part, allowed),), middle)


def _ends(part: Finished, allowed: Allowed) -> float:
    """What is left on the faces of a plate: a turned part is faced, a milled one machined all round."""
    return allowed.facing if part.turned else allowed.face


def _middle(envelope: Envelope, axis: int) -> tuple[float, float]:
    u, v = (axis + 1) % 3, (axis + 2) % 3
    return (envelope.low[u] + envelope.high[u]) / 2, (envelope.low[v] + envelope.high[v]) / 2


def _holds(form: str, stock: Stock, needed: tuple[float, ...]) -> bool:
    size = stock.size
    if form == "tube":
        return size[0] >= needed[0] - _FITS and 0 < size[0] - 2 * size[1] <= needed[1] + _FITS
    return all(have >= least - _FITS for have, least in zip(size, needed, strict=True))


def area(form: str, size: tuple[float, ...]) -> float:
    """The section's area, mm²."""
    if form == "round":
        return math.pi * size[0] ** 2 / 4
    if form == "hexagon":
        return _HEXAGON * size[0] ** 2
    if form == "tube":
        inside = size[0] - 2 * size[1]
        return math.pi * (size[0] ** 2 - inside**2) / 4
    return size[0] * (size[1] if form == "flat" else size[0])


def _way(part: Finished, allowed: Allowed, form: Form, stock: Stock, axis: int, lie: Lie) -> Way:
    if form == "plate":
        return _plate(part, allowed, stock, axis, lie)
    low = part.envelope.low[axis] - allowed.facing
    length = part.envelope.size[axis] + 2 * allowed.facing
    section = area(form, stock.size)
    if allowed.from_bar:
        step = length + allowed.cut_off
        pieces = math.floor((allowed.bar - allowed.chucking) / step + 1e-9)
    else:
        length += allowed.chucking
        step = length + allowed.kerf
        pieces = math.floor((allowed.bar + allowed.kerf) / step + 1e-9)
    pieces = max(0, pieces)
    rest, bars = max(0.0, allowed.bar - pieces * step), math.ceil(allowed.quantity / pieces) if pieces else 0
    sides = stock.size
    return Way(
        form, stock, axis, lie, sides, low, length, section * length, section * step, pieces, rest, bars, part.turned
    )


def _plate(part: Finished, allowed: Allowed, stock: Stock, axis: int, lie: Lie) -> Way:
    """Sawn out of plate: the cut is lost on two of its sides."""
    u, v = _sides(part, allowed, axis)
    thick = stock.size[0]
    start = part.envelope.low[axis] - (thick - part.envelope.size[axis]) / 2
    taken = (u + allowed.kerf) * (v + allowed.kerf) * thick
    return Way("plate", stock, axis, lie, (u, v), start, thick, u * v * thick, taken, is_turned=part.turned)


def _cast(part: Finished, allowed: Allowed) -> Way:
    """As large as it must be, to the next whole millimetre: a plain block or disc, cored where a bore runs through."""
    seen, tall = part.envelope.along[2], part.envelope.size[2]
    length = math.ceil(tall + 2 * _ends(part, allowed) - _FITS)
    start = part.envelope.low[2] - (length - tall) / 2
    if part.turned:
        outside = math.ceil(seen.round.size + allowed.diameter - _FITS)
        core = max(0, math.floor(seen.bore - allowed.diameter + _FITS))
        name = f"Ø{outside} x {length}" + (f", cored Ø{core}" if core else "")
        volume = math.pi * (outside**2 - core**2) / 4 * length
        sides: tuple[float, ...] = (outside, core)
        lie = Lie((seen.round.size + allowed.diameter,), seen.round.at)
    else:
        needed = _sides(part, allowed, 2)
        u, v = (math.ceil(side - _FITS) for side in needed)
        name, volume, sides = f"{u} x {v} x {length}", float(u * v * length), (u, v)
        lie = Lie(needed, _middle(part.envelope, 2))
    return Way("cast", Stock(name, sides), 2, lie, sides, start, length, volume, volume, is_turned=part.turned)
