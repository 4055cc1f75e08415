"""Machine zero: where it sits, what follows it, and what does not change."""

import csv
import io

import msgspec
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.files import CannotWrite
from lathed_solid.core.job.model import Job
from lathed_solid.core.job.planning import set_zero
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.surveying import standing_of, surveyed
from lathed_solid.core.kernel.files.reading import read_solids
from lathed_solid.core.kernel.measure.boxes import close_box
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.plan.coordinates import places, to_csv
from lathed_solid.core.plan.usual import MILLED, TURNED, set_to
from lathed_solid.core.plan.zero import OWN, WAYS, Mark, Zero, finder, laid_on_top, moved_to, stand
from lathed_solid.core.quantity import Style
from lathed_solid.core.refusal import Refusal
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.rebuild import rebuild

from ...conftest import EXAMPLES


class Part:
    """An example built, its faces by name."""

    def __init__(self, name, folder):
        store = Store(folder)
        self.content = storage.load(EXAMPLES / f"{name}.lathed", store).job.content
        self.result = rebuild(self.content.plan(store.find))
        self.body = self.result.body
        self.surfaces = measure_faces(self.body)
        indices = range(1, self.body.face_count + 1)
        self.references = [self.body.name_of(i) for i in indices]
        self.find = finder(self.references, [tuple(self.body.names.get(i, ())) for i in indices], self.surfaces)
        self.named = [(s, FaceRef(r)) for s, r in zip(self.surfaces, self.references, strict=True)]

    def face(self, kind, **near):
        """The face of a kind whose fields are near what is given."""
        for surface, ref in self.named:
            if surface.kind == kind and all(
                getattr(surface, field) == pytest.approx(value, abs=1e-6) for field, value in near.items()
            ):
                return ref, surface
        raise AssertionError(f"no {kind} with {near}")

    def usual(self, how, zero=None):
        return set_to(zero or Zero(), how, self.named, self.find, lambda index: self.surfaces[index - 1].describe())

    def stands(self, zero):
        return stand(zero, self.content.ledger(), self.find)


@pytest.fixture(scope="module")
def plate(tmp_path_factory):
    return Part("skp-03", tmp_path_factory.mktemp("store"))


@pytest.fixture(scope="module")
def bracket(tmp_path_factory):
    return Part("skp-07", tmp_path_factory.mktemp("store"))


@pytest.fixture(scope="module")
def arbor_part(tmp_path_factory):
    return Part("skp-01", tmp_path_factory.mktemp("store"))


def test_the_usual_places_of_a_milled_part(plate):
    """The plate is 190.5 x 120.65 x 15.875, its own zero on the top, front left."""
    where = {how: plate.stands(plate.usual(how)).frame.origin for _, how in MILLED}
    assert where["--+"] == pytest.approx((0, 0, 0))
    assert where["+++"] == pytest.approx((190.5, 120.65, 0))
    assert where["mm+"] == pytest.approx((95.25, 60.325, 0))
    assert where["---"] == pytest.approx((0, 0, -15.875))


def test_the_usual_places_of_a_turned_part(arbor_part):
    ends = [arbor_part.stands(arbor_part.usual(how)) for _, how in TURNED]
    assert [e.frame.origin for e in ends] == [pytest.approx((0, 0, 0)), pytest.approx((0, 0, 156))]
    assert ends[1].machine((0, 0, 100)) == pytest.approx((0, 0, -56))


def test_zero_on_what_is_picked(plate, bracket):
    round_, surface = next((r, s) for s, r in plate.named if s.kind == "cylinder" and s.hollow and s.turn > 6)
    zero = moved_to(Zero(), ((round_, surface),), plate.find)
    assert (zero.x.faces, zero.y.faces, zero.z.faces) == ((round_,), (round_,), ())
    assert plate.stands(zero).machine(surface.origin)[:2] == pytest.approx((0, 0))
    back, back_face = bracket.face("plane", axis=(0, 1, 0))
    front, front_face = bracket.face("plane", axis=(0, -1, 0))
    middle = moved_to(Zero(), ((back, back_face), (front, front_face)), bracket.find, middle=True)
    half = (back_face.origin[1] + front_face.origin[1]) / 2
    assert bracket.stands(middle).frame.origin == pytest.approx((0, half, 0))
    with pytest.raises(Refusal, match="Pick two faces"):
        moved_to(Zero(), ((back, back_face),), bracket.find, middle=True)
    slanted = next((r, s) for s, r in bracket.named if s.kind == "plane" and max(map(abs, s.axis)) < 0.99)
    with pytest.raises(Refusal, match="fits an axis"):
        moved_to(Zero(), (slanted,), bracket.find)


