"""Rings, rows and mirror copies go where their leader goes; stops hold; numbers follow callouts of parts."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from lathed_solid.core.fit import edits, repeats
from lathed_solid.core.fit.drag import Drag
from lathed_solid.core.fit.freedom import freedoms
from lathed_solid.core.fit.model import Assembly, End, Figure, Pose
from lathed_solid.core.fit.motion import drive
from lathed_solid.core.fit.poses import placed, rotation
from lathed_solid.core.fit.rows import KINDS
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.fit.statement import present
from lathed_solid.core.refusal import Refusal

from .shop import bar, block, put, tie


def ring_on_a_disc(many="6", spread="", place=(30, 4, 7)):
    """A grounded block whose ``axis`` is a bar's bore, and a block copied about it."""
    assembly, hub = put(Assembly(), bar("hub", 40.0))
    assembly, one = put(assembly, block("block", 4, 6, 8), place, (0.9, 0.1, 0.2, 0.3))
    assembly, name = repeats.repeated(assembly, "ring", one, End(hub, "a"), many, spread)
    return solved(assembly).assembly, hub, one, name


def about(assembly, hub, instance):
    """Where an instance's zero is in the hub's axes, and how it is turned there."""
    base, own = assembly.instance(hub).pose, assembly.instance(instance).pose
    turn = rotation(base).T
    return turn @ np.subtract(own.place, base.place), turn @ rotation(own)


@pytest.mark.parametrize(("many", "spread", "step"), [("6", "", 60.0), ("4", "90", 30.0), ("3", "-120", -60.0)])
def test_a_ring_goes_about_its_axis_wherever_that_goes(many, spread, step):
    assembly, hub, one, name = ring_on_a_disc(many, spread)
    made = repeats.repeat_of(assembly, name).made
    assert len(made) == int(many) - 1
    # The hub is freed and put elsewhere, the leader too: the copies follow both.
    assembly = edits.change_instance(assembly, hub, grounded=False, pose=Pose((5, -3, 2), (0.8, 0.0, 0.6, 0.0)))
    assembly = edits.change_instance(assembly, one, pose=Pose((25, 9, 1), (0.6, 0.8, 0.0, 0.0)), grounded=True)
    assembly = solved(edits.change_instance(assembly, hub, grounded=True)).assembly
    at, turned = about(assembly, hub, one)
    for k, copy in enumerate(made, 1):
        a = math.radians(step * k)
        turn = np.array([[math.cos(a), -math.sin(a), 0], [math.sin(a), math.cos(a), 0], [0, 0, 1]])
        there, its = about(assembly, hub, copy)
        assert there == pytest.approx(turn @ at, abs=1e-8) and its == pytest.approx(turn @ turned, abs=1e-8)


def test_what_moves_is_the_leader_and_its_copies_with_it():
    assembly, *_ = ring_on_a_disc()
    found = solved(assembly)
    assert freedoms(found.statement, found.state).ways == 6
    held = edits.change_instance(assembly, assembly.instances[1].id, grounded=True)
    found = solved(held)
    assert freedoms(found.statement, found.state).ways == 0


def test_a_row_and_a_mirror_copy():
    assembly, hub = put(Assembly(), bar("hub", 40.0))
    assembly, one = put(assembly, block("block", 4, 6, 8), (10, 20, 30), (0.9, 0.1, 0.2, 0.3))
    assembly, row = repeats.repeated(assembly, "row", one, End(hub, "side"), "4", "2 * 3.5")
    assembly, _ = repeats.repeated(assembly, "mirror", one, End(hub, "top"), other_hand=replace(
        block("block", 4, 6, 8), other_hand=True))  # fmt: skip
    assembly = solved(assembly).assembly
    made = repeats.repeat_of(assembly, row).made
    for k, copy in enumerate(made, 1):
        assert assembly.instance(copy).pose.place == pytest.approx((10, 20 + 7.0 * k, 30), abs=1e-9)
    mirrored = assembly.instances[-1]
    assert assembly.part(mirrored.part).called == "block other hand"
    # Any point of the leader, seen in the plane z = 2; the other hand is the part mirrored in its own X.
    point = np.array((1.3, -0.7, 2.9))
    seen = placed(assembly.instance(one).pose, point) * (1, 1, -1) + (0, 0, 4)
    assert placed(mirrored.pose, point * (-1, 1, 1)) == pytest.approx(seen, abs=1e-9)


