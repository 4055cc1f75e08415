"""The blank: what surrounds a part, which stock holds it, what it weighs and costs; against arithmetic."""

import math

import msgspec
import numpy as np
import pytest
from hypothesis import example as known
from hypothesis import given
from hypothesis import strategies as st

from lathed_solid.core.job import edits, shopfile, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.model import Content, Job
from lathed_solid.core.job.planning import cut_from, follows, rewritten_as_cut, set_blank
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.routes import compare_routes
from lathed_solid.core.job.storage import decode, to_json
from lathed_solid.core.job.surveying import surveyed
from lathed_solid.core.kernel.measure.least import block, cylinder, least_circle, least_hexagon, least_square, outline
from lathed_solid.core.plan.blank import Allowances, Blank, fresh_blank, worked_out
from lathed_solid.core.plan.choosing import chosen, ways
from lathed_solid.core.plan.cost import bill, holding
from lathed_solid.core.plan.finished import Finished, Solid, finished, is_turned
from lathed_solid.core.plan.first_step import section_of, stock_fields
from lathed_solid.core.plan.shop import Price, Shop, price_of, stock_lists, with_list, with_prices
from lathed_solid.core.refusal import Refusal
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.rebuild import rebuild
from lathed_solid.core.standards.materials import material
from lathed_solid.core.standards.stock import read_sizes
from lathed_solid.core.units import INCH

from ...conftest import EXAMPLES

STEEL = material("Free-cutting steel")


@pytest.fixture
def example(tmp_path):
    """An example's content, with the files its steps read."""

    def opened(name):
        store = Store(tmp_path / "store")
        return storage.load(EXAMPLES / f"{name}.lathed", store).job.content, store

    return opened


def turned(diameter, length, bore=0.0, volume=None):
    made = cylinder(diameter, 0.0, length)
    if bore:
        z = msgspec.structs.replace(made.along[2], bore=bore)
        made = msgspec.structs.replace(made, along=(*made.along[:2], z))
    return Finished(made, True, "from the solid", volume)


def found(part, unit="mm", shop=None, **fields):
    allowed = worked_out(msgspec.structs.replace(fresh_blank(unit), **fields), Content().ledger())
    return allowed, {(w.form, w.along): w for w in ways(part, allowed, stock_lists(shop or Shop(), unit))}


# --- what surrounds a part
@given(
    st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=4, max_size=30, unique=True),
    st.floats(0, 7),
)
@known([(0.0, 0.0), (15.3125, 50.0), (42.75, -50.0), (-47.0, 1.25)], 3.0)
def test_the_least_bars_hold_every_place_and_turn_with_it(places, turn):
    flat = np.array(places)
    if min(np.ptp(flat, axis=0)) < 1.0:
        return
    c, s = math.cos(turn), math.sin(turn)
    try:
        rim, turned_rim = outline(flat), outline(flat @ np.array([[c, s], [-s, c]]))
    except Exception as error:  # all on one line: no part
        assert "Qhull" in type(error).__name__
        return
    around = least_circle(rim)
    assert np.hypot(*(flat - around.at).T).max() <= around.size / 2 + 1e-6
    assert least_circle(turned_rim).size == pytest.approx(around.size, abs=1e-6)
    for least, sides in ((least_hexagon, 6), (least_square, 4)):
        bar = least(rim)
        ways_ = bar.turn + np.arange(sides) * 2 * math.pi / sides
        reach = (flat - bar.at) @ np.array([np.cos(ways_), np.sin(ways_)])
        assert reach.max() <= bar.size / 2 + 1e-5
        assert least(turned_rim).size == pytest.approx(bar.size, rel=2e-4)
    assert least_square(rim).size <= around.size + 1e-6 <= least_hexagon(rim).size * 2 / math.sqrt(3) + 2e-6


