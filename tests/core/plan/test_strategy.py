"""Which way to begin: what is told of the examples, of callouts alone, and the faces it is told of."""

import msgspec
import pytest

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.datums import hung
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.surveying import standing_of, surveyed
from lathed_solid.core.kernel.measure.least import block, cylinder
from lathed_solid.core.kernel.measure.surfaces import measure_faces
from lathed_solid.core.plan.coordinates import places
from lathed_solid.core.plan.finished import Finished
from lathed_solid.core.plan.prismatic import prism_of
from lathed_solid.core.plan.strategy import Datum, Seen, from_callouts, from_solid
from lathed_solid.core.plan.symmetry import symmetries
from lathed_solid.core.plan.zero import OWN, Zero
from lathed_solid.core.route.rebuild import rebuild

from ...conftest import EXAMPLES
from ..strangers.bench import Bench


def advice(name, folder, **zero):
    store = Store(folder)
    content = storage.load(EXAMPLES / f"{name}.lathed", store).job.content
    content = msgspec.structs.replace(content, zero=Zero(**zero))
    body = rebuild(content.plan(store.find)).body
    surfaces, machine = measure_faces(body), standing_of(content, body)
    style = content.header.style
    found = places(surfaces, (), machine, style, content.turned)
    solid = surveyed(content, store=store)
    prism = prism_of(surfaces, solid.outline, content.ledger()) if solid.outline is not None else None
    named = {body.name_of(s.index): s.index for s in surfaces}
    datums = [Datum(surfaces[named[n] - 1].describe(style), at, named[n]) for n, at in hung(content) if n in named]
    return from_solid(Seen(surfaces, solid.symmetries, found, machine, solid.volume, prism, datums), style), surfaces


def test_the_datum_is_the_face_that_most_lengths_hang_on(tmp_path):
    found, surfaces = advice("skp-01", tmp_path)
    (datum,) = [a for a in found if "hang on one face" in a.words]
    assert datum.words == "9 sizes hang on one face: bottom, Z 0 (callouts 2, 5, 7, 10, 14, 16, 20, 22, 23)."
    assert surfaces[datum.faces[0] - 1].origin[2] == pytest.approx(0)


def test_a_turned_and_drilled_flange(tmp_path):
    found, surfaces = advice("skp-02", tmp_path)
    words = [a.words for a in found]
    assert words[0] == "Seen along Z, 25 of 39 faces stand edge-on: that view carries the shape."
    (turned,) = [a for a in found if a.start == "revolve"]
    assert turned.words.startswith("76% of the surface lies about one axis: turned")
    share = sum(surfaces[i - 1].area for i in turned.faces) / sum(s.area for s in surfaces)
    assert round(100 * share) == 76
    assert not [a for a in found if a.start == "extrude"], "a turned part is not begun as an outline"
    assert "It is alike on both sides of the plane across Y at 0." in words
    rings = {a.words: a for a in found if a.start == "ring"}
    assert {"6 holes Ø5.5, Ø10 lie evenly on a circle of Ø98.", "6 holes Ø18 lie evenly on a circle of Ø66."} <= set(
        rings
    )
    holes = rings["6 holes Ø18 lie evenly on a circle of Ø66."].faces
    assert {round(surfaces[i - 1].radius, 6) for i in holes} == {9.0}


def test_a_milled_plate_in_inches(tmp_path):
    found, surfaces = advice("skp-03", tmp_path)
    by = {a.words: a for a in found}
    flat = by["Flat along Z: 0.625 thick, with 2 further levels, its walls square to that."]
    assert flat.start == "extrude"
    assert sorted(surfaces[i - 1].origin[2] for i in flat.faces) == pytest.approx([-15.875, 0])
    alike = by["It is alike on both sides of the plane across Y at 2.375."]
    assert (alike.start, alike.about) == ("half", "xz"), "the route can be rewritten so"
    assert by["4 holes Ø0.266, Ø0.438 lie in a grid of 2 by 2."].start == "row"
    assert by["6 holes Ø0.1495 lie in a grid of 3 by 2."].start == "row"


def test_a_bracket_is_an_outline_crossed_with_a_side_profile(tmp_path):
    found, surfaces = advice("skp-07", tmp_path)
    (crossed,) = [a for a in found if a.start == "extrude"]
    assert crossed.words == "Two views carry it between them: along X most of it, along Y the other 3 faces."
    lit = [surfaces[i - 1] for i in crossed.faces]
    assert sorted(s.kind for s in lit) == ["cylinder", "cylinder", "plane"], "the slot's ends and the leaning face"
    assert all(abs(s.axis[1]) == pytest.approx(1 if s.kind == "cylinder" else 0, abs=1e-9) for s in lit)
    assert "keep only what is inside" in crossed.rule
    for other in ("skp-02", "skp-03"):
        assert not [a for a in advice(other, tmp_path)[0] if a.words.startswith("Two views")], other


def test_a_quarter_is_told_when_two_planes_square_to_each_other_mirror_it(tmp_path):
    bench = Bench("60", "40", "10", "4x Ø6 THRU")
    bench.block("rect #1 x #2", depth="#3")
    points = ["point 20,12", "point -20,12", "point 20,-12", "point -20,-12"]
    bench.hole("s1/end", placement="sketch", sketch=bench.sketch(*points, base="face", on="s1/end"), diameter="#4")
    body = rebuild(bench.content.plan()).body
    surfaces = measure_faces(body)
    seen = Seen(surfaces, symmetries(surfaces), (), OWN, body.volume)
    told = [a for a in from_solid(seen, bench.content.header.style) if a.words.startswith("A quarter")]
    assert [a.start for a in told] == ["quarter"]
    words = [a.words for a in told]
    assert words == ["A quarter tells all of it: the plane across Y at 0 and the plane across X at 0 both mirror it."]
    assert not [a for a in advice("skp-03", tmp_path)[0] if a.words.startswith("A quarter")], "its pocket lies left"


def test_sentences_follow_machine_zero(tmp_path):
    """The plate stood on its front: what was the plane across Y is that across Z."""
    found, _ = advice("skp-03", tmp_path, up="-y", right="+x")
    words = [a.words for a in found]
    assert words[0].startswith("Seen along Y")
    assert "It is alike on both sides of the plane across Z at -2.375." in words


def test_the_callouts_alone():
    content = Content()
    for note in ("Ø40", "Ø25", "60", "6x Ø5 THRU on Ø32", "4x M5 tap 10"):
        content, _ = edits.add_callout(content, note)
    ledger = content.ledger()
    round_part = Finished(cylinder(40.0, 0, 60), True, "from callouts 1 and 3")
    found = from_callouts(ledger, round_part)
    assert [(a.words, a.start) for a in found] == [
        ("2 of 5 callouts are outer diameters: a turned part.", "revolve"),
        ("Callout 4 is there 6 times.", "ring"),
        ("Callout 5 is there 4 times.", "row"),
    ]
    flat = Finished(block((0, 0, 0), (60, 40, 10)), False, "as typed")
    assert from_callouts(ledger, flat)[0].start == "extrude"
    assert [a.start for a in from_callouts(ledger, None)] == ["ring", "row"]
