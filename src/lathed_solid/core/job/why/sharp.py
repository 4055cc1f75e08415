"""Edges that were left sharp: what a step that breaks others, or a row of a turned profile, may have been meant for."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

import msgspec

from ...kernel.cut.edges import chain, sharp_edges
from ...kernel.ground.named import NamedBody
from ...kernel.ground.topology import EDGE, FACE, Edge, ancestors, items
from ...kernel.measure.curves import length_of, on_edge
from ...kernel.measure.surfaces import outward_at
from ...quantity import ExpressionError, evaluate
from ...route.model import EdgeRef
from ...route.steps.edges import Chamfer, Fillet
from .. import edits
from ..model import Content
from ..operating import faces_of
from .faults import Fault, named, rowed

#: So many edges of a part are thought of.
_MOST = 80
#: Two edges of one outline or of one direction, of a length that differs by less than this, are taken together too.
_LIKE = 1e-6


class _Sharp(NamedTuple):
    """A sharp edge: its reference, its length (mm) with those that follow it smoothly and are broken with it, and the
    sine of the angle its faces turn by.
    """

    edge: EdgeRef
    length: float
    turn: float


def left_sharp(content: Content, body: NamedBody) -> Iterator[Fault]:
    """Edges that a chamfer or fillet may have been meant for as well, one by one and with all alike."""
    steps = [s for s in content.steps if isinstance(s, Chamfer | Fillet) and not s.suppressed and s.edges]
    if steps:
        sharp = _sharp(content, body)
        for step in steps:
            yield from _of_step(content, step, sharp)
    yield from _of_tables(content)


def _of_step(content: Content, step: Chamfer | Fillet, sharp: Sequence[_Sharp]) -> Iterator[Fault]:
    if any(e.take == "sharp" for e in step.edges):
        return
    by, name = _section(content, step), named(content, step)
    for one in sharp:
        takes = -by * one.length * one.turn if by is not None else None
        words = f"{name}: also on {one.edge.was}"
        yield Fault("unbroken", words, _with(step, (*step.edges, one.edge)), adds=takes)
    alike: dict[tuple[float, float], list[_Sharp]] = {}
    for one in sharp:
        alike.setdefault((round(one.length / _LIKE / 10), round(one.turn, 6)), []).append(one)
    for group in alike.values():
        if len(group) < 2:
            continue
        takes = -by * sum(s.length * s.turn for s in group) if by is not None else None
        words = f"{name}: also on {group[0].edge.was} and {len(group) - 1} more of its length"
        yield Fault("unbroken", words, _with(step, (*step.edges, *(s.edge for s in group))), adds=takes)


def _with(step: Chamfer | Fillet, edges: tuple[EdgeRef, ...]) -> Callable[[Content], Content]:
    return lambda c: edits.change_step(c, step.id, edges=edges)


def _section(content: Content, step: Chamfer | Fillet) -> float | None:
    """What is taken of a square edge, mm² across it; None when its size cannot be read."""
    ledger = content.ledger()
    try:
        if isinstance(step, Fillet):
            return float((1 - math.pi / 4) * evaluate(step.radius, ledger) ** 2)
        size = evaluate(step.size, ledger)
        other = evaluate(step.size2, ledger) if step.form == "legs" else size * math.tan(_angle(step, content))
    except ExpressionError:
        return None
    return size * other / 2


def _angle(step: Chamfer, content: Content) -> float:
    return evaluate(step.angle, content.ledger(), "angle")


def _sharp(content: Content, body: NamedBody) -> list[_Sharp]:
    """Sharp edges of a part, as they would be picked."""
    table, found = ancestors(body.shape, EDGE, FACE), list[_Sharp]()
    words = faces_of(body).surfaces
    style, broken_with = content.header.style, list[Edge]()
    for edge in sharp_edges(body):
        if any(e.IsSame(edge) for e in broken_with):
            continue
        one, two = (body.index(f) for f in items(table.FindFromKey(edge)))
        names = body.name_of(one), body.name_of(two)
        between = body.edges_between(*names)
        at = next((k for k, e in enumerate(between) if e.IsSame(edge)), None)
        if at is None:
            continue
        said = tuple(words[i - 1].describe(style, content.turned) for i in (one, two))
        was = f"the edge between {said[0]} and {said[1]}" + (
            f", {at + 1} of {len(between)}" if len(between) > 1 else ""
        )
        take: EdgeRef = EdgeRef(*names, was, "edge" if len(between) > 1 else "pair", at)
        along = chain(body, edge)
        broken_with += along
        found.append(_Sharp(take, sum(map(length_of, along)), _turn(body, edge, one, two)))
        if len(found) == _MOST:
            break
    return found


def _turn(body: NamedBody, edge: Edge, one: int, two: int) -> float:
    """The sine of the angle between two faces at the middle of their edge."""
    place, _ = on_edge(edge, 0.5)
    a, b = outward_at(body.face(one), place), outward_at(body.face(two), place)
    return math.sqrt(max(0.0, 1 - sum(p * q for p, q in zip(a, b, strict=True)) ** 2))


def _of_tables(content: Content) -> Iterator[Fault]:
    """Rows of turned profiles that may have an edge which others have."""
    for sketch in content.sketches:
        rows = sketch.stations or ()
        texts = list(dict.fromkeys(t for row in rows for t in (row.left, row.right) if t))
        if not any(sketch.id in edits.sketches_of(s) for s in content.steps):
            continue
        for at, row in enumerate(rows):
            for field in ("left", "right"):
                for text in texts if not getattr(row, field) else ():
                    broken = (*rows[:at], msgspec.structs.replace(row, **{field: text}), *rows[at + 1 :])
                    words = f"“{sketch.name}”, row {at + 1}: {field} edge {text} as well"
                    yield Fault("unbroken", words, rowed(sketch.id, broken))
