"""A short run of every trial, on seeds of its own; ``python -m trials`` goes on for as long as is wished."""

import random
import time

import msgspec
import pytest
from trials import (
    assemblies,
    disk,
    drawings,
    hostile,
    instances,
    jobs,
    journals,
    kernels,
    long_use,
    monkeys,
    notes,
    power,
    solids,
    tools,
    windows,
)

from lathed_solid.core.job import storage
from lathed_solid.core.job.model import Content, Job
from lathed_solid.core.quantity import ExpressionError, evaluate
from lathed_solid.core.quantity.expression import Plain
from lathed_solid.core.sketch.model import Circle, Line, Point, Relation
from lathed_solid.core.sketch.solver.soundness import sound

from .conftest import EXAMPLES


@pytest.mark.faults
@pytest.mark.parametrize(
    ("trial", "seconds"),
    [
        (notes, 3),
        (jobs, 5),
        (journals, 3),
        (kernels, 6),
        (assemblies, 5),
        (disk, 2),
        (drawings, 3),
        (solids, 6),
        (power, 2),
        (tools, 4),
        (instances, 3),
        (windows, 4),
        (hostile, 4),
    ],
    ids=lambda v: getattr(v, "__name__", ""),
)
def test_a_short_trial_finds_nothing(trial, seconds):
    end = time.monotonic() + seconds
    found = trial.run(random.Random(20261128), lambda: time.monotonic() < end)
    assert found.count
    assert found.faults == {}


@pytest.mark.faults
def test_monkeys_break_nothing(qapp, monkeypatch, tmp_path):
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"):
        monkeypatch.setenv(name, str(tmp_path))  # given back after the trial has set its own
    end = time.monotonic() + 15
    found = monkeys.run(random.Random(20261128), lambda: time.monotonic() < end)
    assert found.count > 10
    assert found.faults == {}


@pytest.mark.faults
def test_a_window_used_for_long_holds_no_more_than_before(qapp, monkeypatch, tmp_path):
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"):
        monkeypatch.setenv(name, str(tmp_path))
    monkeypatch.setattr(long_use, "WARM", 1)
    found = long_use.run(random.Random(20261128), lambda: False)
    assert found.count == 2
    assert found.faults == {}


def sketches():
    for path in sorted(EXAMPLES.glob("skp-0[1-9].lathed")):
        yield from storage.load(path).job.content.sketches


def test_nothing_of_a_sound_sketch_is_set_aside():
    for sketch in sketches():
        assert sound(sketch).aside == ()
        assert sound(sketch).sketch is sketch


def test_what_does_not_hang_together_is_set_aside_told_and_kept():
    sketch = next(s for s in sketches() if s.relations and not s.stations)
    spoiled = msgspec.structs.replace(
        sketch,
        entities=(*sketch.entities, Line("x1", "nowhere", "else"), Circle("x2", "x1", 3.0), Point("x3", 1e300, 0.0)),
        relations=(*sketch.relations, Relation("x4", "tangent", ("x1", "x2")), Relation("x5", "symmetric", ("x3",))),
    )
    content = msgspec.structs.replace(Content(), sketches=(spoiled,))
    opened = storage.decode(storage.to_json(Job(content=content)), "x")
    assert opened.job.content.sketches == (sketch,)
    assert len(opened.lost) == len(opened.job.content.aside) == 5
    assert all(f"sketch “{sketch.name}”" in words for words in opened.lost)
    again = storage.decode(storage.to_json(opened.job), "x")
    assert again.lost == () and again.job == opened.job, "it is told once, and kept in the file"


@pytest.mark.parametrize(
    ("text", "words"),
    [("9" * 400, "30 digits"), ("-" * 270 + "1", "brackets or signs"), ("+".join("1" * 600), "500 are the most")],
)
def test_what_nobody_writes_is_refused_in_words(text, words):
    with pytest.raises(ExpressionError, match=words):
        evaluate(text, Plain())
    assert evaluate("+".join(["(-1)"] * 60), Plain()) == -60, "many brackets beside each other are no depth"
