"""Keeping the kernel from printing to the terminal; what it would say reaches the user as messages of our own."""

from __future__ import annotations

from OCP.Message import Message, Message_PrinterOStream


def quiet() -> None:
    """Take away the kernel's printers. Harmless when called again."""
    Message.DefaultMessenger_s().RemovePrinters(Message_PrinterOStream.get_type_descriptor_s())
