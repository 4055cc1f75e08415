"""Tools implied by the sizes, and the speeds to begin with, against the formula and the table's own figures."""

import math

import pytest

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.model import Content
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.plan.shop import Shop, for_buying, with_crib, with_top_speed
from lathed_solid.core.plan.tooling import running, tools
from lathed_solid.core.plan.zero import OWN
from lathed_solid.core.quantity import Style
from lathed_solid.core.refusal import Refusal
from lathed_solid.core.route.rebuild import rebuild
from lathed_solid.core.standards.materials import all_materials
from lathed_solid.core.standards.speeds import cutting_speed, spindle
from lathed_solid.core.standards.tables import table

from ...conftest import EXAMPLES


def asked(*notes, turned=False, units="mm"):
    content = edits.set_header(Content(), units=units)
    for note in notes:
        content, _ = edits.add_callout(content, note)
    return {t.name: t for t in tools(content.ledger(), (), OWN, Style(units, 4), turned)}


def test_holes_ask_for_drills_taps_reamers_and_seats():
    found = asked(
        "Ø20 H7 THRU", "M6x1 - 6H 14 deep drill Ø5 dp 18", "6x Ø5.5 THRU cbore Ø10 x 5.4 deep on Ø98",
        "M5 - 6H THRU", "2x Ø5.5 THRU csk Ø11.2 x 90°", "Ø40 H7 THRU",
    )  # fmt: skip
    assert set(found) == {
        "drill Ø19.75", "reamer Ø20 H7", "drill Ø5", "tap M6x1", "drill Ø5.5", "counterbore Ø10", "drill Ø4.2",
        "tap M5x0.8", "countersink 90°", "drill Ø39.7", "boring bar",
    }  # fmt: skip
    assert found["drill Ø5.5"].callouts == (3, 5), "one drill for both"
    assert found["drill Ø5"].depth == 18 and found["tap M6x1"].depth == 14
    assert found["drill Ø5"].why == "for M6x1 - 6H: 77 % of the thread"
    assert "bored: no reamer" in found["boring bar"].why, "larger than reamers are made"


def test_inch_threads_and_the_lathe():
    assert {"drill Ø0.1495", "tap 10-24 UNC-2B"} <= set(asked("10-24 UNC-2B .38 deep drill Ø.1495 dp .5", units="in"))
    found = asked("Ø34", "Ø12 h6", "156", "M10x1.5 - 6g 14 long", turned=True)
    assert set(found) == {"turning tool", "threading tool, pitch 1.5 mm"}
    assert found["turning tool"].callouts == (1, 2) and found["turning tool"].diameter == 34


def test_inside_corners_say_which_cutter_goes_in(tmp_path):
    store = Store(tmp_path)
    content = storage.load(EXAMPLES / "skp-03.lathed", store).job.content
    surfaces = measure_faces(rebuild(content.plan(store.find)).body)
    found = tools(content.ledger(), surfaces, OWN, Style("in", 4), turned=False)
    (mill,) = [t for t in found if t.kind == "mill"]
    assert mill.diameter == pytest.approx(5 / 16 * 25.4), "the slot is narrower than the pocket's corners"
    assert mill.name == "end mill Ø0.3125 or less"
    kinds = [t.kind for t in found]
    assert kinds == sorted(kinds, key=["mill", "drill", "tap", "counterbore"].index), "as they are used"


def test_speeds_are_those_of_the_formula_and_capped_by_the_machine():
    drill = asked("Ø10 THRU")["drill Ø10"]
    free = running(drill, "Free-cutting steel", "hss", 0.0)
    assert free.turns == pytest.approx(1000 * 35 * 0.8 / (math.pi * 10)) and not free.is_capped
    assert running(drill, "Free-cutting steel", "carbide", 0.0).turns == pytest.approx(free.turns * 160 / 35)
    held = running(drill, "Aluminium", "hss", 2000.0)
    assert (held.turns, held.is_capped) == (2000.0, True)
    reamer = asked("Ø8 H7 THRU")["reamer Ø8 H7"]
    assert running(reamer, "Aluminium", "carbide", 0.0) == running(reamer, "Aluminium", "hss", 0.0)
    assert running(asked("M6 - 6H 14 deep")["tap M6x1"], "Aluminium", "hss", 0.0) is None, "a tap is led by hand"
    assert running(drill, "Moon rock", "hss", 0.0) is None


@pytest.mark.parametrize(
    ("speed", "diameter", "turns"),
    [(30, 10, 955), (30, 20, 477), (25, 12, 663), (90, 6, 4775), (100, 50, 637), (20, 8, 796), (150, 25, 1910)],
)
def test_spindle_speeds_of_every_handbook(speed, diameter, turns):
    assert round(spindle(speed, diameter)) == turns


def test_a_neck_asks_for_a_grooving_tool_no_wider_than_it_is(tmp_path):
    """The arbor's relief groove, as wide as callouts 2 and 5 leave between them; the same tool as on its sheet."""
    store = Store(tmp_path)
    content = storage.load(EXAMPLES / "skp-01.lathed", store).job.content
    surfaces = measure_faces(rebuild(content.plan(store.find)).body)
    found = {t.name: t for t in tools(content.ledger(), surfaces, OWN, Style("mm", 3), turned=True)}
    groove = found["grooving tool, 2 wide or less"]
    assert groove.why == "the neck of the solid" and groove.diameter == pytest.approx(11.2)
    assert running(groove, "Free-cutting steel", "hss", 0.0).turns > 0
    plain = tools(content.ledger(), (), OWN, Style("mm", 3), turned=True)
    assert not [t for t in plain if "grooving" in t.name], "before there is a solid no neck is known"


@pytest.mark.parametrize(
    ("material", "low", "high"),
    [
        ("Free-cutting steel", 100, 150), ("Carbon steel", 60, 110), ("Stainless steel 303", 50, 100),
        ("Stainless steel 304", 40, 75), ("Stainless steel 316", 30, 70), ("Grey cast iron", 50, 100),
        ("Aluminium", 200, 500), ("Aluminium, free-cutting", 250, 600), ("Brass, free-cutting", 150, 300),
        ("Phosphor bronze", 60, 120), ("Gunmetal", 80, 150), ("Copper", 80, 200), ("Titanium, grade 2", 25, 60),
    ],
)  # fmt: skip
def test_speeds_lie_in_the_bands_that_workshop_tables_print(material, low, high):
    """High-speed steel, surface feet a minute, as the tables on workshop walls have them; no standard states any."""
    assert low <= cutting_speed(material, "hss") / 0.3048 <= high


def test_speeds_are_of_materials_that_the_title_block_knows():
    names = {m.name for m in all_materials()}
    rows = table("speeds")["speed"]
    assert {r["material"] for r in rows} <= names and len(rows) >= 12
    assert all(5 < r["hss"] < r["carbide"] < 500 for r in rows), "carbide runs faster everywhere"
    assert cutting_speed("aluminium", "hss") == 90.0


def test_the_crib_and_the_machine_belong_to_the_shop_and_change_no_price():
    shop = with_top_speed(with_crib(Shop(), "drill Ø5", True), 2800.0)
    assert (shop.crib, shop.top_speed) == (("drill Ø5",), 2800.0)
    assert with_crib(shop, "drill Ø5", False).crib == ()
    assert for_buying(shop) == Shop()
    with pytest.raises(Refusal, match="no spindle"):
        with_top_speed(Shop(), -5.0)
