"""Stand-ins for serial instruments: a caliper and a bench scale that speak the protocol over a pseudo-terminal."""

from __future__ import annotations

import os
import pty
import random
import select
import threading
import tty

import msgspec

from ..units import INCH


class Condition(msgspec.Struct, frozen=True, kw_only=True):
    """How good the instrument is and what is wrong with it. Lengths in mm (grams for a scale).

    ``zero`` is an offset it was not zeroed of, ``jaw`` an error proportional to the size, ``noise`` the standard
    deviation of repeated readings.
    """

    kind: str = "caliper"
    name: str = "Simulated caliper"
    resolution: float = 0.01
    error: float = 0.02
    zero: float = 0.0
    jaw: float = 0.0
    noise: float = 0.006
    battery_low: bool = False


SIMULATED_CALIPER = Condition()
SIMULATED_SCALE = Condition(kind="scale", name="Simulated scale", noise=0.01)


class SimulatedInstrument:
    """A pseudo-terminal with an instrument behind it. ``path`` is the port; set ``size`` and ``press`` to measure."""

    def __init__(self, condition: Condition = SIMULATED_CALIPER, seed: int | None = None) -> None:
        self.condition, self.size = condition, 0.0
        self.unit = "g" if condition.kind == "scale" else "mm"
        self._random = random.Random(seed)
        self._offset = condition.zero
        self._master, self._slave = pty.openpty()
        tty.setraw(self._slave)
        self.path = os.ttyname(self._slave)
        self._plugged = True
        self._wake_read, self._wake_write = os.pipe()
        self._thread = threading.Thread(target=self._serve, name="simulated-instrument", daemon=True)
        self._thread.start()

    # --- the hand on the instrument
    def press(self) -> None:
        """The data button: send what is between the jaws."""
        self._send(self.line())

    def press_unit(self) -> None:
        """The unit button: mm, in, mm, … (a scale knows grams only)."""
        if self.condition.kind == "caliper":
            self.unit = "in" if self.unit == "mm" else "mm"

    def press_zero(self) -> None:
        """The zero button: what is shown now becomes zero."""
        self._offset -= self._shown(self.size)

    def drain_battery(self) -> None:
        self.condition = msgspec.structs.replace(self.condition, battery_low=True)
        self._send("BAT low")

    def unplug(self) -> None:
        """Pull the cable: the port is gone for whoever holds it."""
        if self._plugged:
            self._plugged = False
            os.write(self._wake_write, b"x")
            self._thread.join(timeout=2)
            os.close(self._slave)
            os.close(self._master)

    # --- inside it
    def _shown(self, size: float) -> float:
        return size * (1 + self.condition.jaw) + self._offset

    def display(self) -> str:
        """What the display shows, without the last digit's flicker."""
        value = self._shown(self.size)
        return f"{value / INCH:.4f} in" if self.unit == "in" else f"{value:.2f} {self.unit}"

    def line(self) -> str:
        """A reading as the line that goes out."""
        value = self._shown(self.size) + self._random.gauss(0.0, self.condition.noise)
        if self.unit == "in":
            step = 0.0005  # inch displays count in half thousandths
            return f"R {round(value / INCH / step) * step:.4f} in"
        step = self.condition.resolution
        return f"R {round(value / step) * step:.2f} {self.unit}"

    def _send(self, text: str) -> None:
        if self._plugged:
            os.write(self._master, text.encode() + b"\r\n")

    def _serve(self) -> None:
        pending = b""
        while self._plugged:
            ready, _, _ = select.select([self._master, self._wake_read], [], [], 1.0)
            if self._wake_read in ready or not self._plugged:
                return
            if self._master not in ready:
                continue
            try:
                pending += os.read(self._master, 256)
            except OSError:
                return
            *lines, pending = pending.split(b"\n")
            for line in lines:
                self._answer(line.decode("ascii", "ignore").strip())

    def _answer(self, command: str) -> None:
        c = self.condition
        if command == "?":
            self._send(f"HELLO {c.kind} {c.resolution:g} {c.error:g} {c.name}")
            if c.battery_low:
                self._send("BAT low")
        elif command == "R":
            self._send(self.line())
        elif command == "Z":
            self.press_zero()
        elif command in ("U mm", "U in") and c.kind == "caliper":
            self.unit = command[2:]
        elif command:
            self._send(f"ERR {command} is not understood")
