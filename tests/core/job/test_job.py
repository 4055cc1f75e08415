"""The document: edits, history, revisions, what every kind keeps."""

import msgspec
import pytest

from lathed_solid.core.job import (
    edits,
    revisions,
    storage,
    walk,
)
from lathed_solid.core.job.edits import EditRefused
from lathed_solid.core.job.history import History
from lathed_solid.core.job.model import Content, Job, StatedFigures
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import settle
from lathed_solid.core.job.suggest import steps_from_callout
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.sketch.model import Plane
from lathed_solid.core.sketch.typed.commands import read_command

from .test_files import noted


def test_callouts_are_added_changed_moved_and_deleted():
    content = Content()
    for note in ("22", "Ø12 h6", "#1/2"):
        content, _ = edits.add_callout(content, note)
    content = edits.move_callout(content, 3, 0)
    assert [c.number for c in content.callouts] == [3, 1, 2]
    assert walk.where_used(content, 1) == ["callout 3"]
    with pytest.raises(EditRefused, match="used by callout 3"):
        edits.delete_callout(content, 1)
    assert [c.number for c in edits.delete_callout(content, 1, anyway=True).callouts] == [3, 2]
    with pytest.raises(Exception, match="does not fit"):
        edits.edit_callout(content, 1, "rubbish")
    assert edits.edit_callout(content, 1, "24").ledger().reading(3).main.nominal == 12


def test_renumbering_takes_every_formula_along(arbor):
    shuffled = arbor
    for number in (16, 3, 9):
        shuffled = edits.move_callout(shuffled, number, 0)
    renumbered = edits.renumber_callouts(shuffled)
    assert [c.number for c in renumbered.callouts] == list(range(1, 25))
    proof = build_and_prove(settle(renumbered).content).proof
    assert proof.all_in
    assert renumbered.sketch("k1").stations[3].diameter == "#1"


def test_where_a_callout_is_used(flange):
    assert walk.where_used(flange, 10) == ["step 50 Screw hole", "step 60 Screw holes"]
    assert walk.where_used(flange, 15) == ["sketch “Keyway”"]


def test_a_callout_becomes_its_steps(flange):
    content, id_ = steps_from_callout(flange, 11, (flange.step("s7").face,))
    hole, ring = content.steps[-2:]
    assert isinstance(hole, Hole)
    assert isinstance(ring, Ring)
    assert (hole.id, hole.diameter, hole.circle, hole.extent) == (id_, "#11", "#11.circle", "through")
    assert ring.of == (hole.id,)
    with pytest.raises(EditRefused, match="a size, not a feature"):
        steps_from_callout(flange, 2)


def test_a_picture_is_saved_with_the_job_and_kept_until_there_is_a_newer(tmp_path, arbor):
    path = tmp_path / "a.lathed"
    assert storage.read_preview(path) == b""
    storage.save(Job(content=arbor), path, preview=b"one")
    assert storage.load(path).job.content == arbor and storage.read_preview(path) == b"one"
    storage.save(Job(), path)
    assert storage.read_preview(path) == b"one"
    storage.save(Job(), path, preview=b"two")
    assert storage.read_preview(path) == b"two"
    path.write_bytes(path.read_bytes()[:200])
    assert storage.read_preview(path) == b""


def test_undo_and_redo_have_no_end():
    history = History(Job())
    for i in range(300):
        content, _ = edits.add_callout(history.state.content, f"{i + 1}")
        history.do(Job(content=content), f"callout {i}")
    last = history.state
    while history.undo():
        pass
    assert history.state.content.callouts == ()
    while history.redo():
        pass
    assert history.state is last
    history.undo()
    history.do(Job(), "something else")
    assert not history.redo()


def test_revisions_say_what_changed(arbor):
    proof = build_and_prove(arbor).proof
    job = revisions.issue(Job(content=arbor), "2026-11-23", proof.mass.volume, proof.grams)
    assert job.content.header.revision == "C"
    content = settle(edits.edit_callout(job.content, 9, "Ø36")).content
    content = edits.change_step(content, "s4", suppressed=True)
    job = msgspec.structs.replace(job, content=content)
    proof = build_and_prove(content).proof
    found = {c.what: (c.before, c.after) for c in revisions.changes_since(job, "B", proof.mass.volume, proof.grams)}
    assert found["callout 9"] == ("Ø34", "Ø36")
    assert found["step “Flat”"] == ("switched off no", "switched off yes")
    assert found["sketch “Turned profile”"][1] == "moved by up to 1 mm"
    assert found["volume"][0] == "39 774.28 mm³"
    assert found["mass"][0] == "312.23 g"
    assert set(found) == {"callout 9", "sketch “Turned profile”", "step “Flat”", "volume", "mass"}
    with pytest.raises(EditRefused, match="issued before"):
        revisions.issue(msgspec.structs.replace(job, content=edits.set_header(content, revision="B")), "x", None, None)
    assert [revisions.next_letter(x) for x in ("A", "H", "Z", "3")] == ["B", "J", "AA", "4"]


