"""Nasty bodies times everything that is done with a body: sound results, or a refusal in words, and nothing else."""

import math

import pytest
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakeSphere,
    BRepPrimAPI_MakeTorus,
    BRepPrimAPI_MakeWedge,
)
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt

from lathed_solid.core.kernel.cut.boolean import apart, combine
from lathed_solid.core.kernel.cut.edges import Pick, chamfer, fillet, sharp_edges
from lathed_solid.core.kernel.cut.hollow import shell
from lathed_solid.core.kernel.files.reading import read_solids
from lathed_solid.core.kernel.files.step import write_step
from lathed_solid.core.kernel.files.writing import write_stl
from lathed_solid.core.kernel.form.outline import ArcSegment, Cubic, Segment, flat_face
from lathed_solid.core.kernel.form.sweep import prism, turned_tool
from lathed_solid.core.kernel.ground.check import accept
from lathed_solid.core.kernel.ground.geometry import Frame
from lathed_solid.core.kernel.ground.named import NamedBody
from lathed_solid.core.kernel.ground.picture import checked_by_mesh, from_bytes, mesh, to_bytes
from lathed_solid.core.kernel.ground.topology import FACE, edges_of, faces, subshapes, volume
from lathed_solid.core.kernel.measure.boxes import box, close_box
from lathed_solid.core.kernel.measure.inside import Inside
from lathed_solid.core.kernel.measure.pair import lie
from lathed_solid.core.kernel.measure.project import silhouette
from lathed_solid.core.kernel.measure.section import section_hatch
from lathed_solid.core.kernel.measure.surfaces import mass_properties, measure_faces, reach
from lathed_solid.core.quantity import Style
from lathed_solid.core.refusal import Refusal

FLAT = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
MIDDLE = Frame((0.0, 0.0, 1.234), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def at(x, y, z):
    return gp_Ax2(gp_Pnt(x, y, z), gp_Dir(0, 0, 1))


def block(x, y, z):
    return BRepPrimAPI_MakeBox(gp_Pnt(-x / 2, -y / 2, 0), x, y, z).Shape()


def free_wall():
    """A block with a wall of a cubic and a hollow of an arc that touch their neighbours smoothly."""
    loop = (
        Segment("a", (0.0, 0.0), (30.0, 0.0)),
        Cubic("b", ((30.0, 0.0), (38.0, 0.0), (22.0, 20.0), (30.0, 20.0))),
        Segment("c", (30.0, 20.0), (20.0, 20.0)),
        ArcSegment("d", (20.0, 20.0), (15.0, 15.0), (10.0, 20.0)),
        Segment("e", (10.0, 20.0), (0.0, 20.0)),
        Segment("f", (0.0, 20.0), (0.0, 0.0)),
    )
    return prism(flat_face(loop, (), FLAT), (0.0, 0.0, 6.0), "s1").shape


#: Name to shape and its volume (mm³); a volume in closed form, so that nothing is measured against itself.
BODIES = {
    "ball": (lambda: BRepPrimAPI_MakeSphere(5).Shape(), 4 / 3 * math.pi * 125),
    "half a ball": (lambda: BRepPrimAPI_MakeSphere(5, math.pi / 2).Shape(), None),
    "cone with its tip": (lambda: BRepPrimAPI_MakeCone(5, 0, 9).Shape(), math.pi * 25 * 9 / 3),
    "ring": (lambda: BRepPrimAPI_MakeTorus(10, 3).Shape(), 2 * math.pi**2 * 10 * 9),
    "part of a turn": (lambda: BRepPrimAPI_MakeCylinder(5, 8, 0.3).Shape(), 0.5 * 25 * 0.3 * 8),
    "foil": (lambda: block(80, 50, 0.02), 80 * 50 * 0.02),
    "grain": (lambda: block(0.05, 0.05, 0.05), 0.05**3),
    "beam": (lambda: block(2000, 12, 12), 2000 * 144),
    "knife edge": (lambda: BRepPrimAPI_MakeWedge(20, 10, 30, 0).Shape(), 20 * 10 * 30 / 2),
    "lens": (
        lambda: BRepAlgoAPI_Common(
            BRepPrimAPI_MakeSphere(at(0, 0, -6), 10, -math.pi / 2, math.pi / 2, 2 * math.pi).Shape(),
            BRepPrimAPI_MakeSphere(at(0, 0, 6), 10, -math.pi / 2, math.pi / 2, 2 * math.pi).Shape(),
        ).Shape(),
        2 * math.pi * 16 / 3 * (30 - 4),
    ),
    "hollow ball": (
        lambda: BRepAlgoAPI_Cut(BRepPrimAPI_MakeSphere(9).Shape(), BRepPrimAPI_MakeSphere(8.9).Shape()).Shape(),
        4 / 3 * math.pi * (9**3 - 8.9**3),
    ),
    "bore beside its wall": (
        lambda: BRepAlgoAPI_Cut(block(20, 20, 10), BRepPrimAPI_MakeCylinder(at(5.99, 0, -1), 4, 12).Shape()).Shape(),
        20 * 20 * 10 - math.pi * 16 * 10,
    ),
    "drum with a pin through": (
        lambda: BRepAlgoAPI_Fuse(
            BRepPrimAPI_MakeCylinder(8, 16).Shape(),
            BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(-12, 0, 8), gp_Dir(1, 0, 0)), 3, 24).Shape(),
        ).Shape(),
        None,
    ),
    "free wall": (free_wall, None),
}


