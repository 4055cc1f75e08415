"""Proving a part: claims to measurements, measurements to marks."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from types import MappingProxyType

from ..callout import Characteristic, Ledger, NoteError
from ..callout.model import NO_CRITERION, ON_THE_PART
from ..kernel.ground.figures import Surface
from ..names import bare
from ..route.gauges import AnyGauge, Claim, Count, Diameter, Radius, StandsOn, ThreadFelt, ThreadOn, WidestCircle
from ..standards.threads import parse_designation
from ..tolerance import ON_LIMIT
from ..units import INCH
from .counting import counted
from .formula import Measurement, OnlyAPart, own_value
from .measure import read
from .plate import Measured, Misfit, SurfacePlate, Unmeasurable
from .proof import NEAR_SHARE, FaceNote, Mark, Proof, ProofLine, StatedCheck, Weighed


def prove(
    plate: SurfacePlate,
    ledger: Ledger,
    claims: Sequence[Claim],
    weighed: Weighed,
    stated: Sequence[StatedCheck],
    cosmetic: Collection[str] = (),
    used: Mapping[int, str] = MappingProxyType({}),
    words: Callable[[Surface], str] = Surface.describe,
) -> Proof:
    """Measure every characteristic of every callout on the solid and judge it.

    Faces of ``cosmetic`` steps need no callout to explain them. ``used`` says where callouts are used that no face
    carries; ``words`` tells a face.
    """
    bench = _Bench(plate, ledger, claims, used)
    lines = bench.lines()
    mass, grams = weighed
    claimed = {c.number for c in claims}
    return Proof(
        tuple(lines),
        tuple(stated),
        _unexplained(plate, claims, lines, cosmetic, words),
        tuple(n for n in ledger.callouts if n not in claimed and n not in used),
        mass,
        grams,
    )


_NOTHING_TO_COUNT = (
    "None of the faces it is counted on is on the finished part: cut away, or made by another step on this route. "
    "If they are there, bind them to it."
)


class _Bench:
    """One proof at work: every gauge is read once, sizes stated alone before those that stand in a formula."""

    def __init__(self, plate: SurfacePlate, ledger: Ledger, claims: Sequence[Claim], used: Mapping[int, str]) -> None:
        self.plate, self.ledger, self.used = plate, ledger, used
        self.claims: dict[tuple[int, str], list[Claim]] = {}
        for c in claims:
            self.claims.setdefault((c.number, c.key), []).append(c)
        #: What was measured of sizes that stand alone, by callout and key: the other terms of a formula.
        self.known: dict[tuple[int, str], float] = {}

    def lines(self) -> list[ProofLine]:
        found: list[ProofLine | None] = []
        waiting: list[tuple[int, int, Characteristic]] = []
        for number in self.ledger.callouts:
            try:
                reading = self.ledger.reading(number)
            except NoteError as error:
                found.append(
                    _open(self.ledger, number, Characteristic("", "length", 0, 0, 0, ""), f"Cannot be read: {error}")
                )
                continue
            for c in reading.characteristics:
                if c.kind in ON_THE_PART:
                    continue  # finish, form and place are judged on the part; the callout keeps them in its note
                if any(k.formula for k in self.claims.get((number, c.key), ())):
                    waiting.append((len(found), number, c))
                    found.append(None)
                    continue
                line = self._line(number, c)
                if line.measured is not None:
                    self.known[number, c.key] = line.measured
                found.append(line)
        for _, number, c in waiting:
            plain = [k for k in self.claims[number, c.key] if not k.formula]
            if plain and (line := self._judge(number, c, plain)).measured is not None:
                self.known[number, c.key] = line.measured
        for at, number, c in waiting:
            found[at] = self._line(number, c)
        return [line for line in found if line is not None]

    def _line(self, number: int, c: Characteristic) -> ProofLine:
        chosen = self.claims.get((number, c.key), [])
        if c.key == "count":
            chosen = [k for k in chosen if not k.formula]
            main = [k for k in self.claims.get((number, ""), ()) if not k.formula]
            return self._counted(number, c, chosen, main)
        if not chosen:
            return _open(self.ledger, number, c, self._unclaimed(number))
        return self._judge(number, c, chosen)

    def _unclaimed(self, number: int) -> str:
        if place := self.used.get(number):
            return f"Used in {place}, which leaves no face that shows it alone. Pick the faces and bind them to it."
        return "No step uses it, and no face is bound to it."

    def _judge(self, number: int, c: Characteristic, chosen: Sequence[Claim]) -> ProofLine:
        """Every reading counts; what cannot be read is told beneath those that can."""
        readings: list[Measurement] = []
        failures: list[str] = []
        wrong: list[str] = []
        unit = self.ledger.length_unit
        for one in chosen:
            try:
                readings.append(self._reading(number, c, one))
            except Misfit as error:
                wrong.append(error.said_in(unit))
            except OnlyAPart:
                continue
            except Unmeasurable as error:
                failures.append(error.said_in(unit))
        if wrong:
            return _open(self.ledger, number, c, " ".join(dict.fromkeys(wrong))).with_(mark="out")
        if not any(r.proves for r in readings):
            failures += [str(OnlyAPart(k.formula)) for k in chosen if k.formula]
            return _open(self.ledger, number, c, " ".join(dict.fromkeys(failures)))
        line = judged(self.ledger, number, c, readings)
        if failures and line.mark in ("in", "near"):
            beneath = "Not measured in another place it is used. " + " ".join(dict.fromkeys(failures))
            line = line.with_(message=f"{line.message} {beneath}".strip())
        return line

    def _reading(self, number: int, c: Characteristic, one: Claim) -> Measurement:
        found = self._read(number, one)
        if one.formula:
            return own_value(one, c, found, self.ledger, self.known)
        values = found.values
        if c.kind == "angle":
            values = tuple(_nearest(v, c.nominal, found.period) for v in values)
        return Measurement(values, found.faces, found.spread, found.words)

    def _read(self, number: int, one: Claim) -> Measured:
        """By the first gauge that can. Raises the first one's complaint."""
        first: Unmeasurable | None = None
        for gauge in (one.gauge, *one.or_else):
            try:
                found = read(self.plate, gauge)
            except Misfit:
                raise
            except Unmeasurable as error:
                first = first or error
                continue
            if isinstance(gauge, ThreadOn):
                wanted, mark = self.ledger.reading(number).thread, self.plate.marks[gauge.face]
                if wanted != mark.thread:
                    raise Misfit(f"The face carries {mark.thread.designation}.")
            if isinstance(gauge, ThreadFelt) and self.ledger.reading(number).thread != parse_designation(gauge.thread):
                raise Misfit(f"It was taken for {gauge.thread}. Bind the callout anew.")
            return found
        assert first is not None
        raise first

    def _counted(self, number: int, c: Characteristic, stated: Sequence[Claim], main: Sequence[Claim]) -> ProofLine:
        """How many there are: all that patterns count and all places where the main size is found, each once."""
        if not stated and not main:
            return _open(self.ledger, number, c, self._unclaimed(number))
        for one in stated:
            try:
                read(self.plate, one.gauge)
            except Misfit as error:
                return _open(self.ledger, number, c, error.said_in(self.ledger.length_unit)).with_(mark="out")
            except Unmeasurable:
                continue
        rounds = [n for k in (*stated, *main) for n in _rounds(k.gauge)]
        found = counted(self.plate, rounds, round(c.nominal))
        others, faces = self._told(k for k in main if not _rounds(k.gauge))
        total, wanted = found.places + others, round(c.nominal)
        if not total:
            return _open(self.ledger, number, c, _NOTHING_TO_COUNT)
        if total < wanted and not stated and all(k.by_hand for k in main):
            words = f"Bound in {total} of {wanted} places. Bind the others as well."
            return _open(self.ledger, number, c, words)
        if others and total < wanted:
            words = (
                f"Measured in {total} of {wanted} places; the rest follow by relations and carry no size of their own."
            )
            return _open(self.ledger, number, c, words)
        if others:  # a length that is used more often than stated is not one too many
            total = min(total, wanted)
        return judged(self.ledger, number, c, [Measurement((float(total),), (*found.faces, *faces))])

    def _told(self, claims: Iterable[Claim]) -> tuple[int, set[int]]:
        """How many different sizes are there to be measured, and the faces they touch."""
        faces: set[int] = set()
        seen: list[AnyGauge] = []
        for one in claims:
            if one.gauge in seen:
                continue
            try:
                faces.update(self._read(one.number, one).faces)
            except Unmeasurable:
                continue
            seen.append(one.gauge)
        return len(seen), faces


