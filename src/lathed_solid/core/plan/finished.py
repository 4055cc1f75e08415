"""The finished size that a blank must hold: as typed, else as the solid is, else as the callouts suggest."""

from __future__ import annotations

from typing import NamedTuple

from ..callout import Ledger
from ..kernel.ground.figures import Vector
from ..kernel.measure.bars import Envelope, moved
from ..kernel.measure.pieces import FlatOutline
from ..quantity import evaluate
from ..refusal import Refusal, said
from .blank import Blank
from .symmetry import Symmetry

#: What a callout of an overall size is called, by axis.
_LABELS = (("length", "long", "overall"), ("width", "wide", "depth"), ("height", "high", "thickness", "thick"))


class Finished(NamedTuple):
    """``envelope`` is what surrounds the finished part, ``words`` say where that comes from, ``short`` what the solid
    needs more than was typed (empty when it fits). ``volume`` is the part's own in mm³, None before there is a solid.
    """

    envelope: Envelope
    turned: bool
    words: str
    volume: float | None = None
    short: str = ""


class Solid(NamedTuple):
    """What is known of the solid: its envelope, its volume in mm³, the corners where its flat faces meet, what
    of it is alike, and the outline of its larger end, where it is flat.
    """

    envelope: Envelope
    volume: float
    corners: tuple[Vector, ...] = ()
    symmetries: tuple[Symmetry, ...] = ()
    outline: FlatOutline | None = None


def is_turned(blank: Blank, ledger: Ledger, begun_as_turned: bool | None) -> bool:
    """As the blank says, else as the route begins, else as the callouts look: several diameters, no width."""
    if blank.kind:
        return blank.kind == "turned"
    if begun_as_turned is not None:
        return begun_as_turned
    return len(_diameters(ledger)) >= 2 and _labelled(ledger, 1) is None


def finished(blank: Blank, ledger: Ledger, solid: Solid | None, turned: bool) -> Finished:
    """Raises Refusal when nothing tells the size yet."""
    typed = _typed(blank, ledger, turned)
    if typed is not None:
        typed = _laid_round(typed, solid.envelope) if solid is not None else typed
        short = _short(typed, solid.envelope) if solid is not None else ""
        return Finished(typed, turned, "as typed", solid.volume if solid is not None else None, short)
    if solid is not None:
        return Finished(solid.envelope, turned, "from the solid", solid.volume)
    return _suggested(ledger, turned)


def _typed(blank: Blank, ledger: Ledger, turned: bool) -> Envelope | None:
    from ..kernel.measure.least import block, cylinder  # numpy: not before it is needed

    texts = (blank.x, blank.z) if turned else (blank.x, blank.y, blank.z)
    if not any(t.strip() for t in texts):
        return None
    names = ("Diameter", "Length") if turned else ("X", "Y", "Z")
    missing = [n for n, t in zip(names, texts, strict=True) if not t.strip()]
    if missing:
        raise Refusal(f"The finished size lacks {' and '.join(missing)}. Type it, or leave all of it empty.")
    values = []
    for name, text in zip(names, texts, strict=True):
        try:
            value = evaluate(text, ledger)
        except Refusal as error:
            raise Refusal(f"Finished size, {name}: {error.message}") from error
        if not 1e-3 < value < 1e5:
            raise Refusal(f"Finished size, {name}: {value:g} mm is no size of a part.")
        values.append(value)
    if turned:
        return cylinder(values[0], 0.0, values[1])
    return block((0.0, 0.0, 0.0), (values[0], values[1], values[2]))


def _laid_round(typed: Envelope, solid: Envelope) -> Envelope:
    """The typed size where the solid lies: across about its middle, along Z from its lower end."""
    middle = [(a + b) / 2 for a, b in zip(solid.low, solid.high, strict=True)]
    x, y, _ = typed.size
    low = (middle[0] - x / 2, middle[1] - y / 2, solid.low[2])
    by = (low[0] - typed.low[0], low[1] - typed.low[1], low[2] - typed.low[2])
    return moved(typed, by)


def _short(typed: Envelope, solid: Envelope) -> str:
    over = [
        f"{axis} {said(need)}"
        for axis, need, have in zip("XYZ", solid.size, typed.size, strict=True)
        if need > have + 1e-3
    ]
    return f"The solid is larger than was typed: {', '.join(over)}." if over else ""


def _diameters(ledger: Ledger) -> list[tuple[float, int]]:
    """Diameters of outer faces, by callout: holes are inside."""
    found = []
    for number in ledger.callouts:
        if ledger.error(number) is None:
            reading = ledger.reading(number)
            if reading.shape == "diameter" and not reading.thru:
                found += [(c.nominal, number) for c in reading.characteristics if c.kind == "diameter"]
    return found


def _lengths(ledger: Ledger) -> list[tuple[float, int]]:
    found = []
    for number in ledger.callouts:
        if ledger.error(number) is None and (reading := ledger.reading(number)).shape == "length":
            found += [(c.nominal, number) for c in reading.characteristics if c.kind == "length"]
    return found


def _labelled(ledger: Ledger, axis: int) -> tuple[float, int] | None:
    """The length whose label is just one of an overall size along an axis."""
    for value, number in _lengths(ledger):
        label = ledger.callouts[number].label.lower().strip()
        if any(label == word or label == f"overall {word}" for word in _LABELS[axis]):
            return value, number
    return None


def _suggested(ledger: Ledger, turned: bool) -> Finished:
    from ..kernel.measure.least import block, cylinder

    if turned:
        across, along = max(_diameters(ledger), default=None), max(_lengths(ledger), default=None)
        if across is None or along is None:
            raise Refusal("No callout tells the largest diameter and the length yet. Type them under Finished size.")
        words = f"from callouts {across[1]} and {along[1]}"
        return Finished(cylinder(across[0], 0.0, along[0]), True, words)
    sides = [_labelled(ledger, axis) for axis in range(3)]
    if any(s is None for s in sides):
        raise Refusal(
            "No callouts are labelled length, width and thickness. Label them so, or type the size under Finished size."
        )
    x, y, z = (s for s in sides if s is not None)
    words = f"from callouts {x[1]}, {y[1]} and {z[1]}"
    return Finished(block((0.0, 0.0, 0.0), (x[0], y[0], z[0])), False, words)
