"""Proving a part: claims to measurements, measurements to marks."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable, Sequence
from typing import NamedTuple

import msgspec

from ..callout import Characteristic, Ledger, NoteError
from ..callout.model import NO_CRITERION, ON_THE_PART
from ..route.gauges import Claim, ThreadOn
from ..tolerance import ON_LIMIT
from .measure import Measured, SurfacePlate, Unmeasurable
from .proof import NEAR_SHARE, FaceNote, Mark, Proof, ProofLine, StatedCheck, Weighed


class Stated(NamedTuple):
    """Figures on the drawing: volume mm³ and mass g (None when not stated), tolerance relative."""

    volume: float | None
    mass: float | None
    tolerance: float


def prove(
    plate: SurfacePlate,
    ledger: Ledger,
    claims: Sequence[Claim],
    weighed: Weighed,
    stated: Stated,
    cosmetic: Collection[str] = (),
) -> Proof:
    """Measure every characteristic of every callout on the solid and judge it.

    Faces of ``cosmetic`` steps need no callout to explain them.
    """
    lines: list[ProofLine] = []
    for number in ledger.callouts:
        try:
            reading = ledger.reading(number)
        except NoteError as error:
            lines.append(_open(ledger, number, Characteristic("", "length", 0, 0, 0, ""), f"Cannot be read: {error}"))
            continue
        own = [c for c in claims if c.number == number]
        for stated_size in reading.characteristics:
            if stated_size.kind in ON_THE_PART:
                continue  # finish, form and place are judged on the part; the callout keeps them in its note
            lines.append(_line(plate, ledger, number, stated_size, own))
    mass, grams = weighed
    return Proof(
        tuple(lines),
        tuple(_stated(stated, mass.volume, grams)),
        _unexplained(plate, claims, lines, cosmetic),
        tuple(n for n in ledger.callouts if not any(c.number == n for c in claims)),
        mass,
        grams,
    )


def _open(ledger: Ledger, number: int, c: Characteristic, message: str) -> ProofLine:
    note = ledger.callouts[number].note
    return ProofLine(number, c.key, c.kind, note, c.nominal, c.lower, c.upper, c.basis, None, "open", 0.0, message)


def _line(plate: SurfacePlate, ledger: Ledger, number: int, c: Characteristic, claims: Sequence[Claim]) -> ProofLine:
    chosen = [k for k in claims if k.key == c.key]
    if c.key == "count" and not chosen:
        return _counted(plate, ledger, number, c, [k for k in claims if k.key == ""])
    if not chosen:
        return _open(ledger, number, c, "No step uses it, and no face is bound to it.")
    values: list[float] = []
    faces: set[int] = set()
    for one in chosen:
        try:
            found = _checked(plate, ledger, number, one)
        except Unmeasurable as error:
            failed = _open(ledger, number, c, str(error))
            return failed if "not on the part" in str(error) else _out(failed)
        angles = c.kind == "angle"
        values += [_nearest(v, c.nominal, found.period) for v in found.values] if angles else found.values
        faces.update(found.faces)
    return _judged(ledger, number, c, values, faces)


def _out(line: ProofLine) -> ProofLine:
    return msgspec.structs.replace(line, mark="out")


def _checked(plate: SurfacePlate, ledger: Ledger, number: int, one: Claim) -> Measured:
    found = plate.read(one.gauge)
    if isinstance(one.gauge, ThreadOn):
        wanted, mark = ledger.reading(number).thread, plate.marks[one.gauge.face]
        if wanted != mark.thread:
            raise Unmeasurable(f"The face carries {mark.thread.designation}.")
    return found


def _counted(plate: SurfacePlate, ledger: Ledger, number: int, c: Characteristic, claims: Sequence[Claim]) -> ProofLine:
    """A stated count without a pattern: the places where the main size is found."""
    places: set[str] = set()
    faces: set[int] = set()
    for one in claims:
        try:
            faces.update(plate.read(one.gauge).faces)
        except Unmeasurable:
            continue
        places.add(one.gauge.face)
    if not claims:
        return _open(ledger, number, c, "No step uses it, and no face is bound to it.")
    return _judged(ledger, number, c, [float(len(places))], faces)


def _judged(ledger: Ledger, number: int, c: Characteristic, values: Iterable[float], faces: Iterable[int]) -> ProofLine:
    worst = max(values, key=lambda v: abs(v - c.nominal))
    mark, used = judge(worst, c)
    message = ""
    if mark == "out" and c.basis in NO_CRITERION:
        mark, message = "near", f"The model differs from it, but this size is no criterion: {c.basis}."
    if mark == "out":
        message = _suspect(worst, c)
    return ProofLine(
        number, c.key, c.kind, ledger.callouts[number].note, c.nominal, c.lower, c.upper, c.basis,
        worst, mark, used, message, tuple(sorted(faces)),
    )  # fmt: skip


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
            (25.4, "It is 25.4 times the stated size: millimetres read as inches?"),
            (1 / 25.4, "It is 1/25.4 of the stated size: inches read as millimetres?"),
        ):
            if math.isclose(ratio, factor, rel_tol=2e-3):
                return words
    if c.kind == "angle" and math.isclose(measured, c.nominal * 2, rel_tol=2e-3):
        return "It is twice the stated angle: half angle typed as included?"
    return ""


def _stated(stated: Stated, volume: float, grams: float) -> Iterable[StatedCheck]:
    for what, figure, measured in (("volume", stated.volume, volume), ("mass", stated.mass, grams)):
        if figure:
            inside = abs(measured / figure - 1) <= stated.tolerance
            yield StatedCheck(what, figure, measured, stated.tolerance, "in" if inside else "out")  # type: ignore[arg-type]


def _unexplained(
    plate: SurfacePlate, claims: Sequence[Claim], lines: Sequence[ProofLine], cosmetic: Collection[str]
) -> tuple[FaceNote, ...]:
    touched = {i for line in lines for i in line.faces}
    known = {name.partition("~")[0] for c in claims for name in c.faces()}
    return tuple(
        FaceNote(s.index, plate.body.name_of(s.index), s.describe())
        for s in plate.surfaces
        if s.index not in touched
        and not plate.body.names.get(s.index, set()) & known
        and not any(n.partition("/")[0] in cosmetic for n in plate.body.names.get(s.index, ()))
    )