def _rounds(gauge: AnyGauge) -> tuple[str, ...]:
    """The faces that are counted by where they stand, whatever is read off them."""
    if isinstance(gauge, Count):
        return (gauge.face, *gauge.others)
    return (gauge.face,) if isinstance(gauge, Diameter | Radius | ThreadOn | ThreadFelt | WidestCircle) else ()


def _open(ledger: Ledger, number: int, c: Characteristic, message: str) -> ProofLine:
    note = ledger.callouts[number].note
    return ProofLine(number, c.key, c.kind, note, c.nominal, c.lower, c.upper, c.basis, None, "open", 0.0, message)


def judged(ledger: Ledger, number: int, c: Characteristic, readings: Sequence[Measurement]) -> ProofLine:
    """The line of a characteristic by its worst reading."""
    worst, reading = max(
        ((v, r) for r in readings for v in r.values),
        key=lambda found: (round(abs(found[0] - c.nominal) - found[1].spread, 9), found[1].words == ""),
    )
    mark, used = judge(worst, c)
    message = reading.words
    if mark == "out" and reading.spread and judge(_closer(worst, c.nominal, reading.spread), c)[0] != "out":
        mark, used = "near", 1.0
    if reading.spread and not message:
        message = f"{message} Felt on a free face, which is exact to about {reading.spread:.1g} mm.".strip()
    if mark == "out" and c.basis in NO_CRITERION:
        mark, message = "near", f"The model differs from it, but this size is no criterion: {c.basis}."
    if mark == "out":
        message = f"{_suspect(worst, c)} {reading.words}".strip()
    faces = tuple(sorted({f for r in readings for f in r.faces}))
    return ProofLine(
        number, c.key, c.kind, ledger.callouts[number].note, c.nominal, c.lower, c.upper, c.basis,
        worst, mark, used, message, faces,
    )  # fmt: skip


