"""A sheet read: made even and straight, its writing found, every line read three times, and what stands around it."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import NamedTuple

import cv2
import msgspec
import numpy as np

from ...arrays import Floats
from . import alphabet, fields, guards, ink, leaders, lettering, shapes
from .detecting import Detector
from .engines import NOTHING, SECOND_LOOK, Model, Tesseract
from .finding import Cleared, Found, cleared, crop, found_runs
from .ink import Gray
from .model import Box, Run, Said, SheetText, Step

#: Dots an inch at which sheets are read: more brings nothing, 150 is nearly as good.
DOTS = 200.0
#: So many lines of writing are read of one sheet; a sheet with more is a page of text.
MOST_RUNS = 400
Tell = Callable[[Step], object]


class Readers(NamedTuple):
    """The recognisers, loaded once a process."""

    model: Model
    second: Tesseract

    @classmethod
    def load(cls, threads: int = 2) -> Readers:
        return cls(Model(threads), Tesseract())


class Prepared(NamedTuple):
    """A sheet ready to be read: even paper, ink, its lines and the rest, and the 3x3 from the sheet's pixels to it."""

    even: Gray
    ink: Gray
    parts: Cleared
    mm: float
    matrix: Floats
    angle: float
    size: tuple[int, int]

    def placed(self, box: tuple[float, float, float, float]) -> Box:
        """A box of the straightened picture as fractions of the sheet."""
        x0, y0, x1, y1 = box
        corners = np.array([[x0, y0, 1], [x1, y0, 1], [x1, y1, 1], [x0, y1, 1]], float).T
        back = np.linalg.inv(self.matrix) @ corners
        xs, ys = back[0] / back[2] / self.size[0], back[1] / back[2] / self.size[1]
        return tuple(float(np.clip(v, 0, 1)) for v in (xs.min(), ys.min(), xs.max(), ys.max()))  # type: ignore[return-value]


def prepared(gray: Gray, dots: float) -> Prepared:
    """``gray`` at ``dots`` an inch; larger ones are brought down to :data:`DOTS`."""
    size = (gray.shape[1], gray.shape[0])
    matrix = np.eye(3)
    if dots > 1.2 * DOTS:
        k = DOTS / dots
        gray, dots = cv2.resize(gray, None, fx=k, fy=k, interpolation=cv2.INTER_AREA), DOTS
        matrix = np.diag([k, k, 1.0])
    mm = dots / 25.4
    even = ink.evened(gray)
    black = ink.ink_of(even)
    angle = ink.skew_of(black, mm)
    if abs(angle) > 0.08:
        even, turn = ink.rotated(even, angle)
        black = ink.ink_of(even)
        matrix = turn @ matrix
    else:
        angle = 0.0
    return Prepared(even, black, cleared(black, mm), mm, matrix, angle, size)


def read(gray: Gray, dots: float, readers: Readers, tell: Tell = lambda _: None) -> tuple[SheetText, Prepared]:
    """Everything that was found by its ink, and the sheet as it was prepared, for :func:`read_crossed`."""
    tell(Step("making the paper even", 0, 1))
    sheet = prepared(gray, dots)
    tell(Step("looking for writing", 0, 1))
    found = found_runs(sheet.parts.rest, sheet.mm)
    lines = fields.ruled(sheet.ink, sheet.mm)
    inside = fields.frame_of(lines, sheet.mm)
    wanted = _wanted(sheet, found, inside)[:MOST_RUNS]
    runs = _read_runs(sheet, wanted, readers, tell)
    runs = _borne_out(runs, [leaders.without_leader(crop(sheet.even, f)) for f in wanted])
    measured = [f for f, r in zip(wanted, runs, strict=True) if r.span > 0]
    high, wide = sheet.ink.shape
    text = SheetText(
        runs=tuple(runs),
        size=(wide / sheet.mm, high / sheet.mm),
        dots=sheet.mm * 25.4,
        angle=sheet.angle,
        blur=ink.edge_width(sheet.even, sheet.mm),
        unlike=lettering.unlike([(crop(sheet.even, f), r) for f, r in zip(wanted, runs, strict=True)]),
        inside=inside,
        tables=fields.tables(lines, found, measured, sheet.mm),
        is_whole=False,
    )
    return text, sheet


def _borne_out(runs: list[Run], lines: Sequence[Gray]) -> list[Run]:
    """The runs, told which of them the sheet's own lettering speaks for."""
    numbers = [bool(_MAY_BE_NUMBER.search(r.plain.text)) for r in runs]
    own = [alphabet.letters(line) if n else [] for line, n in zip(lines, numbers, strict=True)]
    known = alphabet.alphabet(list(zip(own, runs, strict=True)))
    return [
        msgspec.structs.replace(r, borne_out=alphabet.borne_out(o, r, known)) for r, o in zip(runs, own, strict=True)
    ]


def _wanted(sheet: Prepared, found: Sequence[Found], inside: Box) -> list[Found]:
    """What may be a size: inside the frame and in no balloon."""
    rings = fields.balloons(sheet.ink, sheet.mm)
    some = [f for f in found if f.right - f.left > 3 and f.bottom - f.top > 3 and _is_in(f, inside, sheet.mm)]
    return [f for f in some if not fields.is_ringed(sheet.ink, rings, f, sheet.mm)]