@pytest.mark.parametrize(
    ("name", "size", "round_", "hexagon", "square", "bore"),
    [
        ("skp-01", (34, 34, 156), 34, 34, 34, 0),
        ("skp-02", (118, 118, 28), 118, 118, 118, 20),
        ("skp-03", (190.5, 120.65, 15.875), 215.9, 190.5, 190.5, 0),
        ("skp-05", (17, 17 / math.cos(math.pi / 6), 52), 17 / math.cos(math.pi / 6), 17, 18.961, 0),
        ("skp-06", (96, 96, 34), 96, 96, 96, 10),
    ],
)
def test_the_envelope_of_the_examples(example, name, size, round_, hexagon, square, bore):
    content, store = example(name)
    solid = surveyed(content, store=store)
    assert solid.envelope.size == pytest.approx(size, abs=0.002)
    seen = solid.envelope.along[2]
    assert (seen.round.size, seen.hexagon.size, seen.square.size) == pytest.approx((round_, hexagon, square), abs=0.005)
    assert seen.bore == pytest.approx(bore, abs=1e-3)


def test_a_box_is_as_near_as_the_part_reaches(example):
    """A groove swept into a drum has poles outside of it: they are no size of the part."""
    content, store = example("skp-06")
    proof = build_and_prove(content, store=store).proof
    assert proof.mass.low == pytest.approx((-48, -48, 0), abs=1e-3)
    assert proof.mass.high == pytest.approx((48, 48, 34), abs=1e-3)


# --- ways
def test_ways_of_a_turned_part_against_arithmetic():
    part = turned(34.0, 156.0, volume=39774.28)
    allowed, by = found(part, quantity="40")
    bar = by["round", 2]
    assert bar.stock.name == "36" and bar.length == 158.0
    assert bar.volume == pytest.approx(math.pi * 36**2 / 4 * 158)
    assert (bar.pieces, bar.rest, bar.bars) == (18, 3000 - 18 * 160, 3)
    assert (by["hexagon", 2].stock.name, by["square", 2].stock.name) == ("36", "40")
    told = bill(bar, part, STEEL, allowed, with_prices(Shop(), (Price(material=STEEL.name, price=2.0),)))
    assert told.blank == pytest.approx(math.pi * 36**2 / 4 * 158 * 7.85e-3)
    assert told.chips == pytest.approx(told.blank - 39774.28 * 7.85e-3)
    assert told.each == pytest.approx(2.0 * math.pi * 36**2 / 4 * 160 * 7.85e-6)
    assert told.whole == pytest.approx(2.0 * 3 * math.pi * 36**2 / 4 * 3000 * 7.85e-6)
    by_metre = with_prices(Shop(), (Price(material=STEEL.name, price=10.0, per="m"),))
    assert bill(bar, part, STEEL, allowed, by_metre).each == pytest.approx(1.6)


def test_pieces_parted_off_in_the_machine_leave_the_chucked_end():
    part = turned(18.0, 40.0)
    fields = {"from_bar": True, "allowances": Allowances(chucking="60 mm", cut_off="3 mm", facing="0.5 mm")}
    _, by = found(part, **fields)
    bar = by["round", 2]
    assert bar.length == 41.0 and bar.pieces == (3000 - 60) // 44 and bar.rest == 3000 - bar.pieces * 44
    sawn = found(part, allowances=Allowances(chucking="15 mm", kerf="2 mm", facing="0.5 mm"))[1]["round", 2]
    assert sawn.length == 56.0 and sawn.pieces == (3000 + 2) // 58


def test_ways_of_a_plate_in_inches():
    size = (7.5 * INCH, 4.75 * INCH, 0.625 * INCH)
    part = Finished(block((0.0, 0.0, 0.0), size), False, "from the solid", 1.0)
    _, by = found(part, "in")
    flat = by["flat", 0]
    assert flat.stock.name == "3/4 x 5" and flat.stock.size == (0.75 * INCH, 5 * INCH)
    assert flat.length == pytest.approx((7.5 + 2 / 32) * INCH)
    assert by["plate", 2].stock.name == "3/4"
    assert by["plate", 2].across == pytest.approx(((7.5 + 1 / 16) * INCH, (4.75 + 1 / 16) * INCH))
    assert list(by)[-1] == ("cast", 2), "a casting wants a pattern: it comes last"


