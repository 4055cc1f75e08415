"""The mistakes that are made: each as an edit of the part, in a sentence, with how often it is made."""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import Any, NamedTuple

import msgspec

from ...callout import Reading
from ...names import lone_ref
from ...quantity import ExpressionError, evaluate
from ...route.drilling.model import Hole
from ...route.model import EdgeRef
from ...route.registry import Step, called, kind_of
from ...route.steps.mirror import Mirror
from ...sketch.model import Sketch, Station
from ...units import INCH
from .. import edits
from ..model import Content
from ..numbers import Number, numbers, value_of
from ..settle import set_stations
from ..suggest import brings_along
from ..walk import used_in_route, uses

#: How common a mistake is; judgement, not fitted to anything.
WEIGHTS = {
    "step": 8.0, "left out": 6.0, "edge": 5.0, "count": 5.0, "radius": 4.0, "through": 4.0, "seat": 3.0,
    "direction": 3.0, "floor": 3.0, "tip": 2.0, "half angle": 2.0, "mode": 2.0, "digits": 2.0, "limit": 2.0,
    "mirrored": 2.0, "thread": 2.0, "unbroken": 1.5, "reference": 1.2, "another": 1.0, "point": 1.0, "skipped": 1.0,
    "inch": 0.7, "value": 0.3,
}  # fmt: skip
#: Choices that are taken for one another, by field, and what kind of mistake that is.
_CHOICES = {
    "direction": "direction", "mode": "mode", "extent": "through", "side": "direction", "seat": "seat",
    "form": "thread", "start": "direction", "fit": "thread",
}  # fmt: skip
#: A conversion and back may round this share off.
_ROUNDED = 3e-8
#: How a drill is ground that nobody asked for otherwise.
_TIP = "118°"
#: In a number of no more digits two are exchanged across its point as well.
_SHORT = 3
#: In patterns of more than so many it is not asked which one may be left out.
_SKIPPED = 12
#: Other numbers that a pattern may have: in words, and as a formula.
_MANY = (("one more", "+1"), ("one fewer", "-1"), ("half as many", "/2"), ("twice as many", "*2"))


class Fault(NamedTuple):
    """``words`` say what would have to be so; ``make`` gives that part, and may raise a Refusal. ``number`` is the one
    of a callout that it changes, and ``value`` what to, for an estimate; ``off`` are the steps that it leaves out;
    ``adds`` is what it would add (mm³) where that is told otherwise, ``again`` the step that it would make once more,
    or so many ``times`` of it (less than zero: fewer); ``rare`` is how common a pair is.
    """

    kind: str
    words: str
    make: Callable[[Content], Content]
    off: frozenset[str] = frozenset()
    number: Number | None = None
    value: float = 0.0
    adds: float | None = None
    again: str = ""
    times: float = 1.0
    rare: float = 0.0

    @property
    def weight(self) -> float:
        return self.rare or WEIGHTS[self.kind]


def faults(content: Content) -> list[Fault]:
    """Every single mistake that the present route may hold."""
    found: list[Fault] = []
    for step in content.steps:
        found += _of_step(content, step, named(content, step))
    for sketch in content.sketches:
        if sketch.stations and any(sketch.id in edits.sketches_of(s) for s in content.steps):
            found += _of_table(sketch)
    used = used_in_route(content, {s.id for s in content.steps if not s.suppressed})
    for number in sorted(used):
        found += _of_callout(content, number)
    return found


def named(content: Content, step: Step) -> str:
    """A step by its name, and by its number in the route where others are called so too."""
    name, same = called(step), [s.id for s in content.steps if called(s) == called(step)]
    return f"“{name}”" if len(same) < 2 else f"“{name}”, step {10 * (content.steps.index(step) + 1)}"


def _changed(step: Step, **fields: Any) -> Callable[[Content], Content]:
    return lambda c: edits.change_step(c, step.id, **fields)


def _on(ids: set[str], content: Content) -> Content:
    steps = [msgspec.structs.replace(s, suppressed=s.suppressed and s.id not in ids) for s in content.steps]
    return edits.set_steps(content, steps)


