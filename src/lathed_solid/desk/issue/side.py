"""Beside the sheet: which one, its paper and scale, callouts on no sheet, and the files it goes into."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QFormLayout,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...core.callout.words import pretty
from ...core.drafting.sheet.changing import set_sheet, show_holes
from ...core.drafting.sheet.model import Sheet
from ...core.drafting.sheet.paper import INCH_SCALES, SCALES, SIZES
from ...core.issue.drawing.files import FILES
from ...core.job import sheeting
from ...core.plan.shop import Shop
from ...core.standards.speeds import ToolMaterial
from ..paper.card import ViewCard
from ..paper.doing import Doings
from ..session import Session
from ..session.revising import issue_revision
from .drawing import PartDrawing

_CAUTION = "A drawn part is not an approved part: have it checked by whoever answers for its use."


class IssueSide(QWidget):
    """``focus_wanted``: the sheet itself is to have the keyboard; ``picture_wanted``: a rendered one of the part.
    ``preview`` shows the sheets as they will be printed, ``shop`` gives the shop's own figures for the package.
    """

    focus_wanted = pyqtSignal()
    picture_wanted = pyqtSignal()

    def __init__(
        self, session: Session, drawing: PartDrawing, doings: Doings, preview: Callable[[], None],
        shop: Callable[[], tuple[Shop, ToolMaterial]],
    ) -> None:  # fmt: skip
        super().__init__()
        self._shop = shop
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._drawing = session, drawing
        self.which, self.paper, self.scale = QComboBox(), QComboBox(), QComboBox()
        self.new, self.remove = QPushButton("New sheet"), QPushButton("Remove")
        self.balloons, self.holes, self.notes = QCheckBox("Balloons"), QCheckBox("Table of holes"), QLineEdit()
        self.running = QCheckBox("Lengths from one end on one line")
        self.running.setToolTip("Running dimensions: three lengths or more that begin at one end, each told at its own")
        self.view = ViewCard(drawing, doings)
        self.missing, self.put = QListWidget(), QPushButton("Put all on this sheet")
        self._missing_words = QLabel()
        self.files = {form: QPushButton(words) for form, words in FILES.items()}
        self.print, self.picture = QPushButton("Print …"), QPushButton("Picture …")
        self.revision, self.pack = QComboBox(), QPushButton("Package …")
        self._set_up(preview)
        self._lay_out()
        drawing.changed.connect(self.refresh)
        session.edited.connect(self._refresh_seen)
        self.refresh()

    def _set_up(self, preview: Callable[[], None]) -> None:
        for field, name in (
            (self.which, "Which sheet"), (self.paper, "Paper"), (self.scale, "Scale of the sheet"),
            (self.notes, "Notes on the sheet"), (self.missing, "Callouts not on a sheet"),
        ):  # fmt: skip
            field.setAccessibleName(name)
        self.paper.addItems(list(SIZES))
        self.scale.setEditable(True)
        self.notes.setPlaceholderText("one note; more with a bar | between")
        self.missing.setMaximumHeight(96)
        self.missing.setToolTip("Double-click puts one on the sheet, by the view that shows it best")
        self.balloons.setToolTip("The callout’s number in a circle, as the inspection report has it")
        self.which.activated.connect(self._on_which)
        self.new.clicked.connect(self._on_new)
        self.remove.clicked.connect(self._on_remove)
        self.paper.textActivated.connect(lambda text: self._set("paper", size=text))
        self.scale.textActivated.connect(lambda text: self._set("scale of the sheet", scale=text.strip()))
        line = self.scale.lineEdit()
        assert line is not None
        line.editingFinished.connect(lambda: self._set("scale of the sheet", scale=self.scale.currentText().strip()))
        self.balloons.toggled.connect(lambda on: self._set("balloons", balloons=on))
        self.running.toggled.connect(lambda on: self._set("running lengths", running=on))
        self.holes.toggled.connect(self._on_holes)
        self.holes.setToolTip("Every hole tagged, with its place from machine zero; the table can be dragged")
        self.notes.editingFinished.connect(lambda: self._set("notes", notes=_lines(self.notes.text())))
        self.missing.itemDoubleClicked.connect(lambda item: self._drawing.write([item.data(Qt.ItemDataRole.UserRole)]))
        self.put.clicked.connect(lambda: self._drawing.write(list(sheeting.not_on_any(self._session.content))))
        for form, button in self.files.items():
            button.clicked.connect(partial(self.write, form))
        self.print.clicked.connect(preview)
        self.picture.clicked.connect(self.picture_wanted)
        self.picture.setToolTip("The part rendered: finish, light, ground; a turn round it; all its parts")
        self.pack.clicked.connect(self.write_package)
        self.revision.setAccessibleName("Revision to be packed")
        self.pack.setToolTip(
            "One folder or zip: sheets, operation sheet and inspection report as PDF, STEP, DXF, a picture, the job, "
            "and a manifest with hashes and what changed"
        )

    def _lay_out(self) -> None:
        top = QHBoxLayout()
        top.addWidget(self.new)
        top.addWidget(self.remove)
        top.addStretch()
        form = QFormLayout()
        form.addRow("Shown", self.which)
        form.addRow("Paper", self.paper)
        form.addRow("Scale", self.scale)
        form.addRow("Notes", self.notes)
        ticks = QHBoxLayout()
        ticks.addWidget(self.balloons)
        ticks.addWidget(self.holes)
        ticks.addStretch()
        form.addRow("", ticks)
        form.addRow("", self.running)
        out = QGridLayout()
        for at, button in enumerate((*self.files.values(), self.print, self.picture)):
            out.addWidget(button, at // 3, at % 3)
        packing = QHBoxLayout()
        packing.addWidget(self.revision, 1)
        packing.addWidget(self.pack)
        caution = QLabel(_CAUTION)
        caution.setObjectName("faint")
        caution.setWordWrap(True)
        self._missing_words.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 10)
        layout.addWidget(_titled("Sheet"))
        layout.addLayout(form)
        layout.addLayout(top)
        layout.addWidget(self.view)
        layout.addWidget(_titled("Not on a sheet"))
        layout.addWidget(self._missing_words)
        layout.addWidget(self.missing)
        layout.addWidget(self.put)
        layout.addStretch()
        layout.addWidget(_titled("Out"))
        layout.addLayout(out)
        layout.addLayout(packing)
        layout.addWidget(caution)

    # --- what is done
    def _set(self, words: str, **fields: object) -> None:
        sheet = self._drawing.sheet
        if sheet is None or all(getattr(sheet, name) == value for name, value in fields.items()):
            return
        if not self._drawing.edit(lambda s: set_sheet(s, **fields), f"{words} changed"):
            self.refresh()

    def _on_holes(self, on: bool) -> None:
        self._drawing.edit(lambda s: show_holes(s, on), "table of holes" if on else "no table of holes")

    def _on_new(self) -> None:
        """While one is being laid out the button rests: the focus must not fall to the next, which writes a file."""
        self.focus_wanted.emit()
        self._drawing.propose()

    def _on_which(self, at: int) -> None:
        self._drawing.look_at(self._session.content.sheets[at].id)

    def _on_remove(self) -> None:
        self._drawing.remove_sheet()

    def write(self, form: str) -> None:
        """Ask where to, and write: all sheets as PDF, this one as anything else."""
        sheet, header = self._drawing.sheet, self._session.content.header
        if sheet is None:
            return
        stem = (header.number or header.name or "part").replace(" ", "-").lower()
        proposed = str(self._session.beside(f"{stem}-{header.revision.lower()}.{form}"))
        name, _ = QFileDialog.getSaveFileName(self, f"Write {FILES[form]}", proposed, f"*.{form}")
        if name:
            path = Path(name)
            path = path if path.suffix.lower() == f".{form}" else path.with_name(f"{path.name}.{form}")
            self._session.write_sheets(path, "" if form == "pdf" else sheet.id)

    def write_package(self) -> None:
        """Issue the revision that is worked on, or take one that was issued, and write all that goes with it."""
        content, issued = self._session.content, self.revision.currentData()
        proof = self._session.current.proof
        if issued is None and (proof is None or proof.any_out):
            why = "is out of limits" if proof is not None else "is not measured"
            words = f"Revision {content.header.revision} {why}: nothing was issued. Prove shows what does not agree."
            self._session.say(words, "bad")
            return
        label = issued or content.header.revision
        proposed = str(self._session.beside(f"{content.header.number or content.header.name or 'part'}-{label}.zip"))
        name, _ = QFileDialog.getSaveFileName(self, "Write the package", proposed, "One file (*.zip);;A folder (*)")
        if name and (issued or issue_revision(self._session)):
            self._session.write_package(Path(name), label, *self._shop())

    # --- what is shown
    def _refresh_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        content, sheet = self._session.content, self._drawing.sheet
        self.which.clear()
        self.which.addItems([_titled_sheet(n, s) for n, s in enumerate(content.sheets, 1)])
        for widget in (
            self.which,
            self.remove,
            self.paper,
            self.scale,
            self.notes,
            self.balloons,
            self.running,
            self.holes,
            self.print,
            *self.files.values(),
        ):
            widget.setEnabled(sheet is not None)
        self.new.setEnabled(not self._drawing.is_proposing and bool(content.steps))
        self.picture.setEnabled(bool(content.steps))
        self._refresh_missing()
        self._refresh_revisions()
        if sheet is None:
            return
        self.which.setCurrentIndex(content.sheets.index(sheet))
        self.paper.setCurrentText(sheet.size)
        if self.scale.count() == 0 or self.scale.itemText(0) not in (SCALES[0], INCH_SCALES[0]):
            self.scale.addItems(INCH_SCALES if content.header.units == "in" else SCALES)
        self.scale.setCurrentText(sheet.scale)
        if not self.notes.hasFocus():
            self.notes.setText(" | ".join(sheet.notes.splitlines()))
        for box, on in (
            (self.balloons, sheet.balloons), (self.running, sheet.running), (self.holes, sheet.holes is not None),
        ):  # fmt: skip
            box.blockSignals(True)
            box.setChecked(on)
            box.blockSignals(False)

    def _refresh_revisions(self) -> None:
        chosen, header = self.revision.currentData(), self._session.content.header
        self.revision.clear()
        self.revision.addItem(f"issue revision {header.revision} now", None)
        for r in reversed(self._session.current.history.state.revisions):
            self.revision.addItem(f"revision {r.label}, {r.date}", r.label)
        self.revision.setCurrentIndex(max(0, self.revision.findData(chosen)))

    def _refresh_missing(self) -> None:
        """Callouts that no sheet has, and those that this sheet has but cannot show."""
        content, composed = self._session.content, self._drawing.composed
        missing = sheeting.not_on_any(content)
        unseen = composed.unseen if composed is not None else ()
        by_number = {c.number: c for c in content.callouts}
        self.missing.clear()
        for number, why in (*((n, "") for n in missing), *((n, "  (no view here shows it)") for n in unseen)):
            item = QListWidgetItem(f"{number}   {pretty(by_number[number].note)}{why}")
            item.setData(Qt.ItemDataRole.UserRole, number)
            self.missing.addItem(item)
        has = bool(missing or unseen)
        self.missing.setVisible(has)
        self.put.setVisible(bool(missing) and self._drawing.sheet is not None)
        many = len(missing) + len(unseen)
        words = "There are no callouts yet." if not content.callouts else "Every callout is on a sheet."
        self._missing_words.setText(words if not has else f"{many} of {len(content.callouts)} callouts:")


def _titled_sheet(number: int, sheet: Sheet) -> str:
    return f"{number}   {sheet.name or sheet.size}, {sheet.scale}"


def _lines(text: str) -> str:
    return "\n".join(part.strip() for part in text.split("|") if part.strip())


def _titled(words: str) -> QLabel:
    label = QLabel(words)
    label.setObjectName("title")
    return label
