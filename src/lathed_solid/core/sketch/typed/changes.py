"""Typed commands that change what is drawn: offset, corners, copies, repeats, trimming.

They work on what is chosen on the plate, or on elements named behind ``of``.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from ..edit import copying, corner, offset, repeating, trim
from ..model import ORIGIN, Sketch
from ..refusal import SketchError
from .reader import NAMES, Command, Reader, spoken

Change = Callable[[Sketch, tuple[str, ...]], Sketch]


def _subject(r: Reader, parts: dict[str, tuple[str, int]]) -> tuple[str, ...]:
    return r.names(*parts["of"]) if "of" in parts else ()


def _on(named: tuple[str, ...], change: Change) -> Change:
    """``change`` on the named elements, or on those chosen."""

    def run(sketch: Sketch, chosen: tuple[str, ...]) -> Sketch:
        ids = named or chosen
        if not ids:
            raise SketchError("Choose on the plate what this is for, or name it: of l1 l2.")
        return change(sketch, ids)

    return run


def offset_(r: Reader, start: int) -> Command:
    parts = r.parted(start, "of")
    text, at = parts[""]
    distance = r.value(text, at)
    named = _subject(r, parts)
    words = (
        f"an offset of {text.strip()} ({'outwards, or to the left' if distance > 0 else 'inwards, or to the right'})"
    )
    return Command(words, _on(named, lambda s, ids: offset.offset(s, ids, text.strip(), distance)[0]))


def fillet(r: Reader, start: int) -> Command:
    parts = r.parted(start, "of")
    text, at = parts[""]
    text = re.sub(r"^(\s*)[Rr](?=\s*[\d.(#])", r"\1 ", text)
    radius = r.value(text, at)
    if radius <= 0:
        raise r.error("A radius must be above zero.", at)
    named = _subject(r, parts)

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        groups = [(i,) for i in ids] if all(i in sketch.points() for i in ids) else [ids]
        for group in groups:
            sketch, _ = corner.round_corner(sketch, group, text.strip(), radius)
        return sketch

    return Command(f"a corner radius of {text.strip()}", _on(named, made))


def chamfer(r: Reader, start: int) -> Command:
    parts = r.parted(start, "of")
    text, at = parts[""]
    leg_text, angle_text = r.two(text, at) if re.search(r"\s[xX×]", text) else (text.strip(), "45°")
    leg = r.value(leg_text, at)
    angle = r.value(angle_text, at, "angle")
    named = _subject(r, parts)

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        groups = [(i,) for i in ids] if all(i in sketch.points() for i in ids) else [ids]
        for group in groups:
            sketch, _ = corner.break_corner(sketch, group, leg_text, leg, angle_text, angle)
        return sketch

    return Command(f"a chamfer {leg_text} x {angle_text}", _on(named, made))


def mirror(r: Reader, start: int) -> Command:
    parts = r.parted(start, "of", "about", "copy")
    if "about" not in parts:
        raise r.error("Say about which line, as in mirror about axis, mirror about l3 (copy: without a link).")
    (axis, *_rest) = r.names(*parts["about"]) or ("",)
    if not axis:
        raise r.error("Say about which line, as in mirror about axis.")
    linked, named = "copy" not in parts, _subject(r, parts)
    words = f"a {'linked mirror image' if linked else 'mirrored copy'} about {parts['about'][0].strip()}"
    return Command(words, _on(named, lambda s, ids: copying.mirror(s, ids, axis, linked)[0]))


def move(r: Reader, start: int) -> Command:
    return _placed(r, start, "moved by", lambda x, y: copying.shift(x, y), copy=False)


def copy(r: Reader, start: int) -> Command:
    return _placed(r, start, "a copy, by", lambda x, y: copying.shift(x, y), copy=True)


def _placed(r: Reader, start: int, words: str, make: Callable[[float, float], copying.Placing], copy: bool) -> Command:
    parts = r.parted(start, "of")
    text, at = parts[""]
    found = re.search(r"\S+", text)
    if found is None:
        raise r.error("Say by how much, as in 10,0 or 20<30.")
    place = r.place(found[0], at + found.start(), (0.0, 0.0))
    placing, named = make(*place.at), _subject(r, parts)

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        return copying.copied(sketch, ids, placing, False)[0] if copy else copying.moved(sketch, ids, placing)

    return Command(f"{words} {found[0]}", _on(named, made))


def turn(r: Reader, start: int) -> Command:
    return _about(r, start, "angle", "turned by", copying.turned, turns=True)


def scale(r: Reader, start: int) -> Command:
    return _about(r, start, "number", "scaled by", copying.scaled, turns=False)


def _about(r: Reader, start: int, want: str, words: str, make: Callable[..., copying.Placing], turns: bool) -> Command:
    parts = r.parted(start, "about", "of", "copy")
    text, at = parts[""]
    value, named, copy_ = r.value(text, at, want), _subject(r, parts), "copy" in parts
    about = r.place(parts["about"][0].strip(), parts["about"][1], (0.0, 0.0)) if "about" in parts else None
    center = about.at if about is not None else (0.0, 0.0)
    try:
        placing = make(center, value)
    except SketchError as error:
        raise r.error(error.message, at) from None

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        return copying.copied(sketch, ids, placing, turns)[0] if copy_ else copying.moved(sketch, ids, placing)

    where = spoken(about) if about is not None else "the origin"
    return Command(f"{'a copy ' if copy_ else ''}{words} {text.strip()} about {where}", _on(named, made))


def row(r: Reader, start: int) -> Command:
    """``row 5 x 12``, ``row 5 x 12 along l3``"""
    parts = r.parted(start, "of", "along")
    many, pitch = r.two(*parts[""])
    count, step = r.count(many, parts[""][1]), r.value(pitch, parts[""][1])
    along = r.names(*parts["along"]) if "along" in parts else ()
    named = _subject(r, parts)

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        return repeating.add_repeat(sketch, "row", ids, ((many, count),), ((pitch, step),), along)[0]

    return Command(f"a row of {many} at {pitch}", _on(named, made))


def grid(r: Reader, start: int) -> Command:
    """``grid 3 x 12 by 2 x 20``"""
    parts = r.parted(start, "of", "by", "along")
    if "by" not in parts:
        raise r.error("A grid needs two counts and pitches, as in grid 3 x 12 by 2 x 20.")
    pairs = [(r.two(*parts[k]), parts[k][1]) for k in ("", "by")]
    counts = tuple((pair[0], r.count(pair[0], at)) for pair, at in pairs)
    steps = tuple((pair[1], r.value(pair[1], at)) for pair, at in pairs)
    along = r.names(*parts["along"]) if "along" in parts else ()
    named = _subject(r, parts)

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        return repeating.add_repeat(sketch, "grid", ids, counts, steps, along)[0]

    return Command(f"a grid of {counts[0][0]} at {steps[0][0]} by {counts[1][0]} at {steps[1][0]}", _on(named, made))


def ring(r: Reader, start: int) -> Command:
    """``ring 6 about 0,0`` over the whole turn; ``ring 3 x 25° about p4``"""
    parts = r.parted(start, "of", "about")
    text, at = parts[""]
    turns: tuple[tuple[str, float], ...] = ()
    many = text.strip()
    if re.search(r"\s[xX×]", text):
        many, turn_text = r.two(text, at)
        turns = ((turn_text, r.value(turn_text, at, "angle")),)
    count, named = r.count(many, at), _subject(r, parts)
    center = parts["about"][0].strip() if "about" in parts else "origin"
    (about, *_rest) = r.names(center, parts.get("about", (center, at))[1]) or (ORIGIN,)

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        return repeating.add_repeat(sketch, "ring", ids, ((many, count),), turns, (about,))[0]

    shown = next((k for k, v in NAMES.items() if v == about), about)
    return Command(f"a ring of {many}" + (f" at {turns[0][0]}" if turns else "") + f" about {shown}", _on(named, made))


def _at_place(
    r: Reader, start: int, word: str, change: Callable[[Sketch, str, tuple[float, float]], Sketch]
) -> Command:
    parts = r.parted(start, "at")
    named = r.names(*parts[""])
    if "at" not in parts:
        raise r.error(f"Say where, as in {word} l3 at 12,0.")
    place = r.place(parts["at"][0].strip(), parts["at"][1], (0.0, 0.0))

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        if len(ids) != 1:
            raise SketchError("Choose one line or arc, or name it.")
        return change(sketch, ids[0], place.at)

    return Command(f"{word} at {spoken(place)}", _on(named, made))


def trim_(r: Reader, start: int) -> Command:
    return _at_place(r, start, "trim", trim.trim)


def extend(r: Reader, start: int) -> Command:
    return _at_place(r, start, "extend", trim.extend)


def split(r: Reader, start: int) -> Command:
    return _at_place(r, start, "split", trim.split)


def space(r: Reader, start: int) -> Command:
    """``space 4 on l3``"""
    parts = r.parted(start, "on")
    text, at = parts[""]
    many = r.count(text, at)
    named = r.names(*parts["on"]) if "on" in parts else ()

    def made(sketch: Sketch, ids: tuple[str, ...]) -> Sketch:
        if len(ids) != 1:
            raise SketchError("Choose one line to space the points along.")
        return repeating.add_spaced_points(sketch, ids[0], many)[0]

    return Command(f"{many} points equally spaced", _on(named, made))


CHANGES = {
    "offset": offset_, "fillet": fillet, "chamfer": chamfer, "mirror": mirror, "move": move, "copy": copy, "turn": turn,
    "scale": scale, "row": row, "grid": grid, "ring": ring, "trim": trim_, "extend": extend, "split": split,
    "space": space,
}  # fmt: skip
