"""Holes set in without a boolean are what the boolean gives, and are not tried where they would not be."""

from __future__ import annotations

import math
import random

import pytest
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf

from lathed_solid.core.kernel.cut import edges
from lathed_solid.core.kernel.cut.boolean import _run, combine
from lathed_solid.core.kernel.cut.drilling import drilled
from lathed_solid.core.kernel.form.outline import Segment, flat_face
from lathed_solid.core.kernel.form.sweep import moved, prism, turned_tool
from lathed_solid.core.kernel.ground.check import KernelFailure, accept
from lathed_solid.core.kernel.ground.geometry import Frame
from lathed_solid.core.kernel.ground.named import NamedBody, carry
from lathed_solid.core.kernel.ground.placing import moved_frame
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.steps.extrude import Extrude

from .steps import parts

FLOOR = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def tilted() -> gp_Trsf:
    turn = gp_Trsf()
    turn.SetRotation(gp_Ax1(gp_Pnt(3, -2, 5), gp_Dir(1, 2, 3)), 0.7)
    return turn


def plate() -> NamedBody:
    """100 x 60 x 20 with a boss, a pocket and a cross hole low down."""
    corners = [(0, 0), (100, 0), (100, 60), (0, 60)]
    loop = tuple(
        Segment(f"e{k}", a, b) for k, (a, b) in enumerate(zip(corners, corners[1:] + corners[:1], strict=True))
    )
    body = prism(flat_face(loop, (), FLOOR), (0, 0, 20), "plate")
    boss = turned_tool([(0, 0), (12, 0), (12, 8), (0, 8)], "abc", FLOOR._replace(origin=(75.0, 30.0, 20.0)), "boss")
    body = combine("add", body, [boss])
    pocket = tuple(
        Segment(f"p{k}", a, b)
        for k, (a, b) in enumerate(
            [((10, 10), (30, 10)), ((30, 10), (30, 25)), ((30, 25), (10, 25)), ((10, 25), (10, 10))]
        )
    )
    body = combine(
        "cut", body, [prism(flat_face(pocket, (), FLOOR._replace(origin=(0.0, 0.0, 14.0))), (0, 0, 6), "pk")]
    )
    cross = Frame((45.0, -1.0, 6.0), (0.0, 0.0, 1.0), (1.0, 0.0, 0.0))
    return combine("cut", body, [turned_tool([(0, 0), (3, 0), (3, 62), (0, 62)], "abc", cross, "cross")])


def flange() -> NamedBody:
    """Rim, spigot, hub with a taper and a rounded foot, stood on its hub so that holes come from the flat back."""
    points = [(0, 0), (59, 0), (59, 9), (54, 9), (54, 13), (20, 13), (18, 28), (0, 28)]
    body = turned_tool(points, [f"t{k}" for k in range(7)], FLOOR, "flange")
    return edges.fillet(body, [edges.Pick("flange/t4", "flange/t5")], 2.0, "f")


def flange_hole(noise: random.Random, tag: str) -> NamedBody:
    """A counterbored hole through the flange from its back, or a blind one, at any radius."""
    turn, away = noise.uniform(0, 2 * math.pi), noise.uniform(4, 57)
    r, seat = noise.uniform(0.5, 4), noise.uniform(4.5, 6)
    depth = noise.choice([40.0, noise.uniform(5.6, 8.5)])
    points = [(0.0, 0.0), (seat, 0.0), (seat, 5.4), (r, 5.4), (r, depth), (0.0, depth)]
    at = (away * math.cos(turn), away * math.sin(turn), 0.0)
    return turned_tool(points, ["top", "seat_side", "seat", "side", "floor"], FLOOR._replace(origin=at), tag)


def hole(noise: random.Random, tag: str) -> NamedBody:
    """A drill of any kind, from the plate's top, the boss or the pocket's floor, downwards, anywhere."""
    x, y, level = noise.uniform(-3, 103), noise.uniform(-3, 63), noise.choice([20.0, 20.0, 20.0, 28.0, 14.0])
    if level == 28.0:
        x, y = noise.uniform(65, 85), noise.uniform(20, 40)
    r, depth = noise.uniform(0.5, 4), noise.choice([noise.uniform(2, 19), 40.0])
    points, names = [(0.0, 0.0), (r, 0.0)], ["top"]
    if noise.random() < 0.5:
        seat = r + noise.uniform(0.5, 3)
        points, names = [(0.0, 0.0), (seat, 0.0), (seat, 1.0), (r, 1.0)], ["top", "seat_side", "seat"]
    if noise.random() < 0.3 and depth < 20:
        points += [(r, depth), (0.0, depth + r / math.tan(math.radians(59)))]
        names += ["side", "tip"]
    else:
        points += [(r, depth), (0.0, depth)]
        names += ["side", "floor"]
    return turned_tool(points, names, Frame((x, y, level), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0)), tag)


