"""Volumes in closed form for every way a step can be told: part turns, ends of extrudes, holes at sketch points, rows,
grids, mirrors. Each within 1e-6, each with the faces it names.
"""

import math
from pathlib import Path

import pytest

from lathed_solid.core.callout import Ledger
from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import settle
from lathed_solid.core.prove.binding import Binding
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.gauges import Position
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.points import hole_points
from lathed_solid.core.route.rebuild import rebuild
from lathed_solid.core.route.registry import kind_of
from lathed_solid.core.route.settling import dimension_values, settle_sketch
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.mirror import Mirror
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.row import Row
from lathed_solid.core.sketch.explain.diagnose import freedom
from lathed_solid.core.sketch.model import Plane, Sketch
from lathed_solid.core.sketch.typed.commands import read_command

EXAMPLES = Path(__file__).parents[2] / "examples"
LEDGER = Ledger([])
#: A plate 80 x 50 x 12 with its top at zero, zero in its front left corner.
PLATE = 80 * 50 * 12
TOP = FaceRef("s1/end")


def sketch(id_, *texts, base="end", offset="0"):
    made = Sketch(id=id_, name=id_, plane=Plane(base, offset))
    for text in texts:
        made = read_command(text, LEDGER, made.turned, made).draw(made)
    return settle_sketch(made, LEDGER)


def plate(*steps, sketches=()):
    content = Content(sketches=(sketch("k1", "rect 80 x 50 at 40,25"), *sketches))
    content = edits.add_step(
        content, Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="12", direction="backward")
    )
    for step in steps:
        content = edits.add_step(content, step)
    return content


def result(content):
    return rebuild(content.plan())


def volume(content):
    found = result(content)
    assert [r.message for r in found.reports if r.state == "failed"] == []
    assert not found.body.unnamed()
    return found.body.volume


def failure(content):
    return next(r.message for r in result(content).reports if r.state == "failed")


def bore(d, depth):
    return math.pi * d * d / 4 * depth


PAD = sketch("k2", "rect 20 x 10 at 20,25")
HOLE = Hole(id="s2", face=TOP, placement="point", x="10", y="10", diameter="6")


def extrude(**fields):
    return plate(Extrude(id="s2", sketch="k2", **fields), sketches=(PAD,))


EXTRUDES = {
    "cut to a depth": (extrude(extent="depth", depth="5", direction="backward"), PLATE - 200 * 5),
    "cut through all, both ways": (extrude(), PLATE - 200 * 12),
    "cut by two depths": (extrude(extent="two", depth="30", depth2="4"), PLATE - 200 * 4),
    "added by two depths": (extrude(mode="add", extent="two", depth="7", depth2="3"), PLATE + 200 * 7),
    "added both ways equally": (extrude(mode="add", extent="depth", depth="10"), PLATE + 200 * 5),
    "cut to the far face": (extrude(extent="face", face=FaceRef("s1/start")), PLATE - 200 * 12),
    "cut short of the far face": (extrude(extent="face", face=FaceRef("s1/start"), gap="-3"), PLATE - 200 * 9),
    "cut past the far face": (extrude(extent="face", face=FaceRef("s1/start"), gap="2"), PLATE - 200 * 12),
    "keep only the inside": (extrude(mode="keep"), 200 * 12),
    "keep the inside to a depth": (extrude(mode="keep", extent="depth", depth="5", direction="backward"), 200 * 5),
}


@pytest.mark.parametrize("name", EXTRUDES)
def test_ends_of_extrudes(name):
    content, expected = EXTRUDES[name]
    assert volume(content) == pytest.approx(expected, rel=1e-6)


def test_ends_that_cannot_be_say_why():
    assert "does not meet" in failure(extrude(extent="face", face=FaceRef("s1/l1/side")))
    assert "own plane" in failure(extrude(extent="face", face=FaceRef("s1/end")))
    assert "Pick the face" in failure(extrude(extent="face"))
    first = Content(sketches=(PAD,))
    assert "no body yet" in failure(edits.add_step(first, Extrude(id="s1", sketch="k2", mode="keep")))


# --- revolves
RING = sketch("k1", "rect 10,20 30,40", base="turning")
WHOLE = math.pi * (20**2 - 10**2) * 20


def turned(*more, **fields):
    content = Content(sketches=(RING, sketch("k2", "rect 15,36 25,44", base="turning")))
    content = edits.add_step(content, Revolve(id="s1", sketch="k1", **fields))
    for step in more:
        content = edits.add_step(content, step)
    return content


REVOLVES = {
    "all round": (turned(), WHOLE),
    "a quarter": (turned(turn="90°"), WHOLE / 4),
    "a third, backwards": (turned(turn="120°", ways="backward", start="30°"), WHOLE / 3),
    "half, both ways": (turned(turn="180°", ways="both"), WHOLE / 2),
    "a groove": (turned(Revolve(id="s2", sketch="k2", mode="cut")), WHOLE - math.pi * (20**2 - 18**2) * 10),
    "a groove over part of a turn": (
        turned(Revolve(id="s2", sketch="k2", mode="cut", turn="45°", start="20°")),
        WHOLE - math.pi * (20**2 - 18**2) * 10 / 8,
    ),
    "a collar over part of a turn": (
        turned(Revolve(id="s2", sketch="k2", turn="60°")),
        WHOLE + math.pi * (22**2 - 20**2) * 10 / 6,
    ),
}


