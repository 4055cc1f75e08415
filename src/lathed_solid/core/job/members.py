"""The table of a part family as it lies in the job: its rows and columns, and what becomes of them."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import msgspec

from .model import Cell, FamilyTable, Member

replace = msgspec.structs.replace


def without(table: FamilyTable, number: int) -> FamilyTable:
    """The table after a callout was deleted."""
    return kept(table, set(table.columns) - {number}) if number in table.columns else table


def renumbered(table: FamilyTable, numbers: Mapping[int, int]) -> FamilyTable:
    rows = tuple(
        replace(m, cells=tuple(replace(c, number=numbers[c.number]) for c in m.cells if c.number in numbers))
        for m in table.members
    )
    return FamilyTable(columns=tuple(numbers[n] for n in table.columns if n in numbers), members=rows)


def kept(table: FamilyTable, numbers: set[int]) -> FamilyTable:
    """Only the columns of these callouts."""
    rows = tuple(replace(m, cells=tuple(c for c in m.cells if c.number in numbers)) for m in table.members)
    return FamilyTable(columns=tuple(n for n in table.columns if n in numbers), members=rows)


def sound(table: FamilyTable, numbers: set[int], set_aside: Callable[[str, msgspec.Struct], None]) -> FamilyTable:
    """The table without columns of callouts that are not there, and with each name once."""
    names: set[str] = set()
    rows = []
    for member in table.members:
        if not member.name or member.name in names:
            set_aside(f"member “{member.name}” of the family (there is another of that name)", member)
            continue
        names.add(member.name)
        for cell in member.cells:
            if cell.number not in numbers or cell.number not in table.columns:
                set_aside(f"member “{member.name}” of the family: a size of callout {cell.number}", cell)
        rows.append(member)
    good = {n for n in table.columns if n in numbers}
    once = tuple(dict.fromkeys(n for n in table.columns if n in good))
    made = kept(FamilyTable(columns=once, members=tuple(rows)), good)
    return table if made == table else made


# --- edits
def with_column(table: FamilyTable, number: int) -> FamilyTable:
    return table if number in table.columns else replace(table, columns=(*table.columns, number))


def with_member(table: FamilyTable) -> FamilyTable:
    """One more member, as the part is drawn, under a name of its own."""
    names = {m.name for m in table.members}
    name = next(n for n in (f"V{k}" for k in range(1, len(names) + 2)) if n not in names)
    return replace(table, members=(*table.members, Member(name=name)))


def without_members(table: FamilyTable, rows: set[int]) -> FamilyTable:
    return replace(table, members=tuple(m for at, m in enumerate(table.members) if at not in rows))


def renamed(table: FamilyTable, row: int, name: str) -> FamilyTable:
    return _changed(table, row, replace(table.members[row], name=name))


def with_cell(table: FamilyTable, row: int, number: int, text: str) -> FamilyTable:
    """``text`` in the place of a callout; empty: as the part is drawn."""
    member = table.members[row]
    rest = tuple(c for c in member.cells if c.number != number)
    return _changed(table, row, replace(member, cells=(*rest, Cell(number, text)) if text else rest))


def _changed(table: FamilyTable, row: int, member: Member) -> FamilyTable:
    return replace(table, members=tuple(member if at == row else m for at, m in enumerate(table.members)))
