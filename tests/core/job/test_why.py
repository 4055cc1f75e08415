"""A stated volume that does not agree ends with what is wrong: faults put into parts, and found again."""

import os

import msgspec
import pytest

from lathed_solid.core import abreast
from lathed_solid.core.job import edits
from lathed_solid.core.job.model import StatedFigures, part_of, with_part
from lathed_solid.core.job.numbers import numbers
from lathed_solid.core.job.planning import set_zero
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import settle
from lathed_solid.core.job.stating import StatedFigure, stated_figures
from lathed_solid.core.job.why import search, trying
from lathed_solid.core.job.why.explained import explained
from lathed_solid.core.job.why.faults import faults
from lathed_solid.core.job.why.gap import gap_of
from lathed_solid.core.plan.zero import Mark, Zero
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.standards.materials import all_materials

from ..strangers.bench import Bench
from ..strangers.test_strangers import PARTS


def stated(content, volume, **more):
    """The content with a volume on its title block, as it would be typed."""
    return edits.set_header(content, stated=StatedFigures(volume=round(volume, 2), **more))


#: On the bracket: the wrong note, or the wrong step, and the words that must name it.
FAULTS = {
    "a radius for a diameter": (lambda c: edits.edit_callout(c, 5, "12"), "Callout 5, 12 as 6"),
    "another's value": (lambda c: edits.edit_callout(c, 13, "8"), "Callout 13, 8 as 12"),
    "a step switched off": (lambda c: edits.change_step(c, "s4", suppressed=True), "“Wall to base” switched on"),
}


@pytest.mark.parametrize("name", FAULTS)
def test_a_fault_put_into_the_bracket_is_the_first_suspect(name, example, store):
    fault, words = FAULTS[name]
    content = example("07")
    true = build_and_prove(content, store=store).proof.mass.volume
    wrong = settle(fault(content)).content
    why = explained(wrong, store=store)
    assert not why.closed and why.missing == pytest.approx(
        46_787.17 - build_and_prove(wrong, store=store).proof.mass.volume, abs=0.01
    )
    first = why.suspects[0]
    assert first.rank == 0 and first.volume == pytest.approx(true, rel=1e-9)
    assert words in " ".join((first.words, *first.others))
    made = build_and_prove(first.content, store=store).proof
    assert made.mass.volume == pytest.approx(first.volume, rel=1e-12) and made.grams == pytest.approx(first.grams)


def test_a_decimal_point_that_slipped_is_the_first_suspect():
    bench, _ = PARTS["shelf_block"]()
    true = bench.proved().proof.mass.volume
    (first, *_) = explained(settle(edits.edit_callout(stated(bench.content, true), 3, "1")).content).suspects
    assert first.rank == 0 and first.volume == pytest.approx(true, rel=1e-9)
    assert "Callout 3, 1 as 10" in " ".join((first.words, *first.others))


@pytest.mark.parametrize("name", ["bolt_ring_cover", "inch_clamp_bar", "tee_slot"])
def test_a_strangers_part_with_a_size_twice_too_large_is_found_out(name):
    bench, _ = PARTS[name]()
    true = bench.proved().proof.mass.volume
    content = stated(bench.content, true)
    for number in (n for c in content.callouts for n in numbers(content, c.number)):
        if number.kind == "count":
            continue
        try:
            wrong = settle(number.read_as(content, f"{number.value * 0.5:.8g}"))
        except edits.EditRefused:
            continue
        if wrong.problems or build_and_prove(wrong.content).proof is None:
            continue
        why = explained(wrong.content)
        if why.closed:
            continue  # a size that moves no material
        closing = [s for s in why.suspects if s.rank == 0]
        assert closing and any(s.volume == pytest.approx(true, rel=1e-9) for s in closing), number
        return
    pytest.fail("no number of it could be halved")


@pytest.mark.parametrize("name", ["inch_clamp_bar", "tee_slot", "shelf_block"])
def test_a_size_that_is_simply_wrong_is_solved_for(name):
    """Nothing suggests the true value but the figure itself; it is found as it would be written."""
    bench, _ = PARTS[name]()
    true = bench.proved().proof.mass.volume
    content = edits.set_header(bench.content, stated=StatedFigures(volume=float(f"{true:.9g}")))
    number = next(n for c in content.callouts for n in numbers(content, c.number) if n.kind == "length")
    wrong = settle(number.read_as(content, f"{number.value * 1.0625:.8g}")).content
    why = explained(wrong)
    closing = [words for s in why.suspects if s.rank == 0 for words in (s.words, *s.others)]
    found = [w for w in closing if w.startswith(f"Callout {number.callout}, ")]
    assert found and any(float(w.split(" as ")[1].split(":")[0]) == pytest.approx(number.value) for w in found), closing