def test_a_part_is_stood_up_without_redrawing(bracket):
    """Its right side on top: what was 70 long is 70 high."""
    right = bracket.face("plane", axis=(1, 0, 0))
    zero = laid_on_top(Zero(), *right)
    machine = bracket.stands(zero)
    assert machine.frame.normal == pytest.approx((1, 0, 0)) and machine.lost == ()
    sizes = machine.sizes(*close_box(bracket.body.shape))
    own = OWN.sizes(*close_box(bracket.body.shape))
    assert sorted(sizes) == pytest.approx(sorted(own)) and sizes[2] == pytest.approx(own[0])
    slanted = next((r, s) for s, r in bracket.named if s.kind == "plane" and max(map(abs, s.axis)) < 0.99)
    leaning = bracket.stands(laid_on_top(Zero(), *slanted))
    assert leaning.frame.normal == pytest.approx(slanted[1].axis) and not leaning.is_level
    with pytest.raises(Refusal, match="Only a flat face"):
        laid_on_top(Zero(), *next((r, s) for s, r in bracket.named if s.kind == "cylinder"))


def test_what_is_lost_is_told_and_counts_from_the_parts_own_zero(plate):
    zero = Zero(x=Mark(faces=(FaceRef("s9/gone", "left side, X 0"),)), y=Mark(shift="5"))
    machine = plate.stands(zero)
    assert machine.frame.origin == pytest.approx((0, 5 * 25.4, 0)), "an inch drawing's 5 is five inches"
    assert machine.lost == ("Zero of X was at left side, X 0, which is not on the part any more. Pick another.",)
    assert plate.stands(Zero(up="+z", right="+z")).lost == ("X cannot run up or down. Choose another way for X.",)


levels = st.sampled_from([(u, r) for u in WAYS for r in WAYS if u[1] != r[1]])


@settings(max_examples=12, deadline=None)
@given(levels, st.sampled_from([how for _, how in MILLED]), st.integers(-40, 40))
def test_zero_leaves_volume_names_and_proof_and_files_sit_in_its_axes(tmp_path_factory, bracket, ways, how, shift):
    up, right = ways
    zero = bracket.usual(how, Zero(up=up, right=right))
    zero = msgspec.structs.replace(zero, x=msgspec.structs.replace(zero.x, shift=str(shift)))
    content = set_zero(bracket.content, zero)
    before, after = build_and_prove(bracket.content), build_and_prove(content)
    assert after.proof.lines == before.proof.lines and after.proof.mass == before.proof.mass
    assert after.result.body.names == before.result.body.names
    path = tmp_path_factory.mktemp("out") / "a.step"
    issue(content, path, FORMATS["step"])
    (read,) = read_solids(path.read_bytes(), "a.step", "s1")
    machine = standing_of(content, bracket.body)
    low, high = close_box(bracket.body.shape)
    corners = [
        machine.machine((x, y, z)) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])
    ]
    there = close_box(read.body.shape)
    assert there[0] == pytest.approx([min(c[k] for c in corners) for k in range(3)], abs=1e-5)
    assert there[1] == pytest.approx([max(c[k] for c in corners) for k in range(3)], abs=1e-5)
    assert read.body.volume == pytest.approx(before.proof.mass.volume, rel=1e-7)
    if how[2] == "+" and shift == 0 and "m" not in how:
        assert sum(abs(c) < 1e-5 for c in (*there[0], *there[1])) >= 3, "zero is on a corner of the box"


