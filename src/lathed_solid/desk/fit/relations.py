"""The relations of the assembly: what two picked faces could be to each other, and those that there are."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...core.fit.holes import goes_in
from ...core.fit.kinds import KINDS
from ...core.fit.likely import likely
from ...core.fit.model import Assembly, End, Relation, RelationKind
from ...core.quantity import Style
from ...core.refusal import Refusal
from ..lists import fill_row, heading, plain_table
from ..theme.dressing import restyle
from .document import FitDocument

#: Offered first for a hole and what goes into it.
PUT_IN = "put in"
_PICK = (
    "Pick a face on one part, then a face on another: what they are likely to be to each other is tried at once. Or "
    "write it: in line PIN Ø6 with ARM Ø6 hole."
)


class Relations(QWidget):
    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._document = document
        self._note = QLabel()
        self.offer = Offer(document)
        self.table = plain_table("Relations between parts", ("Relation", "Between"), wide=1)
        self.table.currentCellChanged.connect(lambda row, *_: self._on_row(row))
        self.editor = Editor(document)
        head, rule = heading("Relations", self._note)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 8)
        layout.setSpacing(6)
        layout.addLayout(head)
        layout.addWidget(rule)
        layout.addWidget(self.offer)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.editor)
        document.changed.connect(self.refresh)
        document.selected.connect(self._on_selected)
        self.refresh()

    def refresh(self) -> None:
        document = self._document
        if document.tried is not None:
            return
        assembly, lost = document.assembly, document.lost
        self.table.blockSignals(True)
        self.table.setRowCount(len(assembly.relations))
        for row, relation in enumerate(assembly.relations):
            words = "faces gone" if relation.id in lost else "loosened" if relation.loose else ""
            said = f"{relation.kind} {relation.number_words}".strip() + (f" ({words})" if words else "")
            between = f"{assembly.called(relation.a.instance)} – {assembly.called(relation.b.instance)}"
            fill_row(self.table, row, (said, between), lost.get(relation.id, ""))
        self.table.blockSignals(False)
        self._note.setText(str(len(assembly.relations)) if assembly.relations else "")
        self._on_selected()

    def _on_selected(self) -> None:
        ids = [r.id for r in self._document.assembly.relations]
        chosen = self._document.relation
        self.table.blockSignals(True)
        self.table.setCurrentCell(ids.index(chosen) if chosen in ids else -1, 0)
        self._mark_own()
        self.table.blockSignals(False)

    def _mark_own(self) -> None:
        """The relations that hold a chosen part stand out in the list."""
        chosen = set(self._document.chosen)
        for row, relation in enumerate(self._document.assembly.relations):
            own = bool(chosen & {relation.a.instance, relation.b.instance})
            for column in (0, 1):
                if (item := self.table.item(row, column)) is not None and item.font().bold() != own:
                    font = item.font()
                    font.setBold(own)
                    item.setFont(font)

    def _on_row(self, row: int) -> None:
        if 0 <= row < len(self._document.assembly.relations):
            self._document.choose_relation(self._document.assembly.relations[row].id)


class _Value(QLineEdit):
    """A number as it is typed; Escape gives up what was typed."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("formula")
        self.given = ""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.setText(self.given)
        else:
            super().keyPressEvent(event)


