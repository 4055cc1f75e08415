"""From a job to what planning must know of its solid, and where it stands in the machine."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np

from ..kernel.ground.figures import Walls
from ..plan.finished import Solid
from ..plan.prismatic import LYING, lying
from ..plan.symmetry import symmetries
from ..plan.zero import OWN, Standing, Zero, finder, stand
from ..route.rebuild import Cache, rebuild
from .attachments import Store
from .model import Content

if TYPE_CHECKING:
    from ..kernel.ground.named import NamedBody


def surveyed(content: Content, cache: Cache | None = None, store: Store | None = None) -> Solid | None:
    """What surrounds the part, its volume, its corners and what is alike; None when the route gives no solid."""
    from ..kernel.measure.envelope import corners, envelope
    from ..kernel.measure.flat_outline import flat_outline
    from ..kernel.measure.surfaces import measure_faces

    body = rebuild(content.plan(store.find if store else None), cache).body
    if body is None:
        return None
    faces = measure_faces(body)
    outline = flat_outline(body, LYING[lying(faces)])
    return Solid(envelope(body.shape), body.volume, corners(body), symmetries(faces), outline)


def thin_walls(
    content: Content, cache: Cache | None = None, store: Store | None = None, going: Callable[[], object] = lambda: None
) -> Walls:
    """The walls of the part and their map; none when there is no solid."""
    from ..kernel.ground.skin import in_bands
    from ..kernel.measure.walls import walls

    body = rebuild(content.plan(store.find if store else None), cache).body
    if body is None:
        return Walls()
    thinnest, found = walls(body, going=going)
    packed = np.column_stack([found.points, found.thick]).astype(np.float32).tobytes()
    return Walls(thinnest, packed, in_bands(found))


def standing_of(content: Content, body: NamedBody) -> Standing:
    """Where a built part stands in the machine."""
    from ..kernel.measure.surfaces import measure_faces

    if content.zero == Zero():
        return OWN
    indices = range(1, body.face_count + 1)
    names = [tuple(body.names.get(i, ())) for i in indices]
    return stand(content.zero, content.ledger(), finder([body.name_of(i) for i in indices], names, measure_faces(body)))
