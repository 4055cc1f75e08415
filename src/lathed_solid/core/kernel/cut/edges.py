"""Chamfers and fillets on edges named by the faces they lie between."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial
from typing import NamedTuple, TypeAlias, TypeVar

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepGProp import BRepGProp
from OCP.BRepLib import BRepLib
from OCP.BRepTools import BRepTools_WireExplorer
from OCP.GeomAbs import GeomAbs_Shape
from OCP.GProp import GProp_GProps
from OCP.TopoDS import TopoDS

from ...names import bare
from ...refusal import is_read, said
from ...tolerance import PARALLEL
from ..ground.check import KernelFailure, accept
from ..ground.geometry import dot
from ..ground.named import LostReference, NamedBody, Pair, carry, generated_faces
from ..ground.placing import triple
from ..ground.topology import EDGE, FACE, AncestorMap, Edge, Face, ShapeMap, ancestors, edges_of, items, wires_of
from ..measure.curves import straight_edge
from ..measure.surfaces import outward_at
from .rounding import rolled


class Pick(NamedTuple):
    """Edges by face names; ``take`` is ``pair``, ``edge`` (``piece`` of the pair), ``loop``, ``face``, ``parallel`` (to
    that edge) or ``sharp``; ``alike`` are those that lie where the edges in ``like`` lie. ``called`` is what the faces
    along them are called, in place of the step and the pick's number.
    """

    a: str
    b: str
    take: str = "pair"
    piece: int = 0
    like: tuple[Edge, ...] = ()
    called: str = ""


def picked(body: NamedBody, pick: Pick) -> list[Edge]:
    """The edges a pick means. Raises LostReference."""
    if pick.take == "sharp":
        return sharp_edges(body)
    if pick.take == "alike":
        return _alike(body, pick.like)
    if pick.take == "face":
        edges = [e for i in body.find(pick.a) for e in edges_of(body.face(i))]
        table = ancestors(body.shape, EDGE, FACE)
        return [TopoDS.Edge(e) for e in edges if not _seam(table, body, e)]
    between = body.edges_between(pick.a, pick.b)
    if pick.take == "pair":
        return between
    if pick.piece >= len(between):
        raise LostReference(f"{pick.a} | {pick.b}")
    edge = between[pick.piece]
    if pick.take == "parallel":
        return _parallel(body, edge)
    return _loop_with(body, pick.a, edge) if pick.take == "loop" else [edge]


def _parallel(body: NamedBody, edge: Edge) -> list[Edge]:
    """Every sharp straight edge that runs the way ``edge`` does."""
    line = straight_edge(edge)
    if line is None:
        return [edge]
    lines = ((e, straight_edge(e)) for e in sharp_edges(body))
    return [e for e, other in lines if other is not None and abs(dot(other[1], line[1])) > 1 - PARALLEL]


def _alike(body: NamedBody, like: Sequence[Edge]) -> list[Edge]:
    """The edges of the body that lie where other edges lie. Raises LostReference where there is none."""
    table = ancestors(body.shape, EDGE, FACE)
    every = [(_lie(e), e) for e in (TopoDS.Edge(table.FindKey(i)) for i in range(1, table.Extent() + 1))]
    found = []
    for edge in like:
        here = _lie(edge)
        away, nearest = min(((math.dist(lie, here), e) for lie, e in every), key=lambda pair: pair[0])
        if away > 1e-5:
            raise LostReference("the copied edge")
        found.append(TopoDS.Edge(nearest))
    return found


def _lie(edge: Edge) -> tuple[float, ...]:
    """Middle and length of an edge, mm: no two edges of a body have both alike, unless they are crossed."""
    properties = GProp_GProps()
    BRepGProp.LinearProperties_s(edge, properties)
    return (*triple(properties.CentreOfMass()), float(properties.Mass()))


def sharp_edges(body: NamedBody) -> list[Edge]:
    """Every edge where the surface turns: what an unstated-edges note would break."""
    BRepLib.EncodeRegularity_s(body.shape, 1e-4)
    table = ancestors(body.shape, EDGE, FACE)
    return [
        edge
        for edge in (TopoDS.Edge(table.FindKey(i)) for i in range(1, table.Extent() + 1))
        if not _seam(table, body, edge) and BRep_Tool.MaxContinuity_s(edge) == GeomAbs_Shape.GeomAbs_C0
    ]


def chain(body: NamedBody, edge: Edge) -> list[Edge]:
    """The edges that follow each other smoothly through ``edge``: what a fillet on it takes along."""
    maker = BRepFilletAPI_MakeFillet(body.shape)
    try:
        maker.Add(1e-3, TopoDS.Edge(edge))
    except Exception:  # the binding's exceptions share no base but Exception
        return [edge]
    return [maker.Edge(1, k) for k in range(1, maker.NbEdges(1) + 1)] if maker.NbContours() else [edge]


def _seam(table: AncestorMap, body: NamedBody, edge: Edge) -> bool:
    return not table.Contains(edge) or len({body.index(f) for f in items(table.FindFromKey(edge))}) != 2


def _loop_with(body: NamedBody, face: str, edge: Edge) -> list[Edge]:
    for index in body.find(face):
        for wire in wires_of(body.face(index)):
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


class Group(NamedTuple):
    """The edges that one pick means, and the face on which the first leg of a chamfer is measured, for each."""

    edges: tuple[Edge, ...]
    sides: tuple[Face, ...]


_Fillet: TypeAlias = BRepFilletAPI_MakeFillet
_Chamfer: TypeAlias = BRepFilletAPI_MakeChamfer
_Maker = TypeVar("_Maker", _Fillet, _Chamfer)
Groups = dict[int, Group]
#: Breaks groups of edges at a size; with True every way is tried. None when it cannot be done.
Attempt = Callable[[float, Groups, bool], NamedBody | None]


def fillet(body: NamedBody, picks: Sequence[Pick], radius: float, tag: str, end: float | None = None) -> NamedBody:
    """Round the picked edges; from ``radius`` to ``end`` along each when that is given.

    Raises LostReference or KernelFailure (with the largest radius that works).
    """
    ratio = 1.0 if end is None else end / radius

    def attempt(r: float, groups: Groups, thorough: bool) -> NamedBody | None:
        maker = BRepFilletAPI_MakeFillet(body.shape)
        every = [e for g in groups.values() for e in g.edges]
        jobs = [partial(_add_varying, r, r * ratio, e) if end is not None else partial(_add_equal, r, e) for e in every]
        made = _named(body, _run(maker, jobs), picks, groups, tag)
        if made is None and thorough and end is None:
            return rolled(body, {_tag(picks[n], tag, n): g.edges for n, g in groups.items()}, r)
        return made

    return _treat(body, picks, attempt, radius, "radius")


def chamfer(
    body: NamedBody, picks: Sequence[Pick], leg: float, angle: float, tag: str, other: float | None = None
) -> NamedBody:
    """Break the picked edges: ``leg`` lies on the first face of each pick; the other leg is ``other``, or follows from
    ``angle`` (radians) to that face. Raises LostReference or KernelFailure (with the largest leg that works).
    """
    ratio = None if other is None else other / leg

    def attempt(size: float, groups: Groups, thorough: bool) -> NamedBody | None:
        maker, jobs = BRepFilletAPI_MakeChamfer(body.shape), []
        for edge, side in (pair for g in groups.values() for pair in zip(g.edges, g.sides, strict=True)):
            if ratio is not None:
                jobs.append(partial(_add_legs, size, size * ratio, edge, side))
            elif math.isclose(angle, math.pi / 4) and square_corner(body, edge):
                jobs.append(partial(_add_equal, size, edge))
            else:
                jobs.append(partial(_add_angled, size, angle, edge, side))
        return _named(body, _run(maker, jobs), picks, groups, tag)

    return _treat(body, picks, attempt, leg, "chamfer")


def groups(body: NamedBody, picks: Sequence[Pick]) -> Groups:
    """The edges of every pick, none of them twice."""
    seen, found = ShapeMap(), {}
    for number, pick in enumerate(picks):
        edges = [e for e in picked(body, pick) if not seen.Contains(e)]
        for edge in edges:
            seen.Add(edge)
        found[number] = Group(tuple(edges), tuple(_side(body, pick, e) for e in edges))
    return found


def _side(body: NamedBody, pick: Pick, edge: Edge) -> Face:
    """The face on which the first leg is measured: the pick's own, where the edge lies on it."""
    sides = [body.index(f) for f in items(ancestors(body.shape, EDGE, FACE).FindFromKey(edge))]
    named = [i for i in sides if bare(pick.a) in body.names.get(i, ())]
    return body.face(named[0] if named else sides[0])


