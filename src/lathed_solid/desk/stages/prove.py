"""The Prove stage: every characteristic measured and judged, what nobody explains, mass, revisions."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QShowEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QFormLayout,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QListWidget,
    QPushButton,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ...core.callout.words import pretty
from ...core.issue.formats import FORMATS
from ...core.job import edits
from ...core.job.model import Content
from ...core.job.revisions import changes_since
from ...core.prove.binding import Binding, suggest_gauge
from ...core.prove.proof import Proof, ProofLine
from ...core.prove.tabular import deviation, figure, in_style, row_of
from ...core.quantity.style import mass as mass_text
from ..picking import Picking
from ..session import Session
from ..session.revising import issue_revision
from ..sheet.marks import WORDS, draw_mark
from ..theme.dressing import call
from ..theme.palette import Palette

HEADINGS = ("", "Note", "What", "Nominal", "Limits", "Measured", "Off by", "Remark")
MARK = Qt.ItemDataRole.UserRole
#: Buttons of formats in a row.
_OUT = 3


class ProofModel(QAbstractTableModel):
    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session

    @property
    def lines(self) -> tuple[ProofLine, ...]:
        proof = self._session.current.proof if self._session.jobs else None
        return proof.lines if proof else ()

    def refresh(self) -> None:
        self.beginResetModel()
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.lines)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return len(HEADINGS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if role == Qt.ItemDataRole.DisplayRole:
            return HEADINGS[section] if orientation == Qt.Orientation.Horizontal else str(self.lines[section].number)
        return None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        line = self.lines[index.row()]
        if role == MARK:
            return line.mark
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() in (3, 4, 5, 6):
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if role == Qt.ItemDataRole.ToolTipRole:
            used = f", {100 * line.used:.0f} % of the band used" if line.measured is not None else ""
            return f"{WORDS[line.mark]}{used}. Limits: {line.basis}. {line.message}"
        if role == Qt.ItemDataRole.DisplayRole:
            return self._text(line, index.column())
        return None

    def _text(self, line: ProofLine, column: int) -> str:
        row = row_of(line, in_style(self._session.content.header.style))
        texts = ("", pretty(row.note), row.what, row.nominal, row.limits, row.measured, row.deviation, row.remark)
        return texts[column]


class _MarkDelegate(QStyledItemDelegate):
    def __init__(self, palette: Palette, parent: QWidget) -> None:
        super().__init__(parent)
        self.palette = palette

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        super().paint(painter, option, index)
        assert painter is not None
        draw_mark(
            painter,
            QPointF(option.rect.center().x() + 1, option.rect.center().y() + 1),
            index.data(MARK),
            self.palette,
            6.5,
        )


class ProofTable(QWidget):
    """The table of characteristics; choosing a row shows its faces on the part."""

    #: Why a row is out of limits is asked: its callout and key.
    why_wanted = pyqtSignal(tuple)

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self.model = ProofModel(session, self)
        self.view = QTableView()
        self.view.setModel(self.model)
        self.view.setAccessibleName("Proof")
        self._delegate = _MarkDelegate(palette, self)
        self.view.setItemDelegateForColumn(0, self._delegate)
        self.view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.view.setShowGrid(False)
        self.view.setWordWrap(False)
        header, rows = self.view.horizontalHeader(), self.view.verticalHeader()
        assert header is not None and rows is not None
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        for column, width in enumerate((26, 108, 76, 66, 136, 74, 58)):
            self.view.setColumnWidth(column, width)
        header.setStretchLastSection(True)
        header.setHighlightSections(False)
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        rows.setDefaultSectionSize(25)
        self._empty = QLabel("No solid to prove yet. Build one in the Shape stage.")
        self._empty.setObjectName("faint")
        self._empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.view)
        self.told = QLabel()
        self.told.setWordWrap(True)
        self.told.setContentsMargins(12, 6, 12, 8)
        self.told.hide()
        self.why = QPushButton("Why is it out?")
        self.why.setToolTip("Builds the mistakes that are usually made, and lists those that would bring it in")
        self.why.clicked.connect(self._ask_why)
        self.why.hide()
        beneath = QHBoxLayout()
        beneath.addWidget(self.told, 1)
        beneath.addWidget(self.why)
        layout.addLayout(beneath)
        layout.addWidget(self._empty, 1)
        selection = self.view.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._on_row)
        session.proved.connect(self.refresh)
        session.switched.connect(self.refresh)
        session.selected.connect(self._show_selected)

    def dress(self, palette: Palette) -> None:
        self._delegate.palette = palette

    def refresh(self) -> None:
        self.model.refresh()
        self.view.setVisible(bool(self.model.lines))
        self._show_selected()
        self._tell()
        self._empty.setVisible(not self.model.lines)

    def current_line(self) -> ProofLine | None:
        row = self.view.currentIndex().row()
        return self.model.lines[row] if 0 <= row < len(self.model.lines) else None

    def _tell(self) -> None:
        """The remark on the chosen row, whole: its column is narrow."""
        line = self.current_line()
        self.told.setVisible(line is not None and (bool(line.message) or line.mark == "out"))
        self.why.setVisible(line is not None and line.mark == "out" and line.measured is not None)
        if line is not None:
            self.told.setText(f"Callout {line.number}: {line.message or 'out of limits.'}")
            QTimer.singleShot(0, self._in_sight)  # when the table has made way for the remark

    def _ask_why(self) -> None:
        if (line := self.current_line()) is not None:
            self.why_wanted.emit((line.number, line.key))

    def _in_sight(self) -> None:
        self.view.scrollTo(self.view.currentIndex())

    def _on_row(self, current: QModelIndex, _: QModelIndex) -> None:
        self._tell()
        if current.isValid():
            self._session.select_callout(self.model.lines[current.row()].number)

    def _show_selected(self) -> None:
        line = self.current_line()
        if self._session.callout is None or (line and line.number == self._session.callout):
            return
        rows = [i for i, x in enumerate(self.model.lines) if x.number == self._session.callout]
        if rows:
            worst = ("out", "open", "near", "in")
            self.view.selectRow(min(rows, key=lambda i: worst.index(self.model.lines[i].mark)))


class ProofFigures(QWidget):
    """Right column of Prove: mass and box, what nobody explains, binding by hand, revisions, export."""

    #: Why a stated figure does not agree is asked.
    why_wanted = pyqtSignal()

    def __init__(self, session: Session, picking: Picking, table: ProofTable, export: Callable[[str], None]) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._picking, self._table = session, picking, table
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 9, 12, 10)
        layout.setSpacing(6)
        self._figures = QFormLayout()
        self._figures.setSpacing(4)
        self._loose, self._bind = QListWidget(), QPushButton("Bind to picked faces")
        self._loose.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._loose.setAccessibleName("Faces that no callout explains, callouts that are not used")
        self._loose.setMaximumHeight(120)
        self._loose.setWordWrap(True)
        self._loose.itemClicked.connect(self._show_loose)
        self._bind.clicked.connect(self.bind)
        self._bind.setToolTip("Measure the chosen row on the faces picked on the part (Ctrl+click picks more)")
        self._since = QComboBox()
        self._since.setAccessibleName("Changes since revision")
        self._since.activated.connect(self._show_changes)
        self._changes = QLabel()
        self._changes.setObjectName("faint")
        self._changes.setWordWrap(True)
        freeze = QPushButton("Issue this revision")
        freeze.clicked.connect(self.issue)
        layout.addWidget(_titled("Figures"))
        layout.addLayout(self._figures)
        self._why = QPushButton("Why?")
        self._why.setToolTip("Builds the mistakes that are usually made, and lists those that would close the gap")
        self._why.clicked.connect(self.why_wanted)
        layout.addWidget(self._why)
        layout.addSpacing(4)
        layout.addWidget(_titled("Not explained"))
        layout.addWidget(self._loose)
        layout.addWidget(self._bind)
        layout.addSpacing(4)
        layout.addWidget(_titled("Changed since"))
        row = QHBoxLayout()
        row.addWidget(self._since, 1)
        row.addWidget(freeze)
        layout.addLayout(row)
        layout.addWidget(self._changes)
        layout.addStretch()
        layout.addWidget(_titled("Out"))
        grid = QGridLayout()
        for at, form in enumerate(FORMATS.values()):
            button = QPushButton(form.short or form.title)
            button.clicked.connect(lambda _, f=form.id: export(f))
            grid.addWidget(button, at // _OUT, at % _OUT)
        layout.addLayout(grid)
        caution = QLabel("A proven model is not an approved part: have it checked by whoever answers for its use.")
        caution.setObjectName("faint")
        caution.setWordWrap(True)
        layout.addWidget(caution)
        session.proved.connect(self.refresh)
        session.switched.connect(self.refresh)
        session.edited.connect(self._revisions)

    def refresh(self) -> None:
        self._loose.clear()
        proof = self._session.current.proof
        self._bind.setEnabled(proof is not None)
        self._why.setVisible(proof is not None and any(c.mark == "out" for c in proof.stated))
        self._show_figures(self._figure_rows(proof) if proof is not None else [])
        if proof is not None:
            for note in proof.unexplained:
                self._loose.addItem(f"{note.words}: no callout")
            for number in proof.unused:
                self._loose.addItem(f"callout {number}: not used")
            if not self._loose.count():
                self._loose.addItem("Every face has a callout, every callout is used.")
        self._revisions()

    def _figure_rows(self, proof: Proof) -> list[tuple[str, str]]:
        style, m, where = self._session.content.header.style, proof.mass, self._session.current.machine
        size = "Size" if where.is_level else "Size, own axes"
        rows = [
            ("Volume", m.volume_text(style)),
            ("Mass", mass_text(proof.grams)),
            ("Centre of mass", ", ".join(style.fixed(v) for v in where.machine(m.center))),
            (size, " × ".join(style.length(v) for v in where.sizes(m.low, m.high))),
        ]
        for check in proof.stated:
            stated = (
                f"{check.stated:g} g" if check.kind == "mass" else figure(check.stated, check.kind, style, unit=True)
            )
            words = {"in": "agrees", "out": "does not agree"}[check.mark]
            rows.append((f"Stated {check.what}", f"{stated}\n{words}, {deviation(check, style)}"))
        return rows

    def _show_figures(self, rows: list[tuple[str, str]]) -> None:
        """Said anew in the labels that are there: made anew they would be gone for a moment after every edit."""
        while self._figures.rowCount() > len(rows):
            self._figures.removeRow(self._figures.rowCount() - 1)
        while self._figures.rowCount() < len(rows):
            value = QLabel()
            value.setAlignment(Qt.AlignmentFlag.AlignRight)
            value.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            self._figures.addRow(QLabel(), value)
        for at, texts in enumerate(rows):
            for role, text in zip((QFormLayout.ItemRole.LabelRole, QFormLayout.ItemRole.FieldRole), texts, strict=True):
                item = self._figures.itemAt(at, role)
                label = item.widget() if item is not None else None
                assert isinstance(label, QLabel)
                label.setText(text)
                if role == QFormLayout.ItemRole.FieldRole:
                    call(label, "bad" if "does not" in text else "figures")

    def _show_loose(self) -> None:
        """Show the face on the part, or the callout on the sheet."""
        proof, row = self._session.current.proof, self._loose.currentRow()
        if proof is None:
            return
        if row < len(proof.unexplained):
            self._picking.show([proof.unexplained[row].index])
        elif row - len(proof.unexplained) < len(proof.unused):
            self._session.select_callout(proof.unused[row - len(proof.unexplained)])

    def bind(self) -> None:
        """Bind the chosen characteristic to the picked faces."""
        line, picking = self._table.current_line(), self._picking
        if line is None or not picking.faces:
            self._session.say("Choose a row of the proof and pick its faces on the part first.", "warn")
            return
        picked = []
        for index in picking.faces:
            figure = picking.figure(index)
            assert figure is not None
            picked.append((picking.reference(index).name, figure))

        def change(content: Content) -> Content:
            gauge = suggest_gauge(line.kind, picked, line.nominal)
            return edits.bind(content, Binding(line.number, line.key, gauge))

        if self._session.edit(change, f"callout {line.number} bound by hand"):
            self._session.say(f"Callout {line.number} is measured on the picked faces.", "good")

    # --- revisions
    def showEvent(self, event: QShowEvent | None) -> None:
        self._revisions()

    def _revisions(self) -> None:
        """What has changed since is worked out while it is seen only."""
        if not self.isVisible():
            return
        labels = [r.label for r in self._session.current.history.state.revisions]
        chosen = self._since.currentText()
        self._since.clear()
        self._since.addItems(labels)
        if chosen in labels:
            self._since.setCurrentText(chosen)
        elif labels:
            self._since.setCurrentIndex(len(labels) - 1)
        self._show_changes()

    def _figures_now(self) -> tuple[float | None, float | None]:
        proof = self._session.current.proof
        return (proof.mass.volume, proof.grams) if proof else (None, None)

    def _show_changes(self) -> None:
        label = self._since.currentText()
        if not label:
            self._changes.setText("No revision has been issued yet.")
            return
        found = changes_since(self._session.current.history.state, label, *self._figures_now())
        lines = [c.words for c in found[:8]]
        if len(found) > 8:
            lines.append(f"and {len(found) - 8} more")
        self._changes.setText("\n".join(lines) or "Nothing has changed.")
        self._changes.setToolTip("\n".join(c.words for c in found))

    def issue(self) -> None:
        issue_revision(self._session)


def _titled(words: str) -> QLabel:
    label = QLabel(words)
    label.setObjectName("title")
    return label
