"""How well pictures of made-up sheets are read, by what was done to them, and what it takes against bare
recognition.
"""

from __future__ import annotations

import contextlib
import io
import sys
import time
from collections import Counter
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import lru_cache
from typing import NamedTuple

import cv2
import numpy as np
import pypdfium2
from trials.drawn import Note
from trials.office import Made, made
from trials.worsened import KINDS, worsened

from lathed_solid.core.arrays import Floats
from lathed_solid.core.callout import Ledger
from lathed_solid.core.drawing.scan import judging, needs, straight
from lathed_solid.core.drawing.scan.detecting import Detector
from lathed_solid.core.drawing.scan.finding import crop, found_runs
from lathed_solid.core.drawing.scan.ink import Gray
from lathed_solid.core.drawing.scan.model import SheetText
from lathed_solid.core.drawing.scan.reading import Readers, read, read_crossed

from .row import Row

DOTS = 200


def picture(sheet: Made, dots: int = DOTS) -> Gray:
    page = pypdfium2.PdfDocument(sheet.pdf)[0]
    return np.array(page.render(scale=dots / 72).to_pil().convert("L"))


class Sheet(NamedTuple):
    """What was read off a sheet, and the 3x3 from mm of the clean sheet to fractions of the picture as read."""

    text: SheetText
    matrix: Floats
    seconds: float


def read_one(sheet: Made, seed: int, kind: str, readers: Readers, net: Detector | None) -> Sheet | None:
    """A sheet worsened and read; None where a photograph's sheet was not found."""
    clean = picture(sheet)
    gray, matrix = worsened(clean, kind, DOTS, seed, sheet.notes)
    matrix = matrix @ np.diag([DOTS / 25.4, DOTS / 25.4, 1])
    into = np.diag([1 / gray.shape[1], 1 / gray.shape[0], 1]) @ matrix
    if kind == "photo":
        corners = straight.corners_of(gray)
        if corners is None:
            return None
        flat = straight.straightened(gray, corners, sheet.size)
        gray, into = flat.gray, flat.matrix @ into
    start = time.perf_counter()
    text, prepared = read(gray, DOTS, readers)
    if net is not None:
        text = read_crossed(text, prepared, net, readers, lambda _: None)
    return Sheet(text, into, time.perf_counter() - start)


def _seen(box: tuple[float, float, float, float], matrix: Floats) -> tuple[float, float, float, float]:
    x0, y0, x1, y1 = box
    p = matrix @ np.array([[x0, y0, 1], [x1, y0, 1], [x1, y1, 1], [x0, y1, 1]], float).T
    xs, ys = p[0] / p[2], p[1] / p[2]
    return float(xs.min()), float(ys.min()), float(xs.max()), float(ys.max())


def _shared(a: tuple[float, ...], b: tuple[float, ...]) -> float:
    across, down = min(a[2], b[2]) - max(a[0], b[0]), min(a[3], b[3]) - max(a[1], b[1])
    return across * down / ((a[2] - a[0]) * (a[3] - a[1])) if across > 0 and down > 0 else 0.0


def _lies_on(place: tuple[float, float, float, float], note: Note, matrix: Floats) -> bool:
    boxes = [_seen(b, matrix) for b in note.boxes]
    whole = min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes)
    return _shared(whole, place) > 0.25 or _shared(place, whole) > 0.6


def rated(sheet: Made, got: Sheet, tell: bool) -> Iterator[str]:
    """One word for every note and every false offer; notes count as right by what the program makes of them."""
    ledger = Ledger((), sheet.unit)
    offers = judging.offers(got.text, ledger)
    used: set[int] = set()
    stands = [[i for i, o in enumerate(offers) if _lies_on(o.place, note, got.matrix)] for note in sheet.notes]
    meant = [judging.meaning(n.text, ledger) for n in sheet.notes]
    # An offer that leans over a second note is right for the first.
    said = [judging.meaning(o.note, ledger) for o in offers]
    placed = {i for want, at in zip(meant, stands, strict=True) for i in at if said[i] == want}
    for note, want, at in zip(sheet.notes, meant, stands, strict=True):
        near = [(i, offers[i]) for i in at if i not in placed or said[i] == want]
        used |= {i for i, _ in near}
        right = [o for _, o in near if judging.meaning(o.note, ledger) == want]
        yield "note"
        yield "right" if right else "wrong" if near else "missed"
        for o in (o for _, o in near):
            ok = judging.meaning(o.note, ledger) == want
            yield ("sure" if ok else "SURE AND WRONG") if o.sure else "look"
            if tell and o.sure and not ok:
                print(f"  SURE AND WRONG {note.text!r} read {o.note!r} {o.readings}", flush=True)
        if tell and not right:
            print(
                f"  {'wrong' if near else 'missed'} {note.text!r}: {[(o.note, o.readings) for _, o in near]}",
                flush=True,
            )
    for i, o in enumerate(offers):
        if i not in used:
            yield "false sure" if o.sure else "false"
            if tell:
                print(
                    f"  false{' SURE' if o.sure else ''} {o.note!r} {o.readings} at {[round(v, 3) for v in o.place]}",
                    flush=True,
                )


