"""Mechanisms put together as real parts in space, driven over a full turn, against their closed forms."""

from __future__ import annotations

import math

import numpy as np
import pytest

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.freedom import freedoms
from lathed_solid.core.fit.model import End
from lathed_solid.core.fit.motion import drive
from lathed_solid.core.fit.solving import solved

from .shop import axis_of, bar, empty, part, put, tie

CLOSE = 1e-9


def four_bar(ground, crank, coupler, rocker, start=60.0):
    """Grounded bar along X, crank at its zero, rocker at its end, all pivots true joints in space (in line and seated)."""
    a, base = put(empty(), bar("ground", ground))
    a, one = put(a, bar("crank", crank), (3, 4, 9))
    a, two = put(a, bar("coupler", coupler), (crank, 8, 5), (0.9, 0.1, 0, 0.3))
    a, three = put(a, bar("rocker", rocker), (ground, 0, 12), (0.8, 0, 0, 0.6))
    a, _ = tie(a, "in line", f"{base}.a", f"{one}.a", opposed=False)
    a, _ = tie(a, "seated", f"{base}.top", f"{one}.bottom")
    a, drive_by = tie(a, "angle", f"{base}.side", f"{one}.side", f"{start}")
    a, _ = tie(a, "in line", f"{base}.b", f"{three}.a", opposed=False)
    a, _ = tie(a, "seated", f"{base}.top", f"{three}.bottom")
    a, _ = tie(a, "in line", f"{one}.b", f"{two}.a", opposed=False)
    a, _ = tie(a, "seated", f"{one}.top", f"{two}.bottom")
    a, _ = tie(a, "in line", f"{two}.b", f"{three}.b", opposed=False)
    return a, (base, one, two, three), drive_by


def test_a_four_bar_follows_its_closed_form_over_a_full_turn():
    g, c, k, r = 40.0, 12.0, 35.0, 30.0
    a, (_, _, _, rocker), by = four_bar(g, c, k, r)
    start = axis_of(a, rocker, "b")[0]
    side = math.copysign(1, start[1])
    for frame in drive(a, by, [math.radians(60 + d) for d in range(0, 361, 15)]).frames:
        crank = np.array([c * math.cos(frame.value), c * math.sin(frame.value)])
        away = np.array([g, 0]) - crank
        d = float(np.linalg.norm(away))
        along = (k * k - r * r + d * d) / (2 * d)
        up = math.sqrt(k * k - along * along)
        u = away / d
        want = crank + along * u + side * up * np.array([-u[1], u[0]])
        found = axis_of(frame.assembly, rocker, "b")[0]
        assert found[:2] == pytest.approx(want, abs=CLOSE)


def test_what_can_move_is_told_in_words():
    a, (base, crank, coupler, rocker), by = four_bar(40.0, 12.0, 35.0, 30.0)
    held = solved(a)
    assert {f.words for f in freedoms(held.statement, held.state).each} == {"held"}
    loose = solved(edits.unrelate(a, by))
    found = freedoms(loose.statement, loose.state)
    words = {f.instance: f.words for f in found.each}
    assert found.ways == 1
    assert words[base] == "held"
    assert words[crank] == words[rocker] == "turns about Z"
    assert words[coupler] == "turns about Z"  # about its momentary pole


def test_a_drive_ends_where_the_links_lock_and_says_so():
    a, _, by = four_bar(20.0, 12.0, 15.0, 10.0, start=40.0)
    lock = math.acos((12**2 + 20**2 - 25**2) / (2 * 12 * 20))
    film = drive(a, by, [3.0])
    assert film.ended
    assert film.frames[-1].value == pytest.approx(lock, abs=1e-6)


def test_a_parallelogram_goes_through_its_flat_pose_on_the_same_branch():
    a, (_, crank, _, rocker), by = four_bar(40.0, 12.0, 40.0, 12.0, start=30.0)
    for frame in drive(a, by, [math.radians(30 + d) for d in np.arange(0, 360, 7.3)]).frames:
        one, two = axis_of(frame.assembly, crank, "b")[0], axis_of(frame.assembly, rocker, "b")[0]
        assert (two - one)[:2] == pytest.approx((40.0, 0.0), abs=1e-6)