@pytest.mark.parametrize(
    ("number", "made", "found"),
    [
        ("01", "“Tapped hole”: drilled only as deep as its thread", "depth by callout 19’s drill depth, not its depth"),
        ("02", "“Screw hole”: drill ø by callout 2 (9), not by callout 10", "drill ø by callout 10 (5.5)"),
        ("02", "“Lightening holes”: number 4 of 6 left out", "“Lightening holes”: none left out"),
    ],
)
def test_a_mistake_that_is_no_number_is_among_the_first_to_be_built(number, made, found, example, store):
    """Its own step tells about what it adds, before the rest of the part is built."""
    content = example(number)
    true = build_and_prove(content, store=store).proof.mass.volume
    fault = next(f for f in faults(content) if f.words == made)
    looked = search.Search(settle(fault.make(stated(content, true))).content, store=store)
    suspect = next(s for s in looked.run() if s.volume == pytest.approx(true, rel=1e-9) and found in s.words)
    assert suspect.rank == 0 and looked.built <= 15


def test_what_is_built_side_by_side_comes_to_the_same(monkeypatch):
    """Forks build what one process builds; what brings the kernel down, or takes too long, is left out and told."""
    bench, _ = PARTS["shelf_block"]()
    content = edits.edit_callout(stated(bench.content, bench.proved().proof.mass.volume), 3, "1")
    alone = explained(content)
    monkeypatch.setattr(trying, "_WORTH", 0.0)
    monkeypatch.setattr(abreast, "cores", lambda: 2)
    together = explained(content)
    assert [(s.words, s.rank, s.others, s.lit) for s in together.suspects] == [
        (s.words, s.rank, s.others, s.lit) for s in alone.suspects
    ]
    assert together.built == alone.built and together.words == alone.words
    first, judged = alone.suspects[0].words, trying.Trying._judged

    def falls(self, fault, gap):
        if fault.words == first and abreast.is_forked():
            os._exit(1)
        return judged(self, fault, gap)

    monkeypatch.setattr(trying.Trying, "_judged", falls)
    without = explained(content)
    assert without.suspects[0].words != first and without.words.endswith(", or fell.")


def test_a_place_with_which_the_amount_is_right_is_narrowed_by_the_other_figures(example, store):
    """A pocket's wall moved in until it meets another: the amount is right again over a range of places, and the centre
    of mass tells which of them was meant, as a machinist would write it.
    """
    content = example("03")
    right = build_and_prove(content, store=store)
    given = StatedFigures(volume=324086.73530910397, center=(97.20707, 60.324999999999996, -8.325866))
    assert right.proof.mass.volume == pytest.approx(given.volume, abs=0.01)
    moved = next(f for f in faults(content) if f.words.startswith("Callout 10, 2 3/8 as 1 1/4"))
    wrong = edits.set_header(moved.make(content), stated=given)
    looked = search.Search(settle(wrong).content, store=store)
    found = next(f for f in faults(looked.content) if f.words.startswith("Callout 10, 1 1/4 as 2 1/2"))
    assert looked.suspect(found, looked.gap).rank > 0
    first = next(looked._narrowed(looked.gap))
    assert first.words == "Callout 10, 1 1/4 as 2.375" and looked.suspect(first, looked.gap).rank == 0


def test_the_rounding_of_the_figure_is_what_it_is_judged_by(example, store):
    from lathed_solid.core.route.rebuild import rebuild

    content = example("03")
    result = rebuild(content.plan(store.find))
    gap = gap_of(content, result)
    volume, *_ = gap.figures
    assert gap.what == "volume" and volume.half == pytest.approx(0.0005 * 25.4**3, rel=1e-6), "stated as 19.777 in³"
    assert gap.is_closed
    typed = msgspec.structs.replace(content.header, typed={"volume": "19.78"})
    assert stated_figures(typed)[0].half == pytest.approx(0.005 * 25.4**3)
    near = StatedFigure("volume", "volume", 1000.0, 0.05, 0.1)
    assert [near.rank(v) for v in (1000.04, 1000.06, 1000.4, 1001.0, 1010.0)] == [0, 1, 1, 2, 3]


