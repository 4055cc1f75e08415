"""Building: reference volumes, names that hold, failures that explain themselves."""

import math

import msgspec
import pytest

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import set_stations, settle
from lathed_solid.core.kernel.ground.named import LostReference
from lathed_solid.core.kernel.measure.surfaces import mass_properties, measure_face
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import EdgeRef, FaceRef
from lathed_solid.core.route.rebuild import Cache, rebuild
from lathed_solid.core.route.steps.edges import Chamfer, Fillet
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.thread import Thread
from lathed_solid.core.sketch.make import draw
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.model import Plane, Station

START = FaceRef("s1/start/side")


def turned(*rows, content=None):
    content, k = edits.add_sketch(content or Content(), "profile", Plane("turning"))
    content, _ = edits.with_step(content, Revolve, sketch=k)
    return set_stations(content, k, tuple(rows))


def bar(diameter="40", length="50"):
    return turned(Station(id="a", to=length, diameter=diameter))


def with_steps(content, *steps):
    for kind, fields in steps:
        content, _ = edits.with_step(content, kind, **fields)
    return content


def built(content):
    result = rebuild(settle(content).content.plan())
    bad = [r for r in result.reports if r.state not in ("done", "suppressed")]
    assert not bad, bad
    return result.body


def volume(content):
    return mass_properties(built(content)).volume


def failure(content):
    result = rebuild(content.plan())
    return next(r for r in result.reports if r.state == "failed").message


BAR = math.pi * 20**2 * 50


def cylinder(d, depth):
    return math.pi * d**2 / 4 * depth


def tip(d, angle=118):
    return math.pi * (d / 2) ** 3 / math.tan(math.radians(angle / 2)) / 3


def frustum(d1, d2, h):
    return math.pi * h / 12 * (d1**2 + d1 * d2 + d2**2)


#: Steps on a Ø40 x 50 bar -> volume in closed form.
SOLIDS = {
    "bar": ([], BAR),
    "through hole": ([(Hole, {"face": START, "diameter": "10"})], BAR - cylinder(10, 50)),
    "blind, 118° tip": (
        [(Hole, {"face": START, "diameter": "10", "extent": "depth", "depth": "20"})],
        BAR - cylinder(10, 20) - tip(10),
    ),
    "blind, flat": (
        [(Hole, {"face": START, "diameter": "10", "extent": "depth", "depth": "20", "tip": ""})],
        BAR - cylinder(10, 20),
    ),
    "counterbored, depth from the top": (
        [
            (
                Hole,
                {
                    "face": START,
                    "diameter": "10",
                    "extent": "depth",
                    "depth": "20",
                    "tip": "",
                    "seat": "counterbore",
                    "seat_diameter": "16",
                    "seat_depth": "6",
                },
            )
        ],
        BAR - cylinder(10, 14) - cylinder(16, 6),
    ),
    "countersunk": (
        [(Hole, {"face": START, "diameter": "10", "seat": "countersink", "seat_diameter": "16", "seat_angle": "90°"})],
        BAR - cylinder(10, 47) - frustum(16, 10, 3),
    ),
    "tapped at drill size": (
        [(Hole, {"face": START, "thread": "M8", "extent": "depth", "depth": "20", "tip": "", "thread_depth": "15"})],
        BAR - cylinder(6.75, 20),
    ),
    "hole at a point": (
        [(Hole, {"face": START, "placement": "point", "x": "5", "y": "-3", "diameter": "8"})],
        BAR - cylinder(8, 50),
    ),
    "ring of six": (
        [
            (Hole, {"face": START, "placement": "circle", "circle": "28", "angle": "15°", "diameter": "5"}),
            (Ring, {"of": ("s2",), "count": "6"}),
        ],
        BAR - 6 * cylinder(5, 50),
    ),
    "ring over part of a turn": (
        [
            (Hole, {"face": START, "placement": "circle", "circle": "28", "diameter": "5"}),
            (Ring, {"of": ("s2",), "count": "4", "total": "90°"}),
        ],
        BAR - 4 * cylinder(5, 50),
    ),
    "chamfered edge": (
        [(Chamfer, {"edges": (EdgeRef("s1/start/side", "s1/a.od/side"),), "size": "2"})],
        BAR - cylinder(40, 2) + frustum(36, 40, 2),
    ),
    "filleted edge": (
        [(Fillet, {"edges": (EdgeRef("s1/a.end/side", "s1/a.od/side"),), "radius": "3"})],
        # Pappus: the corner left outside the arc, 9 (1 - pi/4), turns at its centroid.
        BAR - 2 * math.pi * ((20 - 1.5) * 9 - (20 - 3 + 4 * 3 / (3 * math.pi)) * 9 * math.pi / 4),
    ),
    "thread changes nothing": (
        [(Thread, {"face": FaceRef("s1/a.od/side"), "note": "M40x2", "length": "20"})],
        BAR,
    ),
}