def test_a_slider_crank_follows_its_closed_form():
    c, rod = 15.0, 50.0
    a, base = put(empty(), bar("bed", 100.0))
    a, crank = put(a, bar("crank", c), (0, 5, 9))
    a, link = put(a, bar("rod", rod), (10, 2, 8))
    slide = part(
        "slide",
        {
            "pin": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 2.0}),
            "guide": ("cylinder", (0, 0, 0), (1, 0, 0), {"radius": 5.0}),
        },
    )
    guide = part("guide", {"bore": ("cylinder", (0, 0, 4.0), (1, 0, 0), {"radius": 5.0, "hollow": True})})
    a, rail = put(a, guide)
    a = edits.change_instance(a, rail, grounded=True)
    a, slider = put(a, slide, (60, 3, 2))
    a, _ = tie(a, "in line", f"{base}.a", f"{crank}.a", opposed=False)
    a, _ = tie(a, "seated", f"{base}.top", f"{crank}.bottom")
    a, by = tie(a, "angle", f"{base}.side", f"{crank}.side", "50")
    a, _ = tie(a, "in line", f"{crank}.b", f"{link}.a", opposed=False)
    a, _ = tie(a, "in line", f"{rail}.bore", f"{slider}.guide", opposed=False)
    a, _ = tie(a, "in line", f"{link}.b", f"{slider}.pin", opposed=False)
    a, _ = tie(a, "seated", f"{crank}.top", f"{link}.bottom")
    sign = math.copysign(1, axis_of(a, slider, "pin")[0][0] - c)
    for frame in drive(a, by, [math.radians(50 + d) for d in range(0, 361, 12)]).frames:
        t = frame.value
        want = c * math.cos(t) + sign * math.sqrt(rod**2 - (c * math.sin(t)) ** 2)
        assert axis_of(frame.assembly, slider, "pin")[0][0] == pytest.approx(want, abs=CLOSE)


def cross():
    """The spider of a joint with two crossed pivots."""
    return part(
        "spider",
        {
            "u": ("cylinder", (0, 0, 0), (1, 0, 0), {"radius": 2.0}),
            "v": ("cylinder", (0, 0, 0), (0, 1, 0), {"radius": 2.0}),
        },
        ((-8, -8, -2), (8, 8, 2)),
    )


def fork(name):
    """A fork: its shaft along Z, its pivot across it along X."""
    return part(
        name,
        {
            "shaft": ("cylinder", (0, 0, -20), (0, 0, 1), {"radius": 6.0}),
            "pivot": ("cylinder", (0, 0, 0), (1, 0, 0), {"radius": 2.0, "hollow": True}),
            "mark": ("plane", (0, 8, -20), (0, 1, 0)),
        },
        ((-8, -8, -30), (8, 8, 4)),
    )


def test_a_joint_with_two_crossed_pivots_turns_as_it_must():
    bend = math.radians(30)
    bearing = part(
        "bearings",
        {
            "one": ("cylinder", (0, 0, -40), (0, 0, 1), {"radius": 6.0, "hollow": True}),
            "two": ("cylinder", (40 * math.sin(bend), 0, 40 * math.cos(bend)), (math.sin(bend), 0, math.cos(bend)),
                    {"radius": 6.0, "hollow": True}),
            "mark": ("plane", (0, 9, -40), (0, 1, 0)),
        },
    )  # fmt: skip
    a, frame = put(empty(), bearing)
    a, left = put(a, fork("left"), (1, 2, 3))
    a, spider = put(a, cross(), (2, 1, 0))
    # The second fork stands on its head, leaning by the bend, a quarter turn on.
    half = (math.pi - bend) / 2
    a, right = put(a, fork("right"), (3, 0, 5), (math.cos(half), 0.0, math.sin(half), 0.0))
    a, _ = tie(a, "in line", f"{frame}.one", f"{left}.shaft", opposed=False)
    a, by = tie(a, "angle", f"{frame}.mark", f"{left}.mark", "0")
    a, _ = tie(a, "in line", f"{left}.pivot", f"{spider}.u", opposed=False)
    a, _ = tie(a, "in line", f"{frame}.two", f"{right}.shaft")
    a, _ = tie(a, "in line", f"{right}.pivot", f"{spider}.v")
    # The spider's middle is where both axes meet; it is held along its first pivot by lying on the shaft's axis.
    at = {"u": axis_of(a, spider, "u")[0], "v": axis_of(a, spider, "v")[0]}
    assert np.linalg.norm(at["u"] - at["v"]) < 1e-9
    a, _ = tie(a, "seated", f"{frame}.mark", f"{left}.mark", "0") if False else (a, "")
    out = np.array([math.sin(bend), 0, math.cos(bend)])
    across = np.array([math.cos(bend), 0, -math.sin(bend)])
    for film in drive(a, by, [math.radians(d) for d in range(0, 361, 15)]).frames:
        pin = axis_of(film.assembly, right, "pivot")[1]
        driven = math.atan2(pin @ np.cross(out, across), pin @ across)
        first = axis_of(film.assembly, left, "pivot")[1]
        turn = math.atan2(first[1], first[0])
        # The pins stay square to each other: first · pin = 0 (Hooke's condition).
        assert first @ pin == pytest.approx(0.0, abs=CLOSE)
        # tan(out) cos(bend) tan(in) = -1 for pins counted from the plane of both shafts.
        assert math.cos(turn) * math.cos(driven) * math.cos(bend) + math.sin(turn) * math.sin(driven) == pytest.approx(
            0.0, abs=CLOSE
        )


