"""Keeping the kernel from printing to the terminal; what it would say reaches the user as messages of our own."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager

from OCP.Message import Message, Message_PrinterOStream


def quiet() -> None:
    """Take away the kernel's printers. Harmless when called again."""
    Message.DefaultMessenger_s().RemovePrinters(Message_PrinterOStream.get_type_descriptor_s())


@contextmanager
def silent() -> Iterator[None]:
    """Some of its readers print past its printers: nothing reaches standard output meanwhile, where figures may go."""
    sys.stdout.flush()
    kept, nowhere = os.dup(1), os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 1)
    try:
        yield
    finally:
        os.dup2(kept, 1)
        os.close(kept)
        os.close(nowhere)
