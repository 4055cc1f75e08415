"""The sheet of SKP-00: every part listed and numbered, bought parts whole, nothing over anything."""

from __future__ import annotations

import io
import itertools
import math

import ezdxf
import pypdfium2
import pytest
from msgspec.structs import replace
from shapely import Polygon, box

from lathed_solid.core.drafting.sheet.changing import place_label
from lathed_solid.core.drafting.sheet.compose import words_box
from lathed_solid.core.drafting.sheet.model import Cut, Label, Level, Sheet, SheetView
from lathed_solid.core.drafting.sheet.scene import Path, Round
from lathed_solid.core.fit.edits import remove
from lathed_solid.core.fit.mass import bill
from lathed_solid.core.issue.assemblies import write
from lathed_solid.core.issue.drawing.assembly.sheet import pages
from lathed_solid.core.issue.drawing.assembly.views import seen
from lathed_solid.core.job.assembling.files import load_assembly, save_assembly
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.kernel.draw.shadows import uncovered

from .conftest import EXAMPLES


@pytest.fixture(scope="module")
def drum(tmp_path_factory):
    store = Store(tmp_path_factory.mktemp("store"))
    assembly = load_assembly(EXAMPLES / "skp-00.lathed", store).assembly
    return assembly, store, pages(assembly, store)[0].composed


def test_every_part_is_listed_and_every_part_seen_has_its_number(drum):
    assembly, _, made = drum
    scene, lines = made.scene, bill(assembly)
    texts = [w.text for w in scene.texts()]
    for line in lines:
        assert line.part.number in texts and str(line.item) in texts
    assert not any(t.endswith("…") for t in texts)
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
    square = ((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0))
    hole = ((4.0, 4.0), (6.0, 4.0), (6.0, 6.0), (4.0, 6.0))
    pieces = uncovered([square, hole], [box(5.0, -1.0, 20.0, 20.0)])
    area = sum(Polygon(p[0], p[1:]).area for p in pieces)
    assert area == pytest.approx(48.0)


def kept_as(assembly, *views, **fields):
    sheet = Sheet(id="d1", size="A2", views=tuple(replace(v, at=(200.0, 200.0)) for v in views), **fields)
    return replace(assembly, sheets=(sheet,))


def areas_of(found, view):
    return sum(Polygon(a.loops[0], a.loops[1:]).area for a in found.views[view].areas)


def test_cuts_of_an_assembly_lay_open_what_they_meet(drum):
    """A half section has half of the whole one's areas; one with a step has what each level has on its side; of what
    is broken out nothing lies outside; what is only cut has no other line.
    """
    assembly, store, _ = drum
    at_20 = Cut(kind="offset", levels=(Level(at="0", to="0"), Level(at="20")))
    views = (
        SheetView(id="full", cut=Cut(), hidden=False),
        SheetView(id="upper", cut=Cut(kind="half", below=False), hidden=False),
        SheetView(id="lower", cut=Cut(kind="half"), hidden=False),
        SheetView(id="offset", cut=at_20, hidden=False),
        SheetView(id="deep", cut=Cut(levels=(Level(at="20"),)), hidden=False),
        SheetView(id="torn", cut=Cut(kind="broken out", middle=(0.0, 30.0), reach=15.0), hidden=False),
        SheetView(id="only", cut=Cut(kind="removed"), hidden=False),
        SheetView(id="seen", hidden=True),
        SheetView(id="straight", cut=Cut(kind="aligned"), hidden=False),
        SheetView(id="folded", cut=Cut(kind="aligned", turn="180"), hidden=False),
    )
    kept = kept_as(assembly, *views)
    found = seen(kept, kept.sheets[0], store)
    whole = areas_of(found, "full")
    assert areas_of(found, "upper") + areas_of(found, "lower") == pytest.approx(whole, rel=2e-3)
    left = sum(_left_of(a, -1) for a in found.views["full"].areas) + sum(
        _left_of(a, 1) for a in found.views["deep"].areas
    )
    assert areas_of(found, "offset") == pytest.approx(left, rel=2e-3) and 0 < left < whole
    # Bent by nothing it is the whole section; by half a turn its lower half is the upper one once more.
    assert areas_of(found, "straight") == pytest.approx(whole, rel=2e-3)
    assert areas_of(found, "folded") == pytest.approx(2 * areas_of(found, "upper"), rel=2e-3)
    level = [s for s in found.views["folded"].strokes if s.is_straight and all(abs(p[1]) < 1e-3 for p in s.points)]
    assert all(n in _bought(kept) for s in level for n in s.faces), "no line stands where the halves meet"
    torn = [p for a in found.views["torn"].areas for loop in a.loops for p in loop]
    assert torn and max(math.dist(p, (0.0, 30.0)) for p in torn) < 15.0 * 1.09
    assert {s.kind for s in found.views["only"].strokes} == {"cut"} and areas_of(found, "only") == pytest.approx(whole)
    assert {s.visible for s in found.views["seen"].strokes} == {True, False}