# --- steps
def _of_step(content: Content, step: Step, name: str) -> Iterator[Fault]:
    if step.suppressed:
        yield Fault("step", f"{name} switched on", _changed(step, suppressed=False))
        repeats = {s.id for s in content.steps if s.suppressed and step.id in getattr(s, "of", ())}
        if repeats:
            yield Fault("step", f"{name} and what repeats it switched on", partial(_on, {step.id, *repeats}))
        return
    yield from _left_out(content, step, name)
    for param in kind_of(step).params:
        value = getattr(step, param.field)
        if not param.applies(step):
            continue
        if param.want == "number" and value:
            for words, by in _MANY:
                text = f"({value}){by}"
                yield Fault("count", f"{name}: {words}", _changed(step, **{param.field: text}))
        elif param.want == "choice" and param.field in _CHOICES:
            for other, label in param.choices:
                if other != value:
                    words = f"{name}: {param.label.lower()} “{label}”"
                    along = brings_along(content, step.id, param.field, other)
                    yield Fault(_CHOICES[param.field], words, _changed(step, **({param.field: other} | along)))
        elif param.want == "edges" and len(value) > 1:
            yield from _edge_off(step, name, param.field, value)
        elif param.want in ("length", "angle") and value and "#" not in value:
            yield from _plain(step, name, param.field, param.label, value, param.want)
    if isinstance(step, Hole):
        yield from _of_hole(step, name)
    yield from _of_pattern(content, step, name)
    yield from _references(content, step, name)


def _of_pattern(content: Content, step: Step, name: str) -> Iterator[Fault]:
    """An instance too many or skipped, and a mirror image that is missing."""
    if hasattr(step, "skip"):
        if step.skip.strip():
            yield Fault("left out", f"{name}: none left out", _changed(step, skip=""))
        elif (many := _count(content, step)) is not None and 3 <= many <= _SKIPPED:
            for k in range(2, many + 1):
                make, words = _changed(step, skip=str(k)), f"{name}: number {k} of {many} left out"
                yield Fault("skipped", words, make, again=step.id, times=-1 / (many - 1))  # the first is no repeat
    mirrored = any(isinstance(s, Mirror) and step.id in s.of for s in content.steps)
    if kind_of(step).repeatable and not isinstance(step, Mirror) and not mirrored:
        at = next(n for n, s in enumerate(content.steps) if s.id == step.id) + 1
        for about, words in (("yz", "across X"), ("xz", "across Y"), ("xy", "across Z")):
            make = partial(_mirrored, step.id, about, at)
            yield Fault("mirrored", f"{name} mirrored {words} as well", make, again=step.id)


def _count(content: Content, step: Any) -> int | None:
    try:
        return round(evaluate(step.count, content.ledger(), "number"))
    except ExpressionError:
        return None


def _mirrored(step: str, about: str, at: int, content: Content) -> Content:
    return edits.with_step(content, Mirror, at, of=(step,), about=about)[0]


def _references(content: Content, step: Step, name: str) -> Iterator[Fault]:
    """A step that takes its size from another callout than was meant; where a callout is used once, reading that one
    otherwise says the same.
    """
    for param in kind_of(step).params:
        text = getattr(step, param.field)
        ref = lone_ref(text) if param.want in ("length", "angle") and param.applies(step) else None
        ledger = content.ledger()
        if ref is not None and ref.key and ledger.error(ref.number) is None:
            for key, words in _besides(ledger.reading(ref.number), ref.key):
                said = f"{name}: {param.label.lower()} by callout {ref.number}’s {words}"
                yield Fault("floor", said, _changed(step, **{param.field: f"#{ref.number}.{key}"}))
            continue
        if ref is None or uses(content, ref.number) < 2:
            continue
        for other, said in _like(content, ref.number):
            words = f"{name}: {param.label.lower()} by callout {other} ({said}), not by callout {ref.number}"
            if ledger.error(other) is None:
                yield Fault("reference", words, _changed(step, **{param.field: f"#{other}"}))


