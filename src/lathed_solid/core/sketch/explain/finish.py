"""Finishing a sketch: relations that were only assumed, and the sizes that would pin what can still move."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING, NamedTuple

import msgspec
import numpy as np

from ...quantity import Style
from ...solving.system import System
from ..make.draw import fresh
from ..model import ACROSS, ALONG, ORIGIN, Dimension, Relation, Sketch
from ..refusal import SketchError
from ..region import Gap
from ..solver.formulate import Formulation
from .candidates import candidates, renamed

if TYPE_CHECKING:
    from scipy.sparse import csr_matrix


class Pin(NamedTuple):
    """What would take away freedom: a dimension (with an empty text and its present value, mm) or a relation that holds
    already by chance, and its words.
    """

    item: Dimension | Relation
    value: float
    words: str


def assumed(sketch: Sketch) -> dict[str, tuple[str, ...]]:
    """Assumed relations by kind: their ids, in the order they were made."""
    found: dict[str, tuple[str, ...]] = {}
    for relation in sketch.relations:
        if relation.assumed:
            found[relation.kind] = (*found.get(relation.kind, ()), relation.id)
    return found


def accept(sketch: Sketch, ids: Iterable[str]) -> Sketch:
    """The relations are meant: they are no longer marked as assumed."""
    chosen = set(ids)
    relations = tuple(msgspec.structs.replace(r, assumed=False) if r.id in chosen else r for r in sketch.relations)
    return msgspec.structs.replace(sketch, relations=relations)


def drop(sketch: Sketch, ids: Iterable[str]) -> Sketch:
    """The relations were not meant. A profile that loses one leaves its table."""
    chosen = set(ids)
    relations = tuple(r for r in sketch.relations if r.id not in chosen)
    return msgspec.structs.replace(sketch, relations=relations, stations=None)


def pins(sketch: Sketch, values: Mapping[str, float], style: Style | None = None) -> list[Pin]:
    """The most natural statements that together leave nothing free: what is symmetric or equal now, radii and
    diameters, lengths of lines, then ordinates from the origin. ``values`` are those of the sketch's driving
    dimensions; ``style`` writes places in the words. Each fits beside the ones before it.
    """
    offered = [
        Pin(renamed(item, f"?{k}"), value, words)
        for k, (item, value, words) in enumerate(candidates(sketch, style or Style()))
    ]
    known = dict(values) | {p.item.id: p.value for p in offered if isinstance(p.item, Dimension)}
    grown = msgspec.structs.replace(
        sketch,
        dimensions=(*sketch.dimensions, *(p.item for p in offered if isinstance(p.item, Dimension))),
        relations=(*sketch.relations, *(p.item for p in offered if isinstance(p.item, Relation))),
    )
    from scipy.sparse import csr_matrix  # slow to load

    from .diagnose import free_motions

    formulation = Formulation(grown, known)
    system = System(formulation, merged=False)
    if not system.n:
        return []
    _, data = system.evaluate(system.start(np.array(formulation.x)))
    J = csr_matrix((data, (system.rows, system.columns)), shape=(system.m, system.n))
    owners = np.array([system.owner(i) for i in range(system.m)])
    standing = np.char.startswith(owners, "?") if system.m else np.zeros(0, bool)
    return _taking_away(offered, J, owners, free_motions(J[~standing]))


def _taking_away(offered: list[Pin], J: csr_matrix, owners: np.ndarray, free: np.ndarray) -> list[Pin]:
    """Those offers, in order, of which each takes away a motion that the ones before it left."""
    found: list[Pin] = []
    for pin in offered:
        if not free.shape[1]:
            break
        felt = J[np.nonzero(owners == pin.item.id)[0]] @ free
        _, s, vt = np.linalg.svd(felt)
        rank = int((s > 1e-7).sum())
        if rank == 0:
            continue
        found.append(pin)
        free = free @ vt[rank:].T
    return found


def with_pin(sketch: Sketch, pin: Pin, text: str) -> Sketch:
    """The sketch with a proposed size or relation; ``text`` is a size's value as it would be typed."""
    if isinstance(pin.item, Relation):
        made = msgspec.structs.replace(pin.item, id=fresh(sketch, "r"))
        return msgspec.structs.replace(sketch, relations=(*sketch.relations, made), stations=None)
    size = msgspec.structs.replace(pin.item, id=fresh(sketch, "d"), text=text)
    return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, size), stations=None)


def touched(sketch: Sketch, relation: str) -> tuple[str, ...]:
    """The elements a relation is about, for lighting them; the built-in axes and origin are left out."""
    found = next((r for r in sketch.relations if r.id == relation), None)
    return tuple(i for i in found.of if i not in (ORIGIN, ALONG, ACROSS)) if found is not None else ()


def close_gap(sketch: Sketch, gap: Gap) -> Sketch:
    """The two open ends of a gap made one place. Raises SketchError for an end with no other to go to."""
    if not gap.other:
        raise SketchError("There is no other open end to join this one to.")
    made = Relation(fresh(sketch, "r"), "coincident", (gap.point, gap.other))
    return msgspec.structs.replace(sketch, relations=(*sketch.relations, made), stations=None)
