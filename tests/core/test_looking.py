"""What the part view is told: section planes, and how two picked faces or edges lie to each other."""

import math

import pytest

from lathed_solid.core.kernel.ground.geometry import dot
from lathed_solid.core.kernel.measure.boxes import box
from lathed_solid.core.kernel.measure.cutting_plane import NoPlane, cutting_frame
from lathed_solid.core.kernel.measure.pair import lie
from lathed_solid.core.kernel.measure.section import hatches
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.quantity import Style

from .strangers.bench import Bench


@pytest.fixture(scope="module")
def part():
    """A block with two bores, a cross bore and a pin on its top."""
    b = Bench()
    s1 = b.block("rect 0,0 60,40", depth="20")
    for x in ("15", "45"):
        b.hole(f"{s1}/end", diameter="8", x=x, y="20")
    b.hole(f"{s1}/l2/side", diameter="5", x="10", y="8")
    b.extrude(b.sketch("circle Ø12 at 30,20", base="face", on=f"{s1}/end"), "15")
    return b.proved().result.body


def faces(body, **what):
    found = [s for s in measure_faces(body) if all(getattr(s, k) == v for k, v in what.items())]
    return sorted(found, key=lambda s: s.origin)


def words(body, a, b):
    return lie([body.face(a.index), body.face(b.index)], Style())


def test_two_faces_tell_how_they_lie(part):
    first, second = [s for s in faces(part, kind="cylinder") if abs(s.radius - 4) < 1e-9]
    cross = next(s for s in faces(part, kind="cylinder") if abs(s.radius - 2.5) < 1e-9)
    pin = next(s for s in faces(part, kind="cylinder") if abs(s.radius - 6) < 1e-9)
    flats = {s.axis: s for s in faces(part, kind="plane")}
    left, right = flats[-1.0, -0.0, -0.0], flats[1.0, -0.0, -0.0]
    assert words(part, first, second) == "axes parallel, 30 apart  ·  nearest 22"
    assert words(part, left, right).startswith("parallel, 60 apart")
    assert words(part, left, first).startswith("axis 15 from the face")
    assert words(part, first, cross).startswith("axes pass at 10, at 90°")
    assert words(part, pin, pin).startswith("on one axis")


def test_an_edge_and_a_face_tell_how_they_lie(part):
    edge = part.edges_between("s1/l1/side", "s1/l2/side")[0]
    bore = next(s for s in faces(part, kind="cylinder") if abs(s.radius - 4) < 1e-9)
    assert lie([edge, part.face(bore.index)], Style()).startswith("axis and edge parallel, ")
    assert lie([edge, part.face(bore.index)], Style(unit="in")).endswith(f"nearest {_inches(edge, part, bore)}")


def _inches(edge, part, bore):
    return Style(unit="in").length(math.hypot(60 - 15, 20) - 4)


def test_a_section_lies_where_it_is_told(part):
    assert cutting_frame("y", (), 3.0, 0.0).origin == pytest.approx((0, 3, 0))
    turned = cutting_frame("y", (), 0.0, math.radians(30))
    assert dot(turned.normal, (0, 1, 0)) == pytest.approx(math.cos(math.radians(30)))
    left, right = (next(s for s in faces(part, kind="plane") if s.axis[0] == sign) for sign in (-1.0, 1.0))
    midway = cutting_frame("picked", (left, right), 0.0, 0.0)
    assert midway.origin[0] == pytest.approx(30) and abs(midway.normal[0]) == pytest.approx(1)
    bore = next(s for s in faces(part, kind="cylinder") if abs(s.radius - 4) < 1e-9)
    through = cutting_frame("picked", (bore,), 0.0, 0.7)
    assert dot(through.normal, bore.axis) == pytest.approx(0, abs=1e-12)
    assert dot(tuple(a - b for a, b in zip(bore.origin, through.origin, strict=True)), through.normal) == pytest.approx(
        0
    )
    with pytest.raises(NoPlane, match="not flat and parallel"):
        cutting_frame("picked", (left, bore), 0.0, 0.0)
    with pytest.raises(NoPlane, match="Pick a flat face"):
        cutting_frame("picked", (), 0.0, 0.0)


def test_each_body_is_hatched_its_own_way(part):
    low, high = box(hatches([part.shape], cutting_frame("x", (), 30.0, 0.0)))
    assert low[0] == pytest.approx(30, abs=1e-6) == high[0]
    two = hatches([part.shape, part.shape], cutting_frame("z", (), 10.0, 0.0))
    one = hatches([part.shape], cutting_frame("z", (), 10.0, 0.0))
    from lathed_solid.core.kernel.ground.topology import EDGE, subshapes

    assert len(subshapes(two, EDGE)) > 1.5 * len(subshapes(one, EDGE))
    assert not subshapes(hatches([], cutting_frame("z", (), 10.0, 0.0)), EDGE)
