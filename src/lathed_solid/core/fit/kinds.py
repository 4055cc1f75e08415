"""The relations there are: what each is called, what it is for, what it can take hold of, what its value means."""

from __future__ import annotations

from typing import Literal, NamedTuple

from .features import Feature, Shape
from .model import RelationKind

ValueOf = Literal["", "length", "angle", "number"]
_ROUND: frozenset[Shape] = frozenset(("round", "cone"))
_ANY: frozenset[Shape] = frozenset(("flat", "round", "cone", "ball"))
_FLAT: frozenset[Shape] = frozenset(("flat",))
_BALL: frozenset[Shape] = frozenset(("ball",))
_STRAIGHT: frozenset[Shape] = frozenset(("flat", "round", "cone"))


class Kind(NamedTuple):
    """``ends``: what the two ends may be, in either order. ``value``: what its number is, and ``value_label`` how it is
    asked for; ``default`` is written when nothing is. ``sided`` ones have two solutions, turned round by one key.
    """

    kind: RelationKind
    words: str
    ends: tuple[tuple[frozenset[Shape], frozenset[Shape]], ...]
    value: ValueOf = ""
    value_label: str = ""
    default: str = ""
    sided: bool = False

    def takes(self, a: Feature, b: Feature) -> bool:
        """Whether two features may be its ends."""
        one, two = a.shape, b.shape
        return any((one in x and two in y) or (one in y and two in x) for x, y in self.ends)


_EVERY = (
    Kind("in line", "axis on axis, or a ball's centre on an axis", ((_ROUND, _ROUND | _BALL),), sided=True),
    Kind("seated", "face against face, with a gap if one is written", ((_FLAT, _FLAT),), "length", "gap", "0", True),
    Kind("flush", "faces level with each other, or set off", ((_FLAT, _FLAT),), "length", "set off", "0", True),
    Kind("screw", "in line, and a turn moves it along", ((_ROUND, _ROUND),), "length", "lead", "", True),
    Kind("on", "a centre on a centre, an axis or a face; an axis in a face", ((_BALL, _ANY), (_ROUND, _FLAT))),
    Kind("tangent", "round against flat, round against round, a ball in its seat",
         ((_ROUND | _BALL, _FLAT), (frozenset(("round", "ball")), frozenset(("round", "ball"))), (_BALL, _ROUND))),
    Kind("distance", "so far apart", ((_ANY, _ANY),), "length", "distance", "", True),
    Kind("angle", "at an angle to each other", ((_STRAIGHT, _STRAIGHT),), "angle", "angle", "", True),
    Kind("parallel", "running the same way", ((_STRAIGHT, _STRAIGHT),), sided=True),
    Kind("square", "at right angles", ((_STRAIGHT, _STRAIGHT),)),
    Kind("slot", "a pin along a slot's wall", ((_ROUND, _FLAT),), "length", "from the wall", ""),
    Kind("gear", "one turns the other", ((_ROUND, _ROUND),), "number", "turns to one of the second", "", True),
    Kind("rack", "turning moves it along", ((_ROUND, _STRAIGHT),), "length", "travel a turn", "", True),
    Kind("fixed", "held as they stand now", ((_ANY, _ANY),)),
)  # fmt: skip
KINDS: dict[RelationKind, Kind] = {k.kind: k for k in _EVERY}