def test_the_table_of_coordinates_of_the_base_plate(plate):
    """Against DEMO: fixing holes at 1, 1/2 and its mirrors; tapped holes; the slot's ends 1 1/4 apart at 5 3/4, 2 3/8."""
    solid = surveyed(plate.content)
    found = places(plate.surfaces, solid.corners, OWN, Style("in", 3), turned=False)
    holes = {(round(p.at[0] / 25.4, 6), round(p.at[1] / 25.4, 6)): p for p in found if p.kind == "hole"}
    fixing = {(x, y) for x in (1.0, 6.5) for y in (0.5, 4.25)}
    tapped = {(x, y) for x in (0.625, 2.5, 4.375) for y in (1.125, 3.625)}
    assert set(holes) == fixing | tapped
    assert holes[1.0, 0.5].words == "hole Ø0.266, Ø0.438" and holes[1.0, 0.5].at[2] == pytest.approx(0)
    ends = sorted(p.at[0] / 25.4 for p in found if p.kind == "slot end")
    assert ends == pytest.approx([5.75 - 0.625, 5.75 + 0.625])
    arcs = [p for p in found if p.kind == "arc"]
    assert sorted({round(p.size / 25.4, 4) for p in arcs}) == [0.1875, 0.375] and len(arcs) == 8
    assert solid.corners == (), "every corner of it is relieved"
    rows = list(csv.reader(io.StringIO(to_csv(found, Style("in", 3)))))
    assert rows[0] == ["what", "X in", "Y in", "Z in"] and len(rows) == len(found) + 1
    assert ["hole Ø0.266, Ø0.438", "1.0000", "0.5000", "0.0000"] in rows


def test_corners_are_where_flat_faces_meet(bracket):
    solid = surveyed(bracket.content)
    found = places(bracket.surfaces, solid.corners, OWN, Style("mm", 3), turned=False)
    corners = {p.at for p in found if p.kind == "corner"}
    assert {(0.0, 0.0, 0.0), (70.0, 0.0, 0.0), (0.0, 0.0, -8.0), (70.0, 44.0, -8.0)} <= corners
    assert len(corners) == len(solid.corners)


def test_the_table_of_coordinates_follows_zero_and_lists_a_turned_parts_shoulders(arbor_part):
    machine = arbor_part.stands(arbor_part.usual("  +"))
    found = places(arbor_part.surfaces, (), machine, Style("mm", 3), turned=True)
    shoulders = [round(p.at[2], 6) for p in found if p.kind == "shoulder"]
    assert {-156.0, -56.0, -64.0, 0.0} <= set(shoulders)
    assert [p.words for p in found if p.kind == "hole"] == ["hole Ø4 along X"]


def test_zero_is_kept_in_the_file_and_its_callouts_are_renumbered(plate):
    content = set_zero(plate.content, Zero(x=Mark(shift="#2"), up="-z", right="-x"))
    assert storage.decode(storage.to_json(Job(content=content)), "x").job.content == content
    moved = edits.renumber_callouts(edits.move_callout(content, 1, 1))
    assert moved.zero.x.shift == "#1"
    for shift, words in (("#99", "no callout #99"), ("9" * 20, "no machine reaches"), ("-1e9", "no machine reaches")):
        with pytest.raises(Refusal, match=words):
            set_zero(plate.content, Zero(x=Mark(shift=shift)))


def test_nothing_is_written_from_a_zero_that_is_lost(tmp_path, plate):
    """Counted from another zero a tool would crash: the face is named, and what to do."""
    content = set_zero(plate.content, Zero(z=Mark(faces=(FaceRef("s9/gone", "top, Z 0"),))))
    for form in ("step", "stl"):
        path = tmp_path / f"a.{form}"
        with pytest.raises(CannotWrite, match=r"was at top, Z 0, which is not on the part any more.*Plan, Zero"):
            issue(content, path, FORMATS[form])
        assert not path.exists()
    issue(content, tmp_path / "a.csv", FORMATS["csv"])
    assert (tmp_path / "a.csv").exists(), "a proof counts from no zero"
