"""Figures of the whole part: what a title block says, how it was rounded, and what the solid has."""

import pytest

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import StatedFigures
from lathed_solid.core.job.planning import set_zero
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.stating import read_three, stated_figures
from lathed_solid.core.plan.zero import Mark, Zero
from lathed_solid.core.refusal import Refusal
from lathed_solid.core.route.model import FaceRef

from ..strangers.bench import Bench


def plate(**stated):
    """A plate 60 x 40 x 8 with one hole Ø6 at X 12; its figures by hand."""
    bench = Bench("60", "40", "8", "Ø6 THRU", "12")
    bench.block("rect #1 x #2", depth="#3")
    bench.hole("s1/end", diameter="#4", x="#5", y="0")
    return edits.set_header(bench.content, stated=StatedFigures(**stated))


HOLE = 3.141592653589793 * 9
VOLUME = (60 * 40 - HOLE) * 8
AREA = 2 * (60 * 40 - HOLE) + 200 * 8 + 2 * 3.141592653589793 * 3 * 8
CENTRE = -12 * HOLE * 8 / VOLUME


def marks(content):
    return {c.what: c.mark for c in build_and_prove(content).proof.stated}


def test_surface_size_and_centre_of_mass_are_measured_on_the_solid():
    content = plate(volume=VOLUME, area=AREA, size=(60, 40, 8), center=(round(CENTRE, 3), None, 4.0))
    proof = build_and_prove(content).proof
    assert {c.mark for c in proof.stated} == {"in"} and proof.all_in
    found = {c.what: c.measured for c in proof.stated}
    assert found["surface area"] == pytest.approx(AREA, rel=1e-9)
    assert found["centre of mass in X"] == pytest.approx(CENTRE, abs=1e-9)
    assert "centre of mass in Y" not in found, "what is not stated is not judged"
    wrong = plate(area=AREA * 1.001, size=(None, 40.05, None), center=(CENTRE + 0.02, None, None))
    assert set(marks(wrong).values()) == {"out"} and build_and_prove(wrong).proof.any_out


def test_places_and_sizes_count_in_machine_axes():
    """Turned up on its edge, X up: the size along Z is what was the length, and the centre lies as far from the new zero."""
    content = set_zero(plate(size=(None, None, 60), center=(None, None, CENTRE + 30)), Zero(up="+x", right="+y"))
    assert marks(content)["size along Z"] == "in"
    assert marks(content)["centre of mass in Z"] == "out"
    lowered = set_zero(content, Zero(up="+x", right="+y", z=Mark(shift="-30")))
    assert set(marks(lowered).values()) == {"in"}


def test_a_size_along_axes_that_lean_is_the_parts_own_reach_that_way():
    """A block 40 x 40 with a corner taken off at 45°: that face on top, it is as high as its diagonal less the corner."""
    bench = Bench("40", "20")
    bench.block("line -20,-20 20,-20 20,10 10,20 -20,20 close", depth="#2")
    content = set_zero(bench.content, Zero(face=FaceRef("s1/l3/side")))
    high = 30 / 2**0.5 + 40 / 2**0.5
    stated = edits.set_header(content, stated=StatedFigures(size=(None, None, round(high, 3))))
    assert marks(stated) == {"size along Z": "in"}
    assert marks(edits.set_header(content, stated=StatedFigures(size=(None, None, 40.0)))) == {"size along Z": "out"}


@pytest.mark.parametrize(
    ("text", "unit", "found"),
    [
        ("120 x 80 x 25", "mm", (120, 80, 25)),
        ("12.5, -, 0", "mm", (12.5, None, 0)),
        ("1 1/8 × 2 × .5", "in", (28.575, 50.8, 12.7)),
        ("-3.25; 2 in; 1", "mm", (-3.25, 50.8, 1)),
        ("", "mm", (None, None, None)),
    ],
)
def test_three_figures_as_they_are_typed(text, unit, found):
    read = read_three(text, unit, -1e6)
    assert [v is None for v in read] == [v is None for v in found]
    assert [v for v in read if v is not None] == pytest.approx([v for v in found if v is not None])


@pytest.mark.parametrize("text", ["12", "1,2,3", "1 x 2", "a x b x c", "0 x 4 x 4", "-1 x 4 x 4", "1e9 x 1 x 1"])
def test_what_is_no_size_is_refused_in_words(text):
    with pytest.raises(Refusal) as refused:
        read_three(text, "mm", 0.0)
    assert refused.value.message


def test_a_length_typed_without_decimals_is_meant_exactly():
    """40 stated, 40.3 there: half a unit would have let it pass."""
    content = plate(size=(60, 40, 8), center=(-0.14, 0, 4))
    header = content.header
    typed = {**header.typed, "size": "60 x 40.0 x 8", "center": "-0.14, 0, 4"}
    figures = {f.what: f for f in stated_figures(edits.set_header(content, typed=typed).header)}
    assert figures["size along X"].half == pytest.approx(0.005)
    assert figures["size along Y"].half == pytest.approx(0.05)
    assert figures["centre of mass in X"].half == pytest.approx(0.005)
    assert not figures["size along X"].closes(60.3)


@pytest.mark.parametrize("stated", [{"area": -1.0}, {"size": (0.0, None, None)}, {"center": (1e9, None, None)}])
def test_figures_that_no_part_has_are_refused(stated):
    with pytest.raises(edits.EditRefused):
        edits.checked_header(plate(**stated).header)