def test_a_mass_that_differs_while_the_volume_agrees_is_another_material(example, store):
    content = example("07")
    brass = next(m for m in all_materials() if m.name == "Brass, free-cutting")
    volume = content.header.stated.volume
    heavy = edits.set_header(content, stated=StatedFigures(volume=volume, mass=round(volume * brass.density / 1000, 2)))
    why = explained(heavy, store=store)
    assert [s.words for s in why.suspects if s.rank == 0] == ["Of Brass, free-cutting"]
    assert why.suspects[0].content.header.material == brass


@pytest.mark.parametrize("number", ["01", "03", "07"])
def test_a_part_taken_leaves_what_says_nothing_of_the_solid_alone(number, example):
    """What was planned, read and tabled after the question was asked is there after its answer was taken."""
    content = example(number)
    assert with_part(content, part_of(content)) == content
    asked = edits.set_header(content, remarks="a part that differs")
    later = set_zero(content, Zero(z=Mark(shift="3")))
    taken = with_part(later, asked)
    assert (taken.header.remarks, taken.zero) == ("a part that differs", later.zero)
    assert (taken.blank, taken.drawings) == (content.blank, content.drawings)
    assert [r.sheet for r in taken.routes] == [r.sheet for r in content.routes]


def test_holes_elsewhere_are_another_part_although_their_volume_is_the_same():
    """A plate whose hole is left out of the figure: in which place it is missing no volume tells, and that is said."""
    bench = Bench("60", "40", "8", "Ø6 THRU", "12", "20")
    bench.block("rect #1 x #2", depth="#3")
    bench.hole("s1/end", diameter="#4", x="#5", y="0")
    true = bench.proved().proof.mass.volume
    content = stated(bench.content, true)
    wrong = settle(edits.edit_callout(content, 5, "120")).content  # off the plate
    why = explained(stated(wrong, true))
    closing = [s for s in why.suspects if s.rank == 0]
    assert len(closing) > 1 and len({s.solid for s in closing}) == len(closing)
    assert any(s.words.startswith("Callout 5, 120 as 12") for s in closing)
    assert "cannot tell them apart" in why.words and "What would decide: the centre of mass" in why.words


def test_what_is_not_to_be_explained_is_said(example, store):
    content = example("07")
    agrees = explained(content, store=store)
    assert agrees.closed and "volume and mass agree" in agrees.words and agrees.suspects == ()
    nothing = explained(edits.set_header(content, stated=StatedFigures()), store=store)
    assert nothing.closed and "Nothing to explain" in nothing.words


def test_a_gap_that_nothing_closes_is_told_in_terms_of_the_part(example, store, monkeypatch):
    """No mistake gives a third of the part."""
    monkeypatch.setattr(search, "MOST", 40)
    content = stated(example("07"), 15_000.123)
    seen = []
    why = explained(content, store=store, told=seen.append)
    assert why.suspects and all(s.rank > 0 for s in why.suspects)
    assert "closes the gap" in why.words and "times what “" in why.words
    ranks = [(s.rank, -s.weight) for s in why.suspects]
    assert (
        ranks == sorted(ranks)
        and seen
        and [s.words for s in seen[-1].suspects[:3]] == [s.words for s in why.suspects[:3]]
    )


@pytest.mark.parametrize("number", ["01", "02", "03", "04", "06", "07"])
def test_every_fault_is_an_edit_that_is_made_or_refused_in_words(number, example):
    from lathed_solid.core.refusal import Refusal

    content = settle(example(number)).content
    every = faults(content)
    assert len(every) > 100 and len({f.words for f in every}) > 0.9 * len(every)
    made = 0
    for fault in every:
        try:
            assert fault.make(content) != content
            made += 1
        except Refusal as refusal:
            assert refusal.message
    assert made > 0.7 * len(every)


def two_holes(**stated):
    """A plate with a hole that must lie off its middle."""
    bench = Bench("60", "40", "8", "Ø6 THRU", "12", "Ø9 THRU")
    bench.block("rect #1 x #2", depth="#3")
    bench.hole("s1/end", diameter="#4", x="#5", y="0")
    bench.hole("s1/end", diameter="#6", x="-#5", y="0")
    return edits.set_header(bench.content, stated=StatedFigures(**stated))