class Offer(QWidget):
    """What is picked, and the relation that is tried on it; Take makes it."""

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self.words = QLabel(_PICK)
        self.words.setWordWrap(True)
        self.words.setObjectName("faint")
        self.kind = QComboBox()
        self.kind.setAccessibleName("Relation")
        self.label, self.value = QLabel(), _Value()
        self.value.setAccessibleName("Value of the relation")
        self.round = QCheckBox("Turned round")
        self.round.setToolTip("The other of the two ways in which this can be met")
        self.take = QPushButton("Take it")
        self.instead = QPushButton("Take it, loosen one that is against it")
        self.instead.setToolTip("The newest of those that will do: it is kept in the list, and not obeyed")
        self.instead.clicked.connect(self._make_instead)
        self.trouble = QLabel()
        self.trouble.setObjectName("bad")
        self.trouble.setWordWrap(True)
        self._below = QWidget()
        rows = QVBoxLayout(self._below)
        rows.setContentsMargins(0, 0, 0, 0)
        first, second = QHBoxLayout(), QHBoxLayout()
        first.addWidget(self.kind, 1)
        first.addWidget(self.take)
        second.addWidget(self.label)
        second.addWidget(self.value, 1)
        second.addWidget(self.round)
        rows.addLayout(first)
        rows.addLayout(second)
        rows.addWidget(self.trouble)
        rows.addWidget(self.instead)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 2, 12, 4)
        layout.addWidget(self.words)
        layout.addWidget(self._below)
        self.kind.activated.connect(lambda _: self._by_hand(self._on_kind))
        self.value.textEdited.connect(lambda _: self._by_hand(self._try))
        self.value.returnPressed.connect(self.make)
        self.round.toggled.connect(lambda _: self._by_hand(self._try))
        self.take.clicked.connect(self.make)
        document.selected.connect(self.refresh)
        self._picks: tuple[End, ...] = ()
        self._sided: bool | None = None
        self._asked = False
        self.refresh()

    @property
    def chosen(self) -> RelationKind | None:
        """The relation that is offered; None for several in one go."""
        kind: RelationKind | None = self.kind.currentData()
        return kind if kind in KINDS else None

    @property
    def _goes_in(self) -> bool:
        return bool(self.kind.currentData() == PUT_IN)

    def refresh(self) -> None:
        picks, assembly = self._document.picks, self._document.assembly
        self._below.setVisible(len(picks) == 2)
        if len(picks) < 2:
            self._picks = picks
            told = f"{face_words(assembly, picks[0])}. Now a face on another part." if picks else _PICK
            self.words.setText(told)
            return
        if picks == self._picks:
            return
        self._picks, self._asked = picks, False
        self.words.setText("\n".join(face_words(assembly, p) for p in picks))
        self.kind.clear()
        try:
            offers = likely(assembly, *picks)
        except Refusal as error:
            self._below.hide()
            self.words.setText(error.said_in(assembly.unit))
            return
        if goes_in(assembly, *picks) is not None:
            self.kind.addItem(PUT_IN, PUT_IN)
            self.kind.setItemData(0, "in line with the hole and seated on it, in one go", Qt.ItemDataRole.ToolTipRole)
        for kind in offers:
            self.kind.addItem(kind, kind)
            self.kind.setItemData(self.kind.count() - 1, KINDS[kind].words, Qt.ItemDataRole.ToolTipRole)
        self._on_kind()

    def _by_hand(self, run: Callable[[], None]) -> None:
        self._asked = True
        run()

    def _on_kind(self) -> None:
        if (kind := self.chosen) is None:
            for widget in (self.label, self.value, self.round):
                widget.hide()
            self._told(self._document.put_in(look=True))
            return
        record = KINDS[kind]
        self.label.setText(record.value_label)
        self.label.setVisible(bool(record.value))
        self.value.setVisible(bool(record.value))
        self.round.setVisible(record.sided)
        self.value.setText(record.default or self._document.present(kind))
        self.round.blockSignals(True)
        self.round.setChecked(False)
        self.round.blockSignals(False)
        self._sided = self._document.usual_side(kind)
        self._try()
        if record.value and not record.default:
            self.value.setFocus()
            self.value.selectAll()

    def _side(self) -> bool | None:
        """None: as it is nearer; what is turned round by hand stays so."""
        if self._sided is None or not self.round.isChecked():
            return None
        return not self._sided

    def _try(self) -> None:
        """The relation is looked at on the parts, not made."""
        if (kind := self.chosen) is None or len(self._document.picks) != 2:
            return
        if KINDS[kind].value and not self.value.text().strip() and not KINDS[kind].default and kind != "slot":
            self.trouble.setText("")
            self.take.setEnabled(False)
            self._document.look_away()
            return
        self._told(self._document.look_at(kind, self.value.text(), self._side()))

    def _told(self, words: str) -> None:
        # What nobody asked for is no reproach: faces are picked to be measured as well.
        name = "bad" if self._asked else "faint"
        if self.trouble.objectName() != name:
            self.trouble.setObjectName(name)
            restyle(self.trouble)
        self.trouble.setText(words)
        self.trouble.setVisible(bool(words))
        self.take.setEnabled(not words)
        self.instead.setVisible(bool(self._document.opposing) and self.chosen is not None)

    def _make_instead(self) -> None:
        if (kind := self.chosen) is not None:
            self._document.relate_instead(kind, self.value.text().strip(), self._side())

    def make(self) -> None:
        if self._goes_in and self.take.isEnabled():
            self._document.put_in()
        elif (kind := self.chosen) is not None and self.take.isEnabled():
            self._document.relate(kind, self.value.text().strip(), self._side())


