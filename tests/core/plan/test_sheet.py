"""The operation sheet: every face is made once, from where it can be reached, at a pace that the tables give."""

import csv
import io
import math

import msgspec
import pypdfium2
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lathed_solid.core.issue.setups import issued
from lathed_solid.core.issue.sheets import PIXELS, write_sheet
from lathed_solid.core.issue.traveller import traveller
from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.model import Content, Job, part_of
from lathed_solid.core.job.operating import built_of, faces_of, set_sheet, sheet_terms
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.kernel.ground.figures import Surface
from lathed_solid.core.plan.sheet import order
from lathed_solid.core.plan.sheet.approach import covered, reaches
from lathed_solid.core.plan.sheet.finding import operations
from lathed_solid.core.plan.sheet.gauging import instrument
from lathed_solid.core.plan.sheet.model import OperationSheet, SetUp
from lathed_solid.core.plan.sheet.telling import HEADS, to_csv, told
from lathed_solid.core.plan.sheet.timing import CHANGE, pace
from lathed_solid.core.plan.sheet.work import ORDER, Sized
from lathed_solid.core.plan.sheet.worked import worked
from lathed_solid.core.plan.shop import Shop, with_crib, with_top_speed
from lathed_solid.core.refusal import Refusal
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.standards import feeds
from lathed_solid.core.standards.speeds import cutting_speed

from ...conftest import EXAMPLES
from ..strangers.test_strangers import PARTS

UP, DOWN, RIGHT = (0.0, 0.0, 1.0), (0.0, 0.0, -1.0), (1.0, 0.0, 0.0)


class Bench:
    """A job built once, and its sheet worked out."""

    def __init__(self, content, store=None, shop=None):
        shown = build_and_prove(content, store=store)
        self.content, self.shop = content, shop or Shop()
        self.faces = faces_of(shown.result.body)
        self.built = built_of(content, self.faces, shown.result.marks, shown.result.reports, shown.proof)
        self.found = operations(self.built)

    def worked(self, sheet=None, shop=None):
        terms = sheet_terms(self.content, self.faces, shop or self.shop, "hss")
        return worked(OperationSheet() if sheet is None else sheet, self.built, terms)

    def words(self, sheet=None):
        return [(s.title, [line.operation.words for line in s.lines]) for s in self.worked(sheet)]


@pytest.fixture(scope="module")
def jobs(tmp_path_factory):
    store = Store(tmp_path_factory.mktemp("store"))
    made = {}

    def of(number):
        if number not in made:
            made[number] = Bench(storage.load(EXAMPLES / f"skp-{number}.lathed", store).job.content, store)
        return made[number]

    return of


# --- what is found
def test_a_turned_part_is_cut_from_both_ends_then_across(jobs):
    titles, lists = zip(*jobs("01").words(), strict=True)
    assert titles[:2] == ("chuck, left end out", "chuck, right end out")
    assert lists[0] == [
        "face the left end", "centre", "drill Ø5, 18 deep", "countersink 90° to Ø6.6", "tap M6x1, 14 deep",
        "turn Ø12, Ø20", "groove Ø11.2", "form R1", "chamfer 1 x 45°, 0.5 x 45°",
    ]  # fmt: skip
    assert lists[1] == [
        "face the right end", "turn Ø34, Ø10", "turn the taper Ø18 to Ø14, 2.862° each side",
        "chamfer 0.5 x 45°, 1 x 45°", "thread M10x1.5 - 6g, 14 long",
    ]  # fmt: skip
    assert sorted(w for words in lists[2:] for w in words) == ["centre", "drill Ø4", "mill flat"]


def test_a_keyway_in_a_bore_is_cut_along_it_and_holes_are_drilled_from_their_seats(jobs):
    bench = jobs("02")
    by = {o.words: o for o in bench.found}
    keyway = by["cut keyway"]
    assert keyway.kind == "keyway" and {w[2] for w in keyway.ways} == {1.0, -1.0}, "its floor is hidden by the bore"
    assert keyway.tool.name == "broach or slotting tool, 5 wide"
    assert by["counterbore 6x Ø10, 5.4 deep"].ways == (DOWN,), "from the outer face, where the seats are"
    assert by["drill 6x Ø18"].many == 6 and len(by["drill 6x Ø18"].ways) == 2
    assert by["ream Ø20 H7"].machine == "lathe" and by["drill 6x Ø5.5"].machine == "mill"
    titles = [t for t, _ in bench.words()]
    assert titles == [
        "chuck, right end out", "chuck, left end out", "dividing head or rotary table, left end up",
        "dividing head or rotary table, X- up",
    ]  # fmt: skip