@pytest.mark.parametrize("name", SOLIDS)
def test_volumes_in_closed_form(name):
    steps, expected = SOLIDS[name]
    assert volume(with_steps(bar(), *steps)) == pytest.approx(expected, rel=1e-6)


def square_on(plane, x0, y0, x1, y1, **fields):
    content, k = edits.add_sketch(bar(), "square", plane)
    content = edits.set_sketch(content, draw.add_rectangle(content.sketch(k), Spot(x0, y0), Spot(x1, y1)))
    return edits.with_step(content, Extrude, sketch=k, **fields)[0]


def test_extrudes_add_and_cut_to_depth_and_through():
    end = Plane("end")
    assert volume(square_on(end, -5, -5, 5, 5)) == pytest.approx(BAR - 100 * 50, rel=1e-9)
    pocket = square_on(end, -5, -5, 5, 5, extent="depth", direction="forward", depth="7")
    assert volume(pocket) == pytest.approx(BAR - 700, rel=1e-9)
    boss = square_on(end, -5, -5, 5, 5, mode="add", extent="depth", direction="backward", depth="7")
    assert volume(boss) == pytest.approx(BAR + 700, rel=1e-9)
    raised = square_on(
        Plane("end", offset="50"), -5, -5, 5, 5, mode="add", extent="depth", direction="forward", depth="4 mm + 3"
    )
    assert volume(raised) == pytest.approx(BAR + 700, rel=1e-9)
    slot = square_on(Plane("side", angle="30°"), 10, -25, 20, 25, direction="both")
    assert "2 separate pieces" in failure(slot)


def test_reference_parts(arbor, flange):
    for content, stated in ((arbor, 39_774.28), (flange, 123_163.11)):
        shown = build_and_prove(content)
        assert shown.proof.mass.volume == pytest.approx(stated, rel=1e-6)
        assert shown.result.body.unnamed() == []
    first = rebuild(arbor.plan(), until="s1")
    assert first.reports[0].volume == pytest.approx(40_607.26, rel=1e-6)


#: Changes of numbers that must leave every reference where it was.
CHANGES = {
    "longer, thicker": {2: "24", 5: "26", 6: "Ø22", 7: "98", 10: "106", 14: "150", 16: "170", 20: "Ø5 THRU at 75"},
    "smaller hole": {19: "M5 - 6H 12 deep drill Ø4.2 dp 15 csk Ø5.6 x 90°"},
    "bigger collar": {9: "Ø44", 8: "R2", 11: "2x 1 x 45°"},
}


@pytest.mark.parametrize("name", CHANGES)
def test_names_hold_through_changes(arbor, name):
    before = built(arbor)
    content = arbor
    for number, note in CHANGES[name].items():
        content = edits.edit_callout(content, number, note)
    after = built(content)
    assert {n for names in after.names.values() for n in names} == {n for names in before.names.values() for n in names}
    shown = build_and_prove(settle(content).content)
    assert all(line.mark in ("in", "near") for line in shown.proof.lines), [
        line for line in shown.proof.lines if line.mark not in ("in", "near")
    ]


def test_names_hold_through_counts_and_the_order_of_independent_steps(flange):
    content = edits.edit_callout(flange, 10, "8x Ø5.5 THRU cbore Ø10 x 5.4 deep on Ø98 first at 10°")
    content = edits.edit_callout(content, 11, "5x Ø18 THRU on Ø66 first at 30°")
    content = edits.move_step(content, "s7", 4)  # lightening holes before screw holes
    content = edits.move_step(content, "s10", 2)  # the keyway right after the bore
    shown = build_and_prove(content)
    assert [r.state for r in shown.result.reports] == ["done"] * 10
    assert {line.mark for line in shown.proof.lines} <= {"in", "near"}
    count = next(line for line in shown.proof.lines if (line.number, line.key) == (10, "count"))
    assert count.measured == 8


def test_edges_and_vertices_are_found_by_their_faces(arbor):
    body = built(arbor)
    (edge,) = body.edges_between("s1/c.end/side", "s1/d.left/side")
    assert set(body.edge_names(edge)) == {"s1/c.end/side", "s1/d.left/side"}
    flat = "s4/floor/side"
    corners = body.vertices_where(flat, "s4/left/side", "s1/c.od/side")
    assert len(corners) == 2
    with pytest.raises(LostReference):
        body.find("s4/nothing/side")


