"""The last move of most steps: tools added to the body worked on, cut from it, or standing for themselves."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Literal

from .model import Built, Param, Tooling, Unfinished
from .workshop import Workshop

if TYPE_CHECKING:
    from ..kernel.ground.named import NamedBody

Mode = Literal["add", "cut", "keep", "new"]
#: The field ``mode`` of a step whose tools end here, as the editor shows it.
MATERIAL = Param(
    "mode",
    "Material",
    "choice",
    (("add", "add"), ("cut", "cut away"), ("keep", "keep only the inside"), ("new", "begin a new body")),
)


def joined(id_: str, mode: Mode, tools: Sequence[NamedBody], shop: Workshop) -> Built:
    """Combine the tools with the current body, or begin a new one. Raises StepFailure or KernelFailure."""
    from ..kernel.cut.boolean import combine
    from ..kernel.ground.check import accept

    if shop.current is None and mode in ("cut", "keep"):
        raise Unfinished("There is no body yet to cut from. Set Material to “add”, or put this step later.")
    plain: Literal["add", "cut", "keep"] = "add" if mode == "new" else mode
    if mode == "new" or shop.current is None:
        shop.begin(id_)
        first, rest = tools[0], list(tools[1:])
        body = accept(first.shape, first.pairs(), None, "more")
        return Built(combine("add", body, rest) if rest else body, Tooling("add", tuple(tools)))
    return Built(combine(plain, shop.body, tools), Tooling(plain, tuple(tools)))
