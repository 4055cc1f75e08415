"""A field for a formula: the text stays as typed, the value shows beside it, a wrong one changes nothing."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QLabel, QLineEdit, QSizePolicy, QWidget

from ..core.quantity import ExpressionError, evaluate
from ..core.quantity.expression import Scope
from .session import Session
from .theme.dressing import restyle
from .timing import one_shot

#: Milliseconds without a key after which what was typed is tried.
REST = 350


class _Edit(QLineEdit):
    """Tells when it is left, and takes Escape as "as it was"."""

    left = pyqtSignal()
    given_up = pyqtSignal()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.left.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.given_up.emit()
        else:
            super().keyPressEvent(event)


class FormulaField(QWidget):
    """``committed`` carries the new text, once it has a value (``want``: length, angle, number, thread, note)."""

    committed = pyqtSignal(str)
    #: A text that has a value and has rested a moment, not committed yet.
    typed = pyqtSignal(str)
    given_up = pyqtSignal()

    def __init__(self, session: Session, want: str, text: str, label: str) -> None:
        super().__init__()
        self._session, self._want, self._text = session, want, text
        self.field = _Edit(text)
        self.field.setObjectName("formula")
        self.field.setAccessibleName(label)
        self._value, self._error = QLabel(), QLabel()
        self._value.setObjectName("faint")
        self._value.setMinimumWidth(62)
        self._error.setObjectName("bad")
        self._error.setWordWrap(True)
        self._error.hide()
        layout = QGridLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setHorizontalSpacing(6)
        layout.setVerticalSpacing(2)
        layout.addWidget(self.field, 0, 0)
        layout.addWidget(self._value, 0, 1)
        layout.addWidget(self._error, 1, 0, 1, 2)
        self.field.setCursorPosition(0)
        self.field.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.field.textChanged.connect(self._preview)
        self.field.returnPressed.connect(self._commit)
        self.field.left.connect(self._commit)
        self.field.given_up.connect(self._revert)
        self._rest = one_shot(self, REST)
        self._rest.timeout.connect(self._tell)
        self.field.textEdited.connect(lambda _: self._rest.start())
        self._preview()

    def show_text(self, text: str) -> None:
        """The model's text has changed elsewhere; what is being typed stays."""
        untouched = self.field.text() == self._text
        self._text = text
        if (untouched or not self.field.hasFocus()) and self.field.text() != text:
            self.field.setText(text)
            self.field.setCursorPosition(0)  # a long one is read from its beginning
        self._preview()

    def _scope(self) -> Scope:
        return self._session.content.ledger()

    def _try(self, text: str) -> str:
        """The value as words; raises what makes it wrong."""
        style = self._session.content.header.style
        if self._want in ("thread", "note") or not text.strip():
            return ""
        value = evaluate(text, self._scope(), self._want)
        if self._want == "length":
            return f"= {style.length(value)}"
        return f"= {style.angle(value)}" if self._want == "angle" else f"= {value:g}"

    def _preview(self) -> None:
        try:
            self._value.setText(self._try(self.field.text()))
            self._show_error("")
        except ExpressionError:
            self._value.setText("…")

    def _tell(self) -> None:
        text = self.field.text()
        if text == self._text or not text.strip():
            return
        try:
            self._try(text)
        except ExpressionError:
            return
        self.typed.emit(text)

    def _commit(self) -> None:
        self._rest.stop()
        text = self.field.text()
        if text == self._text:
            self._show_error("")
            return
        try:
            self._try(text)
        except ExpressionError as error:
            self._show_error(f"{error.message} The old value {self._text or '(none)'} stays.")
            self.field.setCursorPosition(error.position)
            return
        self._text = text
        self._show_error("")
        self.committed.emit(text)

    def _show_error(self, words: str) -> None:
        self._error.setText(words)
        self._error.setVisible(bool(words))
        if bool(self.field.property("bad")) != bool(words):
            self.field.setProperty("bad", bool(words))
            restyle(self.field)

    def _revert(self) -> None:
        self._rest.stop()
        self.field.setText(self._text)
        self.given_up.emit()
        self._show_error("")
