"""Why a note read off a picture is not taken unseen.

Two recognisers that agree are needed and not enough, for they do not see what both were not shown: a sign painted
out, a number cut. So the picture speaks too: neighbours, ink at the ends, lines through the writing, the count of Ø
and ± by their shapes, the room a point takes; and the length between the arrowheads, by the scale on which the sheet's
other numbers agree.
"""

from __future__ import annotations

import re
from collections.abc import Hashable, Sequence
from typing import NamedTuple

from . import points
from .lines import Line
from .model import Glyph, Run, SheetText
from .points import Dot
from .repairing import MISREAD, plain
from .scaling import agrees

#: An edge wider than this is blurred, mm: nothing bare is sure there.
BLURRED = 0.42
#: Lettering less even than this is a hand's (:func:`lettering.unlike`): nothing is sure.
BY_HAND = 1.0


class Doubt(NamedTuple):
    """Why an offer is not sure, in words, and how much it weighs (the review list begins with the heaviest)."""

    words: str
    weight: float


class Judged(NamedTuple):
    line: Line
    note: str
    keys: tuple[Hashable | None, ...]
    best: Hashable
    value: float
    near: bool


def doubts_of(judged: Judged, text: SheetText, dots: Sequence[Dot], scale: float, unit: str) -> list[Doubt]:
    """Everything that stands against taking a note unseen; ``dots`` are the sheet's (:func:`points.dots_of`)."""
    line, note = judged.line, judged.note
    first, third, second = judged.keys[0], judged.keys[1], judged.keys[2]
    found: list[Doubt] = []
    witness = agrees(line.runs[0].span, judged.value, scale)
    twice = first is not None and first == third and first == judged.best
    agreed = first is not None and first == second
    same_digits = (
        twice and _digits(line.texts[2]) == _digits(note) and (second is None or _bones(line.texts[2]) == _bones(note))
    )
    borne_out = twice and all(r.borne_out for r in line.runs)
    # A drawn length bears out the number, and nothing that stands behind it.
    measured = twice and witness is True and re.fullmatch(r"Ø?[\d.,]+", note)
    if not (agreed or same_digits or borne_out or measured):
        found.append(Doubt("the readings do not agree", 3.0))
    elif any(k is not None and k != judged.best for k in judged.keys[1:2]):
        found.append(Doubt("one reading says something else", 2.0))
    if not _signs_count(judged, unit) or _is_nought_a_sign(judged, unit) or _lacks_sign(judged, witness):
        found.append(Doubt("a Ø or ± is not plain", 2.0))
    if re.fullmatch(r"Ø?[\d.,]+", note) and _pieces(line.glyphs, note) > len(note):
        found.append(Doubt("a sign may be lost", 2.0))
    if not all(points.have_room(r) for r in line.runs) or points.stand_oddly(note, unit):
        found.append(Doubt("a speck may be read as a point, or a point be lost", 2.0))
    elif witness is not True and not all(points.are_like_others(r, dots) for r in line.runs):
        found.append(Doubt("its point is not drawn like the sheet's others", 1.0))
    if re.search(r"[.,]\d{4}" if unit == "mm" else r"[.,]\d{5}", note):
        found.append(Doubt("a ↧ may have been read as a figure", 2.0))
    if is_sum(note):
        found.append(Doubt("a ± may have been read as +", 3.0))
    if _RUN_TOGETHER.search(note):
        found.append(Doubt("two notes may have run together", 2.0))
    if len(line.runs) > 1 and not re.search(r"\n(⌴|⌵|ON|on|EQ|first)", note):
        found.append(Doubt("two lines may be two notes", 2.0))
    if judged.near:
        found.append(Doubt("other writing stands close to it", 1.0))
    if any(r.loose for r in line.runs):
        found.append(Doubt("ink touches its ends", 1.0))
    if any(r.crossed or r.found == "net" for r in line.runs):
        found.append(Doubt("a line crosses it", 2.0))
    if witness is False:
        found.append(Doubt("the length drawn is another", 3.0))
    found += _of_the_sheet(judged, text, witness)
    return found


def _signs_count(judged: Judged, unit: str) -> bool:
    note, shapes = judged.note, _plain_signs(judged)
    if re.search(r"Ø\s?[\d.,]+\s?°|Ø0+(?![\d.,])", note):
        return False  # a figure was taken for a Ø: no angle has one, and no hole is nothing wide
    if any(_is_figure(r) for r in judged.line.runs):
        return False
    if note.count("Ø") != shapes.count("Ø") or note.count("±") != shapes.count("±"):
        return False
    if any(
        k is not None and t.count("Ø") != note.count("Ø") for t, k in zip(judged.line.texts, judged.keys, strict=True)
    ):
        return False  # neither a drawn length nor the lettering tells a Ø from a nought
    fraction = unit == "in" and re.search(r"\d/\d", note.replace(" ", ""))
    return not fraction or len(set(judged.keys[:3])) == 1


#: A number with its limits, its fit or REF: nothing in it tells a length from a diameter whose sign is lost.
_BARE = re.compile(r"[\d.,]+(\s?[±+].*|/[\d.,]+|\s0/.*|\s?[A-Za-z]{1,2}\d{1,2}|\s?REF)?")


