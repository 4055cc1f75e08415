"""All that goes into something else, a sentence each: screws in threads, shafts in holes, keys in seats, tapers."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

from ..quantity import Style
from ..refusal import worded
from .fits import Fitted, fits
from .model import Assembly
from .screws import Screwed, screws
from .tapers import Tapered, tapers

#: A taper counts as seated this close to its place (mm).
_SEATED = 0.02
Mark = Literal["good", "look", "bad", "plain"]
_ORDER = ("bad", "look", "plain", "good")


class Joined(NamedTuple):
    """What goes in and what it goes into (instances, and in words with what is stated of each), how much in figures,
    what it comes to, and its mark: bad, to be looked at, plain (nothing is judged), good.
    """

    inner: str
    outer: str
    words: tuple[str, str]
    much: str
    says: str
    mark: Mark


def joined(assembly: Assembly) -> tuple[Joined, ...]:
    """The assembly's joints as it stands, those with something against them first."""
    style = Style(assembly.unit)
    made = [_screw(assembly, s, style) for s in screws(assembly)]
    made += [_taper(assembly, t, style) for t in tapers(assembly)]
    threaded = {(j.inner, j.outer) for j in made}
    made += [_fit(assembly, f, style) for f in fits(assembly) if (f.shaft, f.hole) not in threaded]
    return tuple(sorted(made, key=lambda j: _ORDER.index(j.mark)))


def _screw(assembly: Assembly, s: Screwed, style: Style) -> Joined:
    says = "; ".join(worded(words, assembly.unit) for _, words in s.said)
    words = (f"{assembly.called(s.screw)} {s.thread}", assembly.called(s.into))
    return Joined(s.screw, s.into, words, style.length(s.engaged, unit=True), says, s.mark)


def _fit(assembly: Assembly, f: Fitted, style: Style) -> Joined:
    sign = "" if f.wide else "Ø"
    one, two = (
        f"{assembly.called(name)} {note or sign + style.length(size)}"
        for name, note, size in zip((f.shaft, f.hole), f.notes, f.sizes, strict=True)
    )
    if not f.goes_in:
        room = style.length(f.sizes[1] - f.sizes[0], unit=True)
        return Joined(f.shaft, f.hole, (one, two), room, worded(f.words, assembly.unit), "bad")
    if f.least is None or f.most is None:
        gap = f.sizes[1] - f.sizes[0]
        mark: Mark = "look" if gap < -1e-6 else "plain"
        return Joined(f.shaft, f.hole, (one, two), f"nominal {style.length(gap, unit=True)}", f.words, mark)
    much = f"{style.fixed(f.least)} to {style.fixed(f.most)} {style.unit}"
    words = f.words.replace("clearance fit: always", "clearance: always") if f.wide else f.words
    return Joined(f.shaft, f.hole, (one, two), much, words, "plain" if f.general else "good")


def _taper(assembly: Assembly, t: Tapered, style: Style) -> Joined:
    words = (f"{assembly.called(t.pin)} taper", assembly.called(t.hole))
    pin, hole = (f"1:{1 / (2 * math.tan(half)):.4g}" for half in t.halves)
    if not t.is_one_taper:
        return Joined(t.pin, t.hole, words, f"{pin} in {hole}", "the tapers differ: it bears at one end only", "bad")
    if abs(t.way) <= _SEATED:
        return Joined(t.pin, t.hole, words, pin, "seats here", "good")
    far = style.length(abs(t.way), unit=True)
    if t.way > 0:
        return Joined(t.pin, t.hole, words, pin, f"seats {far} further in", "look")
    return Joined(t.pin, t.hole, words, pin, f"stands {far} further in than it seats: it would have to press", "bad")