def test_pieces_of_a_split_face_keep_their_order():
    content = square_on(Plane("side"), 20, 18, 30, 25)
    for half in ("20", "17"):
        longer = edits.set_sketch(content, msgspec.structs.replace(content.sketch("k2"), name=half))
        body = built(longer)
        assert measure_face(body.face(body.find("s2/l4/side")[0])).center[2] == pytest.approx(20)
        assert measure_face(body.face(body.find("s2/l2/side")[0])).center[2] == pytest.approx(30)


def test_a_lost_reference_says_what_it_was(flange):
    shown = build_and_prove(edits.remove_step(flange, "s2"))
    report = next(r for r in shown.result.reports if r.state == "failed")
    assert report.id == "s3"
    assert report.lost
    assert "bore edge at Z 0" in report.message
    assert "Pick it again" in report.message
    states = [r.state for r in shown.result.reports]
    assert states == ["done", "failed"] + ["waiting"] * 7
    assert shown.proof.mass.volume == pytest.approx(155_848.128, rel=1e-6)  # the last good solid


#: Steps on the bar that must fail -> words of the message.
FAILURES = {
    "bigger than its face": ((Hole, {"face": START, "diameter": "44"}), "does not fit its face Ø40"),
    "off its face": (
        (Hole, {"face": START, "placement": "circle", "circle": "90", "diameter": "4"}),
        "does not fit its face",
    ),
    "no face": ((Hole, {"diameter": "4"}), "Pick the face"),
    "round face": ((Hole, {"face": FaceRef("s1/a.od/side"), "diameter": "4"}), "is not flat"),
    "no size": ((Hole, {"face": START}), "no diameter yet"),
    "zero": ((Hole, {"face": START, "diameter": "0"}), "must be above zero"),
    "negative": ((Hole, {"face": START, "diameter": "5", "extent": "depth", "depth": "-3"}), "must be above zero"),
    "nonsense": ((Hole, {"face": START, "diameter": "five"}), "Diameter: “f” does not fit"),
    "seat too small": (
        (Hole, {"face": START, "diameter": "9", "seat": "counterbore", "seat_diameter": "8", "seat_depth": "2"}),
        "not wider",
    ),
    "thread deeper than drill": (
        (Hole, {"face": START, "thread": "M6", "extent": "depth", "depth": "10", "thread_depth": "14"}),
        "the drill only 10",
    ),
    "misses": (
        (Hole, {"face": FaceRef("s1/a.od/side"), "placement": "radial", "along": "70", "diameter": "4"}),
        "misses",
    ),
    "chamfer too big": (
        (Chamfer, {"edges": (EdgeRef("s1/start/side", "s1/a.od/side"),), "size": "60"}),
        "The largest that works is about",
    ),
    "no edges": ((Fillet, {"radius": "1"}), "No edge is picked"),
    "lost": ((Hole, {"face": FaceRef("s9/gone", "the old boss"), "diameter": "4"}), "It was: the old boss"),
    "wrong thread face": ((Thread, {"face": FaceRef("s1/a.od/side"), "note": "M8"}), "needs a face of about Ø8"),
    "ring of nothing": ((Ring, {"count": "4"}), "Pick the step to repeat"),
    "ring of one": ((Ring, {"of": ("s1",), "count": "1"}), "at least 2"),
    "no sketch": ((Extrude, {}), "no sketch"),
}


@pytest.mark.parametrize("name", FAILURES)
def test_failures_explain_themselves(name):
    step, words = FAILURES[name]
    assert words in failure(with_steps(bar(), step))


def test_a_profile_across_the_axis_is_refused():
    content, k = edits.add_sketch(Content(), "profile", Plane("turning"))
    content = edits.set_sketch(content, draw.add_rectangle(content.sketch(k), Spot(0, -4), Spot(20, 10)))
    content, _ = edits.with_step(content, Revolve, sketch=k)
    assert "crosses the turning axis" in failure(content)
    content = edits.set_sketch(content, draw.delete(content.sketch(k), ["l2"]))
    assert "open" in failure(content)


def test_unchanged_steps_come_from_the_cache(flange):
    cache, ran = Cache(), []
    rebuild(flange.plan(), cache)
    rebuild(flange.plan(), cache, starting=lambda s: ran.append(s.id))
    assert ran == []
    last = edits.edit_callout(flange, 14, "6")
    rebuild(settle(last).content.plan(), cache, starting=lambda s: ran.append(s.id))
    assert ran == ["s10"]
    ran.clear()
    renamed = edits.change_step(flange, "s5", name="another name")
    rebuild(renamed.plan(), cache, starting=lambda s: ran.append(s.id))
    assert ran == []
    off = edits.change_step(flange, "s4", suppressed=True)
    result = rebuild(off.plan(), cache, starting=lambda s: ran.append(s.id))
    assert ran == ["s5", "s6", "s7", "s8", "s9", "s10"]
    assert result.reports[3].state == "suppressed"
