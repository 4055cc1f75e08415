"""Callout notes: what they mean, and what is wrong with the wrong ones."""

import math

import pytest

from lathed_solid.core.callout import Callout, Ledger, NoteError, in_words, pretty
from lathed_solid.core.quantity import Style


def read(note, unit="mm"):
    return Ledger([Callout(number=1, note=note)], unit).reading(1)


#: Note -> shape, {key: nominal}, lower and upper of the main size.
NOTES = {
    "22": ("length", {"": 22}, 21.8, 22.2),
    "Ø12 h6": ("diameter", {"": 12}, 11.989, 12),
    "dia 20 H7": ("diameter", {"": 20}, 20, 20.021),
    "R1": ("radius", {"": 1}, 0.8, 1.2),
    "9 ±0.1": ("length", {"": 9}, 8.9, 9.1),
    "9 +/- 0.1": ("length", {"": 9}, 8.9, 9.1),
    "30 +0.2/-0.1": ("length", {"": 30}, 29.9, 30.2),
    "1 x 45°": ("chamfer", {"": 1, "angle": math.pi / 4}, 0.8, 1.2),
    "1.5 x 30 deg": ("chamfer", {"": 1.5, "angle": math.pi / 6}, 1.3, 1.7),
    "C0.5": ("chamfer", {"": 0.5, "angle": math.pi / 4}, 0.3, 0.7),
    "2x 0.5 x 45°": ("chamfer", {"": 0.5, "count": 2}, 0.3, 0.7),
    "90°": ("angle", {"": math.pi / 2}, None, None),
    "30° ±0.5°": ("angle", {"": math.pi / 6}, math.radians(29.5), math.radians(30.5)),
    "M6x1 - 6H 14 deep": ("thread", {"": 6, "depth": 14}, 6, 6),
    "M6 tap 14": ("thread", {"": 6, "depth": 14}, 6, 6),
    "Ø4 THRU at 70": ("diameter", {"": 4, "at": 70, "thru": 2}, 3.9, 4.1),
    "6x Ø5.5 THRU cbore Ø10 x 5.4 deep on Ø98 first at 0°": (
        "diameter",
        {"": 5.5, "count": 6, "seat": 10, "seat_depth": 5.4, "circle": 98, "angle": 0},
        5.4,
        5.6,
    ),
    "6x dia 5.5 thru cbore 10 dp 5.4": ("diameter", {"": 5.5, "seat": 10, "seat_depth": 5.4}, 5.4, 5.6),
    "6× Ø5.5 THRU ⌴ Ø10 ↧ 5.4": ("diameter", {"seat": 10, "seat_depth": 5.4, "count": 6}, 5.4, 5.6),
    "Ø5 12 deep csk Ø10 x 90°": ("diameter", {"depth": 12, "seat": 10, "seat_angle": math.pi / 2}, 4.9, 5.1),
    "142 - 38.5 - 22": ("length", {"": 81.5}, 81.2, 81.8),
    "7/32 in + 4 mm": ("length", {"": 7 / 32 * 25.4 + 4}, None, None),
    "4x 12": ("length", {"": 12, "count": 4}, 11.8, 12.2),
}


@pytest.mark.parametrize("note", NOTES)
def test_notes(note):
    shape, sizes, lower, upper = NOTES[note]
    reading = read(note)
    assert reading.shape == shape
    for key, nominal in sizes.items():
        assert reading.get(key).nominal == pytest.approx(nominal), key
    if lower is not None:
        assert (reading.main.lower, reading.main.upper) == pytest.approx((lower, upper))


def test_inch_notes():
    assert read("2 5/8", "in").main.nominal == pytest.approx(66.675)
    assert read("Ø.266 THRU", "in").main.nominal == pytest.approx(0.266 * 25.4)
    reading = read(".5 +.01/-.02", "in")
    assert (reading.main.lower, reading.main.upper) == pytest.approx((0.48 * 25.4, 0.51 * 25.4))


WRONG = {
    "": (0, "Nothing is typed"),
    "hello": (0, "does not fit here"),
    "Ø": (1, "Expected a number"),
    "Ø20 g99": (4, "Grade 99"),
    "Ø4 cbore 3 dp 2": (3, "not wider"),
    "Ø-3": (0, "must be above zero"),
    "R0": (0, "must be above zero"),
    "5 wide": (2, "does not fit here"),
    "M11": (0, "no coarse pitch"),
    "M6 ±0.1": (3, "takes a class"),
    "9 ±0.1 h6": (7, "already has limits"),
    "2x": (2, "missing at the end"),
    "Ø5 deep": (7, "missing at the end"),
}


@pytest.mark.parametrize("note", WRONG)
def test_wrong_notes_point_at_the_place(note):
    position, words = WRONG[note]
    with pytest.raises(NoteError) as caught:
        read(note)
    assert words in str(caught.value)
    assert caught.value.position == position


def test_callouts_refer_to_each_other_but_not_in_circles():
    ledger = Ledger(
        [
            Callout(number=1, note="46"),
            Callout(number=2, note="#1/2 ±0.05"),
            Callout(number=3, note="#4"),
            Callout(number=4, note="#3 + 1"),
            Callout(number=5, note="Ø5 12 deep"),
            Callout(number=6, note="#5.depth + 2"),
            Callout(number=7, note="#5.seat"),
        ]
    )
    assert ledger.reading(2).main.nominal == 23
    assert ledger.reading(6).main.nominal == 14
    assert "circle: #3 → #4 → #3" in str(ledger.error(3))
    assert "states no seat; it states depth" in str(ledger.error(7))


def test_words():
    words = in_words(read("6x Ø5.5 THRU cbore Ø10 x 5.4 deep on Ø98"), Style())
    assert words.startswith(
        "six diameters Ø5.5, through, seat Ø10 wide, 5.4 deep from the same face, on pitch circle Ø98"
    )
    assert pretty("6x dia 5.5 thru cbore 10 dp 5.4") == "6× Ø5.5 THRU cbore 10 ↧ 5.4"
    assert pretty("Ø5 THRU ⌴Ø10 ↧5") == "Ø5 THRU cbore Ø10 ↧5"
