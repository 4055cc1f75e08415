"""Right column of Plan: the chosen blank in figures, what must be minded, and the route that begins with it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFormLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...core.plan.choosing import Way
from ...core.plan.cost import Bill, holding
from ...core.quantity.style import mass
from ..session import Session
from .blank import axis_name, named
from .planning import Plan, Planning

_CAUTION = (
    "Measure what is on the rack before you cut. A long bar standing out behind the spindle whips: it must be guided, "
    "and the machine's limits and local rules come first."
)
_ROWS = (
    "Length", "Least section", "Mass", "Chips", "In the part", "From a bar", "Bars", "Price each", "Bought in all",
)  # fmt: skip


class PlanFigures(QWidget):
    """Nothing is worked out here."""

    def __init__(self, session: Session, planning: Planning) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._planning = session, planning
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 9, 12, 10)
        layout.setSpacing(6)
        title = QLabel("Blank")
        title.setObjectName("title")
        self.name = QLabel()
        self.name.setWordWrap(True)
        self.rows = QFormLayout()
        self.rows.setSpacing(4)
        self.values = {name: self._row(name) for name in _ROWS}
        self.holding = QLabel()
        self.holding.setObjectName("faint")
        self.holding.setWordWrap(True)
        self.begin = QPushButton("Begin a route with it")
        self.begin.setToolTip("A route of its own whose first step is this blank, to be cut from the solid")
        self.begin.clicked.connect(planning.begin_route)
        self.rewrite = QPushButton("Cut this route from it")
        self.rewrite.setToolTip("The present route once more, its first body kept out of the blank; later steps stay")
        self.rewrite.clicked.connect(planning.rewrite_route)
        caution = QLabel(_CAUTION)
        caution.setObjectName("faint")
        caution.setWordWrap(True)
        layout.addWidget(title)
        layout.addWidget(self.name)
        layout.addLayout(self.rows)
        layout.addWidget(self.holding)
        layout.addWidget(self.begin)
        layout.addWidget(self.rewrite)
        layout.addStretch()
        layout.addWidget(caution)
        planning.changed.connect(self.refresh)

    def _row(self, words: str) -> QLabel:
        value = QLabel()
        value.setObjectName("figures")
        value.setAlignment(Qt.AlignmentFlag.AlignRight)
        value.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.rows.addRow(words, value)
        return value

    def refresh(self) -> None:
        plan = self._planning.plan
        self.begin.setEnabled(plan.way is not None)
        self.rewrite.setEnabled(plan.way is not None and bool(self._session.content.steps))
        self.holding.setVisible(plan.way is not None and plan.turned)
        figures: dict[str, str] = {}
        if plan.way is None or plan.bill is None or plan.part is None:
            self.name.setText(plan.trouble or "Click a row of the table to choose what the part is cut from.")
        else:
            self.name.setText(f"{named(plan.way)}, along {axis_name(plan.way.along, self._session)}")
            figures = self._figures(plan, plan.way, plan.bill)
            self.holding.setText(holding(plan.part.envelope.size[2], plan.part.envelope.along[2].round.size))
        for name, value in self.values.items():
            value.setText(figures.get(name, ""))
            self.rows.setRowVisible(value, name in figures)

    def _figures(self, plan: Plan, way: Way, bill: Bill) -> dict[str, str]:
        style, currency = self._session.content.header.style, self._planning.shop.currency
        rows = {
            "Length": style.length(way.length, unit=True),
            "Least section": " x ".join(style.length(n) for n in way.lie.needed),
            "Mass": mass(bill.blank),
        }
        if bill.chips is not None and bill.share is not None:
            rows |= {"Chips": mass(bill.chips), "In the part": f"{bill.share:.1%} of what is taken"}
        if way.bars and plan.allowed is not None:
            many = plan.allowed.quantity
            rows |= {
                "From a bar": f"{way.pieces}, {style.length(round(way.rest, 3), unit=True)} left",
                "Bars": f"{way.bars} for {many} piece{'s' * (many != 1)}",
            }
        if bill.each is not None and bill.whole is not None:
            rows |= {
                "Price each": f"{bill.each:.2f} {currency}".strip() + f", {bill.how}",
                "Bought in all": f"{bill.whole:.2f} {currency}".strip(),
            }
        return rows
