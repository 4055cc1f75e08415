"""Pictures of made-up sheets read: what is right, what is sure, where it stands; photographs laid flat; outlines."""

from __future__ import annotations

import io
import itertools

import cv2
import numpy as np
import pytest
from bench.read import DOTS, picture, rated, read_one
from PIL import Image
from trials.drawn import lacking
from trials.office import made
from trials.worsened import worsened

from lathed_solid.core.drawing.opening import open_paper
from lathed_solid.core.drawing.paper import CannotRead
from lathed_solid.core.drawing.scan import linework, straight, work
from lathed_solid.core.drawing.scan.detecting import Detector
from lathed_solid.core.drawing.scan.ink import evened, ink_of, skew_of
from lathed_solid.core.drawing.scan.offering import looks_lettered_by_hand
from lathed_solid.core.drawing.scan.reading import Readers, read
from lathed_solid.core.drawing.scan.seen import guessed_dots, seen

MM = DOTS / 25.4
pytestmark = pytest.mark.skipif(bool(lacking()), reason=f"lettering that offices use is not installed: {lacking()}")


@pytest.fixture(scope="module")
def readers():
    return Readers.load()


def png(gray, **more) -> bytes:
    out = io.BytesIO()
    Image.fromarray(gray).save(out, "PNG", **more)
    return out.getvalue()


@pytest.mark.parametrize(("kind", "seed"), [("clean", 1), ("scan", 6), ("photo", 2), ("skew", 8)])
def test_nearly_all_notes_are_offered_right_and_none_that_is_sure_is_wrong(readers, kind, seed):
    words = list(rated(made(seed), read_one(made(seed), seed, kind, readers, None), True))
    notes = words.count("note")
    assert notes >= 10 and words.count("right") >= 0.9 * notes, words
    assert words.count("sure") >= 0.6 * notes
    assert not {"SURE AND WRONG", "false sure"} & set(words)


def test_writing_that_lines_cross_is_found_by_the_second_finder_and_never_sure(readers):
    sheet = made(5)
    without, both = (
        list(rated(sheet, read_one(sheet, 5, "crossed", readers, net), True)) for net in (None, Detector())
    )
    assert both.count("right") > without.count("right") and both.count("right") >= 0.8 * both.count("note")
    assert not {"SURE AND WRONG", "false sure"} & set(both)


def test_lettering_by_hand_is_told_apart_from_print(readers):
    for by_hand, kind in ((True, "by hand"), (False, "scan")):
        sheet = made(2, by_hand)
        text, _ = read(worsened(picture(sheet), kind, DOTS, 2).gray, DOTS, readers)
        assert looks_lettered_by_hand(text) is by_hand


def test_skew_is_found_to_a_twentieth_of_a_degree():
    clean = picture(made(3))
    for angle in (-2.5, 0.4, 1.7):
        turned = cv2.warpAffine(
            clean, cv2.getRotationMatrix2D((clean.shape[1] / 2, clean.shape[0] / 2), angle, 0.95), clean.shape[::-1],
            borderValue=255,
        )  # fmt: skip
        assert skew_of(ink_of(evened(turned)), MM) == pytest.approx(-angle, abs=0.05)


def test_dots_are_the_files_own_word_or_worked_out_from_the_lettering():
    gray = picture(made(1))
    assert seen(open_paper(png(gray, dpi=(200, 200)), "a.png"), 1)[1:] == (pytest.approx(200, abs=0.1), True)
    screen = seen(open_paper(png(gray, dpi=(72, 72)), "a.png"), 1)
    assert not screen.told and 140 < screen.dots < 260
    assert guessed_dots(np.full((400, 400), 255, np.uint8)) == 200


def test_a_sheet_that_lies_on_its_side_is_read_as_it_is_looked_at(readers):
    gray = picture(made(1))
    paper = open_paper(png(np.rot90(gray), dpi=(200, 200)), "side.png")
    upright, *_ = work.read_sheet(open_paper(png(gray, dpi=(200, 200)), "up.png"), 1, 0, False, lambda _: None)
    turned, *_ = work.read_sheet(paper, 1, 1, False, lambda _: None)
    assert [r.plain.text for r in turned.runs] == [r.plain.text for r in upright.runs]
    for a, b in zip(turned.runs, upright.runs, strict=True):  # the same place on the sheet as it lies
        x0, y0, x1, y1 = b.place
        assert a.place == pytest.approx((y0, 1 - x1, y1, 1 - x0), abs=2e-3)


