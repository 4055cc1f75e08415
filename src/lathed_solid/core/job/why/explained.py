"""What the search for a gap comes to: the suspects in their order, each solid once, and what can be said besides."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import msgspec

from ...kernel.ground.figures import MassProperties
from ...quantity import Style
from ...route.rebuild import Cache, rebuild
from ...route.registry import called
from ..attachments import Store
from ..model import Content
from .gap import Gap
from .search import Search, Suspect

#: So many suspects are told; a list that grows is told anew when one of the first few changes.
TOLD, FIRST = 12, 3
#: So many that cannot be told apart are compared by further figures.
_TIED = 4


class Why(msgspec.Struct, frozen=True):
    """The gap in mm³ (more than zero: material is missing), the suspects, the best first, how many were built, and what
    is to be said of it. ``closed`` means that there is no gap.
    """

    missing: float = 0.0
    suspects: tuple[Suspect, ...] = ()
    built: int = 0
    words: str = ""
    closed: bool = False


def explained(
    content: Content,
    cache: Cache | None = None,
    store: Store | None = None,
    going: Callable[[], object] = lambda: None,
    told: Callable[[Why], object] = lambda _: None,
) -> Why:
    """Look for what closes the gap. ``told`` gets what there is so far whenever one of the first suspects changes."""
    search = Search(content, cache, store, going)
    gap, style = search.gap, content.header.style
    if gap is None:
        return Why(words="Nothing to explain: the part has no solid, or no volume or mass is stated.", closed=True)
    if gap.is_closed:
        return Why(words=f"The stated {gap.what} agrees within its rounding.", closed=True)
    found: list[Suspect] = []
    first: tuple[Suspect, ...] = ()
    for suspect in search.run():
        found.append(suspect)
        ordered = ranked(found)
        if ordered[:FIRST] != first:
            first = ordered[:FIRST]
            told(Why(gap.missing, ordered[:TOLD], search.built, _begun(gap, style)))
    ordered = ranked(found)
    words = f"{_begun(gap, style)} {_ended(search, ordered)}"
    told_at_last = tuple(search.with_lit(s) for s in ordered[:TOLD])
    return Why(gap.missing, told_at_last, search.built, words)


def ranked(found: Sequence[Suspect]) -> tuple[Suspect, ...]:
    """The best first, those of one solid as one: the commonest mistake names it, the others stand beneath."""
    groups: dict[int, list[Suspect]] = {}
    for suspect in sorted(found, key=lambda s: s.order):
        groups.setdefault(suspect.solid, []).append(suspect)
    return tuple(msgspec.structs.replace(g[0], others=tuple(s.words for s in g[1:])) for g in groups.values())


def _begun(gap: Gap, style: Style) -> str:
    how = "too little" if gap.missing > 0 else "too much"
    return f"By the stated {gap.what} the part has {style.volume(abs(gap.missing))} {how}."


def _ended(search: Search, ordered: Sequence[Suspect]) -> str:
    assert search.gap is not None
    closing = [s for s in ordered if s.rank == 0]
    if not closing:
        return f"None of {search.built} mistakes that were built closes the gap. {_as_much_as(search)}".strip()
    if len(closing) == 1:
        return "One thing closes the gap."
    tied = f"{len(closing)} things close the gap, and this figure cannot tell them apart."
    return f"{tied} {_deciding(closing, search)}".strip()


def _as_much_as(search: Search) -> str:
    """The missing volume in terms of what the route makes."""
    assert search.gap is not None
    wanted = abs(search.gap.missing)
    shares = [(called(s), abs(search.share(s.id))) for s in search.content.steps]
    near = min((s for s in shares if s[1] > 0), key=lambda s: abs(s[1] / wanted - 1), default=None)
    return f"It is {wanted / near[1]:.3g} times what “{near[0]}” makes." if near is not None else ""


def _deciding(closing: Sequence[Suspect], search: Search) -> str:
    """Which further figure would tell apart what this one cannot."""
    from ...kernel.measure.surfaces import mass_properties

    found: list[MassProperties] = []
    for suspect in closing[:_TIED]:
        body = rebuild(suspect.content.plan(search.find), search.cache).body
        if body is not None:
            found.append(mass_properties(body))
    if len(found) < 2:
        return ""
    size = max(h - low for h, low in zip(found[0].high, found[0].low, strict=True))
    spreads = {
        "the centre of mass": max(_spread([f.center[k] for f in found]) for k in range(3)) / size,
        "the overall size": max(_spread([f.high[k] - f.low[k] for f in found]) for k in range(3)) / size,
        "the surface area": _spread([f.area for f in found]) / found[0].area,
    }
    best = max(spreads, key=lambda name: spreads[name])
    if spreads[best] < 1e-6:
        return "No other figure of the whole would: look at the drawing."
    return f"What would decide: {best} ({spreads[best]:.2%} apart)."


def _spread(values: Sequence[float]) -> float:
    return max(values) - min(values)
