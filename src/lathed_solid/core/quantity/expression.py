"""One expression language for every numeric field.

Decimals, fractions and mixed numbers, unit suffixes mixed freely, arithmetic, a few functions and references
to callouts. A bare number takes the unit of the field it stands in; ``sin(30)`` means thirty degrees.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from functools import lru_cache
from typing import Protocol

from lark import Lark, Token, Tree, UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, UnexpectedToken

from ..refusal import Refusal
from ..units import FOOT, INCH
from .grammar import EXPRESSION, WORDS, expected_words
from .parsers import make_parser
from .quantity import Quantity, with_unit

Node = Tree[Token]


class ExpressionError(Refusal):
    """A text that is no size. ``position`` counts characters from 0; ``text`` is the whole field."""

    def __init__(self, message: str, text: str, position: int) -> None:
        super().__init__(message)
        self.text, self.position = text, position

    def said_in(self, unit: str) -> str:
        if not self.text.strip():
            return super().said_in(unit)
        return f"{super().said_in(unit)} (at character {self.position + 1} of “{self.text}”)"


class Misplaced(ExpressionError):
    """Something that may not stand where it does."""


class NoReference(Refusal):
    """What a formula refers to is not there, or says nothing of the kind."""


class Scope(Protocol):
    """What an expression may look up."""

    @property
    def length_unit(self) -> str:
        """The unit of a bare length: ``mm`` or ``in``."""

    def reference(self, number: int, key: str) -> Quantity:
        """The value of callout ``number``. Raises NoReference."""


class Plain:
    """A scope without callouts."""

    def __init__(self, length_unit: str = "mm") -> None:
        self.length_unit = length_unit

    def reference(self, number: int, key: str) -> Quantity:
        raise NoReference(f"There is no callout #{number} here.")


@lru_cache(maxsize=1)
def _parser() -> Lark:
    return make_parser(EXPRESSION, "sum")


#: Nobody writes a longer formula, a longer number, or more brackets and signs in each other.
MAX_TEXT, MAX_DIGITS, MAX_NESTED = 500, 30, 40


def bounded(text: str) -> None:
    """Raises ExpressionError for what is longer or deeper than anybody means."""
    if len(text) > MAX_TEXT:
        raise ExpressionError(f"This is {len(text)} characters long; {MAX_TEXT} are the most.", text[:40], 0)
    if long := re.search(rf"\d{{{MAX_DIGITS + 1},}}", text):
        raise ExpressionError(f"A number has {MAX_DIGITS} digits at most.", text, long.start())
    depth = signs = 0
    for at, char in enumerate(text):
        depth += (char == "(") - (char == ")")
        signs = signs + 1 if char in "+-" else signs * char.isspace()
        if max(depth, signs) > MAX_NESTED:
            raise ExpressionError(f"More than {MAX_NESTED} brackets or signs stand in each other.", text, at)


@lru_cache(maxsize=4096)
def parse(text: str) -> Node:
    """The tree of ``text``. Raises ExpressionError pointing at the first character that does not fit."""
    if not text.strip():
        raise ExpressionError("Nothing is typed. Expected a number.", text, 0)
    bounded(text)
    try:
        return _parser().parse(text)
    except UnexpectedInput as error:
        raise misfit(error, text) from None


def misfit(
    error: UnexpectedInput, text: str, words: dict[str, str] = WORDS, unsaid: set[str] | None = None
) -> ExpressionError:
    """Turn lark's complaint into one that points at a character and says what was expected."""
    if isinstance(error, UnexpectedCharacters):
        position, names = error.pos_in_stream or 0, set(error.allowed or ())
        found = f"“{text[position]}” does not fit here."
    elif isinstance(error, UnexpectedEOF) or (isinstance(error, UnexpectedToken) and error.token.type == "$END"):
        position, names = len(text), set(getattr(error, "accepts", None) or error.expected)
        found = "Something is missing at the end."
    else:
        token = error.token  # type: ignore[attr-defined]
        position, names = token.start_pos or 0, set(getattr(error, "accepts", None) or error.expected)  # type: ignore[attr-defined]
        found = f"“{token}” does not fit here."
    names = names - (unsaid or set()) or names
    kind = ExpressionError if position >= len(text) else Misplaced
    return kind(f"{found} Expected {expected_words(names, words)}.", text, position)


