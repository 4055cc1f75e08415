"""The state of a measurement: the instrument, the way of touching, the readings, and what they suggest."""

from __future__ import annotations

import datetime
from collections.abc import Callable

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.caliper.device import CannotConnect, Device, Gone
from ...core.caliper.instrument import CALIPER, SCALE, Instrument, Way
from ...core.caliper.logbook import LogEntry
from ...core.caliper.nominal import Suggestion, What, suggest
from ...core.caliper.protocol import Battery, Hello, Read, Trouble
from ...core.caliper.simulated import SIMULATED_CALIPER, SIMULATED_SCALE, SimulatedInstrument
from ...core.caliper.statistics import Summary, summarise
from ...core.job import edits, reading
from ...core.job.model import Content
from ..session import Session

#: What is usually measured in each way.
USUAL: dict[Way, What] = {
    "outside": "diameter", "inside": "bore", "depth": "length", "step": "length", "thread": "thread",
    "weight": "length",
}  # fmt: skip


class Capture(QObject):
    """``changed`` after anything; ``said`` carries words and a tone about the instrument."""

    changed = pyqtSignal()
    said = pyqtSignal(str, str)
    _heard = pyqtSignal(object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.instrument: Instrument = CALIPER
        self.way: Way = "outside"
        self.what: What = "diameter"
        self.values: list[float] = []
        self.pitch: float | None = None
        self.feature = self.operator = ""
        self.device: Device | None = None
        self.simulated: SimulatedInstrument | None = None
        self.battery_low = False
        #: Who takes a reading that is sent (mm or g) in place of the readings here; says whether it did.
        self.taker: Callable[[float], bool] | None = None
        self._heard.connect(self._on_message)
        session.switched.connect(self.forget)

    # --- the instrument
    @property
    def connected(self) -> bool:
        return self.device is not None

    def connect_to(self, path: str) -> bool:
        """Open a port; says why when it cannot be."""
        self.disconnect_device()
        try:
            made = Device(path, lambda message: self._heard.emit(path, message), self._session.content.header.units)
        except CannotConnect as error:
            self.said.emit(str(error), "bad")
            self.changed.emit()
            return False
        self.device = made
        self.battery_low = False
        self.said.emit("Connected.", "good")
        self.changed.emit()
        return True

    def connect_simulated(self, kind: str) -> bool:
        """Start a stand-in instrument and connect to it through its pseudo-terminal."""
        self.unplug_simulated()
        self.simulated = SimulatedInstrument(SIMULATED_SCALE if kind == "scale" else SIMULATED_CALIPER)
        return self.connect_to(self.simulated.path)

    def unplug_simulated(self) -> None:
        if self.simulated is not None:
            self.simulated.unplug()
            self.simulated = None

    def unplug_cable(self) -> None:
        """The stand-in's cable is pulled: the port is gone, as it would be."""
        if self.simulated is not None:
            self.simulated.unplug()

    def disconnect_device(self) -> None:
        if self.device is not None:
            self.device.close()
            self.device = None
            self.changed.emit()

    def ask_reading(self) -> None:
        """Ask the instrument for a reading, as its own data button would send one."""
        if self.device is None or not self.device.send("R"):
            self.said.emit("No instrument is connected. Type the reading, or connect one.", "warn")

    def _on_message(self, path: object, message: object) -> None:
        if self.device is None or self.device.path != path:
            return  # a word of one that is already put away
        if isinstance(message, Read):
            if self.taker is None or not self.taker(message.value):
                self.add(message.value)
        elif isinstance(message, Hello):
            self.instrument = message.instrument
            if message.instrument.kind == "scale":
                self.set_way("weight")
            self.said.emit(f"{message.instrument.name}, steps of {message.instrument.resolution:g}.", "good")
        elif isinstance(message, Battery):
            self.battery_low = message.low
            if message.low:
                self.said.emit("The instrument's battery is low. Change it before you trust the next readings.", "warn")
        elif isinstance(message, Trouble):
            self.said.emit(message.words, "warn")
        elif isinstance(message, Gone):
            self.device.close()
            self.device = None
            self.said.emit(message.words, "bad")
        self.changed.emit()

    # --- readings
    def set_way(self, way: Way) -> None:
        """Another way of touching begins a new set of readings."""
        if way != self.way:
            self.way, self.what = way, USUAL[way]
            self.values.clear()
            self.instrument = self.instrument_for(way)
        self.changed.emit()

    def instrument_for(self, way: Way) -> Instrument:
        """The instrument at hand where it can touch so, else the usual one."""
        if (self.instrument.kind == "scale") == (way == "weight"):
            return self.instrument
        return SCALE if way == "weight" else CALIPER

    def add(self, value: float) -> None:
        """One reading, mm (g on the scale). A size is above zero; so must a reading be."""
        if value <= 0:
            self.said.emit("A reading must be above zero. Press zero with the jaws closed, then measure again.", "warn")
            return
        self.values.append(value)
        self.changed.emit()

    def drop(self, index: int) -> None:
        del self.values[index]
        self.changed.emit()

    def forget(self) -> None:
        """Begin a new set."""
        self.values.clear()
        self.feature, self.pitch = "", None
        self.changed.emit()

    # --- what they say
    @property
    def summary(self) -> Summary | None:
        return summarise(self.values, self.instrument, self.way) if self.values else None

    def suggestions(self) -> list[Suggestion]:
        summary = self.summary
        if summary is None or self.way == "weight":
            return []
        return suggest(summary, self.way, self.what, self._session.content.header.units, self.pitch)

    # --- conclusions
    def accept(self, note: str) -> int | None:
        """Make the readings a callout with ``note`` and write both into the logbook; its number, or None if refused."""
        summary, session = self.summary, self._session
        if summary is None:
            self.said.emit("Take a reading first.", "warn")
            return None
        unit = session.content.header.style
        source = (
            f"{len(summary.kept)} readings, mean {unit.length(summary.mean)} ± {unit.length(summary.U)}, {self.way}"
        )

        def change(content: Content) -> tuple[Content, int]:
            content, number = edits.add_callout(content, note, self.feature, "calipers", None, source)
            return reading.log(content, self.entry(note, number)), number

        number = session.make(change, f"measured {note}")
        if number is not None:
            self.forget()
            session.select_callout(number)
        return number

    def note_only(self) -> bool:
        """Write the readings into the logbook without a conclusion (a weight, or undecided)."""
        summary = self.summary
        if summary is None:
            return False
        words = f"mean {summary.mean:.2f} g" if self.way == "weight" else "undecided"
        done = self._session.edit(lambda c: reading.log(c, self.entry(words, None)), "readings logged")
        if done:
            self.forget()
        return done

    def take_mass(self) -> bool:
        """Make a weighed mass the stated mass of the title block."""
        summary = self.summary
        if summary is None or self.way != "weight":
            return False
        grams = round(summary.mean, 3)

        def change(content):  # type: ignore[no-untyped-def]

            stated = msgspec.structs.replace(content.header.stated, mass=grams)
            typed = {**content.header.typed, "mass": f"{grams:g}"}
            return reading.log(
                edits.set_header(content, stated=stated, typed=typed), self.entry(f"stated mass {grams:g} g", None)
            )

        done = self._session.edit(change, "weighed mass stated")
        if done:
            self.forget()
        return done

    def entry(self, conclusion: str, number: int | None) -> LogEntry:
        return LogEntry(
            id="",
            when=datetime.datetime.now().isoformat(timespec="seconds"),
            instrument=self.instrument.name,
            way=self.way,
            values=tuple(self.values),
            operator=self.operator,
            feature=self.feature,
            conclusion=conclusion,
            callout=number,
            resolution=self.instrument.resolution,
            error=self.instrument.error,
        )

    def shut(self) -> None:
        self.disconnect_device()
        self.unplug_simulated()