def _besides(reading: Reading, key: str) -> Iterator[tuple[str, str]]:
    """Other sizes of a callout that are of one kind with that of a key, and what they are called: how deep the thread
    is and how deep it is drilled.
    """
    own = reading.known(key)
    for other in reading.characteristics if own is not None else ():
        assert own is not None
        if other.key not in ("", key) and other.kind == own.kind and other.nominal != own.nominal:
            yield other.key, f"{other.key.replace('_', ' ')}, not its {key.replace('_', ' ')}"


def _like(content: Content, number: int) -> Iterator[tuple[int, str]]:
    if (text := _main(content, number)) and (value := value_of(text)):
        yield from _others(content, number, value)


def _left_out(content: Content, step: Step, name: str) -> Iterator[Fault]:
    users = [s for s in content.steps if step.id in getattr(s, "of", ())]
    off = {step.id, *(s.id for s in users)}

    def without(c: Content) -> Content:
        return edits.set_steps(c, [msgspec.structs.replace(s, suppressed=s.suppressed or s.id in off) for s in c.steps])

    repeats = " and what repeats it" if users else ""
    yield Fault("step", f"{name}{repeats} left out", without, frozenset(off))
    if step.group:
        group = step.group

        def ungrouped(c: Content) -> Content:
            return edits.set_steps(
                c, [msgspec.structs.replace(s, suppressed=s.suppressed or s.group == group) for s in c.steps]
            )

        first = next(s for s in content.steps if s.group == group and not s.suppressed)
        grouped = frozenset(s.id for s in content.steps if s.group == group)
        if first.id == step.id:
            yield Fault("step", f"all steps of the group “{group}” left out", ungrouped, grouped)


def _edge_off(step: Step, name: str, field: str, edges: Sequence[EdgeRef]) -> Iterator[Fault]:
    for at, edge in enumerate(edges):
        rest = (*edges[:at], *edges[at + 1 :])
        where = edge.was or f"edge {at + 1}"
        yield Fault("edge", f"{name}: not on {where}", _changed(step, **{field: rest}))


def _plain(step: Step, name: str, field: str, label: str, text: str, want: str) -> Iterator[Fault]:
    """Sizes that no callout states."""
    ways = (("half angle", "half", "/2"), ("half angle", "twice", "*2")) if want == "angle" else (
        ("radius", "half", "/2"), ("radius", "twice", "*2"), ("inch", "in inches", f"*{INCH}"),
        ("inch", "in millimetres", f"/{INCH}"),
    )  # fmt: skip
    for kind, words, by in ways:
        changed = _changed(step, **{field: f"({text}){by}"})
        yield Fault(kind, f"{name}: {label.lower()} {words}", changed)


def _is_flat(tip: str) -> bool:
    """Whether a blind hole ends flat."""
    return tip.strip().rstrip("°") in ("", "180")


def _of_hole(step: Hole, name: str) -> Iterator[Fault]:
    if step.extent == "depth":
        if _is_flat(step.tip):
            yield Fault("tip", f"{name}: with a drill's tip of {_TIP}", _changed(step, tip=_TIP))
        else:
            yield Fault("tip", f"{name}: without the drill's tip", _changed(step, tip="180°"))
        if step.thread_depth:
            words = f"{name}: drilled only as deep as its thread"
            yield Fault("floor", words, _changed(step, depth=step.thread_depth))
        if step.seat != "none" and step.seat_depth:
            words = f"{name}: its depth counted from the floor of its seat"
            yield Fault("floor", words, _changed(step, depth=f"({step.depth})+({step.seat_depth})"))
    elif step.seat != "none" and step.seat_depth:
        words = f"{name}: the seat alone, not through"
        yield Fault("through", words, _changed(step, extent="depth", depth=step.seat_depth, tip="180°"))


def _of_table(sketch: Sketch) -> Iterator[Fault]:
    """Edges and grooves of a turned profile."""
    rows = sketch.stations or ()
    for at, row in enumerate(rows):
        for field, words in (("left", "left edge"), ("right", "right edge"), ("groove", "groove")):
            if getattr(row, field):
                bare = (*rows[:at], msgspec.structs.replace(row, **{field: ""}), *rows[at + 1 :])
                yield Fault("edge", f"“{sketch.name}”, row {at + 1}: no {words}", rowed(sketch.id, bare))


