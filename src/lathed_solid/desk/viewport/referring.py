"""What references mean on the part that is shown, and what its edges and corners are called."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable

from ...core.kernel.cut.edges import Pick, chain, picked, sharp_edges
from ...core.kernel.ground.named import LostReference, NamedBody
from ...core.kernel.ground.topology import VERTEX, Edge, Shape, Vertex
from ...core.route.model import CornerRef, EdgeRef, edge_ref


def edge_shapes(body: NamedBody | None, refs: Iterable[EdgeRef], chains: bool = False) -> list[Edge]:
    """The edges that references mean, with those that a fillet takes along; lost ones show nothing."""
    found: list[Edge] = []
    for ref in refs:
        if body is None:
            break
        with contextlib.suppress(LostReference):
            own = picked(body, Pick(ref.a, ref.b, ref.take, ref.piece))
            found += [e for edge in own for e in chain(body, edge)] if chains and len(own) < 12 else own
    return found


def corner_shapes(body: NamedBody | None, refs: Iterable[CornerRef]) -> list[Vertex]:
    """The corners that references mean; lost ones show nothing."""
    found: list[Vertex] = []
    for ref in refs:
        with contextlib.suppress(LostReference, IndexError):
            if body is not None:
                found.append(body.vertices_where(ref.a, ref.b, ref.c)[ref.piece])
    return found


def sharp(body: NamedBody | None) -> list[tuple[EdgeRef, Edge]]:
    """Every edge that is still sharp, with its name."""
    found: list[tuple[EdgeRef, Edge]] = []
    for edge in sharp_edges(body) if body is not None else ():
        names = body.edge_names(edge) if body is not None else None
        if body is not None and names is not None:
            found.append((named_edge(body, edge, names), edge))
    return found


def named_edge(body: NamedBody, edge: Shape, names: tuple[str, str]) -> EdgeRef:
    """A reference to just this edge between two faces."""
    between = body.edges_between(*names)
    piece = next((k for k, e in enumerate(between) if e.IsSame(edge)), 0)
    return edge_ref(*names, piece, len(between))


def named_corner(body: NamedBody, vertex: Shape) -> CornerRef | None:
    """A reference to a corner; None for anything else."""
    names = body.corner_names(vertex) if vertex.ShapeType() == VERTEX else None
    if names is None:
        return None
    here = body.vertices_where(*names)
    return CornerRef(*names, piece=next((k for k, v in enumerate(here) if v.IsSame(vertex)), 0))
