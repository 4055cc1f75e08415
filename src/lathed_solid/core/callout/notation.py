"""Reading one note: from its text to the characteristics it states, with limits.

A note may hold formulas and references to other callouts; they are worked out in the ledger's scope.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from lark import Lark, Token, Tree, UnexpectedInput

from ..quantity import ExpressionError, Scope
from ..quantity.expression import Node, misfit, quantity_of, settle
from ..quantity.quantity import with_unit
from ..standards import fits, general
from ..standards.threads import MetricThread, parse_designation
from .grammar import NOTE, NOTE_WORDS
from .model import Characteristic, Kind, Reading, Shape

NoteError = ExpressionError


@lru_cache(maxsize=1)
def _parser() -> Lark:
    return Lark(NOTE, parser="lalr", start="note", propagate_positions=True)


@lru_cache(maxsize=2048)
def _tree(note: str) -> Node:
    if not note.strip():
        raise NoteError("Nothing is typed. Expected a size, as in Ø12 h6, 22, R1, 1 x 45° or M6x1 - 6H.", note, 0)
    try:
        return _parser().parse(note)
    except UnexpectedInput as error:
        raise misfit(error, note, NOTE_WORDS) from None


def read_note(note: str, scope: Scope, grade: str = "m") -> Reading:
    """The meaning of ``note``; sizes without limits take ISO 2768-1 class ``grade``.

    Raises NoteError (an ExpressionError) pointing at the place that cannot be understood.
    """
    return _Reader(note, scope, grade).reading()


class _Reader:
    """One pass over one note's tree."""

    def __init__(self, note: str, scope: Scope, grade: str) -> None:
        self.note, self.scope, self.grade = note, scope, grade
        self.found: list[Characteristic] = []
        self.shape: Shape = "length"
        self.thru, self.seat, self.fit = False, "", ""
        self.thread: MetricThread | None = None

    def reading(self) -> Reading:
        for node in _tree(self.note).children:
            assert isinstance(node, Tree)
            _RULES[node.data](self, node)
        self._count_last()
        main = self.found[0]
        if main.kind in ("diameter", "radius", "thread") and main.nominal <= 0:
            raise self.error(f"A {main.kind} must be above zero; this is {main.nominal:g}.")
        return Reading(self.shape, tuple(self.found), self.thru, self.seat, self.thread, self.fit)

    def _count_last(self) -> None:
        """The main size leads; a stated count follows the sizes."""
        if self.found[0].key == "count":
            self.found.append(self.found.pop(0))

    def error(self, message: str, node: Node | None = None) -> NoteError:
        at = getattr(node.meta, "start_pos", 0) if node is not None else 0
        return NoteError(message, self.note, at or 0)

    def sums(self, node: Node) -> list[Node | Token]:
        """The expressions among a rule's children (keywords left out)."""
        return [c for c in node.children if isinstance(c, Tree)]

    def value(self, node: Node | Token, want: str = "length") -> float:
        return settle(quantity_of(node, self.note, self.scope), self.note, self.scope, want)

    def add(self, key: str, kind: Kind, nominal: float) -> None:
        if any(c.key == key for c in self.found):
            raise self.error(f"This note states its {key.replace('_', ' ') or 'size'} twice.")
        if key and kind == "length" and nominal <= 0 and key != "at":
            raise self.error(f"The {key.replace('_', ' ')} must be above zero.")
        lower, upper, basis = self.default_limits(key, kind, nominal)
        self.found.append(Characteristic(key, kind, nominal, lower, upper, basis))

    def default_limits(self, key: str, kind: Kind, nominal: float) -> tuple[float, float, str]:
        if kind in ("count", "thread"):
            return nominal, nominal, "exact"
        basis = f"ISO 2768-{self.grade}"
        try:
            if kind == "angle":
                spread = general.angle(self.found[0].nominal if self.found else 10.0, self.grade)
            elif kind == "radius" or self.shape == "chamfer":
                spread = general.edge(nominal, self.grade)
            else:
                spread = general.linear(nominal, self.grade)
        except LookupError as error:
            raise self.error(str(error.args[0])) from None
        return nominal - spread, nominal + spread, basis

    def limit_main(self, lower: float, upper: float, basis: str, node: Node) -> None:
        at = next(i for i, c in enumerate(self.found) if c.key != "count")
        main = self.found[at]
        if main.kind == "thread":
            raise self.error("A thread takes a class such as 6H, not a tolerance.", node)
        if "ISO 2768" not in main.basis:
            raise self.error("This size already has limits.", node)
        if lower > upper:
            raise self.error("The lower limit is above the upper one.", node)
        self.found[at] = Characteristic(
            main.key, main.kind, main.nominal, main.nominal + lower, main.nominal + upper, basis
        )

    # --- the body of the note
    def count(self, node: Node) -> None:
        number = int("".join(ch for ch in str(node.children[0]) if ch.isdigit()))
        if number < 1:
            raise self.error("A count starts at 1.", node)
        self.add("count", "count", number)

    def diameter(self, node: Node) -> None:
        self.shape = "diameter"
        self.add("", "diameter", self.value(self.sums(node)[0]))

    def radius(self, node: Node) -> None:
        self.shape = "radius"
        self.add("", "radius", self.value(self.sums(node)[0]))

    def chamfer(self, node: Node) -> None:
        self.shape = "chamfer"
        parts = self.sums(node)
        leg = self.value(parts[0])
        if leg <= 0:
            raise self.error("A chamfer must be above zero.", node)
        self.add("", "length", leg)
        self.add("angle", "angle", self.value(parts[1], "angle") if len(parts) > 1 else 0.7853981633974483)

    def plain(self, node: Node) -> None:
        value = quantity_of(self.sums(node)[0], self.note, self.scope)
        if value.is_angle:
            self.shape = "angle"
            self.add("", "angle", value.magnitude)
        else:
            self.add("", "length", settle(value, self.note, self.scope, "length"))

    def screw_thread(self, node: Node) -> None:
        try:
            self.thread = parse_designation(str(node.children[0]))
        except LookupError as error:
            raise self.error(str(error.args[0]), node) from None
        self.shape = "thread"
        self.add("", "thread", self.thread.diameter)

    # --- what may follow
    def symmetric(self, node: Node) -> None:
        want = "angle" if self.shape == "angle" else "length"
        spread = self.value(self.sums(node)[0], want)
        self.limit_main(-spread, spread, "stated", node)

    def unequal(self, node: Node) -> None:
        upper, lower = str(node.children[0]).replace(" ", "").lstrip("+").split("/-")
        unit = "deg" if self.shape == "angle" else self.scope.length_unit
        self.limit_main(
            -with_unit(float(lower), unit).magnitude, with_unit(float(upper), unit).magnitude, "stated", node
        )

    def fit_class(self, node: Node) -> None:
        self.fit = str(node.children[0])
        main = next(c for c in self.found if c.key != "count")
        try:
            lower, upper = fits.deviations(main.nominal, self.fit)
        except LookupError as error:
            raise self.error(str(error.args[0]), node) from None
        self.limit_main(lower, upper, f"{self.fit}, ISO 286", node)

    def through(self, node: Node) -> None:
        self.thru = True
        self.add("thru", "count", 2.0)

    def depth(self, node: Node) -> None:
        self.add("depth", "length", self.value(self.sums(node)[0]))

    def counterbore(self, node: Node) -> None:
        self.seat = "counterbore"
        diameter, depth = self.sums(node)
        self._wider(self.value(diameter), node)
        self.add("seat", "diameter", self.value(diameter))
        self.add("seat_depth", "length", self.value(depth))

    def countersink(self, node: Node) -> None:
        self.seat = "countersink"
        diameter, angle = self.sums(node)
        self._wider(self.value(diameter), node)
        self.add("seat", "diameter", self.value(diameter))
        self.add("seat_angle", "angle", self.value(angle, "angle"))

    def _wider(self, seat: float, node: Node) -> None:
        main = next(c for c in self.found if c.key != "count")
        if seat <= main.nominal:
            raise self.error("The seat is not wider than its hole.", node)

    def drill(self, node: Node) -> None:
        parts = self.sums(node)
        self.add("drill", "diameter", self.value(parts[0]))
        if len(parts) > 1:
            self.add("drill_depth", "length", self.value(parts[1]))

    def circle(self, node: Node) -> None:
        self.add("circle", "diameter", self.value(self.sums(node)[0]))

    def at(self, node: Node) -> None:
        value = quantity_of(self.sums(node)[0], self.note, self.scope)
        if value.is_angle:
            self.add("angle", "angle", value.magnitude)
        else:
            self.add("at", "length", settle(value, self.note, self.scope, "length"))

    def tip(self, node: Node) -> None:
        self.add("tip", "angle", self.value(self.sums(node)[0], "angle"))


_RULES: dict[str, Callable[[_Reader, Node], None]] = {
    "count": _Reader.count,
    "diameter": _Reader.diameter,
    "radius": _Reader.radius,
    "chamfer": _Reader.chamfer,
    "thread": _Reader.screw_thread,
    "plain": _Reader.plain,
    "symmetric": _Reader.symmetric,
    "unequal": _Reader.unequal,
    "fit": _Reader.fit_class,
    "thru": _Reader.through,
    "depth": _Reader.depth,
    "counterbore": _Reader.counterbore,
    "countersink": _Reader.countersink,
    "drill": _Reader.drill,
    "circle": _Reader.circle,
    "at": _Reader.at,
    "tip": _Reader.tip,
}