def test_a_plate_is_squared_first_and_takes_one_more_holding(jobs):
    for route in range(3):
        bench = Bench(edits.take_route(jobs("03").content, route))
        (first, square), (second, rest) = bench.words()
        assert (first, square) == ("vise, top up", ["square up to 7.5 x 4.75 x 0.625"])
        assert second == "vise, top up" and "mill pocket" in rest and rest[-1] == "tap 6x 10-24 UNC-2B, 0.38 deep"
        cutters = {o.words: o.tool.diameter / 25.4 for o in bench.found if o.tool is not None and o.tool.kind == "mill"}
        assert cutters["mill pocket"] == pytest.approx(3 / 8), "its corners are R3/16"


def test_a_hole_in_a_leaning_face_gets_a_holding_of_its_own(jobs):
    bench = jobs("07")
    (leaning,) = [o for o in bench.found if o.words == "drill Ø3.3, 12.8 deep"]
    (way,) = leaning.ways
    assert way == pytest.approx((-math.sqrt(3) / 2, 0.0, 0.5))
    (setup,) = [s for s in bench.worked() if any(line.operation.key == leaning.key for line in s.lines)]
    assert setup.title == "vise, the leaning side up" and setup.seat is None


@pytest.mark.parametrize("name", PARTS)
def test_every_face_of_a_strangers_part_is_made_where_it_can_be_reached(name):
    bench_, _ = PARTS[name]()
    shown = bench_.proved()
    faces = faces_of(shown.result.body)
    built = built_of(bench_.content, faces, shown.result.marks, shown.result.reports, shown.proof)
    found = operations(built)
    assert {f for o in found for f in o.faces} == {s.index for s in built.surfaces}
    keys = [o.key for o in found]
    assert len(keys) == len(set(keys)), "a key tells one operation"
    sheet = worked(OperationSheet(), built, sheet_terms(bench_.content, faces, Shop(), "hss"))
    assert sorted(line.operation.key for s in sheet for line in s.lines) == sorted(keys)
    for setup in sheet:
        ranks = [ORDER.index(line.operation.kind) for line in setup.lines]
        assert ranks == sorted(ranks) and not any(line.trouble for line in setup.lines), setup.title
        assert all(line.pace.minutes is None or line.pace.minutes > 0 for line in setup.lines)


# --- from where
def _bore(span, **more):
    return Surface(index=1, kind="cylinder", radius=3.0, span=span, hollow=True, axis=UP, **more)


def test_a_floor_is_reached_from_where_it_looks_and_a_wall_from_both_ends():
    floor, wall = Surface(index=1, kind="plane", axis=UP), Surface(index=2, kind="plane", axis=RIGHT)
    assert reaches(floor, UP) and not reaches(floor, DOWN) and reaches(wall, UP) and reaches(wall, DOWN)
    assert reaches(_bore((0, 9)), UP) and not reaches(_bore((0, 9)), RIGHT)
    sink = Surface(index=3, kind="cone", radius=5.0, half_angle=0.7, hollow=True, axis=UP, span=(-2, 0))
    point = msgspec.structs.replace(sink, hollow=False)
    assert reaches(sink, UP) and not reaches(sink, DOWN), "it opens upward"
    assert reaches(point, DOWN) and not reaches(point, UP), "a full one looks the other way"


def test_as_few_ways_as_are_needed():
    top, bottom = Surface(index=1, kind="plane", axis=UP), Surface(index=2, kind="plane", axis=DOWN)
    (first, a), (second, b) = covered([top, bottom, _bore((0, 9))])
    assert UP in first and len(a) == 2 and DOWN in second and b == [bottom]


