"""The tab Blank: the finished size, what is left on for machining, and every way to cut it from stock."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHeaderView,
    QLabel,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.job.model import Content
from ...core.plan.blank import FORM_WORDS, Blank
from ...core.plan.choosing import Way
from ...core.plan.cost import Bill
from ...core.plan.finished import Finished
from ...core.refusal import worded
from ..formula import FormulaField
from ..lists import plain_table
from ..session import Session
from ..theme.dressing import call
from .planning import Plan, Planning

_HEADS = ("Stock", "Along", "Length", "In the part", "From a bar", "Price each")
_KINDS = (("", "as it is drawn"), ("turned", "turned"), ("milled", "milled"))
_LISTS = (("", "as the drawing"), ("mm", "millimetres"), ("in", "inches"))
_SIZES = ("x", "y", "z")
_ALLOWANCES = (
    ("face", "Per face"), ("diameter", "Per diameter"), ("facing", "Facing, each end"), ("chucking", "To be held by"),
    ("cut_off", "Cut-off width"), ("kerf", "Saw kerf"),
)  # fmt: skip


class BlankPanel(QWidget):
    """Each field is an edit of its own; a click on a row chooses that way."""

    def __init__(self, session: Session, planning: Planning) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._planning = session, planning
        self._shown: tuple[Way, ...] = ()
        self.fields: dict[str, FormulaField] = {}
        self._labels: dict[str, QLabel] = {}
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(self._form())
        self.state = QLabel()
        self.state.setWordWrap(True)
        layout.addWidget(self.state)
        layout.addWidget(self._table(), 1)
        planning.changed.connect(self.refresh)

    # --- putting it together
    def _form(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(2)
        self.kind = self._combo("The part is", _KINDS, lambda value: self._set("kind of part", kind=value))
        self.lists = self._combo("Stock lists", _LISTS, lambda value: self._set("stock lists", lists=value))
        self.from_bar = QCheckBox("parted off in the machine")
        self.from_bar.setToolTip("Off: pieces are sawn. On: worked at the bar's end and parted off")
        self.from_bar.clicked.connect(lambda on: self._set("how pieces are cut off", from_bar=on))
        self._place(grid, 0, 0, "The part is", self.kind)
        for column, axis in enumerate(_SIZES, 1):
            self._place(grid, 0, column, axis, self._formula(axis, "length", f"Finished size, {axis.upper()}"))
        for column, (name, words) in zip((0, 0, 1, 2, 3, 3), _ALLOWANCES, strict=True):
            self._place(grid, 2, column, words, self._formula(name, "length", words))
        self._place(grid, 4, 0, "Pieces", self._formula("quantity", "number", "Pieces"))
        self._place(grid, 4, 1, "Bar, as bought", self._formula("bar", "length", "Bar, as bought"))
        self._place(grid, 4, 2, "Stock lists", self.lists)
        self._place(grid, 4, 3, "", self.from_bar)
        for column in range(4):
            grid.setColumnStretch(column, 1)
        return grid

    def _place(self, grid: QGridLayout, row: int, column: int, words: str, widget: QWidget) -> None:
        label = QLabel(words)
        label.setObjectName("faint")
        name = next((n for n, f in self.fields.items() if f is widget), "")
        self._labels[name or words] = label
        grid.addWidget(label, row, column)
        grid.addWidget(widget, row + 1, column, Qt.AlignmentFlag.AlignTop)

    def _combo(self, words: str, choices: tuple[tuple[str, str], ...], take: object) -> QComboBox:
        box = QComboBox()
        box.setAccessibleName(words)
        for value, shown in choices:
            box.addItem(shown, value)
        box.activated.connect(lambda at: take(choices[at][0]))  # type: ignore[operator]
        return box

    def _formula(self, name: str, want: str, label: str) -> FormulaField:
        field = FormulaField(self._session, want, "", label)
        field.committed.connect(lambda text, n=name: self._commit(n, text))
        self.fields[name] = field
        return field

    def _table(self) -> QTableWidget:
        self.table = plain_table("Ways to cut the part from stock", _HEADS, height=24)
        header = self.table.horizontalHeader()
        assert header is not None
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        self.table.cellClicked.connect(lambda row, _: self._choose(row))
        self.table.cellActivated.connect(lambda row, _: self._choose(row))
        return self.table

    # --- what is typed
    def _set(self, what: str, **fields: object) -> None:
        if not self._planning.change(f"blank: {what}", **fields):
            self.refresh()

    def _commit(self, name: str, text: str) -> None:
        blank = self._session.content.planned
        if name in {n for n, _ in _ALLOWANCES}:
            from msgspec.structs import replace

            self._set(name.replace("_", "-"), allowances=replace(blank.allowances, **{name: text}))
        else:
            self._set({"quantity": "pieces", "bar": "bar"}.get(name, f"finished {name.upper()}"), **{name: text})

    def _choose(self, row: int) -> None:
        if row < len(self._shown):
            self._planning.choose(self._shown[row])

    # --- what is shown
    def refresh(self) -> None:
        content, plan = self._session.content, self._planning.plan
        self._show_fields(content.planned, plan)
        self._show_table(content, plan)
        self._tell(content, plan)

    def _show_fields(self, blank: Blank, plan: Plan) -> None:
        self.kind.setCurrentIndex([v for v, _ in _KINDS].index(blank.kind))
        self.lists.setCurrentIndex([v for v, _ in _LISTS].index(blank.lists))
        self.from_bar.setChecked(blank.from_bar)
        for name, field in self.fields.items():
            held = blank.allowances if hasattr(blank.allowances, name) else blank
            field.show_text(getattr(held, name))
        letters = [axis_name(k, self._session) for k in range(3)]
        names = ("diameter", "", "length") if plan.turned else letters
        for axis, label in zip(_SIZES, names, strict=True):
            self._labels[axis].setText(f"Finished {label}")
            self.fields[axis].field.setPlaceholderText(_of_part(plan.part, axis, self._session.content))
        for name, on in (
            ("y", not plan.turned), ("face", not plan.turned), ("diameter", plan.turned), ("cut_off", blank.from_bar),
            ("kerf", not blank.from_bar),
        ):  # fmt: skip
            self.fields[name].setVisible(on)
            self._labels[name].setVisible(on)

    def _show_table(self, content: Content, plan: Plan) -> None:
        self._shown = plan.ways
        self.table.setRowCount(len(plan.ways))
        chosen = plan.way.key if plan.way is not None else None
        for row, (way, bill) in enumerate(zip(plan.ways, plan.bills, strict=True)):
            for column, text in enumerate(_row(way, bill, self._session, self._planning.shop.currency)):
                item = QTableWidgetItem(text)
                if column >= 2:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(row, column, item)
        rows = [r for r, w in enumerate(plan.ways) if w.key == chosen]
        if rows:
            self.table.selectRow(rows[0])
        else:
            self.table.clearSelection()

    def _tell(self, content: Content, plan: Plan) -> None:
        style = content.header.style
        if plan.part is None:
            self.state.setText(plan.trouble)
        else:
            size = [style.length(v) for v in plan.part.envelope.size]
            told = f"Ø{style.length(plan.part.envelope.along[2].round.size)} x {size[2]}"
            words = f"Finished size {told if plan.turned else ' x '.join(size)} {style.unit}, {plan.part.words}."
            if self._planning.is_looking:
                words += " The solid is being looked over."
            self.state.setText(" ".join(filter(None, (words, worded(plan.part.short, style.unit), plan.trouble))))
        bad = bool(plan.trouble) or (plan.part is not None and bool(plan.part.short))
        call(self.state, "warn" if bad else "faint")


def _of_part(part: Finished | None, axis: str, content: Content) -> str:
    """The size in force, to be read in an empty field."""
    if part is None:
        return ""
    style, at = content.header.style, _SIZES.index(axis)
    value = part.envelope.along[2].round.size if part.turned and axis == "x" else part.envelope.size[at]
    return f"{style.length(value)}"


def _row(way: Way, bill: Bill, session: Session, currency: str) -> tuple[str, ...]:
    style = session.content.header.style
    share = f"{bill.share:.0%}" if bill.share is not None else ""
    pieces = f"{way.pieces}, {style.length(round(way.rest, 3))} left" if way.bars else ""
    price = f"{bill.each:.2f} {currency}".strip() if bill.each is not None else ""
    return named(way), axis_name(way.along, session), style.length(way.length), share, pieces, price


def named(way: Way) -> str:
    """The stock as it is asked for."""
    words = FORM_WORDS[way.form]
    sign = "Ø" if way.form in ("round", "tube") else ""
    return f"{words[0].upper()}{words[1:]} {sign}{way.stock.name}"


def axis_name(along: int, session: Session) -> str:
    """What an axis of the part is called in the machine."""
    machine = session.current.machine
    return "XYZ"[machine.axis(along)] if machine.is_level else f"{'XYZ'[along]} of the part"