def negated(text: str) -> str:
    """A formula of the opposite value: ``3`` for ``-3``, ``-(2 - 5)`` for ``2 - 5``."""
    bare = text.strip()
    rest = bare[1:].strip() if bare.startswith("-") else ""
    return rest if rest and not re.search(r"[+-]", rest) else f"-({bare})"


def evaluate(text: str, scope: Scope | None = None, want: str = "length") -> float:
    """The value of ``text`` in mm (``want`` length), radians (angle) or as it is (number).

    Raises ExpressionError when the text cannot be read, or comes out as something else than wanted.
    """
    scope = scope or Plain()
    return settle(quantity_of(parse(text), text, scope), text, scope, want)


def settle(value: Quantity, text: str, scope: Scope, want: str) -> float:
    """``value`` as a float of the wanted dimension; a bare number takes the field's unit."""
    if not math.isfinite(value.magnitude):
        raise ExpressionError("This has no finite value.", text, 0)
    if value.is_bare and want == "length":
        return with_unit(value.magnitude, scope.length_unit).magnitude
    if value.is_bare and want == "angle":
        return math.radians(value.magnitude)
    fits = {"length": value.is_length, "angle": value.is_angle, "number": value.is_bare}
    if not fits[want]:
        wanted = {"length": "a length", "angle": "an angle", "number": "a plain number"}[want]
        raise ExpressionError(f"This comes out as {value.what()}; {wanted} is needed.", text, 0)
    return value.magnitude


def number_of(token: str) -> float:
    """The value of a NUMBER, FRACTION or MIXED token. Raises ZeroDivisionError for ``1/0``."""
    if "/" not in token:
        return float(token)
    whole, _, fraction = token.rpartition(" ")
    top, bottom = fraction.split("/")
    return (float(whole) if whole.strip() else 0.0) + float(top) / float(bottom)


def quantity_of(node: Node | Token, text: str, scope: Scope) -> Quantity:
    """Evaluate a tree. Raises ExpressionError at the node that has no value."""
    if isinstance(node, Token):
        return Quantity(number_of(node))
    at = getattr(node.meta, "start_pos", 0) or 0
    try:
        return _RULES[node.data](node, text, scope)
    except ZeroDivisionError:
        raise ExpressionError("Division by zero.", text, at) from None
    except (ValueError, OverflowError):
        raise ExpressionError("This function has no value here.", text, at) from None
    except NoReference as error:
        raise ExpressionError(error.message, text, at) from None


def _leaf(node: Node, text: str, scope: Scope) -> Quantity:
    number = number_of(str(node.children[0]))
    if len(node.children) == 1:
        return Quantity(number)
    unit = node.children[1]
    assert isinstance(unit, Tree)
    name = str(unit.children[0])
    return with_unit(number, '"' if name == "''" else name)


def _feet_inches(node: Node, text: str, scope: Scope) -> Quantity:
    numbers = [number_of(str(c)) for c in node.children if isinstance(c, Token) and c.type not in ("FOOT", "INCH")]
    return Quantity(numbers[0] * FOOT + numbers[1] * INCH, length=1)


def _dms(node: Node, text: str, scope: Scope) -> Quantity:
    """Degrees, minutes and, if stated, seconds."""
    parts = [float(n) for n in re.findall(r"\d+(?:\.\d+)?", str(node.children[0]))]
    return Quantity(math.radians(sum(n / 60**k for k, n in enumerate(parts))), angle=1)


def _ref(node: Node, text: str, scope: Scope) -> Quantity:
    number, _, key = str(node.children[0])[1:].partition(".")
    return scope.reference(int(number), key)


