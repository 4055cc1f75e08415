"""The operation sheet of a job built here: worked out, with a small picture of the part at each set-up."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ..job.attachments import Store
from ..job.files import CannotWrite
from ..job.model import Content
from ..job.operating import built_of, faces_of, sheet_terms
from ..job.proving import prove_result
from ..names import bare
from ..plan.sheet.views import View, views
from ..plan.sheet.work import Built
from ..plan.sheet.worked import WorkedSetUp, worked
from ..plan.shop import Shop
from ..route.rebuild import Cache, rebuild
from ..standards.speeds import ToolMaterial
from .picture.small import look_at, still
from .whole import why_not_whole


class Issued(NamedTuple):
    content: Content
    built: Built
    setups: tuple[WorkedSetUp, ...]
    pictures: tuple[bytes, ...]


def pictures(
    content: Content, wanted: Sequence[View], size: tuple[int, int], cache: Cache, store: Store | None
) -> tuple[bytes, ...]:
    """PNG of each view; empty where the part is not there yet."""
    from ..kernel.measure.triangles import triangles

    made = []
    for view in wanted:
        body = rebuild(content.plan(store.find if store else None), cache, until=view.until).body
        if body is None:
            made.append(b"")
            continue
        lit = {bare(n) for n in view.lit}
        own = range(1, body.face_count + 1)
        worked_on = frozenset(i for i in own if body.name_of(i) in view.lit or lit & set(body.names.get(i, ())))
        made.append(still(triangles(body.shape), look_at(view.out, view.lying), worked_on, size))
    return tuple(made)


def issued(
    content: Content, shop: Shop, of: ToolMaterial, size: tuple[int, int] | None, cache: Cache | None = None,
    store: Store | None = None,
) -> Issued:  # fmt: skip
    """Build, measure, work out, and draw when a ``size`` is given. Raises CannotWrite when there is no whole part."""
    cache = cache or Cache()
    result = rebuild(content.plan(store.find if store else None), cache)
    if why := why_not_whole(content, result):
        raise CannotWrite(f"A sheet needs the whole part, and {why}. Mend the route in Shape first.")
    assert result.body is not None
    faces = faces_of(result.body)
    built = built_of(content, faces, result.marks, result.reports, prove_result(content, result))
    setups = worked(content.sheet, built, sheet_terms(content, faces, shop, of))
    drawn: tuple[bytes, ...] = ()
    if size is not None:
        drawn = pictures(content, views([s.id for s in content.steps], setups, faces.references), size, cache, store)
    return Issued(content, built, setups, drawn)
