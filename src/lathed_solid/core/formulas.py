"""Fields that hold formulas, and the one walk over whatever holds them.

A field declared as ``Formula`` is worked out as a number and may name callouts (``#3``). Whoever looks for callouts, or
renames them, goes by the declaration: a new field is walked from the day it is declared.
"""

from __future__ import annotations

import types
from collections.abc import Callable, Iterator
from functools import lru_cache
from typing import Annotated, Any, TypeVar, Union, get_args, get_origin

import msgspec

#: A text that is worked out as a number, and may name callouts.
Formula = Annotated[str, msgspec.Meta(extra={"formula": True})]

Struct = TypeVar("Struct", bound=msgspec.Struct)


@lru_cache(maxsize=512)
def formula_fields(struct: type[msgspec.Struct]) -> tuple[str, ...]:
    """The fields of a struct that are formulas themselves."""
    return tuple(f.name for f in msgspec.structs.fields(struct) if _is_formula(f.type))


@lru_cache(maxsize=512)
def _carriers(struct: type[msgspec.Struct]) -> tuple[str, ...]:
    """The fields of a struct that may hold structs with formulas."""
    fields = (f for f in msgspec.structs.fields(struct) if not _is_formula(f.type))
    return tuple(f.name for f in fields if any(map(_holds, structs_in(f.type))))


@lru_cache(maxsize=512)
def _holds(struct: type[msgspec.Struct]) -> bool:
    """Whether a struct, or any it is made of, has formulas."""
    seen: set[type[msgspec.Struct]] = set()
    todo = [struct]
    while todo:
        one = todo.pop()
        if formula_fields(one):
            return True
        if one not in seen:
            seen.add(one)
            todo += [s for f in msgspec.structs.fields(one) for s in structs_in(f.type)]
    return False


def _is_formula(declared: object) -> bool:
    return any(
        isinstance(mark, msgspec.Meta) and (mark.extra or {}).get("formula")
        for mark in getattr(declared, "__metadata__", ())
    )


def structs_in(declared: object) -> Iterator[type[msgspec.Struct]]:
    """The structs that a declared type speaks of."""
    if isinstance(declared, type) and issubclass(declared, msgspec.Struct):
        yield declared
    elif get_origin(declared) in (Annotated, Union, types.UnionType, tuple, list, dict):
        for part in get_args(declared):
            yield from structs_in(part)


def formulas_in(value: object) -> Iterator[str]:
    """Every formula in a struct, or in a tuple of them, in the order of the fields."""
    if isinstance(value, tuple):
        for item in value:
            yield from formulas_in(item)
    elif isinstance(value, msgspec.Struct):
        for field in formula_fields(type(value)):
            yield getattr(value, field)
        for field in _carriers(type(value)):
            yield from formulas_in(getattr(value, field))


def rewritten(value: Struct, change: Callable[[str], str]) -> Struct:
    """The struct with every formula in it changed; the very same one, with what is kept with it, if nothing differs."""
    fields: dict[str, Any] = {f: change(getattr(value, f)) for f in formula_fields(type(value))}
    fields |= {f: _rewritten(getattr(value, f), change) for f in _carriers(type(value))}
    changed = {f: v for f, v in fields.items() if v is not getattr(value, f) and v != getattr(value, f)}
    return msgspec.structs.replace(value, **changed) if changed else value


def _rewritten(value: object, change: Callable[[str], str]) -> object:
    if isinstance(value, tuple):
        made = tuple(_rewritten(item, change) for item in value)
        return made if any(a is not b for a, b in zip(made, value, strict=True)) else value
    return rewritten(value, change) if isinstance(value, msgspec.Struct) else value
