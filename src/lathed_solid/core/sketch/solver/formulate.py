"""From a sketch to variables and rows: its elements, then what its relations and dimensions say of them."""

from __future__ import annotations

import copy
from collections.abc import Mapping

from ...arrays import Floats
from ..model import Dimension, Line, Relation, Sketch
from ..refusal import SketchError, Unstatable
from .dimensions import DIMENSIONS
from .elements import Elements
from .relations import ROWS
from .repeats import state_repeat


class Formulation(Elements):
    """All rows of a sketch. With ``lengths`` lines that no distance holds get a variable for theirs, so that it can be
    kept from passing zero. Raises SketchError for what does not go with what it is put on.
    """

    def __init__(self, sketch: Sketch, values: Mapping[str, float], lengths: bool = False) -> None:
        super().__init__(sketch, values)
        for repeat in sketch.repeats:
            self._owner = repeat.id
            state_repeat(self, repeat)
        for relation in sketch.relations:
            self._state(relation)
        for dimension in sketch.dimensions:
            if not dimension.reference:
                self._state(dimension)
        if lengths:
            self._free_lengths()

    def _free_lengths(self) -> None:
        held = {frozenset(d.of) for d in self.sketch.dimensions if d.kind == "distance" and not d.reference}
        for line in self.sketch.entities:
            if isinstance(line, Line) and frozenset((line.a, line.b)) not in held:
                p, q = self.ends[line.id]
                length = self.length(p, q)
                if length > 1e-6 and not self.fixed.keys() >= {*p, *q}:
                    self._owner = line.id
                    self.lengths.append(self.variable(length))
                    self.row("distance", (*p, *q, self.lengths[-1]), 1, 0, 0)

    def only(self, item: Relation | Dimension, values: Mapping[str, float]) -> Formulation:
        """The same variables with nothing but the rows of one more relation or dimension. Raises SketchError."""
        made = copy.copy(self)
        made.values = values
        made.x, made.fixed, made.rows, made.slots = list(self.x), dict(self.fixed), [], {}
        made._tables = None
        made._state(item)
        return made

    def at_pose(self, x: Floats) -> Formulation:
        """The same rows with the variables at ``x``."""
        made = copy.copy(self)
        made.x = x.tolist()
        return made

    def _state(self, item: Relation | Dimension) -> None:
        self._owner = item.id
        try:
            if isinstance(item, Relation):
                ROWS[item.kind](self, item)
            else:
                DIMENSIONS[item.kind](self, item, self.values[item.id])
        except (KeyError, Unstatable) as error:
            raise SketchError(f"The {item.kind} {item.id} does not go with {', '.join(item.of)}: {error}.") from None
