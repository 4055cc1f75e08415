"""From a job and its built part to the operation sheet."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, NamedTuple

import msgspec

from ..callout import Ledger, NoteError
from ..kernel.ground.figures import Surface
from ..names import bare, face_name
from ..plan.sheet.model import (
    LONGEST_NAME,
    LONGEST_NOTE,
    MOST_MINUTES,
    MOST_SETUPS,
    OperationSheet,
    is_meant,
)
from ..plan.sheet.work import Built, Made, Sized, ThreadOn
from ..plan.sheet.worked import Terms
from ..plan.shop import Shop
from ..plan.zero import OWN, Zero, finder, stand
from ..prove.proof import Proof
from ..refusal import Refusal
from ..route.model import ThreadMark
from ..route.rebuild import StepReport
from ..standards.speeds import ToolMaterial
from ..standards.stock import read_sizes
from .model import Content

if TYPE_CHECKING:
    from ..kernel.ground.named import NamedBody


class Faces(NamedTuple):
    """The faces of a built part, in order: the one reference that finds each, all its names, its figures."""

    references: Sequence[str]
    names: Sequence[Sequence[str]]
    surfaces: Sequence[Surface]


def faces_of(body: NamedBody) -> Faces:
    from ..kernel.measure.surfaces import measure_faces

    indices = range(1, body.face_count + 1)
    names = [tuple(body.names.get(i, ())) for i in indices]
    return Faces([body.name_of(i) for i in indices], names, measure_faces(body))


def built_of(
    content: Content, faces: Faces, marks: Sequence[ThreadMark], reports: Iterable[StepReport], proof: Proof | None
) -> Built:
    """What the sheet must know of a built part."""
    volumes = {r.id: r.volume for r in reports}
    ids = {s.id for s in content.steps}
    steps = tuple(
        Made(
            s.id, type(s).__name__, s.name, getattr(s, "mode", "cut") in ("add", "new", "keep"), volumes.get(s.id, 0.0)
        )
        for s in content.steps
        if not s.suppressed
    )
    ledger = content.ledger()
    sized = [
        Sized(n.number, n.key, n.kind, n.note, n.nominal, n.lower, n.upper, n.faces, _shape(ledger, n.number))
        for n in (proof.lines if proof is not None else ())
    ]
    threads = [
        ThreadOn(at, m.thread, m.length, m.internal, m.skin if m.modelled else "")
        for m in marks
        for at, own in enumerate(faces.names, 1)
        if bare(m.face) in own
    ]
    parted = content.blank is not None and content.blank.from_bar
    low, high = (proof.mass.low, proof.mass.high) if proof is not None else ((0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
    return Built(
        tuple(faces.surfaces), tuple(_maker(r, ids) for r in faces.references), steps, tuple(sized), tuple(threads),
        ledger, content.header.style, content.turned, low, high, _bar(content), parted,
    )  # fmt: skip


def _shape(ledger: Ledger, number: int) -> str:
    try:
        return ledger.reading(number).shape
    except NoteError:
        return ""  # it is told as open


def _bar(content: Content) -> float:
    """The diameter it is turned from, mm; 0 while no round is chosen for it."""
    blank = content.blank
    if blank is None or blank.form != "round" or not blank.size:
        return 0.0
    try:
        sizes = read_sizes("round", blank.size, blank.lists or content.header.units)
    except Refusal:
        return 0.0
    return sizes[0].size[0] if sizes else 0.0


def _maker(reference: str, ids: set[str]) -> str:
    """The step that first made a face: of a copy, the one that was copied."""
    name = face_name(reference)
    within = [part for part in name.rest.split("/") if part in ids]
    return within[-1] if within else name.step


def sheet_terms(content: Content, faces: Faces, shop: Shop, of: ToolMaterial) -> Terms:
    """With what the sheet of a built part is worked out."""
    find = finder(*faces)
    machine = OWN if content.zero == Zero() else stand(content.zero, content.ledger(), find)
    return Terms(machine, content.header.material.name, of, shop, find)


def set_sheet(content: Content, sheet: OperationSheet) -> Content:
    """The operation sheet of the present route. Raises Refusal for one that no one can mean."""
    if len(sheet.setups) > MOST_SETUPS:
        raise Refusal(f"A sheet has {MOST_SETUPS} set-ups at most.")
    bad = next((s for s in sheet.setups if not is_meant(s)), None)
    if bad is not None:
        raise Refusal(
            f"Set-up “{bad.name[:40] or bad.id}”: its time must be 0 to {MOST_MINUTES:g} minutes, its name up to "
            f"{LONGEST_NAME} letters and its note up to {LONGEST_NOTE}."
        )
    route = msgspec.structs.replace(content.routes[content.route], sheet=sheet)
    routes = tuple(route if i == content.route else r for i, r in enumerate(content.routes))
    return msgspec.structs.replace(content, routes=routes)
