"""What differs between two states of a job: whatever of it is changed is told."""

from __future__ import annotations

import copy
import itertools
import random
from pathlib import Path

import msgspec
import pytest

from lathed_solid.core.job import edits, revisions, storage
from lathed_solid.core.job.differences import UNSAID, differences, of_jobs
from lathed_solid.core.job.model import (
    Aside,
    BodyLook,
    Cell,
    Chain,
    Content,
    FaceLook,
    FamilyTable,
    Job,
    Kept,
    Member,
    Route,
)
from lathed_solid.core.job.settle import settle
from lathed_solid.core.plan.zero import Zero
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.sketch.model import Point
from lathed_solid.core.sketch.traces import Traces

EXAMPLES = Path(__file__).parents[3] / "examples"


def full() -> Content:
    """A job in which every field says something."""
    read = {n: storage.load(EXAMPLES / f"skp-0{n}.lathed").job.content for n in (2, 5, 7)}
    return msgspec.structs.replace(
        read[2],
        logbook=read[5].logbook[:3],
        bindings=read[7].bindings,
        routes=(*read[2].routes, Route(name="B", steps=read[7].steps[:2])),
        chains=(Chain(overall=1, parts=(2, 3)),),
        bodies=(BodyLook(id="s1", name="disc"),),
        faces=(FaceLook(face=FaceRef("s1.end"), finish="Ra 1.6"),),
        family=FamilyTable(columns=(1,), members=(Member(name="small", cells=(Cell(1, "90"),)),)),
        zero=Zero(up="+x", right="+y"),
        kept=(Kept(id="m1", what="distance"),),
        traces=(Traces(sketch="k1", lines=((0.0, 0.0, 1.0, 1.0),)),),
        aside=(Aside(words="a callout", text="{}"),),
    )


def leaves(plain: object, path: tuple = ()) -> list[tuple]:
    """The paths of all single values."""
    if isinstance(plain, dict | list):
        parts = plain.items() if isinstance(plain, dict) else enumerate(plain)
        return list(itertools.chain.from_iterable(leaves(value, (*path, key)) for key, value in parts))
    return [path]


def other(value: object) -> object:
    """Another value of the same sort."""
    if isinstance(value, bool):
        return not value
    if isinstance(value, int | float):
        return value + 1
    return f"{value}x" if isinstance(value, str) else "x"


def put(plain: dict, path: tuple, value: object) -> dict:
    changed = copy.deepcopy(plain)
    at = changed
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return changed


def others(document, seed: int, most: int, skipped=lambda path: False):
    """The document with one of its values another each time, and the path of that: ``most`` times each field."""
    plain = msgspec.json.decode(msgspec.json.encode(document))
    chosen, tried = leaves(plain), dict.fromkeys(document.__struct_fields__, 0)
    random.Random(seed).shuffle(chosen)
    for path in chosen:
        if tried[path[0]] >= most or skipped(path):
            continue
        at = plain
        for key in path:
            at = at[key]
        try:
            changed = msgspec.convert(put(plain, path, other(at)), type(document))
        except msgspec.ValidationError:
            continue
        if changed != document:
            tried[path[0]] += 1
            yield path, changed


def test_every_value_of_a_job_is_told_when_it_is_another():
    content = full()
    for field in Content.__struct_fields__:
        assert getattr(content, field) != getattr(Content(), field) or field == "route", f"{field} says nothing here"
    unsaid = {("header", "revision"), ("header", "typed")}
    met = set()
    for path, changed in others(content, 3, 120, lambda p: p[0] in UNSAID or p[:2] in unsaid):
        met.add(path[0])
        found = differences(content, changed)
        assert found and all(c.before != c.after for c in found), f"{path} is another, and nothing is said"
        assert not differences(changed, changed)
    assert met == set(Content.__struct_fields__) - UNSAID


@pytest.mark.parametrize("field", [f for f in Content.__struct_fields__ if f not in {"header", *UNSAID}])
def test_what_comes_goes_or_changes_places_is_told(field):
    content = full()
    whole = getattr(content, field)
    if not isinstance(whole, tuple):
        return
    less = msgspec.structs.replace(content, **{field: whole[:-1] or (Route(name="Z"),) * (field == "routes")})
    gone, come = differences(content, less), differences(less, content)
    assert gone and come and [c.what for c in gone] != []
    if len(whole) > 1:
        turned = msgspec.structs.replace(content, **{field: whole[::-1]}, route=1 if field == "routes" else 0)
        assert field == "sketches" or any("order" in c.what for c in differences(content, turned))


def test_a_line_moved_by_hand_is_told_with_how_far(flange):
    sketch = flange.sketches[0]
    point = next(e for e in sketch.entities if isinstance(e, Point))
    moved = tuple(msgspec.structs.replace(e, x=e.x + 2) if e is point else e for e in sketch.entities)
    changed = msgspec.structs.replace(flange, sketches=(sketch.moved(moved), *flange.sketches[1:]))
    (told,) = differences(flange, changed)
    assert told.what == f"sketch “{sketch.name}”" and told.after == "moved by up to 2 mm"


def test_steps_say_their_values_and_a_changed_callout_what_follows_from_it(flange):
    step = next(s for s in flange.steps if getattr(s, "seat_depth", ""))
    changed = edits.change_step(flange, step.id, seat_depth="6", suppressed=True)
    (told,) = differences(flange, changed)
    assert told.before.endswith(f"depth {step.seat_depth}") or f"depth {step.seat_depth}" in told.before
    assert "switched off no" in told.before and "switched off yes" in told.after and "depth 6" in told.after
    wider = settle(edits.edit_callout(flange, 1, "Ø120")).content
    assert differences(flange, wider)[0].words == "callout 1: Ø118 → Ø120"
    assert [c.after for c in differences(flange, wider)[1:]] == ["moved by up to 1 mm"]


def test_many_entries_are_counted_and_jobs_tell_their_revisions():
    content = full()
    more = tuple(msgspec.structs.replace(content.logbook[0], id=f"new{k}") for k in range(5000))
    many = msgspec.structs.replace(content, logbook=content.logbook + more)
    (told,) = differences(content, many)
    assert told.words == "logbook entry, several: – → 5000 of them"
    issued = revisions.issue(Job(content=content), "2026-12-01", None, None)
    assert [c.words for c in of_jobs(Job(content=content), issued)] == [
        f"revision: {content.header.revision} → {issued.content.header.revision}",
        f"revisions issued: – → {content.header.revision}",
    ]