# --- how fast
def test_times_against_arithmetic(jobs):
    bench = jobs("01")
    by = {o.words: o for o in bench.found}
    drill = pace(by["drill Ø5, 18 deep"], "Free-cutting steel", "hss", 0.0, bench.built.style)
    turns = 1000 * cutting_speed("Free-cutting steel", "hss") * 0.8 / (math.pi * 5)
    assert drill.turns == pytest.approx(turns) and drill.feed == pytest.approx(feeds.drill_feed(5)) == 0.1
    assert drill.minutes == pytest.approx(CHANGE + 1.5 * (18 + 0.3 * 5) / (0.1 * turns)), "one peck more"
    thread = pace(by["thread M10x1.5 - 6g, 14 long"], "Free-cutting steel", "hss", 0.0, bench.built.style)
    slow = 1000 * 35 / (math.pi * 30)
    assert thread.feed == 1.5 and thread.turns == pytest.approx(slow)
    assert thread.minutes == pytest.approx(CHANGE + 2 * math.ceil(1 + 5 * 1.5) * 14 / (1.5 * slow))
    capped = pace(by["drill Ø5, 18 deep"], "Free-cutting steel", "hss", 900.0, bench.built.style)
    assert capped.is_capped and capped.turns == 900 and capped.minutes > drill.minutes
    tap = pace(by["tap M6x1, 14 deep"], "Free-cutting steel", "hss", 0.0, bench.built.style)
    assert tap.turns == 0 and tap.minutes == 1.5, "led by hand"
    unknown = pace(by["drill Ø5, 18 deep"], "Unobtainium", "hss", 0.0, bench.built.style)
    assert unknown.minutes is None and unknown.turns == 0


def test_a_pocket_takes_the_time_of_its_chips(jobs):
    bench = jobs("03")
    (pocket,) = [o for o in bench.found if o.words == "mill pocket"]
    volume = (3.125 * 1.875 - (4 - math.pi) * (3 / 16) ** 2) * 0.28 * 25.4**3
    assert pocket.chips == pytest.approx(volume, rel=1e-6), "measured on the solids before and after"
    found, d = pace(pocket, "Aluminium", "hss", 0.0, bench.built.style), 0.375 * 25.4
    swept = 0.5 * d * 0.5 * d * found.feed * found.turns
    assert found.minutes == pytest.approx(CHANGE + volume / swept)


@pytest.mark.parametrize(
    ("diameter", "feed"),
    [(0.5, 0.02), (1, 0.02), (4, 0.08), (5, 0.1), (10, 0.175), (20, 0.28), (26, 0.315), (60, 0.35)],
)
def test_feeds_lie_straight_between_the_rows_of_the_table(diameter, feed):
    assert feeds.drill_feed(diameter) == pytest.approx(feed)


# --- what to measure
@pytest.mark.parametrize(
    ("kind", "band", "hollow", "words", "rough"),
    [
        ("diameter", 0.4, False, "calipers", False), ("diameter", 0.1, False, "micrometer", False),
        ("diameter", 0.011, False, "micrometer", True), ("diameter", 0.021, True, "plug gauge, or bore gauge", False),
        ("diameter", 0.4, True, "calipers, inside jaws", False), ("radius", 0.2, True, "radius gauge", False),
        ("thread", 0.0, True, "thread plug gauge, GO and NOT GO", False),
    ],
)  # fmt: skip
def test_the_instrument_is_ten_times_finer_than_the_limits(kind, band, hollow, words, rough):
    face = Surface(index=1, kind="cylinder", radius=10.0, hollow=hollow)
    sized = Sized(1, "", kind, "note", 20.0, 20.0 - band, 20.0, (1,), kind)
    found = instrument(sized, [face])
    assert (found.instrument, found.is_rough) == (words, rough)


