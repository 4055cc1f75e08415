"""Small solids with volumes known in closed form: every way to extrude, turn, drill and work edges, within 1e-6."""

import math

import pytest
from scipy.integrate import quad

from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.edges import Chamfer, Fillet
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.revolve import Revolve

from .parts import (
    BAR,
    BOTTOM,
    DRAFT,
    PAD,
    PLATE,
    ROUND,
    H,
    bar,
    bore,
    checked,
    cone,
    edge,
    plate,
    route,
    sketch,
    volume,
)


def frustum(a, b, h, lean=DRAFT):
    """A pyramid frustum: a x b at its root, leaned inward on all four sides over the height h."""
    c, d = a - 2 * h * lean, b - 2 * h * lean
    return h * (a * b + c * d + (a * d + b * c) / 2) / 3


def cut(**fields):
    return plate(Extrude(id="s2", sketch="k2", **fields), sketches=(PAD,))


def two_walls(*more, **fields):
    """A box 40 x 30 x 20 with a slot 10 wide milled through along Y: walls of 15 either side."""
    box = Extrude(id="s1", sketch="k1", mode="add", extent="depth", depth="20", direction="forward")
    slot = Extrude(id="s2", sketch="k2", extent="two", depth="20", depth2="0.001")
    return route(
        box,
        slot,
        *more,
        sketches=(
            sketch("k1", "rect 40 x 30 at 20,15"),
            sketch("k2", "rect 10 x 40 at 20,15", offset="5"),
            *fields.get("sketches", ()),
        ),
    )


WALLED = 40 * 30 * 20 - 10 * 30 * 15.001
SIDE = sketch("k3", "circle Ø8 at -15,14", base="face", on="s1/l4/side")

EXTRUDES = {
    "a draft forward": (
        cut(mode="add", extent="depth", depth="8", direction="forward", draft="5°"),
        PLATE + frustum(20, 10, 8),
    ),
    "a draft backward, cut": (
        cut(extent="depth", depth="6", direction="backward", draft="5°"),
        PLATE - frustum(20, 10, 6),
    ),
    "two drafts": (
        cut(mode="new", extent="two", depth="8", depth2="4", draft="5°", draft2="2°"),
        PLATE + frustum(20, 10, 8) + frustum(20, 10, 4, math.tan(math.radians(2))),
    ),
    "a draft outward": (
        cut(mode="add", extent="depth", depth="8", direction="forward", draft="-5°"),
        PLATE + frustum(20, 10, 8, -DRAFT),
    ),
    "a thin wall inside": (
        cut(mode="add", extent="depth", depth="5", direction="forward", thin="2"),
        PLATE + (200 - 16 * 6) * 5,
    ),
    "a thin wall outside": (
        cut(mode="add", extent="depth", depth="5", direction="forward", thin="2", thin_side="outside"),
        PLATE + (24 * 14 - 200) * 5,
    ),
    "a thin wall both sides": (
        cut(mode="add", extent="depth", depth="5", direction="forward", thin="2", thin_side="both"),
        PLATE + (22 * 12 - 18 * 8) * 5,
    ),
    "a thin wall along an open line": (
        plate(
            Extrude(id="s2", sketch="k2", mode="add", extent="depth", depth="5", direction="forward", thin="2"),
            sketches=(sketch("k2", "line 10,10 40,10 40,30"),),
        ),
        PLATE + (30 * 2 + 20 * 2 - 4) * 5,
    ),
    "a body of its own": (cut(mode="new", extent="depth", depth="5", direction="forward"), PLATE + 200 * 5),
    "starting off the plane": (
        cut(mode="new", extent="depth", depth="5", direction="forward", start="3"),
        PLATE + 200 * 5,
    ),
    "starting at the far face": (
        cut(extent="depth", depth="5", direction="forward", begin=BOTTOM),
        PLATE - 200 * 5,
    ),
    "starting off a face": (
        cut(extent="depth", depth="5", direction="forward", begin=BOTTOM, start="-3"),
        PLATE - 200 * 2,
    ),
    "to a corner": (
        cut(extent="corner", corner=(FaceRef("s1/l1/side"), FaceRef("s1/l2/side"), BOTTOM)),
        PLATE - 200 * 12,
    ),
    "to a slanted face": (
        plate(
            Chamfer(id="s2", edges=(edge("s1/start", "s1/l1/side"),), form="legs", size="40", size2="10"),
            Extrude(id="s3", sketch="k2", extent="face", face=FaceRef("s2/e0/side"), direction="backward"),
            sketches=(PAD,),
        ),
        PLATE - 80 * 0.5 * 40 * 10 - 200 * (2 + 10 * 25 / 40),
    ),
    "to a round face": (
        bar(
            Extrude(
                id="s2", sketch="k2", mode="add", extent="face", face=ROUND, direction="backward", begin=FaceRef("")
            ),
            sketches=(sketch("k2", "rect 10 x 8 at 30,0", base="side", offset="40"),),
        ),
        BAR + 10 * (8 * 40 - (4 * math.sqrt(20**2 - 16) + 400 * math.asin(4 / 20))),
    ),
    "cut through the first wall": (
        two_walls(Extrude(id="s3", sketch="k3", extent="next", direction="backward"), sketches=(SIDE,)),
        WALLED - bore(8, 15),
    ),
    "added up to the next surface": (
        two_walls(
            Extrude(id="s3", sketch="k3", mode="add", extent="next", direction="backward", begin=FaceRef("s2/l4/side")),
            sketches=(SIDE,),
        ),
        WALLED + bore(8, 10),
    ),
    "on a face": (
        plate(
            Extrude(id="s2", sketch="k2", extent="depth", depth="7", direction="backward"),
            sketches=(sketch("k2", "circle Ø6 at 20,-6", base="face", on="s1/l1/side"),),
        ),
        PLATE - bore(6, 7),
    ),
    "a text": (
        plate(
            Extrude(id="s2", sketch="k2", extent="depth", depth="1", direction="backward"),
            sketches=(sketch("k2", "rect 3 x 3 at 12,12"),),
        ),
        PLATE - 9,
    ),
}

