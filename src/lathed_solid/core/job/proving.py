"""From a job to its proof: rebuild, gather the claims, measure."""

from __future__ import annotations

from typing import NamedTuple

from ..prove.proof import Proof, Weighed
from ..route.gauges import Claim
from ..route.rebuild import Cache, RouteResult, rebuild
from ..route.registry import kind_of
from .attachments import Store
from .model import Content
from .surveying import standing_of
from .walk import used_in_route


class Shown(NamedTuple):
    """A built part and its proof; ``proof`` is None when no step gave a solid."""

    result: RouteResult
    proof: Proof | None


def claims_of(content: Content, built: set[str]) -> list[Claim]:
    """What the built steps and the bindings by hand state about faces."""
    view = content.plan().view()
    found = [c for s in content.steps if s.id in built for c in kind_of(s).claims(s, view)]
    by_hand = {(b.number, b.key) for b in content.bindings}
    found = [c for c in found if (c.number, c.key) not in by_hand]
    return found + [Claim(b.number, b.key, b.gauge, by_hand=True) for b in content.bindings]


def prove_result(content: Content, result: RouteResult) -> Proof | None:
    """The proof of what ``result`` built."""
    from ..prove.plate import SurfacePlate
    from ..prove.prove import prove
    from .stating import checks

    if result.body is None:
        return None
    where, found = standing_of(content, result.body), weighed(content, result)
    built = {r.id for r in result.reports if r.state == "done"}
    return prove(
        SurfacePlate(result.body, result.marks, {**result.frames, **result.datums}),
        content.ledger(),
        claims_of(content, built),
        found,
        checks(content.header, found, where, result.body),
        {s.id for s in content.steps if s.group == "cosmetic"},
        used_in_route(content, built),
        lambda face: where.seen(face).describe(content.header.style, content.turned),
    )


def weighed(content: Content, result: RouteResult, check: bool = True) -> Weighed:
    """Figures of the whole, each body weighed by its own material; ``check`` holds them against a mesh besides."""
    from ..kernel.ground.picture import checked_by_mesh
    from ..kernel.measure.surfaces import mass_properties
    from ..prove.proof import together

    return together(
        Weighed(mass, content.material_of(id_).grams(mass.volume))
        for id_, mass in (
            (i, checked_by_mesh(b.shape, mass_properties(b)) if check else mass_properties(b))
            for i, b in result.bodies.items()
        )
    )


def build_and_prove(content: Content, cache: Cache | None = None, until: str = "", store: Store | None = None) -> Shown:
    """Rebuild and prove in this process; ``store`` holds the files that steps read."""
    result = rebuild(content.plan(store.find if store else None), cache, until=until)
    return Shown(result, prove_result(content, result))
