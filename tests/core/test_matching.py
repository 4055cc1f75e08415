"""Somebody else's solid: the drawing's sizes are found on its faces, and what is sure is right."""

import msgspec
import pytest

from lathed_solid.core.issue.formats import FORMATS, issue
from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.binding import bound, offers_of
from lathed_solid.core.job.model import Route
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import settle
from lathed_solid.core.route.gauges import ThreadFelt
from lathed_solid.core.route.steps.foreign import Foreign
from lathed_solid.core.route.steps.thread import Thread

from ..conftest import EXAMPLES
from .strangers import drilled, milled, turned
from .strangers.bench import Bench


def foreign(content, tmp_path, scale="1", form="step"):
    """The same callouts on the part as it comes out of a file: no step says what any face is."""
    store, path = Store(tmp_path / "store"), tmp_path / f"theirs.{form}"
    issue(content, path, FORMATS[form])
    blob = store.put(path.read_bytes())
    bare = msgspec.structs.replace(content, routes=(Route(),), route=0, bindings=(), sketches=())
    made, _ = edits.with_step(bare, Foreign, attachment=blob, file=path.name, scale=scale)
    return made, store


def example(name):
    return settle(storage.load(EXAMPLES / f"{name}.lathed").job.content).content


def axes(body, indices):
    """Where the axes of faces along Z stand."""
    return {tuple(round(v, 3) + 0.0 for v in body.measured[i - 1].origin[:2]) for i in indices}


@pytest.mark.parametrize(
    ("make", "least"),
    [
        (lambda: example("skp-01"), 21), (lambda: example("skp-02"), 24), (lambda: example("skp-03"), 13),
        (lambda: example("skp-07"), 10), (lambda: milled.bolt_ring_cover()[0].content, 10),
        (lambda: milled.corner_chamfers()[0].content, 6), (lambda: milled.housing()[0].content, 7),
        (lambda: milled.inch_clamp_bar()[0].content, 6), (lambda: turned.fitted_spindle()[0].content, 6),
        (lambda: turned.pulley()[0].content, 7), (lambda: drilled.mirrored_pads()[0].content, 7),
    ],
)  # fmt: skip
def test_what_is_sure_is_bound_and_proved_and_nothing_right_is_red(make, least, tmp_path):
    content = make()
    theirs, store = foreign(content, tmp_path)
    before = build_and_prove(theirs, store=store).proof
    assert {x.mark for x in before.lines} == {"open"}
    offers = offers_of(theirs, store=store)
    proof = build_and_prove(bound(theirs, [o for o in offers if o.is_sure]), store=store).proof
    assert not proof.any_out
    assert sum(x.mark in ("in", "near") for x in proof.lines) >= least
    whole = build_and_prove(bound(theirs, offers), store=store).proof
    assert not whole.any_out, "what is not sure is within its limits as well"


@pytest.mark.parametrize(
    ("make", "least"),
    [
        (lambda: example("skp-01"), 18), (lambda: example("skp-07"), 8), (lambda: milled.bolt_ring_cover()[0].content, 9),
        (lambda: milled.inch_clamp_bar()[0].content, 5), (lambda: turned.pulley()[0].content, 6),
    ],
)  # fmt: skip
def test_a_mesh_is_bound_and_proved_like_a_solid(make, least, tmp_path):
    """Its faces are found again in the triangles; sizes on the very limit (20 H7) are not red for single precision."""
    theirs, store = foreign(make(), tmp_path, form="stl")
    offers = offers_of(theirs, store=store)
    proof = build_and_prove(bound(theirs, [o for o in offers if o.is_sure]), store=store).proof
    assert not proof.any_out
    assert sum(x.mark in ("in", "near") for x in proof.lines) >= least


def test_holes_that_are_surely_found_stand_where_ours_stand(tmp_path):
    content = example("skp-02")
    theirs, store = foreign(content, tmp_path)
    ours, body = build_and_prove(content), build_and_prove(theirs, store=store).result.body
    offers = {(o.number, o.key): o for o in offers_of(theirs, store=store) if o.is_sure}
    for number in (8, 10, 11):
        line = next(x for x in ours.proof.lines if (x.number, x.key) == (number, ""))
        assert axes(body, offers[number, ""].faces) == axes(ours.result.body, line.faces)