def _alike(node: Node, text: str, scope: Scope, values: list[Quantity]) -> list[Quantity]:
    """Bring summands to one dimension: a bare number beside a length is in the field's unit."""
    for other in values:
        if other.is_length:
            values = [with_unit(v.magnitude, scope.length_unit) if v.is_bare else v for v in values]
        elif other.is_angle:
            values = [Quantity(math.radians(v.magnitude), angle=1) if v.is_bare else v for v in values]
    first = values[0]
    for value in values[1:]:
        if (value.length, value.angle) != (first.length, first.angle):
            raise ExpressionError(
                f"{first.what().capitalize()} and {value.what()} cannot be put together.",
                text,
                getattr(node.meta, "start_pos", 0) or 0,
            )
    return values


def _both(node: Node, text: str, scope: Scope) -> list[Quantity]:
    return [quantity_of(child, text, scope) for child in node.children]


def _sum(sign: float) -> Callable[[Node, str, Scope], Quantity]:
    def rule(node: Node, text: str, scope: Scope) -> Quantity:
        a, b = _alike(node, text, scope, _both(node, text, scope))
        return Quantity(a.magnitude + sign * b.magnitude, a.length, a.angle)

    return rule


def _mul(node: Node, text: str, scope: Scope) -> Quantity:
    a, b = _both(node, text, scope)
    return Quantity(a.magnitude * b.magnitude, a.length + b.length, a.angle + b.angle)


def _div(node: Node, text: str, scope: Scope) -> Quantity:
    a, b = _both(node, text, scope)
    return Quantity(a.magnitude / b.magnitude, a.length - b.length, a.angle - b.angle)


def _neg(node: Node, text: str, scope: Scope) -> Quantity:
    (a,) = _both(node, text, scope)
    return Quantity(-a.magnitude, a.length, a.angle)


def _pow(node: Node, text: str, scope: Scope) -> Quantity:
    a, b = _both(node, text, scope)
    if not b.is_bare:
        raise ExpressionError("A power must be a plain number.", text, getattr(node.meta, "start_pos", 0) or 0)
    value = a.magnitude**b.magnitude
    if isinstance(value, complex):
        raise ValueError
    return Quantity(value, a.length * b.magnitude, a.angle * b.magnitude)


def _call(node: Node, text: str, scope: Scope) -> Quantity:
    name = str(node.children[0])
    values = [quantity_of(child, text, scope) for child in node.children[1:]]
    at = getattr(node.meta, "start_pos", 0) or 0
    if name in ("min", "max"):
        values = _alike(node, text, scope, values)
        chosen = (min if name == "min" else max)(v.magnitude for v in values)
        return Quantity(chosen, values[0].length, values[0].angle)
    if len(values) != 1:
        raise ExpressionError(f"{name} takes one value.", text, at)
    (a,) = values
    if name == "sqrt":
        return Quantity(math.sqrt(a.magnitude), a.length / 2, a.angle / 2)
    if name == "abs":
        return Quantity(abs(a.magnitude), a.length, a.angle)
    if name in ("sin", "cos", "tan"):
        if not (a.is_bare or a.is_angle):
            raise ExpressionError(f"{name} takes an angle; this is {a.what()}.", text, at)
        angle = a.magnitude if a.is_angle else math.radians(a.magnitude)
        return Quantity(getattr(math, name)(angle))
    if not a.is_bare:
        raise ExpressionError(f"{name} takes a ratio; this is {a.what()}.", text, at)
    return Quantity(getattr(math, name)(a.magnitude), angle=1)


_RULES: dict[str, Callable[[Node, str, Scope], Quantity]] = {
    "quantity": _leaf,
    "feet_inches": _feet_inches,
    "ref": _ref,
    "dms": _dms,
    "pi": lambda node, text, scope: Quantity(math.pi),
    "add": _sum(1.0),
    "sub": _sum(-1.0),
    "mul": _mul,
    "div": _div,
    "neg": _neg,
    "pos": lambda node, text, scope: _both(node, text, scope)[0],
    "pow": _pow,
    "call": _call,
}
