"""How it is made: rib or gusset."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..joining import joined
from ..model import Built, StepFailure
from ..outlines import chain, kernel_chain
from ..workshop import Workshop

if TYPE_CHECKING:
    from ...kernel.ground.named import NamedBody
from ...kernel.cut.boolean import apart
from ...kernel.form.outline import Segment, flat_face
from ...kernel.form.sweep import prism
from ...kernel.ground.geometry import shifted
from ...kernel.measure.boxes import box
from ...kernel.measure.inside import Inside
from ..steps.rib import Rib
from ..workshop import Maker


def build(step: Rib, shop: Workshop) -> Built:
    body = shop.body
    blank, middle = _blank(step, shop)
    pieces = [p for p in apart("cut", blank, [body]) if _holds(p, middle)]
    if not pieces:
        raise StepFailure("The rib’s line does not lie in the open: it is inside the part already.")
    rib = pieces[0]
    if any(name.startswith(f"{step.id}/far") for names in rib.names.values() for name in names):
        raise StepFailure(
            "The rib is not closed by the part on this side of its line. Choose the other side, or carry the line "
            "to where it meets the part."
        )
    return joined(step.id, "add", [rib], shop)


def _blank(step: Rib, shop: Workshop) -> tuple[NamedBody, tuple[float, float, float]]:
    """The strip between the line, carried on, and far away; and a place just beside the middle of the line."""
    sketch = shop.sketch(step.sketch)
    thickness = shop.value(step.thickness, "Thickness")
    walk, closed, _ = chain(sketch)
    if closed:
        raise StepFailure("A rib is drawn as one open run of lines; this one is closed. Use an extrude.")
    pieces = list(kernel_chain(walk, sketch))
    if not isinstance(pieces[0], Segment) or not isinstance(pieces[-1], Segment):
        raise StepFailure("The line of a rib begins and ends straight, so that it can be carried on to the part.")
    far = 2 * sum(h - b for b, h in zip(*box(shop.body.shape), strict=True))
    first, last = pieces[0], pieces[-1]
    a = _carried(first.end, first.start, far)
    b = _carried(last.start, last.end, far)
    pieces[0] = Segment(first.name, a, first.end)
    pieces[-1] = Segment(last.name, pieces[-1].start if len(pieces) > 1 else a, b)
    way = (b[0] - a[0], b[1] - a[1])
    size = (way[0] ** 2 + way[1] ** 2) ** 0.5
    sign = 1.0 if step.side == "left" else -1.0
    off = (-way[1] / size * far * sign, way[0] / size * far * sign)
    c, d = (b[0] + off[0], b[1] + off[1]), (a[0] + off[0], a[1] + off[1])
    loop = (*pieces, Segment("far1", b, c), Segment("far2", c, d), Segment("far3", d, a))
    frame = shop.frame(sketch)
    low = {"middle": -thickness / 2, "forward": 0.0, "backward": -thickness}[step.lies]
    flat = flat_face(loop, (), shifted(frame, low))
    n = frame.normal
    blank = prism(flat, (n[0] * thickness, n[1] * thickness, n[2] * thickness), step.id)
    start, end = first.start, first.end
    beside = (
        (start[0] + end[0]) / 2 + off[0] / far * 1e-3,
        (start[1] + end[1]) / 2 + off[1] / far * 1e-3,
    )
    return blank, frame.at(*beside, low + thickness / 2)


def _carried(inner: tuple[float, float], end: tuple[float, float], far: float) -> tuple[float, float]:
    dx, dy = end[0] - inner[0], end[1] - inner[1]
    size = (dx * dx + dy * dy) ** 0.5
    return end[0] + dx / size * far, end[1] + dy / size * far


def _holds(piece: NamedBody, place: tuple[float, float, float]) -> bool:
    return Inside(piece.shape)(place)


MAKERS = {Rib: Maker(build)}
