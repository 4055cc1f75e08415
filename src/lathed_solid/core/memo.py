"""What is worked out once for something that never changes, and kept with it."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

Value = TypeVar("Value")


def kept(on: object, name: str, make: Callable[[], Value]) -> Value:
    """The value called ``name`` of an immutable struct that has room for it (``dict=True``); made when first asked for.

    It goes where the struct goes, is no part of what it says, and is not saved.
    """
    room = on.__dict__
    if name not in room:
        room[name] = make()
    found: Value = room[name]
    return found
