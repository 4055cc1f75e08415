"""How much a DXF would be with its blocks taken apart: told before it is done, as blocks in blocks grow tenfold."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from .paper import CannotRead

if TYPE_CHECKING:
    from ezdxf.document import Drawing
    from ezdxf.entities.dxfentity import DXFEntity

#: Blocks lie in blocks no deeper on any sheet.
_DEEPEST = 50


def unfolded(document: Drawing, space: Iterable[DXFEntity]) -> int:
    """The number of entities of ``space``, each block counted as often as it is inserted.

    Raises CannotRead for a block that holds itself.
    """
    known: dict[str, int] = {}

    def count(entities: Iterable[DXFEntity], around: tuple[str, ...]) -> int:
        total = 0
        for entity in entities:
            if entity.dxftype() != "INSERT":
                total += 1
                continue
            name = str(entity.dxf.get("name", ""))
            times = max(1, _count(entity, "row_count")) * max(1, _count(entity, "column_count"))
            total += times * (1 + inside(name, around))
        return total

    def inside(name: str, around: tuple[str, ...]) -> int:
        if name in around or len(around) > _DEEPEST:
            raise CannotRead(f"The block “{name[:40]}” of this DXF holds itself. Take it apart and save it again.")
        if name not in known:
            block = document.blocks.get(name)
            known[name] = count(block, (*around, name)) if block is not None else 0
        return known[name]

    return count(space, ())


def _count(entity: DXFEntity, name: str) -> int:
    value = entity.dxf.get(name, 1)
    return int(value) if isinstance(value, int | float) and abs(value) < 1e12 else 1
