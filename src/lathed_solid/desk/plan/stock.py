"""The tab Stock and prices: what the shop has on its rack, and what material costs there. It belongs to no job."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.plan.blank import FORM_WORDS
from ...core.plan.shop import Price, Shop, list_text, with_list, with_prices
from ...core.quantity import evaluate
from ...core.quantity.expression import Plain
from ...core.refusal import Refusal
from ...core.standards.materials import all_materials
from ...core.standards.stock import FORMS, source
from ..lists import plain_table
from ..session import Session
from .planning import Planning

_HEADS = ("Material", "Form", "Size", "Price", "Per")
_UNITS = (("mm", "millimetres"), ("in", "inches"))


class StockPanel(QWidget):
    """Changes are kept at once, for all jobs; they are no edits of one."""

    def __init__(self, session: Session, planning: Planning) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._planning = session, planning
        self._filling = False
        grid = QGridLayout(self)
        grid.setContentsMargins(14, 8, 14, 8)
        grid.setHorizontalSpacing(18)
        grid.addLayout(self._lists(), 0, 0)
        grid.addLayout(self._prices(), 0, 1)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)
        planning.changed.connect(self.refresh)
        self.show_list()
        self.refresh()

    # --- lists
    def _lists(self) -> QVBoxLayout:
        column, row = QVBoxLayout(), QHBoxLayout()
        self.form, self.unit = QComboBox(), QComboBox()
        self.form.setAccessibleName("Form of stock")
        self.unit.setAccessibleName("Unit of the list")
        for form in FORMS:
            self.form.addItem(FORM_WORDS[form].partition(",")[0], form)
        for unit, words in _UNITS:
            self.unit.addItem(words, unit)
        self.form.activated.connect(lambda _: self.show_list())
        self.unit.activated.connect(lambda _: self.show_list())
        row.addWidget(self.form, 1)
        row.addWidget(self.unit, 1)
        self.text = QPlainTextEdit()
        self.text.setAccessibleName("Sizes on the rack")
        self.text.setTabChangesFocus(True)
        buttons = QHBoxLayout()
        self.keep, self.plain = QPushButton("Keep this list"), QPushButton("Standard list")
        self.keep.clicked.connect(lambda: self._keep(self.text.toPlainText()))
        self.plain.clicked.connect(lambda: self._keep(""))
        self.plain.setToolTip("The list as it came with the program")
        buttons.addWidget(self.keep)
        buttons.addWidget(self.plain)
        buttons.addStretch()
        self.told = QLabel()
        self.told.setObjectName("faint")
        self.told.setWordWrap(True)
        column.addLayout(row)
        column.addWidget(self.text, 1)
        column.addLayout(buttons)
        column.addWidget(self.told)
        return column

    def _which(self) -> tuple[str, str]:
        return self.form.currentData(), self.unit.currentData()

    def show_list(self) -> None:
        form, unit = self._which()
        self.text.setPlainText(list_text(self._planning.shop, form, unit))
        own = f"{form}_{unit}" in self._planning.shop.lists
        self.told.setText("Your own list." if own else f"Sizes: {source(form)}.")

    def _keep(self, text: str) -> None:
        form, unit = self._which()
        if self._take(lambda shop: with_list(shop, form, unit, text)):
            self._session.say(f"The list of {FORM_WORDS[form]} is kept.", "good")
            self.show_list()

    def _take(self, change: object) -> bool:
        """Change the shop's tables; False when that was refused."""
        try:
            self._planning.set_shop(change(self._planning.shop))  # type: ignore[operator]
        except Refusal as error:
            self._session.refuse(error)
            return False
        return True

    # --- prices
    def _prices(self) -> QVBoxLayout:
        column = QVBoxLayout()
        self.table = plain_table("Prices", _HEADS, height=24)
        typed = QAbstractItemView.EditTrigger
        self.table.setEditTriggers(typed.DoubleClicked | typed.EditKeyPressed | typed.AnyKeyPressed)
        self.table.cellChanged.connect(self._on_cell)
        self.add, self.remove = QPushButton("Add a price"), QPushButton("Remove")
        self.add.setToolTip("A price of this job's material, by the kilogram")
        self.add.clicked.connect(self.add_price)
        self.remove.clicked.connect(self.remove_chosen)
        self.currency = QLineEdit()
        self.currency.setAccessibleName("Currency")
        self.currency.setPlaceholderText("currency")
        self.currency.setMaximumWidth(90)
        self.currency.editingFinished.connect(self._on_currency)
        buttons = QHBoxLayout()
        for widget in (self.add, self.remove):
            buttons.addWidget(widget)
        buttons.addStretch()
        buttons.addWidget(self.currency)
        how = QLabel("By the kg or the m; form and size may stay empty. The price that says most counts.")
        how.setObjectName("faint")
        how.setWordWrap(True)
        column.addWidget(self.table, 1)
        column.addLayout(buttons)
        column.addWidget(how)
        return column

    def refresh(self) -> None:
        shop = self._planning.shop
        self._filling = True
        self.table.setRowCount(len(shop.prices))
        for row, price in enumerate(shop.prices):
            for column, text in enumerate(_cells(price)):
                self.table.setItem(row, column, QTableWidgetItem(text))
        self._filling = False
        if not self.currency.hasFocus():
            self.currency.setText(shop.currency)
        self.remove.setEnabled(bool(shop.prices))

    def add_price(self) -> None:
        name = self._session.content.header.material.name
        self._take(lambda shop: with_prices(shop, (*shop.prices, Price(material=name))))
        self.table.setCurrentCell(self.table.rowCount() - 1, 3)

    def remove_chosen(self) -> None:
        row = self.table.currentRow()
        self._take(lambda shop: with_prices(shop, tuple(p for k, p in enumerate(shop.prices) if k != row)))

    def _on_cell(self, row: int, column: int) -> None:
        if self._filling:
            return
        item = self.table.item(row, column)
        text = item.text().strip() if item is not None else ""

        def change(shop: Shop) -> Shop:
            made = _with_cell(shop.prices[row], column, text)
            return with_prices(shop, tuple(made if k == row else p for k, p in enumerate(shop.prices)))

        if not self._take(change):
            self.refresh()

    def _on_currency(self) -> None:
        text = self.currency.text().strip()[:8]
        if text != self._planning.shop.currency:
            from msgspec.structs import replace

            self._take(lambda shop: replace(shop, currency=text))


def _cells(price: Price) -> tuple[str, ...]:
    return price.material, price.form, price.size, f"{price.price:g}", price.per


def _with_cell(price: Price, column: int, text: str) -> Price:
    """Raises Refusal for what cannot stand in that column."""
    from msgspec.structs import replace

    if column == 0:
        names = {m.name.casefold(): m.name for m in all_materials()}
        if not text:
            raise Refusal("A price needs a material. Type its name as in the title block.")
        return replace(price, material=names.get(text.casefold(), text))
    if column == 1:
        form = text.casefold()
        if form and form not in (*FORMS, "cast"):
            raise Refusal(f"“{text}” is no form of stock. Type {', '.join(FORMS)} or cast, or leave it empty.")
        return replace(price, form=form)
    if column == 2:
        return replace(price, size=" ".join(text.split()))
    if column == 3:
        return replace(price, price=evaluate(text, Plain("mm"), "number"))
    if text not in ("kg", "m"):
        raise Refusal("A price is by the kg or by the m. Type one of them.")
    return replace(price, per=text)
