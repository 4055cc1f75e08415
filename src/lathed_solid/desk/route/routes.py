"""Several routes for one part, kept side by side: choose one, copy it, compare them."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QInputDialog, QMenu, QToolButton

from ...core.job import edits
from ..session import Session


class RouteButton(QToolButton):
    """Names the route being worked on; its menu holds the others."""

    compare_wanted = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("quiet")
        self.setAccessibleName("Routes of this part")
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self._menu = QMenu(self)
        self._menu.aboutToShow.connect(self.fill)
        self.setMenu(self._menu)

    def refresh(self) -> None:
        content = self._session.content
        self.setText(content.routes[content.route].name)
        count = len(content.routes)
        self.setToolTip(f"{count} route{'s' * (count != 1)} for this part")

    def fill(self) -> None:
        """The menu as things are now."""
        content, menu = self._session.content, self._menu
        menu.clear()
        for at, route in enumerate(content.routes):
            action = menu.addAction(f"{route.name}  ·  {len(route.steps)} steps", partial(self._take, at))
            if action is not None:
                action.setCheckable(True)
                action.setChecked(at == content.route)
        menu.addSeparator()
        compare = menu.addAction("Compare the routes", self.compare_wanted.emit)
        if compare is not None:
            compare.setEnabled(len(content.routes) > 1)
        menu.addAction("Copy this route", self.copy)
        menu.addAction("Begin an empty route", self.begin)
        menu.addAction("Rename …", self._rename)
        remove = menu.addAction("Remove this route", self.remove)
        if remove is not None:
            remove.setEnabled(len(content.routes) > 1)

    def _take(self, at: int) -> None:
        self._session.take_route(at)

    def copy(self) -> None:
        self._session.edit(edits.copy_route, "route copied")

    def begin(self) -> None:
        self._session.edit(edits.begin_route, "route begun")

    def remove(self) -> None:
        self._session.edit(edits.remove_route, "route removed")

    def _rename(self) -> None:
        content = self._session.content
        name, ok = QInputDialog.getText(self, "Route", "Name of this route", text=content.routes[content.route].name)
        if ok and name.strip():
            self._session.edit(lambda c: edits.rename_route(c, name.strip()), "route renamed")