def test_a_place_that_no_volume_tells_is_found_by_the_centre_of_mass():
    true = build_and_prove(two_holes()).proof.mass
    content = two_holes(volume=round(true.volume, 2), center=(round(true.center[0], 4), None, None))
    wrong = settle(edits.edit_callout(content, 5, "21")).content
    why = explained(wrong)
    assert why.kind == "length" and "centre of mass in X" in why.words
    first = why.suspects[0]
    assert first.rank == 0 and first.words.startswith("Callout 5, 21 as 12"), first.words
    assert first.off == pytest.approx(0, abs=1e-3) and why.suspects[1].rank > 0


def test_a_callout_that_is_out_is_explained_by_what_brings_it_in():
    """A callout bound to another hole than it is drawn as; nothing is stated of the whole."""
    content = two_holes()
    bound = bound_by_hand(content, 4, content.steps[2].id)
    out = next(x for x in build_and_prove(bound).proof.lines if x.mark == "out")
    assert (out.number, out.measured) == (4, pytest.approx(9))
    why = explained(bound)
    assert why.words.startswith("By callout 4 the solid measures 3.000 mm too much.")
    closing = [s.words for s in why.suspects if s.rank == 0]
    assert any(w.startswith("Callout 6, 9 as 6") for w in closing), "the other hole is the one that is wrong"
    assert any(w.startswith("Callout 4, 6 as 9") for w in closing), "or the callout was misread"
    asked = explained(bound, line=(4, ""))
    assert [s.words for s in asked.suspects] == [s.words for s in why.suspects]


def bound_by_hand(content, number, step):
    """A callout bound to the bore of another hole."""
    from lathed_solid.core.prove.binding import Binding
    from lathed_solid.core.route.gauges import Diameter

    binding = Binding(number=number, key="", gauge=Diameter(f"{step}/0/side"))
    return msgspec.structs.replace(content, bindings=(*content.bindings, binding))


def test_two_mistakes_whose_effects_add_up_are_found_together():
    """A pocket left out and a bore twice too wide; with a coarser figure hundreds of pairs would do, and none is told."""
    bench = Bench("60", "40", "8", "Ø6 THRU", "18", "Ø9 THRU", "7", "5.3")
    bench.block("rect #1 x #2", depth="#3")
    bench.hole("s1/end", diameter="#4", x="#5", y="0")
    bench.hole("s1/end", diameter="#6", x="-#5", y="0")
    bench.extrude(bench.sketch("rect #7 x #8", base="face", on="s1/end"), "2.7", mode="cut", direction="backward")
    true = bench.proved().proof.mass.volume
    content = edits.set_header(stated(bench.content, true), typed={"volume": f"{true:.2f}"})
    wrong = settle(edits.change_step(edits.edit_callout(content, 6, "Ø18 THRU"), "s4", suppressed=True)).content
    why = explained(wrong)
    pairs = [s for s in why.suspects if s.rank == 0 and "; and " in s.words]
    assert any("switched on" in s.words and "allout 6, 18 as 9" in s.words for s in pairs), why.suspects[:3]
    assert pairs[0].volume == pytest.approx(true, rel=1e-9)
    coarse = edits.set_header(wrong, typed={"volume": f"{true:.0f}"})
    assert not any("; and " in s.words for s in explained(coarse).suspects)


def test_an_edge_left_sharp_is_a_suspect():
    """Four corners are to be rounded; one was forgotten."""
    bench = Bench("60", "40", "8", "R5")
    bench.block("rect #1 x #2", depth="#3")
    bench.fillet("#4", *((f"s1/l{a}/side", f"s1/l{b}/side") for a, b in ((1, 2), (2, 3), (3, 4), (4, 1))))
    true = bench.proved().proof.mass.volume
    step = bench.content.steps[-1]
    wrong = edits.change_step(stated(bench.content, true), step.id, edges=step.edges[:3])
    first = explained(wrong).suspects[0]
    assert first.rank == 0 and first.volume == pytest.approx(true, rel=1e-9)
    assert "also on the edge between" in first.words


