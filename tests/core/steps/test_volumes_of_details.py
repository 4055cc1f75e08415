"""Small solids with volumes known in closed form: repeats, planes, lofts, sweeps and turned or milled details, within 1e-6."""

import math

import pytest
from scipy.integrate import quad

from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.bodies import Combine, Split
from lathed_solid.core.route.steps.datum import DatumAxis, DatumPlane, DatumPoint
from lathed_solid.core.route.steps.engrave import Engrave
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.groove import Groove
from lathed_solid.core.route.steps.keyway import Keyway
from lathed_solid.core.route.steps.knurl import Knurl
from lathed_solid.core.route.steps.leaning import Draft
from lathed_solid.core.route.steps.loft import Loft
from lathed_solid.core.route.steps.mirror import Mirror
from lathed_solid.core.route.steps.polygon import Polygon
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.rib import Rib
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.row import Row
from lathed_solid.core.route.steps.scatter import Scatter
from lathed_solid.core.route.steps.shell import Shell
from lathed_solid.core.route.steps.sweep import Sweep
from lathed_solid.core.route.steps.turned_cut import CentreHole, Undercut

from .parts import (
    BAR,
    BOTTOM,
    DRAFT,
    LEFT,
    PAD,
    PLATE,
    RIGHT,
    ROUND,
    TOP,
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


def segment(r, height):
    """Area of the circle of radius r below a line ``height`` above its middle."""
    return r * r * math.acos(-height / r) + height * math.sqrt(r * r - height * height)


def undercut_floor(u):
    """Radius left u mm off the shoulder by DIN 509 E 0.6x0.3 on a Ø20: its radius, its floor, its 15° run-out."""
    if u < 0.6:
        return min(10.0, 9.7 + 0.6 - math.sqrt(0.36 - (u - 0.6) ** 2))
    return max(9.7, 10 - (2.5 - u) * math.tan(math.radians(15)))


SLOT = sketch("k2", "rect 6 x 30 at 10,25")
R1 = Extrude(id="s2", sketch="k2", extent="depth", depth="4", direction="backward")
REPEATS = {
    "a row by the whole length": (
        plate(Hole(**H, diameter="4"), Row(id="s3", of=("s2",), count="4", pitch="30", by="total")),
        PLATE - 4 * bore(4, 12),
    ),
    "a row both ways": (
        plate(Hole(**{**H, "x": "40"}, diameter="4"), Row(id="s3", of=("s2",), count="5", pitch="15", sides="both")),
        PLATE - 5 * bore(4, 12),
    ),
    "a ring by pitch": (
        bar(
            Hole(id="s2", face=RIGHT, placement="circle", circle="28", diameter="4"),
            Ring(id="s3", of=("s2",), count="3", by="pitch", pitch="30°"),
        ),
        BAR - 3 * bore(4, 60),
    ),
    "a ring with one left out": (
        bar(
            Hole(id="s2", face=RIGHT, placement="circle", circle="28", diameter="4"),
            Ring(id="s3", of=("s2",), count="6", skip="3"),
        ),
        BAR - 5 * bore(4, 60),
    ),
    "a ring about another axis": (
        plate(
            Hole(id="s2", face=TOP, placement="point", x="40", y="25", diameter="10"),
            Hole(id="s3", face=TOP, placement="point", x="55", y="25", diameter="4"),
            Ring(id="s4", of=("s3",), count="4", axis=FaceRef("s2/0/side")),
        ),
        PLATE - bore(10, 12) - 4 * bore(4, 12),
    ),
    "worked out again to the floor there": (
        plate(
            Extrude(id="s2", sketch="k2", extent="depth", depth="4", direction="backward"),
            Hole(id="s3", face=TOP, placement="point", x="60", y="25", diameter="5", extent="next"),
            Row(id="s4", of=("s3",), count="2", pitch="-50", how="again"),
            sketches=(sketch("k2", "rect 20 x 20 at 12,25"),),
        ),
        PLATE - 400 * 4 - bore(5, 12) - bore(5, 8),
    ),
    "at points": (
        plate(
            Hole(**H, diameter="4"),
            Scatter(id="s3", of=("s2",), sketch="k3"),
            sketches=(sketch("k3", "point 20,20", "point 40,30", "point 60,12"),),
        ),
        PLATE - 3 * bore(4, 12),
    ),
    "along a line": (
        plate(
            Hole(**{**H, "x": "10", "y": "10"}, diameter="4"),
            Scatter(id="s3", of=("s2",), by="line", count="5", sketch="k3"),
            sketches=(sketch("k3", "line 10,10 60,10 60,40"),),
        ),
        PLATE - 5 * bore(4, 12),
    ),
    "a slot along a line, facing it": (
        plate(
            R1,
            Scatter(id="s3", of=("s2",), by="line", count="3", facing="line", sketch="k3"),
            sketches=(SLOT, sketch("k3", "line 10,25 30,25 50,25")),
        ),
        PLATE - 3 * 6 * 30 * 4,
    ),
    "bodies apart": (plate(Row(id="s2", of_bodies=("s1",), count="3", pitch="100")), 3 * PLATE),
    "bodies joined": (plate(Row(id="s2", of_bodies=("s1",), count="2", pitch="60", joined="joined")), 140 * 50 * 12),
    "a body mirrored and joined": (plate(Mirror(id="s2", of_bodies=("s1",), about="yz", joined="joined")), 2 * PLATE),
    "a step mirrored about midway": (
        plate(
            Hole(**H, diameter="4"),
            Mirror(id="s3", of=("s2",), about="midway", face=FaceRef("s1/l2/side"), other=FaceRef("s1/l4/side")),
        ),
        PLATE - 2 * bore(4, 12),
    ),
    "a step mirrored, worked out again": (
        plate(
            R1,
            Mirror(
                id="s3",
                of=("s2",),
                about="midway",
                face=FaceRef("s1/l2/side"),
                other=FaceRef("s1/l4/side"),
                how="again",
            ),
            sketches=(SLOT,),
        ),
        PLATE - 2 * 6 * 30 * 4,
    ),
}

PLANES = {
    "a plane off a face": (
        plate(DatumPlane(id="s2", face=TOP, offset="5"), Extrude(id="s3", sketch="k2", mode="add", extent="depth", depth="5", direction="backward"), sketches=(sketch("k2", "rect 20 x 10 at 20,25", base="face", on="s2/plane"),)),
        PLATE + 200 * 5,
    ),
    "a plane midway, split there": (plate(DatumPlane(id="s2", by="midway", face=TOP, other=BOTTOM), Split(id="s3", face=FaceRef("s2/plane"), keep="front")), PLATE / 2),
    "a plane leaned about an edge": (
        plate(DatumPlane(id="s2", by="leaned", face=TOP, edge=(edge("s1/end", "s1/l1/side"),), angle="-10°"), Split(id="s3", face=FaceRef("s2/plane"), keep="back")),
        PLATE - 80 * 0.5 * 50 * 50 * math.tan(math.radians(10)),
    ),
    "a plane square to an edge": (plate(DatumPlane(id="s2", by="square", edge=(edge("s1/end", "s1/l1/side"),), part="0.25"), Split(id="s3", face=FaceRef("s2/plane"), keep="both")), PLATE),
    "a plane through corners": (
        plate(
            DatumPlane(
                id="s2", by="corners",
                corners=tuple(FaceRef(n) for n in ("s1/l1/side", "s1/l4/side", "s1/end", "s1/l1/side", "s1/l2/side", "s1/start", "s1/l3/side", "s1/l4/side", "s1/end")),
            ),
            Split(id="s3", face=FaceRef("s2/plane"), keep="both"),
        ),
        PLATE,
    ),
    "a plane touching a round face": (
        bar(DatumPlane(id="s2", by="tangent", face=ROUND, angle="0°"), Extrude(id="s3", sketch="k2", extent="depth", depth="4", direction="backward"), sketches=(sketch("k2", "rect 140 x 140 at 0,0", base="face", on="s2/plane"),)),
        BAR - 60 * (400 * math.acos(16 / 20) - 16 * math.sqrt(400 - 256)),
    ),
    "an axis where two faces cross": (
        plate(
            Extrude(id="s2", sketch="k2", mode="new", extent="depth", depth="5", direction="forward"),
            DatumAxis(id="s3", by="cross", face=FaceRef("s1/l1/side"), other=FaceRef("s1/l4/side")),
            Ring(id="s4", of_bodies=("s2",), count="4", axis=FaceRef("s3/axis")),
            sketches=(sketch("k2", "rect 4 x 4 at 10,10"),),
        ),
        PLATE + 4 * 16 * 5,
    ),
    "a point": (plate(DatumPoint(id="s2", corners=(TOP, FaceRef("s1/l1/side"), FaceRef("s1/l4/side")))), PLATE),
}  # fmt: skip

SQUARE = sketch("k1", "rect 20 x 20 at 0,0")
LOFTS = {
    "a frustum": (
        route(
            Loft(id="s1", sketch="k1", sketch2="k2"),
            sketches=(SQUARE, sketch("k2", "rect 10 x 10 at 0,0", offset="15")),
        ),
        15 / 3 * (400 + 100 + 200),
    ),
    "a cone": (
        route(
            Loft(id="s1", sketch="k1", sketch2="k2"),
            sketches=(sketch("k1", "circle Ø20 at 0,0"), sketch("k2", "circle Ø8 at 0,0", offset="12")),
        ),
        cone(20, 8, 12),
    ),
    "three in a row": (
        route(
            Loft(id="s1", sketch="k1", sketch2="k2", sketch3="k3"),
            sketches=(
                SQUARE,
                sketch("k2", "rect 10 x 10 at 0,0", offset="15"),
                sketch("k3", "rect 20 x 20 at 0,0", offset="30"),
            ),
        ),
        2 * 15 / 3 * 700,
    ),
    # side s(t) = 20 - 10 (3t² - 2t³) over 12 mm: the integral of s² is 400 - 200 + 100 * 13/35
    "square at both ends": (
        route(
            Loft(id="s1", sketch="k1", sketch2="k2", sides="smooth", first="square", last="square"),
            sketches=(SQUARE, sketch("k2", "rect 10 x 10 at 0,0", offset="12")),
        ),
        12 * (400 - 200 + 100 * 13 / 35),
    ),
}
PROFILE = sketch("k1", "rect 4,18 7,22", base="turning")
SWEEPS = {
    "a bent bar": (
        route(
            Sweep(id="s1", sketch="k1", run="k2"),
            sketches=(
                sketch("k1", "circle Ø4 at 0,0"),
                sketch("k2", "line 0,0 20,0", "arc about 20,10 20,0 30,10", base="side"),
            ),
        ),
        math.pi * 4 * (20 + math.pi / 2 * 10),
    ),
    "a helix by turns": (
        route(Sweep(id="s1", sketch="k1", path="helix", pitch="5", turns="4"), sketches=(PROFILE,)),
        3 * 2 * 2 * math.pi * 10 * 4,
    ),
    "a helix by height, left": (
        route(
            Sweep(id="s1", sketch="k1", path="helix", pitch="5", told="height", height="17.5", hand="left"),
            sketches=(PROFILE,),
        ),
        6 * 2 * math.pi * 10 * 3.5,
    ),
    "a tapering helix": (
        route(Sweep(id="s1", sketch="k1", path="helix", pitch="5", turns="3", taper="1"), sketches=(PROFILE,)),
        6 * 2 * math.pi * 3 * 11.5,
    ),
}

#: A spigot Ø20 turned on the bar from Z 30 on: a shoulder to undercut.
SPIGOT = (Revolve(id="s2", sketch="k2", mode="cut"),)
KNURL = 0.45 * 2 * math.pi * 20 / 31
#: Half the width at which a 90° groove KNURL deep meets the Ø40.
KNURL_HALF = (math.sqrt(2 * 400 - (20 - KNURL) ** 2) - (20 - KNURL)) / 2

DETAILS = {
    "draft": (
        plate(Draft(id="s2", faces=(FaceRef("s1/l1/side"),), neutral=BOTTOM, angle="-5°")),
        PLATE - 80 * 0.5 * 12 * 12 * DRAFT,
    ),
    "shell": (plate(Shell(id="s2", open=(TOP,), wall="2")), PLATE - 76 * 46 * 10),
    "shell of a bar": (bar(Shell(id="s2", open=(RIGHT, LEFT), wall="3")), BAR - bore(34, 60)),
    "combine, add": (cut_and := plate(
        Extrude(id="s2", sketch="k2", mode="new", extent="two", depth="5", depth2="5"), Combine(id="s3", body="s1", others=("s2",)), sketches=(PAD,)
    ), PLATE + 200 * 5),
    "combine, cut": (plate(
        Extrude(id="s2", sketch="k2", mode="new", extent="two", depth="5", depth2="5"), Combine(id="s3", body="s1", others=("s2",), mode="cut"), sketches=(PAD,)
    ), PLATE - 200 * 5),
    "combine, keep, tools stay": (plate(
        Extrude(id="s2", sketch="k2", mode="new", extent="two", depth="5", depth2="5"), Combine(id="s3", body="s1", others=("s2",), mode="keep", tools="kept"), sketches=(PAD,)
    ), 200 * 5 + 200 * 10),
    "split by a main plane": (plate(Split(id="s2", by="yz", offset="30", keep="front")), 50 * 50 * 12),
    "hexagon": (bar(Polygon(id="s2", face=ROUND, across="30", corners="none")), 60 * 30 * 30 * math.sqrt(3) / 2),
    "square of a length": (bar(Polygon(id="s2", face=ROUND, sides="4", across="25", length="20", corners="none", end="high")), BAR - bore(40, 20) + 20 * 625),
    "keyway, round ends": (
        bar(Keyway(id="s2", face=ROUND, width="8", length="30", depth="5", at="30")),
        BAR - quad(lambda y: (22 + 2 * math.sqrt(16 - y * y)) * (math.sqrt(400 - y * y) - 15), -4, 4)[0],
    ),
    "keyway, Woodruff": (
        bar(Keyway(id="s2", face=ROUND, form="woodruff", width="5", cutter="19", depth="5.5", at="30")),
        BAR - quad(lambda y: segment(9.5, math.sqrt(400 - y * y) - (20 - 5.5 + 9.5)), -2.5, 2.5)[0],
    ),
    "keyway, square ends": (
        bar(Keyway(id="s2", face=ROUND, form="square", width="8", length="30", depth="5", at="30")),
        BAR - 30 * (400 * math.asin(4 / 20) + 4 * math.sqrt(400 - 16) - 8 * 15),
    ),
    "keyway in a bore": (
        bar(Hole(id="s2", face=RIGHT, diameter="20"), Keyway(id="s3", face=FaceRef("s2/0/side"), form="bore", width="6", across="22.8")),
        BAR - bore(20, 60) - 60 * (6 * 12.8 - (100 * math.asin(3 / 10) + 3 * math.sqrt(100 - 9))),
    ),
    "a square helical groove inside": (
        bar(Hole(id="s2", face=RIGHT, diameter="20"), Groove(id="s3", face=FaceRef("s2/0/side"), form="square", width="2", depth="1", pitch="6", turns="5", begins="10")),
        BAR - bore(20, 60) - 5 * 2 * 1 * 2 * math.pi * 10.5,
    ),
    "a round helical groove": (
        bar(Groove(id="s2", face=ROUND, width="2", depth="1.5", pitch="5", turns="6", begins="10")),
        BAR - 6 * 2 * math.pi * (1 * 19.75 + math.pi / 2 * (19.5 - 4 / (3 * math.pi))),
    ),
    "a straight knurl by its note": (bar(Knurl(id="s2", face=ROUND)), BAR),
    "a centre hole A": (
        bar(CentreHole(id="s2", face=RIGHT, pilot="2")),
        BAR - cone(4.25, 2, 1.125 / math.tan(math.radians(30))) - bore(2, 3.7 - 1.125 / math.tan(math.radians(30))) - cone(2, 0, 1 / math.tan(math.radians(59))),
    ),
    "letters cut flat": (
        plate(Engrave(id="s2", face=TOP, sketch="k2", depth="0.5"), sketches=(PAD,)),
        PLATE - 100,
    ),
    "letters raised round": (
        bar(Engrave(id="s2", face=ROUND, sketch="k2", mode="add", depth="1", along="30"), sketches=(sketch("k2", "rect 10 x 6 at 0,0"),)),
        BAR + 60 * (21**2 - 20**2) / 2 / 20,
    ),
    "letters cut round": (
        bar(Engrave(id="s2", face=ROUND, sketch="k2", depth="1", along="30"), sketches=(sketch("k2", "rect 10 x 6 at 0,0"),)),
        BAR - 60 * (20**2 - 19**2) / 2 / 20,
    ),
    "a rib": (
        plate(
            Extrude(id="s2", sketch="k2", mode="add", extent="depth", depth="30", direction="forward"),
            Rib(id="s3", sketch="k3", thickness="4", side="left"),
            sketches=(sketch("k2", "rect 10 x 50 at 5,25"), sketch("k3", "line 20,10 0,40", base="side", offset="25")),
        ),
        PLATE + 10 * 50 * 30 + 4 * 20 * 30 / 2,
    ),
    "a rib whose line stops short": (
        plate(
            Extrude(id="s2", sketch="k2", mode="add", extent="depth", depth="30", direction="forward"),
            Rib(id="s3", sketch="k3", thickness="4", side="left", lies="forward"),
            sketches=(sketch("k2", "rect 10 x 50 at 5,25"), sketch("k3", "line 16,16 4,34", base="side", offset="25")),
        ),
        PLATE + 10 * 50 * 30 + 4 * 20 * 30 / 2,
    ),
    "an undercut E": (
        bar(*SPIGOT, Undercut(id="s3", face=FaceRef("s2/l1/side"), shoulder=FaceRef("s2/l4/side"), size="0.6x0.3"),
            sketches=(sketch("k2", "rect 30,20 70,50", base="turning"),)),
        bore(40, 30) + bore(20, 30) - quad(lambda u: math.pi * (100 - undercut_floor(u) ** 2), 0, 2.5, points=(0.1, 0.6, 1.38))[0],
    ),
    "a straight knurl modelled": (
        bar(Knurl(id="s2", face=ROUND, pitch="4", form="modelled")),
        BAR - 31 * 60 * quad(lambda y: math.sqrt(400 - y * y) - (20 - KNURL) - abs(y), -KNURL_HALF, KNURL_HALF)[0],
    ),
}  # fmt: skip


@pytest.mark.parametrize(("content", "expected"), checked(REPEATS))
def test_repeats(content, expected):
    assert volume(content) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize(("content", "expected"), checked(PLANES))
def test_planes_and_axes(content, expected):
    assert volume(content) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize(("content", "expected"), checked({**LOFTS, **SWEEPS}))
def test_lofts_and_sweeps(content, expected):
    # Patches of a helix follow it within a few 1e-6 (helicoid.PER_TURN); straight-sided lofts are exact.
    assert volume(content) == pytest.approx(expected, rel=5e-6)


@pytest.mark.parametrize(("content", "expected"), checked(DETAILS))
def test_details(content, expected):
    assert volume(content) == pytest.approx(expected, rel=1e-6)
