"""Symmetry by faces: found, not found, and nearly there with the hole that is off, on thirty plates and the examples."""

import math
import random

import pytest

from lathed_solid.core.job import storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.kernel.cut.boolean import combine
from lathed_solid.core.kernel.form.outline import FullCircle, Segment, flat_face
from lathed_solid.core.kernel.form.sweep import prism
from lathed_solid.core.kernel.ground.geometry import Frame
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.plan.symmetry import main_axis, symmetries
from lathed_solid.core.route.rebuild import rebuild

from ...conftest import EXAMPLES

FLAT = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def plate(holes, width=80.0, depth=50.0, thick=10.0):
    """A plate about zero with round holes ``(x, y, radius)`` through it."""
    corners = [(-width / 2, -depth / 2), (width / 2, -depth / 2), (width / 2, depth / 2), (-width / 2, depth / 2)]
    loop = tuple(Segment(f"l{k}", a, corners[(k + 1) % 4]) for k, a in enumerate(corners))
    body = prism(flat_face(loop, (), FLAT), (0.0, 0.0, thick), "p")
    tools = [
        prism(flat_face((FullCircle("h", (x, y), r),), (), FLAT), (0.0, 0.0, thick), f"h{k}")
        for k, (x, y, r) in enumerate(holes)
    ]
    return combine("cut", body, tools) if tools else body


def paired(rng, many):
    """Holes in pairs about the plane across X, clear of each other and of that plane."""
    found = []
    while len(found) < 2 * many:
        x, y, r = rng.uniform(8, 34), rng.uniform(-18, 18), rng.choice((2.0, 2.5, 3.3))
        if all(math.hypot(x - a, y - b) > r + s + 1 for a, b, s in found):
            found += [(x, y, r), (-x, y, r)]
    return found


def across_x(body):
    return [s for s in symmetries(measure_faces(body)) if s.order == 1 and abs(s.way[0]) > 0.999]


@pytest.mark.parametrize("seed", range(10))
def test_a_mirror_plane_is_found(seed):
    rng = random.Random(seed)
    (found,) = across_x(plate(paired(rng, rng.randrange(2, 5))))
    assert found.state == "exact" and found.faces == ()
    assert found.place == pytest.approx((0, 0, 0), abs=1e-6)


@pytest.mark.parametrize("seed", range(10))
def test_one_hole_off_by_five_hundredths_is_told_as_that_hole(seed):
    rng = random.Random(100 + seed)
    holes = paired(rng, rng.randrange(3, 6))
    x, y, r = holes[0]
    turn = rng.uniform(0, 2 * math.pi)
    holes[0] = (x + 0.05 * math.cos(turn), y + 0.05 * math.sin(turn), r)
    surfaces = measure_faces(plate(holes))
    (found,) = [s for s in symmetries(surfaces) if s.order == 1 and abs(s.way[0]) > 0.999]
    assert found.state == "near" and found.gap == pytest.approx(0.05, abs=1e-6)
    off = {surfaces[i - 1].origin[:2] for i in found.faces}
    assert len(off) == 2 and all(math.hypot(abs(a) - x, b - y) < 0.051 for a, b in off), "it and its partner"


@pytest.mark.parametrize("seed", range(10))
def test_none_is_told_where_the_holes_lie_anyhow(seed):
    rng = random.Random(200 + seed)
    holes = []
    while len(holes) < 7:
        x, y, r = rng.uniform(-34, 34), rng.uniform(-18, 18), 2.5
        if all(math.hypot(x - a, y - b) > 7 and math.hypot(x + a, y - b) > 1 for a, b, _ in holes) and abs(x) > 1:
            holes.append((x, y, r))
    assert across_x(plate(holes)) == []


def test_a_ring_of_six_is_alike_six_times_and_one_hole_less_breaks_it():
    ring = [(20 * math.cos(k * math.pi / 3), 20 * math.sin(k * math.pi / 3), 2.0) for k in range(6)]
    middle = (0.0, 0.0, 6.0)
    found = symmetries(measure_faces(plate([middle, *ring], 60.0, 60.0)))
    turns = {s.order: s for s in found if s.order > 1}
    assert turns[2].state == "exact", "a square plate with six holes comes to itself after half a turn only"
    assert turns[6].state == "broken" and len(turns[6].faces) == 4, "its four sides"
    short = {s.order: s for s in symmetries(measure_faces(plate([middle, *ring[:5]], 60.0, 60.0))) if s.order > 1}
    assert short[2].state == "broken" and len(short[2].faces) == 1


@pytest.mark.parametrize(
    ("name", "way", "place"),
    [
        ("skp-01", (1, 0, 0), (0, 0, 0)),
        ("skp-02", (0, 1, 0), (0, 0, 0)),
        ("skp-03", (0, 1, 0), (0, 60.325, 0)),
        ("skp-04", (0, 0, 1), (0, 0, 0)),
        ("skp-07", None, None),
    ],
)
def test_the_examples(tmp_path, name, way, place):
    store = Store(tmp_path)
    content = storage.load(EXAMPLES / f"{name}.lathed", store).job.content
    surfaces = measure_faces(rebuild(content.plan(store.find)).body)
    exact = [s for s in symmetries(surfaces) if s.state == "exact"]
    if way is None:
        assert exact == []
        return
    (found,) = exact
    assert found.order == 1
    assert [abs(c) for c in found.way] == pytest.approx(way, abs=1e-9)
    assert found.place == pytest.approx(place, abs=1e-6)


def test_the_main_axis_is_that_of_most_round_surface(arbor):
    foot, way = main_axis(measure_faces(rebuild(arbor.plan()).body))
    assert foot == pytest.approx((0, 0, 0), abs=1e-9) and way == pytest.approx((0, 0, 1))
    assert main_axis(measure_faces(plate([]))) is None
