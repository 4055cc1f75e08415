"""The lines of one note taken together, and the writing that stands beside or under it and is another's."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from .model import Box, Glyph, Run, Said
from .repairing import plain, repaired


class Line(NamedTuple):
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


def joined(runs: Sequence[Run], unit: str) -> list[Line]:
    """Runs as notes: a line that begins with a seat, or goes on with a diameter or a place, belongs to the one
    above.
    """
    lines = [line_of(r, unit) for r in runs]
    used: set[int] = set()
    found: list[Line] = []
    for k, upper in enumerate(lines):
        for m, lower in enumerate(lines):
            if k != m and not {k, m} & used and _goes_on(upper, lower):
                found.append(_together(upper, lower))
                used |= {k, m}
    found += [line for k, line in enumerate(lines) if k not in used]
    return found


def line_of(run: Run, unit: str) -> Line:
    first, again, second, look = (
        repaired(s.text, unit, run.glyphs) for s in (run.plain, run.as_is, run.second, run.look)
    )
    if look and second.replace(" ", "") != first.replace(" ", "") == look.replace(" ", ""):
        return Line((run,), (first, again, look), (run.plain, run.as_is, run.look), run.glyphs)
    return Line((run,), (first, again, second), (run.plain, run.as_is, run.second), run.glyphs)


def _goes_on(upper: Line, lower: Line) -> bool:
    a, b = upper.runs[0], lower.runs[0]
    if a.turned or b.turned:
        return False
    down, right, h = b.box[1] - a.box[1], b.box[0] - a.box[0], a.height
    if not 0 < down < 2.6 * h or not -2.8 * h < right < 3.2 * h:
        return False
    if not re.search(r"\d", upper.texts[0] + upper.texts[1]):
        return False  # a scrap is no note
    if b.led and not _is_shaped_seat(lower) and (a.led or plain(lower.raw[0].text)[:1] in ("-", "_", "~")):
        return False  # it has a leader of its own
    if _has_seat(lower):
        return True
    if b.span > 0:
        return False  # it stands over a dimension line
    hole = "THRU" in upper.texts[0] or "↧" in upper.texts[0]
    more = re.match(r"Ø|ON Ø|on Ø|EQ|eq|(first|FIRST) at", lower.texts[0])
    return bool(hole and more and re.search(r"Ø|M\d", upper.texts[0]))


def _has_seat(line: Line) -> bool:
    """Whether a line begins with the sign of a seat: by its shape, or read so twice."""
    return _is_shaped_seat(line) or sum(t[:1] in ("⌴", "⌵") for t in line.texts) > 1


def _is_shaped_seat(line: Line) -> bool:
    return bool(line.glyphs) and line.glyphs[0].sign in ("⌴", "⌵")


def _together(upper: Line, lower: Line) -> Line:
    seat = next((s for s in "⌴⌵" if any(t.startswith(s) for t in lower.texts)), "") if _has_seat(lower) else ""
    texts = []
    for a, b in zip(upper.texts, lower.texts, strict=True):
        texts.append(a + "\n" + (b if b[:1] in ("⌴", "⌵") or not seat else f"{seat} {b}"))
    raw = tuple(Said(a.text + "\n" + b.text, min(a.least, b.least)) for a, b in zip(upper.raw, lower.raw, strict=True))
    return Line(upper.runs + lower.runs, tuple(texts), raw, upper.glyphs + lower.glyphs)


# --- neighbours
def has_neighbour(line: Line, lines: Sequence[Line]) -> bool:
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


def _are_two(upper: Line, lower: Line) -> bool:
    """Whether each of two notes has a leader or a dimension line of its own: then they are two, however close. What may
    be the seat of a hole above it stays with it.
    """
    if not all(any(r.led or r.span > 0 for r in line.runs) for line in (upper, lower)):
        return False
    hole = any(re.search(r"THRU|DEEP|deep|↧|M\d|Ø", t) for t in upper.texts)
    seat = any(re.search(r"(^|\n)([⌴⌵]|\D{0,3}Ø)", t) for t in lower.texts)
    return not _is_shaped_seat(lower) and (lower.runs[0].led or not (hole and seat))


def _is_writing(line: Line) -> bool:
    """Whether a run is writing, and no bit of a line that is read now so, now so."""
    first, again = (re.sub(r"[^0-9A-Za-zØ°]", "", plain(s.text)) for s in line.raw[:2])
    return bool(first) and (first == again or len(first) > 2)


def _is_beside(line: Line, other: Line) -> bool:
    a, b, h = line.box, other.box, line.runs[0].height
    lo, hi = (1, 3) if line.runs[0].turned else (0, 2)
    lo2, hi2 = 1 - lo, 5 - hi
    gap = max(b[lo] - a[hi], a[lo] - b[hi])
    shared = min(b[hi2], a[hi2]) - max(b[lo2], a[lo2])
    return gap < 1.6 * h and shared > 0.4 * h


def _is_stacked(line: Line, other: Line) -> bool:
    run, h = line.runs[0], line.runs[0].height
    across, down = (1, 0) if run.turned else (0, 1)
    apart = abs(other.box[down] - line.box[down])
    overlap = min(other.box[across + 2], line.box[across + 2]) - max(other.box[across], line.box[across])
    return 0.5 * h < apart < 2.3 * h and overlap > 0 and len(other.raw[0].text) > 2
