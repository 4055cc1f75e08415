"""The drawing sheets of the assembly: what they are drawn from, and where their changes go."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from ...core.drafting.sheet.compose import Composed
from ...core.drafting.sheet.model import Sheet
from ...core.drafting.sheet.seen import Seen
from ...core.fit.mass import bill
from ...core.fit.model import Assembly
from ...core.issue.drawing.assembly.sheet import drawn, homes
from ...core.quantity import Style
from ..paper.drawing import SheetDrawing, Sheets, views_of
from .document import FitDocument


class _Asked(NamedTuple):
    """What views show depends on: the parts, where they stand, how they are seen."""

    parts: object
    instances: object
    unit: str
    views: tuple[object, ...]
    hidden: tuple[bool, ...]


def _asked(assembly: Assembly, sheet: Sheet) -> _Asked:
    hidden = tuple(v.hidden for v in sheet.views)
    return _Asked(assembly.parts, assembly.instances, assembly.unit, views_of(sheet), hidden)


class AssemblyDrawing(SheetDrawing):
    subject, noun = "assembly", "item"
    has_faces = False

    def __init__(self, document: FitDocument) -> None:
        super().__init__(document.session)
        self._of = document
        #: Which assembly's sheet is being drawn, and laid out: another may be opened meanwhile.
        self._drawn_of: object = None
        self._laid_out_of: object = None
        document.changed.connect(self._on_changed)
        document.session.fitting.sheet_seen.connect(self._on_seen)
        document.session.fitting.sheet_proposed.connect(self._on_proposed)

    @property
    def sheets(self) -> Sheets:
        return self._of.assembly.sheets

    @property
    def written(self) -> Mapping[int, str]:
        return {line.item: line.part.called for line in bill(self._of.assembly)}

    @property
    def style(self) -> Style:
        return Style(self._of.assembly.unit)

    @property
    def is_turned(self) -> bool:
        return False

    @property
    def is_there(self) -> bool:
        return any(not i.hidden for i in self._of.assembly.instances)

    def flat(self) -> None:
        return None

    def _document(self) -> object:
        return self._of.history

    def _asked(self, sheet: Sheet) -> _Asked:
        return _asked(self._of.assembly, sheet)

    def _ask(self, sheet: Sheet) -> None:
        self._drawn_of = self._document()
        self.session.fitting.see_sheet(self._of.assembly, sheet)

    def _ask_new(self, id_: str) -> None:
        self._laid_out_of = self._document()
        self.session.fitting.propose_sheet(self._of.assembly, id_)

    def _put_together(self, sheet: Sheet, seen: Seen) -> Composed:
        return drawn(self._of.assembly, sheet, seen, self.sheets.index(sheet) + 1, len(self.sheets))

    def _change(self, change: Callable[[Sheets], Sheets], words: str) -> bool:
        return self._of.edit(lambda a: replace(a, sheets=change(a.sheets)), words)

    def _homes(self, numbers: Sequence[int], sheet: Sheet, seen: Seen) -> Mapping[int, str]:
        return {n: v for n, v in homes(seen, sheet).items() if n in numbers}

    def _tell_of(self, sheet: Sheet) -> None:
        many, unseen = len(sheet.labels), len(self.composed.unseen) if self.composed is not None else 0
        more = f" {unseen} {'is' if unseen == 1 else 'are'} in no view: see “Not on a sheet”." if unseen else ""
        self.session.say(f"Sheet of {len(sheet.views)} views at {sheet.scale}, {many - unseen} items.{more}", "good")

    def _choose(self, number: int) -> None:
        """All instances of that line of the bill."""
        assembly = self._of.assembly
        own = next((line.part.id for line in bill(assembly) if line.item == number), "")
        self._of.choose_instance(*(i.id for i in assembly.instances if i.part == own))

    def _on_changed(self) -> None:
        """Moments of a drive, and what is only tried, are not drawn."""
        if self._of.tried is None:
            self.refresh()

    def _on_seen(self, assembly: Assembly, sheet: Sheet, seen: Seen | None, is_all: bool) -> None:
        if is_all:
            self._take(self._drawn_of, sheet, _asked(assembly, sheet), seen)
        elif seen is not None:
            self._grow(self._drawn_of, sheet, seen)

    def _on_proposed(self, assembly: Assembly, sheet: Sheet | None, seen: Seen | None) -> None:
        self._take_new(self._laid_out_of, sheet, seen, lambda made: _asked(assembly, made))