def test_centre_lines_stand_where_the_parts_stand(drum):
    """Cut along its axis: one line through all that is on the axis, one for each screw's place on either flange, none
    of holes that lie before or behind. From above: the arbor, six screws and the six large holes, and their circles.
    """
    assembly, store, _ = drum
    views = (
        SheetView(id="cut", cut=Cut(), hidden=False),
        SheetView(id="above", way="top", hidden=False),
        SheetView(id="only", cut=Cut(kind="removed"), hidden=False),
        SheetView(id="bent", cut=Cut(kind="aligned", turn="60"), hidden=False),
    )
    kept = kept_as(assembly, *views)
    found = seen(kept, kept.sheets[0], store)
    lines = [c for c in found.views["cut"].centres if c.a != c.b]
    (axis,) = [c for c in lines if abs(c.a[0]) < 1e-6 and abs(c.b[0]) < 1e-6]
    ends = sorted((axis.a[1], axis.b[1]))
    box_ = found.views["cut"].box()
    assert ends == pytest.approx([box_[1], box_[3]], abs=0.01), "from one end of it to the other"
    screws = {round(abs(c.a[0]), 3) for c in lines if c is not axis}
    assert len(screws) == 3 and sum(x * x for x in screws) == pytest.approx(1.5 * 49**2, abs=0.2), "a ring of six"
    assert all(abs(c.a[1] - c.b[1]) < 30 for c in lines if c is not axis), "those of either flange by themselves"
    rings = {round(c.radius, 2) for c in found.views["above"].centres if c.ring}
    assert rings == {33.0, 49.0}
    assert found.views["only"].centres == ()
    assert len(found.views["bent"].centres) >= 1


def _bought(assembly):
    """The places, from 1, of the bought parts among those shown."""
    shown = [i for i in assembly.instances if not i.hidden]
    return {n for n, i in enumerate(shown, 1) if assembly.part(i.part).is_fastener}


def _left_of(area, side):
    strip = box(-1e5, -1e5, 0.0, 1e5) if side < 0 else box(0.0, -1e5, 1e5, 1e5)
    return Polygon(area.loops[0], area.loops[1:]).intersection(strip).area


def test_a_kept_sheet_goes_into_the_files_as_it_was_left(drum, tmp_path):
    """Two sheets: the list of parts stands on the first, a number put by hand where it was put, both in one PDF."""
    assembly, store, _ = drum
    (page,) = pages(assembly, store)
    moved = place_label(page.sheet, 1, (-80.0, 60.0))
    second = Sheet(id="d2", size="A3", views=(SheetView(id="v1", way="top", at=(150.0, 150.0), hidden=False),))
    kept = replace(assembly, sheets=(moved, second))
    one, two = pages(kept, store)
    zero, spot = moved.view(moved.label(1).view).at, next(s.box for s in one.composed.scene.spots if s.of == "label:1")
    middle = ((spot[0] + spot[2]) / 2 - zero[0], (spot[1] + spot[3]) / 2 - zero[1])
    assert middle == pytest.approx((-80.0, 60.0), abs=1.0)
    assert "Mass each" in [w.text for w in one.composed.scene.texts()]
    assert "Mass each" not in [w.text for w in two.composed.scene.texts()]
    write(kept, tmp_path / "a.pdf", store)
    assert len(pypdfium2.PdfDocument(tmp_path / "a.pdf")) == 2
    write(kept, tmp_path / "b.svg", store, which="d2")
    assert (tmp_path / "b.svg").exists() and not (tmp_path / "b-1.svg").exists()


def test_sheets_are_saved_and_what_is_wrong_in_them_is_mended_and_told(drum, tmp_path):
    assembly, store, _ = drum
    good = SheetView(id="v1", at=(100.0, 100.0))
    sheet = Sheet(id="d1", views=(good,), labels=(Label(number=1, view="v1"), Label(number=77, view="v1")))
    path = tmp_path / "a.lathed"
    save_assembly(replace(assembly, sheets=(sheet, replace(sheet, id="d2", size="A99"))), path, store)
    opened = load_assembly(path, store)
    assert [s.size for s in opened.assembly.sheets] == ["A3", "A3"]
    assert [[e.number for e in s.labels] for s in opened.assembly.sheets] == [[1], [1]]
    assert any("77" in words for words in opened.lost) and any("paper" in words for words in opened.lost)
    (first, *_) = (i.id for i in assembly.instances if assembly.part_of(i.id).item == 1)
    assert [e.number for e in remove(opened.assembly, first).sheets[0].labels] == []
