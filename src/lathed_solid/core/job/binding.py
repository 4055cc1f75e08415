"""Somebody else's solid bound to the ledger: the callouts looked for on its faces, and taken as bindings."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from ..prove.binding import Binding
from ..prove.offer import Offer
from ..route.rebuild import Cache, RouteResult, rebuild
from .attachments import Store
from .model import Content
from .proving import prove_result


def offers_of(content: Content, cache: Cache | None = None, store: Store | None = None) -> tuple[Offer, ...]:
    """Where on the solid the open sizes of the callouts are found; nothing when there is no solid."""
    return offers_on(content, rebuild(content.plan(store.find if store else None), cache))


def offers_on(content: Content, result: RouteResult) -> tuple[Offer, ...]:
    """The same for a part that is built already."""
    from ..prove.matching import matched
    from ..prove.plate import SurfacePlate

    proof = prove_result(content, result)
    if proof is None or result.body is None:
        return ()
    plate = SurfacePlate(result.body, result.marks, {**result.frames, **result.datums})
    return matched(plate, content.ledger(), proof.lines)


def bound(content: Content, offers: Iterable[Offer]) -> Content:
    """Every offer's gauges as bindings by hand; former bindings of those sizes are replaced."""
    taken = tuple(offers)
    sizes = {(o.number, o.key) for o in taken}
    rest = tuple(b for b in content.bindings if (b.number, b.key) not in sizes)
    made = tuple(Binding(o.number, o.key, g) for o in taken for g in o.gauges)
    return msgspec.structs.replace(content, bindings=(*rest, *made))