RING = sketch("k2", "rect 10,50 20,60", base="turning")
REVOLVES = {
    "a ring cut": (
        bar(Revolve(id="s2", sketch="k2", mode="cut"), sketches=(sketch("k2", "rect 10,30 20,40", base="turning"),)),
        BAR - bore(40, 10) + bore(30, 10),
    ),
    "a body of its own": (
        bar(Revolve(id="s2", sketch="k2", mode="new"), sketches=(RING,)),
        BAR + bore(60, 10) - bore(50, 10),
    ),
    "half of it": (
        bar(Revolve(id="s2", sketch="k2", mode="new", turn="180°", ways="both"), sketches=(RING,)),
        BAR + (bore(60, 10) - bore(50, 10)) / 2,
    ),
    "keep what is inside": (
        bar(Revolve(id="s2", sketch="k2", mode="keep"), sketches=(sketch("k2", "rect 10,0 20,40", base="turning"),)),
        bore(40, 10),
    ),
    "about an axis of a face": (
        plate(
            Revolve(id="s2", sketch="k2", mode="cut", turn="360°"),
            sketches=(sketch("k2", "rect 20,0 40,8", base="face", on="s1/end"),),
        ),
        PLATE - bore(16, 20) / 4,
    ),
}

HOLES = {
    "through": ({"diameter": "6"}, bore(6, 12)),
    "blind, flat": ({"diameter": "6", "extent": "depth", "depth": "5", "tip": ""}, bore(6, 5)),
    "blind, tipped": (
        {"diameter": "6", "extent": "depth", "depth": "5"},
        bore(6, 5) + cone(6, 0, 3 / math.tan(math.radians(59))),
    ),
    "counterbored": (
        {"diameter": "6", "seat": "counterbore", "seat_diameter": "11", "seat_depth": "6.4"},
        bore(6, 12) + bore(11, 6.4) - bore(6, 6.4),
    ),
    "spotfaced": (
        {"diameter": "6", "seat": "spotface", "seat_diameter": "14", "seat_depth": "0.5"},
        bore(6, 12) + bore(14, 0.5) - bore(6, 0.5),
    ),
    "countersunk 82": (
        {"diameter": "6", "seat": "countersink", "seat_diameter": "12", "seat_angle": "82°"},
        bore(6, 12) + cone(12, 6, 3 / math.tan(math.radians(41))) - bore(6, 3 / math.tan(math.radians(41))),
    ),
    "countersunk 90": (
        {"diameter": "6", "seat": "countersink", "seat_diameter": "12"},
        bore(6, 12) + cone(12, 6, 3) - bore(6, 3),
    ),
    "countersunk 100": (
        {"diameter": "6", "seat": "countersink", "seat_diameter": "12", "seat_angle": "100°"},
        bore(6, 12) + cone(12, 6, 3 / math.tan(math.radians(50))) - bore(6, 3 / math.tan(math.radians(50))),
    ),
    "counterdrilled": (
        {"diameter": "6", "seat": "counterdrill", "seat_diameter": "10", "seat_depth": "4", "seat_angle": "118°"},
        bore(6, 12)
        + bore(10, 4)
        - bore(6, 4)
        + cone(10, 6, 2 / math.tan(math.radians(59)))
        - bore(6, 2 / math.tan(math.radians(59))),
    ),
    "stepped": ({"diameter": "6", "stages": "Ø14 x 3, Ø10 x 7"}, bore(14, 3) + bore(10, 4) + bore(6, 5)),
    "counterbored and stepped": (
        {"diameter": "6", "seat": "counterbore", "seat_diameter": "16", "seat_depth": "2", "stages": "Ø10 x 7"},
        bore(16, 2) + bore(10, 5) + bore(6, 5),
    ),
    "tapped M6": ({"thread": "M6"}, bore(5, 12)),
    "tapped 1/4-20": ({"thread": "1/4-20 UNC"}, bore(0.201 * 25.4, 12)),
    "tapped G1/8": ({"thread": "G1/8"}, None),
    "clears M6": ({"screw": "M6"}, bore(6.6, 12)),
    "clears M6 closely": ({"screw": "M6", "fit": "fine"}, bore(6.4, 12)),
    "clears 1/4": ({"screw": "1/4"}, bore(0.281 * 25.4, 12)),
    "takes a socket head": ({"screw": "M6", "seat": "counterbore"}, bore(6.6, 12) + bore(11, 6.4) - bore(6.6, 6.4)),
    "takes a flat head": ({"screw": "M6", "seat": "countersink"}, None),
}