def test_a_size_carried_through_two_set_ups_is_told_unless_it_is_seated_on(jobs):
    bench = jobs("02")
    proposed = order.proposed(bench.found, bench.built)
    chains = {c.sized.number: c.chain for s in bench.worked(proposed) for c in s.checks if not c.sized.key}
    assert "set-ups 1 and 2" in chains[2] and "set-up 2 seats on neither" in chains[2]
    assert chains[6] == "", "28 is counted from the face that set-up 2 seats on"
    (nine,) = {f for s in bench.built.sized if s.number == 2 for f in s.faces if bench.built.surfaces[f - 1].axis == UP}
    seat = FaceRef(bench.faces.references[nine - 1], "shoulder")
    again = order.changed(proposed, proposed.setups[1].id, seat=seat)
    chains = {c.sized.number: c.chain for s in bench.worked(again) for c in s.checks if not c.sized.key}
    assert chains[2] == "" and "seats on neither" in chains[6]
    lost = order.changed(proposed, proposed.setups[1].id, seat=FaceRef("s99/gone", "the old boss"))
    assert "the old boss, which is not on the part" in bench.worked(lost)[1].lost_seat


def test_each_size_is_measured_once_when_its_last_face_is_made(jobs):
    bench = jobs("01")
    setups = bench.worked()
    seen = [(c.sized.number, c.sized.key) for s in setups for c in s.checks]
    assert len(seen) == len(set(seen))
    assert {n for n, _ in seen} == {s.number for s in bench.built.sized if s.kind != "count"}
    where = {c.sized.number: at for at, s in enumerate(setups) for c in s.checks}
    assert where[1] == 0 and where[9] == 1, "Ø12 h6 at the left end, the collar when it is turned round"


# --- changed by hand
def test_what_cannot_be_reached_is_told_where_it_was_dragged_to(jobs):
    bench = jobs("02")
    sheet = order.complete(order.proposed(bench.found, bench.built), bench.built)
    (seats,) = [o.key for o in bench.found if o.kind == "counterbore"]
    moved = order.moved(sheet, [seats], sheet.setups[0].id)
    (line,) = [x for s in bench.worked(moved) for x in s.lines if x.trouble]
    assert line.operation.key == seats and line.trouble == "milled or drilled off the axis, held in the lathe"
    turned = order.changed(sheet, sheet.setups[2].id, up=UP)
    wrong = {x.operation.kind: x.trouble for x in bench.worked(turned)[2].lines if x.trouble}
    told_ = "not reached from here: the tool must come from left end"
    assert wrong == dict.fromkeys(("centre", "drill", "counterbore"), told_)


def test_a_new_step_goes_where_the_proposal_has_it_and_a_gone_one_leaves_nothing(jobs):
    bench = jobs("01")
    sheet = order.complete(order.proposed(bench.found, bench.built), bench.built)
    some = order.moved(sheet, [bench.found[-1].key], sheet.setups[0].id, 0)
    without = OperationSheet(
        setups=tuple(msgspec.structs.replace(s, operations=(*s.operations[1:], "s77:drill:0")) for s in some.setups)
    )
    listed = [line.operation.key for s in bench.worked(without) for line in s.lines]
    assert sorted(listed) == sorted(o.key for o in bench.found)


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_no_operation_is_lost_or_doubled_by_any_edit(jobs, data):
    bench = jobs("01")
    sheet = order.complete(order.proposed(bench.found, bench.built), bench.built)
    keys = sorted(o.key for o in bench.found)
    for _ in range(data.draw(st.integers(1, 6))):
        ids = [s.id for s in sheet.setups]
        id_ = data.draw(st.sampled_from(ids))
        match data.draw(st.sampled_from(["move", "add", "remove", "shift"])):
            case "move":
                some = data.draw(st.lists(st.sampled_from(keys), min_size=1, max_size=4, unique=True))
                sheet = order.moved(sheet, some, id_, data.draw(st.integers(-1, 9)))
            case "add":
                sheet, made = order.added(sheet, id_, UP)
                assert made not in ids
            case "remove" if len(ids) > 1:
                sheet = order.removed(sheet, id_)
            case _:
                sheet = order.shifted(sheet, id_, data.draw(st.sampled_from([-1, 1])))
    assert sorted(k for s in sheet.setups for k in s.operations) == keys
    assert sorted(line.operation.key for s in bench.worked(sheet) for line in s.lines) == keys


# --- kept
def test_a_sheet_belongs_to_its_route_and_says_nothing_of_the_solid(tmp_path):
    made = OperationSheet(setups=(SetUp(id="u1", holding="chuck", note="soft jaws", minutes=12.5, up=DOWN),))
    content = set_sheet(Content(), made)
    assert edits.copy_route(content).sheet == made and edits.begin_route(content).sheet == OperationSheet()
    assert part_of(content) == part_of(Content())
    storage.save(Job(content=content), tmp_path / "a.lathed")
    assert storage.load(tmp_path / "a.lathed").job.content == content
    old = msgspec.json.encode(Job(content=Content())).replace(b'"format":10', b'"format":9')
    assert storage.decode(old, "x").job == Job()


