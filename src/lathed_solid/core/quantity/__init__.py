"""Units, expressions and the printing of numbers. Knows nothing of parts or drawings."""

from .expression import ExpressionError, Scope, evaluate, negated, parse
from .quantity import Quantity
from .style import Style

__all__ = [
    "ExpressionError",
    "Quantity",
    "Scope",
    "Style",
    "evaluate",
    "negated",
    "parse",
]
