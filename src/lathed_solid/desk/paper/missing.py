"""What no sheet of a document has yet, and what this one has but cannot show."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout

from ..lists import titled
from ..pages import Form
from .drawing import SheetDrawing


class Missing(Form):
    def __init__(self, drawing: SheetDrawing) -> None:
        super().__init__()
        self._drawing = drawing
        self.list, self.put, self._told = QListWidget(), QPushButton("Put all on this sheet"), QLabel()
        self.list.setAccessibleName(f"{drawing.noun.capitalize()}s not on a sheet")
        self.list.setMaximumHeight(96)
        self.list.setToolTip("Double-click puts one on the sheet, by the view that shows it best")
        self.list.itemDoubleClicked.connect(lambda item: drawing.write([item.data(Qt.ItemDataRole.UserRole)]))
        self.put.clicked.connect(lambda: drawing.write(self._not_on_any()))
        self._told.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        for widget in (titled("Not on a sheet"), self._told, self.list, self.put):
            layout.addWidget(widget)
        drawing.changed.connect(self.refresh)
        self.refresh()

    def _not_on_any(self) -> list[int]:
        there = {e.number for s in self._drawing.sheets for e in s.labels}
        return [n for n in self._drawing.written if n not in there]

    def refresh(self) -> None:
        drawing, written, missing = self._drawing, self._drawing.written, self._not_on_any()
        unseen = drawing.composed.unseen if drawing.composed is not None else ()
        self.list.clear()
        for number, why in (*((n, "") for n in missing), *((n, "  (in no view)") for n in unseen)):
            item = QListWidgetItem(f"{number}   {written.get(number, '')}{why}")
            item.setData(Qt.ItemDataRole.UserRole, number)
            self.list.addItem(item)
        has = bool(missing or unseen)
        self.list.setVisible(has)
        self.put.setVisible(bool(missing) and drawing.sheet is not None)
        noun = drawing.noun
        words = f"Every {noun} is on a sheet." if written else f"There are no {noun}s yet."
        many = len(missing) + len(unseen)
        self._told.setText(f"{many} of {len(written)} {noun}s:" if has else words)
