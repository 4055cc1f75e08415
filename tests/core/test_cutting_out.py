"""Flat outlines for cutting, read back by another library."""

from __future__ import annotations

import json
import math
from pathlib import Path

import ezdxf
import ezdxf.bbox
import ezdxf.path
import pytest
from shapely.geometry import Polygon

from lathed_solid.core.callout.model import Callout
from lathed_solid.core.issue.cutting import Outline
from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.issue.outline import across_z, write_outline
from lathed_solid.core.issue.picture.model import NoPicture, Shot
from lathed_solid.core.issue.picture.posing import posed_part
from lathed_solid.core.job import edits
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.storage import load
from lathed_solid.core.kernel.files.reading import read_solids
from lathed_solid.core.kernel.ground.check import KernelFailure
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.units import INCH

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.fixture(scope="module")
def store(tmp_path_factory):
    return Store(tmp_path_factory.mktemp("store"))


def _loops(path):
    """Area and layer of every loop."""
    document = ezdxf.readfile(path)
    assert not document.audit().errors
    found = []
    for entity in document.modelspace():
        if entity.dxftype() == "CIRCLE":
            found.append((math.pi * entity.dxf.radius**2, entity.dxf.layer))
        else:
            path_ = ezdxf.path.make_path(entity)
            found.append((Polygon([(p.x, p.y) for p in path_.flattening(1e-5)]).area, entity.dxf.layer))
    return found


@pytest.mark.parametrize("kerf", [0.0, 0.2, 0.5])
def test_a_face_is_set_off_for_the_kerf(store, tmp_path, kerf):
    """A ring: both circles exactly where half the kerf puts them, each on its layer."""
    content = load(EXAMPLES / "skp-02.lathed", store).job.content
    path = tmp_path / "o.dxf"
    words = write_outline(content, Outline(plane=across_z(content, 5.0), kerf=kerf), path, store=store)
    circles = [e for e in ezdxf.readfile(path).modelspace() if e.dxftype() == "CIRCLE"]
    outer = [e.dxf.radius for e in circles if e.dxf.layer == "OUTLINE"]
    assert outer == pytest.approx([59 + kerf / 2])
    holes = sorted(e.dxf.radius for e in circles if e.dxf.layer == "HOLES")
    assert holes == pytest.approx([5 - kerf / 2] * 6 + [9 - kerf / 2] * 6)
    assert "13 holes" in words and len(_loops(path)) == 14


def test_a_plate_grows_by_half_the_kerf_all_round_with_round_corners(store, tmp_path):
    content = load(EXAMPLES / "skp-07.lathed", store).job.content
    areas = {}
    for kerf in (0.0, 1.0):
        path = tmp_path / f"{kerf}.dxf"
        write_outline(content, Outline(side="top", kerf=kerf), path, store=store)
        areas[kerf] = next(a for a, layer in _loops(path) if layer == "OUTLINE")
        assert path.read_bytes() == _again(content, kerf, tmp_path, store)
    document = ezdxf.readfile(tmp_path / "0.0.dxf")
    (outline,) = (e for e in document.modelspace() if e.dxf.layer == "OUTLINE")
    flat = [(p.x, p.y) for p in ezdxf.path.make_path(outline).flattening(1e-4)]
    assert areas[1.0] == pytest.approx(Polygon(flat).buffer(0.5, quad_segs=400).area, rel=1e-5)


def _again(content, kerf, folder, store):
    write_outline(content, Outline(side="top", kerf=kerf), folder / "again.dxf", store=store)
    return (folder / "again.dxf").read_bytes()


def test_an_inch_job_is_written_in_inches(store, tmp_path):
    content = load(EXAMPLES / "skp-03.lathed", store).job.content
    path = tmp_path / "o.dxf"
    write_outline(content, Outline(side="top"), path, store=store)
    document = ezdxf.readfile(path)
    assert content.header.units == "in" and document.units == ezdxf.units.IN
    proof = build_and_prove(content, store=store).proof
    wide = max(b - a for a, b in zip(proof.mass.low, proof.mass.high, strict=True)) / INCH
    box = ezdxf.bbox.extents(document.modelspace())
    assert box.size.x <= wide + 1e-6 and box.size.x > 1.0


def test_what_cannot_be_cut_out_is_refused(store, tmp_path):
    content = load(EXAMPLES / "skp-02.lathed", store).job.content
    path = tmp_path / "o.dxf"
    for wanted, error in (
        (Outline(face="s1/b.od/side"), CannotWrite),  # round
        (Outline(face="s99/nothing"), CannotWrite),
        (Outline(plane=across_z(content, 500.0)), KernelFailure),
        (Outline(plane=across_z(content, 5.0), kerf=12.0), KernelFailure),  # wider than its holes
        (Outline(side="top", kerf=-1.0), CannotWrite),
    ):
        with pytest.raises(error):
            write_outline(content, wanted, path, store=store)
    assert not path.exists()


def test_nothing_is_cut_out_of_a_part_whose_route_stops_half_way(store, tmp_path):
    content = load(EXAMPLES / "skp-02.lathed", store).job.content
    bore = next(s for s in content.steps if s.name == "Bore")
    broken = edits.change_step(content, bore.id, face=FaceRef("s99/gone"))
    with pytest.raises(CannotWrite, match="Bore"):
        write_outline(broken, Outline(side="top"), tmp_path / "o.dxf", store=store)
    with pytest.raises(NoPicture, match="Bore"):
        posed_part(broken, Shot(), None, store)


def test_the_ledger_as_json_says_what_is_read_and_measured(store, tmp_path):
    content = load(EXAMPLES / "skp-02.lathed", store).job.content
    issue(content, tmp_path / "l.json", FORMATS["json"], store=store)
    told = json.loads((tmp_path / "l.json").read_text("utf-8"))
    assert [c["number"] for c in told["callouts"]] == [c.number for c in content.callouts]
    bore = next(c for c in told["callouts"] if c["note"] == "Ø20 H7 THRU")
    assert bore["reading"]["characteristics"][0]["upper"] == pytest.approx(20.021)
    assert told["proof"]["all_in"] is True
    measured = next(e for e in told["proof"]["lines"] if e["number"] == bore["number"])["measured"]
    assert measured == pytest.approx(20.0)
    broken = content.__class__(header=content.header, callouts=(*content.callouts, Callout(number=99, note="12 ±")),
                               sketches=content.sketches, routes=content.routes)  # fmt: skip
    issue(broken, tmp_path / "b.json", FORMATS["json"], store=store)
    last = json.loads((tmp_path / "b.json").read_text("utf-8"))["callouts"][-1]
    assert last["number"] == 99 and last["unread"]


@pytest.mark.parametrize("name", ["skp-02", "skp-03"])
def test_iges_goes_out_and_comes_back(store, tmp_path, name):
    content = load(EXAMPLES / f"{name}.lathed", store).job.content
    issue(content, tmp_path / "p.igs", FORMATS["iges"], store=store)
    (read,) = read_solids((tmp_path / "p.igs").read_bytes(), "p.igs", "s1")
    proof = build_and_prove(content, store=store).proof
    assert read.body.volume == pytest.approx(proof.mass.volume, rel=1e-6)
