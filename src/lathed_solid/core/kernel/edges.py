"""Chamfers and fillets on edges named by the faces they lie between."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial
from typing import Any

from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.TopoDS import TopoDS

from .check import KernelFailure, accept
from .named import NamedBody, Pair, carry, generated_faces
from .topology import Shape

EdgeNames = tuple[str, str]


def fillet(body: NamedBody, edges: Sequence[EdgeNames], radius: float, tag: str) -> NamedBody:
    """Round the named edges. Raises LostReference or KernelFailure (with the largest radius that works)."""

    def attempt(r: float) -> Any:
        maker = BRepFilletAPI_MakeFillet(body.shape)
        return _run(maker, [(e, partial(_add_equal, r, e)) for e in _find(body, edges)])

    return _treat(body, edges, attempt, radius, tag, "radius")


def chamfer(body: NamedBody, edges: Sequence[EdgeNames], leg: float, angle: float, tag: str) -> NamedBody:
    """Break the named edges: ``leg`` lies on the first face of each pair, ``angle`` (radians) is to that face.

    Raises LostReference or KernelFailure (with the largest leg that works).
    """

    def attempt(size: float) -> Any:
        maker = BRepFilletAPI_MakeChamfer(body.shape)
        jobs = []
        for pair in edges:
            face = body.face(body.find(pair[0])[0])
            for edge in body.edges_between(*pair):
                if math.isclose(angle, math.pi / 4):
                    jobs.append((edge, partial(_add_equal, size, edge)))
                else:
                    jobs.append((edge, partial(_add_angled, size, angle, edge, face)))
        return _run(maker, jobs)

    return _treat(body, edges, attempt, leg, tag, "chamfer")


def _add_equal(size: float, edge: Shape, maker: Any) -> None:
    maker.Add(size, edge)


def _add_angled(size: float, angle: float, edge: Shape, face: Shape, maker: Any) -> None:
    maker.AddDA(size, angle, edge, face)


def _find(body: NamedBody, edges: Sequence[EdgeNames]) -> list[Shape]:
    return [TopoDS.Edge(e) for pair in edges for e in body.edges_between(*pair)]


def _run(maker: Any, jobs: list[tuple[Shape, Any]]) -> Any:
    """Build; None when the kernel cannot (an unfinished maker must never be asked for its shape)."""
    try:
        for _, add in jobs:
            add(maker)
        maker.Build()
    except Exception:  # the binding's exceptions share no base but Exception
        return None
    return maker if maker.IsDone() else None


def _treat(body: NamedBody, edges: Sequence[EdgeNames], attempt: Any, size: float, tag: str, word: str) -> NamedBody:
    if not edges:
        raise KernelFailure("No edge is chosen.")
    if size <= 0:
        raise KernelFailure(f"The {word} must be above zero.")
    maker = attempt(size)
    result = _result(body, maker)
    if result is None:
        raise KernelFailure(_largest(body, attempt, size, word))
    named: list[Pair] = carry(maker, body.pairs())
    for number, pair in enumerate(edges):
        for edge in body.edges_between(*pair):
            named += [(f, f"{tag}/e{number}/side") for f in generated_faces(maker, edge)]
    return NamedBody(result.shape, named)


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
    return f"A {word} of {size:g} does not fit here. The largest that works is about {low:.3g}."
