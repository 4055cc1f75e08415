"""Strangers' parts by mouse and keys, each with a mistake that its stated volume gives away: an inch strap clamp, milled;
a turned spool in millimetres; a housing whose cavity was built up instead of cut away.
"""

import math

import pytest

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_families_of_strangers import drilled
from .test_steps_from_callouts import turned
from .test_strangers_by_hand import IN3, all_in, inch
from .test_why_by_hand import explained, state, take_first


def mended(desk, right, words):
    """Why's first suspect says so, is taken, and all marks are right then; what was done in all."""
    first = explained(desk)
    assert words in first, first
    assert desk.window.why.table.item(0, 3).text() == "nothing: it closes"
    take_first(desk)
    assert desk.session.current.proof.mass.volume == pytest.approx(right, rel=1e-9)
    assert {c.mark for c in desk.session.current.proof.stated} == {"in"}


def test_a_strap_clamp_with_digits_of_its_counterbore_exchanged(desk):
    inch(desk, "4.000", "1.250", ".500", "Ø.406 THRU cbore Ø.652 x .250 deep", ".750")
    blank = slab(desk)
    drilled(desk, (20, 8, 12.7), 4, "#1/2-#5")
    hole = math.pi / 4 * (0.406**2 * 0.25 + 0.625**2 * 0.25)
    right = blank - hole * IN3
    state(desk, f"{right / IN3:.4f}")
    mended(desk, right, "Callout 4, .652 as .625: two digits exchanged")
    all_in(desk)


def test_a_spool_whose_core_is_drawn_by_its_radius(desk):
    for note in ("Ø60", "8", "Ø11", "46"):
        desk.enter(note)
    cells = ((0, 0, "#2"), (0, 2, "#1"), (1, 0, "#4-#2"), (1, 2, "#3"), (2, 0, "#4"), (2, 2, "#1"))
    wrong = turned(desk, *cells)
    assert wrong == pytest.approx(math.pi / 4 * (60**2 * 16 + 11**2 * 30))
    right = math.pi / 4 * (60**2 * 16 + 22**2 * 30)
    state(desk, f"{right:.2f}")
    mended(desk, right, "Callout 3, 11 as 22: twice, a radius for a diameter")
    all_in(desk)


def test_a_housing_whose_cavity_was_built_up(desk):
    for note in ("90", "60", "40", "70", "44", "32", "Ø9 THRU"):
        desk.enter(note)
    slab(desk)
    desk.look("T")
    desk.pick((40, 25, 40))
    new_sketch(desk, "extrude")
    desk.enter("rect #4 x #5")
    fill(desk, Depth="#6")
    assert done(desk) == pytest.approx(90 * 60 * 40 + 70 * 44 * 32)
    right = 90 * 60 * 40 - 70 * 44 * 32
    state(desk, f"{right:.0f}")
    mended(desk, right, "“Extrude”, step 20: material “cut away”")
    drilled(desk, (40, 27, 40), 7, "#1/2-5", "#2/2-5")
    assert right - desk.session.current.proof.mass.volume == pytest.approx(math.pi / 4 * 81 * 40)
    all_in(desk)
