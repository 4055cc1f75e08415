"""What was read off a picture, judged: which reading stands, and whether it is sure.

Two recognisers that agree are needed and not enough, for they do not see what both were not shown: a sign painted
out, a number cut. So the picture speaks too: neighbours, ink at the ends, lines through the writing, the count of Ø
and ± by their shapes; and the length between the arrowheads, by the scale on which the sheet's other numbers agree.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Hashable, Sequence
from typing import NamedTuple

import msgspec

from ...callout import Ledger, Reading
from ..proposals import reads
from .model import Box, Glyph, Run, Said, SheetText
from .repairing import MISREAD, plain, repaired
from .scaling import agrees, scale_of

#: An edge wider than this is blurred, mm: nothing bare is sure there.
BLURRED = 0.42
#: Lettering less even than this is a hand's (:func:`lettering.unlike`): nothing is sure.
BY_HAND = 1.0


class Doubt(NamedTuple):
    """Why an offer is not sure, in words, and how much it weighs (the review list begins with the heaviest)."""

    words: str
    weight: float


class Offer(msgspec.Struct, frozen=True, kw_only=True):
    """A note read off a picture; ``place`` in fractions of the sheet. Sure when there is no doubt."""

    note: str
    place: Box
    turned: bool
    readings: tuple[str, ...]
    doubts: tuple[Doubt, ...] = ()

    @property
    def sure(self) -> bool:
        return not self.doubts

    @property
    def weight(self) -> float:
        return sum(d.weight for d in self.doubts)


class _Line(NamedTuple):
    """A note's lines taken together: what three readings make of it, and what the picture says."""

    runs: tuple[Run, ...]
    texts: tuple[str, ...]
    raw: tuple[Said, ...]
    glyphs: tuple[Glyph, ...]

    @property
    def box(self) -> Box:
        boxes = [r.box for r in self.runs]
        return min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes)

    @property
    def place(self) -> Box:
        boxes = [r.place for r in self.runs]
        return min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes)


def offers(text: SheetText, ledger: Ledger) -> tuple[Offer, ...]:
    """What a sheet offers, from the top left to the bottom right."""
    unit = ledger.length_unit
    lines = _joined(text.runs, unit)
    read = [j for line in lines if not _is_outside(line.box, text) for j in _read(line, lines, ledger)]
    scale = scale_of([(j.line.runs[0].span, j.value) for j in read])
    found = [_offer(j, text, scale, unit) for j in _best_of(read)]
    return tuple(sorted(found, key=lambda o: (round(o.place[1], 2), o.place[0])))


def unread(text: SheetText, ledger: Ledger, offered: Sequence[Offer]) -> tuple[Offer, ...]:
    """Lines with figures in them that read as nothing: shown for review, never offered."""
    found = []
    for run in text.runs:
        line = _line(run, ledger.length_unit)
        note = line.texts[0] or line.texts[1]
        figures = len(re.findall(r"\d", note)) / max(1, len(note.replace(" ", "")))
        enough = figures > 0.22 and min(len(t) for t in line.texts[:2]) > 1
        if not enough or _is_outside(line.box, text) or any(_lies_in(line.place, o.place) > 0.3 for o in offered):
            continue
        if meaning(note, ledger) is None:
            found.append(Offer(note=note, place=line.place, turned=run.turned, readings=line.texts, doubts=(_NO_SIZE,)))
    return tuple(found)


_NO_SIZE = Doubt("does not read as a size", 9.0)


def _lies_in(box: Box, other: Box) -> float:
    """Share of a box that lies in another."""
    across, down = min(box[2], other[2]) - max(box[0], other[0]), min(box[3], other[3]) - max(box[1], other[1])
    area = (box[2] - box[0]) * (box[3] - box[1])
    return across * down / area if across > 0 and down > 0 and area > 0 else 0.0


