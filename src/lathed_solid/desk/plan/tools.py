"""The tab Tools: what the sizes ask for, what of it is in the crib, and how fast it may begin to run."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.plan.shop import with_crib, with_top_speed
from ...core.plan.tooling import Tool, running, tools
from ...core.plan.zero import OWN
from ...core.quantity import evaluate
from ...core.quantity.expression import Plain
from ...core.refusal import Refusal
from ...core.standards.speeds import ToolMaterial, source
from ..lists import plain_table
from ..session import Session
from .planning import Planning

_HEADS = ("In the crib", "Tool", "Callouts", "Turns a minute", "What for")
_MATERIALS: tuple[tuple[ToolMaterial, str], ...] = (("hss", "high-speed steel"), ("carbide", "carbide"))
_CAUTION = (
    "Speeds are to begin with; the tool maker's and the machine's limits come first. Guards on, eyes covered, no "
    "gloves or loose sleeves at a spindle, never leave the key in the chuck, never measure what moves. Local rules and "
    "somebody qualified decide."
)


class ToolsPanel(QWidget):
    """The tick in the first column is the shop's own list, kept for all jobs."""

    def __init__(self, session: Session, planning: Planning) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._planning, self._filling = session, planning, False
        self.tools: tuple[Tool, ...] = ()
        self.of = QComboBox()
        self.of.setAccessibleName("Drills and cutters of")
        for value, words in _MATERIALS:
            self.of.addItem(words, value)
        self.of.activated.connect(lambda _: planning.set_tools_of(self.of.currentData()))
        self.top = QLineEdit()
        self.top.setAccessibleName("The machine's highest speed")
        self.top.setPlaceholderText("not known")
        self.top.setMaximumWidth(90)
        self.top.editingFinished.connect(self._on_top)
        self.table = self._table()
        self.state, caution = QLabel(), QLabel(_CAUTION)
        for label in (self.state, caution):
            label.setObjectName("faint")
            label.setWordWrap(True)
        bar = QHBoxLayout()
        for widget in (QLabel("Drills and cutters of"), self.of, QLabel("Machine runs at most"), self.top):
            bar.addWidget(widget)
        bar.addStretch()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(bar)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.state)
        layout.addWidget(caution)
        planning.changed.connect(self.refresh)

    def _table(self) -> QTableWidget:
        table = plain_table("Tools", _HEADS, wide=len(_HEADS) - 1)
        table.itemChanged.connect(self._on_item)
        table.cellClicked.connect(self._on_row)
        return table

    # --- what is chosen
    def _on_row(self, row: int, _: int) -> None:
        if self.tools[row].callouts:
            self._session.select_callout(self.tools[row].callouts[0])

    def _on_item(self, item: QTableWidgetItem) -> None:
        if self._filling or item.column():
            return
        has = item.checkState() == Qt.CheckState.Checked
        self._take(lambda shop: with_crib(shop, self.tools[item.row()].name, has))

    def _on_top(self) -> None:
        text = self.top.text().strip()
        if text == self._top_text():
            return
        self._take(lambda shop: with_top_speed(shop, evaluate(text, Plain("mm"), "number") if text else 0.0))

    def _take(self, change: object) -> None:
        try:
            self._planning.set_shop(change(self._planning.shop))  # type: ignore[operator]
        except Refusal as error:
            self._session.refuse(error)
            self.refresh()

    # --- what is shown
    def _top_text(self) -> str:
        top = self._planning.shop.top_speed
        return f"{top:g}" if top else ""

    def refresh(self) -> None:
        content, job, shop = self._session.content, self._session.current, self._planning.shop
        surfaces = job.shown.surfaces if job.shown is not None else ()
        turned, style = self._planning.plan.turned, content.header.style
        self.tools = tools(content.ledger(), surfaces, job.machine if surfaces else OWN, style, turned)
        if not self.top.hasFocus():
            self.top.setText(self._top_text())
        self._filling = True
        self.table.setRowCount(len(self.tools))
        material, of = content.header.material.name, self._planning.of
        self.of.setCurrentIndex(self.of.findData(of))
        for row, tool in enumerate(self.tools):
            tick = QTableWidgetItem()
            tick.setFlags(Qt.ItemFlag.ItemIsUserCheckable | Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
            tick.setCheckState(Qt.CheckState.Checked if tool.name in shop.crib else Qt.CheckState.Unchecked)
            self.table.setItem(row, 0, tick)
            run = running(tool, material, of, shop.top_speed)
            turns = "" if run is None else f"{_plain(run.turns)}{' (machine)' if run.is_capped else ''}"
            numbers = ", ".join(map(str, tool.callouts))
            for column, text in enumerate((tool.name, numbers, turns, tool.why), 1):
                self.table.setItem(row, column, QTableWidgetItem(text))
        self._filling = False
        self.state.setText(self._told(material))

    def _told(self, material: str) -> str:
        if not self.tools:
            return "Type callouts: the tools they ask for are listed here."
        missing = [t.name for t in self.tools if t.name not in self._planning.shop.crib]
        lacks = (
            f"{len(missing)} of {len(self.tools)} are not ticked as in the crib." if missing else "All are in the crib."
        )
        if running(self.tools[0], material, "hss", 0.0) is None:
            return f"{lacks} No cutting speed is known for {material}."
        return f"{lacks} n = 1000 v / (π d), v for {material.lower()}: {source()}."


def _plain(turns: float) -> str:
    """Two figures are enough: nobody sets a spindle closer."""
    digits = max(0, len(f"{turns:.0f}") - 2)
    return f"{round(turns, -digits):.0f}"
