"""What the search for a gap comes to: the suspects in their order, each solid once, and what can be said besides."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import msgspec

from ...prove.tabular import figure
from ...quantity import Style
from ...route.rebuild import Cache
from ...route.registry import called
from ..attachments import Store
from ..model import Content
from .gap import Gap
from .search import Search
from .suspect import Suspect

#: So many suspects are told; a list that grows is told anew when one of the first few changes.
TOLD, FIRST = 12, 3
#: So many that cannot be told apart are compared by further figures.
_TIED = 4


class Why(msgspec.Struct, frozen=True):
    """The gap (more than zero: there is too little) in the unit of its ``kind`` (mm, mm², mm³, g, radians), the
    suspects, the best first, how many were built, and what is to be said of it. ``closed`` means that there is no gap.
    """

    missing: float = 0.0
    kind: str = "volume"
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
    line: tuple[int, str] | None = None,
) -> Why:
    """Look for what closes the gap: that of the stated figures, or that of a ``line`` (callout and key) out of limits.
    ``told`` gets what there is so far whenever one of the first suspects changes.
    """
    search = Search(content, cache, store, going, line)
    gap, style = search.gap, content.header.style
    if gap is None:
        return Why(words="Nothing to explain: the part has no solid, or nothing is stated of the whole.", closed=True)
    if gap.is_closed:
        whats = [f.what for f in gap.figures]
        said = f"{whats[0]} agrees" if len(whats) == 1 else f"{', '.join(whats[:-1])} and {whats[-1]} agree"
        return Why(words=f"The stated {said} within the rounding, and no callout is out of limits.", closed=True)
    found: list[Suspect] = []
    first: tuple[Suspect, ...] = ()
    for suspect in search.run():
        found.append(suspect)
        ordered = ranked(found)
        if ordered[:FIRST] != first:
            first = ordered[:FIRST]
            told(Why(gap.missing, gap.kind, ordered[:TOLD], search.built, begun(gap, style)))
    ordered = ranked(found)
    words = f"{begun(gap, style)} {_ended(search, ordered)} {_left_out(search.missed)}".strip()
    return Why(gap.missing, gap.kind, search.with_lit(ordered[:TOLD]), search.built, words)


def ranked(found: Sequence[Suspect]) -> tuple[Suspect, ...]:
    """The best first, those of one solid as one: the commonest mistake names it, the others stand beneath."""
    groups: dict[int, list[Suspect]] = {}
    for suspect in sorted(found, key=lambda s: s.order):
        groups.setdefault(suspect.solid, []).append(suspect)
    return tuple(
        msgspec.structs.replace(g[0], others=tuple(dict.fromkeys(s.words for s in g[1:]))) for g in groups.values()
    )


def begun(gap: Gap, style: Style) -> str:
    """What does not agree, in a sentence."""
    how = "too little" if gap.missing > 0 else "too much"
    by = figure(abs(gap.missing), gap.kind, style, unit=True)
    if gap.line is not None:
        return f"By {gap.what} the solid measures {by} {how}."
    if gap.kind != "length":
        return f"By the stated {gap.what} the part has {by} {how}."
    return f"The stated {gap.what} is {by} {'more' if gap.missing > 0 else 'less'} than the solid has."


def _ended(search: Search, ordered: Sequence[Suspect]) -> str:
    assert search.gap is not None
    closing = [s for s in ordered if s.rank == 0]
    if not closing:
        pairs = ", alone or two together," if search.paired else ""
        return f"None of {search.built} mistakes that were built{pairs} closes the gap. {_as_much_as(search)}".strip()
    if len(closing) == 1:
        return "One thing closes the gap."
    tied = f"{len(closing)} things close the gap, and what is stated cannot tell them apart."
    return f"{tied} {_deciding(closing, search)}".strip()


def _left_out(missed: int) -> str:
    """That some were not built, for they took the kernel too long."""
    if not missed:
        return ""
    what, them = ("One mistake was", "it") if missed == 1 else (f"{missed} mistakes were", "them")
    return f"{what} left out: the kernel was too long at {them}, or fell."


def _as_much_as(search: Search) -> str:
    """The missing volume in terms of what the route makes."""
    assert search.gap is not None
    wanted = abs(search.gap.amount or 0.0)
    if not wanted:
        return ""
    shares = [(called(s), abs(search.estimates.share(s.id))) for s in search.content.steps]
    near = min((s for s in shares if s[1] > 0), key=lambda s: abs(s[1] / wanted - 1), default=None)
    return f"It is {wanted / near[1]:.3g} times what “{near[0]}” makes." if near is not None else ""


def _deciding(closing: Sequence[Suspect], search: Search) -> str:
    """Which further figure would tell apart what this one cannot."""
    found = search.measured(closing[:_TIED])
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
