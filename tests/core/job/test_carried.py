"""Limits carried through, against closed form: stacks, fits, volumes, masses, kept measurements."""

import math

import pytest

from lathed_solid.core.job import edits, reading
from lathed_solid.core.job.carried import CannotCarry, carried, chains
from lathed_solid.core.job.model import Chain, Kept
from lathed_solid.core.job.planning import set_zero
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.surveying import standing_of
from lathed_solid.core.kernel.measure.taken import measured
from lathed_solid.core.plan.zero import Zero
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.ring import Ring

from ..strangers.bench import Bench


def test_a_stack_adds_its_limits_and_in_squares():
    b = Bench("28 ±0.2", "13 ±0.1", "9 ±0.05")
    found = carried(b.content, "formula", "#1-#2-#3")
    assert found.made == pytest.approx(6)
    assert found.worst == pytest.approx((6 - 0.35, 6 + 0.35))
    half = math.sqrt(0.2**2 + 0.1**2 + 0.05**2)
    assert found.squares == pytest.approx((6 - half, 6 + half))
    assert [s.number for s in found.shares] == [1, 2, 3], "what moves it most stands first"
    assert [s.share for s in found.shares] == pytest.approx([0.04 / 0.0525, 0.01 / 0.0525, 0.0025 / 0.0525])
    assert found.worst[0] < found.least < found.drawn[0] < found.drawn[1] < found.most < found.worst[1]
    assert found.drawn == pytest.approx(found.squares, abs=0.03), "three deviations of draws of three deviations"
    assert sum(found.bars) == 4000
    assert carried(b.content, "formula", "#1-#2-#3") == found, "the same draws every time"


@pytest.mark.parametrize(
    ("hole", "shaft", "least", "most"),
    [("Ø20 H7", "Ø20 h6", 0.0, 0.034), ("Ø20 H7", "Ø20 g6", 0.007, 0.041), ("Ø20 H7", "Ø20 p6", -0.035, -0.001)],
)
def test_the_clearance_of_a_fit(hole, shaft, least, most):
    """ISO 286-2: H7 at 20 is 0/+21 µm, h6 0/-13, g6 -7/-20, p6 +22/+35."""
    found = carried(Bench(hole, shaft).content, "formula", "#1-#2")
    assert found.worst == pytest.approx((least, most), abs=1e-9)


def test_products_and_angles_are_carried_too():
    b = Bench("40 ±0.1", "30° ±0.5°")
    found = carried(b.content, "formula", "#1*sin(#2)")
    low, high = 39.9 * math.sin(math.radians(29.5)), 40.1 * math.sin(math.radians(30.5))
    assert found.worst == pytest.approx((low, high))
    assert carried(b.content, "formula", "#2*2").kind == "angle"


def disc():
    b = Bench("Ø40 ±0.1", "12 ±0.2", "Ø10 g6")
    turned = b.turned({"length": "#2", "diameter": "#1"})
    b.hole(f"{turned}/a.end/side", placement="axis", diameter="#3")
    return b, turned


def volume(d, h, bore):
    return math.pi / 4 * (d * d - bore * bore) * h


def test_the_volume_of_a_bored_disc():
    b, _ = disc()
    found = carried(b.content, "volume")
    assert found.made == pytest.approx(volume(40, 12, 10 - 0.0095))
    (one, two, three) = sorted(found.shares, key=lambda s: s.number)
    assert (two.at_lower, two.at_upper) == pytest.approx((volume(40, 11.8, 9.9905), volume(40, 12.2, 9.9905)), rel=1e-7)
    assert (one.at_lower, one.at_upper) == pytest.approx((volume(39.9, 12, 9.9905), volume(40.1, 12, 9.9905)), rel=1e-6)
    assert (three.at_lower, three.at_upper) == pytest.approx((volume(40, 12, 9.986), volume(40, 12, 9.995)), rel=1e-7)
    low, high = volume(39.9, 11.8, 9.995), volume(40.1, 12.2, 9.986)
    assert found.worst == pytest.approx((low, high), rel=1e-4), "effects add, but for their products"
    heavy = carried(b.content, "mass")
    density = b.content.header.material.density / 1000
    assert heavy.worst == pytest.approx((found.worst[0] * density, found.worst[1] * density))


