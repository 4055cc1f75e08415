"""The numbers that relations and copies say: formulas, in which a callout of any part may stand: ``SKP-02#4 + 0.5``."""

from __future__ import annotations

import re

from ..quantity.expression import NoReference, evaluate
from ..quantity.quantity import Quantity
from ..refusal import Refusal
from .kinds import KINDS
from .model import Assembly, Figure, PartShot, Relation, Repeat

#: What ``evaluate`` is to come to.
Want = str
#: Callouts of the k-th part are numbered from so many on while a formula is worked out.
_STEP = 1_000_000
#: No ring or row has more.
MOST = 500


class OfParts:
    """What a formula of an assembly may look up: callouts, each of a part by the part's number or name."""

    def __init__(self, assembly: Assembly) -> None:
        self.length_unit = assembly.unit
        self._parts = assembly.parts

    def written(self, text: str) -> str:
        """The formula with each part's callouts numbered apart, as ``reference`` knows them."""
        for k, part in sorted(enumerate(self._parts, 1), key=lambda p: -len(p[1].called)):
            if part.called and f"{part.called}#" in text:
                text = re.sub(re.escape(part.called) + r"#(\d+)", lambda m, k=k: f"#{k * _STEP + int(m[1])}", text)  # type: ignore[misc]
        return text

    def reference(self, number: int, key: str) -> Quantity:
        """The nominal of a callout of a part. Raises NoReference."""
        which, number = divmod(number, _STEP)
        if not which or which > len(self._parts):
            example = self._parts[0].called if self._parts else "SKP-01"
            raise NoReference(f"Say which part’s callout #{number} is meant: {example}#{number}.")
        part = self._parts[which - 1]
        found = figure_of(part, number, key)
        if found is None:
            raise NoReference(f"{part.called} has no callout #{number}{f'.{key}' if key else ''}.")
        dims = {"angle": (0, 1), "count": (0, 0)}.get(found.kind, (1, 0))
        return Quantity(found.value, length=dims[0], angle=dims[1])


def figure_of(part: PartShot, number: int, key: str) -> Figure | None:
    """What a callout of a part says; its main figure for no key."""
    return next((f for f in part.figures if f.number == number and f.key == key), None)


def worked_out(text: str, assembly: Assembly, want: Want) -> float:
    """A formula in mm, radians or as a number. Raises Refusal."""
    scope = OfParts(assembly)
    return evaluate(scope.written(text), scope, want)


def value_of(relation: Relation, assembly: Assembly) -> float | None:
    """A relation's number: mm, radians or a plain one; None when none is written. Raises Refusal."""
    want = KINDS[relation.kind].value
    text = relation.value.strip() or KINDS[relation.kind].default
    return worked_out(text, assembly, want) if want and text else None


def limits_of(relation: Relation, assembly: Assembly) -> tuple[float | None, float | None]:
    """How far a relation lets its number go, least and most; None where it does not say. Raises Refusal."""
    want = KINDS[relation.kind].value
    if not want:
        return None, None
    low, high = (worked_out(t, assembly, want) if t.strip() else None for t in (relation.low, relation.high))
    return low, high


def many_of(repeat: Repeat, assembly: Assembly) -> int:
    """How many a repeat asks for, its leader counted in. Raises Refusal."""
    if repeat.kind == "mirror":
        return 2
    many = worked_out(repeat.many, assembly, "number")
    if many != round(many) or not 1 <= many <= MOST:
        raise Refusal(f"So many cannot be: write a whole number from 1 to {MOST}.")
    return round(many)