@lru_cache(maxsize=1)
def _loaded(second: bool) -> tuple[Readers, Detector | None]:
    """Once a process; each on one core, for two run beside each other."""
    cv2.setNumThreads(1)
    return Readers.load(1), Detector(1) if second else None


def _one(task: tuple[int, str, bool, bool]) -> tuple[Counter[str], float, str]:
    seed, kind, second, tell = task
    sheet, told = made(seed), io.StringIO()
    got = read_one(sheet, seed, kind, *_loaded(second))
    if got is None:
        return Counter({"note": len(sheet.notes), "missed": len(sheet.notes), "no sheet": 1}), 0.0, ""
    with contextlib.redirect_stdout(told):
        found = Counter(rated(sheet, got, tell))
    head = f"{kind} {seed} {sheet.face} {sheet.unit} blur {got.text.blur:.2f} unlike {got.text.unlike:.3f}\n"
    return found, got.seconds, head + told.getvalue() if told.getvalue() else ""


def rates(kinds: Sequence[str], seeds: Sequence[int], second: bool, tell: bool = False) -> dict[str, Counter[str]]:
    """Sheets read by two processes beside each other; what they came to, by what was done to them."""
    every: dict[str, Counter[str]] = {}
    with ProcessPoolExecutor(2) as pool:
        for kind in kinds:
            counted: Counter[str] = Counter()
            seconds = 0.0
            for found, took, told in pool.map(_one, [(s, kind, second, tell) for s in seeds]):
                counted.update(found)
                seconds += took
                print(told, end="", flush=True)
            every[kind] = counted
            print(_line(kind, counted, len(seeds), seconds), file=sys.stderr, flush=True)
    return every


def cost(sheet: Made) -> tuple[float, float]:
    """Seconds to read a sheet, and those of bare recognition of its crops as often as each is read, in this process."""
    readers = Readers.load()
    gray = picture(sheet)
    text, prepared = read(gray, DOTS, readers)
    found = [f for f in found_runs(prepared.parts.rest, prepared.mm) if f.right - f.left > 3 and f.bottom - f.top > 3]
    lines = [crop(prepared.even, f) for f in found[: len(text.runs)]]
    start = time.perf_counter()
    read(gray, DOTS, readers)
    ours = time.perf_counter() - start
    start = time.perf_counter()
    readers.model.read(lines)
    readers.model.read(lines)
    readers.second.read(lines)
    return ours, time.perf_counter() - start


def run() -> list[Row]:
    """A few sheets of each kind; ``python -m bench.read KIND FIRST-LAST`` reads as many as wanted."""
    if needs.missing():
        raise RuntimeError("reading pictures is not set up here: ./start --pictures")
    rows = []
    for kind, c in rates(KINDS, range(200, 206), True).items():
        n = max(1, c["note"])
        rows += [
            Row(f"{kind}: notes offered right", 100 * c["right"] / n, 100.0, c["right"] / n, "%"),
            Row(f"{kind}: sure", 100 * c["sure"] / n, 100.0, c["sure"] / n, "%"),
            Row(f"{kind}: sure and wrong", float(c["SURE AND WRONG"]), 0.0, 0.0, ""),
        ]
    ours, bare = cost(made(1))
    return [*rows, Row("A3 read, and its crops barely recognised", ours, bare, ours / bare, "s")]


def _line(kind: str, c: Counter[str], sheets: int, seconds: float) -> str:
    n = max(1, c["note"])
    share = {k: f"{100 * c[k] / n:5.1f} %" for k in ("right", "wrong", "missed", "sure")}
    return (
        f"{kind:8s} {n:5d} notes: right {share['right']}, wrong {share['wrong']}, missed {share['missed']}; sure "
        f"{share['sure']}, sure and wrong {c['SURE AND WRONG']}; false {c['false'] / sheets:.2f} a sheet, sure "
        f"{c['false sure'] / sheets:.2f}; {seconds / sheets:.1f} s a sheet"
    )


if __name__ == "__main__":
    if needs.missing():
        sys.exit("Reading pictures is not set up here: ./start --pictures")
    first, last = (int(v) for v in (sys.argv[2] if len(sys.argv) > 2 else "0-20").split("-"))
    named = sys.argv[1].split(",") if len(sys.argv) > 1 and sys.argv[1] != "all" else KINDS
    rates(named, range(first, last), "ink" not in sys.argv[3:], "tell" in sys.argv[3:])