def _is_figure(run: Run) -> bool:
    """Whether the first recogniser saw a figure but no nought where a shape is that of a Ø: it takes a Ø for a nought,
    hardly ever for a 9 (of 1 100 on all kinds of sheets once).
    """
    said = plain(run.plain.text).replace(" ", "")
    if len(said) != len(run.glyphs):
        return False
    return any(g.sign == "Ø" and c in "123456789" for c, g in zip(said, run.glyphs, strict=True))


def _is_nought_a_sign(judged: Judged, unit: str) -> bool:
    """Whether a Ø may have been read as a nought: inches have none before their point (ASME Y14.5, decimal inches).
    That a length is drawn tells nothing, for a diameter is drawn across as well.
    """
    nought = r"\W*(\d+ ?x )?[0OoQ@Ø]\s?\."
    return unit == "in" and "Ø" not in judged.note and any(re.match(nought, t) for t in judged.line.texts)


def _lacks_sign(judged: Judged, witness: bool | None) -> bool:
    """Whether a Ø may be lost: what is so deep has a diameter, and a bare number stands over a dimension line."""
    if witness is True:
        return False
    if re.match(r"(\d+ ?x )?[\d.,]+ ?↧", judged.note):
        return True
    said = {re.sub(r"\s", "", t) for t in judged.line.texts[:3] if t}
    return not judged.line.runs[0].span and len(said) > 1 and _BARE.fullmatch(judged.note) is not None


def _plain_signs(judged: Judged) -> list[str]:
    """The signs told by shape, without those that all readings take for a letter that no sign is taken for."""
    shapes = [g.sign for g in judged.line.glyphs]
    texts = [re.sub(r"\s", "", t).replace("A/", "A") for t in (judged.note, *judged.line.texts[:2])]
    if any(len(t) != len(shapes) for t in texts):
        return shapes
    every = zip(shapes, *texts, strict=True)
    return [
        "" if sign and len(set(seen)) == 1 and _is_letter(i, texts[0], sign) else sign
        for i, (sign, *seen) in enumerate(every)
    ]


def _is_letter(i: int, text: str, sign: str) -> bool:
    """Whether a character is none that a recogniser gives for a sign, or stands in a word."""
    beside = text[max(0, i - 1) : i] + text[i + 1 : i + 2]
    return text[i] != sign and (
        text[i] not in MISREAD[sign] or (text[i].isalpha() and any(c.isalpha() for c in beside))
    )


def _of_the_sheet(judged: Judged, text: SheetText, witness: bool | None) -> list[Doubt]:
    found = []
    bare = re.fullmatch(r"[\d.,]+", judged.note) is not None
    if bare and len(re.sub(r"\D", "", judged.note)) < 2 and witness is not True:
        found.append(Doubt("a single figure may be a bit of a line", 1.0))
    elif bare and text.blur > BLURRED and witness is not True:
        found.append(Doubt("the picture is not sharp, and a sign may be lost", 1.0))
    if text.unlike > BY_HAND:
        found.append(Doubt("the sheet looks hand-lettered", 1.0))
    return found


# --- what is asked of a note
def _digits(text: str) -> str:
    """The figures of a text; a stroke that stands alone is no one, but the sign of depth."""
    text = re.sub(r"(?<= )[Il|](?= )", "", plain(text))
    return re.sub(r"[^\d.]", "", text.translate(str.maketrans("OIl|,", "0111.")))


def _bones(text: str) -> str:
    """A note without the signs that the second recogniser does not know, and that shapes tell."""
    return re.sub(r"[Ø±+\s]", "", text)


def _pieces(glyphs: Sequence[Glyph], note: str) -> int:
    """How many characters the ink falls into, apart from a leader's shoulder, and from specks where no sign can be."""
    if not glyphs:
        return 0
    shoulder = glyphs[0].height < 0.35 and glyphs[0].width > 0.5
    before = note.startswith("Ø") and not shoulder and _is_speck(glyphs[0])
    behind = len(glyphs) > 1 and _is_speck(glyphs[-1]) and not 0.5 < glyphs[-1].up < 1.0  # there stands a °
    return len(glyphs) - shoulder - before - behind


def _is_speck(glyph: Glyph) -> bool:
    return max(glyph.width, glyph.height) < 0.3


#: A note begins again behind a word that ends one.
_RUN_TOGETHER = re.compile(
    r"(deep|DEEP|THRU|MAX|REF|A/F|wide|PCD|B\.C\.|[°)]|\d[HhJjKkMmNnPpRrGgFf]s?\d+)[ ]*"
    r"(\d+ ?(x|HOLES)\b|[ØMRC]\d|\(|\d+[°.]|□)"
)


def is_sum(note: str) -> bool:
    """A ± read as a plain + makes a sum of a size and its limit."""
    joined = re.search(r"\d\s*\+\s*[\d.]+(?!\s*/)(?!.*/)", note) and "±" not in note and "+0." not in note
    return bool(joined or re.search(r"^\S*\d\s?[+-]\s?\.?\d[\d.]*$", note))
