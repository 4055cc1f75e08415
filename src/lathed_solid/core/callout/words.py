"""Callouts back in words and in drafting symbols."""

from __future__ import annotations

import math
import re
from functools import lru_cache

from ..quantity import Style
from .model import Characteristic, Reading

_SMALL = (
    "no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve",
)  # fmt: skip
_SYMBOLS = (
    (r"\b[Dd][Ii][Aa]\.?\s*(?=[\d.#])", "Ø"),
    (r"(?<=\d)\s*[xX]\s*(?=[\d.])", " × "),
    (r"(?<=\d)\s*[xX]\s+(?=\D)", "× "),
    # The seats' symbols are in hardly any typeface; their short words are in every workshop.
    (r"\s*(?:⌴|\b(?:counterbore|CBORE)\b)\s*", " cbore "),
    (r"\s*(?:⌵|\b(?:countersink|CSK)\b)\s*", " csk "),
    (r"\b(?:dp|depth)\b\s*", "↧ "),
    # In the figure face square and round brackets look alike; a boxed size must not pass for a reference.
    (r"\[([^\]]*)\]", r"⟦\1⟧"),
    (r"\+/-", "±"),
    (r"\s*\bdeg\b", "°"),
    (r"\bthru\b", "THRU"),
)


@lru_cache(maxsize=4096)
def pretty(note: str) -> str:
    """``note`` on one line with drafting symbols in place of the typed words; the meaning is unchanged."""
    note = " ".join(note.split())
    for pattern, symbol in _SYMBOLS:
        note = re.sub(pattern, symbol, note)
    return note.strip()


def value_text(c: Characteristic, style: Style) -> str:
    """The nominal of one characteristic as text."""
    if c.kind == "count":
        return f"{c.nominal:g}"
    if c.kind == "angle":
        return style.angle(c.nominal)
    if c.kind in ("thread", "finish", "geometric"):
        return c.written
    if c.kind == "ratio":
        return f"1:{1 / c.nominal:.4g}"
    prefix = {"diameter": "Ø", "radius": "R"}.get(c.kind, "")
    return prefix + style.length(c.nominal)


def limits_text(c: Characteristic, style: Style) -> str:
    """The limits of one characteristic in the short form of a sheet."""
    if c.lower == c.upper or c.kind in ("finish", "geometric"):
        return ""
    if c.basis in ("reference", "basic", "scaled from the drawing"):
        return c.basis
    if c.kind == "ratio":  # a slight taper may be none at its lower limit
        slight = f"1:{1 / c.lower:.4g}" if c.lower > 1e-9 else "none"
        return f"1:{1 / c.upper:.4g} / {slight}"
    show = style.angle if c.kind == "angle" else style.length
    if math.isinf(c.upper):
        return f"≥ {show(c.lower)}"
    if c.tolerance == "MAX":
        return f"≤ {show(c.upper)}"
    below, above = c.nominal - c.lower, c.upper - c.nominal
    if abs(below - above) < 1e-9 and c.tolerance:
        return "±" + show(above)
    if abs(below - above) < 1e-9 and "stated" not in c.basis:
        return "±" + show(above)
    return f"{show(c.lower)} / {show(c.upper)}"


def in_words(reading: Reading, style: Style) -> str:
    """The reading as a sentence of the shop, without its full stop."""
    main = reading.main
    text = _subject(reading, style)
    text += _seat(reading, style) + _thread_and_drill(reading, style) + _places(reading, style) + _remarks(reading)
    if (limits := limits_text(main, style)) and reading.shape not in ("thread", "surface"):
        text += "; " + (limits if main.basis in ("stated", limits) else f"{limits} by {main.basis}")
    return text


def _number(count: int) -> str:
    return _SMALL[count] if count < len(_SMALL) else str(count)


def _subject(reading: Reading, style: Style) -> str:
    many, main = reading.count > 1, reading.main
    lead = f"{_number(reading.count)} " if many else ""
    if reading.is_hole and reading.shape in ("diameter", "thread"):
        noun = "through hole" if reading.thru else "hole"
        if reading.shape == "thread":
            assert reading.thread is not None
            return f"{lead}tapped {noun}{'s' * many} {reading.thread.designation}{_pitch(reading, style)}"
        size = value_text(main, style)
        for_screw = f" clear of {reading.clears.lower().replace('m', 'M', 1)}" if reading.clears else ""
        return f"{lead}{noun}{'s' * many} {size}{_deep(reading, style)}{for_screw}"
    return lead + _plain_subject(reading, style, many)