@pytest.mark.parametrize(
    ("note", "found"),
    [
        ("6x Ø6 THRU cbore Ø10 x 5.4 deep on Ø98", [("6", 0), ("6", 4), ("10", 18), ("5.4", 23), ("98", 36)]),
        ("3x Ø3 x 3 deep", [("3", 0), ("3", 4), ("3", 8)]),
        ("4x R4", [("4", 0), ("4", 4)]),
        ("2x M12 x 2 deep", [("2", 0), ("2", 9)]),
        ("4 × M4 × 4", [("4", 0), ("4", 9)]),
        ("Ø15 x 5 deep", [("15", 1), ("5", 6)]),
        ("Ø4 THRU, 4 places", [("4", 9), ("4", 1)]),
        ("4 holes Ø4", [("4", 0), ("4", 9)]),
        ("Ø4 (4x)", [("4", 4), ("4", 1)]),
        ("1 x 45°, 2 places", [("2", 9), ("1", 0), ("45", 4)]),
        ("2x 2 x 45°", [("2", 0), ("2", 3), ("45", 7)]),
    ],
)
def test_the_numbers_of_a_note_are_found_where_they_stand(note, found):
    """How many there are may be the same figure as the size: another value must not be put in its place."""
    content = Bench(note).content
    assert [(n.text, n.span[0]) for n in numbers(content, 1)] == found


def test_a_size_that_is_also_the_number_of_holes_is_solved_for():
    bench = Bench("Ø80", "10", "6x Ø6 THRU on Ø60")
    bench.block("circle Ø#1 at 0,0", depth="#2")
    hole = bench.hole("s1/end", diameter="#3", x="30", y="0")
    bench.step(Ring, of=(hole,), count="#3.count")
    content = bench.content
    true = bench.proved().proof.mass.volume
    wrong = settle(edits.edit_callout(stated(content, true), 3, "6x Ø5.7 THRU on Ø60")).content
    assert explained(wrong).suspects[0].words == "Callout 3, 5.7 as 6"
    wrong = settle(edits.edit_callout(stated(content, true), 3, "5x Ø6 THRU on Ø60")).content
    assert "5 as 6: one more" in explained(wrong).suspects[0].words


def test_a_mistake_and_a_number_that_nothing_suggests_are_found_together():
    """A hole left out, and a length that was read as any other: the rounder number is the one that was meant."""
    bench = Bench("90", "40", "8", "Ø12 THRU")
    bench.block("rect #1 x #2", depth="#3")
    hole = bench.hole("s1/end", diameter="#4", x="0", y="0")
    true = bench.proved().proof.mass.volume
    content = edits.set_header(stated(bench.content, true), typed={"volume": f"{true:.2f}"})
    wrong = settle(edits.change_step(edits.edit_callout(content, 1, "83"), hole, suppressed=True)).content
    first = explained(wrong).suspects[0]
    assert first.rank == 0 and "switched on; and callout 1, 83 as 90" in first.words
    assert first.volume == pytest.approx(true, rel=1e-9)


def test_a_place_that_only_the_centre_of_mass_tells_is_solved_for():
    """A groove stands elsewhere: no volume tells it; of what the rounded figure leaves open the roundest is tried."""
    content, true = PARTS["ring_grooves"]()[0].content, PARTS["ring_grooves"]()[0].proved().proof.mass
    wanted = StatedFigures(volume=round(true.volume, 2), center=tuple(round(v, 3) for v in true.center))
    wrong = settle(edits.edit_callout(edits.set_header(content, stated=wanted), 6, "3")).content
    first = explained(wrong).suspects[0]
    assert (first.rank, first.words) == (0, "Callout 6, 3 as 5")


def test_a_place_taken_from_the_diameter_of_its_own_hole_is_a_suspect():
    """Both numbers of the hole come from callout 4 then: what is read otherwise is the place alone."""
    bench = Bench("60", "40", "10", "Ø8 THRU", "20")
    bench.block("rect #1 x #2", depth="#3")
    bench.hole("s1/end", diameter="#4", x="#5", y="4")
    (x,) = [round(v, 3) for v in bench.proved().proof.mass.center[:1]]
    content = edits.set_header(
        bench.content, stated=StatedFigures(volume=round(bench.proved().proof.mass.volume, 2), center=(x, None, None))
    )
    wrong = edits.change_step(content, content.steps[-1].id, x="#4")
    first = explained(settle(wrong).content).suspects[0]
    assert first.rank == 0 and first.content.steps[-1].x == "#5"
    assert "by callout 5 (20), not by callout 4" in " ".join((first.words, *first.others))


def test_of_a_ring_of_holes_the_size_is_taken_for_another_not_their_number(example):
    """Callouts 10 and 11 of the flange are 6x Ø5.5 and 6x Ø18, callout 12 is M5."""
    taken = {f.words.rpartition(" as ")[2] for f in faults(example("02")) if f.kind == "another"}
    assert {"18: that of callout 11", "5.5: that of callout 10", "5: that of callout 12"} <= taken
    assert not {t for t in taken if t.startswith("6:")}
