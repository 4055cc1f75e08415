"""Texts on the plate: a new number for a size, other words for letters, and where a size's text stands."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from ...core.job import edits
from ...core.job.settle import set_stations
from ...core.quantity import ExpressionError, evaluate, negated
from ...core.refusal import Refusal
from ...core.route.settling import ANGLES, settle_sketch
from ...core.sketch.make import freehand
from ...core.sketch.model import Sketch
from ...core.sketch.refusal import SketchError
from ...core.sketch.shadow import without_part
from ...core.sketch.turned.profile import station_for
from ..session import Session

if TYPE_CHECKING:
    from .relating import Plate


class Sizing:
    def __init__(self, session: Session, plate: Plate) -> None:
        self._session, self._plate = session, plate
        self._moved: tuple[str, tuple[float, float]] | None = None

    # --- where texts stand
    def move_text(self, id_: str, x: float, y: float) -> None:
        """A size's text follows the hand; it is kept where it is let go."""
        canvas = self._plate.canvas
        if canvas.sketch is not None:
            canvas.pose(_with_text_at(canvas.sketch, id_, (x, y)))
            self._moved = (id_, (x, y))

    def drop_text(self) -> None:
        if self._moved is None or self._plate.sketch is None:
            return
        (id_, place), self._moved = self._moved, None
        self._plate.put(_with_text_at(self._plate.sketch, id_, place), "text placed")

    # --- numbers
    def resize(self, id_: str, text: str) -> None:
        """A dimension got a new formula; in a profile led by its table the table's cell gets it."""
        sketch = self._plate.sketch
        if sketch is None or all(d.id != id_ for d in sketch.dimensions):
            self._plate.canvas.close_editor()  # the size went while its number was typed
            return
        ledger = self._session.content.ledger()
        try:
            if sketch.stations:
                stations = station_for(sketch.stations, id_, text, ledger)
                done = self._session.edit(lambda c: set_stations(c, sketch.id, stations), "size changed on the plate")
            else:
                made = self._resized(sketch, id_, text)
                new = self._just_drawn(sketch.id, id_)
                done = self._session.edit(
                    lambda c: edits.set_sketch(c, without_part(made)), "size changed on the plate", new
                )
        except Refusal as error:
            self._plate.strip.say(self._session.words_of(error), bad=True)
            return
        if done:
            self._plate.canvas.close_editor()

    def _just_drawn(self, sketch: str, id_: str) -> bool:
        """Whether the edit before was the one that drew this size: its number belongs to it."""
        before = self._session.current.before
        old = next((s for s in before.sketches if s.id == sketch), None) if before is not None else None
        return old is not None and all(d.id != id_ for d in old.dimensions)

    def _resized(self, sketch: Sketch, id_: str, text: str) -> Sketch:
        """With a new formula; a negative one goes to the other side.

        Raises ExpressionError, or SketchError when the sketch cannot follow: nothing changes then.
        """
        ledger = self._session.content.ledger()
        old = next(d for d in sketch.dimensions if d.id == id_)
        fields: dict[str, object] = {"text": text}
        sided = old.kind in ("along", "across", "angle", "turn") or (old.kind == "distance" and not any(old.rim))
        try:
            value = evaluate(text, ledger, "angle" if old.kind in ANGLES else "length")
        except ExpressionError:
            value = 0.0
        if sided and value < 0:
            fields = {"text": negated(text), "sense": -old.sense}
        new = msgspec.structs.replace(old, **fields)
        changed = msgspec.structs.replace(
            sketch, dimensions=tuple(new if d.id == id_ else d for d in sketch.dimensions)
        )
        settle_sketch(changed, ledger, self._session.content.header.style)
        return changed

    def reletter(self, id_: str, words: str) -> None:
        """Letters got other words."""
        sketch = self._plate.sketch
        if sketch is None:
            return
        try:
            made = freehand.with_text(sketch, id_, text=words)
        except SketchError as error:
            self._plate.strip.say(str(error), bad=True)
            return
        if self._plate.put(made, "letters changed"):
            self._plate.canvas.close_editor()


def _with_text_at(sketch: Sketch, id_: str, place: tuple[float, float]) -> Sketch:
    moved = (msgspec.structs.replace(d, place=place) if d.id == id_ else d for d in sketch.dimensions)
    return msgspec.structs.replace(sketch, dimensions=tuple(moved))
