"""A route made another way makes the same part, or is refused in words and nothing changes."""

import msgspec
import pytest

from lathed_solid.core.job import edits
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.rewriting.asked import Rewriting, rewritten
from lathed_solid.core.job.routes import compare_routes
from lathed_solid.core.plan.carriers import partner
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.bodies import Split
from lathed_solid.core.route.steps.mirror import Mirror

from ..strangers.test_strangers import PARTS

HALF, WHOLE = Rewriting("half"), Rewriting("whole")
#: Strangers' parts whose other half the kernel cannot join, or that are nowhere alike on both sides of a main plane.
REFUSED = {
    "mirrored_recess": "not a sound solid",
    "moved_body": "could not be built",
    "ring_grooves": "nowhere alike",
    "taper_pin": "nowhere alike",
    "ball": "not a sound solid",
}
#: One of each kind of the others: drilled, turned, mirrored, in rings and rows, from datums, in inches.
HALVED = (
    "inch_clamp_bar", "mirrored_body", "tee_slot", "round_ended_link", "hexagon_stud", "stud_grid", "housing",
    "bolt_ring_cover", "rack_row", "pulley", "from_a_plane", "hub_beside_the_axis", "crossed_blind_hole",
)  # fmt: skip


def proved(content, store=None):
    """Volume, and the mark of every characteristic."""
    shown = build_and_prove(content, store=store)
    assert [r.message for r in shown.result.reports if r.state == "failed" or r.unfinished] == []
    return shown.proof.mass.volume, {(line.number, line.key): line.mark for line in shown.proof.lines}


def kinds(content):
    return [type(s).__name__ for s in content.steps]


@pytest.mark.parametrize("name", HALVED)
def test_strangers_parts_are_halved_and_made_whole_again(name):
    content = PARTS[name]()[0].content
    volume, marks = proved(content)
    half = rewritten(content, HALF)
    assert len(half.routes) == 2 and half.routes[0] == content.routes[0], "it is a route of its own"
    assert sorted(kinds(half)) == sorted([*kinds(content), "Split", "Mirror"])
    found, now = proved(half)
    assert found == pytest.approx(volume, rel=1e-9)
    assert {k: m for k, m in now.items() if m != marks[k] and m != "open"} == {}, (
        "a size may not be felt on halves, no more"
    )
    whole = rewritten(half, WHOLE)
    assert kinds(whole) == kinds(content) and proved(whole) == (pytest.approx(volume, rel=1e-9), marks)


def test_it_is_halved_about_the_plane_asked_for_and_twice_is_a_quarter():
    content = PARTS["inch_clamp_bar"]()[0].content
    volume = proved(content)[0]
    for about in ("xz", "xy"):
        half = rewritten(content, msgspec.structs.replace(HALF, about=about))
        assert [s.about for s in half.steps if isinstance(s, Mirror)] == [about]
        assert [s.by for s in half.steps if isinstance(s, Split)] == [about]
    quarter = rewritten(half, HALF)
    assert [s.about for s in quarter.steps if isinstance(s, Mirror)] == ["xy", "xz"]
    assert proved(quarter)[0] == pytest.approx(volume, rel=1e-9)
    at_once = rewritten(content, Rewriting("quarter", about="xy"))
    assert kinds(at_once) == kinds(quarter) and len(at_once.routes) == 2, "the half between is not kept"
    assert proved(at_once)[0] == pytest.approx(volume, rel=1e-9)
    whole = rewritten(rewritten(quarter, WHOLE), WHOLE)
    assert kinds(whole) == kinds(content) and proved(whole)[0] == pytest.approx(volume, rel=1e-9)
    early = rewritten(content, msgspec.structs.replace(HALF, about="yz"))
    assert kinds(early)[:3] == ["Extrude", "Split", "Mirror"], "the bar is, before it is drilled at one end"


@pytest.mark.parametrize("name", REFUSED)
def test_what_cannot_be_halved_is_told(name):
    content = PARTS[name]()[0].content
    with pytest.raises(edits.EditRefused, match=REFUSED[name]):
        rewritten(content, HALF)


def test_holes_beyond_the_plane_are_left_out_and_come_back(example, store):
    """The base plate: four fixing holes and four tapped ones become two and two, and four again."""
    content = example("03")
    half = rewritten(content, HALF, store=store)
    assert proved(half, store)[0] == pytest.approx(324_086.737, abs=1e-3)
    split, mirror = (next(s for s in half.steps if isinstance(s, kind)) for kind in (Split, Mirror))
    assert half.steps.index(split) == 1 and mirror.makes_whole and split.offset == mirror.offset
    halves = [half.sketch(s.sketch) for s in half.steps if type(s).__name__ == "Hole"]
    wholes = [content.sketch(s.sketch) for s in content.steps if type(s).__name__ == "Hole"]
    points = [[sum(type(e).__name__ == "Point" for e in k.entities) for k in ks] for ks in (halves, wholes)]
    assert [2 * n for n in points[0]] == points[1]
    whole = rewritten(half, WHOLE, store=store)
    (volume, marks), (was, all_in) = proved(whole, store), proved(content, store)
    assert volume == pytest.approx(was, rel=1e-12)
    told = {k: mark for k, mark in marks.items() if mark != all_in[k]}
    assert told == {(20, ""): "open"}, "the pitch across the mirror is a place written down now, no size between holes"