def test_a_screw_jack_rises_by_its_lead_through_five_turns():
    a, base = put(empty(), bar("bed", 40.0))
    screw = part(
        "screw",
        {
            "thread": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 5.0}),
            "end": ("plane", (0, 0, 20), (0, 0, 1)),
            "flat": ("plane", (0, 5, 10), (0, 1, 0)),
        },
    )
    a, spindle = put(a, screw, (3, 2, 7))
    a, _ = tie(a, "screw", f"{base}.a", f"{spindle}.thread", "2", opposed=False)
    a, by = tie(a, "angle", f"{base}.side", f"{spindle}.flat", "0")
    first = axis_of(a, spindle, "end")[0][2]
    begun = math.radians(0)
    for frame in drive(a, by, [math.radians(d) for d in range(0, 1801, 40)]).frames:
        rise = 2.0 * (frame.value - begun) / (2 * math.pi)
        assert axis_of(frame.assembly, spindle, "end")[0][2] - first == pytest.approx(rise, abs=CLOSE)


def wheel(name, radius):
    return part(
        name,
        {
            "bore": ("cylinder", (0, 0, 0), (0, 0, 1), {"radius": 3.0, "hollow": True}),
            "face": ("plane", (0, 0, -2), (0, 0, -1)),
            "mark": ("plane", (0, radius, 0), (0, 1, 0)),
        },
    )


def test_gears_turn_each_other_by_their_teeth_over_three_turns():
    a, base = put(empty(), bar("bed", 57.0))
    a, one = put(a, wheel("17 teeth", 17.0), (1, 2, 8))
    a, two = put(a, wheel("40 teeth", 40.0), (50, 2, 8))
    for gear, bore in ((one, "a"), (two, "b")):
        a, _ = tie(a, "in line", f"{base}.{bore}", f"{gear}.bore", opposed=False)
        a, _ = tie(a, "seated", f"{base}.top", f"{gear}.face")
    a, by = tie(a, "angle", f"{base}.side", f"{one}.mark", "0")
    a, mesh = tie(a, "gear", f"{one}.bore", f"{two}.bore", "40/17")
    first = axis_of(a, two, "mark")[1]
    start = math.atan2(first[1], first[0])
    for frame in drive(a, by, [math.radians(d) for d in range(0, 1081, 30)]).frames:
        mark = axis_of(frame.assembly, two, "mark")[1]
        turned = math.atan2(mark[1], mark[0]) - start
        assert math.remainder(turned + frame.value * 17 / 40, 2 * math.pi) == pytest.approx(0.0, abs=CLOSE)
    assert End(one, "bore") == a.relation(mesh).a


def test_a_rack_moves_by_its_travel_a_turn():
    a, base = put(empty(), bar("bed", 57.0))
    a, pinion = put(a, wheel("pinion", 10.0), (1, 2, 8))
    guide = part("guide", {"bore": ("cylinder", (0, 12, 3), (1, 0, 0), {"radius": 4.0, "hollow": True})})
    a, rail = put(a, guide)
    a = edits.change_instance(a, rail, grounded=True)
    rack = part(
        "rack",
        {
            "rod": ("cylinder", (0, 0, 0), (1, 0, 0), {"radius": 4.0}),
            "end": ("plane", (30, 0, 0), (1, 0, 0)),
            "flat": ("plane", (0, 4, 0), (0, 1, 0)),
        },
    )
    a, rod = put(a, rack, (4, 10, 1))
    a, _ = tie(a, "in line", f"{base}.a", f"{pinion}.bore", opposed=False)
    a, _ = tie(a, "seated", f"{base}.top", f"{pinion}.face")
    a, _ = tie(a, "in line", f"{rail}.bore", f"{rod}.rod", opposed=False)
    a, _ = tie(a, "parallel", f"{base}.side", f"{rod}.flat", opposed=False)
    a, by = tie(a, "angle", f"{base}.side", f"{pinion}.mark", "0")
    a, _ = tie(a, "rack", f"{pinion}.bore", f"{rod}.end", "62.8")
    first = axis_of(a, rod, "end")[0][0]
    for frame in drive(a, by, [math.radians(d) for d in range(0, 721, 45)]).frames:
        moved = axis_of(frame.assembly, rod, "end")[0][0] - first
        assert moved == pytest.approx(62.8 * frame.value / (2 * math.pi), abs=CLOSE)
