"""Pages that stand in one place, of which one is shown: stacked, or behind tabs; and forms in them.

Qt asks every page of a stack how high it would be at a width as soon as one of them has a text that wraps, and asks
again for every stack and splitter around it: a word that changed in one panel stopped the window for 50 ms. Here the
pages are asked once, for the least they need.
"""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QStackedWidget, QTabWidget, QWidget


class Pages(QStackedWidget):
    """As wide and as high as its largest page."""

    def hasHeightForWidth(self) -> bool:
        return False

    def sizeHint(self) -> QSize:
        return _largest(page.sizeHint() for page in _pages(self))

    def minimumSizeHint(self) -> QSize:
        return _largest(page.minimumSizeHint().expandedTo(page.minimumSize()) for page in _pages(self))


class Tabs(QTabWidget):
    """Without the line under the bar, which would not follow the palette."""

    def __init__(self) -> None:
        super().__init__()
        self.setDocumentMode(True)
        bar = self.tabBar()
        assert bar is not None
        bar.setDrawBase(False)
        self._bar = bar

    def hasHeightForWidth(self) -> bool:
        return False

    def sizeHint(self) -> QSize:
        pages = _largest(page.sizeHint() for page in _pages(self))
        bar = self._bar.sizeHint()
        return QSize(max(pages.width(), bar.width()), pages.height() + bar.height())

    def minimumSizeHint(self) -> QSize:
        pages = _largest(page.minimumSizeHint().expandedTo(page.minimumSize()) for page in _pages(self))
        bar = self._bar.minimumSizeHint()
        return QSize(max(pages.width(), bar.width()), pages.height() + bar.height())


class Form(QWidget):
    """A part of a side panel: where a text that wraps stands beside fields, and Qt asks for heights by width, the
    fields are pressed together while lists keep their room.
    """

    def hasHeightForWidth(self) -> bool:
        return False


def _pages(of: QStackedWidget | QTabWidget) -> Iterable[QWidget]:
    return filter(None, map(of.widget, range(of.count())))


def _largest(sizes: Iterable[QSize]) -> QSize:
    found = QSize(0, 0)
    for size in sizes:
        found = found.expandedTo(size)
    return found