def test_a_ring_comes_out_of_a_tube():
    _, by = found(turned(58.0, 20.0, bore=42.0))
    tube = by["tube", 2]
    assert tube.stock.name == "60 x 10" and 60 - 2 * 10 <= 42 - 2
    assert tube.taken < by["round", 2].taken
    assert ("tube", 2) not in found(turned(58.0, 20.0))[1], "a part without a bore comes out of no tube"


def test_stock_that_is_just_the_size_holds_it_and_less_does_not():
    nothing = Allowances(diameter="0", facing="0")
    assert found(turned(36.0, 10.0), allowances=nothing)[1]["round", 2].stock.name == "36"
    assert found(turned(36.01, 10.0), allowances=nothing)[1]["round", 2].stock.name == "38"


def test_a_chosen_stock_that_became_too_small_is_told():
    allowed, by = found(turned(34.0, 156.0))
    lists = stock_lists(Shop(), "mm")
    assert chosen(turned(34.0, 156.0), allowed, lists, by["round", 2].key) == by["round", 2]
    with pytest.raises(Refusal, match="too small now: it must be at least 37"):
        chosen(turned(35.0, 156.0), allowed, lists, ("round", "36", "z"))
    with pytest.raises(Refusal, match="not in the stock list"):
        chosen(turned(34.0, 156.0), allowed, lists, ("round", "37", "z"))


def test_how_a_long_part_is_held():
    assert "the chuck holds it alone" in holding(60, 20)
    assert "a centre in the tailstock" in holding(100, 20)
    assert "a centre and a steady" in holding(300, 20)


# --- the finished size
def callouts(*rows, units="mm"):
    content = edits.set_header(Content(), units=units)
    for note, label in rows:
        content, _ = edits.add_callout(content, note, label)
    return content


def test_the_finished_size_comes_from_callouts_before_there_is_a_solid():
    shaft = callouts(("Ø20", "seat"), ("92", "to collar"), ("Ø34", "collar"), ("156", "overall"), ("Ø4 THRU", "hole"))
    ledger = shaft.ledger()
    assert is_turned(Blank(), ledger, None)
    part = finished(Blank(), ledger, None, True)
    assert part.envelope.size == (34, 34, 156) and part.words == "from callouts 3 and 4"
    plate = callouts(("7 1/2", "length"), ("4 3/4", "width"), ("5/8", "thickness"), ("Ø1/2", "hole"), units="in")
    assert not is_turned(Blank(), plate.ledger(), None)
    part = finished(Blank(), plate.ledger(), None, False)
    assert part.envelope.size == pytest.approx((190.5, 120.65, 15.875))
    with pytest.raises(Refusal, match="labelled length, width and thickness"):
        finished(Blank(), callouts(("10", "a")).ledger(), None, False)


def test_what_is_typed_lies_round_the_solid():
    solid = Solid(block((-10.0, 5.0, -8.0), (50.0, 35.0, 0.0)), 1.0)
    part = finished(Blank(x="64", y="30", z="8"), Content().ledger(), solid, False)
    assert (part.envelope.low, part.envelope.high) == ((-12.0, 5.0, -8.0), (52.0, 35.0, 0.0))
    assert part.envelope.along[2].round.at == (20.0, 20.0) and part.envelope.along[0].round.at == (20.0, -4.0)


def test_what_is_typed_counts_and_a_larger_solid_is_told():
    content = callouts(("Ø34", "collar"), ("156", "overall"))
    typed = Blank(x="#1", z="#2 + 1")
    part = finished(typed, content.ledger(), Solid(cylinder(40.0, 0, 100), 5.0), True)
    assert part.envelope.size == (34, 34, 157) and part.volume == 5.0
    assert "larger than was typed: X" in part.short
    with pytest.raises(Refusal, match="lacks Length"):
        finished(Blank(x="#1"), content.ledger(), None, True)


