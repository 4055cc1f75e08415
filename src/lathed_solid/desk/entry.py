"""The bar at the foot: the entry line that reads notes and finds actions, the message, the readout."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QLineEdit, QListWidget, QSizePolicy, QVBoxLayout, QWidget

from ..core.callout import NoteError, Reading, asks, in_words, odd
from ..core.callout.words import completed_words
from ..core.job import edits
from ..core.quantity import ExpressionError
from ..core.refusal import Refusal, worded
from ..core.sketch.model import Sketch
from ..core.sketch.refusal import SketchError
from ..core.sketch.typed.commands import Command, is_change, is_command, read_command
from .actions import Action, ActionList
from .session import Session, Tone
from .timing import one_shot

#: So much of a message fits the bar, characters; the rest is in its tool tip.
SHOWN = 300


class Sentences(Protocol):
    """Reads relations between parts that are written into the line; ``told`` and ``take`` raise Refusal."""

    def is_one(self, text: str) -> bool: ...

    def told(self, text: str) -> str: ...

    def take(self, text: str) -> bool: ...

    def left(self) -> None: ...


class _Line(QLineEdit):
    def __init__(self, bar: EntryBar) -> None:
        super().__init__()
        self._bar = bar

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self._bar.step(1 if event.key() == Qt.Key.Key_Down else -1)
        elif event.key() == Qt.Key.Key_Escape:
            self.clear()
        else:
            super().keyPressEvent(event)


class EntryBar(QWidget):
    """Typing shows what the text means; Enter takes it as a callout, draws it, or runs the action chosen.

    ``drawn`` carries the drawing command given.
    """

    drawn = pyqtSignal(object)

    def __init__(self, session: Session, actions: ActionList) -> None:
        super().__init__()
        self.setObjectName("bar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._actions = session, actions
        #: The sketch that drawing commands go to; the window says which.
        self.sketch_on_plate: Callable[[], Sketch | None] = lambda: None
        #: What reads relations between parts, while an assembly is shown; the window says so.
        self.sentences: Callable[[], Sentences | None] = lambda: None
        self.line = _Line(self)
        self.line.setPlaceholderText("Note or action  (Ctrl+E)")
        self.line.setAccessibleName("Entry line")
        self.line.setFixedWidth(400)
        self.preview = QLabel()
        self.preview.setWordWrap(True)
        # What is said must fit the bar; it must never make the window wider.
        self.preview.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._readout, self._unit = QLabel(), QLabel()
        self._readout.setMinimumWidth(230)
        self._readout.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._readout.setObjectName("readout")
        self._unit.setObjectName("unit")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 6, 14, 6)
        layout.setSpacing(12)
        layout.addWidget(self.line)
        layout.addWidget(self.preview, 1)
        layout.addWidget(self._readout)
        layout.addWidget(self._unit)
        self.setFixedHeight(46)
        self._popup = QFrame(self.window())
        self._popup.setObjectName("popup")
        self._list = QListWidget(self._popup)
        self._list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._list.itemClicked.connect(lambda _: self._run())
        holder = QVBoxLayout(self._popup)
        holder.setContentsMargins(4, 4, 4, 4)
        holder.addWidget(self._list)
        self._popup.hide()
        self._found: list[Action] = []
        self._is_note = False
        self._fade = one_shot(self, 9000)
        self._fade.timeout.connect(lambda: self._tell("", "plain"))
        self.line.textChanged.connect(self._on_text)
        self.line.returnPressed.connect(self._run)
        session.message.connect(self.tell)
        session.withdrawn.connect(lambda text: self._tell("", "plain") if self.preview.toolTip() == text else None)
        session.edited.connect(self._unit_changed)

    # --- messages and readout
    def tell(self, text: str, tone: Tone) -> None:
        self._tell(text, tone)
        if tone in ("plain", "good"):
            self._fade.start()
        else:
            self._fade.stop()

    def _tell(self, text: str, tone: str) -> None:
        # The bar is dark in both schemes, so its tones do not follow the palette.
        sign = {"good": "✓ ", "warn": "! ", "bad": "✗ "}.get(tone, "")
        color = {"good": "#7FD1A0", "warn": "#F2C14E", "bad": "#FF9B8A"}.get(tone, "#E9E6DE")
        shown = text if len(text) <= SHOWN else f"{text[:SHOWN]} …"
        self.preview.setText(sign + shown if text else "")
        self.preview.setToolTip(text[:4000])
        self.preview.setStyleSheet(f"color: {color}; font-size: {8 if len(text) > 120 else 9}pt;")

    def read_out(self, words: str) -> None:
        self._readout.setText(words)
        self._unit.setText(self._session.content.header.style.unit if words else "")

    def _unit_changed(self) -> None:
        """A place read out in another unit than the job's now would be wrong by 25.4."""
        if self._unit.text() not in ("", self._session.content.header.style.unit):
            self.read_out("")

    # --- typing
    def focus_line(self) -> None:
        self.line.setFocus()
        self.line.selectAll()

    def _on_text(self, text: str) -> None:
        if (sentences := self._ties(text)) is not None:
            self._preview_relation(sentences, text)
            return
        if self._draws(text):
            self._preview_command(text)
            return
        self._found = self._actions.search(text) if len(text) > 1 else []
        self._is_note = False
        if not text.strip():
            self._tell("", "plain")
            self._show_popup([])
            return
        note, _, label = text.partition(";")
        try:
            reading = self._session.content.ledger().try_note(note.strip())
        except NoteError as error:
            if self._found:
                self._tell("", "plain")
            else:
                self._tell(error.message, "warn")
        else:
            self._is_note = True
            named = f", “{label.strip()}”" if label.strip() else ""
            self._tell_reading(reading, named)
            self._fade.stop()
        self._show_popup([] if self._is_note else self._found)

    def _draws(self, text: str) -> bool:
        """A command for the plate with something behind its first word; the word alone still finds actions.

        Words that change a sketch are only taken for that while a sketch lies on the plate.
        """
        changes = is_change(text) and self.sketch_on_plate() is not None
        return (is_command(text) or changes) and len(text.split()) > 1

    def _ties(self, text: str) -> Sentences | None:
        """What reads a text as a relation between parts; one word alone still finds actions."""
        sentences = self.sentences()
        if sentences is None:
            return None
        if sentences.is_one(text) and len(text.split()) > 1:
            return sentences
        sentences.left()
        return None

    def _preview_relation(self, sentences: Sentences, text: str) -> None:
        """Say what a relation would tie, or what of it cannot be read."""
        self._show_popup([])
        try:
            self._tell(sentences.told(text), "plain")
        except Refusal as error:
            self._tell(self._session.words_of(error), "warn")
        self._fade.stop()

    def _run_relation(self, sentences: Sentences, text: str) -> None:
        try:
            if sentences.take(text):
                self.line.clear()
        except Refusal as error:
            self._tell(self._session.words_of(error), "bad")

    def _preview_command(self, text: str) -> None:
        """Say what a drawing command would draw, or what does not fit."""
        self._show_popup([])
        try:
            self._tell(f"Draws {self._command(text).words}.", "plain")
        except Refusal as error:
            self._tell(worded(error.message, self._session.content.header.units), "warn")
        self._fade.stop()

    def _command(self, text: str) -> Command:
        """Raises ExpressionError, or SketchError when no sketch lies on the plate."""
        sketch = self.sketch_on_plate()
        if sketch is None:
            raise SketchError("Drawing by typing needs a sketch on the plate: go to Shape and add or choose one.")
        return read_command(text, self._session.content.ledger(), sketch.turned, sketch)

    def _run_command(self, text: str) -> None:
        try:
            command = self._command(text)
        except Refusal as error:
            self._tell(self._session.words_of(error), "bad")
            if isinstance(error, ExpressionError):
                self.line.setCursorPosition(min(error.position, len(text)))
            return
        self.line.clear()
        self.drawn.emit(command)

    def _tell_reading(self, reading: Reading, named: str) -> None:
        """The words; under them what is unusual, what is still to be asked, or what a standard completes."""
        style = self._session.content.header.style
        words = f"{in_words(reading, style)}{named}."
        if warnings := odd(reading, style, self._session.part_size):
            self._tell(f"{words}\n{warnings[0]}", "warn")
        elif questions := asks(reading):
            self._tell(f"{words}\n{questions[0]}", "warn")
        elif completed := completed_words(reading, style):
            self._tell(f"{words}\n{';  '.join(completed)}", "plain")
        else:
            self._tell(words, "plain")

    def _show_popup(self, actions: list[Action]) -> None:
        if not actions:
            self._popup.hide()
            return
        self._list.clear()
        for action in actions[:9]:
            self._list.addItem(f"{action.title}    {action.keys}" + ("" if action.enabled() else "   (not now)"))
        self._list.setCurrentRow(0)
        height = 16 + self._list.sizeHintForRow(0) * self._list.count()
        window = self.window()
        assert window is not None
        self._popup.setParent(window)
        top = self.mapTo(window, QPoint(self.line.x(), 0))
        self._popup.setGeometry(top.x(), top.y() - height - 4, 400, height)
        self._popup.raise_()
        self._popup.show()

    def step(self, by: int) -> None:
        if self._popup.isVisible():
            self._list.setCurrentRow((self._list.currentRow() + by) % self._list.count())

    def _run(self) -> None:
        text = self.line.text().strip()
        if (sentences := self._ties(text)) is not None:
            self._run_relation(sentences, text)
        elif self._draws(text):
            self._run_command(text)
        elif self._popup.isVisible():
            action = self._found[self._list.currentRow()]
            self.line.clear()
            if action.enabled():
                action.run()
            else:
                self._session.say(f"“{action.title}” cannot be done just now.", "warn")
        elif text:
            self._take_note(text)

    def _take_note(self, text: str) -> None:
        note, _, label = text.partition(";")
        try:
            content, number = edits.add_callout(self._session.content, note, label)
        except NoteError as error:
            self._tell(str(error), "bad")
            self.line.setCursorPosition(min(error.position, len(text)))
            return
        self.line.clear()
        self._session.take(content, f"callout {number} added")
        self._session.select_callout(number)
        self._session.say(f"Callout {number} added.", "good")
