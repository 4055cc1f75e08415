"""SKP-00 as it is shipped: together, free of overlaps, turning; its screws follow the flange's holes."""

from __future__ import annotations

import math
from pathlib import Path

import msgspec
import numpy as np
import pytest

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.freedom import freedoms
from lathed_solid.core.fit.holes import followed, hole_of
from lathed_solid.core.fit.mass import bill, weigh
from lathed_solid.core.fit.motion import drive
from lathed_solid.core.fit.poses import rotation
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.job import edits as job_edits
from lathed_solid.core.job.assembling.files import load_assembly
from lathed_solid.core.job.assembling.judging import judged
from lathed_solid.core.job.assembling.shots import shot_of_content
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.bought.made import bought
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.storage import load
from lathed_solid.core.standards.fasteners import CATALOGUE, nearest, sizes
from lathed_solid.core.standards.tables import NotTabled

EXAMPLES = Path(__file__).parents[3] / "examples"


@pytest.fixture(scope="module")
def drum(tmp_path_factory):
    store = Store(tmp_path_factory.mktemp("drum"))
    opened = load_assembly(EXAMPLES / "skp-00.lathed", store)
    assert not opened.lost
    return opened.assembly, store


def test_it_is_together_and_turns_in_its_bearing(drum):
    assembly, _ = drum
    again = solved(assembly)
    for one, two in zip(assembly.instances, again.assembly.instances, strict=True):
        assert one.pose.place == pytest.approx(two.pose.place, abs=1e-7)
    words = {assembly.called(f.instance): f.words for f in freedoms(again.statement, again.state).each}
    assert words["ISO 15 6001"] == "held" and words["SKP-01"] == "turns about Z"
    assert [(line.many, line.part.number) for line in bill(assembly)] == [
        (1, "ISO 15 6001"), (1, "SKP-01"), (2, "SKP-02"), (1, "ISO 4026 M5x12"), (12, "ISO 4762 M5x16"),
        (12, "ISO 4032 M5"), (1, "ISO 7089 M10"), (1, "ISO 4032 M10"),
    ]  # fmt: skip
    jobs = {p.number: p for p in assembly.parts}
    assert jobs["SKP-01"].volume == pytest.approx(39_774.28, rel=1e-4)
    assert weigh(assembly).grams == pytest.approx(sum(w.grams * w.many for w in bill(assembly)), rel=1e-9)


def test_nothing_overlaps_and_every_thread_is_in_its_own(drum):
    assembly, store = drum
    found = judged(assembly, store)
    assert not found.overlaps and not [p for p in found.pairs if p.state == "unjudged"]
    threads = [p.words.split(" engaged")[0] for p in found.pairs if p.state == "in thread"]
    assert sorted(threads) == ["M10x1.5 - 6g"] + ["M5x0.8 - 6g"] * 13
    assert found.looked_at == 31 * 30 // 2


def test_the_motion_it_is_shipped_with_turns_a_flange_with_its_screws(drum):
    assembly, _ = drum
    kept = assembly.drive
    assert kept is not None
    goal = math.radians(float(kept.end))
    film = drive(assembly, kept.relation, [goal * k / 12 for k in range(13)])
    assert not film.ended and len(film.frames) == 13
    left, right = (i.id for i in assembly.instances if assembly.called(i.id).startswith("SKP-02"))
    screws = [f for f in assembly.follows if f.hole.instance == right]
    for frame in film.frames:
        now, before = frame.assembly.instance(right).pose, assembly.instance(right).pose
        turned = rotation(now) @ rotation(before).T
        # The arbor is free in its bearing and gives way: what is driven is the one flange against the other.
        other = rotation(frame.assembly.instance(left).pose) @ rotation(assembly.instance(left).pose).T
        against = other.T @ turned
        assert abs(math.remainder(abs(math.atan2(against[1, 0], against[0, 0])), 2 * math.pi)) == pytest.approx(
            abs(math.remainder(frame.value, 2 * math.pi)), abs=1e-6
        )
        for follow in screws:
            for _, name in follow.made:
                where = np.subtract(assembly.instance(name).pose.place, before.place)
                want = tuple(turned @ where + now.place)
                assert frame.assembly.instance(name).pose.place == pytest.approx(want, abs=1e-6)


def test_screws_follow_the_number_of_holes_of_the_flange(drum):
    assembly, store = drum
    content = load(EXAMPLES / "skp-02.lathed").job.content
    number = next(c.number for c in content.callouts if c.note.startswith("6x Ø5.5"))
    for count in (8, 4):
        note = next(c.note for c in content.callouts if c.number == number)
        changed = job_edits.edit_callout(content, number, note.replace("6x", f"{count}x", 1))
        shot = shot_of_content(changed, "skp-02.lathed", "", store)
        now = solved(followed(edits.renewed(assembly, [shot.part]))).assembly
        caps = [i for i in now.instances if now.part(i.part).number.startswith("ISO 4762")]
        assert len(caps) == 2 * count
        flange = next(i.id for i in now.instances if now.called(i.id) == "SKP-02, 1")
        own = [now.instance(name).pose.place for f in now.follows if f.hole.instance == flange for _, name in f.made]
        assert len(own) == 2 * count  # screws and nuts
        assert {round(math.hypot(x, y), 6) for x, y, _ in own} == {49.0}
        angles = sorted(
            {round(math.degrees(math.atan2(y, x)) % (360 / count), 3) % round(360 / count, 3) for x, y, _ in own}
        )
        assert len(angles) == 1
    gone = edits.remove(assembly, assembly.follows[0].leader)
    assert len(followed(gone).follows) == 3 and hole_of(gone, gone.instances[0].id) is None


@pytest.mark.parametrize("kind", CATALOGUE)
def test_a_bought_part_is_an_ordinary_job_that_is_proved(kind):
    for size in (sizes(kind)[0], sizes(kind)[-1]):
        content = bought(kind, size, 20.0)
        shown = build_and_prove(content)
        assert [r.message for r in shown.result.reports if r.state != "done"] == []
        assert [(line.number, line.mark) for line in shown.proof.lines if line.mark != "in"] == []
        assert CATALOGUE[kind].source in content.header.number
    with pytest.raises(NotTabled, match="Sizes: "):
        bought(kind, "M7777")


def test_sizes_are_those_of_the_standards_and_chosen_by_the_hole():
    # ISO 4762 table 1: M6 has a head Ø10 x 6 with a 5 mm socket; ISO 4032: M8 nut 13 across flats, 6.8 high; ISO 15: 6203.
    assert [c.note for c in bought("socket_cap", "M6", 20.0).callouts] == [
        "Ø10", "6", "Ø6", "20", "M6x1 - 6g 20 long", "5", "3",
    ]  # fmt: skip
    assert [c.note for c in bought("hexagon_nut", "M8").callouts][:2] == ["13", "6.8"]
    assert [c.note for c in bought("ball_bearing", "6203").callouts] == ["Ø40 0/-0.011", "12", "Ø17 0/-0.008 THRU"]
    large = bought("taper_pin", "5", 50.0).callouts[1].note
    assert large == "Ø6"  # 1:50 over 50
    assert (nearest("socket_cap", 5.5), nearest("washer", 6.0), nearest("ball_bearing", 12.0)) == ("M5", "M6", "6001")
    with pytest.raises(NotTabled):
        nearest("ball_bearing", 2.0)
    assert msgspec.json.encode(bought("washer", "M6"))