def _closer(value: float, nominal: float, by: float) -> float:
    """``value`` moved towards ``nominal`` by what it may be off."""
    gap = value - nominal
    return nominal + math.copysign(max(0.0, abs(gap) - by), gap)


def _nearest(value: float, nominal: float, period: float) -> float:
    """The angle that is ``value`` and lies nearest to the stated one."""
    return nominal + math.remainder(value - nominal, period)


def judge(measured: float, c: Characteristic) -> tuple[Mark, float]:
    """The mark, and the share of the band used on the side the measurement lies (0 at nominal)."""
    limit = c.upper if measured >= c.nominal else c.lower
    room, off = abs(limit - c.nominal), abs(measured - c.nominal)
    inside = c.lower - ON_LIMIT <= measured <= c.upper + ON_LIMIT
    used = 0.0 if off <= ON_LIMIT else off / room if room > 0 else math.inf
    if not inside:
        return "out", used if math.isfinite(used) else 99.0
    return ("near" if used > NEAR_SHARE else "in"), min(used, 1.0)


def _suspect(measured: float, c: Characteristic) -> str:
    """Name the usual slip when the figures show it."""
    if c.key == "thru":
        return "It is blind where it should go through."
    if c.kind == "count":
        missing = round(c.nominal - measured)
        return f"{missing} missing." if missing > 0 else f"{-missing} too many."
    if c.kind in ("diameter", "radius", "length") and c.nominal > 0:
        ratio = measured / c.nominal
        for factor, words in (
            (2.0, "It is just twice the stated size: a radius typed as a diameter?"),
            (0.5, "It is just half the stated size: a diameter typed as a radius?"),
            (INCH, "It is 25.4 times the stated size: millimetres read as inches?"),
            (1 / INCH, "It is 1/25.4 of the stated size: inches read as millimetres?"),
        ):
            if math.isclose(ratio, factor, rel_tol=2e-3):
                return words
    if c.kind == "angle" and math.isclose(measured, c.nominal * 2, rel_tol=2e-3):
        return "It is twice the stated angle: half angle typed as included?"
    return ""


def _unexplained(
    plate: SurfacePlate,
    claims: Sequence[Claim],
    lines: Sequence[ProofLine],
    cosmetic: Collection[str],
    words: Callable[[Surface], str],
) -> tuple[FaceNote, ...]:
    touched = {i for line in lines for i in line.faces}
    known = {bare(name) for c in claims if not isinstance(c.gauge, StandsOn) for name in c.faces()}
    return tuple(
        FaceNote(s.index, plate.body.name_of(s.index), words(s))
        for s in plate.surfaces
        if s.index not in touched
        and not plate.body.names.get(s.index, set()) & known
        and not any(n.partition("/")[0] in cosmetic for n in plate.body.names.get(s.index, ()))
    )
