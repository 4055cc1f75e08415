"""Shop sense of a job's part: built, looked at, told."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ..kernel.ground.figures import Surface, Vector
from ..plan.sense import Around, Finding, findings
from ..plan.sheet.approach import reaches, ways_of
from ..route.rebuild import Cache
from ..tolerance import LEVEL, ONE_PLACE
from .attachments import Store
from .model import Content
from .operating import built_of, faces_of
from .proving import build_and_prove


def sensed(
    content: Content, cache: Cache | None = None, store: Store | None = None, going: Callable[[], object] = lambda: None
) -> tuple[Finding, ...]:
    """What every rule has against the part; none when there is no solid."""
    from ..kernel.measure.surroundings import inside_corners, unreached, wall_beside

    shown = build_and_prove(content, cache, store=store)
    body = shown.result.body
    if body is None:
        return ()
    going()
    built = built_of(content, faces_of(body), shown.result.marks, shown.result.reports, shown.proof)
    ways = ways_of(built.surfaces)
    asked = [s for s in built.surfaces if s.kind != "other" and not (content.turned and _on_axis(s))]
    hidden = unreached(body, asked, lambda s: _ways(s, ways), going)
    beside = {}
    for t in built.threads:
        going()
        bore = built.surfaces[t.face - 1]
        if t.internal and bore.kind == "cylinder":
            beside[t.face] = wall_beside(body, t.face, t.thread.diameter / 2 - bore.radius + 1e-3)
    return findings(built, Around(inside_corners(body), hidden, beside))


def _ways(s: Surface, ways: Sequence[Vector]) -> list[Vector]:
    return [w for w in ways if reaches(s, w)]


def _on_axis(s: Surface) -> bool:
    """Whether a face is turned about part Z: a lathe tool comes to it from the side."""
    if abs(s.axis[2]) < 1 - LEVEL:
        return False
    return s.kind == "plane" or abs(s.origin[0]) + abs(s.origin[1]) < ONE_PLACE
