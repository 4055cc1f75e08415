"""What differs between two states of an assembly, in words."""

from __future__ import annotations

import math

from ...fit.model import Assembly, End, Instance, PartShot
from ...quantity import Style
from ...tolerance import ONE_PLACE
from ..changes import Change, Many, fields, head, listed, other

#: What counts no more than the words for it: ids given out next.
UNSAID = {"next_id"}
_HEAD = {"number": "assembly number"}
_LISTS = {"parts", "instances", "relations", "follows", "repeats", "drive", "apart", "sheets"}
#: Directions that differ by less are the same one (radians, as turns are kept).
_SAME_TURN = 1e-9
_WHERE = "in the assembly"


def differences(then: Assembly, now: Assembly) -> list[Change]:
    """What differs between two states of an assembly."""
    names = {i.id: a.called(i.id) for a in (then, now) for i in a.instances}
    style = Style(now.unit)

    def called(id_: str) -> str:
        return names.get(id_, id_)

    def between(a: End, b: End) -> str:
        return f"({called(a.instance)} – {called(b.instance)})"

    def stands(old: Instance, new: Instance) -> tuple[str, str]:
        return _stands(old, new, style)

    parts = Many("parts", "part", lambda p: p.id, lambda p: p.called, _WHERE)
    instances = Many("instances", "instance", lambda i: i.id, lambda i: called(i.id), _WHERE)
    relations = Many("relations", "relation", lambda r: r.id, lambda r: f"{r.kind} {between(r.a, r.b)}", _WHERE)
    repeats = Many("repeats", "copies", lambda r: r.id, lambda r: f"{r.kind} of {called(r.leader)}", _WHERE)
    follows = Many("follows", "in every hole", lambda f: f.id, lambda f: called(f.leader), _WHERE)
    sheets = Many("sheets", "drawing sheet", lambda s: s.id, lambda s: f"“{s.name or s.id}”", _WHERE)
    found = [
        *head(then, now, _HEAD, UNSAID | _LISTS),
        *listed(parts, then.parts, now.parts, _part),
        *listed(instances, then.instances, now.instances, stands),
        *listed(relations, then.relations, now.relations),
    ]
    for many in (repeats, follows, sheets):
        found += listed(many, getattr(then, many.field), getattr(now, many.field))
    told = {"drive": "drive", "apart": "pulled apart"}
    return found + [other(words) for field, words in told.items() if getattr(then, field) != getattr(now, field)]


def _part(old: PartShot, new: PartShot) -> tuple[str, str]:
    """A part that was taken anew is another in nearly every figure: that is told once."""
    if old.shape != new.shape or old.stamp != new.stamp:
        return "as its file was", "taken anew from its file"
    return fields(old, new)


def _stands(old: Instance, new: Instance, style: Style) -> tuple[str, str]:
    """How far it moved; what moved by less than counts says nothing."""
    was, now = [], []
    far = math.dist(old.pose.place, new.pose.place)
    turned = max((abs(a - b) for a, b in zip(old.pose.turn, new.pose.turn, strict=True)), default=0.0)
    if far > ONE_PLACE or turned > _SAME_TURN:
        was.append("as it stood")
        now.append(f"moved by {style.length(far, unit=True)}" if far > ONE_PLACE else "turned")
    for field, yes, no in (("grounded", "grounded", "free"), ("hidden", "hidden", "shown")):
        a, b = getattr(old, field), getattr(new, field)
        if a != b:
            was.append(yes if a else no)
            now.append(yes if b else no)
    if old.part != new.part:
        was.append("a part")
        now.append("another part")
    return ", ".join(was), ", ".join(now)
