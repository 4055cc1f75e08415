"""Widgets told anew how they are to look, only when that is another look: the style sheet is slow to be asked."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget


def restyle(widget: QWidget) -> None:
    """A property that the style sheet goes by has changed."""
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


def call(widget: QWidget, name: str) -> None:
    """Give a widget the name that the style sheet knows it by (``faint``, ``warn``, ``bad`` …)."""
    if widget.objectName() != name:
        widget.setObjectName(name)
        restyle(widget)