def _best_of(read: Sequence[_Judged]) -> list[_Judged]:
    """One note a place: what the second finder saw whole stands for the bits that were found of it by their ink."""
    wide = [j for j in read if j.line.runs[0].found == "net"]
    kept: list[_Judged] = []
    for j in read:
        mine, box = j.line.runs[0].found == "net", j.line.box
        rivals = [o for o in read if o is not j and o.line.runs[0].turned == j.line.runs[0].turned]
        if mine:
            ink = [o for o in rivals if o.line.runs[0].found != "net"]
            worse = any(_lies_in(box, o.line.box) > 0.85 for o in ink)
            worse = worse or any(_lies_in(o.line.box, box) > 0.35 and len(o.note) >= len(j.note) for o in ink)
            worse = worse or any(_lies_in(o.line.box, box) > 0.5 and o.note == j.note for o in kept)
        else:
            worse = any(_lies_in(box, o.line.box) > 0.6 and len(o.note) > len(j.note) for o in wide if o is not j)
        if not worse:
            kept.append(j)
    return kept


def _is_outside(box: Box, text: SheetText) -> bool:
    """Whether a box lies outside the frame, or in the title block."""
    x, y = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    left, top, right, bottom = text.inside
    if right > left and not (left < x < right and top < y < bottom):
        return True
    return any(a <= x <= c and b <= y <= d for a, b, c, d in text.tables)


# --- lines of one note
def _joined(runs: Sequence[Run], unit: str) -> list[_Line]:
    """Runs as notes: a line that begins with a seat, or goes on with a diameter or a place, belongs to the one
    above.
    """
    lines = [_line(r, unit) for r in runs]
    used: set[int] = set()
    found: list[_Line] = []
    for k, upper in enumerate(lines):
        for m, lower in enumerate(lines):
            if k != m and not {k, m} & used and _goes_on(upper, lower):
                found.append(_together(upper, lower))
                used |= {k, m}
    found += [line for k, line in enumerate(lines) if k not in used]
    return found


def _line(run: Run, unit: str) -> _Line:
    first, again, second, look = (
        repaired(s.text, unit, run.glyphs) for s in (run.plain, run.as_is, run.second, run.look)
    )
    if look and second.replace(" ", "") != first.replace(" ", "") == look.replace(" ", ""):
        return _Line((run,), (first, again, look), (run.plain, run.as_is, run.look), run.glyphs)
    return _Line((run,), (first, again, second), (run.plain, run.as_is, run.second), run.glyphs)


def _goes_on(upper: _Line, lower: _Line) -> bool:
    a, b = upper.runs[0], lower.runs[0]
    if a.turned or b.turned:
        return False
    down, right, h = b.box[1] - a.box[1], b.box[0] - a.box[0], a.height
    if not 0 < down < 2.6 * h or not -2.8 * h < right < 3.2 * h:
        return False
    if not re.search(r"\d", upper.texts[0] + upper.texts[1]):
        return False  # a scrap is no note
    if b.led and (a.led or plain(lower.raw[0].text)[:1] in ("-", "_", "~")):
        return False  # it has a leader of its own
    if _has_seat(lower):
        return True
    if b.span > 0:
        return False  # it stands over a dimension line
    hole = "THRU" in upper.texts[0] or "↧" in upper.texts[0]
    more = re.match(r"Ø|ON Ø|on Ø|EQ|eq|(first|FIRST) at", lower.texts[0])
    return bool(hole and more and re.search(r"Ø|M\d", upper.texts[0]))


def _has_seat(line: _Line) -> bool:
    """Whether a line begins with the sign of a seat: by its shape, or read so twice."""
    shaped = bool(line.glyphs) and line.glyphs[0].sign in ("⌴", "⌵")
    return shaped or sum(t[:1] in ("⌴", "⌵") for t in line.texts) > 1


def _together(upper: _Line, lower: _Line) -> _Line:
    seat = next((s for s in "⌴⌵" if any(t.startswith(s) for t in lower.texts)), "") if _has_seat(lower) else ""
    texts = []
    for a, b in zip(upper.texts, lower.texts, strict=True):
        texts.append(a + "\n" + (b if b[:1] in ("⌴", "⌵") or not seat else f"{seat} {b}"))
    raw = tuple(Said(a.text + "\n" + b.text, min(a.least, b.least)) for a, b in zip(upper.raw, lower.raw, strict=True))
    return _Line(upper.runs + lower.runs, tuple(texts), raw, upper.glyphs + lower.glyphs)