def test_engraved_letters_are_no_formulas():
    """A “#2” that is cut into the part is a number size, not callout 2."""
    content = noted("22", "23").content
    content, k = edits.add_sketch(content, "Letters #2", Plane())
    sketch = read_command("line 0,0 40,0", content.ledger(), False, content.sketch(k)).draw(content.sketch(k))
    sketch = read_command('text "#2 UNC" #1 on l1', content.ledger(), False, sketch).draw(sketch)
    content = edits.set_sketch(content, sketch)
    content, _ = edits.with_step(content, Hole, name="for #2 screws", diameter="#2/2")
    content = edits.move_callout(content, 2, 0)
    after = edits.renumber_callouts(content)
    assert after.sketch(k).name == "Letters #2" and after.sketch(k).texts()[0].text == "#2 UNC"
    assert after.sketch(k).dimensions[0].text == "#2" and after.steps[0].diameter == "#1/2"
    assert after.steps[0].name == "for #2 screws"
    assert walk.where_used(content, 2) == ["step 10 for #2 screws"]


def test_a_callout_used_in_another_route_or_a_repeat_is_in_use():
    content = noted("22", "6x Ø5").content
    content, k = edits.add_sketch(content, "Holes", Plane("end"))
    sketch = read_command("circle Ø5 at 20,0", content.ledger(), False, content.sketch(k)).draw(content.sketch(k))
    sketch = read_command("row #2.count x 10 of c1", content.ledger(), False, sketch).draw(sketch)
    content = edits.set_sketch(content, sketch)
    content, _ = edits.with_step(content, Hole, diameter="#1", sketch=k)
    content = edits.begin_route(content)
    assert walk.where_used(content, 1) == ["step 10 of route A"]
    assert walk.where_used(content, 2) == ["sketch “Holes”"]
    with pytest.raises(EditRefused, match="step 10 of route A"):
        edits.delete_callout(content, 1)


def test_numbers_are_given_once():
    content = noted("22", "23").content
    content = edits.delete_callout(content, 2)
    content, number = edits.add_callout(content, "24")
    assert number == 3
    content, first = edits.with_step(content, Hole)
    content = edits.remove_step(content, first)
    content, second = edits.with_step(content, Hole)
    assert (first, second) == ("s1", "s2")


def test_every_field_of_a_damaged_job_is_read_or_told():
    read = {*storage.PARTS, *storage.NUMBERS, *storage.WHOLES, "header", "routes"}
    assert read == set(Content.__struct_fields__)
    plain = msgspec.json.decode(storage.to_json(noted("22")))
    plain["content"]["bodies"] = [{"id": "s1", "name": 7}]
    plain["content"]["route"] = "A"
    plain["content"]["zero"] = {"up": "sideways"}
    plain["content"]["blank"] = {"quantity": 7}
    opened = storage.decode(msgspec.json.encode(plain), "a.lathed")
    assert opened.job.content.callouts[0].note == "22"
    assert set(opened.lost) == {"body's look s1", "which route was worked on", "machine zero", "the blank"}


def test_format_4_learns_which_numbers_were_given_and_which_end_flats_are_on():
    old = msgspec.json.decode(storage.to_json(noted("22", "23")))
    old["format"], old["content"]["callouts"][1]["note"] = 4, "#7/2"
    for field in ("next_callout", "next_step"):
        del old["content"][field]
    polygon = {"type": "polygon", "id": "s12", "face": {"name": "s1/a.od/side"}, "end": "low", "corners": "high"}
    edge = {"type": "fillet", "id": "s13", "edges": [{"a": "s12/high/corner", "b": "s12/flat1/side"}]}
    hole = {"type": "hole", "id": "s11", "placement": "point", "x": "5", "y": "5"}
    old["content"]["routes"][0]["steps"] = [{"type": "revolve", "id": "s1"}, polygon, edge, hole]
    content = storage.decode(msgspec.json.encode(old), "old.lathed").job.content
    assert (content.next_callout, content.next_step) == (8, 14)
    assert (content.steps[1].end, content.steps[1].corners) == ("high", "low")
    assert content.steps[2].edges[0].a == "s12/low/corner"
    assert content.steps[3].counted == "part", "a hole stays where it was"


def test_every_step_kind_survives_a_round_trip(arbor, flange):
    kinds = {type(s).__name__ for c in (arbor, flange) for s in c.steps}
    assert kinds == {"Revolve", "Thread", "Hole", "Extrude", "Chamfer", "Fillet", "Ring"}
    for content in (arbor, flange):
        assert msgspec.json.decode(msgspec.json.encode(content), type=Content) == content


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"decimals": 10**9}, "decimals"),
        ({"material": msgspec.structs.replace(Content().header.material, density=-1.0)}, "density"),
        ({"material": msgspec.structs.replace(Content().header.material, density=float("inf"))}, "density"),
        ({"stated": StatedFigures(volume=1.0, tolerance=1e9)}, "tolerance"),
        ({"stated": StatedFigures(volume=float("nan"))}, "above zero"),
    ],
)
def test_a_title_block_nobody_means_is_refused(fields, words):
    with pytest.raises(EditRefused, match=words):
        edits.checked_header(edits.set_header(Content(), **fields).header)


@pytest.mark.parametrize("field", ["callouts", "routes", "sketches", "header"])
@pytest.mark.parametrize("odd", [True, 7, "x", None, {"a": 1}])
def test_a_damaged_job_of_an_older_format_is_opened_as_far_as_it_goes(arbor, field, odd):
    plain = msgspec.json.decode(storage.to_json(Job(content=arbor)))
    plain["format"] = 4
    plain["content"][field] = odd
    opened = storage.decode(msgspec.json.encode(plain), "x")
    assert opened.lost or field == "routes"
    assert edits.add_callout(opened.job.content, "22")
