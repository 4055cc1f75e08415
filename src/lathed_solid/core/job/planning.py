"""Edits of what is planned before the first cut: the blank and machine zero."""

from __future__ import annotations

from typing import Any

import msgspec

from ..plan.blank import worked_out
from ..plan.zero import Zero, shift_of
from ..quantity import evaluate
from ..route.registry import Step, kind_of
from ..route.steps.extrude import Extrude
from ..route.steps.revolve import Revolve
from ..route.steps.rib import Rib
from ..route.steps.stock import Stock
from . import edits
from .model import Content


def set_blank(content: Content, **fields: object) -> Content:
    """Change what is planned of the blank. Raises Refusal for a formula without a value, or one that nobody means."""
    made = msgspec.structs.replace(content.planned, **fields)
    worked_out(made, content.ledger())
    for text in filter(str.strip, (made.x, made.y, made.z)):
        evaluate(text, content.ledger())
    return msgspec.structs.replace(content, blank=made)


def set_zero(content: Content, zero: Zero) -> Content:
    """Where coordinates count from, and which way the part lies. Raises Refusal."""
    for name, mark in (("X", zero.x), ("Y", zero.y), ("Z", zero.z)):
        shift_of(mark, content.ledger(), name)
    return msgspec.structs.replace(content, zero=zero)


def finished_by(content: Content) -> Content | None:
    """The content working on the route whose solid is the finished part: the present one, unless it begins with the
    blank, which its solid is until all is cut; then the first other. None when no route tells it.
    """
    order = (content.route, *range(len(content.routes)))
    for at in order:
        steps = content.routes[at].steps
        if steps and not isinstance(steps[0], Stock):
            return edits.take_route(content, at)
    return None


def cut_from(content: Content, fields: dict[str, Any]) -> Content:
    """A route of its own, worked on from now, whose first step is the blank."""
    content, _ = edits.with_step(edits.begin_route(content), Stock, **{"name": "Blank", **fields})
    return content


def rewritten_as_cut(content: Content, fields: dict[str, Any]) -> Content:
    """A route of its own that cuts the part from its blank: the present one with its first body kept out of the blank
    instead of being added to nothing. The steps after it are the same ones, and so are the names of their faces.

    Raises EditRefused saying why a route cannot be rewritten so.
    """
    made = finished_by(content)
    first, *rest = made.steps if made is not None else (None,)
    if made is None or first is None:
        raise edits.EditRefused("There is no route to rewrite: shape the part first, then cut it from its blank.")
    if not isinstance(first, Extrude | Revolve) or first.mode not in ("add", "new"):
        words = kind_of(first).title.lower()
        raise edits.EditRefused(
            f"This route begins with “{first.name or words}” ({words}). Only a first extrude or revolve that adds "
            "material can be kept out of the blank; cut the part from it step by step instead."
        )
    if isinstance(first, Extrude) and (first.thin.strip() or first.draft.strip()):
        raise edits.EditRefused("The first extrude has a draft or a wall: cut the part from the blank step by step.")
    added = next((s for s in rest if not s.suppressed and _adds(s)), None)
    if added is not None:
        raise edits.EditRefused(
            f"Step “{added.name or kind_of(added).title}” adds material, which is not cut from a blank. Draw it into "
            "the first outline, or cut the part from the blank step by step."
        )
    content, id_ = edits.new_step_id(edits.copy_route(made))
    blank = Stock(id=id_, name="Blank", **fields)
    return edits.set_steps(content, (blank, msgspec.structs.replace(first, mode="keep"), *rest))


def _adds(step: Step) -> bool:
    return isinstance(step, Rib) or getattr(step, "mode", "cut") in ("add", "new")


def follows(content: Content, fields: dict[str, object]) -> Content:
    """Every route that begins with a blank has it as it is planned now; the very same content when all do."""

    def kept(step: Step) -> Step:
        return msgspec.structs.replace(step, **fields) if isinstance(step, Stock) else step

    routes = tuple(msgspec.structs.replace(r, steps=(*map(kept, r.steps[:1]), *r.steps[1:])) for r in content.routes)
    return content if routes == content.routes else msgspec.structs.replace(content, routes=routes)
