"""Chamfers and fillets on edges named by the faces they lie between."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any, NamedTuple

from OCP.BRep import BRep_Tool
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepLib import BRepLib
from OCP.BRepTools import BRepTools_WireExplorer
from OCP.GeomAbs import GeomAbs_Shape
from OCP.TopoDS import TopoDS

from ..quantity.said import said
from .check import KernelFailure, accept
from .named import LostReference, NamedBody, Pair, carry, generated_faces
from .topology import EDGE, FACE, WIRE, Shape, ShapeMap, ancestors, items, subshapes


class Pick(NamedTuple):
    """Edges by face names; ``take`` is ``pair``, ``edge`` (``piece`` of the pair), ``loop``, ``face`` or ``sharp``."""

    a: str
    b: str
    take: str = "pair"
    piece: int = 0


def picked(body: NamedBody, pick: Pick) -> list[Shape]:
    """The edges a pick means. Raises LostReference."""
    if pick.take == "sharp":
        return sharp_edges(body)
    if pick.take == "face":
        edges = [e for i in body.find(pick.a) for e in subshapes(body.face(i), EDGE)]
        table = ancestors(body.shape, EDGE, FACE)
        return [TopoDS.Edge(e) for e in edges if not _seam(table, body, e)]
    between = body.edges_between(pick.a, pick.b)
    if pick.take == "pair":
        return between
    if pick.piece >= len(between):
        raise LostReference(f"{pick.a} | {pick.b}")
    edge = between[pick.piece]
    return _loop_with(body, pick.a, edge) if pick.take == "loop" else [edge]


def sharp_edges(body: NamedBody) -> list[Shape]:
    """Every edge where the surface turns: what an unstated-edges note would break."""
    BRepLib.EncodeRegularity_s(body.shape, 1e-4)
    table = ancestors(body.shape, EDGE, FACE)
    return [
        TopoDS.Edge(edge)
        for edge in (table.FindKey(i) for i in range(1, table.Extent() + 1))
        if not _seam(table, body, edge) and BRep_Tool.MaxContinuity_s(TopoDS.Edge(edge)) == GeomAbs_Shape.GeomAbs_C0
    ]


def chain(body: NamedBody, edge: Shape) -> list[Shape]:
    """The edges that follow each other smoothly through ``edge``: what a fillet on it takes along."""
    maker = BRepFilletAPI_MakeFillet(body.shape)
    try:
        maker.Add(1e-3, TopoDS.Edge(edge))
    except Exception:  # the binding's exceptions share no base but Exception
        return [edge]
    return [maker.Edge(1, k) for k in range(1, maker.NbEdges(1) + 1)] if maker.NbContours() else [edge]


def _seam(table: Any, body: NamedBody, edge: Shape) -> bool:
    return not table.Contains(edge) or len({body.index(f) for f in items(table.FindFromKey(edge))}) != 2


def _loop_with(body: NamedBody, face: str, edge: Shape) -> list[Shape]:
    for index in body.find(face):
        for wire in subshapes(body.face(index), WIRE):
            found, walk = [], BRepTools_WireExplorer(TopoDS.Wire(wire), body.face(index))
            while walk.More():
                found.append(walk.Current())
                walk.Next()
            if any(e.IsSame(edge) for e in found):
                return [TopoDS.Edge(e) for e in found]
    return [edge]


class EdgesRefused(KernelFailure):
    """Edges that cannot be broken so; ``alone`` are the numbers of the picks that cannot even by themselves."""

    def __init__(self, message: str, alone: tuple[int, ...]) -> None:
        super().__init__(message)
        self.alone = alone


def fillet(body: NamedBody, picks: Sequence[Pick], radius: float, tag: str, end: float | None = None) -> NamedBody:
    """Round the picked edges; from ``radius`` to ``end`` along each when that is given.

    Raises LostReference or KernelFailure (with the largest radius that works).
    """
    ratio = 1.0 if end is None else end / radius

    def attempt(r: float, some: Sequence[Pick] = picks) -> Any:
        maker, jobs = BRepFilletAPI_MakeFillet(body.shape), []
        for edge in _distinct(e for p in some for e in picked(body, p)):
            jobs.append(partial(_add_varying, r, r * ratio, edge) if end is not None else partial(_add_equal, r, edge))
        return _run(maker, jobs)

    return _treat(body, picks, attempt, radius, tag, "radius")


def chamfer(
    body: NamedBody, picks: Sequence[Pick], leg: float, angle: float, tag: str, other: float | None = None
) -> NamedBody:
    """Break the picked edges: ``leg`` lies on the first face of each pick; the other leg is ``other``, or follows from
    ``angle`` (radians) to that face. Raises LostReference or KernelFailure (with the largest leg that works).
    """
    ratio = None if other is None else other / leg

    def attempt(size: float, some: Sequence[Pick] = picks) -> Any:
        maker, jobs = BRepFilletAPI_MakeChamfer(body.shape), []
        taken = ShapeMap()
        for pick in some:
            for edge in picked(body, pick):
                if taken.Contains(edge):
                    continue
                taken.Add(edge)
                if ratio is not None:
                    jobs.append(partial(_add_legs, size, size * ratio, edge, _side(body, pick, edge)))
                elif math.isclose(angle, math.pi / 4):
                    jobs.append(partial(_add_equal, size, edge))
                else:
                    jobs.append(partial(_add_angled, size, angle, edge, _side(body, pick, edge)))
        return _run(maker, jobs)

    return _treat(body, picks, attempt, leg, tag, "chamfer")


def _distinct(edges: Any) -> list[Shape]:
    seen, found = ShapeMap(), []
    for edge in edges:
        if not seen.Contains(edge):
            seen.Add(edge)
            found.append(edge)
    return found


def _side(body: NamedBody, pick: Pick, edge: Shape) -> Shape:
    """The face on which the first leg is measured: the pick's own, where the edge lies on it."""
    sides = [body.index(f) for f in items(ancestors(body.shape, EDGE, FACE).FindFromKey(edge))]
    named = body.find(pick.a) if pick.a else []
    return body.face(next((i for i in sides if i in named), sides[0]))