# --- one note
class _Judged(NamedTuple):
    line: _Line
    note: str
    keys: tuple[Hashable | None, ...]
    best: Hashable
    value: float
    near: bool


def meaning(note: str, ledger: Ledger) -> Hashable | None:
    """What the program makes of a note, so that two notes may be compared; None where it makes nothing of it."""
    reading = reads(note, ledger) if note else None
    return _key(reading) if reading is not None else None


def _key(r: Reading) -> Hashable:
    sizes = sorted(
        (c.key, c.kind, round(c.nominal, 4), round(c.lower, 4), round(c.upper, 4)) for c in r.characteristics
    )
    thread = str(r.thread.designation) if r.thread else ""
    return r.shape, thread, r.fit, r.thru, r.seat, r.flags, r.hexagon, r.clears, tuple(sizes)


def _read(line: _Line, lines: Sequence[_Line], ledger: Ledger) -> list[_Judged]:
    """A note judged; lines that read as nothing together, each by itself."""
    together = _judged(line, lines, ledger)
    if together is not None:
        return [together]
    apart = [_line(run, ledger.length_unit) for run in line.runs] if len(line.runs) > 1 else []
    return [j for one in apart if (j := _judged(one, [*lines, *apart], ledger)) is not None]


def _judged(line: _Line, lines: Sequence[_Line], ledger: Ledger) -> _Judged | None:
    keys = tuple(meaning(t, ledger) for t in line.texts)
    known = [k for k in keys if k is not None]
    if not known:
        return None
    counted = Counter(known).most_common()
    if counted[0][1] < 2 and line.runs[0].found == "net":
        return None
    votes = dict(counted)
    note, best = max(
        ((t, k) for t, k in zip(line.texts, keys, strict=True) if k is not None),
        key=lambda c: (votes[c[1]], not _is_sum(c[0]), _signs_alike(c[0], line.glyphs)),
    )
    if re.fullmatch(r"\d+:1", note) or (_is_bare_bit(note) and not _is_over_line(line, note)):
        return None  # a view's scale, a bit of a line
    reading = reads(note, ledger)
    assert reading is not None
    first = reading.main
    value = first.nominal if reading.shape in ("length", "diameter") and first.kind in ("length", "diameter") else 0.0
    return _Judged(line, note, keys, best, value, _has_neighbour(line, lines))


def _signs_alike(note: str, glyphs: Sequence[Glyph]) -> int:
    """How many of the signs told by shape a note has the right number of times."""
    shapes = [g.sign for g in glyphs]
    return sum(note.count(sign) == shapes.count(sign) for sign in "Ø±↧⌴⌵□")


def _is_bare_bit(note: str) -> bool:
    """A digit or two that may be a bit of an arc or a view's letter: a size only over a dimension line."""
    return bool(re.fullmatch(r"\d|\d{1,2}1|1+|[.,]?\d", note))


def _is_over_line(line: _Line, note: str) -> bool:
    """Whether a bare figure stands over a dimension line and all read it alike; strokes only where the line's length is
    known.
    """
    run = line.runs[0]
    alike = all(re.sub(r"\W", "", t) == re.sub(r"\W", "", note) for t in line.texts[:3])
    return alike and (run.span > 0 or (run.under >= 0.7 and not re.search("[17]", note)))


def _has_neighbour(line: _Line, lines: Sequence[_Line]) -> bool:
    """Whether other writing stands so near that it may belong to this note."""
    return any(
        other is not line
        and other.runs[0].turned == line.runs[0].turned
        and _is_writing(other)
        and abs(other.runs[0].height / line.runs[0].height - 1) < 0.45
        and (_is_beside(line, other) or (len(line.runs) == 1 and _is_stacked(line, other)))
        and (_is_beside(line, other) or not _are_two(*sorted((line, other), key=lambda one: one.box[1])))
        for other in lines
    )


