"""Edits of what is planned before the first cut: the blank and machine zero."""

from __future__ import annotations

from typing import Any

import msgspec

from ..plan.blank import worked_out
from ..plan.zero import Zero
from ..quantity import evaluate
from ..route.registry import Step
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
    for mark in (zero.x, zero.y, zero.z):
        evaluate(mark.shift or "0", content.ledger())
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


def follows(content: Content, fields: dict[str, object]) -> Content:
    """Every route that begins with a blank has it as it is planned now; the very same content when all do."""

    def kept(step: Step) -> Step:
        return msgspec.structs.replace(step, **fields) if isinstance(step, Stock) else step

    routes = tuple(msgspec.structs.replace(r, steps=(*map(kept, r.steps[:1]), *r.steps[1:])) for r in content.routes)
    return content if routes == content.routes else msgspec.structs.replace(content, routes=routes)
