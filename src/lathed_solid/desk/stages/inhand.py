"""The tab Part in hand: what is measured on the real part beside what was asked for and what the solid has."""

from __future__ import annotations

import datetime
from collections.abc import Callable

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.caliper.instrument import WAYS, Way
from ...core.caliper.logbook import LogEntry
from ...core.callout.words import pretty
from ...core.job import reading
from ...core.prove.inhand import MASS, VERDICTS, InHand, Size, Verdict, judged, newest, pieces
from ...core.prove.proof import ProofLine
from ...core.prove.tabular import figure, in_style, row_of
from ...core.quantity import ExpressionError, evaluate
from ...core.quantity.expression import Plain
from ...core.quantity.style import mass
from ...core.refusal import worded
from ..bench.capture import Capture
from ..lists import plain_table
from ..seen import SeenPanel
from ..session import Session
from ..sheet.marks import draw_mark
from ..theme.palette import Palette

_HOW = (
    "Choose a size, type what the instrument reads (several readings with spaces between them) and press Enter; or "
    "connect an instrument in Read and press its button. The part is called good only where the reading with all its "
    "uncertainty lies inside the limits."
)
_HEADS = ("", "No.", "Note", "What", "Nominal", "Limits", "Solid", "", "Part in hand", "Verdict")
_WIDTHS = (26, 36, 78, 62, 66, 126, 60, 26, 112)
_MARK = Qt.ItemDataRole.UserRole
#: Verdicts in a narrow column; whole beneath the hands.
_SHORT: dict[Verdict, str] = {"good": "within", "bad": "outside", "unsure": "cannot tell", "none": "not judged"}
_MARKS: dict[Verdict, str] = {"good": "in", "bad": "out", "unsure": "near", "none": "open"}
#: How a size of a kind is usually touched.
_DEPTHS = ("depth", "drill_depth", "seat_depth")


class _Marks(QStyledItemDelegate):
    def __init__(self, palette: Palette, parent: QWidget) -> None:
        super().__init__(parent)
        self.palette = palette

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: object) -> None:
        super().paint(painter, option, index)  # type: ignore[arg-type]
        mark = index.data(_MARK)  # type: ignore[attr-defined]
        if painter is not None and mark:
            middle = option.rect.center()
            draw_mark(painter, QPointF(middle.x() + 1, middle.y() + 1), mark, self.palette, 6.0)


