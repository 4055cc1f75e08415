"""Questions that must be answered before going on; there are few."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

_ROLES = {
    "accept": QMessageBox.ButtonRole.AcceptRole,
    "destroy": QMessageBox.ButtonRole.DestructiveRole,
    "back": QMessageBox.ButtonRole.RejectRole,
}


def ask(parent: QWidget, title: str, text: str, more: str, answers: dict[str, str], whole: Sequence[str] = ()) -> str:
    """Ask, and return the answer chosen; ``answers`` maps words to ``accept``, ``destroy`` or ``back``. What is too
    long to be read at once, the ``whole`` list of lines, is opened by a button.

    Escape is the answer that goes back.
    """
    box = QMessageBox(parent)
    box.setWindowTitle(title)
    box.setText(text)
    box.setInformativeText(more)
    if whole:
        box.setDetailedText("\n".join(whole))
    buttons = {words: box.addButton(words, _ROLES[role]) for words, role in answers.items()}
    box.exec()
    back = next(words for words, role in answers.items() if role == "back")
    chosen = box.clickedButton()
    box.deleteLater()
    return next((words for words, button in buttons.items() if button is chosen), back)


def ask_to_write(parent: QWidget, title: str, name: str, kinds: str) -> Path | None:
    """Where to write a file; None when the question was left."""
    chosen, _ = QFileDialog.getSaveFileName(parent, title, name, kinds)
    return Path(chosen) if chosen else None