def square_corner(body: NamedBody, edge: Edge) -> bool:
    """Whether the two faces at an edge stand square to each other in its middle: there both legs of 45° are alike."""
    sides = [body.face(body.index(f)) for f in items(ancestors(body.shape, EDGE, FACE).FindFromKey(edge))]
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    middle = triple(curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2))
    return len(sides) == 2 and abs(dot(*(outward_at(f, middle) for f in sides))) < 1e-6


def _add_equal(size: float, edge: Edge, maker: _Fillet) -> None:
    maker.Add(size, edge)


def _add_varying(start: float, end: float, edge: Edge, maker: _Fillet) -> None:
    maker.Add(start, end, edge)


def _add_legs(first: float, second: float, edge: Edge, face: Face, maker: _Chamfer) -> None:
    maker.Add(first, second, edge, face)


def _add_angled(size: float, angle: float, edge: Edge, face: Face, maker: _Chamfer) -> None:
    maker.AddDA(size, angle, edge, face)


def _run(maker: _Maker, jobs: Sequence[Callable[[_Maker], None]]) -> _Maker | None:
    """Build; None when the kernel cannot (an unfinished maker must never be asked for its shape)."""
    try:
        for add in jobs:
            add(maker)
        maker.Build()
    except Exception:  # the binding's exceptions share no base but Exception
        return None
    return maker if maker.IsDone() else None


