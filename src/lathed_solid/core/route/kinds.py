"""What belongs to a kind of step: its struct, its fields, and everything that is done with it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, NamedTuple

from ..callout import Ledger
from ..quantity import ExpressionError, evaluate
from ..sketch.model import Sketch
from ..units import INCH, UNITS
from .gauges import Claim
from .model import Param, StepBase


class StepKind(NamedTuple):
    """A kind of step: its struct and everything that is said of it; how it is made stands in ``making``.

    ``repeatable``: a pattern or mirror can set its tools down again; ``begins_with_sketch``: adding it opens the plate;
    ``is_datum``: it makes a plane, an axis or a point.
    """

    struct: type[StepBase]
    title: str
    icon: str
    params: tuple[Param, ...]
    claims: Callable[[Any, RouteView], list[Claim]]
    summary: Callable[[Any, RouteView], str]
    repeatable: bool = False
    begins_with_sketch: bool = False
    is_datum: bool = False


class RouteView(NamedTuple):
    """What claims and summaries may look at: no shapes, only what is stated."""

    ledger: Ledger
    sketches: Mapping[str, Sketch]
    steps: Mapping[str, StepBase]
    kind_of: Callable[[StepBase], StepKind]

    def shown(self, length: float) -> str:
        """A length (mm) as short text in the drawing's unit."""
        return f"{length / UNITS[self.ledger.length_unit]:.6g}"

    def text(self, formula: str, want: str = "length") -> str:
        """A formula's value as short text, lengths in the drawing's unit; without one the formula, … when empty."""
        try:
            value = evaluate(formula, self.ledger, want)
        except ExpressionError:
            return formula or "…"
        if want == "angle":
            return f"{value * 57.29577951308232:.4g}°"
        return f"{value / INCH if want == 'length' and self.ledger.length_unit == 'in' else value:.6g}"
