"""Assumed relations and the sizes that pin a sketch."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lathed_solid.core.callout import Ledger
from lathed_solid.core.route.settling import dimension_values, settle_sketch
from lathed_solid.core.sketch.explain import finish
from lathed_solid.core.sketch.explain.diagnose import freedom
from lathed_solid.core.sketch.make.draw import Spot, add_arc, add_circle, add_line, add_rectangle
from lathed_solid.core.sketch.model import Plane, Sketch
from lathed_solid.core.sketch.typed.commands import read_command

LEDGER = Ledger([])


def blank(base="end"):
    return Sketch(id="k1", name="t", plane=Plane(base))


def loose():
    sketch = add_rectangle(blank(), Spot(3, 4), Spot(43, 24))
    sketch, _ = add_circle(sketch, Spot(20, 12), 5)
    sketch, _ = add_arc(sketch, Spot(60, 0), Spot(70, 0), Spot(65, 4))
    return add_line(sketch, Spot(80, 0), Spot(95, 13))[0]


def pinned(sketch):
    found = finish.pins(sketch, dimension_values(sketch, LEDGER))
    for pin in found:
        sketch = finish.with_pin(sketch, pin, f"{pin.value:.9f}")
    return sketch, found


@pytest.mark.parametrize(
    "make", [loose, lambda: read_command("line 0,0 40,0 40,20 0,20 close", LEDGER, False).draw(blank())]
)
def test_the_proposed_sizes_leave_nothing_free_and_say_nothing_twice(make):
    before = make()
    ways = freedom(before, dimension_values(before, LEDGER)).ways
    sketch, found = pinned(before)
    assert freedom(sketch, dimension_values(sketch, LEDGER)).ways == 0
    assert len(found) == ways, "each takes away one way to move"
    assert all(pin.words for pin in found)
    settled = settle_sketch(sketch, LEDGER)
    for a, b in zip(before.points().values(), settled.points().values(), strict=True):
        assert (a.x, a.y) == pytest.approx((b.x, b.y), abs=1e-6), "nothing moves: the sizes are the present ones"


def test_a_plate_is_pinned_by_its_lengths_first():
    _, found = pinned(loose())
    assert [p.words for p in found[:4]] == [
        "the circle's diameter", "the arc's radius", "the length of the level line at 4",
        "the length of the upright line at 43",
    ]  # fmt: skip


def test_a_turned_profile_is_pinned_in_diameters():
    sketch = read_command("line 0,0 0,20 40,20 40,0 close", LEDGER, True).draw(blank("turning"))
    sketch, found = pinned(sketch)
    assert {p.item.kind for p in found} == {"diameter", "along"}
    assert next(p.value for p in found if p.item.kind == "diameter") == 20


def test_a_pinned_sketch_needs_nothing():
    sketch, _ = pinned(loose())
    assert finish.pins(sketch, dimension_values(sketch, LEDGER)) == []


def test_assumed_relations_are_accepted_or_dropped_by_kind():
    sketch = loose()
    groups = finish.assumed(sketch)
    assert {k: len(v) for k, v in groups.items()} == {"horizontal": 2, "vertical": 2}
    kept = finish.accept(sketch, groups["horizontal"])
    assert set(finish.assumed(kept)) == {"vertical"}
    assert len(kept.relations) == len(sketch.relations)
    fewer = finish.drop(kept, groups["vertical"])
    assert finish.assumed(fewer) == {} and len(fewer.relations) == len(sketch.relations) - 2
    assert finish.touched(sketch, groups["vertical"][0]) != ()


@given(st.lists(st.tuples(st.integers(-60, 60), st.integers(-60, 60)), min_size=2, max_size=6, unique=True))
def test_any_run_of_lines_can_be_pinned(places):
    sketch = read_command("line " + " ".join(f"{x},{y}" for x, y in places), LEDGER, False).draw(blank())
    sketch, _ = pinned(sketch)
    assert freedom(sketch, dimension_values(sketch, LEDGER)).ways == 0
