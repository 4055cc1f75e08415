"""Room for lightening holes, against closed form."""

import math

import pytest

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.room import RoomAsked, note_of, room_on
from lathed_solid.core.job.settle import settle
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.quantity import Style

from ..conftest import EXAMPLES
from .strangers.bench import Bench


@pytest.fixture(scope="module")
def flange():
    """SKP-02 without its lightening holes, and the name of its rim's floor at Z 13."""
    content = settle(storage.load(EXAMPLES / "skp-02.lathed").job.content).content
    for step in content.steps:
        if "ightening" in step.name:
            content = edits.change_step(content, step.id, suppressed=True)
    body = build_and_prove(content).result.body
    floor = next(s for s in measure_faces(body) if s.kind == "plane" and abs(s.origin[2] - 13) < 1e-6)
    return content, body.name_of(floor.index)


@pytest.mark.parametrize("many", [1, 6])
def test_between_hub_foot_and_step(flange, many):
    """Hub foot at radius 23, step at 54, a wall of 2: Ø27 on Ø77, for one hole and for six."""
    content, floor = flange
    found = room_on(content, RoomAsked(floor, 2.0, many)).found
    assert found.diameter == pytest.approx(27.0, abs=1e-6) and found.radius == pytest.approx(38.5, abs=1e-6)
    assert found.kept == pytest.approx(2.0, abs=1e-6)


def test_a_ring_whose_holes_hold_each_other(flange):
    """Sixteen: not hub and step but the neighbours and the screw holes bound them; the wall is kept all the same."""
    content, floor = flange
    found = room_on(content, RoomAsked(floor, 2.0, 16)).found
    between = 2 * found.radius * math.sin(math.pi / 16) - found.diameter
    assert found.diameter < 14 and found.kept >= 2.0 - 1e-6 and between >= 2.0 - 1e-6


def test_the_widest_place_of_a_plate():
    """80 x 50 with a bore Ø20 in its middle: from three sides and the bore, by hand."""
    bench = Bench("80", "50", "12", "Ø20 THRU")
    bench.block("rect #1 x #2", depth="#3")
    bench.hole("s1/end", diameter="#4", x="0", y="0")
    found = room_on(bench.content, RoomAsked("s1/end", 3.0)).found
    # the middle of the short side's half: x from the right side and the bore, on the long axis
    across = (40 - 10) / 2
    assert found.diameter >= 2 * (across - 3) - 1e-6
    x, y, z = found.place
    side, bore = min(40 - abs(x), 25 - abs(y)), math.hypot(x, y) - 10
    assert min(side, bore) - found.diameter / 2 == pytest.approx(3.0, abs=1e-5) == found.kept
    assert z == pytest.approx(12)
    assert side == pytest.approx(bore, abs=1e-5), "held from both"


def test_what_stands_on_the_floor_is_kept_clear_of():
    bench = Bench("60", "40", "10", "Ø24", "8")
    bench.block("rect #1 x #2", depth="#3")
    boss = bench.sketch("circle Ø#4 at -15,0", base="face", on="s1/end")
    bench.extrude(boss, "#5")
    found = room_on(bench.content, RoomAsked("s1/end", 2.0)).found
    x, y, _ = found.place
    assert math.hypot(x + 15, y) - 12 - found.diameter / 2 >= 2 - 1e-6
    assert found.diameter == pytest.approx(2 * (min(30 - x, 20 - abs(y)) - 2), abs=1e-5)
    zone = room_on(bench.content, RoomAsked("s1/end", 2.0, diameter=10.0)).zone
    assert zone.values == (10.0,) and zone.data
    assert room_on(bench.content, RoomAsked("s1/end", 2.0)).holes.values == (found.diameter,)


def test_nothing_fits_and_what_is_no_floor(flange):
    content, floor = flange
    assert room_on(content, RoomAsked(floor, 20.0, 6)).found is None
    body = build_and_prove(content).result.body
    turned = next(s for s in measure_faces(body) if s.kind == "cylinder")
    assert "flat" in room_on(content, RoomAsked(body.name_of(turned.index), 2.0)).words
    assert room_on(content, RoomAsked("s9/none", 2.0)).words


def test_every_hole_of_a_ring_keeps_the_wall_on_a_part_that_is_not_alike_all_round():
    """A disc Ø100 with a bore Ø14 at 36 on X: of three holes the one beside it decides for all."""
    bench = Bench("Ø100", "10", "Ø14 THRU", "36")
    bench.block("circle Ø#1 at 0,0", depth="#2")
    bench.hole("s1/end", diameter="#3", x="#4", y="0", counted="part")
    found = room_on(bench.content, RoomAsked("s1/end", 2.5, 3)).found
    middles = [
        (found.radius * math.cos(found.angle + k * 2 * math.pi / 3), found.radius * math.sin(found.angle + k * 2 * math.pi / 3))
        for k in range(3)
    ]  # fmt: skip
    walls = [math.hypot(x - 36, y) - 7 - found.diameter / 2 for x, y in middles]
    walls += [50 - math.hypot(x, y) - found.diameter / 2 for x, y in middles]
    walls += [2 * found.radius * math.sin(math.pi / 3) - found.diameter]
    assert min(walls) == pytest.approx(found.kept, abs=1e-6) and found.kept == pytest.approx(2.5, abs=1e-6)
    assert found.diameter > 35


def test_the_note_rounds_the_hole_down(flange):
    from lathed_solid.core.kernel.ground.figures import RoomFound

    found = RoomFound(26.99961, (0.0, 38.5, 13.0), 38.5, math.pi / 2, 2.0, 6)
    assert note_of(found, Style(), True) == "6x Ø26.999 THRU on Ø77 first at 30°"
    assert note_of(found._replace(many=1), Style("in"), True) == "Ø1.0629 THRU"
    content, _ = edits.add_callout(flange[0], note_of(found, Style(), True))
    assert {c.kind for c in content.ledger().reading(content.callouts[-1].number).characteristics} >= {
        "count",
        "diameter",
    }


def test_a_part_that_was_meshed_for_a_picture_before_is_looked_at_afresh(flange):
    """Coarse triangles beside fine ones would not close round a solid."""
    from lathed_solid.core.kernel.ground.picture import mesh
    from lathed_solid.core.route.rebuild import Cache, rebuild

    content, floor = flange
    cache = Cache()
    before = edits.change_step(content, content.steps[3].id, suppressed=True)
    mesh(rebuild(before.plan(), cache).body.shape, 0.3, 0.6)
    mesh(rebuild(content.plan(), cache).body.shape)
    found = room_on(content, RoomAsked(floor, 2.0, 6), cache).found
    assert found.diameter == pytest.approx(27.0, abs=1e-6)
