"""How it is made: row and grid pattern."""

from __future__ import annotations

from ...kernel.ground.placing import shifting
from ..copying import repeat, spread, whole_count
from ..model import Built, StepFailure
from ..steps.row import Row, _instances
from ..workshop import Maker, Workshop

_WAYS = {"x": (1.0, 0.0, 0.0), "y": (0.0, 1.0, 0.0), "z": (0.0, 0.0, 1.0)}


def build(step: Row, shop: Workshop) -> Built:
    count, count2 = (whole_count(t, shop, "row", least) for t, least in ((step.count, 1), (step.count2 or "1", 1)))
    if count * count2 < 2:
        raise StepFailure("A row needs at least two.")
    if count2 > 1 and step.along == step.across:
        raise StepFailure("Both directions of the grid are the same. Choose another one.")
    pitch = shop.value(step.pitch, "Pitch", positive=False)
    pitch2 = shop.value(step.pitch2, "Second pitch", positive=False) if count2 > 1 else 0.0
    if abs(pitch) < 1e-9 or (count2 > 1 and abs(pitch2) < 1e-9):
        raise StepFailure("The pitch is nothing: all copies would lie on each other.")
    if step.by == "total":
        pitch, pitch2 = pitch / max(1, count - 1), pitch2 / max(1, count2 - 1)
    u, v = _WAYS[step.along], _WAYS[step.across]
    places = {}
    for key, (i, j) in _instances(count, count2, step.skip).items():
        if step.sides == "both":
            i, j = spread(i, count), spread(j, count2)
        shift = tuple(i * pitch * a + j * pitch2 * b for a, b in zip(u, v, strict=True))
        places[key] = shifting((shift[0], shift[1], shift[2]))
    return repeat(step, shop, places)


MAKERS = {Row: Maker(build)}
