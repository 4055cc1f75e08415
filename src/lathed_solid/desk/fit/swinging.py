"""How the chosen part moves: its free ways one after another, shown in the view and with arrows."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QPushButton

from ...core.fit.freedom import Motion
from ...core.fit.model import Assembly
from .document import FitDocument

#: Between two pictures (ms).
_PACE = 40


class Swinging(QPushButton):
    """Pressed, it shows the next of the ways; pressed while one is shown, it stops."""

    def __init__(self, document: FitDocument) -> None:
        super().__init__()
        self._document = document
        self._of, self._way, self._at = "", 0, 0
        self._film: tuple[Assembly, ...] = ()
        self._asked: Assembly | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(_PACE)
        self._timer.timeout.connect(self._next)
        self.setToolTip("Takes it along what is free, and brings it back; nothing is changed")
        self.clicked.connect(self._on_clicked)
        document.session.fitting.swung.connect(self._on_swung)
        document.changed.connect(self._on_changed)
        document.selected.connect(self.refresh)
        self.refresh()

    @property
    def motions(self) -> tuple[Motion, ...]:
        """The free ways of the chosen part."""
        free = self._document.freedom(self._document.instance) if len(self._document.chosen) == 1 else None
        return free.motions if free is not None else ()

    def refresh(self) -> None:
        if self._of != self._document.instance:
            self.stop()
            self._of, self._way = self._document.instance, 0
        many = len(self.motions)
        self.setEnabled(many > 0)
        if self._film:
            self.setText("Stop")
        else:
            self.setText(f"Show way {self._way + 1} of {many}" if many > 1 else "Show how it moves")

    def stop(self) -> None:
        self._timer.stop()
        self._asked = None
        if self._film:
            self._film = ()
            self._document.look_away()

    def _on_clicked(self) -> None:
        if self._film or self._asked is not None:
            self.stop()
            self.refresh()
            return
        document = self._document
        self._asked = document.assembly
        document.session.fitting.swing(document.assembly, document.instance, self._way)

    def _on_swung(self, assembly: Assembly, film: tuple[Assembly, ...]) -> None:
        if assembly is not self._asked:
            return
        self._asked = None
        if not film:
            self._document.session.say("It does not go that way from where it stands.", "warn")
            return
        self._film, self._at = film, 0
        self._timer.start()
        self.refresh()

    def _next(self) -> None:
        if not self.isVisible() or self._at >= len(self._film):
            self.stop()
            self._way = (self._way + 1) % max(1, len(self.motions))
            self.refresh()
            return
        self._document.show_moment(self._film[self._at])
        self._at += 1

    def _on_changed(self) -> None:
        """An edit ends the show."""
        if self._document.tried is None and self._film:
            self._timer.stop()
            self._film = ()
        if self._document.tried is None:
            self.refresh()