def test_a_half_drawn_by_hand_is_made_whole(example, store):
    """The route of the base plate that cuts its far half away with an outline of its own."""
    content = edits.take_route(example("03"), 2)
    assert content.routes[2].name == "half"
    volume, marks = proved(rewritten(content, WHOLE, store=store), store)
    assert volume == pytest.approx(324_086.737, abs=1e-3)
    assert {k for k, mark in marks.items() if mark not in ("in", "near")} == {(21, "")}
    with pytest.raises(edits.EditRefused, match="no half and mirror"):
        rewritten(example("03"), WHOLE, store=store)


@pytest.mark.parametrize("number", ["02", "04", "07"])
def test_a_route_goes_on_with_the_steps_of_another(number, example, store):
    content = example(number)
    was = proved(content, store)
    for after in (1, len(content.steps) // 2, len(content.steps) - 1):
        begun = edits.copy_route(content)
        begun = edits.set_steps(begun, begun.steps[:after])
        made = rewritten(begun, Rewriting("steps", 0, after), store=store)
        assert kinds(made) == kinds(content) and proved(made, store) == was


def test_steps_find_the_faces_of_a_part_that_is_made_otherwise(example, store):
    """Pocket and holes of the plate that was built up, on the one cut from its blank; what is not there is named."""
    content = example("03")
    cut = edits.copy_route(edits.take_route(content, 1))
    cut = edits.set_steps(cut, cut.steps[:2])
    made = rewritten(cut, Rewriting("steps", 0, 1), store=store)
    assert kinds(made) == ["Stock", "Extrude", "Extrude", "Hole", "Hole", "Extrude"]
    volume, marks = proved(made, store)
    assert volume == pytest.approx(324_086.737, abs=1e-3) and set(marks.values()) <= {"in", "near"}
    with pytest.raises(edits.EditRefused, match="“Fixing holes” needs top, Z 0"):
        rewritten(edits.set_steps(cut, cut.steps[:1]), Rewriting("steps", 0, 1), store=store)
    with pytest.raises(edits.EditRefused, match="Other half” needs bodies of their own"):
        rewritten(cut, Rewriting("steps", 2, 3), store=store)
    with pytest.raises(edits.EditRefused, match="its own steps"):
        rewritten(content, Rewriting("steps", 0, 1), store=store)
    with pytest.raises(edits.EditRefused, match="Choose a step in between"):
        rewritten(cut, Rewriting("steps", 0, 6), store=store)


def test_steps_whose_names_are_taken_get_new_ones_and_stand_where_they_stood(example, store):
    """Taken over twice: the second flats, holes and slit lie on the faces of the first, the part is the same."""
    content = example("04")
    twice = rewritten(edits.copy_route(content), Rewriting("steps", 0, 8), store=store)
    flats, clearance, thread = twice.steps[-3:]
    assert [s.id for s in twice.steps[-3:]] == ["s12", "s13", "s14"]
    assert clearance.face.name.startswith(f"{flats.id}/") and thread.face.name.startswith(f"{flats.id}/")
    assert build_and_prove(twice, store=store).proof.mass.volume == pytest.approx(
        build_and_prove(content, store=store).proof.mass.volume, rel=1e-9
    )


def test_a_count_is_open_when_no_face_of_it_is_made_by_this_route(example, store):
    """The flats of the lever made by a step of another name: nothing is bound to their faces, so none are missing."""
    content = example("04")
    flats, clearance, thread = content.steps[-3:]
    content, fresh = edits.new_step_id(edits.copy_route(content))

    def on(hole):
        name = hole.face.name.replace(flats.id, fresh)
        return msgspec.structs.replace(hole, face=FaceRef(name, hole.face.was))

    renamed = (msgspec.structs.replace(flats, id=fresh), on(clearance), on(thread))
    marks = proved(edits.set_steps(content, (*content.steps[:-3], *renamed)), store)[1]
    assert (marks[15, ""], marks[15, "count"]) == ("open", "open")


def test_where_two_routes_differ_is_told_by_their_faces(example, store):
    """A larger hole on route B: its wall is where A has nothing, and A's wall where B has nothing."""
    content = edits.copy_route(example("01"))
    content = edits.change_step(content, "s3", diameter="8")
    a, b = compare_routes(content, store=store)
    assert set(a.alone) == {"B"} and set(b.alone) == {"A"}
    assert {name.split("/")[0] for name in a.alone["B"]} == {name.split("/")[0] for name in b.alone["A"]} == {"s3"}
    same = edits.copy_route(example("01"))
    assert [f.alone for f in compare_routes(same, store=store)] == [{}, {}]


def test_a_face_has_its_partner_on_the_same_surface_with_material_on_the_same_side(example, store):
    from lathed_solid.core.job.operating import faces_of

    content = example("02")
    faces = faces_of(build_and_prove(content, store=store).result.body).surfaces
    other = edits.change_step(content, content.steps[-1].id, suppressed=True)
    rest = faces_of(build_and_prove(other, store=store).result.body).surfaces
    paired = {s.index: partner(s, rest) for s in faces}
    lost = [s for s in faces if paired[s.index] is None]
    assert lost and all(s.kind == "plane" for s in lost), "the walls of the keyway"
    for s in faces:
        twin = paired[s.index]
        assert twin is None or (twin.kind, twin.hollow) == (s.kind, s.hollow)