def test_a_size_that_is_nowhere_is_not_offered(tmp_path):
    theirs, store = foreign(milled.housing()[0].content, tmp_path)
    wrong = edits.edit_callout(theirs, 1, "777")
    assert all(o.number != 1 for o in offers_of(wrong, store=store))


@pytest.fixture(scope="module")
def screw(tmp_path_factory):
    """A stud with its thread modelled, and a tapped plate, as somebody else's STEP files."""
    stud = Bench("Ø12", "40", "M12x1.75 - 6g x 20 deep")
    s1 = stud.turned({"length": "#2", "diameter": "#1"})
    stud.step(Thread, face=f"{s1}/a.od/side", note="#3", length="#3.depth", form="modelled")
    nut = Bench("50", "12", "2x M12x1.75 THRU")
    nut.block("rect #1 x 24", depth="#2")
    for x in ("-12", "12"):
        hole = nut.hole("s1/end", thread="#3", seat="countersink", seat_diameter="13", seat_angle="90°", x=x, y="0")
        nut.step(Thread, face=f"{hole}/0/side", note="#3", form="modelled")
    return [foreign(b.content, tmp_path_factory.mktemp("screw")) for b in (stud, nut)]


@pytest.mark.parametrize(("which", "keys"), [(0, {"", "depth"}), (1, {""})])
def test_a_thread_that_somebody_else_modelled_is_felt_and_bound(screw, which, keys):
    theirs, store = screw[which]
    offers = [o for o in offers_of(theirs, store=store) if o.number == 3]
    assert {o.key for o in offers if isinstance(o.gauges[0], ThreadFelt)} == keys and all(o.is_sure for o in offers)
    proof = build_and_prove(bound(theirs, offers), store=store).proof
    line = next(x for x in proof.lines if (x.number, x.key) == (3, ""))
    assert line.mark == "in" and "pitch 1.7500" in line.message
    assert not proof.any_out
    many = theirs.ledger().reading(3).count
    assert all(len(o.gauges) == many for o in offers), "as many as the note says, each a thread of its own"
    assert [x.mark for x in proof.lines if x.key == "count"] == (["in"] if many > 1 else [])
    # bound once, then the note is changed: it is not what it was taken for
    other = edits.edit_callout(bound(theirs, offers), 3, theirs.callouts[2].note.replace("1.75", "1.5"))
    line = next(x for x in build_and_prove(other, store=store).proof.lines if (x.number, x.key) == (3, ""))
    assert line.mark == "out" and "taken for M12x1.75" in line.message
    assert not [o for o in offers_of(edits.edit_callout(theirs, 3, "M12x1.5"), store=store) if o.number == 3]


def test_a_solid_in_the_wrong_unit_finds_nothing(tmp_path):
    theirs, store = foreign(milled.bolt_ring_cover()[0].content, tmp_path, scale="25.4")
    found = [o for o in offers_of(theirs, store=store) if o.key not in ("thru", "count")]
    assert found == []


def test_what_only_lies_within_its_limits_is_offered_but_never_sure(tmp_path):
    content = milled.bolt_ring_cover()[0].content
    theirs, store = foreign(edits.edit_callout(content, 3, "Ø40.1 THRU"), tmp_path)
    theirs = edits.edit_callout(theirs, 3, "Ø40 THRU")
    offer = next(o for o in offers_of(theirs, store=store) if (o.number, o.key) == (3, ""))
    assert offer.measured == pytest.approx(40.1)
    assert not offer.is_sure


def test_one_place_bound_by_hand_leaves_the_count_open(tmp_path):
    """A right part is not marked red because only one of its six holes was bound."""
    theirs, store = foreign(milled.bolt_ring_cover()[0].content, tmp_path)
    (offer,) = [o for o in offers_of(theirs, store=store) if (o.number, o.key) == (4, "")]
    one = msgspec.structs.replace(offer, gauges=offer.gauges[:1])
    line = next(
        x for x in build_and_prove(bound(theirs, [one]), store=store).proof.lines if (x.number, x.key) == (4, "count")
    )
    assert (line.mark, line.message) == ("open", "Bound in 1 of 6 places. Bind the others as well.")
    whole = build_and_prove(bound(theirs, [offer]), store=store).proof
    assert next(x for x in whole.lines if (x.number, x.key) == (4, "count")).mark == "in"
