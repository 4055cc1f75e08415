"""Panels that cost nothing while nobody looks at them."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtBoundSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from .session import Session


class SeenPanel(QWidget):
    """Brought up to date when it comes into sight, and while it is in sight whenever there is ``news`` (by default that
    the job was edited, proved, or changed for another).
    """

    def __init__(self, session: Session, *news: pyqtBoundSignal) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        for signal in news or (session.proved, session.edited, session.switched):
            signal.connect(self._refresh_seen)

    def showEvent(self, event: QShowEvent | None) -> None:
        self.refresh()

    def _refresh_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        raise NotImplementedError
