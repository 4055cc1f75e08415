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

from .lines import Line
from .model import Glyph, Run, SheetText
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


def doubts_of(judged: Judged, text: SheetText, scale: float, unit: str) -> list[Doubt]:
    """Everything that stands against taking a note unseen."""
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
    if not _signs_count(judged, unit):
        found.append(Doubt("a Ø or ± is not plain", 2.0))
    if re.fullmatch(r"Ø?[\d.,]+", note) and _pieces(line.glyphs, note) > len(note):
        found.append(Doubt("a sign may be lost", 2.0))
    if not all(_points_fit(r) for r in line.runs) or _begins_with_point(note, unit) or _ODD_POINT.search(note):
        found.append(Doubt("a speck may be read as a point, or a point be lost", 2.0))
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
    if note.count("Ø") != shapes.count("Ø") or note.count("±") != shapes.count("±"):
        return False
    if any(
        k is not None and t.count("Ø") != note.count("Ø") for t, k in zip(judged.line.texts, judged.keys, strict=True)
    ):
        return False  # neither a drawn length nor the lettering tells a Ø from a nought
    fraction = unit == "in" and re.search(r"\d/\d", note.replace(" ", ""))
    return not fraction or len(set(judged.keys[:3])) == 1


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


#: A point where a blank belongs: no pipe thread has one behind its fraction, and only small metric ones do (ISO 261).
_ODD_POINT = re.compile(r"[GRcp]\d*[ ]?\d*/\d+[.,]\d|M(?!(1[.,][12468]|2[.,][25]|3[.,]5)(\D|$))\d+[.,]\d")
#: A note begins again behind a word that ends one.
_RUN_TOGETHER = re.compile(
    r"(deep|DEEP|THRU|MAX|REF|A/F|wide|PCD|B\.C\.|[°)]|\d[HhJjKkMmNnPpRrGgFf]s?\d+)[ ]*"
    r"(\d+ ?(x|HOLES)\b|[ØMRC]\d|\(|\d+[°.]|□)"
)
#: Figures with a point between them stand farther apart than this, those without nearer than that, in heights: in eight
#: letterings with a point .33 to .63, without .05 to .32 (two ones .38).
_POINTED, _TOUCHING = 0.31, 0.42


def _points_fit(run: Run) -> bool:
    """Whether figures stand apart as those with a point between them do, and only those."""
    text = plain(run.plain.text)
    if len(text.replace(" ", "")) != len(run.glyphs):
        return True  # nothing can be said
    along = (run.box[3] - run.box[1] if run.turned else run.box[2] - run.box[0]) / run.height
    ink = iter(run.glyphs)
    where = [None if c == " " else next(ink) for c in text]
    for m in re.finditer(r"\d(?=\d)", text):
        if _gap(where[m.start()], where[m.start() + 1], along) > _TOUCHING:
            return False
    return all(
        _gap(where[m.start()], where[m.start() + 2], along) > _POINTED for m in re.finditer(r"\d(?=[.,]\d)", text)
    )


def _gap(left: Glyph | None, right: Glyph | None, along: float) -> float:
    assert left is not None and right is not None, "figures have ink"
    return (right.middle - left.middle) * along - (left.width + right.width) / 2


def _begins_with_point(note: str, unit: str) -> bool:
    """In mm a nought stands before the point, and before that of an angle in any unit."""
    first = r"(?<!\d)\s?[.,]\d"
    return bool(re.search(first + r"+\s?°" if unit == "in" else first, note))


def is_sum(note: str) -> bool:
    """A ± read as a plain + makes a sum of a size and its limit."""
    joined = re.search(r"\d\s*\+\s*[\d.]+(?!\s*/)(?!.*/)", note) and "±" not in note and "+0." not in note
    return bool(joined or re.search(r"^\S*\d\s?[+-]\s?\.?\d[\d.]*$", note))
