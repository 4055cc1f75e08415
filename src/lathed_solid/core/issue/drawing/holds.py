"""Which faces each callout takes hold of on the built part, and where its length runs: what a leader points at."""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec.structs import replace

from ...callout import Callout
from ...callout.model import ON_THE_PART, Reading
from ...callout.notation import symbols_at
from ...callout.words import limits_text, pretty, value_text
from ...drafting.sheet.seen import Girth, Hold, Run
from ...job.model import Content
from ...job.proving import claims_of
from ...kernel.ground.geometry import along, dot, minus
from ...names import refers
from ...prove.ends import Ends, ends_of
from ...prove.measure import read
from ...prove.plate import SurfacePlate, Unmeasurable
from ...refusal import Refusal
from ...route.gauges import Claim
from ...route.rebuild import RouteResult

#: Lengths that differ by less are one (mm).
_SAME = 1e-6
#: Characteristics that are no reason to point at a face of their own, first to last.
_LATE = ("count", "circle", "angle", "x", "y", "at")


def holds_of(content: Content, result: RouteResult, plate: SurfacePlate) -> tuple[Hold, ...]:
    """One hold a callout, in the ledger's order; without faces where nothing on the part shows it."""
    claims: dict[int, list[Claim]] = {}
    for claim in claims_of(content, {r.id for r in result.reports if r.state == "done"}):
        claims.setdefault(claim.number, []).append(claim)
    ledger, found = content.ledger(), []
    for callout in content.callouts:
        try:
            reading = ledger.reading(callout.number)
        except Refusal:
            continue
        found.append(_hold(content, callout, reading, claims.get(callout.number, ()), plate))
    return tuple(found)


def _hold(content: Content, callout: Callout, reading: Reading, claims: Sequence[Claim], plate: SurfacePlate) -> Hold:
    head, symbols = written(content, callout, reading)
    text = " ".join((head, *symbols)).strip() if refers(callout.note) else pretty(callout.note)
    common = reading.shape == "surface" or "ALL" in reading.flags
    plain, best = Hold(callout.number, text, common=common, symbols=symbols, head=head), None
    for claim in sorted(claims, key=lambda c: (bool(c.formula), c.key in _LATE, c.key != "")):
        for gauge in (claim.gauge, *claim.or_else):
            try:
                measured = read(plate, gauge)
            except Unmeasurable:
                continue
            if not (faces := measured.faces):
                continue
            lengthy = reading.shape == "length" and claim.key == ""
            run = _run(ends_of(plate, gauge), measured.values[0]) if lengthy else None
            if run is not None and claim.formula:
                run = _stated(plate, run, reading.main.nominal)
            axis, hole = _axis(plate, faces)
            alike = _alike(plate, claims, claim) if hole and reading.is_hole else ()
            across = reading.shape == "diameter" and claim.key == "" and not claim.formula
            girth = _girth(plate, faces, measured.values[0]) if across else None
            face = plate.surfaces[faces[0] - 1]
            normal = face.axis if plain.is_sign and face.kind == "plane" else None
            found = replace(
                plain, faces=faces, run=run, axis=axis, hole=hole, alike=alike, common=False, girth=girth, normal=normal
            )
            if run is not None or not lengthy:
                return best or found if run is None else found
            best = best or found
    return best or plain


def _alike(plate: SurfacePlate, claims: Sequence[Claim], first: Claim) -> tuple[int, ...]:
    """The faces of all that a callout states at once, the copies of a ring or row among them."""
    found: list[int] = []
    for claim in claims:
        if claim.key == first.key and type(claim.gauge) is type(first.gauge):
            try:
                found += read(plate, claim.gauge).faces
            except Unmeasurable:
                continue
    return tuple(dict.fromkeys(found))


def _girth(plate: SurfacePlate, faces: Sequence[int], measured: float) -> Girth | None:
    """The diameter of one solid round face, where its edges have it."""
    rounds = [s for f in faces if (s := plate.surfaces[f - 1]).kind in ("cylinder", "cone") and not s.hollow]
    if len(rounds) != 1:
        return None
    (surface,) = rounds
    places = tuple(c.center for c in surface.circles if abs(c.radius - measured / 2) < _SAME)
    if not places and surface.kind == "cylinder":
        places = tuple(along(surface.origin, surface.axis, t) for t in surface.span)
    return Girth(surface.index, places, surface.axis, measured / 2) if places else None


def _run(ends: Ends | None, measured: float) -> Run | None:
    """Where a length runs, if it is as long there as it was measured."""
    return Run(*ends) if ends is not None and abs(ends.length - abs(measured)) < _SAME else None


def _stated(plate: SurfacePlate, run: Run, nominal: float) -> Run | None:
    """What a formula measures (``#4-#3``) is another length than what the callout states: that one runs from one of its
    ends to a flat face just so far from it.
    """
    if abs(abs(dot(minus(run.b, run.a), run.way)) - nominal) < _SAME:
        return run
    for place, face in ((run.b, run.faces[1]), (run.a, run.faces[0])):
        for s in plate.surfaces:
            level = s.kind == "plane" and abs(dot(s.axis, run.way)) > 1 - _SAME
            if face and level and abs(abs(dot(minus(s.center, place), run.way)) - nominal) < _SAME:
                return Run(s.center, place, run.way, (s.index, face))
    return None


def _axis(plate: SurfacePlate, faces: Sequence[int]) -> tuple[tuple[float, float, float] | None, bool]:
    """The axis of the first round face, and whether it is a hole."""
    for index in faces:
        surface = plate.surfaces[index - 1]
        if surface.kind in ("cylinder", "cone", "torus"):
            return surface.axis, surface.hollow and surface.kind == "cylinder" and surface.turn > 1.5 * math.pi
    return None, False


def written(content: Content, callout: Callout, reading: Reading) -> tuple[str, tuple[str, ...]]:
    """The note as the ledger writes it, what a formula stands for where it holds one: its text, and as a reading writes
    it what the note ends with of finish, form, place and a datum's letter.
    """
    symbols = tuple(c.written for c in reading.characteristics if c.kind in ON_THE_PART)
    if refers(callout.note):
        style = content.header.style
        return f"{value_text(reading.main, style)} {limits_text(reading.main, style)}".strip(), symbols
    begin = symbols_at(callout.note, content.header.units) if symbols else ()
    if not symbols or len(begin) != len(symbols):  # some stand amid its other words
        return pretty(callout.note), ()
    return pretty(callout.note[: begin[0]].rstrip(" ,;")), symbols
