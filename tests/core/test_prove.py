"""Proving: the solid is measured, slips are named, bindings by hand, files of the proof."""

import csv
import io
import math

import msgspec
import pytest

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content, StatedFigures
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import settle
from lathed_solid.core.prove.binding import Binding, BindingRefused, suggest_gauge
from lathed_solid.core.prove.tabular import figure, to_csv, to_dict
from lathed_solid.core.quantity import Style
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.gauges import Between, Diameter

from .test_route import START, bar, with_steps


def line(proof, number, key=""):
    return next(x for x in proof.lines if (x.number, x.key) == (number, key))


def test_the_examples_are_proved_whole(arbor, flange):
    for content in (arbor, flange):
        proof = build_and_prove(content).proof
        assert proof.all_in
        assert proof.unexplained == ()
        assert proof.unused == ()
        assert all(x.measured is not None for x in proof.lines)
    assert proof.grams == pytest.approx(332.54, abs=0.005)
    arbor_proof = build_and_prove(arbor).proof
    assert arbor_proof.mass.center[2] == pytest.approx(77.385, abs=5e-4)
    assert [h - lo for lo, h in zip(arbor_proof.mass.low, arbor_proof.mass.high, strict=True)] == pytest.approx(
        [34, 34, 156], abs=1e-5
    )


def holed(note, **fields):
    """The bar with a hole whose size is typed by hand, bound to a callout that says something else."""
    content, number = edits.add_callout(bar(), note)
    content = with_steps(content, (Hole, {"face": START, **fields}))
    return edits.bind(content, Binding(number, "", Diameter("s2/0/side")))


@pytest.mark.parametrize(
    ("note", "typed", "mark", "words"),
    [
        ("Ø10", "10", "in", ""),
        ("Ø10", "10.15", "in", ""),
        ("Ø10", "10.19", "near", ""),
        ("Ø10", "10.3", "out", ""),
        ("Ø10", "20", "out", "a radius typed as a diameter?"),
        ("Ø10", "5", "out", "a diameter typed as a radius?"),
        ("Ø1", "1 in", "out", "millimetres read as inches?"),
        ("Ø10 H7", "10", "in", ""),
        ("Ø10 H7", "9.999", "out", ""),
    ],
)
def test_marks_come_from_the_solid_and_slips_are_named(note, typed, mark, words):
    proof = build_and_prove(holed(note, diameter=typed)).proof
    found = line(proof, 1)
    assert found.mark == mark
    assert words in found.message
    from lathed_solid.core.quantity import evaluate

    assert found.measured == pytest.approx(evaluate(typed))


def test_a_blind_hole_that_should_go_through_is_out():
    content, number = edits.add_callout(bar(), "Ø10 THRU")
    blind = with_steps(content, (Hole, {"face": START, "diameter": f"#{number}", "extent": "depth", "depth": "20"}))
    assert line(build_and_prove(blind).proof, 1, "thru").measured == 1
    assert line(build_and_prove(blind).proof, 1, "thru").mark == "out"
    through = edits.change_step(blind, "s2", extent="through")
    assert line(build_and_prove(through).proof, 1, "thru").mark == "in"


def test_a_missing_hole_shows_in_the_count(flange):
    proof = build_and_prove(edits.change_step(flange, "s6", count="5")).proof
    assert line(proof, 10, "count").mark == "out"
    assert line(proof, 10, "count").measured == 5
    assert line(proof, 10, "count").message == "1 missing."
    assert not proof.all_in


def test_unused_callouts_and_unexplained_faces_are_listed():
    content, _ = edits.add_callout(bar(), "22")
    proof = build_and_prove(with_steps(content, (Hole, {"face": START, "diameter": "7"}))).proof
    assert proof.unused == (1,)
    assert line(proof, 1).mark == "open"
    assert any("bore Ø7, " in note.words for note in proof.unexplained)
    assert len(proof.unexplained) == 4


def test_a_step_that_is_off_leaves_its_callouts_open(flange):
    proof = build_and_prove(edits.change_step(flange, "s10", suppressed=True)).proof
    assert line(proof, 14).mark == "open"
    assert line(proof, 15).mark == "open"
    assert proof.stated[0].mark == "out"


def test_binding_by_hand_measures_the_picked_faces():
    content, number = edits.add_callout(bar(), "50")
    shown = build_and_prove(content)
    surfaces = {n: s for s in _surfaces(shown) for n in shown.result.body.names[s.index]}
    picked = [(n, surfaces[n]) for n in ("s1/start/side", "s1/a.end/side")]
    gauge = suggest_gauge("length", picked)
    assert gauge == Between("s1/start/side", "s1/a.end/side")
    bound = edits.bind(content, Binding(number, "", gauge))
    assert line(build_and_prove(bound).proof, 1).measured == pytest.approx(50)
    with pytest.raises(BindingRefused, match="For a diameter, pick one round face"):
        suggest_gauge("diameter", picked)


def _surfaces(shown):
    from lathed_solid.core.kernel.measure.surfaces import measure_faces

    return measure_faces(shown.result.body)


def test_stated_figures_decide_within_their_tolerance():
    header = msgspec.structs.replace(
        Content().header, stated=StatedFigures(volume=62_831.853, mass=500.0, tolerance=1e-3)
    )
    proof = build_and_prove(msgspec.structs.replace(bar(), header=header)).proof
    volume, mass = proof.stated
    assert (volume.mark, mass.mark) == ("in", "out")
    assert volume.off == pytest.approx(0, abs=1e-8 * volume.stated)
    assert proof.grams == pytest.approx(62.831853 * 7.85, rel=1e-7)


def test_csv_and_json_hold_every_line(flange):
    proof = build_and_prove(settle(flange).content).proof
    rows = list(csv.DictReader(io.StringIO(to_csv(proof))))
    assert len(rows) == len(proof.lines) + len(proof.stated)
    keyway = next(r for r in rows if r["balloon"] == "15")
    assert float(keyway["measured"]) == pytest.approx(22.3, abs=1e-5)
    assert (keyway["mark"], keyway["unit"]) == ("in", "mm")
    data = to_dict(proof)
    assert data["all_in"] is True
    assert len(data["lines"]) == len(proof.lines)


@pytest.mark.parametrize(
    ("kind", "value", "mm", "inch"),
    [
        ("diameter", 25.4, "25.400 mm", "1.0000 in"),
        ("thread", 12.7, "12.700 mm", "0.5000 in"),
        ("angle", math.pi / 6, "30.000°", "30.000°"),
        ("ratio", 0.1, "0.1000", "0.1000"),
        ("count", 6, "6", "6"),
        ("finish", 1.6, "1.6 µm", "1.6 µm"),
    ],
)
def test_a_figure_is_told_in_its_own_unit(kind, value, mm, inch):
    """A taper of 1:10 stays 0.1 in an inch job."""
    assert figure(value, kind, Style(), unit=True) == mm
    assert figure(value, kind, Style("in"), unit=True) == inch
