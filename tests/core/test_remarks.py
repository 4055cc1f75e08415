"""Steps that are built with something to be known, and steps that only lack something."""

import pytest

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import settle
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.rebuild import Cache, rebuild
from lathed_solid.core.route.registry import KINDS
from lathed_solid.core.route.steps.row import Row
from lathed_solid.core.route.steps.thread import Thread

from ..conftest import EXAMPLES
from .test_route import START, bar, volume, with_steps

SIDE = FaceRef("s1/a.od/side")


def reports(content):
    return {r.id: r for r in rebuild(settle(content).content.plan()).reports}


@pytest.mark.parametrize("kind", KINDS.values(), ids=lambda kind: kind.title)
def test_a_step_just_added_is_not_wrong_only_not_filled_in(kind):
    content = with_steps(bar(), (kind.struct, {"name": kind.title}))
    last = reports(content)[content.steps[-1].id]
    assert (last.state, last.unfinished) == ("failed", True), last.message
    assert last.message.endswith(".")


def test_a_wrong_number_is_wrong():
    content = with_steps(bar(), (Hole, {"face": START, "diameter": "-3"}))
    assert not reports(content)["s2"].unfinished


def test_a_cut_in_the_air_leaves_the_part_and_lets_the_route_go_on():
    hole = (Hole, {"face": START, "placement": "coordinates", "x": "12", "y": "0", "diameter": "4"})
    air = (Row, {"of": ("s2",), "count": "2", "pitch": "500"})
    content = with_steps(bar(), hole, air, (Hole, {"face": START, "diameter": "5"}))
    found = reports(content)
    assert [found[s].state for s in ("s2", "s3", "s4")] == ["done"] * 3
    assert found["s3"].message.startswith("No material was removed")
    assert found["s3"].volume == found["s2"].volume
    assert not found["s4"].message
    without = with_steps(bar(), hole, (Hole, {"face": START, "diameter": "5"}))
    assert volume(content) == pytest.approx(volume(without), rel=1e-12)


def test_a_remark_comes_out_of_the_cache_too():
    content, cache = settle(with_steps(bar(), (Thread, {"face": SIDE, "note": "M42x4.5"}))).content, Cache()
    first, again = (rebuild(content.plan(), cache).reports[-1] for _ in "ab")
    assert again.cached
    assert first.message == again.message == "M42x4.5 is cut on Ø42; this face is Ø40. Turn it to size."


@pytest.mark.parametrize(
    ("callout", "note", "words"),
    [(15, "Ø9", "is cut on Ø10; this face is Ø9"), (14, "152", "is 14 long, the face only 3: it ends with the face")],
)
def test_what_is_built_with_a_remark_is_not_proved(callout, note, words):
    arbor = storage.load(EXAMPLES / "skp-01.lathed").job.content
    shown = build_and_prove(settle(edits.edit_callout(arbor, callout, note)).content)
    assert all(r.state == "done" for r in shown.result.reports)
    assert any(words in r.message for r in shown.result.reports)
    thread = [line.mark for line in shown.proof.lines if line.number == 18]
    assert thread[0 if callout == 15 else 1] in ("out", "open")


def test_messages_speak_in_the_units_of_the_job():
    """A hole off an inch plate is told in inches; the text of the error itself is in millimetres."""
    from .strangers.bench import Bench

    bench = Bench("3.00", "2.00", ".500", units="in")
    block = bench.block("rect 0,0 #1,#2", depth="#3")
    bench.hole(f"{block}/end", diameter=".25", x="4", y="1")
    assert "A hole at 4, 1, 0.5 misses the picked face" in bench.proved().result.reports[-1].message