def test_the_number_changes_gaps_stay_and_copies_go_free():
    assembly, hub, one, name = ring_on_a_disc("6")
    made = repeats.repeat_of(assembly, name).made
    without = edits.remove(assembly, made[1])
    assert repeats.repeat_of(without, name).made[1] == "" and len(without.instances) == 6
    again = solved(repeats.in_number(without)).assembly
    assert about(again, hub, made[2])[0] == pytest.approx(about(assembly, hub, made[2])[0], abs=1e-9)
    fewer = solved(repeats.changed(assembly, name, "3", "")).assembly
    assert len(fewer.instances) == 4 and len(solved(repeats.changed(fewer, name, "8", "")).assembly.instances) == 9
    free = solved(repeats.set_free(assembly, name))
    assert freedoms(free.statement, free.state).ways == 36
    assert edits.remove(assembly, one).repeats == () == edits.remove(assembly, hub).repeats
    for many in ("0", "2.5", "501", "x"):
        with pytest.raises(Refusal):
            repeats.changed(assembly, name, many, "")
    with pytest.raises(Refusal, match="round face"):
        repeats.repeated(assembly, "ring", one, End(hub, "top"))


@settings(max_examples=30, deadline=None)
@given(st.lists(st.floats(-3, 3), min_size=15, max_size=15), st.sampled_from(["carried", "alike"]))
def test_the_gradients_of_copies_are_those_of_differences(values, kind):
    slots = KINDS[kind].slots
    X, C = np.array(values[: 3 * len(slots)]).reshape(len(slots), 1, 3), np.array([[1.7]])
    _, gradients = KINDS[kind].function(X, C)
    for slot in range(len(slots)):
        for axis in range(3):
            up, down = X.copy(), X.copy()
            up[slot, 0, axis] += 1e-6
            down[slot, 0, axis] -= 1e-6
            rise = (KINDS[kind].function(up, C)[0] - KINDS[kind].function(down, C)[0]) / 2e-6
            assert gradients[slot][0, axis] == pytest.approx(float(rise[0]), abs=1e-6)


def sliding(low="", high=""):
    """A block that slides along X in a grounded one: both bottoms level, both sides; a stop between their ends."""
    assembly, base = put(Assembly(), block("base", 40, 20, 10))
    assembly, slide = put(assembly, block("slide", 10, 20, 10), (0, 0, 10))
    assembly, _ = tie(assembly, "seated", f"{base}.z+", f"{slide}.z-")
    assembly, _ = tie(assembly, "flush", f"{base}.y+", f"{slide}.y+")
    assembly, stop = edits.relate(assembly, "distance", End(base, "x-"), End(slide, "x-"))
    return edits.change_relation(assembly, stop, low=low, high=high), slide, stop


def x_of(assembly, slide):
    return assembly.instance(slide).pose.place[0]


def test_a_stop_holds_what_is_beyond_it_and_nothing_else():
    # From the base's end outwards: the slide's own end lies 15 to 25 inside, that is -25 to -15.
    assembly, slide, _ = sliding("-25", "-15")
    for at, wanted in ((0.0, 0.0), (-30.0, 0.0), (7.0, 7.0), (30.0, 10.0)):
        moved = edits.change_instance(assembly, slide, pose=Pose((at, 0.0, 10.0)))
        assert x_of(solved(moved).assembly, slide) == pytest.approx(wanted, abs=1e-6)
    found = solved(assembly)
    assert freedoms(found.statement, found.state).ways == 1