def _treat(body: NamedBody, picks: Sequence[Pick], attempt: Attempt, size: float, word: str) -> NamedBody:
    if not picks:
        raise KernelFailure("No edge is chosen.")
    if size <= 0:
        raise KernelFailure(f"The {word} must be above zero.")
    found = groups(body, picks)
    if not any(g.edges for g in found.values()):
        raise KernelFailure("There is no sharp edge left to break.")
    made = attempt(size, found, True)
    if made is None and not is_read():
        raise EdgesRefused(f"A {word} of {said(size)} does not fit here.", ())
    if made is None:
        alone = [n for n, g in found.items() if g.edges and attempt(size, {n: g}, True) is None]
        raise EdgesRefused(_largest(attempt, found, size, word), tuple(alone))
    return made


def _named(
    body: NamedBody, maker: _Fillet | _Chamfer | None, picks: Sequence[Pick], groups: Groups, tag: str
) -> NamedBody | None:
    """What a maker gave, its new faces named; None when that is nothing sound."""
    if maker is None:
        return None
    try:
        result = accept(maker.Shape(), (), body, "any")
    except KernelFailure:
        return None
    named: list[Pair] = carry(maker, body.pairs())
    for number, group in groups.items():
        for edge in group.edges:
            named += [(f, f"{_tag(picks[number], tag, number)}/side") for f in generated_faces(maker, edge)]
    made = NamedBody(result.shape, named)
    if made.unnamed():  # patches where edges meet come from the corner, not from an edge
        named += [(made.face(i), f"{tag}/corner") for i in made.unnamed()]
        made = NamedBody(result.shape, named)
    return made


def _tag(pick: Pick, tag: str, number: int) -> str:
    """What the faces along a pick's edges are called, before ``/side``."""
    return pick.called or f"{tag}/e{number}"


def _largest(attempt: Attempt, groups: Groups, size: float, word: str) -> str:
    """Find by halving what would still work, so that the message can say it."""
    low, high = 0.0, size
    for _ in range(10):
        middle = (low + high) / 2
        if attempt(middle, groups, False) is not None:
            low = middle
        else:
            high = middle
    # A size that uses up a face exactly works where those just below it do not: it is the round one in between.
    for digits in range(4):
        even = round((low + high) / 2, digits)
        if low < even <= high * (1 + 1e-9) and even < size and attempt(even, groups, True) is not None:
            low = even
            break
    if low <= 0:
        return f"This edge takes no {word} at all."
    return f"A {word} of {said(size)} does not fit here. The largest that works is about {said(low)}."