@pytest.mark.parametrize("name", REVOLVES)
def test_revolves(name):
    content, expected = REVOLVES[name]
    assert volume(content) == pytest.approx(expected, rel=1e-6)


def test_a_part_of_a_turn_stands_where_it_is_told_and_has_two_ends():
    body = result(turned(turn="90°", start="0°")).body
    from lathed_solid.core.kernel.measure.surfaces import mass_properties

    c = mass_properties(body).center
    assert c[0] > 0
    assert c[1] == pytest.approx(c[0], rel=1e-9), "a quarter from 0° lies evenly about 45°"
    assert body.find("s1/start") != body.find("s1/end")
    assert "360° at most" in failure(turned(turn="400°"))
    assert "cut from" in failure(turned(mode="cut"))


# --- holes, rows, mirrors
def seated(**fields):
    return Hole(
        id="s2",
        face=TOP,
        placement="point",
        x="10",
        y="10",
        diameter="6",
        seat="counterbore",
        seat_diameter="11",
        seat_depth="5",
        **fields,
    )


SEATED = bore(6, 7) + bore(11, 5)
POINTS = sketch("k3", "point 10,10 70,10", "circle Ø4 at 40,40", "line 5,5 20,45")
COPIES = {
    "at sketch points": (plate(Hole(id="s2", face=TOP, placement="sketch", sketch="k3", diameter="6"), sketches=(POINTS,)), 3 * bore(6, 12)),
    "blind at sketch points": (
        plate(Hole(id="s2", face=TOP, placement="sketch", sketch="k3", diameter="6", extent="depth", depth="5", tip=""), sketches=(POINTS,)),
        3 * bore(6, 5),
    ),
    "a row": (plate(HOLE, Row(id="s3", of=("s2",), count="4", pitch="15")), 4 * bore(6, 12)),
    "a row the other way": (plate(Hole(id="s2", face=TOP, placement="point", x="70", y="10", diameter="6"), Row(id="s3", of=("s2",), count="3", pitch="-20")), 3 * bore(6, 12)),
    "a row with one left out": (plate(HOLE, Row(id="s3", of=("s2",), count="4", pitch="15", skip="3")), 3 * bore(6, 12)),
    "a grid": (plate(seated(), Row(id="s3", of=("s2",), count="3", pitch="20", count2="2", pitch2="25")), 6 * SEATED),
    "a grid with a hole left out": (plate(seated(), Row(id="s3", of=("s2",), count="3", pitch="20", count2="2", pitch2="25", skip="2/2")), 5 * SEATED),
    "a mirror": (plate(seated(), Mirror(id="s3", of=("s2",), offset="40")), 2 * SEATED),
    "a mirror midway between faces": (plate(seated(), Mirror(id="s3", of=("s2",), about="midway", face=FaceRef("s1/l1/side"), other=FaceRef("s1/l3/side"))), 2 * SEATED),
    "mirrored twice": (plate(seated(), Mirror(id="s3", of=("s2",), offset="40"), Mirror(id="s4", of=("s2", "s3"), about="xz", offset="25")), 4 * SEATED),
    "a ring of a row": (plate(Hole(id="s2", face=TOP, placement="point", x="40", y="25", diameter="2"), Row(id="s3", of=("s2",), count="2", pitch="10")), 2 * bore(2, 12)),
}  # fmt: skip


@pytest.mark.parametrize("name", COPIES)
def test_holes_rows_grids_and_mirrors(name):
    content, gone = COPIES[name]
    assert volume(content) == pytest.approx(PLATE - gone, rel=1e-6)


def test_added_material_is_repeated_too():
    pad = Extrude(id="s2", sketch="k2", mode="add", extent="depth", depth="4", direction="forward")
    assert volume(plate(pad, Mirror(id="s3", of=("s2",), offset="40"), sketches=(PAD,))) == pytest.approx(
        PLATE + 2 * 800
    )
    half = turned(Ring(id="s3", of=("s2",), count="3"))
    assert "missing" in failure(half)
    ribs = turned(Revolve(id="s2", sketch="k2", turn="20°"), Ring(id="s3", of=("s2",), count="4"))
    assert volume(ribs) == pytest.approx(WHOLE + 4 * math.pi * (22**2 - 20**2) * 10 / 18, rel=1e-6)


