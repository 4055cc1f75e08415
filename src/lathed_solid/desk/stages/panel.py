"""What Prove's panels have in common."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from ..session import Session


class SeenPanel(QWidget):
    """Brought up to date when it comes into sight, and while it is in sight whenever the session has news."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        for signal in (session.proved, session.edited, session.switched):
            signal.connect(self._refresh_seen)

    def showEvent(self, event: QShowEvent | None) -> None:
        self.refresh()

    def _refresh_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        raise NotImplementedError