def _are_two(upper: _Line, lower: _Line) -> bool:
    """Whether each of two notes has a leader or a dimension line of its own: then they are two, however close. What may
    be the seat of a hole above it stays with it.
    """
    if not all(any(r.led or r.span > 0 for r in line.runs) for line in (upper, lower)):
        return False
    hole = any(re.search(r"THRU|DEEP|deep|↧|M\d|Ø", t) for t in upper.texts)
    seat = any(re.search(r"(^|\n)([⌴⌵]|\D{0,3}Ø)", t) for t in lower.texts)
    return lower.runs[0].led or not (hole and seat)


def _is_writing(line: _Line) -> bool:
    """Whether a run is writing, and no bit of a line that is read now so, now so."""
    first, again = (re.sub(r"[^0-9A-Za-zØ°]", "", plain(s.text)) for s in line.raw[:2])
    return bool(first) and (first == again or len(first) > 2)


def _is_beside(line: _Line, other: _Line) -> bool:
    a, b, h = line.box, other.box, line.runs[0].height
    lo, hi = (1, 3) if line.runs[0].turned else (0, 2)
    lo2, hi2 = 1 - lo, 5 - hi
    gap = max(b[lo] - a[hi], a[lo] - b[hi])
    shared = min(b[hi2], a[hi2]) - max(b[lo2], a[lo2])
    return gap < 1.6 * h and shared > 0.4 * h


def _is_stacked(line: _Line, other: _Line) -> bool:
    run, h = line.runs[0], line.runs[0].height
    across, down = (1, 0) if run.turned else (0, 1)
    apart = abs(other.box[down] - line.box[down])
    overlap = min(other.box[across + 2], line.box[across + 2]) - max(other.box[across], line.box[across])
    return 0.5 * h < apart < 2.3 * h and overlap > 0 and len(other.raw[0].text) > 2


# --- sure or not
def _digits(text: str) -> str:
    return re.sub(r"[^\d.]", "", plain(text).translate(str.maketrans("OIl|,", "0111.")))


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


def _is_sum(note: str) -> bool:
    """A ± read as a plain + makes a sum of a size and its limit."""
    joined = re.search(r"\d\s*\+\s*[\d.]+(?!\s*/)(?!.*/)", note) and "±" not in note and "+0." not in note
    return bool(joined or re.search(r"^\S*\d\s?[+-]\s?\.?\d[\d.]*$", note))


def _offer(judged: _Judged, text: SheetText, scale: float, unit: str) -> Offer:
    line = judged.line
    doubts = tuple(_doubts(judged, text, scale, unit))
    return Offer(
        note=judged.note,
        place=line.place,
        turned=line.runs[0].turned,
        readings=tuple(dict.fromkeys(t for t in line.texts if t)),
        doubts=doubts,
    )


def _doubts(judged: _Judged, text: SheetText, scale: float, unit: str) -> list[Doubt]:
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
    if not all(_points_fit(r) for r in line.runs) or _begins_with_point(note, unit):
        found.append(Doubt("a speck may be read as a point, or a point be lost", 2.0))
    if _is_sum(note):
        found.append(Doubt("a ± may have been read as +", 3.0))
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


def _signs_count(judged: _Judged, unit: str) -> bool:
    note, shapes = judged.note, _plain_signs(judged)
    if note.count("Ø") != shapes.count("Ø") or note.count("±") != shapes.count("±"):
        return False
    fraction = unit == "in" and re.search(r"\d/\d", note.replace(" ", ""))
    return not fraction or len(set(judged.keys[:3])) == 1


def _plain_signs(judged: _Judged) -> list[str]:
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


def _of_the_sheet(judged: _Judged, text: SheetText, witness: bool | None) -> list[Doubt]:
    found = []
    bare = re.fullmatch(r"[\d.,]+", judged.note) is not None
    if bare and len(re.sub(r"\D", "", judged.note)) < 2 and witness is not True:
        found.append(Doubt("a single figure may be a bit of a line", 1.0))
    elif bare and text.blur > BLURRED and witness is not True:
        found.append(Doubt("the picture is not sharp, and a sign may be lost", 1.0))
    if text.unlike > BY_HAND:
        found.append(Doubt("the sheet looks hand-lettered", 1.0))
    return found
