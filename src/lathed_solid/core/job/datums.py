"""Which faces a part's sizes hang on, by what its steps state."""

from __future__ import annotations

from ..route.gauges import AxisFrom, Between, Drawn, Gauge, Site
from .model import Content
from .proving import claims_of


def hung(content: Content) -> tuple[tuple[str, tuple[int, ...]], ...]:
    """Faces by name with the callouts of the lengths counted from or to them, the one with most first."""
    found: dict[str, set[int]] = {}
    for claim in claims_of(content, {s.id for s in content.steps if not s.suppressed}):
        for name in _ends(claim.gauge):
            found.setdefault(name, set()).add(claim.number)
    ranked = sorted(found.items(), key=lambda item: (-len(item[1]), item[0]))
    return tuple((name, tuple(sorted(numbers))) for name, numbers in ranked)


def _ends(gauge: Gauge) -> set[str]:
    """The faces a length lies between; none for what is no length."""
    if isinstance(gauge, Between):
        return {gauge.face, gauge.other}
    if isinstance(gauge, AxisFrom):
        return {gauge.other}
    if isinstance(gauge, Drawn) and gauge.what in ("along", "across", "distance"):
        return {name for site in gauge.sites for name in _edges(site)}
    return set()


def _edges(site: Site) -> set[str]:
    """Faces that a site is on by itself: where two lines only cross (a chamfer's sharp corner) nothing is counted."""
    if site.kind == "crossing":
        return set()
    own = {site.face} if site.kind == "edge" and site.face else set()
    return own.union(*map(_edges, site.of))
