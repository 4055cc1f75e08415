"""A part held against another: pieces, volumes, deviation, marks; laid on ours when it lies elsewhere."""

import math

import pytest
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.against import held_against
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import settle
from lathed_solid.core.kernel.files.stl.triangles import read_stl
from lathed_solid.core.kernel.ground.check import KernelFailure
from lathed_solid.core.kernel.measure.aligning import aligned
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.kernel.measure.triangles import closed
from lathed_solid.core.refusal import Refusal

from ..conftest import EXAMPLES
from .strangers.bench import Bench
from .strangers.test_strangers import PARTS


def plate(drill="Ø8 THRU", y="0"):
    bench = Bench("60", "40", "10", drill, "12")
    bench.block("rect #1 x #2", depth="#3")
    bench.hole("s1/end", diameter="#4", x="#5", y=y)
    return bench.content


def test_a_hole_elsewhere_is_one_piece_more_and_one_less():
    found = held_against(plate(), plate(y="15")).difference
    hole = math.pi * 16 * 10
    assert (found.pieces, {x.more for x in found.lumps}) == (2, {True, False})
    assert found.more == pytest.approx(hole, abs=found.off) and found.less == pytest.approx(hole, abs=found.off)
    more = next(x for x in found.lumps if x.more)
    assert more.place == pytest.approx((-12, 0, 5), abs=0.05) or more.place == pytest.approx((12, 0, 5), abs=0.05)
    assert more.size == pytest.approx((8, 8, 10), abs=0.05) and more.skin.data
    assert more.deep is not None and 3.0 < more.deep <= 4.001, "in the middle of what was the mouth"


def test_a_wider_hole_reaches_by_half_of_what_it_is_wider():
    found = held_against(plate("Ø8 THRU"), plate("Ø9 THRU")).difference
    assert found.more == 0 and found.less == pytest.approx(math.pi * (4.5**2 - 16) * 10, abs=found.off)
    assert found.lumps[0].deep == pytest.approx(0.5, abs=0.03)
    same = held_against(plate(), plate()).difference
    assert (same.pieces, same.more, same.less) == (0, 0.0, 0.0)


def test_the_marks_that_turn_are_told():
    """Their plate has the hole drilled undersize behind the callout's back."""
    other = edits.change_step(plate(), "s2", diameter="7")
    found = held_against(plate(), other)
    assert [(t.number, t.here) for t in found.turned if t.key == ""] == [(4, "in")]
    assert found.volume == pytest.approx(60 * 40 * 10 - math.pi * 3.5**2 * 10) and found.grams > 0


@pytest.mark.parametrize(("number", "step"), [("01", -1), ("02", -1), ("04", -2), ("07", -1)])
def test_a_step_left_out_of_an_example_is_found_whole(number, step):
    """Where the kernel's own cut gives back the whole body, too (SKP-04)."""
    content = settle(storage.load(EXAMPLES / f"skp-{number}.lathed").job.content).content
    without = edits.change_step(content, content.steps[step].id, suppressed=True)
    whole, less = (build_and_prove(c).proof.mass.volume for c in (content, without))
    found = held_against(content, without).difference
    assert found.more - found.less == pytest.approx(less - whole, abs=0.01 * abs(less - whole) + 1.0)
    assert found.pieces >= 1 and max(found.more, found.less) < 0.2 * whole


@pytest.mark.parametrize("name", ["inch_clamp_bar", "housing", "bolt_ring_cover", "pulley", "round_ended_link"])
def test_a_file_that_lies_elsewhere_is_laid_on_ours(name, tmp_path):
    content = PARTS[name]()[0].content
    path = tmp_path / "theirs.brep"
    written(content, path)
    found = held_against(content, path=str(path), lay=True)
    assert found.moved == found.faces > 3 and found.difference.pieces == 0
    assert found.volume == pytest.approx(build_and_prove(content).proof.mass.volume, rel=1e-7)
    away = held_against(content, path=str(path)).difference
    assert away.more > 0.5 * found.volume, "as it lies it is somewhere else"


def written(content, path):
    """A part turned and shifted, as a file of somebody else."""
    from OCP.BRepTools import BRepTools

    move, turn = gp_Trsf(), gp_Trsf()
    move.SetTranslation(gp_Vec(310, -45, 12))
    turn.SetRotation(gp_Ax1(gp_Pnt(3, 1, 4), gp_Dir(1, 2, -0.5)), 1.1)
    move.Multiply(turn)
    BRepTools.Write_s(
        BRepBuilderAPI_Transform(build_and_prove(content).result.body.shape, move, True).Shape(), str(path)
    )


def test_a_part_with_a_step_missing_is_laid_on_ours_all_the_same(tmp_path):
    content = PARTS["housing"]()[0].content
    without = edits.change_step(content, content.steps[-1].id, suppressed=True)
    path = tmp_path / "theirs.brep"
    written(without, path)
    found = held_against(content, path=str(path), lay=True)
    gap = build_and_prove(without).proof.mass.volume - build_and_prove(content).proof.mass.volume
    assert found.moved < found.faces or gap
    assert found.difference.more - found.difference.less == pytest.approx(gap, abs=found.difference.off)


def test_a_mirror_image_is_never_laid_on_ours():
    """An L with a blind hole in one leg has another hand."""
    bench = Bench("50", "30", "8", "Ø6 THRU")
    bench.block("line 0,0 50,0 50,8 8,8 8,30 0,30 close", depth="#3")
    bench.hole("s1/end", diameter="#4", x="35", y="4", counted="part", extent="depth", depth="3")
    faces = measure_faces(bench.proved().result.body)
    mirror = gp_Trsf()
    from OCP.gp import gp_Ax2

    from lathed_solid.core.kernel.ground.named import NamedBody

    mirror.SetMirror(gp_Ax2(gp_Pnt(0, 0, 4), gp_Dir(1, 0, 0)))
    other = BRepBuilderAPI_Transform(bench.proved().result.body.shape, mirror, True).Shape()
    found = aligned(measure_faces(NamedBody(other, ())), faces)
    assert found is None or found[2] < len(faces)


def test_an_stl_file_is_held_against_ours(tmp_path):
    content = plate()
    path = tmp_path / "theirs.stl"
    issue(plate("Ø10 THRU"), path, FORMATS["stl"])
    found = held_against(content, path=str(path))
    assert found.difference.less == pytest.approx(math.pi * (25 - 16) * 10, abs=found.difference.off)
    laid = held_against(content, path=str(path), lay=True)
    assert (laid.moved, laid.alone) == (4, (1, 1)), "by the faces found in its triangles: all but the hole"
    text = b"solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid"
    assert len(read_stl(text, "a.stl").face) == 1
    with pytest.raises(KernelFailure, match="do not close"):
        closed(read_stl(text, "a.stl"))
    for bad in (b"", b"solid a\nvertex 0 0", b"solid\nvertex 0 0 x vertex 1 1 1 vertex 2 2 2", b"\0" * 90):
        with pytest.raises(KernelFailure):
            read_stl(bad, "bad.stl")


@pytest.mark.parametrize("path", ["/nowhere/part.step", "/etc/hostname"])
def test_what_cannot_be_read_is_said(path):
    with pytest.raises(Refusal) as refused:
        held_against(plate(), path=path)
    assert refused.value.message