# --- photographs
@pytest.mark.parametrize("seed", [2, 3, 9])
def test_a_photographed_sheet_is_laid_flat(seed):
    sheet = made(seed)
    clean = picture(sheet)
    gray, matrix = worsened(clean, "photo", DOTS, seed)
    corners = straight.corners_of(gray)
    assert corners is not None
    flat = straight.straightened(gray, corners, sheet.size)
    into = np.diag([flat.gray.shape[1], flat.gray.shape[0], 1.0]) @ flat.matrix
    into = into @ np.diag([1 / gray.shape[1], 1 / gray.shape[0], 1.0]) @ matrix
    wide, high = clean.shape[::-1]
    places = np.array(
        [(x * wide, y * high, 1) for x in np.linspace(0.05, 0.95, 7) for y in np.linspace(0.05, 0.95, 5)]
    ).T
    seen_at = into @ places
    off = np.hypot(*(seen_at[:2] / seen_at[2] - places[:2])) / MM
    # The frame is made square about its own middle: what is left is scale, not bend.
    left, right = places[0].argmin(), places[0].argmax()
    long = np.hypot(*(seen_at[:2, left] / seen_at[2, left] - seen_at[:2, right] / seen_at[2, right]))
    real = np.hypot(*(places[:2, left] - places[:2, right]))
    assert off.max() < 1.0 and abs(long / real - 1) < 0.004


def test_a_sheet_that_does_not_stand_out_has_corners_to_begin_with():
    white = png(np.full((600, 800), 250, np.uint8) - (np.indices((600, 800)).sum(0) % 40 == 0).astype(np.uint8) * 200)
    corners, found, _ = work.corners(open_paper(white, "white.png"), 1)
    assert not found and len(corners) == 4
    with pytest.raises(CannotRead, match="corner"):
        work.straightened(open_paper(white, "white.png"), 1, ((0, 0), (1, 1), (1, 0), (0, 1)), (297, 210))


# --- outlines
@pytest.mark.parametrize("kind", ["clean", "scan"])
def test_outlines_of_a_scan_lie_where_they_were_drawn(kind):
    sheet = made(10)
    gray, matrix = worsened(picture(sheet), kind, DOTS, 10)
    found = linework.outlines(ink_of(evened(gray)), MM)
    back = np.linalg.inv(matrix)

    def on_paper(x: float, y: float) -> np.ndarray:
        p = back @ (x + 0.5, y + 0.5, 1)
        return p[:2] / p[2] / MM

    circles = [(on_paper(x, y), r / MM) for x, y, r in found.circles]
    there = sum(any(np.hypot(*(c - s[:2])) < 0.3 and abs(q - s[2]) < 0.3 for c, q in circles) for s in sheet.circles)
    assert there >= 0.7 * len(sheet.circles), "one that a leader's arrowhead touches may be missed"
    lines = [(on_paper(*s[:2]), on_paper(*s[2:])) for s in found.lines]
    frame = 4
    drawn = [s for s in sheet.lines[frame:] if np.hypot(s[2] - s[0], s[3] - s[1]) > 8]
    near = sum(any(_covers(a, b, s) for a, b in lines) for s in drawn)
    assert near >= 0.85 * len(drawn)


def _covers(a: np.ndarray, b: np.ndarray, line: tuple[float, float, float, float]) -> bool:
    """Whether a found line lies on a drawn one over most of it, within 0.3 mm."""
    p, q = np.array(line[:2]), np.array(line[2:])
    long = np.hypot(*(q - p))
    along, normal = (q - p) / long, np.array([-(q - p)[1], (q - p)[0]]) / long
    u = sorted([(a - p) @ along, (b - p) @ along])
    return max(abs((a - p) @ normal), abs((b - p) @ normal)) < 0.3 and min(u[1], long) - max(u[0], 0) > 0.7 * long


# --- hostile pictures
def hostile():
    chance = np.random.default_rng(1)
    empty = np.full((1600, 2300), 255, np.uint8)
    lines = empty.copy()
    lines[::12], lines[:, ::12] = 0, 0
    words = empty.copy()
    for y, x in itertools.product(range(30, 1600, 160), range(10, 2200, 550)):
        cv2.putText(words, "lorem 12 ipsum", (x, y), cv2.FONT_HERSHEY_SIMPLEX, 0.8, 0, 2)
    return {
        "empty": empty, "black": np.zeros((1600, 2300), np.uint8), "noise": chance.integers(0, 255, (1600, 2300), np.uint8),
        "lines": lines, "words": words, "tiny": empty[:40, :60], "strip": np.full((130, 9000), 255, np.uint8),
    }  # fmt: skip


@pytest.mark.parametrize(("name", "gray"), hostile().items(), ids=list(hostile()))
def test_hostile_pictures_end_with_words_or_with_nothing_sure(name, gray):
    paper = open_paper(png(gray), f"{name}.png")
    try:
        found = list(work.read_sheet(paper, 1, 0, False, lambda _: None))
    except CannotRead as refusal:
        assert refusal.message.endswith(".") and name in ("empty", "noise", "tiny", "strip", "black")
        return
    from lathed_solid.core.callout import Ledger
    from lathed_solid.core.drawing.scan.judging import offers

    assert name in ("lines", "words", "black") and not any(o.sure for o in offers(found[0], Ledger((), "mm")))
