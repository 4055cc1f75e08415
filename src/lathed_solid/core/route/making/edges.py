"""How it is made: chamfers and fillets on picked edges of the solid.."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING

from ...names import Renames, renamed
from ..model import Built, EdgeRef, StepFailure, Tooling, Unfinished
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.cut.edges import Pick
    from ...kernel.ground.named import NamedBody
    from ...kernel.ground.topology import Edge
from ...kernel.cut.edges import EdgesRefused, Pick, chamfer, fillet, groups
from ..steps.edges import Chamfer, Fillet
from ..workshop import Maker


def _chosen(edges: Sequence[EdgeRef]) -> list[Pick]:
    if not edges:
        raise Unfinished("No edge is picked yet.")
    return picks(edges)


def picks(edges: Sequence[EdgeRef]) -> list[Pick]:
    return [Pick(e.a, e.b, e.take, e.piece) for e in edges]


@contextmanager
def _blaming(edges: Sequence[EdgeRef]) -> Iterator[None]:
    """Of several edges, those that cannot be broken even by themselves are named; what fails may be one of many."""
    try:
        yield
    except EdgesRefused as error:
        if len(edges) < 2:
            raise
        names = [edges[n].was or f"the edge listed as number {n + 1}" for n in error.alone]
        fault = f"At fault: {'; '.join(names)}." if names else "Each edge takes it by itself, but not all together."
        raise StepFailure(f"{error.message} {fault}") from None


def build_chamfer(step: Chamfer, shop: Workshop) -> Built:
    return _built(step, shop)


def build_fillet(step: Fillet, shop: Workshop) -> Built:
    return _built(step, shop)


def _built(step: Chamfer | Fillet, shop: Workshop) -> Built:
    wanted = _chosen(step.edges)
    lay = tuple(tuple(g.edges) for g in groups(shop.body, wanted).values())
    with _blaming(step.edges):
        return Built(_apply(step, shop, wanted), Tooling("break", edges=lay))


def _apply(step: Chamfer | Fillet, shop: Workshop, wanted: Sequence[Pick]) -> NamedBody:
    if isinstance(step, Fillet):
        radius = shop.value(step.radius, "Radius")
        end = shop.value(step.radius2, "End radius") if step.radius2.strip() else None
        return fillet(shop.body, wanted, radius, step.id, end)
    size = shop.value(step.size, "Chamfer")
    if step.form == "legs":
        return chamfer(shop.body, wanted, size, 0.0, step.id, shop.value(step.size2, "Second leg"))
    return chamfer(shop.body, wanted, size, shop.value(step.angle, "Angle", "angle"), step.id)


def break_alike(
    step: Chamfer | Fillet,
    shop: Workshop,
    there: Mapping[str, Sequence[Sequence[Edge]]],
    renames: Mapping[str, Renames],
) -> NamedBody:
    """The body with the edges that lie where copies of the step's edges lie broken as well.

    ``there`` holds these for each copy, one group for each that was picked; ``renames`` how its faces are called.
    Raises LostReference, KernelFailure.
    """
    wanted = []
    for key, places in there.items():
        called = next(new for old, new in renames[key] if old == f"{step.id}/")
        for number, like in enumerate(places):
            first = renamed(step.edges[number].a, renames[key])
            wanted.append(Pick(first, "", "alike", like=tuple(like), called=f"{called}e{number}"))
    return _apply(step, shop, wanted)


MAKERS = {Chamfer: Maker(build_chamfer, break_alike), Fillet: Maker(build_fillet, break_alike)}
