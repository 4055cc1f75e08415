"""The sheet's own lettering as a witness: one office draws a 6 the same each time.

Characters that all readings agree on are the sheet's alphabet. A line that one recogniser read twice alike, and the
other otherwise, is borne out when each of its characters is drawn like those of the alphabet, and like no other of
them. It also has just as many characters as pieces of ink, so that nothing was read into it and nothing left out.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import cv2
import numpy as np

from ...arrays import Floats
from .ink import Gray
from .model import Run
from .repairing import MISREAD, plain
from .shapes import Group, groups

#: Pixels of the little picture that characters are compared in; examples kept of each.
_SIDE, _KEPT = 18, 10
#: Drawn alike within this (1 less the correlation); nearer than this share of the way to any other character.
_NEAR, _NEARER = 0.2, 0.72
#: Small signs are told apart by where they stand and how large they are, in heights of a letter.
_SMALL, _THIN, _SAME_SIZE = 0.45, 0.3, 0.2


class Letter(NamedTuple):
    """A character's ink: its little picture (of no mean, of length 1), its size and how high its middle stands."""

    shape: Floats
    wide: float
    high: float
    middle: float


Alphabet = dict[str, list[Letter]]
Mark = tuple[Letter, str]
#: Strokes so simple that their size and place tell them, where the sheet has no other to compare.
_PLAIN: dict[str, Callable[[Letter], bool]] = {
    "+": lambda m: 0.45 < m.high < 0.95 and 0.7 < m.wide / m.high < 1.4,
    "-": lambda m: m.high < 0.3 and m.wide > 0.3 and 0.25 < m.middle < 0.7,
    "/": lambda m: m.high > 0.85 and m.wide > 0.25,
    ".": lambda m: m.high < 0.35 and m.wide < 0.35 and m.middle < 0.3,
    "°": lambda m: m.high < 0.6 and m.middle > 0.6,
}


def letters(line: Gray) -> list[Mark]:
    """The characters of an upright line, each with the sign that its shape is, if any."""
    found, usual, floor = [], 1.0, 0.0
    every = groups(line)
    while every and every[0].shape.shape[1] > 3 * every[0].shape.shape[0]:  # a leader's shoulder
        every.pop(0)
    if every:
        tall = [g for g in every if g.shape.shape[0] > 0.7 * max(h.shape.shape[0] for h in every)]
        usual = float(np.median([g.shape.shape[0] for g in tall]))
        floor = float(np.median([g.bottom for g in tall]))
    for group in every:
        high, wide = group.shape.shape
        middle = (floor - group.bottom + high / 2) / usual
        found.append((Letter(_picture(group), wide / usual, high / usual, middle), group.sign))
    return found


def _picture(group: Group) -> Floats:
    small = cv2.resize(group.shape * 255, (_SIDE, _SIDE), interpolation=cv2.INTER_AREA)
    soft = cv2.GaussianBlur(small, (0, 0), 0.9).astype(float).ravel()
    soft -= soft.mean()
    long = float(np.sqrt((soft * soft).sum()))
    shape: Floats = soft / long if long else soft
    return shape


def _marked(text: str, own: Sequence[Mark]) -> list[Mark] | None:
    """The characters of a reading with their ink, signs by their shape; None where they do not count the same."""
    whole = plain(text)
    bare = whole.lstrip("-_~ ")
    stray = len(whole[: len(whole) - len(bare)].replace(" ", ""))  # a leader's shoulder, read as a dash
    characters = [c for c in bare if c != " "]
    if len(own) == len(characters) + stray:
        own = own[stray:]
    if len(characters) != len(own):
        return None
    return [
        (letter, sign if sign and c in MISREAD[sign] else c) for c, (letter, sign) in zip(characters, own, strict=True)
    ]


def alphabet(lines: Sequence[tuple[list[Mark], Run]]) -> Alphabet:
    """Examples of every character that all readings agree on."""
    found: Alphabet = {}
    for own, run in lines:
        first, again, *seconds = (_marked(s.text, own) for s in (run.plain, run.as_is, run.second, run.look))
        if first is None or again is None or _names(first) != _names(again):
            continue
        if not any(second is not None and _names(first) == _names(second) for second in seconds):
            continue
        for letter, character in first:
            examples = found.setdefault(character, [])
            if len(examples) < _KEPT:
                examples.append(letter)
    return found


def _names(marked: list[Mark]) -> list[str]:
    return [c for _, c in marked]


def borne_out(own: Sequence[Mark], run: Run, known: Alphabet) -> bool:
    """Whether what was read twice alike is drawn like the alphabet's characters, each of them."""
    first, again = _marked(run.plain.text, own), _marked(run.as_is.text, own)
    if first is None or again is None or _names(first) != _names(again):
        return False
    return any(c.isdigit() for c in _names(first)) and all(_is(letter, c, known) for letter, c in first)


def _is(letter: Letter, character: str, known: Alphabet) -> bool:
    if character in MISREAD:
        return True  # told by its shape already
    if character in _PLAIN and not known.get(character):
        return _PLAIN[character](letter)
    own = [_apart(letter, e) for e in known.get(character, ())]
    if min(own, default=2.0) > _NEAR:
        return False
    others = [_apart(letter, e) for c, examples in known.items() if not _same(c, character) for e in examples]
    return min(own) < _NEARER * min(others, default=2.0)


def _same(a: str, b: str) -> bool:
    return a == b or a + b in ("0O", "O0", "xX", "Xx", "xx", "1I", "I1", "1l", "l1")


def _apart(a: Letter, b: Letter) -> float:
    """0 drawn alike, 1 nothing in common; 2 where size or place are another's."""
    if abs(a.high - b.high) > _SAME_SIZE or abs(a.wide - b.wide) > _SAME_SIZE or abs(a.middle - b.middle) > _SAME_SIZE:
        return 2.0
    if max(a.high, a.wide) < _SMALL or max(a.wide, b.wide) < _THIN:  # too few pixels across to have a shape
        return abs(a.high - b.high) + abs(a.middle - b.middle) / 2
    return 1.0 - float(a.shape @ b.shape)