def test_a_part_is_dragged_to_its_stop_and_back():
    assembly, slide, _ = sliding("-25", "-15")
    hand = Drag(solved(assembly).assembly, slide, (0.0, 0.0, 10.0), budget=1.0)
    for to, wanted in ((4.0, 4.0), (40.0, 10.0), (60.0, 10.0), (3.0, 3.0), (-50.0, 0.0)):
        for _ in range(12):
            hand.to((to, 0.0, 10.0))
        assert x_of(hand.standing(), slide) == pytest.approx(wanted, abs=1e-5)


def test_a_drive_ends_at_a_stop():
    assembly, slide, _ = sliding("-25", "")
    assembly, driven = edits.relate(assembly, "distance", End("i2", "x+"), End(slide, "x+"), "-15")
    assembly = solved(assembly, driven).assembly
    film = drive(assembly, driven, [-14.0, -10.0, -6.0, -2.0])
    assert film.ended and x_of(film.frames[-1].assembly, slide) == pytest.approx(10.0, abs=1e-5)


def test_an_angle_is_limited_about_its_axis():
    assembly, one = put(Assembly(), bar("one", 40.0))
    assembly, two = put(assembly, bar("two", 30.0), (0, 0, 4))
    assembly, _ = tie(assembly, "in line", f"{one}.a", f"{two}.a")
    assembly, _ = tie(assembly, "seated", f"{one}.top", f"{two}.bottom")
    assembly, stop = edits.relate(assembly, "angle", End(one, "side"), End(two, "side"), "0")
    assembly = edits.change_relation(assembly, stop, value="", low="-30", high="38")
    for turned, wanted in ((20.0, 20.0), (60.0, 38.0), (-100.0, -30.0)):
        half = math.radians(turned) / 2
        moved = edits.change_instance(assembly, two, pose=Pose((0, 0, 4), (math.cos(half), 0, 0, math.sin(half))))
        end = solved(moved).assembly.instance(two).pose.turn
        assert math.degrees(2 * math.atan2(end[3], end[0])) == pytest.approx(wanted, abs=1e-5)
    with pytest.raises(Refusal, match="more than"):
        solved(edits.change_relation(assembly, stop, low="40"))


def test_numbers_follow_callouts_of_parts():
    base = replace(block("base", 40, 20, 10), number="SKP-03", figures=(Figure(4, "", "length", 12.5), Figure(7, "deep", "length", 3.0), Figure(8, "", "angle", 0.5)))  # fmt: skip
    assembly, one = put(Assembly(), base)
    assembly, two = put(assembly, block("slide", 10, 20, 10), (0, 0, 30))
    assembly, name = tie(assembly, "seated", f"{one}.z+", f"{two}.z-", "SKP-03#4 - 2 * SKP-03#7.deep")
    assert assembly.instance(two).pose.place[2] == pytest.approx(10 + 6.5)
    longer = replace(base, figures=(Figure(4, "", "length", 20.0), *base.figures[1:]))
    assert solved(edits.renewed(assembly, [longer])).assembly.instance(two).pose.place[2] == pytest.approx(10 + 14.0)
    for words, text in (("has no callout", "SKP-03#5"), ("which part", "#4"), ("angle", "SKP-03#8")):
        with pytest.raises(Refusal, match=words):
            edits.change_relation(assembly, name, value=text)


def test_the_number_that_is_proposed_is_the_one_as_the_parts_stand():
    assembly, one = put(Assembly(), bar("one", 40.0))
    assembly, two = put(assembly, bar("two", 30.0), (3, 4, 4), (math.cos(0.2), 0, 0, math.sin(0.2)))
    kinds = (("distance", "a", "a", 5.0), ("distance", "top", "bottom", 0.0), ("angle", "side", "side", 0.4))
    for kind, a, b, wanted in kinds:
        made, name = edits.relate(assembly, kind, End(one, a), End(two, b), "1")
        assert present(assembly, made.relation(name)) == pytest.approx(wanted, abs=1e-9)
