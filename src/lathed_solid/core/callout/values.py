"""The sizes of a note as they are read: each worked out, with its limits."""

from __future__ import annotations

import math
import re

import msgspec
from lark import Token, Tree

from ..quantity import ExpressionError, Quantity, Scope
from ..quantity.expression import Node, quantity_of, settle
from ..quantity.quantity import with_unit
from ..standards.tables import NotTabled
from . import limits
from .model import Characteristic, Flag, Kind, Shape

_MUST_BE_POSITIVE = ("length", "diameter", "radius")


class Values:
    """Characteristics by key, in the order they were stated; ``last`` is the one a tolerance would apply to."""

    def __init__(self, note: str, scope: Scope, rule: limits.General) -> None:
        self.note, self.scope, self.rule = note, scope, rule
        self.found: dict[str, Characteristic] = {}
        self.nodes: dict[str, Node] = {}
        self.last = ""
        self.fit = ""
        self.shape: Shape = "length"
        self.flags: list[Flag] = []

    def error(self, message: str, node: Node | None = None, at_end: bool = False) -> ExpressionError:
        if at_end:
            return ExpressionError(message, self.note, len(self.note))
        at = getattr(node.meta, "start_pos", 0) if node is not None else 0
        return ExpressionError(message, self.note, at or 0)

    # --- reading a value
    def quantity(self, value: Node) -> Quantity:
        """The quantity of a value node; limits count as a length."""
        amount = value.children[0]
        if isinstance(amount, Tree) and amount.data == "limits":
            return Quantity(1.0, length=1)
        if isinstance(amount, Tree) and amount.data == "boxed":
            amount = amount.children[0]
        return quantity_of(amount, self.note, self.scope)

    def length(self, value: Node, unit: str = "") -> float:
        """A value node in mm; a bare number takes ``unit``, by default the drawing's."""
        found = self.quantity(value)
        if found.is_bare and unit:
            return with_unit(found.magnitude, unit).magnitude
        return settle(found, self.note, self.scope, "length")

    def in_unit(self, number: float) -> float:
        return with_unit(number, self.scope.length_unit).magnitude

    def slice(self, node: Node) -> str:
        """The text of a node as written, its brackets balanced, runs of spaces made one."""
        start, end = node.meta.start_pos or 0, node.meta.end_pos or 0
        text = self.note[start:end]
        while text.count(")") > text.count("(") and start > 0:
            start -= 1
            text = self.note[start:end]
        while text.count("(") > text.count(")") and end < len(self.note):
            end += 1
            text = self.note[start:end]
        return " ".join(text.split())

    # --- keeping a size
    def take(self, key: str, kind: Kind, value: Node) -> None:
        """Keep the size a value node states under ``key``, with its own tolerance if it has one."""
        self.nodes[key] = value
        amount = value.children[0]
        assert isinstance(amount, Tree | Token)
        if isinstance(amount, Tree) and amount.data == "limits":
            self._take_limits(key, kind, amount)
        else:
            boxed = isinstance(amount, Tree) and amount.data == "boxed"
            inner = amount.children[0] if isinstance(amount, Tree) and boxed else amount
            assert isinstance(inner, Tree)
            want = "angle" if kind == "angle" else "length"
            nominal = settle(quantity_of(inner, self.note, self.scope), self.note, self.scope, want)
            self._check_positive(key, kind, nominal, value)
            self.put(key, kind, nominal, self.slice(inner), node=value)
            if boxed:
                self._box(key)
        for tolerance in value.children[1:]:
            assert isinstance(tolerance, Tree)
            method = {"fit": "fit_class"}.get(str(tolerance.data), str(tolerance.data))
            getattr(self, method)(tolerance)

    def _check_positive(self, key: str, kind: Kind, nominal: float, node: Node) -> None:
        if key and key not in ("at", "x", "y") and kind in _MUST_BE_POSITIVE and nominal <= 0:
            raise self.error(f"The {key.replace('_', ' ')} must be above zero.", node)

    def _take_limits(self, key: str, kind: Kind, amount: Node) -> None:
        try:
            lower, upper, written = limits.limits_of_size(str(amount.children[0]), self.scope.length_unit)
        except NotTabled as error:
            raise self.error(error.message, amount) from None
        self.put(key, kind, (lower + upper) / 2, written, node=amount)
        self.found[key] = msgspec.structs.replace(self.found[key], lower=lower, upper=upper, basis="stated")

    def put(
        self,
        key: str,
        kind: Kind,
        nominal: float,
        written: str,
        *,
        basis: str = "",
        fit: str = "",
        node: Node | None = None,
    ) -> None:
        """Keep a size under ``key`` with the general tolerance; ``basis`` names the standard it came from."""
        if key in self.found:
            raise self.error(f"This note states its {key.replace('_', ' ') or 'size'} twice.", node)
        main = self.found[""].nominal if "" in self.found and self.found[""].kind in _MUST_BE_POSITIVE else 10.0
        try:
            lower, upper, rule = limits.by_rule(self.rule, kind, self.shape, key, nominal, main, written)
            if fit:
                low, high, _ = limits.by_fit(nominal, fit)
                lower, upper, rule = nominal + low, nominal + high, f"{basis}, {fit}"
        except NotTabled as error:
            raise self.error(error.message, node) from None
        self.found[key] = Characteristic(key, kind, nominal, lower, upper, rule if fit or not basis else basis, written)
        if kind not in ("count", "finish", "geometric"):
            self.last = key

    def rename(self, old: str, new: str) -> None:
        moved = self.found.pop(old)
        self.found[new] = msgspec.structs.replace(moved, key=new)

    def promote(self, old: str, kind: Kind, key: str = "") -> None:
        """What was read as a part becomes the size itself."""
        self.rename(old, key)
        self.found[key] = msgspec.structs.replace(self.found[key], kind=kind)
        if not key and kind in ("diameter", "radius", "length"):
            self.shape = kind

    # --- tolerances
    def _limit(self, key: str, lower: float, upper: float, basis: str, text: str, node: Node) -> None:
        if key not in self.found:
            raise self.error("A tolerance needs a size in front of it.", node)
        c = self.found[key]
        if c.kind == "thread":
            raise self.error("A thread takes a class such as 6H, not a tolerance.", node)
        if c.tolerance or c.basis == "stated":
            raise self.error("This size already has limits.", node)
        if lower > upper:
            raise self.error("The lower limit is above the upper one.", node)
        self.found[key] = msgspec.structs.replace(
            c, lower=c.nominal + lower, upper=c.nominal + upper, basis=basis, tolerance=text
        )

    def symmetric(self, node: Node) -> None:
        amount = next(c for c in node.children if isinstance(c, Tree))
        want = (
            "angle" if self.found and self.found.get(self.last) and self.found[self.last].kind == "angle" else "length"
        )
        spread = settle(quantity_of(amount, self.note, self.scope), self.note, self.scope, want)
        if spread <= 0:
            raise self.error("A tolerance is above zero.", node)
        self._limit(self.last, -spread, spread, "stated", f"±{self.slice(amount)}", node)

    def minutes(self, node: Node) -> None:
        number = re.findall(r"\d+(?:\.\d+)?", str(node.children[0]))[0]
        if self.last not in self.found or self.found[self.last].kind != "angle":
            raise self.error("Minutes go with an angle.", node)
        spread = math.radians(float(number) / 60)
        self._limit(self.last, -spread, spread, "stated", f"±{number}'", node)

    def unequal(self, node: Node) -> None:
        is_angle = self.last in self.found and self.found[self.last].kind == "angle"
        lower, upper, text = limits.unequal(str(node.children[0]), "deg" if is_angle else self.scope.length_unit)
        self._limit(self.last, lower, upper, "stated", text, node)

    def fit_class(self, node: Node) -> None:
        self.apply_fit(str(node.children[0]), node)

    def apply_fit(self, letter: str, node: Node) -> None:
        """A fit goes to the last width or diameter, not to a depth."""
        key = self.last
        if key not in self.found or (self.found[key].kind == "length" and key) or self.found[key].kind == "angle":
            key = ""
        if key not in self.found:
            raise self.error("A fit needs a size in front of it.", node)
        pair = letter.replace(" ", "").split("/")
        try:
            # H7/g6 names the fit of hole and shaft: this is the one or the other.
            lower, upper, basis = limits.by_fit(self.found[key].nominal, pair[0] if self.bored else pair[-1])
        except NotTabled as error:
            raise self.error(error.message, node) from None
        self._limit(key, lower, upper, basis, letter, node)
        if key == "":
            self.fit = letter

    @property
    def bored(self) -> bool:
        """Whether the note speaks of a hole, as far as it has been read."""
        return "thru" in self.found or "depth" in self.found or bool(re.search(r"thr|bore|hole", self.note, re.I))

    def extreme(self, node: Node) -> None:
        key = self.last
        if key not in self.found:
            raise self.error("MAX and MIN need a size in front of them.", node)
        nominal = self.found[key].nominal
        if str(node.children[0]).lower().startswith("max"):
            self._limit(key, -nominal, 0.0, "stated", "MAX", node)
        else:
            self._limit(key, 0.0, math.inf, "stated", "MIN", node)

    # --- sizes that are no criterion
    def _box(self, key: str) -> None:
        c = self.found[key]
        self.found[key] = msgspec.structs.replace(
            c, lower=c.nominal - limits.BOXED, upper=c.nominal + limits.BOXED, basis="basic", tolerance="BASIC"
        )
        if key == "":
            self.flags.append("BASIC")

    def unlimited(self, flag: Flag) -> None:
        """A reference or basic main size keeps its figure but not its general tolerance."""
        c = self.found[""]
        if c.tolerance not in ("", "BASIC"):
            raise self.error("A reference or basic size has no tolerance of its own.")
        if flag == "BASIC" and c.tolerance != "BASIC":
            self._box("")
        elif flag == "REF":
            self.found[""] = msgspec.structs.replace(c, basis="reference")
