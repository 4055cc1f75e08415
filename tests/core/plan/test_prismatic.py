"""A flat part gives its outline, thickness and holes back: twenty plates through STEP, and the base plate."""

import math
import random

import pytest

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.drafted import flat_route
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.kernel.cut.boolean import combine
from lathed_solid.core.kernel.files.reading import read_solids
from lathed_solid.core.kernel.files.step import write_step
from lathed_solid.core.kernel.form.outline import ArcSegment, FullCircle, Segment, flat_face
from lathed_solid.core.kernel.form.sweep import moved, prism
from lathed_solid.core.kernel.ground.geometry import Frame
from lathed_solid.core.kernel.ground.placing import turning_about
from lathed_solid.core.kernel.measure.boxes import close_box
from lathed_solid.core.kernel.measure.flat_outline import flat_outline
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.plan.prismatic import LYING, lying, prism_of
from lathed_solid.core.route.rebuild import rebuild

from ...conftest import EXAMPLES


def at(z):
    return Frame((0.0, 0.0, z), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def outline(width, depth, radius):
    """A rectangle with rounded corners, from zero."""
    corners, made = [(0.0, 0.0), (width, 0.0), (width, depth), (0.0, depth)], []
    ways = [(1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0)]
    for k, (x, y) in enumerate(corners):
        (ux, uy), (vx, vy) = ways[k - 1], ways[k]
        into, out = (x - radius * ux, y - radius * uy), (x + radius * vx, y + radius * vy)
        middle = (into[0] + radius * vx, into[1] + radius * vy)
        over = radius * (1 - math.sqrt(0.5))
        through = (x - over * (ux - vx), y - over * (uy - vy))
        assert math.dist(through, middle) == pytest.approx(radius)
        made.append(ArcSegment(f"a{k}", into, through, out))
        nx, ny = corners[(k + 1) % 4]
        made.append(Segment(f"l{k}", out, (nx - radius * vx, ny - radius * vy)))
    return tuple(made)


def cylinder(x, y, r, low, high, name):
    return prism(flat_face((FullCircle("h", (x, y), r),), (), at(low)), (0.0, 0.0, high - low), name)


def plate(rng):
    """A plate with holes of up to three sizes: through, blind with a flat floor, counterbored. The body, and what it has."""
    width, depth, thick = rng.uniform(70, 120), rng.uniform(50, 80), rng.uniform(8, 20)
    body = prism(flat_face(outline(width, depth, rng.uniform(3, 10)), (), at(0.0)), (0.0, 0.0, thick), "p")
    sizes, tools, there = rng.sample([2.0, 2.5, 3.3, 4.0], rng.randrange(1, 4)), [], {}
    places = [(x, y) for x in (18.0, 30.0, 42.0, 54.0) for y in (16.0, 28.0, 40.0) if y < depth - 12]
    rng.shuffle(places)
    for r in sizes:
        kind, many = rng.choice(("through", "blind", "seat")), rng.randrange(1, 4)
        deep = round(rng.uniform(0.3, 0.6) * thick, 3)
        for _ in range(many):
            x, y = places.pop()
            tools.append(cylinder(x, y, r, 0.0 if kind != "blind" else thick - deep, thick, f"h{len(tools)}"))
            if kind == "seat":
                tools.append(cylinder(x, y, r + 1.5, thick - deep, thick, f"h{len(tools)}"))
            there.setdefault((kind, round(2 * r, 6)), set()).add((x, y))
    return combine("cut", body, tools), there, thick


#: What brings a part that is flat along Z to another axis: about which way, and how far.
TURNS = {"z": ((0.0, 0.0, 1.0), 0.0), "y": ((1.0, 1.0, 1.0), -2 * math.pi / 3), "x": ((1.0, 0.0, 1.0), math.pi)}


@pytest.mark.parametrize("seed", range(20))
def test_a_plate_comes_back_through_step(tmp_path, seed):
    body, there, thick = plate(random.Random(seed))
    axis = ("z", "y", "x")[seed % 3]
    body = moved(body, turning_about((0.0, 0.0, 0.0), *TURNS[axis]), ("", ""))
    write_step(body, tmp_path / "a.step", "a", (0.5, 0.5, 0.5))
    (read,) = read_solids((tmp_path / "a.step").read_bytes(), "a.step", "s1")
    faces = measure_faces(read.body)
    assert lying(faces) == axis
    found = prism_of(faces, flat_outline(read.body, LYING[axis]), Content().ledger())
    assert found.thickness == pytest.approx(thick) and len(found.outline.pieces) == 8 and found.aside == ()
    kinds = {
        ("blind" if h.size.depth is not None else "seat" if h.size.seat else "through", h.size.diameter): h
        for h in found.holes
    }
    assert {k: {(round(x, 6), round(y, 6)) for x, y in h.places} for k, h in kinds.items()} == there
    drafted = rebuild(flat_route(Content(), found).plan())
    assert [r.message for r in drafted.reports if r.state == "failed"] == []
    assert drafted.body.volume == pytest.approx(body.volume, rel=1e-6)


def test_the_base_plate_is_drafted_by_its_own_callouts(tmp_path):
    """Outline, fixing and tapped holes come back; the pocket and the slot are told as no part of it."""
    store = Store(tmp_path)
    content = edits.take_route(storage.load(EXAMPLES / "skp-03.lathed", store).job.content, 0)
    body = rebuild(content.plan()).body
    found = prism_of(measure_faces(body), flat_outline(body), content.ledger())
    assert found.thickness == pytest.approx(0.625 * 25.4) and len(found.outline.pieces) == 8
    assert {(h.callout, len(h.places)) for h in found.holes} == {(14, 4), (17, 6)}
    kinds = {measure_faces(body)[i - 1].kind for i in found.aside}
    assert kinds == {"plane", "cylinder"} and len(found.aside) == 13, (
        "pocket: floor, four walls, four corners; slot: four"
    )
    drafted = flat_route(content, found)
    shown = build_and_prove(drafted)
    marks = {n: shown.proof.mark_of(n) for n in (14, 17)}
    assert marks == {14: "in", 17: "in"}
    more = shown.proof.mass.volume - body.volume
    pocket = (3.125 * 1.875 - (4 - math.pi) * 0.1875**2) * 0.28
    slot = (1.25 * 0.3125 + math.pi * 0.3125**2 / 4) * 0.625
    assert more / 25.4**3 == pytest.approx(pocket + slot, rel=1e-6)


def test_the_bracket_lies_along_x(tmp_path):
    """Its side view through STEP: base, wall and gusset are one outline, 70 thick; what is drilled crosswise is aside."""
    store = Store(tmp_path)
    content = storage.load(EXAMPLES / "skp-07.lathed", store).job.content
    body = rebuild(content.plan(store.find)).body
    write_step(body, tmp_path / "a.step", "a", (0.5, 0.5, 0.5))
    (read,) = read_solids((tmp_path / "a.step").read_bytes(), "a.step", "s1")
    faces = measure_faces(read.body)
    assert lying(faces) == "x"
    found = prism_of(faces, flat_outline(read.body, LYING["x"]), content.ledger())
    assert (len(found.outline.pieces), found.thickness, found.holes) == (7, pytest.approx(70.0), ())
    drafted = flat_route(content, found)
    (plane,) = {drafted.sketch(s.sketch).plane for s in drafted.steps}
    assert (plane.base, plane.angle) == ("side", "270°")
    made = rebuild(drafted.plan()).body
    assert [v for end in close_box(made.shape) for v in end] == pytest.approx(
        [v for end in close_box(body.shape) for v in end], abs=1e-6
    )


def test_a_round_plate_has_one_circle():
    body = prism(flat_face((FullCircle("c", (5.0, 6.0), 20.0),), (), at(2.0)), (0.0, 0.0, 7.0), "p")
    found = prism_of(measure_faces(body), flat_outline(body), Content().ledger())
    assert rebuild(flat_route(Content(), found).plan()).body.volume == pytest.approx(math.pi * 400 * 7)