def _add_equal(size: float, edge: Shape, maker: Any) -> None:
    maker.Add(size, edge)


def _add_varying(start: float, end: float, edge: Shape, maker: Any) -> None:
    maker.Add(start, end, edge)


def _add_legs(first: float, second: float, edge: Shape, face: Shape, maker: Any) -> None:
    maker.Add(first, second, edge, face)


def _add_angled(size: float, angle: float, edge: Shape, face: Shape, maker: Any) -> None:
    maker.AddDA(size, angle, edge, face)


def _run(maker: Any, jobs: Sequence[Callable[[Any], None]]) -> Any:
    """Build; None when the kernel cannot (an unfinished maker must never be asked for its shape)."""
    try:
        for add in jobs:
            add(maker)
        maker.Build()
    except Exception:  # the binding's exceptions share no base but Exception
        return None
    return maker if maker.IsDone() else None


def _treat(body: NamedBody, picks: Sequence[Pick], attempt: Any, size: float, tag: str, word: str) -> NamedBody:
    if not picks:
        raise KernelFailure("No edge is chosen.")
    if size <= 0:
        raise KernelFailure(f"The {word} must be above zero.")
    if not any(picked(body, p) for p in picks):
        raise KernelFailure("There is no sharp edge left to break.")
    maker = attempt(size)
    result = _result(body, maker)
    if result is None:
        alone = [n for n, pick in enumerate(picks) if _result(body, attempt(size, [pick])) is None]
        raise EdgesRefused(_largest(body, attempt, size, word), tuple(alone))
    named: list[Pair] = carry(maker, body.pairs())
    for number, pick in enumerate(picks):
        for edge in picked(body, pick):
            named += [(f, f"{tag}/e{number}/side") for f in generated_faces(maker, edge)]
    made = NamedBody(result.shape, named)
    if made.unnamed():  # patches where edges meet come from the corner, not from an edge
        named += [(made.face(i), f"{tag}/corner") for i in made.unnamed()]
        made = NamedBody(result.shape, named)
    return made


def _result(body: NamedBody, maker: Any) -> NamedBody | None:
    if maker is None:
        return None
    try:
        return accept(maker.Shape(), (), body, "any")
    except KernelFailure:
        return None


def _largest(body: NamedBody, attempt: Any, size: float, word: str) -> str:
    """Find by halving what would still work, so that the message can say it."""
    low, high = 0.0, size
    for _ in range(9):
        middle = (low + high) / 2
        if _result(body, attempt(middle)) is not None:
            low = middle
        else:
            high = middle
    if low <= 0:
        return f"This edge takes no {word} at all."
    return f"A {word} of {said(size)} does not fit here. The largest that works is about {said(low)}."
