"""Panels that cost nothing while nobody looks at them."""

from __future__ import annotations

from typing import Generic, TypeVar
from weakref import WeakKeyDictionary

from PyQt6.QtCore import Qt, pyqtBoundSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from ..core.job.model import Content, part_of
from .session import Session
from .session.documents import OpenJob


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


Found = TypeVar("Found")


class OfPart(Generic[Found]):
    """What was found of each job's part. It counts only while the part is the one that was asked about."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._kept: WeakKeyDictionary[OpenJob, tuple[Content, Found]] = WeakKeyDictionary()

    def keep(self, job: OpenJob, content: Content, found: Found | None) -> None:
        """None stands for a search that broke off: what is there stays."""
        if found is not None:
            self._kept[job] = (part_of(content), found)

    @property
    def was_sought(self) -> bool:
        """Whether anything was found of the present job's part, as it is or as it was."""
        return self._session.current in self._kept

    @property
    def now(self) -> Found | None:
        """Of the present job's part as it is."""
        kept = self._kept.get(self._session.current)
        return kept[1] if kept is not None and kept[0] == part_of(self._session.content) else None
