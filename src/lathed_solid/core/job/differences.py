"""What differs between two states of a job, in words: nothing that a job says may differ and go untold."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import msgspec

from ..callout import Callout, NoteError
from ..callout.words import value_text
from ..names import refers
from ..quantity import Style
from ..route.registry import Step, called, kind_of
from ..sketch.model import Point, Sketch
from ..tolerance import ONE_PLACE
from .changes import Change, Many, fields, head, listed, order, other
from .model import Content, Job, Route

#: What says nothing of the part: numbers given out next.
UNSAID = {"next_callout", "next_step"}
#: The letter is told by whoever compares jobs; what was typed says no more than the figure read from it.
_HEADER_UNSAID = {"revision", "typed"}
_HEADER = {
    "number": "part number",
    "shown": "figures shown in",
    "fractions": "inches as fractions",
    "grade": "general tolerance",
    "places": "tolerance by decimal places",
    "stated": "stated figures",
}
_MANY = (
    Many("bindings", "binding", lambda b: (b.number, b.key), lambda b: f"of callout {b.number}"),
    Many("drawings", "drawing", lambda d: d.id, lambda d: f"“{d.name}”"),
    Many("chains", "chain of sizes", lambda c: c.overall, lambda c: f"of callout {c.overall}"),
    Many("logbook", "logbook entry", lambda e: e.id, lambda e: f"“{e.feature or e.when}”"),
    Many("bodies", "body", lambda b: b.id, lambda b: f"“{b.name or b.id}”"),
    Many("faces", "face", lambda f: f.face.name, lambda f: f"“{f.face.was or f.face.name}”"),
    Many("kept", "kept measurement", lambda k: k.id, lambda k: f"“{k.what}”"),
    Many("sheets", "drawing sheet", lambda s: s.id, lambda s: f"“{s.name or s.id}”"),
    Many("traces", "linework of a scan", lambda t: t.sketch, lambda t: f"under sketch {t.sketch}"),
    Many("aside", "piece set aside", lambda a: a.text, lambda a: f"“{a.words}”"),
)
_SINGLES = {"family": "part family", "blank": "blank", "zero": "machine zero"}


def of_jobs(then: Job, now: Job) -> list[Change]:
    """What differs between two states of a job, with the revisions that were issued."""
    found = differences(then.content, now.content)
    letters = [", ".join(r.label for r in job.revisions) for job in (then, now)]
    if then.revisions != now.revisions:
        found.insert(0, Change("revisions issued", *letters) if letters[0] != letters[1] else other("revisions issued"))
    if then.content.header.revision != now.content.header.revision:
        found.insert(0, Change("revision", then.content.header.revision, now.content.header.revision))
    return found


def differences(then: Content, now: Content) -> list[Change]:
    """What differs between two states: title block, callouts, sketches, routes and all else. The revision's letter is
    none of it.
    """
    found = [
        *head(then.header, now.header, _HEADER, _HEADER_UNSAID),
        *_callouts(then, now),
        *_sketches(then, now),
        *_routes(then, now),
    ]
    for kept in _MANY:
        found += listed(kept, getattr(then, kept.field), getattr(now, kept.field))
    return found + [other(words) for field, words in _SINGLES.items() if getattr(then, field) != getattr(now, field)]


# --- callouts
def _callouts(then: Content, now: Content) -> list[Change]:
    old, new = ({c.number: c for c in x.callouts} for x in (then, now))
    found = []
    for number in sorted(old.keys() | new.keys()):
        a, b = old.get(number), new.get(number)
        if a == b and a is not None and not refers(a.note):
            continue
        words = [[_note(then, a)], [_note(now, b)]]
        if a is not None and b is not None:
            for said, more in zip(words, fields(msgspec.structs.replace(a, note=b.note), b), strict=True):
                said += [more] if more else []
        if words[0] != words[1]:
            found.append(Change(f"callout {number}", *(", ".join(w) for w in words)))
    return found + order("callouts", list(old), list(new))


def _note(content: Content, callout: Callout | None) -> str:
    """The note, and its value where a formula hides it."""
    if callout is None:
        return ""
    if not refers(callout.note):
        return callout.note
    try:
        return f"{callout.note} = {value_text(content.ledger().reading(callout.number).main, content.header.style)}"
    except NoteError:
        return callout.note


# --- sketches
def _sketches(then: Content, now: Content) -> Iterator[Change]:
    old, new = ({s.id: s for s in x.sketches} for x in (then, now))
    for id_ in [*old, *(i for i in new if i not in old)]:
        what = f"sketch “{(new.get(id_) or old[id_]).name or id_}”"
        if id_ not in new or id_ not in old:
            yield Change(what, "in the job" if id_ in old else "", "in the job" if id_ in new else "")
        elif words := _redrawn(old[id_], new[id_], now.header.style):
            yield Change(what, "as it was", "; ".join(words))


def _redrawn(old: Sketch, new: Sketch, style: Style) -> list[str]:
    """What of a sketch is another: what is drawn and stated, where it lies, and how far it moved."""
    words = []
    for field, noun in (("entities", "element"), ("relations", "relation"), ("dimensions", "size")):
        a, b = ({e.id: e for e in getattr(s, field)} for s in (old, new))
        words += [f"{len(more)} {noun}{'s' * (len(more) != 1)} {way}" for way, more in _gone_and_come(a, b)]
    before, after = ({d.id: d.text for d in s.dimensions} for s in (old, new))
    words += [f"size {before[i]} → {after[i]}" for i in before if i in after and before[i] != after[i]]
    far = _moved(old, new)
    if far > ONE_PLACE:
        words.append(f"moved by up to {style.length(far, unit=True)}")
    for field, noun in (("plane", "another plane"), ("name", "another name"), ("stations", "other stations")):
        if getattr(old, field) != getattr(new, field):
            words.append(noun)
    return words or (["changed"] if _stated(old) != _stated(new) else [])


def _moved(old: Sketch, new: Sketch) -> float:
    """How far the points that both have lie apart at most, mm."""
    was, now = old.points(), new.points()
    return max((math.dist((p.x, p.y), (now[i].x, now[i].y)) for i, p in was.items() if i in now), default=0.0)


def _stated(sketch: Sketch) -> object:
    """All of a sketch but where its points lie just now."""
    entities = tuple((e.id,) if isinstance(e, Point) else e for e in sketch.entities)
    return msgspec.structs.replace(sketch, entities=()), entities


def _gone_and_come(a: dict[str, Any], b: dict[str, Any]) -> Iterator[tuple[str, list[str]]]:
    for way, more in (("less", [i for i in a if i not in b]), ("more", [i for i in b if i not in a])):
        if more:
            yield way, more


# --- routes
def _routes(then: Content, now: Content) -> Iterator[Change]:
    old, new = ({r.name: r for r in x.routes} for x in (then, now))
    for name in [*old, *(n for n in new if n not in old)]:
        of = f"route {name}, " if len(old.keys() | new.keys()) > 1 else ""
        if name not in new or name not in old:
            yield Change(f"route {name}", "in the job" if name in old else "", "in the job" if name in new else "")
            continue
        yield from _steps(of, old[name], new[name])
        if old[name].sheet != new[name].sheet:
            yield other(f"{of}set-ups")
    chosen = then.routes[then.route].name, now.routes[now.route].name
    if chosen[0] != chosen[1]:
        yield Change("route worked on", *chosen)
    yield from order("routes", list(old), list(new))


def _steps(of: str, then: Route, now: Route) -> Iterator[Change]:
    old, new = ({s.id: s for s in route.steps} for route in (then, now))
    for id_ in [*old, *(i for i in new if i not in old)]:
        what = f"{of}step “{called(new.get(id_) or old[id_])}”"
        if id_ not in new:
            yield Change(what, "in the route", "")
        elif id_ not in old:
            yield Change(what, "", "in the route")
        elif old[id_] != new[id_]:
            yield Change(what, *_step(old[id_], new[id_]))
    yield from order(f"{of}order of steps", list(old), list(new))


def _step(old: Step, new: Step) -> tuple[str, str]:
    if type(old) is not type(new):
        return kind_of(old).title, kind_of(new).title
    labels = {p.field: p.label.lower() for p in kind_of(old).params}
    return fields(old, new, labels | {"suppressed": "switched off"})
