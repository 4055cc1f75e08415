"""A sheet of an assembly: laid out from nothing, and put together with its title block and the list of parts."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from msgspec.structs import replace

from ....drafting.sheet.compose import Composed, compose
from ....drafting.sheet.model import Cut, Label, Sheet, SheetView
from ....drafting.sheet.paper import INCH_SCALES, SCALES
from ....drafting.sheet.seen import Seen
from ....drafting.sheet.title import Facts
from ....fit.mass import bill
from ....fit.model import Assembly
from ....job.attachments import Store
from ....quantity import Style
from ....quantity.style import mass as mass_text
from ..propose import laid_out_at
from .parts import list_box, parts_list
from .views import seen


def proposed(
    assembly: Assembly, id_: str, store: Store, going: Callable[[], object] = lambda: None
) -> tuple[Sheet, Seen]:
    """A whole sheet: cut open, from the side, and as a picture, an item number at every part that is seen. Raises
    CannotWrite or Refusal.
    """
    sheet = Sheet(id=id_, balloons=True, size="ANSI C" if assembly.unit == "in" else "A2", views=(
        SheetView(id="v1", way="front", cut=Cut(), hidden=False),
        SheetView(id="v2", way="right", hidden=False),
        SheetView(id="v3", way="three faces", hidden=False, centres=False, tangent=True),
    ))  # fmt: skip
    found = seen(assembly, sheet, store, going)
    sheet = replace(sheet, labels=tuple(Label(number=n, view=v) for n, v in homes(found, sheet).items()))
    facts, scales = _facts(assembly, sheet), INCH_SCALES if assembly.unit == "in" else SCALES
    room = [list_box(sheet.size, len(bill(assembly)))]
    return laid_out_at(sheet, found, facts, scales, facts.first_angle, room), found


def homes(found: Seen, sheet: Sheet) -> dict[int, str]:
    """By which view each item is written: the first that shows it; one that none shows stays by the first of all, for
    it may be seen once that is cut elsewhere.
    """
    there = [v for v in sheet.views if v.id in found.views]
    shown = {v.id: {f for s in found.views[v.id].strokes if s.visible for f in s.faces} for v in there}
    flat = [v.id for v in there if v.way != "three faces"] or [v.id for v in there]
    return {h.number: next((v for v in flat if shown[v] & set(h.faces)), flat[0]) for h in found.holds if flat}


def drawn(assembly: Assembly, sheet: Sheet, found: Seen, number: int, total: int) -> Composed:
    """One of the sheets from what its views show; the first has the list of parts."""
    made = compose(sheet, found, _facts(assembly, sheet), number, total, Style(assembly.unit).length)
    if number > 1:
        return made
    listed = tuple(parts_list(bill(assembly), sheet.size))
    return made._replace(scene=replace(made.scene, marks=(*made.scene.marks, *listed)))


class Page(NamedTuple):
    sheet: Sheet
    composed: Composed


def pages(assembly: Assembly, store: Store, going: Callable[[], object] = lambda: None) -> list[Page]:
    """The sheets that the assembly keeps, as it stands now; one laid out for the occasion where it keeps none."""
    if not assembly.sheets:
        sheet, found = proposed(assembly, "d1", store, going)
        return [Page(sheet, drawn(assembly, sheet, found, 1, 1))]
    total = len(assembly.sheets)
    return [
        Page(s, drawn(assembly, s, seen(assembly, s, store, going), n, total))
        for n, s in enumerate(assembly.sheets, 1)
    ]  # fmt: skip


def _facts(assembly: Assembly, sheet: Sheet) -> Facts:
    lines = bill(assembly)
    known = all(line.grams is not None for line in lines)
    grams = sum((line.grams or 0.0) * line.many for line in lines)
    mass = mass_text(grams) if known else f"over {mass_text(grams)}"
    return Facts(
        assembly.title or "Assembly", assembly.number, assembly.revision, "as listed", mass, assembly.unit,
        "as the parts say", "each part by itself, in its own job", True,
        tuple(n for n in sheet.notes.splitlines() if n.strip()),
    )  # fmt: skip