SLANT = Chamfer(id="s2", edges=(edge("s1/end", "s1/l1/side"),), size="10", angle="45°")
SLANTED = PLATE - 80 * 50
OTHER_HOLES = {
    "on the axis of a round edge": (
        plate(
            Hole(**H, diameter="10", extent="depth", depth="3", tip=""),
            Hole(id="s3", face=BOTTOM, placement="edge", edge=(edge("s1/end", "s2/0/side"),), diameter="4"),
        ),
        PLATE - bore(10, 3) - bore(4, 9),
    ),
    "radial, flat": (
        bar(Hole(id="s2", face=ROUND, placement="radial", along="30", diameter="6", extent="depth", depth="5", tip="")),
        BAR - quad(lambda y: 2 * math.sqrt(9 - y * y) * (math.sqrt(400 - y * y) - 15), -3, 3)[0],
    ),
    "square to a slanted face": (
        plate(SLANT, Hole(id="s3", face=FaceRef("s2/e0/side"), placement="sketch", sketch="k2", diameter="3", extent="depth", depth="4", tip=""),
              sketches=(sketch("k2", "point 40,0", base="face", on="s2/e0/side"),)),
        SLANTED - bore(3, 4),
    ),
    "through the first wall": (
        two_walls(Hole(id="s3", face=FaceRef("s1/l4/side"), placement="point", x="-15", y="14", diameter="5", extent="next")),
        WALLED - bore(5, 15),
    ),
}  # fmt: skip

