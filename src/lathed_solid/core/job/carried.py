"""Limits carried through: what the callouts' limits leave of a sum of lengths, a clearance, a volume, a measurement.

*Worst case* has every size at the limit that moves the figure most. *Root sum square* takes the limits of each size as
three standard deviations and adds their effects in squares (the usual rule of statistical tolerancing). *Monte Carlo*
draws every size from that distribution, cut off at its limits, with a fixed seed.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Literal, NamedTuple, TypeVar

import msgspec
import numpy as np

from ..arrays import Floats
from ..callout import Characteristic, Ledger, NoteError
from ..names import callout_refs
from ..quantity import ExpressionError, Quantity, evaluate
from ..refusal import Refusal
from ..route.rebuild import Cache, rebuild
from . import edits
from .attachments import Store
from .measures import kept_on
from .model import Content, Kept
from .proving import weighed
from .settle import settle
from .surveying import standing_of
from .walk import used_in_route

What = Literal["formula", "volume", "mass", "kept"]
#: Draws where each is worked out, and where a model of the figure is drawn from.
_DRAWN, _MODELLED = 4000, 20_000
_BINS, _SEED = 41, 1
#: Kinds of sizes that have limits to be carried.
_KINDS = ("length", "diameter", "radius", "angle")
_SIGMAS = 3.0
#: A size is made to a value when it is this near (mm, radians).
_MADE = 1e-7
#: What a normal distribution leaves outside three standard deviations, on one side.
_TAIL = 0.00135
Size = tuple[int, str]
Number = TypeVar("Number", float, Floats)


class Share(msgspec.Struct, frozen=True):
    """What one size does to the figure: its value with the size at either limit and all others in the middle;
    ``share`` of all the variance (0 to 1).
    """

    number: int
    key: str
    note: str
    lower: float
    upper: float
    at_lower: float
    at_upper: float
    share: float


class Carried(msgspec.Struct, frozen=True):
    """A figure and what the limits leave of it (mm, radians, mm³ or g). ``made`` is as the model is made, ``middle``
    with every size in the middle of its limits. ``bars`` count the draws between the ``least`` and the ``most``.
    ``left_out`` are callouts whose limits could not be carried: the part cannot be built there. ``others`` are callouts
    of which only the main size was carried, though they state more.
    """

    what: What
    text: str
    kind: str
    made: float
    middle: float
    worst: tuple[float, float]
    squares: tuple[float, float]
    drawn: tuple[float, float]
    least: float
    most: float
    bars: tuple[int, ...]
    shares: tuple[Share, ...]
    left_out: tuple[int, ...] = ()
    others: tuple[int, ...] = ()


class CannotCarry(Refusal):
    """Nothing whose limits could be carried; the text says why."""


def carried(
    content: Content, what: What, text: str = "", cache: Cache | None = None, store: Store | None = None,
    going: Callable[[], object] = lambda: None,
) -> Carried:  # fmt: skip
    """The limits of the callouts carried through to a formula (``#6-#2-#4``), the part's volume or mass, or a kept
    measurement (``text`` is its id). ``going`` is called before every build. Raises Refusal.
    """
    if what == "formula":
        return _formula(content, text)
    return _built(content, what, text, cache or Cache(), store, going)


# --- formulas
class _Shifted:
    """The ledger with some sizes put elsewhere."""

    def __init__(self, ledger: Ledger, values: Mapping[Size, float]) -> None:
        self._ledger, self._values = ledger, values
        self.length_unit = ledger.length_unit

    def reference(self, number: int, key: str) -> Quantity:
        value = self._values.get((number, key))
        if value is None:
            return self._ledger.reference(number, key)
        angle = self._ledger.characteristic(number, key).kind == "angle"
        return Quantity(value, angle=1) if angle else Quantity(value, length=1)


def _formula(content: Content, text: str) -> Carried:
    ledger, sizes = content.ledger(), dict[Size, Characteristic]()
    for number, key in dict.fromkeys(callout_refs(text)):
        c = ledger.characteristic(number, key)
        if c.kind in _KINDS and c.upper > c.lower:
            sizes[number, key] = c
    if not sizes:
        raise CannotCarry("Write a sum of callouts that have limits, as #6-#2-#4, or the clearance of a fit: #8-#3.")
    want = "length"
    try:
        evaluate(text, ledger)
    except ExpressionError as error:
        try:
            evaluate(text, ledger, "angle")
        except ExpressionError:
            raise error from None  # it was meant as a length
        want = "angle"

    def figure(values: Mapping[Size, float]) -> float:
        return evaluate(text, _Shifted(ledger, values), want)

    rng = np.random.default_rng(_SEED)
    keys = list(sizes)
    draws = np.column_stack([_draw(rng, sizes[k], _DRAWN) for k in keys])
    found = np.array([figure(dict(zip(keys, map(float, row), strict=True))) for row in draws])
    return _told("formula", text, want, evaluate(text, ledger, want), ledger, sizes, figure, found)


def _draw(rng: np.random.Generator, c: Characteristic, count: int) -> Floats:
    """Normal about the middle of the limits, these at three standard deviations; what falls outside is drawn again."""
    middle, sigma = (c.lower + c.upper) / 2, (c.upper - c.lower) / (2 * _SIGMAS)
    found: Floats = rng.normal(middle, sigma, count)
    while (out := (found < c.lower) | (found > c.upper)).any():
        found[out] = rng.normal(middle, sigma, int(out.sum()))
    return found


def _told(
    what: What, text: str, kind: str, made: float, ledger: Ledger, sizes: Mapping[Size, Characteristic],
    figure: Callable[[Mapping[Size, float]], float], draws: Floats,
) -> Carried:  # fmt: skip
    """Everything that is said of a figure that can be worked out for any values of its sizes."""
    middles = {k: (c.lower + c.upper) / 2 for k, c in sizes.items()}
    ends = {k: (figure({**middles, k: c.lower}), figure({**middles, k: c.upper})) for k, c in sizes.items()}
    low = {k: c.lower if ends[k][0] <= ends[k][1] else c.upper for k, c in sizes.items()}
    high = {k: c.upper if ends[k][0] <= ends[k][1] else c.lower for k, c in sizes.items()}
    middle = figure(middles)
    half = math.sqrt(sum(((b - a) / 2) ** 2 for a, b in ends.values()))
    all_ = sum((b - a) ** 2 for a, b in ends.values()) or 1.0
    shares = [
        Share(n, key, ledger.callouts[n].note, sizes[n, key].lower, sizes[n, key].upper, a, b, (b - a) ** 2 / all_)
        for (n, key), (a, b) in ends.items()
    ]
    counts, _ = np.histogram(draws, bins=_BINS)
    drawn = (float(np.quantile(draws, _TAIL)), float(np.quantile(draws, 1 - _TAIL)))
    return Carried(
        what, text, kind, made, middle, (figure(low), figure(high)), (middle - half, middle + half), drawn,
        float(draws.min()), float(draws.max()), tuple(int(n) for n in counts),
        tuple(sorted(shares, key=lambda s: -s.share)),
    )  # fmt: skip


# --- figures of the solid
def _built(
    content: Content, what: What, text: str, cache: Cache, store: Store | None, going: Callable[[], object]
) -> Carried:
    """By building the part with each size at either limit; between them the figure runs as a parabola in each."""
    kept = next((k for k in content.kept if k.id == text), None)
    if what == "kept" and kept is None:
        raise CannotCarry("This measurement is not kept any more.")
    trial = _Trial(what, kept, cache, store, going)
    begun = trial(content)
    if begun is None:
        raise CannotCarry(
            "What was measured is not on the part, or the part has no whole solid. Mend the route in Shape first."
        )
    kind, made = begun
    ledger, used = content.ledger(), used_in_route(content, {s.id for s in content.steps if not s.suppressed})
    sizes: dict[Size, Characteristic] = {}
    curves: dict[Size, tuple[float, float, float]] = {}
    left_out: list[int] = []
    for number, c in ((n, c) for n in used if (c := _main(ledger, n)) is not None):
        low, high = (trial(_made_to(content, number, c, v)) for v in (c.lower, c.upper))
        if low is None or high is None:
            left_out.append(number)
        elif max(abs(low[1] - made), abs(high[1] - made)) >= 1e-9 * max(1.0, abs(made)):
            sizes[number, ""], curves[number, ""] = c, _parabola(c, made, low[1], high[1])
    if not sizes:
        lost = f" Those of {', '.join(map(str, left_out))} cannot be built." if left_out else ""
        raise CannotCarry(f"No callout's limits change this figure.{lost}")

    def figure(values: Mapping[Size, float]) -> float:
        return made + sum(_along(curves[k], v) for k, v in values.items())

    rng = np.random.default_rng(_SEED)
    draws = np.full(_MODELLED, made)
    for key, c in sizes.items():
        draws += _along(curves[key], _draw(rng, c, _MODELLED))
    told = _told(what, text, kind, made, ledger, sizes, figure, draws)
    others = tuple(n for n in used if _states_more(ledger, n))
    return msgspec.structs.replace(told, left_out=tuple(left_out), others=others)


class _Trial(NamedTuple):
    """The figure of a part that is built for it: its kind and value; None where the part cannot be so."""

    what: What
    kept: Kept | None
    cache: Cache
    store: Store | None
    going: Callable[[], object]

    def __call__(self, part: Content | None) -> tuple[str, float] | None:
        if part is None:
            return None
        self.going()
        settled = settle(part)
        if settled.problems:
            return None  # a sketch that cannot follow would stand as it was
        content = settled.content
        result = rebuild(content.plan(self.store.find if self.store is not None else None), self.cache)
        if result.body is None or any(r.state == "failed" for r in result.reports):
            return None
        if self.kept is None:
            found = weighed(content, result)
            return self.what, found.figures.volume if self.what == "volume" else found.grams
        taken = kept_on(self.kept, result, standing_of(content, result.body))
        return (taken.kind, taken.value) if taken is not None else None


def _main(ledger: Ledger, number: int) -> Characteristic | None:
    try:
        c = ledger.reading(number).main
    except NoteError:
        return None
    return c if c.kind in _KINDS and c.upper > c.lower else None


def _states_more(ledger: Ledger, number: int) -> bool:
    """Whether a callout states sizes with limits besides its main one."""
    try:
        rest = ledger.reading(number).characteristics[1:]
    except NoteError:
        return False
    return any(c.kind in _KINDS and c.upper > c.lower for c in rest)


def _made_to(content: Content, number: int, c: Characteristic, value: float) -> Content | None:
    """The part with one callout's size made to ``value``: its limits give way, all else its note says stays."""
    note = next(x.note for x in content.callouts if x.number == number)
    if not c.written or c.written not in note:
        return None
    size = f"{math.degrees(value):.9g}°" if c.kind == "angle" else f"{value:.9g} mm"
    written = note.replace(c.written, size, 1)
    for text in (written.replace(c.tolerance, "", 1) if c.tolerance else written, written):
        try:
            made = edits.edit_callout(content, number, text)
            main = made.ledger().reading(number).main
        except NoteError:
            continue
        if abs(main.made - value) < _MADE and main.kind == c.kind:
            return made
    return None


def _parabola(c: Characteristic, made: float, low: float, high: float) -> tuple[float, float, float]:
    """What a size adds as a parabola through both limits and the size as made: (as made, slope, bend)."""
    a, b = c.lower - c.made, c.upper - c.made
    if abs(a) < 1e-12 or abs(b) < 1e-12:
        return c.made, (high - low) / (b - a), 0.0
    bend = ((low - made) / a - (high - made) / b) / (a - b)
    return c.made, (low - made) / a - bend * a, bend


def _along(curve: tuple[float, float, float], value: Number) -> Number:
    away = value - curve[0]
    return curve[1] * away + curve[2] * away * away


def chains(content: Content) -> Sequence[str]:
    """The chains that are watched, each as the gap it leaves: the overall size less its parts."""
    return [f"#{c.overall}" + "".join(f"-#{n}" for n in c.parts) for c in content.chains]