def test_a_kept_measurement_follows_the_limits():
    b, turned = disc()
    ends = (FaceRef(f"{turned}/start/side"), FaceRef(f"{turned}/a.end/side"))
    body = build_and_prove(b.content).result.body
    assert all(body.find(f.name) for f in ends)
    content = reading.keep(b.content, Kept(id="", what="wall between", faces=ends))
    found = carried(content, "kept", "m1")
    assert found.worst == pytest.approx((11.8, 12.2))
    assert [s.number for s in found.shares] == [2], "the others do not move it"
    with pytest.raises(CannotCarry, match="not kept"):
        carried(content, "kept", "m9")


def test_a_kept_area_is_an_area_and_a_bolt_circle_is_carried_too():
    b = Bench("Ø80", "10", "Ø6 THRU", "Ø60 ±0.2")
    turned = b.turned({"length": "#2", "diameter": "#1"})
    hole = b.hole(f"{turned}/a.end/side", placement="circle", circle="#4", diameter="#3")
    b.step(Ring, of=(hole,), count="6")
    content = reading.keep(b.content, Kept(id="", what="area", faces=(FaceRef(f"{turned}/a.od/side"),)))
    content = reading.keep(content, Kept(id="", what="on a circle of", faces=(FaceRef(f"{hole}/0/side"),)))
    area, circle = carried(content, "kept", "m1"), carried(content, "kept", "m2")
    assert (area.kind, circle.kind) == ("area", "diameter")
    assert area.made == pytest.approx(math.pi * 80 * 10)
    assert circle.worst == pytest.approx((59.8, 60.2))


def test_a_kept_distance_runs_along_the_machines_axes():
    b, turned = disc()
    ends = (FaceRef(f"{turned}/start/side"), FaceRef(f"{turned}/a.end/side"))
    content = set_zero(b.content, Zero(up="+x", right="+y"))
    name = next(t.what for t in measured_on(content, ends) if t.what.startswith("along"))
    assert name != "along Z", "what was Z is another axis now"
    found = carried(reading.keep(content, Kept(id="", what=name, faces=ends)), "kept", "m1")
    assert found.worst == pytest.approx((11.8, 12.2))


def measured_on(content, faces):
    body = build_and_prove(content).result.body
    frame = standing_of(content, body).frame
    return measured([body.face(body.find(f.name)[0]) for f in faces], (frame.x, frame.y, frame.normal), frame.origin)


def test_limits_at_which_the_part_cannot_be_built_are_told_and_so_are_sizes_that_are_not_carried():
    """A fillet that fits as drawn and not at its upper limit; a counterbore's own sizes."""
    b = Bench("20", "20", "10", "R9.5 ±1", "Ø4 THRU cbore Ø8 x 3 deep")
    plate = b.block("rect #1 x #2", depth="#3")
    b.fillet("#4", (f"{plate}/l1/side", f"{plate}/l2/side"), (f"{plate}/l3/side", f"{plate}/l2/side"))
    b.hole(f"{plate}/end", x="-4", y="0", diameter="#5", seat="counterbore", seat_diameter="#5.seat",
           seat_depth="#5.seat_depth")  # fmt: skip
    found = carried(b.content, "volume")
    assert found.left_out == (4,)
    assert found.others == (5,)
    assert 4 not in [s.number for s in found.shares]


def test_what_has_no_limits_or_no_solid_is_refused():
    b = Bench("28 REF", "Ø5")
    with pytest.raises(CannotCarry, match="limits"):
        carried(b.content, "formula", "12")
    with pytest.raises(CannotCarry, match="no whole solid"):
        carried(b.content, "volume")


def test_chains_that_are_watched_are_offered():
    b = Bench("28", "13", "9")
    content = reading.add_chain(b.content, Chain(overall=1, parts=(2, 3)))
    assert list(chains(content)) == ["#1-#2-#3"]
    content = edits.edit_callout(content, 1, "30")
    assert carried(content, "formula", chains(content)[0]).made == pytest.approx(8)