@pytest.mark.parametrize(
    ("blank", "drill", "slanted", "least"),
    [
        (plate, hole, False, 15),
        (plate, hole, True, 3),
        (flange, flange_hole, False, 15),
        (flange, flange_hole, True, 15),
    ],
)
def test_holes_set_in_are_what_a_cut_gives(blank, drill, slanted, least):
    noise, body = random.Random(5), blank()
    turn = tilted()
    if slanted:
        body = moved(body, turn, ("", ""))
    set_in = 0
    for k in range(72):
        tools = [drill(noise, f"h{k}.{i}") for i in range(noise.choice([1, 1, 3]))]
        if slanted:
            tools = [moved(t, turn, ("", "")) for t in tools]
        ours = drilled(body, tools)
        if ours is None:
            continue
        set_in += 1
        operation = _run("cut", body.shape, [t.shape for t in tools])
        pairs = carry(operation, [*body.pairs(), *(p for t in tools for p in t.pairs())])
        cut = accept(operation.Shape(), pairs, body, "less")
        assert ours.volume == pytest.approx(cut.volume, rel=1e-9)
        assert ours.face_count == cut.face_count
        assert {n for _, n in ours.pairs()} == {n for _, n in cut.pairs()}
        assert BRepCheck_Analyzer(ours.shape).IsValid()
        assert not ours.unnamed()
    assert set_in > least  # boxes about slanted tools are wider, so more is left to the cut


@pytest.mark.parametrize(
    ("x", "y", "r", "depth", "why"),
    [
        (2, 30, 2, 40, "tangent to the side"),
        (50, 59, 3, 40, "through the edge"),
        (20, 17, 2, 40, "over the pocket"),
        (45, 30, 2, 40, "into the cross hole"),
        (60, 30, 4, 40, "into the boss's side"),
        (98.0, 30, 2.0 - 1e-7, 40, "a hair's breadth from the side"),
        (55, 10, 2, 19.9999999, "a floor thinner than the kernel can tell"),
    ],
)
def test_what_is_not_certain_is_left_to_the_cut(x, y, r, depth, why):
    tool = turned_tool(
        [(0, 0), (r, 0), (r, depth), (0, depth)], "abc", Frame((x, y, 20.0), (1.0, 0, 0), (0, -1.0, 0)), "h"
    )
    assert drilled(plate(), [tool]) is None, why


def test_a_hole_twice_in_one_place_removes_nothing():
    tool = turned_tool([(0, 0), (2, 0), (2, 30), (0, 30)], "abc", Frame((55.0, 10, 20), (1.0, 0, 0), (0, -1.0, 0)), "h")
    once = combine("cut", plate(), [tool])
    with pytest.raises(KernelFailure, match="No material was removed"):
        combine("cut", once, [tool])


def test_a_tool_keeps_what_it_was_turned_from_when_it_is_moved():
    tool = hole(random.Random(1), "h")
    there = moved(tool, tilted(), ("h", "k"))
    assert there.turned is not None and there.turned.tag == "k"
    assert there.turned.frame == moved_frame(tool.turned.frame, tilted())


def test_a_hole_on_an_edge_takes_half_a_disc():
    half = Hole(id="s2", face=parts.TOP, placement="point", x="80", y="25", diameter="10")
    assert parts.volume(parts.plate(half)) == pytest.approx(parts.PLATE - parts.bore(10, 12) / 2, rel=1e-7)
    clear = Hole(id="s2", face=parts.TOP, placement="point", x="85.001", y="25", diameter="10")
    assert "misses the picked face" in parts.failure(parts.plate(clear))


def test_a_sliver_is_refused_with_its_width_and_place():
    """Two steps at the right end, the second begun a hair beside the first: the ledge between them is not meant."""

    def step(id_, sketch, depth):
        return Extrude(id=id_, sketch=sketch, mode="cut", extent="depth", depth=depth, direction="backward")

    def stepped(x):
        sketches = (parts.sketch("k2", "rect 60,-5 85,55"), parts.sketch("k3", f"rect {x},-5 85,55"))
        return parts.plate(step("s2", "k2", "5"), step("s3", "k3", "8"), sketches=sketches)

    assert "sliver only about 0.0004 mm wide near 60, 25" in parts.failure(stepped("60.0004"))
    assert parts.volume(stepped("60")) == pytest.approx(parts.PLATE - 20 * 50 * 8, rel=1e-9)
    assert parts.volume(stepped("60.5")) == pytest.approx(parts.PLATE - 20 * 50 * 8 + 0.5 * 50 * 3, rel=1e-9)


def test_a_grid_of_holes_is_sound_every_time():
    """The kernel's check on several threads called 3 of 100 such plates unsound."""
    corners = [(0, 0), (90, 0), (90, 60), (0, 60)]
    sides = zip("abcd", corners, corners[1:] + corners[:1], strict=True)
    slab = prism(flat_face(tuple(Segment(*side) for side in sides), (), FLOOR), (0, 0, 10), "slab")
    points, top = [(0, 0), (3, 0), (3, 11), (0, 11)], Frame((0.0, 0.0, 10.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0))
    places = [(15.0 + 20 * i, 15.0 + 15 * j, 10.0) for i in range(4) for j in range(3)]
    tools = [turned_tool(points, "abc", top._replace(origin=at), f"h{k}") for k, at in enumerate(places)]
    for _ in range(150):
        made = drilled(slab, tools)
        assert made is not None and made.face_count == 18