class Editor(QWidget):
    """The chosen relation: its number, its side, whether it is obeyed."""

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setObjectName("faint")
        self.label, self.value = QLabel(), _Value()
        self.value.setAccessibleName("Value of the chosen relation")
        self.low, self.high = _Value(), _Value()
        self._range = QWidget()
        between = QHBoxLayout(self._range)
        between.setContentsMargins(0, 0, 0, 0)
        for words, field, name in (("or free from", self.low, "Least"), ("to", self.high, "Most")):
            field.setAccessibleName(f"{name} that the chosen relation lets through")
            field.setToolTip("Nothing is held in between; what moves comes to a stop here. Empty: no stop")
            field.returnPressed.connect(self._limit)
            between.addWidget(QLabel(words))
            between.addWidget(field, 1)
        self.turn, self.loosen, self.out = QPushButton("Turn round"), QPushButton("Loosen"), QPushButton("Remove")
        self.loosen.setToolTip("Keep it, but do not obey it for now")
        for button, run in ((self.turn, self._turn), (self.loosen, self._loosen), (self.out, document.remove)):
            button.clicked.connect(run)
        self.value.returnPressed.connect(self._commit)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 0, 12, 0)
        layout.addWidget(self.words)
        line, hands = QHBoxLayout(), QHBoxLayout()
        line.addWidget(self.label)
        line.addWidget(self.value, 1)
        for button in (self.turn, self.loosen, self.out):
            hands.addWidget(button)
        layout.addLayout(line)
        layout.addWidget(self._range)
        layout.addLayout(hands)
        document.selected.connect(self.refresh)
        document.changed.connect(self.refresh)
        self.refresh()

    @property
    def _relation(self) -> Relation | None:
        chosen = self._document.relation
        return next((r for r in self._document.assembly.relations if r.id == chosen), None)

    def refresh(self) -> None:
        relation = self._relation
        self.setVisible(relation is not None)
        if relation is None or self._document.tried is not None:
            return
        record = KINDS[relation.kind]
        ends = "\n".join(face_words(self._document.assembly, end) for end in (relation.a, relation.b))
        self.words.setText(self._document.lost.get(relation.id, ends))
        self.label.setText(record.value_label)
        self.label.setVisible(bool(record.value))
        self.value.setVisible(bool(record.value))
        self._range.setVisible(relation.kind in ("distance", "angle"))
        said = ((self.value, relation.value), (self.low, relation.low), (self.high, relation.high))
        for field, text in said:
            if not field.hasFocus() or field.given != text:
                field.given = text
                field.setText(text)
        self.turn.setVisible(record.sided)
        self.loosen.setText("Tighten" if relation.loose else "Loosen")

    def _commit(self) -> None:
        relation = self._relation
        if relation is not None and self.value.text() != relation.value:
            value = self.value.text().strip()
            words = f"{relation.kind} {value}"
            if not self._document.change_relation(relation.id, words, value=value, low="", high=""):
                self.value.setFocus()

    def _limit(self) -> None:
        """A range in place of a number; with both ends empty it holds where it stands."""
        relation = self._relation
        if relation is None:
            return
        low, high = self.low.text().strip(), self.high.text().strip()
        value = "" if low or high else self._document.present_of(relation)
        limited = f"{relation.kind} limited" if low or high else f"{relation.kind} {value}"
        self._document.change_relation(relation.id, limited, value=value, low=low, high=high)

    def _turn(self) -> None:
        if (relation := self._relation) is not None:
            self._document.change_relation(relation.id, f"{relation.kind} turned round", opposed=not relation.opposed)

    def _loosen(self) -> None:
        if (relation := self._relation) is not None:
            words = "tightened" if relation.loose else "loosened"
            self._document.change_relation(relation.id, f"{relation.kind} {words}", loose=not relation.loose)


def face_words(assembly: Assembly, end: End) -> str:
    """What is taken hold of, in words: the part, and which of its faces."""
    if end.instance not in {i.id for i in assembly.instances}:
        return ""
    surface = assembly.part_of(end.instance).surface(end.face)
    words = surface.describe(Style(assembly.unit)) if surface is not None else "a face that is gone"
    return f"{assembly.called(end.instance)}: {words}"
