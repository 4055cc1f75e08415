"""What can be read off a drawing as callouts. Everything here is an offer; nothing is taken by itself."""

from __future__ import annotations

import itertools
import math
import re
from typing import NamedTuple

from ..callout import Ledger, NoteError, Reading
from ..names import refers
from ..quantity.quantity import LENGTH_UNITS
from ..units import FOOT, INCH
from .attaching import with_signs
from .paper import Paper, Word

#: Where a callout came from that was read off a picture.
PICTURE = "read from the picture"


class Proposal(NamedTuple):
    """``note`` as it would be typed, its place as fractions of the sheet, and where it came from in words.

    What was read off a picture has its ``box`` on the sheet and, where it is not sure, its ``doubts``, with their
    ``weight``; ``is_size`` is whether it reads as a callout at all: what does not is shown for review only.
    """

    note: str
    sheet: int
    x: float
    y: float
    source: str
    doubts: tuple[str, ...] = ()
    weight: float = 0.0
    box: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    turned: bool = False
    is_size: bool = True

    @property
    def sure(self) -> bool:
        return not self.doubts


def proposals(paper: Paper, sheet: int, ledger: Ledger) -> tuple[Proposal, ...]:
    """Dimensions and notes of a sheet that read as callouts, from the top left to the bottom right."""
    stated = ((cleaned(note), x, y) for note, x, y in paper.dimensions(sheet))
    found = [Proposal(n, sheet, x, y, "dimension of the DXF") for n, x, y in stated if reads(n, ledger) is not None]
    taken = {(round(p.x, 3), round(p.y, 3)) for p in found}
    for word in notes_on(paper, paper.sizes(sheet), sheet, ledger):
        note, (x, y) = cleaned(word.text), word.middle
        near = any(abs(x - a) < 0.02 and abs(y - b) < 0.012 for a, b in taken)
        if not near and reads(note, ledger) is not None:
            found.append(Proposal(note, sheet, x, y, "text on the sheet"))
    return tuple(sorted(found, key=lambda p: (round(p.y, 2), p.x)))


def unit_clash(paper: Paper | None, unit: str) -> str:
    """Why sizes of a drawing must not be taken as they stand: it is drawn in another unit than the job reads."""
    scale = paper.natural_scale() if paper is not None else 0.0
    if not scale or abs(scale - LENGTH_UNITS[unit]) < 1e-9:
        return ""
    drawn = {INCH: "inches", FOOT: "feet", 1.0: "millimetres", 10.0: "centimetres", 1000.0: "metres"}[scale]
    reads = "inches" if unit == "in" else "millimetres"
    return f"This drawing is in {drawn}, but the job reads {reads}. Set Drawing units in the title block first."


def near(paper: Paper, sheet: int, x: float, y: float, ledger: Ledger) -> str:
    """The text nearest to a place, as it would be typed; empty when there is none within a thumb's width."""
    if unit_clash(paper, ledger.length_unit):
        return ""
    best, far = "", 0.03
    for word in notes_on(paper, paper.words(sheet), sheet, ledger):
        dx = max(word.left - x, 0.0, x - word.right)
        dy = max(word.top - y, 0.0, y - word.bottom)
        away = math.hypot(dx, dy)
        if away < far:
            best, far = cleaned(word.text), away
    return best


#: The number of an item in a list of notes: "2. Ra 1.6", which is no length of 2.
_ITEM = r"^\d{1,2}[.)] (?=√? ?Ra\b|[⏥⊥∥◎○↗∠⌖⌰⏤⌭⌯⌓]|[A-Za-z]{4})(?!(?i:deep|long|thru|wide|through)\b)"


def cleaned(text: str) -> str:
    """Drawing text as notation: control codes become symbols, lines stay lines, a list's numbers go."""
    for code, symbol in (
        ("%%c", "Ø"),
        ("%%C", "Ø"),
        ("%%d", "°"),
        ("%%D", "°"),
        ("%%p", "±"),
        ("%%P", "±"),
        ("–", "-"),
    ):
        text = text.replace(code, symbol)
    text = re.sub(r"[ \t]+", " ", text).strip()
    return re.sub(_ITEM, "", text)


#: Dates and the drawing's own scale.
_NO_SIZE = re.compile(r"\d{4}-\d\d-\d\d|\d{1,2}/\d{1,2}/\d{2,4}|\d+:\d+")


#: What says a datum's letter, without any figure.
_LETTER = re.compile(r"DATUM [A-Z]")


def reads(note: str, ledger: Ledger) -> Reading | None:
    """The reading of a text that is a callout; None for other text and for bare whole numbers of a title block."""
    if not (re.search(r"\d", note) or _LETTER.fullmatch(note)) or refers(note) or _NO_SIZE.fullmatch(note):
        return None  # no size: a reference, a date, the drawing's scale
    try:
        return ledger.try_note(note)
    except NoteError:
        return None


def notes_on(paper: Paper, words: tuple[Word, ...], sheet: int, ledger: Ledger) -> list[Word]:
    """The words of a sheet, those that are one note put together."""
    return with_signs(joined(words, ledger), lambda text: reads(cleaned(text), ledger), paper.size(sheet))


def joined(words: tuple[Word, ...], ledger: Ledger) -> list[Word]:
    """Lines that stand under each other and read as one note only together (hole notes) become one."""
    found, at = [], 0
    while at < len(words):
        word = words[at]
        for more in (3, 2):
            group = words[at : at + more]
            if len(group) == more and _stacked(group):
                text = "\n".join(w.text for w in group)
                together = reads(cleaned(text), ledger)
                if together is not None and together.is_hole:
                    word = Word(
                        text, min(w.left for w in group), group[0].top, max(w.right for w in group), group[-1].bottom
                    )
                    at += more - 1
                    break
        found.append(word)
        at += 1
    return found


def _stacked(group: tuple[Word, ...]) -> bool:
    """Whether runs follow each other down the sheet, flush left, no further apart than a line."""
    for a, b in itertools.pairwise(group):
        height = max(a.bottom - a.top, 1e-6)
        if abs(a.left - b.left) > 2 * height or not 0 < b.top - a.top < 2.5 * height:
            return False
    return True
