"""Reading the data files beside this module."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources
from typing import Any

from ..refusal import Refusal


class NotTabled(Refusal):
    """A size, class or name that the tables do not hold; the text says what they do hold."""


@cache
def table(name: str) -> dict[str, Any]:
    """The data file ``data/<name>.toml`` as a dictionary."""
    return tomllib.loads((resources.files(__package__) / "data" / f"{name}.toml").read_text("utf-8"))


def band(limits: list[float], size: float) -> int:
    """Index of the range "over .. up to and including" that holds ``size``. Raises NotTabled beyond the last."""
    for index, upper in enumerate(limits):
        if size <= upper:
            return index
    raise NotTabled(f"The table ends at {limits[-1]:g} mm; {size:g} mm is beyond it.")
