"""The table of a family as it is shown: names, what differs, and what came of each member."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple
from weakref import WeakKeyDictionary

import msgspec
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap

from ...core.callout.words import pretty
from ...core.job import members
from ...core.job.family import Line, check_cell, check_name
from ...core.job.model import Content, FamilyTable, Member, part_of
from ...core.plan.blank import Blank
from ...core.plan.shop import Shop
from ...core.quantity.style import mass
from ...core.refusal import Refusal
from ..session import Session
from ..session.documents import OpenJob
from ..sheet.marks import WORDS, draw_mark
from ..theme.palette import Palette

#: Columns before and after those of the callouts.
_BEFORE = 1
_AFTER = ("State", "Volume", "Mass", "Cut from", "Price", "Remark")
_STATES = {"proved": "proved", "open": "not all measured", "out": "out of limits", "failed": "not made"}


class Came(NamedTuple):
    """What came of a member, of which part and cells, and by which plan of its blank and which shop's tables."""

    line: Line
    part: Content
    member: Member
    blank: Blank | None
    shop: Shop


class FamilyModel(QAbstractTableModel):
    """Rows are the members of the job worked on. What came of one counts only while part and cells are the same."""

    def __init__(self, session: Session, palette: Palette, shop: Callable[[], Shop], parent: QObject) -> None:
        super().__init__(parent)
        self._session, self._palette, self._shop = session, palette, shop
        self._came: WeakKeyDictionary[OpenJob, dict[str, Came]] = WeakKeyDictionary()
        #: The table as it is shown; the job's own may be ahead of it until the next refresh.
        self.table = FamilyTable()
        self._fresh: dict[str, Line] = {}
        self.refresh()

    def refresh(self) -> None:
        """Told anew only when rows or columns are others: a cell that is being typed in must stay."""
        table = self._session.content.family
        if (table.columns, len(table.members)) != (self.table.columns, len(self.table.members)):
            self.beginResetModel()
            self.table = table
            self._sift()
            self.endResetModel()
        elif table.members:
            self.table = table
            self._sift()
            self.dataChanged.emit(self.index(0, 0), self.index(self.rowCount() - 1, self.columnCount() - 1))
            self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, self.columnCount() - 1)

    def _sift(self) -> None:
        """What came of the members as they stand now. What came in one run came of one part: that is compared once."""
        part = part_of(self._session.content)
        self._fresh = {}
        if not self._came.get(self._session.current):
            return  # the shop's tables are not asked for before something came
        blank, shop = self._session.content.blank, self._shop()
        same: dict[int, bool] = {}
        for member in self.table.members:
            came = self._came.get(self._session.current, {}).get(member.name)
            if came is not None and (came.member, came.blank, came.shop) == (member, blank, shop):
                if id(came.part) not in same:
                    same[id(came.part)] = came.part == part
                if same[id(came.part)]:
                    self._fresh[member.name] = came.line

    def dress(self, palette: Palette) -> None:
        self._palette = palette
        self.refresh()

    def took(self, job: OpenJob, came: Came) -> None:
        """Keep what came of a member of a job."""
        self._came.setdefault(job, {})[came.member.name] = came
        if job is self._session.current:
            self.refresh()

    def came(self, member: Member) -> Line | None:
        """What came of a member as it stands now."""
        return self._fresh.get(member.name)

    def number(self, column: int) -> int | None:
        """The callout of a column; None for the others."""
        at = column - _BEFORE
        return self.table.columns[at] if 0 <= at < len(self.table.columns) else None

    # --- Qt's table
    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.table.members)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return _BEFORE + len(self.table.columns) + len(_AFTER)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if orientation != Qt.Orientation.Horizontal or role != Qt.ItemDataRole.DisplayRole:
            return None
        number = self.number(section)
        if number is not None:
            return f"{number}  {pretty(self._note(number))}"
        return "Member" if section < _BEFORE else _AFTER[section - _BEFORE - len(self.table.columns)]

    def _note(self, number: int) -> str:
        return next((c.note for c in self._session.content.callouts if c.number == number), "").split("\n")[0]

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        able = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        typed = index.column() < _BEFORE or self.number(index.column()) is not None
        return able | Qt.ItemFlag.ItemIsEditable if typed else able

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        member, number = self.table.members[index.row()], self.number(index.column())
        line = self.came(member)
        if role == Qt.ItemDataRole.EditRole:
            return member.text(number) if number is not None else member.name
        if number is not None:
            return self._size(member, number, line, role)
        if role == Qt.ItemDataRole.DisplayRole:
            return member.name if index.column() < _BEFORE else self._figure(line, index.column())
        if role == Qt.ItemDataRole.ToolTipRole and line is not None:
            return line.words or None
        if role == Qt.ItemDataRole.ForegroundRole and line is not None and line.state in ("out", "failed"):
            return self._palette.color("out") if self._heading(index.column()) == "State" else None
        return None

    def _size(self, member: Member, number: int, line: Line | None, role: int) -> object:
        mark, words = line.marks.get(number, ("", "")) if line is not None else ("", "")
        if role == Qt.ItemDataRole.DisplayRole:
            return pretty(member.text(number) or self._note(number))
        if role == Qt.ItemDataRole.ForegroundRole and not member.text(number):
            return self._palette.color("faint")  # as the part is drawn
        if role == Qt.ItemDataRole.DecorationRole and mark:
            return _picture(mark, self._palette)
        if role == Qt.ItemDataRole.ToolTipRole:
            own = "" if member.text(number) else "As the part is drawn. "
            return f"{own}{WORDS[mark].capitalize()}. {words}".strip() if mark else own.strip() or None
        return None

    def _heading(self, column: int) -> str:
        return _AFTER[column - _BEFORE - len(self.table.columns)]

    def _figure(self, line: Line | None, column: int) -> str:
        heading = self._heading(column)
        if line is None:
            return "to be built" if heading == "State" else ""
        style = self._session.content.header.style
        if heading == "Volume":
            return style.volume(line.volume) if line.volume is not None else ""
        if heading == "Mass":
            return mass(line.grams) if line.grams is not None else ""
        if heading == "Cut from":
            return line.stock
        if heading == "Price":
            return f"{line.price:.2f}" if line.price is not None else ""
        return _STATES[line.state] if heading == "State" else line.words

    def setData(self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """A typed name or size; what is refused changes nothing."""
        content, row, number = self._session.content, index.row(), self.number(index.column())
        table, text = content.family, str(value)
        try:
            if number is None:
                others = (m.name for at, m in enumerate(table.members) if at != row)
                made = members.renamed(table, row, check_name(text, others))
            else:
                made = members.with_cell(table, row, number, check_cell(content, number, text))
        except Refusal as error:
            self._session.say(error.said_in(content.header.units), "bad")
            return False
        name = table.members[row].name
        return self.change(made, f"member {name} of the family changed")

    def change(self, table: FamilyTable, words: str) -> bool:
        return self._session.edit(lambda c: msgspec.structs.replace(c, family=table), words)


def _picture(mark: str, palette: Palette) -> QPixmap:
    found = QPixmap(28, 28)
    found.setDevicePixelRatio(2)
    found.fill(QColor(0, 0, 0, 0))
    painter = QPainter(found)
    draw_mark(painter, QPointF(7, 7), mark, palette, 6)
    painter.end()
    return found
