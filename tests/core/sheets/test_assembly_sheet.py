"""The sheet of SKP-00: every part listed and numbered, bought parts whole, nothing over anything."""

from __future__ import annotations

import io
import itertools

import ezdxf
import pytest

from lathed_solid.core.drafting.sheet.compose import words_box
from lathed_solid.core.drafting.sheet.scene import Path, Round
from lathed_solid.core.fit.mass import bill
from lathed_solid.core.issue.assemblies import write
from lathed_solid.core.issue.drawing.assembly import assembly_sheet
from lathed_solid.core.job.assembling.files import load_assembly
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.kernel.draw.shadows import uncovered

from .conftest import EXAMPLES


@pytest.fixture(scope="module")
def drum(tmp_path_factory):
    store = Store(tmp_path_factory.mktemp("store"))
    assembly = load_assembly(EXAMPLES / "skp-00.lathed", store).assembly
    return assembly, store, assembly_sheet(assembly, store)


def test_every_part_is_listed_and_every_part_seen_has_its_number(drum):
    assembly, _, made = drum
    scene, lines = made.scene, bill(assembly)
    texts = [w.text for w in scene.texts()]
    for line in lines:
        assert line.part.number in texts and str(line.item) in texts
    hidden = set(made.unseen)
    assert hidden == {4}  # the set screw lies inside the hub, and is seen from nowhere
    balloons = {m.of for m in scene.marks if isinstance(m, Round) and m.of.startswith("label:")}
    assert balloons == {f"label:{line.item}" for line in lines if line.item not in hidden}
    pairs = itertools.combinations(scene.texts(), 2)
    assert not [(a.text, b.text) for a, b in pairs if _over(words_box(a), words_box(b))]


def _over(a, b, room=0.05):
    return a[0] + room < b[2] and b[0] + room < a[2] and a[1] + room < b[3] and b[1] + room < a[3]


def test_no_hatching_runs_over_a_nut(drum):
    """The M10 nut is whole and lies before the arbor: its three visible faces are bare."""
    _, _, made = drum
    front = next(s.box for s in made.scene.spots if s.of == "view:v1")
    tip = next(m.points[-1] for m in made.scene.marks if isinstance(m, Path) and m.of == "label:8")
    middle = (front[0] + front[2]) / 2
    hatches = [m.points for m in made.scene.marks if isinstance(m, Path) and m.pen == "hatch"]
    assert len(hatches) > 100
    inside = [
        (a, b) for a, b in hatches if abs((a[0] + b[0]) / 2 - middle) < 7.0 and abs((a[1] + b[1]) / 2 - tip[1]) < 2.5
    ]
    assert inside == []


def test_an_assembly_goes_into_its_files_and_no_others(drum, tmp_path):
    assembly, store, _ = drum
    write(assembly, tmp_path / "a.dxf", store)
    assert not ezdxf.read(io.StringIO((tmp_path / "a.dxf").read_text("utf-8"))).audit().errors
    with pytest.raises(CannotWrite, match=r"must be \.step or one of"):
        write(assembly, tmp_path / "a.doc", store)


def test_what_is_left_of_an_area_behind_whole_parts():
    """A square of 10 with a hole of 2 x 2, half of it covered: 50 less half the hole."""
    from shapely import Polygon, box

    square = ((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0))
    hole = ((4.0, 4.0), (6.0, 4.0), (6.0, 6.0), (4.0, 6.0))
    pieces = uncovered([square, hole], [box(5.0, -1.0, 20.0, 20.0)])
    area = sum(Polygon(p[0], p[1:]).area for p in pieces)
    assert area == pytest.approx(48.0)