@pytest.fixture(scope="module", params=BODIES, ids=lambda name: name.replace(" ", "-"))
def nasty(request):
    make, known = BODIES[request.param]
    shape = make()
    found = faces(shape)
    return accept(shape, [(f, f"s1/f{i}") for i, f in enumerate(found)], None, "any"), known


def refused(do):
    """What ``do`` gives; None when it refuses in words."""
    try:
        return do()
    except Refusal as error:
        assert error.message.endswith(".") or "|" in error.message or "/" in error.message, error.message
        return None


def test_its_volume_its_mass_and_its_box(nasty):
    body, known = nasty
    by_kernel = volume(body.shape)
    assert body.volume == pytest.approx(by_kernel, rel=1e-5)
    if known is not None:
        assert body.volume == pytest.approx(known, rel=1e-6)
    found = mass_properties(body)
    assert found.volume == pytest.approx(body.volume, rel=1e-9)
    low, high = box(body.shape)
    assert all(a - 1e-6 <= c <= b + 1e-6 for a, c, b in zip(low, found.center, high, strict=True))
    assert checked_by_mesh(body.shape, found).off < 0.02 * body.volume + 1e-3


def test_every_face_is_named_measured_and_found_again(nasty):
    body, _ = nasty
    surfaces = measure_faces(body)
    assert len(surfaces) == body.face_count
    assert sum(s.area for s in surfaces) == pytest.approx(mass_properties(body).area, rel=1e-6)
    for index in range(1, body.face_count + 1):
        assert body.find(body.name_of(index)) == [index]
    for edge in sharp_edges(body):
        if names := body.edge_names(edge):
            assert any(edge.IsSame(e) for e in body.edges_between(*names))


def test_it_is_seen_and_sent(nasty):
    body, _ = nasty
    mesh(body.shape)
    back = from_bytes(to_bytes(body.shape))
    assert len(subshapes(back, FACE)) == body.face_count
    assert volume(back) == pytest.approx(volume(body.shape), rel=1e-9)
    low, high = box(body.shape)
    frame = MIDDLE._replace(origin=tuple((a + b) / 2 for a, b in zip(low, high, strict=True)))
    refused(lambda: section_hatch(body.shape, frame))
    style = Style("mm", 3)
    for face in faces(body.shape):
        assert isinstance(lie((face, edges_of(body.shape)[0]), style), str)
    for index in range(1, body.face_count + 1):
        refused(lambda i=index: silhouette(body, body.name_of(i), FLAT))


def test_what_is_inside_and_how_far_it_reaches(nasty):
    body, _ = nasty
    low, high = box(body.shape)
    far = tuple(b + 1.0 for b in high)
    assert not Inside(body.shape)(far)
    size = high[2] - low[2]
    assert size - 1e-6 <= reach(body.shape, low, (0.0, 0.0, 1.0)) <= 1.5 * size, "no less than to its far end"


def test_it_goes_out_and_comes_back(nasty, tmp_path):
    body, _ = nasty
    write_step(body, tmp_path / "a.step", "nasty", (0.5, 0.5, 0.5))
    read = read_solids((tmp_path / "a.step").read_bytes(), "a.step", "s9")
    assert [r.body.volume for r in read] == [pytest.approx(body.volume, rel=1e-6)]
    write_stl(body, tmp_path / "a.stl", deflection=0.05)
    assert (tmp_path / "a.stl").stat().st_size > 84


@pytest.mark.parametrize("size", [0.05, 0.3, 50.0])
def test_its_edges_break_or_say_why_not(nasty, size):
    body, _ = nasty
    names = [names for e in sharp_edges(body) if (names := body.edge_names(e))][:3]
    for a, b in names:
        for made in (
            refused(lambda a=a, b=b: fillet(body, [Pick(a, b)], size, "s2")),
            refused(lambda a=a, b=b: chamfer(body, [Pick(a, b)], size, math.pi / 4, "s2")),
        ):
            assert made is None or 0 < made.volume < 2 * body.volume


def test_it_is_drilled_parted_joined_and_hollowed(nasty):
    body, _ = nasty
    low, high = box(body.shape)
    middle = tuple((a + b) / 2 for a, b in zip(low, high, strict=True))
    radius = 0.2 * min(b - a for a, b in zip(low, high, strict=True))
    over = high[2] - low[2] + 2 * radius
    frame = FLAT._replace(origin=(middle[0], middle[1], low[2] - radius))
    drill = turned_tool([(0.0, 0.0), (radius, 0.0), (radius, over), (0.0, over)], ["top", "side", "end"], frame, "s3")
    cut = refused(lambda: combine("cut", body, [drill]))
    assert cut is None or cut.volume < body.volume
    kept = refused(lambda: combine("keep", body, [drill]))
    if cut is not None and kept is not None:
        assert cut.volume + kept.volume == pytest.approx(body.volume, rel=1e-5)
    pieces = refused(lambda: apart("cut", body, [drill]))
    assert pieces is None or all(p.volume > 0 for p in pieces)
    joined = refused(lambda: combine("add", body, [drill]))
    assert joined is None or joined.volume >= body.volume * (1 - 1e-9)
    hollow = refused(lambda: shell(body, [body.name_of(1)], radius / 4, "s4"))
    assert hollow is None or isinstance(hollow, NamedBody)


def test_its_close_box_lies_in_the_quick_one_and_is_reached(nasty):
    body, _ = nasty
    quick, close = box(body.shape), close_box(body.shape)
    for k in range(3):
        assert quick[0][k] - 1e-6 <= close[0][k] < close[1][k] <= quick[1][k] + 1e-6
