"""Signals that shall not be heard any more."""

from __future__ import annotations

import contextlib

from PyQt6.QtCore import pyqtBoundSignal


def hush(*signals: pyqtBoundSignal) -> None:
    """Let go of all who listen. What a thread sent before, and what is still on its way, reaches nobody either: by then
    those who listened may be gone.
    """
    for signal in signals:
        with contextlib.suppress(TypeError):  # nobody listens
            signal.disconnect()