def rowed(sketch: str, rows: tuple[Station, ...]) -> Callable[[Content], Content]:
    return lambda c: set_stations(c, sketch, rows)


# --- callouts
def as_value(number: Number, text: str) -> Fault:
    """A number as any other value, which nothing but the figure suggests."""
    words = f"Callout {number.callout}, {number.text} as {text}"
    return Fault("value", words, partial(_read_as, number, text), number=number, value=value_of(text))


def _read_as(number: Number, text: str, content: Content) -> Content:
    return number.read_as(content, text)


def _of_callout(content: Content, callout: int) -> Iterator[Fault]:
    for number in numbers(content, callout):
        for kind, read, words in _misread(content, number):
            said = f"Callout {callout}, {number.text} as {read}: {words}"
            yield Fault(kind, said, partial(_read_as, number, read), number=number, value=value_of(read))


def _misread(content: Content, number: Number) -> Iterator[tuple[str, str, str]]:
    """What a number may have been taken for: the kind of mistake, how it is written, and the words."""
    text, kind = number.text, number.kind
    value = value_of(text)
    if kind == "count":
        for many, words in (
            (value + 1, "one more"), (value - 1, "one fewer"), (value / 2, "half as many"), (value * 2, "twice as many")
        ):  # fmt: skip
            if many >= 1 and many == int(many):
                yield "count", f"{many:g}", words
        return
    for read in _swapped(text):
        yield "digits", read, "two digits exchanged"
    if kind == "angle":
        yield "half angle", f"{value / 2:g}", "half, the included angle for the half one"
        yield "half angle", f"{value * 2:g}", "twice, the half angle for the included one"
        return
    yield "point", _figure(value * 10), "a decimal point slipped"
    yield "point", _figure(value / 10), "a decimal point slipped"
    yield "radius", _figure(value * 2), "twice, a radius for a diameter"
    yield "radius", _figure(value / 2), "half, a diameter for a radius"
    yield "inch", _figure(value * INCH), "inches taken for millimetres"
    yield "inch", _figure(value / INCH), "millimetres taken for inches"
    for limit, words in zip(
        number.limits, ("the lower limit for the nominal", "the upper limit for the nominal"), strict=True
    ):
        if limit > 0 and abs(limit - value) > 1e-9 * value:
            yield "limit", _figure(limit), words
    for other, said in _others(content, number.callout, value):
        yield "another", said, f"that of callout {other}"


def _figure(value: float) -> str:
    """As it would be written: the shortest that is the number but for what conversions round off."""
    texts = (f"{value:.{places}f}" for places in range(9))
    return next((t for t in texts if math.isclose(float(t), value, rel_tol=_ROUNDED)), f"{value:.8g}")


def _others(content: Content, number: int, value: float) -> Iterator[tuple[int, str]]:
    """Other callouts' main numbers, not far from this one; each number once."""
    seen = {value}
    for callout in content.callouts:
        text = _main(content, callout.number) if callout.number != number else ""
        if text and (other := value_of(text)) not in seen and 0.3 < other / value < 3.5:
            seen.add(other)
            yield callout.number, text


def _main(content: Content, number: int) -> str:
    """The size a callout says, of a thread its diameter, not how many there are of it; empty where it says none."""
    ledger = content.ledger()
    if ledger.error(number) is not None:
        return ""
    main = ledger.reading(number).main
    if main.kind == "thread":
        return _figure(main.nominal / (INCH if content.header.units == "in" else 1.0))
    return next((n.text for n in numbers(content, number) if n.kind != "count"), "")


def _swapped(text: str) -> Iterator[str]:
    digits = [i for i, ch in enumerate(text) if ch.isdigit()]
    for a, b in itertools.pairwise(digits):
        read = text[:a] + text[b] + text[a + 1 : b] + text[a] + text[b + 1 :]
        across = b > a + 1 and len(digits) > _SHORT  # 4.5 for 5.4 is read, 4.07244 for 0.47244 is not
        if text[a] != text[b] and not across and " " not in text and "/" not in text and not re.match(r"0\d", read):
            yield read
