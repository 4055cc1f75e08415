"""Timers."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer


def one_shot(parent: QObject, milliseconds: int) -> QTimer:
    """A timer that, once started, runs out once."""
    timer = QTimer(parent)
    timer.setSingleShot(True)
    timer.setInterval(milliseconds)
    return timer