def _plain_subject(reading: Reading, style: Style, many: bool) -> str:
    main, s = reading.main, "s" * many
    size = value_text(main, style)
    if reading.shape == "chamfer":
        leg, angle = reading.get("leg2"), reading.get("angle")
        far = f"by {value_text(leg, style)}" if leg else f"at {value_text(angle, style)}" if angle else ""
        return f"chamfer{s} {size} {far}"
    if reading.shape == "taper":
        return _taper(reading, style)
    if reading.shape == "thread":
        assert reading.thread is not None
        side = "external " if reading.thread.internal is False else ""
        length = reading.get("depth")
        long = f", {value_text(length, style)} long" if length else ""
        return f"{side}thread{s} {reading.thread.designation}{_pitch(reading, style)}{long}"
    if reading.shape == "keyway":
        across, depth = reading.get("across"), reading.get("depth")
        far = f", {value_text(across, style)} from its floor across the bore" if across else ""
        return f"keyway{s} {size} wide" + far + (f", {value_text(depth, style)} deep" if depth else "")
    if reading.shape in ("groove", "undercut"):
        other = reading.get("length") or reading.get("depth")
        how = "wide" if reading.shape == "groove" else "deep"
        own = "" if reading.shape == "groove" else " wide"
        return f"{reading.shape}{s} {size}{own}" + (f", {value_text(other, style)} {how}" if other else "")
    if reading.shape == "surface":
        name = re.match(r"[A-Z]{2,}( [A-Z]{2,})?", main.written)
        said = name[0].lower() + main.written[name.end() :] if name is not None else main.written
        return f"surface finish {main.written}" if main.kind == "finish" else said
    noun = {
        "length": "length across the bore" if "ACROSS BORE" in reading.flags else "length", "diameter": "diameter",
        "radius": "radius", "angle": "angle", "sphere": "sphere", "square": "square",
        "flats": "hexagon" if reading.hexagon else "width", "corners": "hexagon" if reading.hexagon else "width",
    }[reading.shape]  # fmt: skip
    plural = {"radius": "radii"}.get(noun, noun + "s") if many else noun
    told = {"flats": " across flats", "corners": " across corners"}.get(reading.shape, "")
    return f"{plural} {size}{told}"


def _taper(reading: Reading, style: Style) -> str:
    small, length = reading.get("small"), reading.get("length")
    if small is not None and length is not None:
        ratio = (reading.main.nominal - small.nominal) / length.nominal
        ends = f"{value_text(reading.main, style)} to {value_text(small, style)} over {value_text(length, style)}"
        return f"taper from {ends}, {_ratio(ratio, style)}"
    return f"taper {_ratio(reading.main.nominal, style)}"


def _ratio(ratio: float, style: Style) -> str:
    """A taper as people compare it: one in so many, and the angle its side makes with the axis."""
    return f"1 in {1 / ratio:.4g}, {style.angle(math.atan(ratio / 2))} a side"


def _pitch(reading: Reading, style: Style) -> str:
    assert reading.thread is not None
    pitch = f"{reading.thread.per_inch:g} per inch" if reading.thread.system in ("UN", "G", "Rc", "R", "NPT") else ""
    hand = ", left hand" if reading.thread.left_hand else ""
    return f", pitch {style.length(reading.thread.pitch)}" * (not pitch) + f", {pitch}" * bool(pitch) + hand


def _deep(reading: Reading, style: Style) -> str:
    depth = reading.get("depth")
    return f", {value_text(depth, style)} deep" if depth else ""


def _seat(reading: Reading, style: Style) -> str:
    if not reading.seat:
        return ""
    each = ", each with" if reading.count > 1 else ", with"
    seat, name = reading.get("seat"), "spotface" if "SPOTFACE" in reading.flags else reading.seat
    text = f"{each} a {name}" + (f" {value_text(seat, style)} wide" if seat else "")
    if depth := reading.get("seat_depth"):
        text += f", {value_text(depth, style)} deep from this face"
    if angle := reading.known("seat_angle"):
        text += f", {value_text(angle, style)} included"
    return text + (f" for {reading.seat_for} ({seat.basis})" if reading.seat_for and seat else "")


def _thread_and_drill(reading: Reading, style: Style) -> str:
    text, depth = "", reading.get("depth")
    if reading.is_hole and reading.shape == "thread" and depth:
        text += f", thread {value_text(depth, style)} deep"
    drill = reading.known("drill")
    if drill is None:
        return text
    stated = reading.get("drill") is not None
    text += f", drill {value_text(drill, style)}" + ("" if stated else f" ({drill.basis})")
    if far := reading.get("drill_depth"):
        text += f", {value_text(far, style)} deep"
    return text


def _places(reading: Reading, style: Style) -> str:
    text = ""
    if circle := reading.get("circle"):
        text += f", on pitch circle {value_text(circle, style)}"
    if at := reading.get("at"):
        text += f", at {value_text(at, style)}"
    x, y = reading.get("x"), reading.get("y")
    if x and y:
        text += f", at {value_text(x, style)}, {value_text(y, style)}"
    if (angle := reading.get("angle")) and reading.shape != "chamfer":
        text += f", first at {value_text(angle, style)}"
    if tip := reading.get("tip"):
        text += f", drill tip {value_text(tip, style)}"
    return text


_FLAG_WORDS = {
    "TYP": "typical", "EQ SP": "equally spaced", "NEAR SIDE": "on the near side", "FAR SIDE": "on the far side",
    "BOTH SIDES": "on both sides",
}  # fmt: skip


def _remarks(reading: Reading) -> str:
    said: list[str] = [_FLAG_WORDS[f] for f in reading.flags if f in _FLAG_WORDS]
    if reading.shape != "surface":
        said += [c.written for c in reading.characteristics if c.kind in ("finish", "geometric")]
    return "".join(f", {s}" for s in said)


def completed_words(reading: Reading, style: Style) -> tuple[str, ...]:
    """What standards filled in, one phrase each: ``drill Ø5: 77 % thread, ISO 2306``."""
    names = {"drill": "drill", "drill_depth": "drill depth", "tip": "drill tip", "seat_angle": "countersink angle"}
    return tuple(f"{names.get(c.key, c.key)} {value_text(c, style)}: {c.basis}" for c in reading.completed)
