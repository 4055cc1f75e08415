"""How the steps are made: one module a kind, called as its module in ``steps``.

These rooms hold the kernel from their first line, and so are loaded by the rebuild when such a step is to be made.
"""

from __future__ import annotations

from functools import lru_cache
from importlib import import_module
from typing import TYPE_CHECKING

from ..registry import KINDS

if TYPE_CHECKING:
    from ..model import StepBase
    from ..workshop import Maker


@lru_cache(maxsize=256)
def _maker(struct: type[StepBase]) -> Maker:
    room = KINDS[struct].summary.__module__.rpartition(".")[2]  # the module in ``steps`` that speaks for the kind
    found: Maker = import_module(f".{room}", __name__).MAKERS[struct]
    return found


def maker_of(step: StepBase) -> Maker:
    """How a step is made."""
    return _maker(type(step))
