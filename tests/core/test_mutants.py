"""The solid changed behind the model's back: whatever is changed, the proof notices it."""

import random
from pathlib import Path

import pytest
from bench.mutants import judged, plans

from lathed_solid.core.job import storage
from lathed_solid.core.job.proving import prove_result
from lathed_solid.core.job.settle import settle
from lathed_solid.core.route.rebuild import Cache, rebuild
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.row import Row

from .strangers.bench import Bench

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.mark.parametrize("name", ["skp-01", "skp-02", "skp-03", "skp-04", "skp-07"])
def test_what_is_changed_behind_the_model_is_noticed(name):
    content = settle(storage.load(EXAMPLES / f"{name}.lathed").job.content).content
    result = rebuild(content.plan(), Cache())
    proof = prove_result(content, result)
    chosen = random.Random(f"{name} 1").sample(plans(result, proof), 16)
    sample = [m for plan in chosen if (m := plan()) is not None]
    assert len({m.kind for m in sample}) > 1
    missed = [v.mutant.words for v in (judged(content, result, proof, m) for m in sample) if not v.is_noticed]
    assert not missed


def turned(bench, kind):
    """The callouts that turned, of each mutant of one kind."""
    result = rebuild(bench.content.plan(), Cache())
    proof = prove_result(bench.content, result)
    every = [m for plan in plans(result, proof, kind) if (m := plan()) is not None]
    found = [judged(bench.content, result, proof, m) for m in every]
    assert found
    assert all(v.is_noticed for v in found)
    return [{(x.number, x.key) for x in v.turned} for v in found]


def test_every_hole_of_a_bolt_circle_lies_on_it_and_every_seat_about_its_hole():
    b = Bench("Ø80", "10", "6x Ø6 THRU cbore Ø11 x 4 deep on Ø60")
    disc = b.turned({"length": "#2", "diameter": "#1"})
    hole = b.hole(f"{disc}/a.end/side", placement="circle", circle="#3.circle", diameter="#3", seat="counterbore",
                  seat_diameter="#3.seat", seat_depth="#3.seat_depth")  # fmt: skip
    b.step(Ring, of=(hole,), count="#3.count")
    found = turned(b, "moved")
    assert len(found) == 24, "each hole and each seat, both ways"
    assert all({(3, "circle"), (3, "count"), (3, "seat")} & t for t in found)
    assert sum((3, "seat") in t for t in found) == 24, "whichever of the two was moved"


def test_every_one_of_a_grid_stands_its_pitch_from_its_neighbour():
    b = Bench("90", "60", "10", "Ø6 THRU", "20", "15")
    plate = b.block("rect #1 x #2", depth="#3")
    hole = b.hole(f"{plate}/end", x="-30", y="-20", diameter="#4")
    b.step(Row, of=(hole,), count="4", pitch="#5", count2="3", pitch2="#6")
    found = turned(b, "moved")
    assert len(found) == 24
    assert all({(5, ""), (6, "")} & t for t in found)


def test_a_face_that_something_parted_lies_in_one_plane():
    b = Bench("60", "40", "12", "8", "5")
    plate = b.block("rect #1 x #2", depth="#3")
    b.extrude(b.sketch("rect 100 x #4", on=f"{plate}/end"), "#5", "cut")
    found = turned(b, "offset")
    assert sum((3, "") in t for t in found) == 6, "both halves of the top, and the bottom, in and out"


def test_a_width_counted_from_zero_is_measured_from_the_wall_there():
    """Drawn from a corner at zero, its size is the far wall's place: the near wall has to stand at zero as well."""
    b = Bench("60", "40", "12")
    b.block("rect #1 x #2 at #1/2,#2/2", depth="#3")
    assert sorted(map(sorted, turned(b, "offset"))) == [[(n, "")] for n in (1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3)]