def test_copies_that_cannot_be_say_why():
    cases = {
        "at least two": Row(id="s3", of=("s2",), count="1", pitch="5"),
        "whole number": Row(id="s3", of=("s2",), count="2.5", pitch="5"),
        "all copies would lie": Row(id="s3", of=("s2",), count="3", pitch="0"),
        "are the same": Row(id="s3", of=("s2",), count="3", pitch="5", count2="2", pitch2="5", across="x"),
        "Pick the step": Row(id="s3", count="3", pitch="5"),
        "Pick the face to mirror": Mirror(id="s3", of=("s2",), about="face"),
        "not parallel": Mirror(
            id="s3", of=("s2",), about="midway", face=FaceRef("s1/l1/side"), other=FaceRef("s1/l2/side")
        ),
        "missing": Mirror(id="s3", of=("s9",)),
    }
    for words, step in cases.items():
        assert words in failure(plate(HOLE, step)), words
    off = Hole(id="s2", face=TOP, placement="sketch", sketch="k3", diameter="6")
    assert "misses the picked face" in failure(plate(off, sketches=(sketch("k3", "point 95,10"),)))
    assert "no points yet" in failure(plate(off, sketches=(sketch("k3", "line 0,0 5,5"),)))
    side = Hole(id="s2", face=FaceRef("s1/l1/side"), placement="sketch", sketch="k3", diameter="6")
    assert "misses the picked face" in failure(plate(side, sketches=(POINTS,)))


def test_hole_points_are_loose_points_and_centres():
    assert len(hole_points(POINTS)) == 3
    names = result(COPIES["at sketch points"][0]).body
    assert all(names.find(f"s2/{key}/side") for key in hole_points(POINTS))


# --- the base plate
@pytest.fixture(scope="module")
def base_plate():
    return storage.load(EXAMPLES / "skp-03.lathed").job.content


def test_the_base_plate_is_proved_in_every_number(base_plate):
    shown = build_and_prove(base_plate)
    assert shown.result.body.volume == pytest.approx(19.7770 * 25.4**3, rel=1e-4)
    assert shown.proof is not None
    bad = [(line.number, line.key, line.mark) for line in shown.proof.lines if line.mark not in ("in", "near")]
    assert bad == []
    assert {line.number for line in shown.proof.lines} == set(range(1, 22))
    assert not shown.proof.unexplained
    for sketch in base_plate.sketches:
        assert freedom(sketch, dimension_values(sketch, base_plate.ledger())).ways == 0, sketch.name


@pytest.mark.parametrize(
    ("number", "note", "inches"),
    [
        (5, "3 1/4", 3.25),
        (7, ".30", 0.3),
        (11, "3/8", 0.375),
        (20, "1 3/4", 1.75),
        (8, "4x R1/4", 0.25),
        (15, "7/8", 0.875),
    ],
)
def test_a_revised_number_moves_the_solid_and_stays_proved(base_plate, number, note, inches):
    content = settle(edits.edit_callout(base_plate, number, note))
    assert not content.problems
    shown = build_and_prove(content.content)
    assert [r.message for r in shown.result.reports if r.state == "failed"] == []
    assert all(line.mark in ("in", "near") for line in shown.proof.lines)
    measured = next(line.measured for line in shown.proof.lines if (line.number, line.key) == (number, ""))
    assert measured == pytest.approx(inches * 25.4, abs=1e-6)


def test_the_engraved_number_can_be_ticked_on(base_plate):
    content = edits.change_step(base_plate, base_plate.steps[-1].id, suppressed=False)
    shown = build_and_prove(content)
    assert shown.result.reports[-1].state == "done", shown.result.reports[-1].message
    assert 0 < 19.7770 * 25.4**3 - shown.result.body.volume < 0.02 * 25.4 * 600


def test_a_pocket_cut_too_shallow_is_out_of_limits(base_plate):
    pocket = base_plate.steps[1]
    wrong = edits.bind(
        edits.change_step(base_plate, pocket.id, depth=".2"), Binding(7, "", Position(f"{pocket.id}/start", "z"))
    )
    lines = {(line.number, line.key): line for line in build_and_prove(wrong).proof.lines}
    assert lines[7, ""].mark == "out"


def test_a_place_left_of_zero_keeps_its_whole_formula():
    made = sketch("k1", "rect 12 x 8 at -11,-9-4")
    middle = made.points()["p1"]
    assert (middle.x, middle.y) == pytest.approx((-11, -13))
    across = next(d for d in made.dimensions if d.kind == "across" and d.of[1] == "p1")
    assert across.sense * dimension_values(made, LEDGER)[across.id] == pytest.approx(-13)


def test_a_count_nobody_can_mean_is_refused_at_once(flange):
    """Neither the step nor what it claims is worked out copy by copy."""
    ring = next(s for s in flange.steps if isinstance(s, Ring))
    many = edits.change_step(flange, ring.id, count="1000000000")
    shown = build_and_prove(many)
    (failed,) = (r for r in shown.result.reports if r.state == "failed")
    assert failed.message == "A ring of 1000000000 is more than the 5000 that can be made."
    assert kind_of(ring).claims(many.step(ring.id), many.plan().view()) == []