class InHandPanel(SeenPanel):
    """``None`` among the sizes stands for the mass."""

    def __init__(self, session: Session, capture: Capture, palette: Palette) -> None:
        super().__init__(session)
        self._capture = capture
        self._lines: tuple[ProofLine | None, ...] = ()
        self._found: dict[Size, InHand] = {}
        self.table = plain_table("The part in hand", _HEADS, wide=9)
        self._delegate = _Marks(palette, self)
        for column in (0, 7):
            self.table.setItemDelegateForColumn(column, self._delegate)
        header = self.table.horizontalHeader()
        assert header is not None
        header.setMinimumSectionSize(20)
        for column, width in enumerate(_WIDTHS):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Interactive)
            self.table.setColumnWidth(column, width)
        self.table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.table.itemSelectionChanged.connect(self._on_chosen)
        self.state = QLabel(_HOW)
        self.state.setWordWrap(True)
        self.state.setObjectName("faint")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.setSpacing(6)
        layout.addLayout(self._hands())
        layout.addWidget(self.state)
        layout.addWidget(self.table, 1)
        capture.taker = self._sent
        capture.changed.connect(lambda: self.ask.setEnabled(capture.connected))
        session.switched.connect(self._other_job)

    def dress(self, palette: Palette) -> None:
        self._delegate.palette = palette

    def _hands(self) -> QHBoxLayout:
        self.piece, self.way, self.field = QComboBox(), QComboBox(), QLineEdit()
        self.piece.setEditable(True)
        self.piece.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.piece.setAccessibleName("Piece")
        self.piece.setToolTip("Which part is in hand, where there are several: a number or a name")
        self.piece.currentTextChanged.connect(self._refresh_seen)
        line = self.piece.lineEdit()
        assert line is not None
        line.setPlaceholderText("piece")
        for way, touch in WAYS.items():
            self.way.addItem(touch.title, way)
        self.way.setAccessibleName("Way of touching")
        self.way.setToolTip("How the instrument lies on the part")
        self.field.setAccessibleName("Reading of the part")
        self.field.setPlaceholderText("reading, Enter")
        self.field.setObjectName("formula")
        self.field.returnPressed.connect(self._on_typed)
        self.ask = QPushButton("Read")
        self.ask.setToolTip("Ask the connected instrument for a reading (its own data button does the same)")
        self.ask.clicked.connect(self._capture.ask_reading)
        row = QHBoxLayout()
        row.addWidget(QLabel("Piece"))
        row.addWidget(self.piece, 2)
        row.addSpacing(10)
        row.addWidget(self.way, 3)
        row.addWidget(self.field, 3)
        row.addWidget(self.ask)
        return row

    # --- what is chosen
    @property
    def in_hand(self) -> str:
        """The piece that is measured."""
        return self.piece.currentText().strip()

    @property
    def row(self) -> int:
        return self.table.currentRow()

    @property
    def chosen(self) -> ProofLine | None:
        """The size that is measured next; None for the mass, or when nothing is chosen."""
        return self._lines[self.row] if 0 <= self.row < len(self._lines) else None

    @property
    def is_mass(self) -> bool:
        return 0 <= self.row < len(self._lines) and self._lines[self.row] is None

    def _on_chosen(self) -> None:
        line = self.chosen
        if line is not None:
            self._session.select_callout(line.number)
        self.way.setCurrentIndex(self.way.findData(self._usual(line) if not self.is_mass else "weight"))
        self._tell()

    def _usual(self, line: ProofLine | None) -> Way:
        """How a size is usually touched."""
        shown = self._session.current.shown
        if line is None or shown is None:
            return "outside"
        if line.kind == "thread":
            return "thread"
        if line.key in _DEPTHS:
            return "depth"
        touched = [shown.surfaces[i - 1] for i in line.faces if 0 < i <= len(shown.surfaces)]
        return "inside" if line.kind == "diameter" and any(s.hollow for s in touched) else "outside"

    # --- readings
    def _on_typed(self) -> None:
        texts = self.field.text().replace(";", " ").split()
        if not texts:
            return
        try:
            values = [self._value(t) for t in texts]
        except (ExpressionError, ValueError) as error:
            words = error.message if isinstance(error, ExpressionError) else "a reading is a number above zero."
            self._session.say(f"“{self.field.text().strip()}” is no reading: {words}", "bad")
            self.field.selectAll()
            return
        if self.log(values):
            self.field.clear()

    def _value(self, text: str) -> float:
        value = float(text) if self.is_mass else evaluate(text, Plain(self._session.content.header.units))
        if not 0 < value < 1e5:
            raise ValueError(text)
        return value

    def _sent(self, value: float) -> bool:
        """A reading sent while the part in hand is looked at belongs to the chosen size, a weight to the mass."""
        if not self.isVisible() or value <= 0:
            return False
        weighed = self._capture.instrument.kind == "scale"
        if weighed and not self.is_mass:
            self.table.selectRow(self.table.rowCount() - 1)
        if not weighed and self.is_mass:
            self._session.say("This reading is a length: choose the size that it is of, and measure again.", "warn")
        else:
            self.log([value])
        return True

    def log(self, values: list[float]) -> bool:
        """Write readings (mm, or g) of the chosen size into the logbook, and go on to the next one."""
        line = self.chosen
        if line is None and not self.is_mass:
            self._session.say("Choose the size that was measured first.", "warn")
            return False
        way: Way = "weight" if line is None else self.way.currentData()
        instrument = self._capture.instrument_for(way)
        made = LogEntry(
            id="", when=datetime.datetime.now().isoformat(timespec="microseconds"), instrument=instrument.name, way=way,
            values=tuple(values), operator=self._capture.operator, feature=line.note if line is not None else "mass",
            conclusion="part in hand", callout=line.number if line is not None else None,
            resolution=instrument.resolution, error=instrument.error, key=line.key if line is not None else "",
            piece=self.in_hand,
        )  # fmt: skip
        words = f"reading of callout {line.number}" if line is not None else "weighed"
        if not self._session.edit(lambda c: reading.log(c, made), words):
            return False
        self.table.selectRow(min(self.row + 1, self.table.rowCount() - 1))
        return True

    # --- what is shown
    def refresh(self) -> None:
        content, proof = self._session.content, self._session.current.proof
        before = self.row
        lines = proof.lines if proof is not None else ()
        self._lines = (*(x for x in lines if x.kind != "count"), *((None,) if lines else ()))
        self._fill_pieces(pieces(content.logbook))
        self._found = self._judged(newest(content.logbook, self.in_hand))
        self.table.blockSignals(True)
        self.table.setRowCount(len(self._lines))
        for at, line in enumerate(self._lines):
            self._fill(at, *(self._mass_row() if line is None else self._row(line)))
        if 0 <= before < len(self._lines):
            self.table.selectRow(before)
        self.table.blockSignals(False)
        self.ask.setEnabled(self._capture.connected)
        self._tell()

    def _fill(self, at: int, cells: tuple[str, ...], model: str, part: str) -> None:
        """A row: its texts, the mark of the model and that of the part."""
        for column, text in enumerate(cells):
            item = QTableWidgetItem(text)
            if column in (4, 5, 6, 8):
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            item.setData(_MARK, {0: model, 7: part}.get(column, ""))
            item.setToolTip(text)
            self.table.setItem(at, column, item)

    def _fill_pieces(self, found: list[str]) -> None:
        text = self.piece.currentText()
        if [self.piece.itemText(k) for k in range(self.piece.count())] == found:
            return
        self.piece.blockSignals(True)
        self.piece.clear()
        self.piece.addItems(found)
        self.piece.setEditText(text)
        self.piece.blockSignals(False)

    def _other_job(self) -> None:
        """The piece that was measured last in this job."""
        log = self._session.content.logbook
        self.piece.setEditText(max(log, key=lambda e: e.when).piece if log else "")

    def _judged(self, read: dict[Size, LogEntry]) -> dict[Size, InHand]:
        """What was read of the piece in hand, judged."""
        stated = self._session.content.header.stated
        found = {}
        for line in self._lines:
            size = (line.number, line.key) if line is not None else MASS
            if (entry := read.get(size)) is not None:
                limits = (line.lower, line.upper) if line is not None else stated.mass_limits
                found[size] = judged(entry, line.kind if line is not None else "mass", *limits)
        return found

    def _row(self, line: ProofLine) -> tuple[tuple[str, ...], str, str]:
        style = self._session.content.header.style
        row, found = row_of(line, in_style(style)), self._found.get((line.number, line.key))
        read, said, mark = self._told(found, lambda v: figure(v, line.kind, style))
        asked = str(line.number), pretty(row.note), row.what, row.nominal, row.limits
        return ("", *asked, row.measured, "", read, said), line.mark, mark

    def _mass_row(self) -> tuple[tuple[str, ...], str, str]:
        proof, stated = self._session.current.proof, self._session.content.header.stated
        assert proof is not None
        check = next((c for c in proof.stated if c.what == "mass"), None)
        read, said, mark = self._told(self._found.get(MASS), mass)
        nominal = mass(stated.mass) if stated.mass else ""
        cells = ("", "", "mass", "mass", nominal, "", mass(proof.grams), "", read, said)
        return cells, check.mark if check is not None else "open", mark

    def _told(self, found: InHand | None, told: Callable[[float], str]) -> tuple[str, str, str]:
        """The reading, the verdict and its mark."""
        if found is None:
            return "", "", "open"
        return f"{told(found.mean)} ± {told(found.sure)}", _SHORT[found.verdict], _MARKS[found.verdict]

    def _tell(self) -> None:
        if not self._found:
            self.state.setText(_HOW)
            return
        verdicts = [f.verdict for f in self._found.values()]
        words = [f"{len(verdicts)} of {len(self._lines)} measured"]
        words += [f"{verdicts.count(v)} {VERDICTS[v]}" for v in ("good", "bad", "unsure") if v in verdicts]
        line, said = self.chosen, WAYS[self.way.currentData()].mind
        own = self._found.get(MASS if self.is_mass else (line.number, line.key) if line is not None else (0, ""))
        if own is not None:
            told = worded(own.words, self._session.content.header.style.unit)
            said = " ".join(filter(None, (f"This one: {VERDICTS[own.verdict]}.", told)))
        self.state.setText(f"{', '.join(words)}. {said}")
