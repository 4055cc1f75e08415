"""What can be read off a drawing as callouts. Everything here is an offer; nothing is taken by itself."""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Iterator
from typing import Any, NamedTuple

from ezdxf.tools.text import plain_mtext

from ..callout import Ledger, NoteError, Reading
from ..quantity.quantity import LENGTH_UNITS
from .dxf import DxfPaper
from .paper import Paper, Word


class Proposal(NamedTuple):
    """``note`` as it would be typed, its place as fractions of the sheet, and where it came from in words."""

    note: str
    sheet: int
    x: float
    y: float
    source: str


def proposals(paper: Paper, sheet: int, ledger: Ledger) -> tuple[Proposal, ...]:
    """Dimensions and notes of a sheet that read as callouts, from the top left to the bottom right."""
    found = list(_dimensions(paper, ledger)) if isinstance(paper, DxfPaper) and sheet == 1 else []
    taken = {(round(p.x, 3), round(p.y, 3)) for p in found}
    for word in joined(paper.words(sheet), ledger):
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
    drawn = {25.4: "inches", 304.8: "feet", 1.0: "millimetres", 10.0: "centimetres", 1000.0: "metres"}[scale]
    reads = "inches" if unit == "in" else "millimetres"
    return f"This drawing is in {drawn}, but the job reads {reads}. Set Drawing units in the title block first."


def near(paper: Paper, sheet: int, x: float, y: float, ledger: Ledger) -> str:
    """The text nearest to a place, as it would be typed; empty when there is none within a thumb's width."""
    if unit_clash(paper, ledger.length_unit):
        return ""
    best, far = "", 0.03
    for word in joined(paper.words(sheet), ledger):
        dx = max(word.left - x, 0.0, x - word.right)
        dy = max(word.top - y, 0.0, y - word.bottom)
        away = math.hypot(dx, dy)
        if away < far:
            best, far = cleaned(word.text), away
    return best


def cleaned(text: str) -> str:
    """Drawing text as notation: control codes become symbols, lines stay lines."""
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
    return re.sub(r"[ \t]+", " ", text).strip()


#: Dates and the drawing's own scale.
_NO_SIZE = re.compile(r"\d{4}-\d\d-\d\d|\d{1,2}/\d{1,2}/\d{2,4}|\d+:\d+")


def reads(note: str, ledger: Ledger) -> Reading | None:
    """The reading of a text that is a callout; None for other text and for bare whole numbers of a title block."""
    if (
        not re.search(r"\d", note)
        or "#" in note
        or re.fullmatch(r"\d{4}-\d\d-\d\d|\d{1,2}/\d{1,2}/\d{2,4}|1:\d+", note)
    ):
        return None  # no size: a reference, a date, the drawing's scale
    try:
        return ledger.try_note(note)
    except NoteError:
        return None


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


# --- DXF dimensions
def _dimensions(paper: DxfPaper, ledger: Ledger) -> Iterator[Proposal]:
    for entity in paper.space.query("DIMENSION"):
        try:
            note = cleaned(dimension_note(entity))
            at = entity.dxf.get("text_midpoint") or entity.dxf.defpoint
        except Exception:  # a damaged dimension is not offered; its lines still show
            continue
        if math.isfinite(at.x) and math.isfinite(at.y) and reads(note, ledger) is not None:
            x, y = paper.place(at.x, at.y)
            yield Proposal(note, 1, x, y, "dimension of the DXF")


def dimension_note(entity: Any) -> str:
    """A DIMENSION entity as notation: prefix by its kind, decimals and tolerance by its style, its own text if any."""
    style = entity.override()
    kind = entity.dxf.dimtype & 7
    value = _measured(entity, kind) * (1.0 if kind in (2, 5) else float(style.get("dimlfac", 1.0) or 1.0))
    decimals = int(style.get("dimadec" if kind in (2, 5) else "dimdec", 2))
    number = f"{value:.{max(0, min(decimals, 6))}f}"
    if "." in number and int(style.get("dimzin", 8)) & 8:
        number = number.rstrip("0").rstrip(".")
    number += "°" * (kind in (2, 5))
    said = str(plain_mtext(str(entity.dxf.get("text", "") or ""), split=False)).strip()
    if said and "<>" not in said:
        return said
    prefix = {3: "Ø", 4: "R"}.get(kind, "")
    post = str(style.get("dimpost", "") or "")
    if "<>" in post:
        before, _, after = post.partition("<>")
        number = before + number + after
        prefix = "" if re.search(r"[ØR]|%%c", before, re.IGNORECASE) else prefix
    else:
        number += post
    if said:
        before, _, after = said.partition("<>")
        prefix = "" if re.search(r"[ØR]|%%c", before, re.IGNORECASE) else prefix
        return f"{before}{prefix}{number}{_tolerance(style)}{after}"
    return prefix + number + _tolerance(style)


def _measured(entity: Any, kind: int) -> float:
    found = entity.get_measurement()
    value = float(found) if not hasattr(found, "x") else float(found.x)
    return abs(value)


def _tolerance(style: Any) -> str:
    if not int(style.get("dimtol", 0) or 0):
        return ""
    upper, lower = float(style.get("dimtp", 0.0) or 0.0), float(style.get("dimtm", 0.0) or 0.0)
    if abs(upper - lower) < 1e-12:
        return f" ±{upper:g}"
    return f" {upper:+g}/{-lower:+g}" if lower else f" {upper:+g}/0"
