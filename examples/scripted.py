"""Drawing on a sketch from a script: typed commands, relations, sizes, areas found by a place inside them."""

from __future__ import annotations

from typing import Any

import msgspec

from lathed_solid.core.callout import Ledger
from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.sketch.make.choose import make_relation
from lathed_solid.core.sketch.make.size import make_dimension
from lathed_solid.core.sketch.model import Plane, RelationKind, Sketch
from lathed_solid.core.sketch.typed.commands import read_command


def drawn(sketch: Sketch, ledger: Ledger, *texts: str) -> Sketch:
    for text in texts:
        sketch = settle_sketch(read_command(text, ledger, sketch.turned, sketch).draw(sketch, ()), ledger)
    return sketch


def related(sketch: Sketch, ledger: Ledger, kind: RelationKind, *ids: str) -> Sketch:
    made = make_relation(sketch, kind, ids)
    return settle_sketch(msgspec.structs.replace(sketch, relations=(*sketch.relations, made)), ledger)


def sized(sketch: Sketch, ledger: Ledger, text: str, *ids: str, **how: Any) -> Sketch:
    made, _ = make_dimension(sketch, ids, text, **how)
    return settle_sketch(msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made)), ledger)


def new_sketch(content: Content, name: str, plane: Plane, *texts: str) -> tuple[Content, str]:
    """A sketch drawn by typed commands, fully pinned by their sizes."""
    content, id_ = edits.add_sketch(content, name, plane)
    return edits.set_sketch(content, drawn(content.sketch(id_), content.ledger(), *texts)), id_


def with_callouts(content: Content, rows: list[tuple[str, str]]) -> Content:
    for note, label in rows:
        content, _ = edits.add_callout(content, note, label)
    return content