def test_a_set_up_that_no_one_can_mean_is_refused_and_from_a_file_set_aside():
    bad = SetUp(id="u1", minutes=-5.0)
    for setup in (bad, SetUp(id="u1", name="x" * 121), SetUp(id="u1", note="x" * 2001)):
        with pytest.raises(Refusal, match="0 to 10000 minutes"):
            set_sheet(Content(), OperationSheet(setups=(setup,)))
    with pytest.raises(Refusal, match="60 set-ups at most"):
        set_sheet(Content(), OperationSheet(setups=tuple(SetUp(id=f"u{k}") for k in range(61))))
    good = SetUp(id="u2")
    flat = SetUp(id="u3", up=(0.0, 0.0, 0.0))
    route = msgspec.structs.replace(Content().routes[0], sheet=OperationSheet(setups=(bad, good, flat, good)))
    text = msgspec.json.encode(Job(content=Content(routes=(route,))))
    opened = storage.decode(text, "x")
    assert opened.job.content.sheet.setups == (good,) and len(opened.job.content.aside) == 3


# --- on paper
def test_the_traveller_says_all_that_the_sheet_says(jobs, tmp_path):
    bench = jobs("01")
    shop = with_top_speed(with_crib(Shop(), "turning tool", True), 1500.0)
    sheet = issued(bench.content, shop, "hss", PIXELS)
    data = traveller(sheet, "2026-11-28")
    assert data == traveller(sheet, "2026-11-28"), "the same bytes for the same sheet"
    paper = pypdfium2.PdfDocument(data)
    text = " ".join(" ".join(page.get_textpage().get_text_range().split()) for page in paper)
    for setup in sheet.setups:
        assert setup.title[1:] in text and (not setup.setup.note or setup.setup.note in text)
        for line in setup.lines:
            assert told(line, bench.built.style).words.split(",")[0] in text
        for check in setup.checks:
            assert check.measure.instrument.split()[0] in text
    for words in ("11.989", "12.000", "SKP-01 Chart-drum arbor", "round 36", "no approved process", "Guards on"):
        assert words in text
    images = [o for page in paper for o in page.get_objects() if o.type == pypdfium2.raw.FPDF_PAGEOBJ_IMAGE]
    assert len(images) == len(sheet.setups), "a picture of each set-up"
    assert all(len(p) > 2000 for p in sheet.pictures) and len(set(sheet.pictures)) == len(sheet.pictures)


def test_the_table_holds_every_line_and_runs_in_no_spreadsheet(jobs):
    bench = jobs("02")
    sheet = order.changed(order.proposed(bench.found, bench.built), "u1", note="=1+1")
    setups = bench.worked(sheet, with_crib(Shop(), "drill Ø5.5", True))
    rows = list(csv.DictReader(io.StringIO(to_csv(setups, bench.built.style))))
    assert tuple(rows[0]) == HEADS and rows[0]["remark"] == "'=1+1"
    assert sum(r["what"] == "operation" for r in rows) == len(bench.found)
    has = {r["text"]: r["in the crib"] for r in rows if r["what"] == "operation"}
    assert has["drill 6x Ø5.5"] == "yes" and has["drill 6x Ø18"] == "no"
    (bore,) = [r for r in rows if r["what"] == "measure" and r["callouts"] == "8" and r["lower"] == "20.000"]
    assert bore["upper"] == "20.021" and bore["instrument"].startswith("plug gauge")


def test_nothing_is_written_of_half_a_part(tmp_path):
    with pytest.raises(CannotWrite, match="there is no solid"):
        write_sheet(Content(), tmp_path / "a.pdf", Shop(), "hss")
    with pytest.raises(CannotWrite, match=r"\.pdf or \.csv"):
        write_sheet(Content(), tmp_path / "a.doc", Shop(), "hss")
    assert not list(tmp_path.iterdir())