TRIANGLE = 0.5 * 2 * 2
EDGES = {
    "chamfer, equal": (plate(Chamfer(id="s2", edges=(edge("s1/end", "s1/l1/side"),), size="2")), PLATE - 80 * 2),
    "chamfer, two legs": (
        plate(Chamfer(id="s2", edges=(edge("s1/end", "s1/l1/side"),), form="legs", size="3", size2="1")),
        PLATE - 80 * 1.5,
    ),
    "chamfer, leg and angle": (
        plate(Chamfer(id="s2", edges=(edge("s1/end", "s1/l1/side"),), size="3", angle="30°")),
        PLATE - 80 * 0.5 * 9 * math.tan(math.radians(30)),
    ),
    # four prisms 2 x 2 / 2 along the rim, mitred at the corners
    "chamfer, a face": (
        plate(Chamfer(id="s2", edges=(edge("s1/end", "", take="face"),), size="2")),
        PLATE - 2 * 260 + 4 * 8 / 3,
    ),
    "chamfer, a loop": (
        bar(Chamfer(id="s2", edges=(edge("s1/l2/side", "s1/l3/side", take="loop"),), size="2")),
        BAR - bore(40, 2) + cone(40, 36, 2),
    ),
    "chamfer, every edge": (
        bar(Chamfer(id="s2", edges=(edge("", "", take="sharp"),), size="1")),
        BAR - 2 * (bore(40, 1) - cone(40, 38, 1)),
    ),
    "fillet, one edge": (
        plate(Fillet(id="s2", edges=(edge("s1/end", "s1/l1/side"),), radius="3")),
        PLATE - 80 * 9 * (1 - math.pi / 4),
    ),
    "fillet, a round edge": (
        bar(Fillet(id="s2", edges=(edge("s1/l2/side", "s1/l3/side"),), radius="2")),
        BAR - 2 * math.pi * (4 * 19 - math.pi * (18 + 8 / (3 * math.pi))),
    ),
    "fillet, one of two edges of a pair": (
        plate(
            Extrude(id="s2", sketch="k2", extent="depth", depth="4", direction="backward"),
            Fillet(id="s3", edges=(edge("s1/end", "s1/l1/side", take="edge", piece=0),), radius="2"),
            sketches=(sketch("k2", "rect 20 x 200 at 40,25"),),
        ),
        PLATE - 20 * 50 * 4 - 30 * 4 * (1 - math.pi / 4),
    ),
}


@pytest.mark.parametrize(("content", "expected"), checked(EXTRUDES))
def test_extrudes(content, expected):
    assert volume(content) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize(("content", "expected"), checked(REVOLVES))
def test_revolves(content, expected):
    assert volume(content) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize("name", [n for n, (_, gone) in HOLES.items() if gone is not None])
def test_holes(name):
    fields, gone = HOLES[name]
    assert volume(plate(Hole(**H, **fields))) == pytest.approx(PLATE - gone, rel=1e-6)


@pytest.mark.parametrize(("content", "expected"), checked(OTHER_HOLES))
def test_holes_elsewhere(content, expected):
    assert volume(content) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize(("content", "expected"), checked(EDGES))
def test_edges(content, expected):
    assert volume(content) == pytest.approx(expected, rel=1e-6)


def test_a_varying_fillet_grows_along_its_edge():
    """The kernel blends between the two radii; taken section by section it removes r² (1 - pi/4), within 1 %."""
    step = Fillet(id="s2", edges=(edge("s1/end", "s1/l1/side"),), radius="2", radius2="4")
    assert PLATE - volume(plate(step)) == pytest.approx((1 - math.pi / 4) * 80 * 28 / 3, rel=0.01)