def _is_in(run: Found, inside: Box, mm: float) -> bool:
    x, y = (run.left + run.right) / 2 / mm, (run.top + run.bottom) / 2 / mm
    return inside[0] < x < inside[2] and inside[1] < y < inside[3]


def read_crossed(text: SheetText, sheet: Prepared, net: Detector, readers: Readers, tell: Tell) -> SheetText:
    """The same with the writing that only the second finder sees."""
    found: list[Found] = []
    for n, turned in enumerate((False, True)):
        tell(Step("looking for writing under lines", n, 2))
        found += net.lines(sheet.even, sheet.mm, turned)
    new = [f for f in _wanted(sheet, found, text.inside) if not _is_known(f, text.runs, sheet.mm)]
    runs = _read_runs(sheet, new[:MOST_RUNS], readers, tell, "net")
    return _with(text, runs)


def _with(text: SheetText, runs: Sequence[Run]) -> SheetText:
    return msgspec.structs.replace(text, runs=(*text.runs, *runs), is_whole=True)


def _is_known(line: Found, runs: Sequence[Run], mm: float) -> bool:
    """Whether a run found by its ink covers the line along its whole length."""
    low, high = (line.top, line.bottom) if line.turned else (line.left, line.right)
    inset = 0.1 * (high - low)
    for run in runs:
        a = tuple(v * mm for v in run.box)
        along = (a[1], a[3]) if run.turned else (a[0], a[2])
        across = (a[0], a[2]) if run.turned else (a[1], a[3])
        middle = (line.left + line.right) / 2 if line.turned else (line.top + line.bottom) / 2
        same = run.turned == line.turned and across[0] < middle < across[1]
        if same and along[0] <= low + inset and along[1] >= high - inset:
            return True
    return False


_MAY_BE_NUMBER = re.compile(r"[0-9OoIl|@]")


def _read_runs(sheet: Prepared, wanted: Sequence[Found], readers: Readers, tell: Tell, how: str = "ink") -> list[Run]:
    """Each line read: by the model with lines painted out and as it is, and by Tesseract; then its surroundings."""
    clean = sheet.even.copy()
    near = cv2.dilate(sheet.parts.rest, np.ones((3, 3), np.uint8))
    clean[(sheet.parts.lines > 0) & (near == 0)] = 255
    without, with_lines = [crop(clean, f) for f in wanted], [crop(sheet.even, f) for f in wanted]
    of = 3 * len(wanted)
    bare = [leaders.without_leader(line) for line in without]
    first = readers.model.read(bare, lambda n: tell(Step("reading", n, of)))
    worth = [i for i, said in enumerate(first) if _MAY_BE_NUMBER.search(said.text) or not said.text]
    third = [NOTHING] * len(wanted)
    again = readers.model.read([with_lines[i] for i in worth], lambda n: tell(Step("reading", len(wanted) + n, of)))
    second = [NOTHING] * len(wanted)
    other = readers.second.read([bare[i] for i in worth], lambda n: tell(Step("reading", 2 * len(wanted) + n, of)))
    for i, a, b in zip(worth, again, other, strict=True):
        third[i], second[i] = a, b
    look = [NOTHING] * len(wanted)
    doubted = [i for i in worth if _bare(first[i].text) and _bare(first[i].text) != _bare(second[i].text)]
    looked = readers.second.read([bare[i] for i in doubted], high=SECOND_LOOK)
    for i, said in zip(doubted, looked, strict=True):
        look[i] = said
    apart = guards.taken_apart(sheet.even, sheet.ink, sheet.parts, sheet.mm)
    return [
        _run(sheet, apart, f, bare[i], (first[i], third[i], second[i], look[i]), i in set(worth), how)
        for i, f in enumerate(wanted)
    ]


def _bare(text: str) -> str:
    """What two recognisers should agree on: a Ø, which only one of them knows, apart."""
    return re.sub(r"[^0-9A-Za-z.,]", "", re.sub(r"(?<![0-9.,])[0ØO@](?=[0-9.,])", "", text))


def _run(
    sheet: Prepared,
    apart: guards.Sheet,
    found: Found,
    line: Gray,
    said: tuple[Said, Said, Said, Said],
    worth: bool,
    how: str,
) -> Run:
    box = found.left, found.top, found.right, found.bottom
    seen = guards.around(apart, found)
    return Run(
        place=sheet.placed(box),
        box=tuple(v / sheet.mm for v in box),  # type: ignore[arg-type]
        turned=found.turned,
        height=found.height,
        plain=said[0],
        as_is=said[1],
        second=said[2],
        look=said[3],
        glyphs=shapes.glyphs(line) if worth else (),
        under=seen.under,
        span=seen.span,
        loose=seen.loose,
        led=leaders.is_led(apart.faint, found, sheet.mm),
        crossed=seen.crossed,
        found="net" if how == "net" else "ink",
    )