# --- in the job
def test_the_blank_is_kept_named_where_used_and_refused_when_nobody_means_it():
    content = set_blank(callouts(("3", "facing"), ("Ø9", "x")), allowances=Allowances(facing="#1"))
    assert decode(to_json(Job(content=content)), "x").job.content == content
    with pytest.raises(Refusal, match="used by the blank"):
        edits.delete_callout(content, 1)
    turned_round = edits.renumber_callouts(edits.move_callout(content, 1, 1))
    assert turned_round.blank.allowances.facing == "#2"
    for fields, words in (
        ({"quantity": "1.5"}, "no number of pieces"),
        ({"bar": "0"}, "must be more than nothing"),
        ({"allowances": Allowances(face="-1")}, "no allowance"),
        ({"x": "#7"}, "no callout #7"),
    ):
        with pytest.raises(Refusal, match=words):
            set_blank(content, **fields)


@pytest.mark.parametrize("form", ["round", "hexagon", "square", "tube", "plate", "flat", "cast"])
def test_the_first_step_is_the_blank_and_follows_its_allowances(form):
    """Built by the kernel, its volume is the one that was worked out."""
    if form == "flat":
        part = Finished(block((1.0, -2.0, 3.0), (61.0, 28.0, 13.0)), False, "from the solid", None)
    else:
        part = turned(58.0, 20.0, bore=42.0)
    _, by = found(part)
    way = next(w for (f, _), w in by.items() if f == form)
    blank = msgspec.structs.replace(Blank(), form=form, size=way.stock.name, along="xyz"[way.along])
    content = cut_from(set_blank(Content(), form=form), stock_fields(way, part, blank, "mm"))
    body = rebuild(content.plan()).body
    assert body.volume == pytest.approx(way.volume, rel=1e-9)
    assert content.turned == (form in ("round", "hexagon", "tube") or (form == "cast"))
    assert len(section_of(way)[1]) == (2 if form in ("tube", "plate", "flat", "cast") else 1)
    _, by = found(part, allowances=Allowances(facing="4 mm"))
    longer = next(w for (f, _), w in by.items() if f == form)
    blank = msgspec.structs.replace(blank, allowances=Allowances(facing="4 mm"))
    changed = follows(content, stock_fields(longer, part, blank, "mm"))
    assert rebuild(changed.plan()).body.volume == pytest.approx(longer.volume, rel=1e-9)
    assert follows(changed, stock_fields(longer, part, blank, "mm")) is changed


# --- the shop's tables
def test_lists_are_typed_over_and_given_back():
    shop = with_list(Shop(), "round", "in", "1 1/4, 1/2,  3")
    assert [s.name for s in stock_lists(shop, "in")["round"]] == ["1/2", "1 1/4", "3"]
    assert with_list(shop, "round", "in", "") == Shop()
    assert [s.size for s in read_sizes("flat", "1/4 x 1, 2; 1/2 × 1", "in")] == [
        (6.35, 25.4),
        (6.35, 50.8),
        (12.7, 25.4),
    ]
    for form, text in (("round", "10 x 20"), ("flat", "10, 20"), ("round", "ten"), ("round", "-3"), ("tube", "10 x")):
        with pytest.raises(Refusal):
            with_list(Shop(), form, "mm", text)


def test_the_price_that_says_most_counts():
    prices = tuple(
        Price(material="Brass, free-cutting", form=form, size=size, price=p)
        for form, size, p in (("", "", 8.0), ("round", "", 9.0), ("round", "20", 7.0))
    )
    shop = with_prices(Shop(), prices)
    assert [price_of(shop, "brass, free-cutting", f, s).price for f, s in (("flat", "1"), ("round", "8"), ("round", "20"))] == [
        8.0,
        9.0,
        7.0,
    ]  # fmt: skip
    assert price_of(shop, "Aluminium", "round", "20") is None


