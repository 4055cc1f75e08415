"""What is in whose way, judged on solids: overlaps against closed form, contact told from overlap, threads in threads."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakeSphere,
)
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from scipy.integrate import dblquad

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.clearance import clearances, first_in_the_way, near_pairs
from lathed_solid.core.fit.mass import bill, weigh
from lathed_solid.core.fit.model import Assembly, PartShot, Pose, Threaded
from lathed_solid.core.fit.poses import placed
from lathed_solid.core.kernel.ground.named import NamedBody
from lathed_solid.core.kernel.measure.bodies import Body
from lathed_solid.core.kernel.measure.boxes import close_box
from lathed_solid.core.kernel.measure.surfaces import inertia, mass_properties, measure_faces
from lathed_solid.core.standards.threads import ScrewThread


def cylinder(radius, length, at=(0, 0, 0), along=(0, 0, 1)):
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(*map(float, at)), gp_Dir(*map(float, along))), radius, length).Solid()


def box(x, y, z, at=(0, 0, 0)):
    return BRepPrimAPI_MakeBox(gp_Pnt(*map(float, at)), x, y, z).Solid()


def drilled(shape, *tools):
    for tool in tools:
        shape = BRepAlgoAPI_Cut(shape, tool).Shape()
    return shape


class Bench:
    """Solids as parts, put together by hand."""

    def __init__(self):
        self.assembly, self.bodies, self.names = Assembly(), {}, []

    def put(self, shape, place=(0, 0, 0), turn=(1.0, 0.0, 0.0, 0.0), threads=(), density=7.85):
        body = NamedBody(shape, ())
        surfaces = measure_faces(body)
        figures = mass_properties(body)
        shot = PartShot(
            id="", path=f"part {len(self.bodies)}", references=tuple(f"f{k}" for k in range(1, body.face_count + 1)),
            surfaces=surfaces, box=close_box(shape), volume=figures.volume, center=figures.center,
            inertia=inertia(shape), density=density, threads=tuple(threads),
        )  # fmt: skip
        size = math.sqrt(sum(v * v for v in turn))
        pose = Pose(tuple(map(float, place)), tuple(v / size for v in turn))
        self.assembly, (name,) = edits.insert(self.assembly, shot, [pose])
        self.bodies[self.assembly.instance(name).part] = Body(shape, surfaces)
        self.names.append(name)
        return name

    def judged(self):
        return clearances(self.assembly, lambda part: self.bodies[part.id])

    def only(self):
        (pair,) = self.judged().pairs
        return pair


def lens(r, s, d):
    """What two balls have in common, mm³."""
    return math.pi * (r + s - d) ** 2 * (d * d + 2 * d * (r + s) - 3 * (r - s) ** 2) / (12 * d)


def crossed(big, small):
    """What two cylinders have in common whose axes cross at right angles, mm³."""
    return 8 * dblquad(
        lambda y, x: math.sqrt(max(big * big - x * x, 0.0)),
        0, small, 0, lambda x: math.sqrt(max(small * small - x * x, 0.0)), epsabs=1e-10, epsrel=1e-10,
    )[0]  # fmt: skip


OVERLAPS = {
    "bar end in a bar": (box(10, 10, 10), box(10, 10, 10, (9.97, 0, 0)), 3.0, 0.03),
    "crossed bars": (box(40, 8, 10), box(8, 40, 10, (16, -16, 0)), 640.0, 8.0),
    "corner in a corner": (box(10, 10, 10), box(10, 10, 10, (9.5, 9.5, 9.5)), 0.125, 0.5),
    "wholly inside": (box(10, 10, 10), box(2, 2, 2, (4, 4, 4)), 8.0, 2.0),
    "pin across a bar": (box(40, 10, 10, (-20, -5, -5)), cylinder(2, 30, (0, 0, -15)), 40 * math.pi, 4.0),
    "shaft too large for its hole": (
        drilled(box(40, 40, 10, (-20, -20, 0)), cylinder(6, 30, (0, 0, -10))), cylinder(6.02, 30, (0, 0, -10)),
        math.pi * (6.02**2 - 36) * 10, 0.02,
    ),
    "head in a small counterbore": (
        drilled(box(40, 40, 10, (-20, -20, 0)), cylinder(5.5, 6, (0, 0, 4))), cylinder(6, 6, (0, 0, 4)),
        math.pi * (36 - 5.5**2) * 6, 0.5,
    ),
    "head below its seat": (
        drilled(box(40, 40, 10, (-20, -20, 0)), cylinder(7, 6, (0, 0, 4))), cylinder(6, 6, (0, 0, 3.95)),
        math.pi * 36 * 0.05, 0.05,
    ),
    "bolt 20 in a hole 12": (
        drilled(box(60, 60, 10, (-30, -30, 0)), cylinder(6, 30, (0, 0, -10))), cylinder(10, 40, (0, 0, -15)),
        math.pi * 64 * 10, 4.0,
    ),
    "two balls": (BRepPrimAPI_MakeSphere(5.0).Solid(), BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, 9.9), 5.0).Solid(), lens(5, 5, 9.9), 0.1),
    "balls of two sizes": (BRepPrimAPI_MakeSphere(8.0).Solid(), BRepPrimAPI_MakeSphere(gp_Pnt(0, 10.5, 0), 3.0).Solid(), lens(8, 3, 10.5), 0.5),
    "crossed cylinders": (cylinder(6, 40, (0, 0, -20)), cylinder(4, 40, (-20, 0, 0), (1, 0, 0)), crossed(6, 4), None),
    "cylinders of one size": (cylinder(5, 40, (0, 0, -20)), cylinder(5, 40, (-20, 0, 0), (1, 0, 0)), 16 * 125 / 3, None),
    "dowel too long for its hole": (
        drilled(box(30, 30, 20, (-15, -15, 0)), cylinder(3, 12, (0, 0, 8))), cylinder(3, 12.2, (0, 0, 7.8)), math.pi * 9 * 0.2, 0.2,
    ),
    "cone in a bore": (
        drilled(box(30, 30, 20, (-15, -15, 0)), cylinder(4, 40, (0, 0, -10))),
        BRepPrimAPI_MakeCone(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), 3.0, 5.0, 20.0).Solid(),
        math.pi * 10 / 3 * (16 + 20 + 25) - math.pi * 16 * 10, None,
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", OVERLAPS)
def test_an_overlap_has_the_volume_and_depth_it_must_have(name):
    first, second, volume, deep = OVERLAPS[name]
    turn = (0.8, 0.1, -0.3, 0.4)  # both moved and turned alike: nothing lies along the axes
    size = math.sqrt(sum(v * v for v in turn))
    for place, q in (((0, 0, 0), (1.0, 0.0, 0.0, 0.0)), ((30, -7, 12), tuple(v / size for v in turn))):
        bench = Bench()
        bench.put(first, place, q)
        bench.put(second, place, q)
        pair = bench.only()
        assert pair.state == "overlapping" and pair.exact
        assert pair.volume == pytest.approx(volume, rel=1e-6)
        if deep is not None:
            assert pair.deep == pytest.approx(deep, abs=max(2e-3, 0.02 * deep))


#: A ball that just touches the wall of a cone of 30° from its axis.
_SEATED = gp_Pnt(0, 0, 4 / math.sin(math.radians(30)))
CONTACTS = {
    "bars end to end": (box(10, 10, 10), box(10, 10, 10, (10, 0, 0))),
    "edge on a face": (box(10, 10, 10), box(10, 10, 10, (3, 4, 10))),
    "shaft in its hole": (drilled(box(40, 40, 10, (-20, -20, 0)), cylinder(6, 30, (0, 0, -10))), cylinder(6, 30, (0, 0, -10))),
    "shaft in its hole, turned": (
        drilled(box(40, 40, 10, (-20, -20, 0)), cylinder(6, 30, (0, 0, -10))),
        BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(0, 0, -10), gp_Dir(0, 0, 1), gp_Dir(math.cos(0.1), math.sin(0.1), 0)), 6.0, 30.0).Solid(),
    ),
    "head on its seat": (
        drilled(box(40, 40, 10, (-20, -20, 0)), cylinder(7, 6, (0, 0, 4)), cylinder(3.5, 30, (0, 0, -10))),
        BRepAlgoAPI_Fuse(cylinder(6, 6, (0, 0, 4)), cylinder(3, 14, (0, 0, -10))).Shape(),
    ),
    "cylinder on a flat": (box(40, 40, 5, (-20, -20, -5)), cylinder(6, 30, (-15, 0, 6), (1, 0, 0))),
    "ball on a flat": (box(40, 40, 5, (-20, -20, -5)), BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, 6), 6.0).Solid()),
    "ball in its cone": (
        drilled(box(40, 40, 30, (-20, -20, 0)), BRepPrimAPI_MakeCone(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), 0.0, 20 * math.tan(math.radians(30)), 20.0).Solid(), cylinder(18, 20, (0, 0, 15))),
        BRepPrimAPI_MakeSphere(_SEATED, 4.0).Solid(),
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", CONTACTS)
def test_contact_is_told_as_contact(name):
    bench = Bench()
    for shape in CONTACTS[name]:
        bench.put(shape, (5, 2, 1), (0.9, 0.2, 0.1, 0.3))
    pair = bench.only()
    assert pair.state == "touching" and pair.volume == 0.0


@pytest.mark.parametrize(
    ("first", "second", "gap"),
    [
        (box(10, 10, 10), box(10, 10, 10, (10.05, 0, 0)), 0.05),
        (drilled(box(40, 40, 10, (-20, -20, 0)), cylinder(6.01, 30, (0, 0, -10))), cylinder(6, 30, (0, 0, -10)), 0.01),
        (BRepPrimAPI_MakeSphere(5.0).Solid(), BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, 10.5), 5.0).Solid(), 0.5),
        (cylinder(4, 40, (0, 0, -20)), cylinder(3, 40, (-20, 7.2, 0), (1, 0, 0)), 0.2),
    ],
)
def test_a_gap_is_measured(first, second, gap):
    bench = Bench()
    bench.put(first)
    bench.put(second)
    pair = bench.only()
    assert pair.state == "apart" and pair.gap == pytest.approx(gap, abs=1e-9)
    assert math.dist(*pair.ends) == pytest.approx(gap, abs=1e-9)


def threaded(size, pitch, face, internal, **more):
    return Threaded(face, ScrewThread(size, pitch, **more), internal, False, 10.0)


def round_face(shape, radius):
    return next(
        f"f{s.index}"
        for s in measure_faces(NamedBody(shape, ()))
        if s.kind == "cylinder" and abs(s.radius - radius) < 1e-9
    )


def test_a_bolt_in_its_tapped_hole_is_in_thread_and_another_is_not():
    plate = drilled(box(40, 40, 12, (-20, -20, 0)), cylinder(4.25, 30, (0, 0, -10)))
    bolt = cylinder(5, 20, (0, 0, 2))
    for outer, state, words in (
        (threaded(10.0, 1.5, "", False), "in thread", "M10x1.5 engaged over"),
        (threaded(10.0, 1.25, "", False), "overlapping", "M10x1.25 does not go into M10x1.5"),
        (threaded(10.0, 1.5, "", False, left_hand=True), "overlapping", "does not go into"),
    ):
        bench = Bench()
        bench.put(plate, threads=[threaded(10.0, 1.5, round_face(plate, 4.25), True)])
        bench.put(bolt, threads=[msgspec.structs.replace(outer, face=round_face(bolt, 5.0))])
        pair = bench.only()
        assert pair.state == state and words in pair.words
    bench = Bench()
    bench.put(plate, threads=[threaded(10.0, 1.5, round_face(plate, 4.25), True)])
    bench.put(bolt, (0.4, 0, 0), threads=[threaded(10.0, 1.5, round_face(bolt, 5.0), False)])
    assert bench.only().state == "overlapping"  # beside the hole's axis


def test_all_pairs_of_a_row_are_found_and_those_alike_are_judged_once():
    bench, judged = Bench(), []
    for k in range(6):
        bench.put(box(10, 10, 10), (9.9 * k, 0, 0))
    one = next(iter(bench.bodies.values()))
    same = Assembly(
        parts=bench.assembly.parts[:1],
        instances=tuple(msgspec.structs.replace(i, part=bench.assembly.parts[0].id) for i in bench.assembly.instances),
        next_id=bench.assembly.next_id,
    )
    pairs, many = near_pairs(same)
    assert many == 15 and len(pairs) == 5
    found = clearances(same, lambda part: (judged.append(part.id), one)[1])
    assert len(judged) == 2 and len(found.overlaps) == 5
    for k, pair in enumerate(sorted(found.pairs, key=lambda p: p.place[0])):
        assert pair.volume == pytest.approx(10.0, rel=1e-9)
        assert pair.place == pytest.approx((9.9 * k + 9.95, 5, 5), abs=1e-6)


def test_the_first_moment_in_which_parts_meet_is_found_and_what_does_not_move_is_judged_once():
    bench, judged = Bench(), []
    still = [bench.put(box(10, 10, 10)), bench.put(box(10, 10, 10), (0, 10, 0))]
    runner = bench.put(box(4, 4, 4), (30, 3, 3))
    moments = [edits.change_instance(bench.assembly, runner, pose=Pose((30.0 - 3 * k, 3.0, 3.0))) for k in range(10)]
    found = first_in_the_way(moments, lambda part: (judged.append(part.id), bench.bodies[part.id])[1])
    assert found is not None
    at, pair = found
    assert at == 7 and {pair.a, pair.b} == {still[0], runner}  # at 9 it is 1 deep in the bar that ends at 10
    assert pair.volume == pytest.approx(16.0, rel=1e-9)
    two = {bench.assembly.instance(n).part for n in still}
    assert (
        sum(p in two for p in judged) <= 2 + 3
    )  # the two that stand still once, the bar again as the runner comes near
    assert first_in_the_way(moments[:7], lambda part: bench.bodies[part.id]) is None


def test_mass_centre_and_inertia_of_what_is_put_together_are_those_of_the_whole():
    whole = Bench()
    whole.put(box(30, 20, 10))
    parts = Bench()
    half = box(15, 20, 10)
    parts.put(half)
    parts.put(half, (30, 20, 0), (0.0, 0.0, 0.0, 1.0))  # turned half round Z
    one, two = weigh(whole.assembly), weigh(parts.assembly)
    assert two.grams == pytest.approx(30 * 20 * 10 * 7.85e-3)
    assert two.center == pytest.approx(one.center) and two.inertia == pytest.approx(one.inertia, abs=1e-6)
    assert one.inertia[0] == pytest.approx(one.grams * (20**2 + 10**2) / 12)
    assert [(line.item, line.many) for line in bill(parts.assembly)] == [(1, 1), (2, 1)]
    chosen = weigh(parts.assembly, {parts.names[1]})
    assert chosen.center == pytest.approx(placed(parts.assembly.instance(parts.names[1]).pose, np.array([7.5, 10, 5])))
    unknown = Bench()
    unknown.put(half, density=0.0)
    assert weigh(unknown.assembly).unweighed == ("part 0",)
