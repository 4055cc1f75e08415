"""Three parts that nobody had built here, each in three sizes, by mouse and keys: every member's volume is what arithmetic
says, every line of it in limits.
"""

import math

import pytest
from PyQt6.QtCore import Qt

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch, slab
from .test_family_by_hand import type_in
from .test_steps_from_callouts import step_of
from .test_strangers_by_hand import IN3, all_in, inch


def bossed(desk, at, diameter, height):
    """A round boss on the face that is seen at a place."""
    desk.look("T")
    desk.pick(at)
    new_sketch(desk, "extrude")
    desk.enter(f"circle Ø{diameter} at 0,0")
    desk.choose("How far", "to a depth")
    fill(desk, Depth=height)
    return done(desk)


def drilled(desk, at, number, x, y="0"):
    """The hole of a callout at a point of the face that is seen at a place."""
    desk.look("T")
    desk.pick(at)
    step_of(desk, number)
    desk.choose("Where", "at a point of the face")
    desk.settled()
    fill(desk, X=x, Y=y)
    return done(desk)


def members(desk, numbers, rows):
    """Tell a family by hand and build it; the lines that came."""
    desk.press(desk.window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    panel = desk.window.family
    desk.window.proof_lower.setCurrentWidget(panel)
    for number in numbers:
        desk.choose_callout(number)
        desk.click(panel.column)
    for at, row in enumerate(rows):
        desk.click(panel.member)
        for column, text in enumerate(row, 1):
            if text:
                type_in(desk, panel, at, column, text)
    desk.click(panel.go)
    desk.wait(lambda: not panel.is_running, 90)
    lines = [panel.model.came(m) for m in panel.model.table.members]
    assert [(e.state, e.words) for e in lines] == [("proved", "")] * len(rows)
    assert all(mark == "in" for e in lines for mark, _ in e.marks.values())
    return [e.volume for e in lines]


def test_a_slotted_cover_plate_in_three_sizes(desk):
    for note in ("90", "60", "8", "12", "30", "2x Ø7 THRU", "10", "9"):
        desk.enter(note)
    new_sketch(desk, "extrude")
    desk.enter("rect #1 x #2")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    plate = done(desk)
    assert plate == pytest.approx(90 * 60 * 8)
    desk.look("T")
    desk.pick((35, 20, 8))
    new_sketch(desk, "extrude")
    desk.enter("slot #4 from 0,0 #5,0")
    desk.choose("Material", "cut away")
    desk.choose("How far", "through all")
    slotted = done(desk)
    assert plate - slotted == pytest.approx((30 * 12 + math.pi * 36) * 8)
    desk.look("T")
    desk.pick((-35, 20, 8))
    step_of(desk, 6)
    desk.choose("Where", "so far from two edges")
    desk.click(desk.field("Pick Counted from"))
    desk.settled()
    desk.pick((-45, 5, 8))
    desk.pick((-30, -30, 8), more=True)
    desk.settled()
    desk.click(desk.field("Pick Counted from"))
    fill(desk, From_the_first="#7", From_the_second="#8")
    done(desk)
    desk.enter("add: mirror")
    desk.settled()
    from .test_vise_base_by_hand import tick

    tick(desk, 30)
    desk.choose("About", "the plane across X")
    done(desk)
    all_in(desk)
    volumes = members(desk, (1, 4), [("", ""), ("110", ""), ("100", "16")])

    def volume(length, slot):
        return 8 * (length * 60 - (30 * slot + math.pi * slot**2 / 4) - 2 * math.pi * 49 / 4)

    assert volumes == pytest.approx([volume(90, 12), volume(110, 12), volume(100, 16)])


def test_an_inch_collar_in_three_sizes(desk):
    inch(desk, "Ø1.500", "Ø1.000", ".375", ".875", "Ø.500 THRU")
    slab(desk, "circle Ø#1 at 0,0")
    bossed(desk, (15, 3, 9.525), "#2", "#4-#3")
    drilled(desk, (10, 3, 22.225), 5, "0")
    all_in(desk)
    volumes = members(desk, (2, 5), [("", ""), ("1.125", ""), ("", "9/16")])

    def volume(hub, bore):
        return IN3 * math.pi / 4 * (1.5**2 * 0.375 + hub**2 * 0.5 - bore**2 * 0.875)

    assert volumes == pytest.approx([volume(1.0, 0.5), volume(1.125, 0.5), volume(1.0, 0.5625)])


def test_a_lever_with_two_bosses_in_three_sizes(desk):
    for note in ("70", "14", "8", "Ø24", "16", "Ø12 H7 THRU", "Ø6 THRU"):
        desk.enter(note)
    new_sketch(desk, "extrude")
    desk.enter("slot #2 from 0,0 #1,0")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    web = done(desk)
    assert web == pytest.approx((70 * 14 + math.pi * 49) * 8)
    bossed(desk, (35, 3, 8), "#4", "#5-#3")
    drilled(desk, (9, 3, 16), 6, "0")
    drilled(desk, (50, 3, 8), 7, "#1")
    all_in(desk)
    volumes = members(desk, (1, 6), [("", ""), ("90", ""), ("80", "Ø14 H7 THRU")])
    assert volumes[1] - volumes[0] == pytest.approx(20 * 14 * 8)
    assert volumes[2] - volumes[0] == pytest.approx(10 * 14 * 8 - math.pi / 4 * (14**2 - 12**2) * 16, rel=1e-3)
