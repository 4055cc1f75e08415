"""Relations and sizes for what is chosen: offering them, judging them, and what to do when they collide."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Protocol

import msgspec
from PyQt6.QtCore import QTimer

from ...core.job.piercing import through_plane
from ...core.quantity import ExpressionError
from ...core.route.settling import ANGLES, dimension_values
from ...core.sketch.copies import copy_of
from ...core.sketch.edit import offset, repeating
from ...core.sketch.explain import finish
from ...core.sketch.make import choose, draw, freehand, size
from ...core.sketch.model import (
    Arc,
    Circle,
    Dimension,
    DimensionKind,
    Ellipse,
    Line,
    Point,
    Relation,
    RelationKind,
    Sketch,
    Spline,
    Text,
)
from ...core.sketch.refusal import SketchError
from ..session import Session

if TYPE_CHECKING:
    from .canvas import Canvas
    from .strip import Offer, Strip


class Plate(Protocol):
    """What is needed of the panel."""

    canvas: Canvas
    strip: Strip

    @property
    def sketch(self) -> Sketch | None: ...

    def put(self, sketch: Sketch, what: str) -> bool: ...

    def refresh(self) -> None: ...


class Relating:
    def __init__(self, session: Session, plate: Plate) -> None:
        self._session, self._plate = session, plate

    def _chosen(self, sketch: Sketch) -> tuple[str, ...]:
        other = {d.id for d in sketch.dimensions} | {r.id for r in sketch.relations}
        return tuple(i for i in self._plate.canvas.chosen if i not in other)

    # --- what can be done with what is chosen
    def choices(self, sketch: Sketch) -> list[Offer]:
        found: list[Offer] = []
        chosen = self._plate.canvas.chosen
        relation = next((r for r in sketch.relations if len(chosen) == 1 and r.id == chosen[0]), None)
        if relation is not None:
            return self._for_relation(sketch, relation)
        dimension = next((d for d in sketch.dimensions if len(chosen) == 1 and d.id == chosen[0]), None)
        if dimension is not None:
            return self._for_dimension(sketch, dimension)
        ids = self._chosen(sketch)
        if not ids:
            return []
        sizes: list[Offer] = [
            (f"size {c.label}", partial(self.dimension, "", c)) for c in size.possible_dimensions(sketch, ids)
        ]
        relations: list[Offer] = [(k, partial(self.relate, k)) for k in choose.possible_relations(sketch, ids)]
        # The rarer sizes may hang in the menu, relations should not.
        found += [*sizes[:3], *relations, *sizes[3:]]
        if len(ids) > 2 and all(choose.letter(sketch, i) == "p" for i in ids):
            for label, way, chain in (
                ("chain along", "along", True), ("chain across", "across", True),
                ("ordinates along", "along", False), ("ordinates across", "across", False),
            ):  # fmt: skip
                found.append((label, partial(self.series, way, chain)))  # type: ignore[arg-type]
        if len(ids) == 1:
            found += self._for_one(sketch, ids[0])
        return found

    def _for_relation(self, sketch: Sketch, relation: Relation) -> list[Offer]:
        found: list[Offer] = [(f"drop {relation.kind}", partial(self._settle, finish.drop, relation.id, "dropped"))]
        if relation.assumed:
            found.insert(0, (f"accept {relation.kind}", partial(self._settle, finish.accept, relation.id, "accepted")))
        return found

    def _settle(self, change: Callable[[Sketch, tuple[str, ...]], Sketch], id_: str, what: str) -> None:
        sketch = self._plate.sketch
        if sketch is not None:
            self._plate.put(change(sketch, (id_,)), f"relation {what}")

    def _for_dimension(self, sketch: Sketch, d: Dimension) -> list[Offer]:
        found: list[Offer] = [("edit", partial(self._plate.canvas.edit_dimension, d.id))]
        if d.reference:
            found.append(("drive with it", partial(self._change, d, f"{d.kind} drives", reference=False)))
        else:
            found.append(("make it a reference", partial(self._change, d, f"{d.kind} a reference", reference=True)))
        same = [o for o in sketch.dimensions if o.kind == "offset" == d.kind and o.text == d.text]
        if len(same) > 1:
            found.append((f"one value for these {len(same)} offsets", partial(self._one_value, d.id)))
        if d.place is not None:
            found.append(("place it by itself", partial(self._change, d, "text placed by itself", place=None)))
        return found

    def _one_value(self, dimension: str) -> None:
        sketch = self._plate.sketch
        if sketch is not None:
            self._plate.put(offset.under_one_value(sketch, dimension), "offsets under one value")

    def _change(self, d: Dimension, what: str, **fields: object) -> None:
        sketch = self._plate.sketch
        if sketch is None:
            return
        made = msgspec.structs.replace(d, **fields)
        if d.reference and not made.reference:
            bare = draw.delete(sketch, (d.id,))
            text = made.text if made.text.strip() else self._shown(sketch, d)
            self._offer(bare, msgspec.structs.replace(made, text=text), {})
            return
        rest = tuple(made if x.id == d.id else x for x in sketch.dimensions)
        self._plate.put(msgspec.structs.replace(sketch, dimensions=rest), what)

    def _shown(self, sketch: Sketch, d: Dimension) -> str:
        from ...core.sketch.explain.measure import present_value

        style = self._session.content.header.typed_style
        value = present_value(sketch, d)
        return style.angle(value) if d.kind in ANGLES else style.length(value)

    def _for_one(self, sketch: Sketch, id_: str) -> list[Offer]:
        found: list[Offer] = []
        if (copy := copy_of(sketch, id_)) is not None:
            found.append(("leave the link", partial(self._dissolve, copy.repeat)))
        entity = next((e for e in sketch.entities if e.id == id_), None)
        if isinstance(entity, Text):
            found += self._for_text(entity)
        if isinstance(entity, Spline) and entity.through[0] != entity.through[-1]:
            for label, at_start, has in (("start", True, entity.start), ("end", False, entity.end)):
                if not has:
                    found.append((f"direction at its {label}", partial(self._handle, id_, at_start)))
        if isinstance(entity, Line | Circle | Arc | Ellipse | Spline):
            found.append(("outline" if entity.construction else "construction", self._construction))
        if isinstance(entity, Point):
            for name, xy in through_plane(self._session.content, sketch, self._session.content.ledger())[:6]:
                found.append((f"pierced by {name}", partial(self.pierce, id_, name, xy)))
        return found

    def _construction(self) -> None:
        sketch = self._plate.sketch
        if sketch is not None:
            made = draw.toggle_construction(sketch, self._plate.canvas.chosen)
            self._plate.put(made, "construction changed")

    def _handle(self, spline: str, at_start: bool) -> None:
        """A point to drag, or to relate, that gives a free edge its direction at an end."""
        sketch = self._plate.sketch
        if sketch is not None:
            self._plate.put(freehand.with_handle(sketch, spline, at_start), "direction of a free edge")

    def _for_text(self, text: Text) -> list[Offer]:
        """What can be changed about letters besides their height."""
        aligns = {"start": "middle", "middle": "end", "end": "start"}
        fonts = {"plain": "bold", "bold": "figures", "figures": "plain"}
        changes: list[tuple[str, dict[str, object]]] = [
            (f"align {aligns[text.align]}", {"align": aligns[text.align]}),
            (f"{fonts[text.font]} letters", {"font": fonts[text.font]}),
            ("wider", {"spacing": round(text.spacing + 0.05, 3)}),
            ("closer", {"spacing": round(text.spacing - 0.05, 3)}),
        ]
        found: list[Offer] = [("retype", partial(self._plate.canvas.edit_words, text.id, text.text))]
        return found + [(label, partial(self._change_text, text.id, fields)) for label, fields in changes]

    def _change_text(self, id_: str, fields: dict[str, object]) -> None:
        sketch = self._plate.sketch
        if sketch is not None:
            made = freehand.with_text(sketch, id_, **fields)
            self._plate.put(made, "letters changed")

    def _dissolve(self, repeat: str) -> None:
        sketch = self._plate.sketch
        if sketch is not None:
            self._plate.put(repeating.dissolve(sketch, repeat), "link of copies dissolved")

    # --- adding
    def relate(self, kind: RelationKind) -> None:
        sketch = self._plate.sketch
        if sketch is not None:
            made = choose.make_relation(sketch, kind, self._chosen(sketch))
            try:
                ready = choose.ready_for(sketch, made)
            except SketchError as error:
                self._plate.strip.say(str(error), bad=True)
                return
            self._offer(ready, made, {})

    def pierce(self, point: str, name: str, xy: tuple[float, float]) -> None:
        sketch = self._plate.sketch
        if sketch is not None:
            self._offer(sketch, Relation(draw.fresh(sketch, "r"), "pierce", (point, name), at=xy), {})

    def dimension(self, text: str = "", choice: size.Choice | None = None) -> None:
        """Size what is chosen; the present size stands in the field, ready to be typed over."""
        sketch = self._plate.sketch
        if sketch is None:
            return
        c = choice
        try:
            made, value = size.make_dimension(
                sketch, self._chosen(sketch), text or "0", *((c.kind, c.rim, c.far, c.quadrant) if c else ())
            )
        except SketchError as error:
            self._plate.strip.say(str(error), bad=True)
            return
        style = self._session.content.header.typed_style
        if not text:
            shown = style.angle(value) if made.kind in ANGLES else style.length(value)
            made = msgspec.structs.replace(made, text=shown)
        if self._offer(sketch, made, {made.id: value} if not text else {}) and not text:
            QTimer.singleShot(0, lambda: self._plate.canvas.edit_dimension(made.id))

    def series(self, kind: DimensionKind, chain: bool) -> None:
        """A chain of sizes, or ordinates from the first point chosen; what is pinned already is left out."""
        sketch = self._plate.sketch
        if sketch is None:
            return
        from ...core.sketch.explain.series import series  # SciPy is slow to load

        style = self._session.content.header.typed_style
        try:
            values = dimension_values(sketch, self._session.content.ledger())
        except SketchError as error:
            self._plate.strip.say(str(error), bad=True)
            return
        made = [
            msgspec.structs.replace(d, text=style.length(v))
            for d, v in series(sketch, self._chosen(sketch), kind, chain, values)
        ]
        if not made:
            self._plate.strip.say("All of these are pinned already.")
            return
        grown = msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, *made), stations=None)
        self._plate.put(grown, f"{'chain' if chain else 'ordinates'} of {len(made)} sizes")

    # --- judging
    def _offer(self, sketch: Sketch, new: Relation | Dimension, value: dict[str, float]) -> bool:
        """Add a relation or dimension if it says something new; else say what already determines it."""
        from ...core.sketch.explain.diagnose import judge

        ledger = self._session.content.ledger()
        try:
            values = dimension_values(sketch, ledger) | value
            if isinstance(new, Dimension) and new.id not in values:
                values |= dimension_values(msgspec.structs.replace(sketch, dimensions=(new,)), ledger)
            verdict = judge(sketch, values, new)
        except (SketchError, ExpressionError) as error:
            self._plate.strip.say(str(error), bad=True)
            return False
        if verdict.kind == "fits":
            return self._plate.put(_with(sketch, new), f"{new.kind.replace('_', ' ')} added")
        self._refuse(sketch, new, verdict.kind, verdict.because)
        return False

    def _refuse(self, sketch: Sketch, new: Relation | Dimension, kind: str, because: tuple[str, ...]) -> None:
        named = "; ".join(choose.in_words(sketch, i) for i in because) or "what is fixed already"
        lead = "already pinned by" if kind == "redundant" else "contradicts"
        strip = self._plate.strip
        strip.say(f"This {new.kind.replace('_', ' ')} {lead}: {named}.", bad=True)
        stated: list[Relation | Dimension] = [*sketch.relations, *sketch.dimensions]
        lit = {i for b in because for r in stated if r.id == b for i in r.of}
        self._plate.canvas.blame(frozenset({*because, *lit}))
        strip.withdraw()
        strip.choices([])
        if isinstance(new, Dimension):
            bare = msgspec.structs.replace(new, reference=True, text="")
            strip.offer("Show it as a reference", lambda: self._keep(sketch, bare, "reference size added"))
            if kind == "conflict":
                both = msgspec.structs.replace(new, reference=True)
                strip.offer("Keep both", lambda: self._keep(sketch, both, "mismatch shown"))
        for id_ in because[:2]:
            strip.offer(f"Drop {choose.in_words(sketch, id_)}", partial(self._swap, sketch, id_, new))
        strip.offer("Leave it", self._plate.refresh)

    def _keep(self, sketch: Sketch, new: Dimension, what: str) -> None:
        self._plate.put(_with(sketch, new), what)

    def _swap(self, sketch: Sketch, dropped: str, new: Relation | Dimension) -> None:
        self._plate.put(_with(draw.delete(sketch, (dropped,)), new), f"{new.kind} in place of another")


def _with(sketch: Sketch, new: Relation | Dimension) -> Sketch:
    if isinstance(new, Dimension):
        return msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, new), stations=None)
    return msgspec.structs.replace(sketch, relations=(*sketch.relations, new), stations=None)
