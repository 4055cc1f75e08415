"""Between the plate and the part: lines taken from the solid, lines that stand for faces, areas for a step."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Literal

import msgspec

from ...core.job import edits
from ...core.job.model import Content
from ...core.kernel.ground.figures import Vector
from ...core.kernel.ground.geometry import along
from ...core.route.model import EdgeRef, FaceRef
from ...core.route.planes import plane_axes
from ...core.sketch.arrange import source_of
from ...core.sketch.make import draw
from ...core.sketch.model import Projected, Sketch
from ...core.sketch.shadow import Ghost, without_part
from ...core.tolerance import PARALLEL
from ...worker.protocol import Shadow
from ..session import Session

if TYPE_CHECKING:
    from .relating import Plate

_QUARTERS = {"": "90°", "0": "90°", "0°": "90°", "90°": "180°", "180°": "270°", "270°": "0"}
#: Sketches offered at most, the last ones.
LENDERS = 6
#: What is picked on the part just now: faces and edges.
References = Callable[[], tuple[tuple[FaceRef, ...], tuple[EdgeRef, ...]]]


def axis_word(way: Vector) -> str:
    """The axis of the part that a direction is, with its sign; "" where it leans."""
    for name, part in zip("XYZ", way, strict=True):
        if abs(part) > 1 - PARALLEL:
            return name if part > 0 else f"-{name}"
    return ""


class FromSolid:
    def __init__(self, session: Session, plate: Plate) -> None:
        self._session, self._plate = session, plate
        self.picked: References = lambda: ((), ())

    def take(self, mode: Literal["edge", "silhouette", "cut"]) -> None:
        """Lines from what is picked on the part; they come once the solid before this sketch has been built."""
        sketch = self._plate.sketch
        faces, edges = self.picked()
        if sketch is None:
            return
        if mode == "silhouette" and not faces and sketch.plane.base == "face" and sketch.plane.on:
            faces = (FaceRef(sketch.plane.on, "the face under the plate"),)
        wanted = [(e.a, e.b, e.was) for e in edges] if mode == "edge" else [(f.name, "", f.was) for f in faces]
        if not wanted:
            what = "an edge" if mode == "edge" else "a face"
            self._session.say(f"Pick {what} on the part first; then take its lines.", "warn")
            return
        if not self._step_of(sketch):
            self._session.say("This sketch belongs to no step yet, so there is no solid before it.", "warn")
            return
        for a, b, was in wanted:
            item = Projected(id=draw.fresh(sketch, "j"), mode=mode, a=a, b=b, was=was or a)
            sketch = msgspec.structs.replace(sketch, projected=(*sketch.projected, item), stations=None)
        self._plate.put(sketch, f"{mode} taken from the solid")

    def ask_lender(self) -> None:
        """Offer the other sketches, to take the lines of one."""
        own, strip = self._plate.sketch, self._plate.strip
        if own is None:
            return
        taken = {p.a for p in own.projected if p.mode == "sketch"} | {own.id}
        lenders = [s for s in self._session.content.sketches if s.id not in taken]
        if not lenders:
            self._session.say("There is no other sketch whose lines could be taken.", "warn")
            return
        strip.withdraw()
        strip.say("Take the lines of which sketch? They follow it.")
        for lender in lenders[-LENDERS:]:
            strip.offer(lender.name or lender.id, partial(self._borrow, lender.id))

    def _borrow(self, id_: str) -> None:
        """Take the lines of another sketch; they follow it."""
        sketch = self._plate.sketch
        if sketch is None:
            return
        name = self._session.content.sketch(id_).name or id_
        item = Projected(id=draw.fresh(sketch, "j"), mode="sketch", a=id_, was=f"the lines of “{name}”")
        made = msgspec.structs.replace(sketch, projected=(*sketch.projected, item), stations=None)
        self._plate.put(made, f"lines of “{name}” taken")

    def stand_for(self, face: str) -> None:
        """The chosen line or circle stands for a face of the solid: sizes from it are measured on that face."""
        sketch = self._plate.sketch
        curves = [i for i in self._plate.canvas.chosen if sketch and any(c.id == i for c in sketch.curves())]
        if sketch is None or len(curves) != 1:
            self._session.say("Choose one line or circle on the plate, and pick one face on the part.", "warn")
            return
        if self._plate.put(draw.link(sketch, curves[0], face), "line stands for a face"):
            self._session.say(f"{curves[0]} stands for {face}.", "good")

    def _shadow(self, sketch: str) -> Shadow | None:
        part = self._session.current.shown
        return next((s for s in part.shadows if s.sketch == sketch), None) if part is not None else None

    def ghost(self, sketch: str) -> Ghost:
        """The part under a sketch, as the one that is shown has it."""
        found = self._shadow(sketch)
        return Ghost(found.entities, found.items) if found is not None else Ghost()

    def axes(self, sketch: Sketch) -> tuple[str, str]:
        """What runs to the right and upward on the plate, as ``Z`` or ``-X``; empty for what leans."""
        found = self._shadow(sketch.id)
        if found is not None:
            return axis_word(found.x), axis_word(found.y)
        _, x, y = plane_axes(sketch.plane.base, 0.0, 0.0)
        return (axis_word(x), axis_word(y)) if sketch.plane.base != "face" else ("", "")

    def place(self, x: float, y: float) -> Vector | None:
        """A place on the plate in the part (mm); None while nothing tells where the plate lies."""
        sketch = self._plate.sketch
        if sketch is None:
            return None
        found = self._shadow(sketch.id)
        if found is None:
            return None
        return along(along(found.origin, found.x, x), found.y, y)

    def quarter(self) -> None:
        """Turn the plate a quarter on its face, as the drawing shows it; once something is drawn it would go along."""
        shown = self._plate.sketch
        sketch = without_part(shown) if shown is not None else None
        if sketch is None:
            return
        if sketch.entities or sketch.plane.base == "turning":
            why = "A turned profile lies along its axis." if sketch.plane.base == "turning" else ""
            words = why or "What is drawn would turn with it on the part. Turn the plate before anything is drawn."
            self._session.say(words, "warn")
            return
        now = sketch.plane.angle.strip()
        turned = _QUARTERS.get(now, f"({now})+90°")
        plane = msgspec.structs.replace(sketch.plane, angle=turned)
        made = msgspec.structs.replace(sketch, plane=plane)
        self._session.edit(lambda c: edits.set_sketch(c, made), "plate turned a quarter")

    # --- areas
    def _step_of(self, sketch: Sketch) -> str:
        """The step that areas are chosen for: the one selected if it uses the sketch, else the first that does."""
        users = [s.id for s in self._session.content.steps if getattr(s, "sketch", "") == sketch.id]
        return self._session.step if self._session.step in users else users[0] if users else ""

    def needs_outline(self, sketch: Sketch) -> bool:
        """Whether the step that uses it takes areas; points for holes, say, need no closed outline."""
        id_ = self._step_of(sketch)
        return not id_ or hasattr(self._session.content.step(id_), "regions")

    def areas(self, sketch: Sketch) -> tuple[str, ...]:
        """The areas that the step takes; empty for the usual ones."""
        id_ = self._step_of(sketch)
        return tuple(getattr(self._session.content.step(id_), "regions", ())) if id_ else ()

    def toggle_area(self, x: float, y: float) -> None:
        """Take the area under a place, or leave it out."""
        sketch, regions = self._plate.sketch, self._plate.canvas.look.regions
        if sketch is None or regions is None:
            return
        under = [r for r in regions.every() if r.holds(x, y)]
        id_ = self._step_of(sketch)
        if not under or not id_:
            words = "Click inside a closed area." if id_ else "No step uses this sketch yet."
            self._session.say(words, "warn")
            return
        region = min(under, key=lambda r: abs(r.outer.area))
        # With none chosen yet a click takes just that one, whatever is usual.
        now = self.areas(sketch)
        taken = tuple(i for i in now if i != region.id) if region.id in now else (*now, region.id)
        if not taken:
            self._session.say("A step takes one area at least. Click another one first.", "warn")
            return
        bounds = [source_of(name) for i in taken for name in i.split("+")]
        kept = without_part(sketch, bounds)  # an area may be bounded by the face's own outline

        def change(content: Content) -> Content:
            return edits.change_step(edits.set_sketch(content, kept), id_, regions=taken)

        self._session.edit(change, "areas chosen")
