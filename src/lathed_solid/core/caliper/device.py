"""A serial instrument at the other end of a port: lines in, commands out, and word of it when it goes away."""

from __future__ import annotations

import contextlib
import errno
import threading
from collections.abc import Callable
from typing import NamedTuple

import serial
from serial.tools import list_ports

from ..refusal import Refusal
from .protocol import BAUD, MAX_LINE, Message, Trouble, parse_line

#: A port that is there but not to be had: taken, or no right to it.
_NOT_OURS = (errno.EACCES, errno.EPERM, errno.EBUSY)


class Gone(NamedTuple):
    """The connection ended; the text says how."""

    words: str


class CannotConnect(Refusal):
    """The port cannot be opened; the text says why and what to do."""


def ports() -> list[tuple[str, str]]:
    """``(path, description)`` of this machine's serial ports; no description: nothing known is plugged in."""
    return sorted((p.device, p.description if p.hwid not in ("", "n/a", None) else "") for p in list_ports.comports())


class Device:
    """One open port. ``tell`` is called from the reading thread with every Message, and with Gone at the end."""

    def __init__(self, path: str, tell: Callable[[Message | Gone], None], unit: str = "mm") -> None:
        """Raises CannotConnect."""
        self.path, self._tell, self._unit = path, tell, unit
        try:
            self._port = serial.Serial(path, BAUD, timeout=0.2, write_timeout=1.0)
        except (serial.SerialException, OSError) as error:
            reason = "it is in use or you have no right to it" if error.errno in _NOT_OURS else "there is nothing there"
            raise CannotConnect(f"{path} cannot be opened: {reason}. Plug the instrument in and try again.") from error
        self._closing = threading.Event()
        self._thread = threading.Thread(target=self._read, name="instrument", daemon=True)
        self._thread.start()
        self.send("?")

    def send(self, command: str) -> bool:
        """Write one command; False when the instrument is no longer there."""
        try:
            self._port.write(command.encode("ascii", "ignore") + b"\n")
        except (serial.SerialException, OSError):
            return False
        return True

    def close(self) -> None:
        """End the connection without a Gone message."""
        self._closing.set()
        with contextlib.suppress(serial.SerialException, OSError):
            self._port.cancel_read()
        self._thread.join(timeout=2)
        self._port.close()

    def _read(self) -> None:
        pending = b""
        while not self._closing.is_set():
            try:
                pending += self._port.read(max(1, min(256, self._port.in_waiting)))
            except (serial.SerialException, OSError, TypeError):
                if not self._closing.is_set():
                    self._tell(Gone("The instrument was unplugged. Readings taken so far are kept."))
                return
            *lines, pending = pending.replace(b"\r", b"\n").split(b"\n")
            for line in lines:
                message = parse_line(line.decode("ascii", "replace"), self._unit)
                if message is not None:
                    self._tell(message)
            if len(pending) > MAX_LINE:
                pending = b""
                self._tell(Trouble("The instrument sends without an end of line. Check cable and speed."))
