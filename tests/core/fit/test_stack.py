"""Stack-ups across parts: a gap that three parts leave, its contributors, and what cannot be told."""

from __future__ import annotations

import math

import pytest
from msgspec.structs import replace

from lathed_solid.core.fit.model import Assembly, End, Sized
from lathed_solid.core.fit.stack import stack
from lathed_solid.core.refusal import Refusal

from .shop import block, put, tie


def stated(shot, *sizes):
    return replace(shot, sized=tuple(Sized(a, low, high, note, other=b) for a, b, low, high, note in sizes))


def piled(value=""):
    """A base 10 ±0.1 high, a washer 3 ±0.05 and a plate 5 +0.2/0 on it."""
    base = stated(block("base", 40, 40, 10), ("z-", "z+", 9.9, 10.1, "10 ±0.1"))
    washer = stated(block("washer", 20, 20, 3), ("z-", "z+", 2.95, 3.05, "3 ±0.05"))
    plate = stated(block("plate", 30, 30, 5), ("z+", "z-", 5.0, 5.2, "5 +0.2/0"))
    assembly, one = put(Assembly(), base)
    assembly, two = put(assembly, washer, (0, 0, 20))
    assembly, three = put(assembly, plate, (0, 0, 30))
    assembly, _ = tie(assembly, "seated", f"{one}.z+", f"{two}.z-", value)
    assembly, _ = tie(assembly, "seated", f"{two}.z+", f"{three}.z-")
    return assembly, one, two, three


def test_limits_of_three_parts_add_up_and_are_ranked():
    assembly, one, _, three = piled()
    for ends in ((End(one, "z-"), End(three, "z+")), (End(three, "z+"), End(one, "z-"))):
        found = stack(assembly, *ends)
        # The plate's size is 5 as made, its limits lie above that.
        assert found.nominal == pytest.approx(18.0) and found.worst == pytest.approx((17.85, 18.35))
        half = math.sqrt(0.1**2 + 0.05**2 + 0.1**2)
        assert found.squares == pytest.approx((18.1 - half, 18.1 + half)) and not found.unlimited
        shares = {k.what.split(":")[0]: k.share for k in found.links}
        assert shares == pytest.approx({"base": 4 / 9, "washer": 1 / 9, "plate": 4 / 9})


def test_a_gap_that_a_relation_says_is_in_the_chain():
    assembly, one, _, three = piled("0.25")
    found = stack(assembly, End(one, "z-"), End(three, "z+"))
    assert found.nominal == pytest.approx(18.25) and found.worst == pytest.approx((18.1, 18.6))
    assert [k.what for k in found.links][1] == "seated 0.25, as the relation says"


def test_a_length_that_runs_back_is_taken_off():
    """From the base's top to the plate's underside with the washer between: the washer alone."""
    assembly, one, two, three = piled()
    assert stack(assembly, End(one, "z+"), End(three, "z-")).worst == pytest.approx((2.95, 3.05))
    # From the washer's top down to the base's bottom and up: the base and the washer, both the same way.
    assert stack(assembly, End(two, "z+"), End(one, "z-")).worst == pytest.approx((12.85, 13.15))


def test_what_nothing_limits_is_told_and_left_out():
    assembly, one, _, three = piled()
    parts = tuple(replace(p, sized=()) if p.path == "washer" else p for p in assembly.parts)
    found = stack(replace(assembly, parts=parts), End(one, "z-"), End(three, "z+"))
    assert [k.what for k in found.unlimited] == ["washer: nothing states it"]
    assert found.nominal == pytest.approx(18.0) and found.worst == pytest.approx((17.9, 18.3))


def test_what_cannot_be_added_up_is_refused():
    assembly, one, _, three = piled()
    for a, b, words in (("z-", "x+", "not parallel"), ("x+", "x+", "Nothing leads")):
        with pytest.raises(Refusal, match=words):
            stack(assembly, End(one, a), End(three, b))
