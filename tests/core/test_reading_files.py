"""Solids read from files other programs write: IGES with solids and with loose faces, 3MF by its own library."""

from __future__ import annotations

from pathlib import Path

import pytest
from OCP.IGESControl import IGESControl_Controller, IGESControl_Writer

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.storage import load
from lathed_solid.core.kernel.files import reading
from lathed_solid.core.kernel.ground.check import KernelFailure
from lathed_solid.core.route.rebuild import Cache, rebuild

EXAMPLES = Path(__file__).parents[2] / "examples"


@pytest.fixture(scope="module")
def flange(tmp_path_factory):
    store, cache = Store(tmp_path_factory.mktemp("store")), Cache()
    content = load(EXAMPLES / "skp-02.lathed", store).job.content
    return content, rebuild(content.plan(store.find), cache).body, cache, store


@pytest.mark.parametrize("mode", [0, 1], ids=["loose faces", "solid"])
def test_iges_comes_back_as_the_solid_it_was(flange, tmp_path, mode):
    _, body, _, _ = flange
    IGESControl_Controller.Init_s()
    writer = IGESControl_Writer("MM", mode)
    writer.AddShape(body.shape)
    writer.ComputeModel()
    writer.Write(str(tmp_path / "a.igs"))
    (back,) = reading.read_solids((tmp_path / "a.igs").read_bytes(), "a.igs", "s1")
    assert back.body.volume == pytest.approx(body.volume, rel=1e-6)
    assert back.body.face_count == body.face_count


def test_an_iges_file_of_lines_is_told(tmp_path):
    start = b"a drawing".ljust(72) + b"S      1\n"
    with pytest.raises(KernelFailure, match="IGES"):
        reading.read_solids(start, "a.igs", "s1")


def test_3mf_comes_back_with_its_unit_name_and_colour(flange, tmp_path):
    content, body, cache, store = flange
    issue(content, tmp_path / "a.3mf", FORMATS["3mf"], cache, store=store)
    (back,) = reading.read_solids((tmp_path / "a.3mf").read_bytes(), "a.3mf", "s1")
    assert back.body.volume == pytest.approx(body.volume, rel=1e-4)
    assert back.name and back.color == pytest.approx(content.header.material.color, abs=0.01)
    assert "cylinder" in back.found
    with pytest.raises(KernelFailure, match="damaged"):
        reading.read_solids((tmp_path / "a.3mf").read_bytes()[:-200], "a.3mf", "s1")
