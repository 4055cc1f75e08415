"""What was read off a picture, judged: which of three readings stands, and whether it is sure (see :mod:`doubting`)."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Hashable, Sequence

import msgspec

from ...callout import Ledger, Reading
from ..proposals import reads
from .doubting import Doubt, Judged, doubts_of, is_sum
from .lines import Line, has_neighbour, joined, line_of
from .model import Box, Glyph, SheetText
from .points import dots_of
from .scaling import scale_of


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


def offers(text: SheetText, ledger: Ledger) -> tuple[Offer, ...]:
    """What a sheet offers, from the top left to the bottom right."""
    unit = ledger.length_unit
    lines = joined(text.runs, unit)
    read = [j for line in lines if not _is_outside(line.box, text) for j in _read(line, lines, ledger)]
    scale = scale_of([(j.line.runs[0].span, j.value) for j in read])
    dots = dots_of(text.runs)
    found = [_offer(j, doubts_of(j, text, dots, scale, unit)) for j in _best_of(read)]
    return tuple(sorted(found, key=lambda o: (round(o.place[1], 2), o.place[0])))


def unread(text: SheetText, ledger: Ledger, offered: Sequence[Offer]) -> tuple[Offer, ...]:
    """Lines with figures in them that read as nothing: shown for review, never offered."""
    found = []
    for run in text.runs:
        line = line_of(run, ledger.length_unit)
        note = line.texts[0] or line.texts[1]
        figures = len(re.findall(r"\d", note)) / max(1, len(note.replace(" ", "")))
        enough = figures > 0.22 and min(len(t) for t in line.texts[:2]) > 1
        if (
            not enough
            or _ABOUT_THE_SHEET.search(note)
            or _is_outside(line.box, text)
            or any(_lies_in(line.place, o.place) > 0.3 for o in offered)
        ):
            continue
        if meaning(note, ledger) is None:
            found.append(Offer(note=note, place=line.place, turned=run.turned, readings=line.texts, doubts=(_NO_SIZE,)))
    return tuple(found)


#: What speaks of the sheet or of a view, and no size.
_ABOUT_THE_SHEET = re.compile(r"\b(scale|sheet|rev|date|drawn|iso|din|section|detail|view)\b", re.IGNORECASE)
_NO_SIZE = Doubt("does not read as a size", 9.0)


def _lies_in(box: Box, other: Box) -> float:
    """Share of a box that lies in another."""
    across, down = min(box[2], other[2]) - max(box[0], other[0]), min(box[3], other[3]) - max(box[1], other[1])
    area = (box[2] - box[0]) * (box[3] - box[1])
    return across * down / area if across > 0 and down > 0 and area > 0 else 0.0


def _best_of(read: Sequence[Judged]) -> list[Judged]:
    """One note a place: what the second finder saw whole stands for the bits that were found of it by their ink."""
    wide = [j for j in read if j.line.runs[0].found == "net"]
    kept: list[Judged] = []
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


# --- one note
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


def _read(line: Line, lines: Sequence[Line], ledger: Ledger) -> list[Judged]:
    """A note judged; lines that read as nothing together, each by itself."""
    together = _judged(line, lines, ledger)
    if together is not None:
        return [together]
    apart = [line_of(run, ledger.length_unit) for run in line.runs] if len(line.runs) > 1 else []
    return [j for one in apart if (j := _judged(one, [*lines, *apart], ledger)) is not None]


def _judged(line: Line, lines: Sequence[Line], ledger: Ledger) -> Judged | None:
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
        key=lambda c: (votes[c[1]], not is_sum(c[0]), _signs_alike(c[0], line.glyphs)),
    )
    if re.fullmatch(r"\d+:1|(\d+)/\1", note) or (_is_bare_bit(note) and not _is_over_line(line, note)):
        return None  # a view's scale, a sheet's count, a bit of a line
    reading = reads(note, ledger)
    assert reading is not None
    first = reading.main
    value = first.nominal if reading.shape in ("length", "diameter") and first.kind in ("length", "diameter") else 0.0
    return Judged(line, note, keys, best, value, has_neighbour(line, lines))


def _signs_alike(note: str, glyphs: Sequence[Glyph]) -> int:
    """How many of the signs told by shape a note has the right number of times."""
    shapes = [g.sign for g in glyphs]
    return sum(note.count(sign) == shapes.count(sign) for sign in "Ø±↧⌴⌵□")


def _is_bare_bit(note: str) -> bool:
    """A digit or two that may be a bit of an arc or a view's letter: a size only over a dimension line."""
    return bool(re.fullmatch(r"\d|\d{1,2}1|1+|[.,]?\d", note))


def _is_over_line(line: Line, note: str) -> bool:
    """Whether a bare figure stands over a dimension line and all read it alike; strokes only where the line's length is
    known.
    """
    run = line.runs[0]
    alike = all(re.sub(r"\W", "", t) == re.sub(r"\W", "", note) for t in line.texts[:3])
    return alike and (run.span > 0 or (run.under >= 0.7 and not re.search("[17]", note)))


def _offer(judged: Judged, doubts: Sequence[Doubt]) -> Offer:
    line = judged.line
    return Offer(
        note=judged.note,
        place=line.place,
        turned=line.runs[0].turned,
        readings=tuple(dict.fromkeys(t for t in line.texts if t)),
        doubts=tuple(doubts),
    )