def test_the_shops_file_is_read_back_and_a_damaged_one_is_kept(tmp_path):
    path = tmp_path / "own" / "shop.json"
    shop = with_prices(with_list(Shop(currency="EUR"), "round", "mm", "10, 20"), (Price(material="Steel", price=2.0),))
    shopfile.save(path, shop)
    assert shopfile.load(path) == (shop, "")
    path.write_bytes(b'{"lists": {"round_mm": "ten"}}')
    assert shopfile.load(path).shop == Shop() and "cannot be used" in shopfile.load(path).trouble
    shopfile.save(path, shop)
    assert shopfile.load(path).shop == shop
    assert path.with_name("shop.json.damaged").read_bytes().endswith(b'"ten"}}')


#: Published sizes, by form and unit: EN 10060, EN 10059, EN 10058, EN 10305-1, ISO 272 and the usual inch bars.
@pytest.mark.parametrize(
    ("form", "unit", "name", "size"),
    [
        ("round", "mm", "36", (36,)), ("round", "mm", "52", (52,)), ("round", "in", "1 3/8", (34.925,)),
        ("hexagon", "mm", "17", (17,)), ("hexagon", "mm", "41", (41,)), ("hexagon", "in", "15/16", (23.8125,)),
        ("square", "mm", "14", (14,)), ("square", "in", "1 1/4", (31.75,)), ("flat", "mm", "12 x 50", (12, 50)),
        ("flat", "mm", "20 x 60", (20, 60)), ("flat", "in", "3/8 x 2 1/2", (9.525, 63.5)),
        ("tube", "mm", "30 x 2.5", (30, 2.5)), ("plate", "mm", "15", (15,)), ("plate", "in", "3/8", (9.525,)),
    ],
)  # fmt: skip
def test_published_sizes_are_in_the_lists(form, unit, name, size):
    by_name = {s.name: s.size for s in stock_lists(Shop(), unit)[form]}
    assert by_name[name] == pytest.approx(size)


@pytest.mark.parametrize(
    ("name", "key"),
    [
        ("skp-01", ("round", "36", "z")),
        ("skp-02", ("round", "120", "z")),
        ("skp-03", ("flat", "3/4 x 5", "x")),
    ],
)
def test_a_route_rewritten_to_be_cut_from_its_blank_makes_the_same_part(example, name, key):
    content, store = example(name)
    content = edits.take_route(content, 0)
    solid, ledger = surveyed(content, store=store), content.ledger()
    part = finished(Blank(), ledger, solid, content.turned)
    blank = fresh_blank(content.header.units)
    way = chosen(part, worked_out(blank, ledger), stock_lists(Shop(), content.header.units), key)
    cut = rewritten_as_cut(content, stock_fields(way, part, blank, content.header.units))
    assert [type(s).__name__ for s in cut.steps][:1] == ["Stock"] and cut.steps[2:] == content.steps[1:]
    both = msgspec.structs.replace(cut, routes=(content.routes[0], cut.routes[-1]), route=0)
    figures = compare_routes(both, store=store)
    assert figures[1].volume == pytest.approx(figures[0].volume, rel=1e-6)
    assert figures[1].center == pytest.approx(figures[0].center, abs=1e-5)
    assert figures[1].marks == figures[0].marks


def test_a_route_that_cannot_be_cut_from_its_blank_says_why(example):
    nothing = Content()
    with pytest.raises(edits.EditRefused, match="no route to rewrite"):
        rewritten_as_cut(nothing, {"a": "10", "length": "10"})
    hole, _ = edits.with_step(Content(), Hole)
    with pytest.raises(edits.EditRefused, match=r"begins with “hole” \(hole\)"):
        rewritten_as_cut(hole, {"a": "10", "length": "10"})
    bracket, _ = example("skp-07")
    with pytest.raises(edits.EditRefused, match="Step “Wall” adds material"):
        rewritten_as_cut(bracket, {"a": "10", "length": "10"})
