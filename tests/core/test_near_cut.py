"""A cut that spares what a tool cannot reach gives what the boolean gives, or is not tried."""

from __future__ import annotations

import math
import random

import pytest
from OCP.BRepCheck import BRepCheck_Analyzer

from lathed_solid.core.job.storage import load
from lathed_solid.core.kernel.cut import edges
from lathed_solid.core.kernel.cut.boolean import _run, combine
from lathed_solid.core.kernel.cut.drilling import drilled
from lathed_solid.core.kernel.cut.near_cut import cut_near
from lathed_solid.core.kernel.form.outline import Segment, flat_face
from lathed_solid.core.kernel.form.sweep import moved, prism, turned_tool
from lathed_solid.core.kernel.ground.check import KernelFailure, NothingChanged, accept
from lathed_solid.core.kernel.ground.geometry import Frame
from lathed_solid.core.kernel.ground.named import NamedBody, carry
from lathed_solid.core.route.rebuild import Cache, rebuild

from ..conftest import EXAMPLES
from .test_drilling import FLOOR, tilted
from .test_kernel import box, cylinder

L_SHAPE = ((0.0, 0.0), (6.0, 0.0), (6.0, 2.0), (2.5, 2.0), (2.5, 5.0), (0.0, 5.0))


def hub() -> NamedBody:
    """A flange with a hub rounded at its foot, a stepped bore with broken edges, and a groove in the rim."""
    points = [
        (10, 0),
        (50, 0),
        (50, 4),
        (46, 4),
        (46, 6),
        (50, 6),
        (50, 10),
        (20, 10),
        (20, 30),
        (12, 30),
        (12, 20),
        (10, 20),
    ]
    corners = [(float(r), float(z)) for r, z in points]
    rim = turned_tool([(0, 0), *corners[1:9], (0, 30)], [f"o{k}" for k in range(9)], FLOOR, "hub")
    rim = edges.fillet(rim, [edges.Pick("hub/o6", "hub/o7")], 3.0, "foot")
    bore = turned_tool([(0, 0), (10, 0), (10, 20), (12, 20), (12, 30), (0, 30)], "abcde", FLOOR, "bore")
    body = _boolean(rim, [bore])
    return edges.chamfer(body, [edges.Pick("hub/o0", "bore/b")], 0.5, math.radians(45), "edge")


def _boolean(body: NamedBody, tools: list[NamedBody]) -> NamedBody:
    operation = _run("cut", body.shape, [t.shape for t in tools])
    pairs = carry(operation, [*body.pairs(), *(p for t in tools for p in t.pairs())])
    return accept(operation.Shape(), pairs, body, "less")


def prismatic(noise: random.Random, tag: str) -> NamedBody:
    """A slot, a wedge or an L, upright, lying across or turned, somewhere about the bore and the hub."""
    outline = noise.choice(
        [((-2.5, 0.0), (2.5, 0.0), (2.5, 9.0), (-2.5, 9.0)), ((0.0, 0.0), (7.0, 1.0), (2.0, 6.0)), L_SHAPE]
    )
    turn, away, low = noise.uniform(0, 2 * math.pi), noise.uniform(-2, 24), noise.choice([-1.0, 3.3, 12.7])
    c, s = math.cos(turn), math.sin(turn)
    loop = tuple(
        Segment(f"e{k}", a, b) for k, (a, b) in enumerate(zip(outline, outline[1:] + outline[:1], strict=True))
    )
    if noise.random() < 0.6:
        frame = Frame((away * c, away * s, low), (-s, c, 0.0), (-c, -s, 0.0))
        return prism(flat_face(loop, (), frame), (0.0, 0.0, 40.0), tag)
    frame = Frame((away * c, away * s, 14.0 + low), (-s, c, 0.0), (0.0, 0.0, 1.0))
    return prism(flat_face(loop, (), frame), (60.0 * c, 60.0 * s, 0.0), tag)


@pytest.mark.parametrize(("slanted", "least"), [(False, 5), (True, 11)])
def test_what_is_near_is_cut_as_the_boolean_cuts(slanted, least):
    noise, body, near = random.Random(11), hub(), 0
    if slanted:
        body = moved(body, tilted(), ("", ""))
    for k in range(22):
        tools = [prismatic(noise, f"t{k}")]
        if slanted:
            tools = [moved(t, tilted(), ("", "")) for t in tools]
        try:
            ours = cut_near(body, tools)
        except NothingChanged:
            with pytest.raises(NothingChanged):
                _boolean(body, tools)
            continue
        if ours is None:
            continue
        near += 1
        cut = _boolean(body, tools)
        assert ours.volume == pytest.approx(cut.volume, rel=1e-9)
        assert ours.face_count == cut.face_count
        names = [sorted(tuple(sorted(n)) for n in b.names.values()) for b in (ours, cut)]
        assert names[0] == names[1]
        assert BRepCheck_Analyzer(ours.shape).IsValid()
        assert not ours.unnamed()
    assert near >= least


def test_two_keyways_at_once():
    body = hub()
    tools = [box(-2, 8, 2, 13, z0=-1, height=40, tag="a"), box(-2, -13, 2, -8, z0=-1, height=40, tag="b")]
    ours = cut_near(body, tools)
    assert ours is not None
    assert ours.volume == pytest.approx(_boolean(body, tools).volume, rel=1e-9)


@pytest.mark.parametrize(
    ("tool", "why"),
    [
        (box(-2, 8, 2, 13, z0=0, height=15), "its end lies in the part's own end face"),
        (box(-60, 15, 60, 16, z0=-1, height=40), "it cuts the part in two"),
        (box(14, -1, 16, 1, z0=12, height=5), "it lies wholly inside the material"),
        (box(40, 40, 44, 44, z0=20, height=5), "it lies in the air"),
        (cylinder(radius=10, height=40, at=(0.0, 0.0, -1.0)), "its side is the bore's own"),
    ],
)
def test_what_is_not_certain_is_left_to_the_boolean(tool, why):
    assert cut_near(hub(), [tool]) is None, why


def test_a_part_cut_in_two_is_still_said():
    with pytest.raises(KernelFailure, match="separate pieces"):
        combine("cut", hub(), [box(-60, 15, 60, 16, z0=-1, height=40)])


def test_the_keyway_of_the_flange_is_cut_near():
    """The demo's last step: its boolean met the fillet round the hub, which the keyway cannot reach."""
    content = load(EXAMPLES / "skp-02.lathed").job.content
    cache = Cache()
    before = rebuild(content.plan(), cache, until=content.steps[-2].id).body
    after = rebuild(content.plan(), cache).body
    keyway = turned_tool([(0, 0), (1, 0), (1, 1), (0, 1)], "abc", FLOOR, "t")
    assert drilled(before, [keyway]) is None
    kept = {n for i in range(1, after.face_count + 1) if before.same(after.face(i)) for n in after.names[i]}
    assert "s4/e0/side" in kept  # the fillet is the very same face as before
