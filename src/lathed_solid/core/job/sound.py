"""What a job from a file must be so that it can be worked on: one pass for files and journals alike.

Each thing that is mended is told; each that does not hang together is set aside, and kept in the file as it was.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import TypeVar

import msgspec

from ..drafting.sheet.model import Sheet, is_scale
from ..drafting.sheet.paper import SIZES
from ..plan.sheet.model import OperationSheet, is_meant
from ..route.registry import Step, kind_of
from ..sketch.model import Sketch
from ..sketch.solver.soundness import sound as sound_sketch
from ..standards.materials import all_materials
from . import members
from .edits import MOST_DECIMALS
from .model import Aside, Content, Header, Job, Revision, Route, StatedFigures

#: Numbers that are given out; none is ever near this.
MOST = 10**6
Named = TypeVar("Named", bound=msgspec.Struct)


class _Pass:
    """Gathers what is told and what is set aside."""

    def __init__(self) -> None:
        self.told: list[str] = []
        self.aside: list[Aside] = []

    def set_aside(self, words: str, item: msgspec.Struct) -> None:
        self.told.append(words)
        self.aside.append(Aside(words=words, text=msgspec.json.encode(item).decode()))

    def once(self, items: Sequence[Named], key: Callable[[Named], object], words: str) -> tuple[Named, ...]:
        """Each name once; a later one of the same name is set aside."""
        seen: set[object] = set()
        kept = []
        for item in items:
            name = key(item)
            if name in seen or name == "":
                self.set_aside(f"{words} {name} (there is another of that name)", item)
            else:
                kept.append(item)
            seen.add(name)
        return tuple(kept)


def mended(job: Job) -> tuple[Job, tuple[str, ...]]:
    """The sound part of a job, and what was mended or set aside in words; the very same job when it is sound."""
    found = _Pass()
    content = _content(job.content, found)
    revisions = tuple(_revision(r, found) for r in found.once(job.revisions, lambda r: r.label, "revision"))
    if not found.told and content is job.content:
        return job, ()
    if found.aside:
        content = msgspec.structs.replace(content, aside=(*content.aside, *found.aside))
    return msgspec.structs.replace(job, content=content, revisions=revisions), tuple(dict.fromkeys(found.told))


def _revision(revision: Revision, found: _Pass) -> Revision:
    """An issued revision is frozen: what is wrong in it is told, and mended only as far as it must be read."""
    inner = _Pass()
    content = _content(revision.content, inner)
    if not inner.told:
        return revision
    found.told += [f"revision {revision.label}: {words}" for words in inner.told]
    return msgspec.structs.replace(revision, content=msgspec.structs.replace(content, aside=tuple(inner.aside)))


def _content(content: Content, found: _Pass) -> Content:
    callouts = found.once(content.callouts, lambda c: c.number, "callout")
    callouts = _kept(callouts, lambda c: 0 < c.number < MOST, lambda c: f"callout {c.number}", found)
    numbers = {c.number for c in callouts}
    sketches = tuple(_sketch(s, found) for s in found.once(content.sketches, lambda s: s.id, "sketch"))
    routes = tuple(_route(r, found) for r in found.once(content.routes, lambda r: r.name, "route")) or (Route(),)
    drawings = found.once(content.drawings, lambda d: d.id, "drawing")
    bindings = _kept(content.bindings, lambda b: b.number in numbers, lambda b: f"binding of callout {b.number}", found)
    chains = _kept(
        content.chains, lambda c: {c.overall, *c.parts} <= numbers, lambda c: f"chain of callout {c.overall}", found
    )
    logbook = found.once(content.logbook, lambda e: e.id, "logbook entry")
    at = content.route if 0 <= content.route < len(routes) else 0
    if at != content.route:
        found.told.append("which route was worked on")
    steps = [s.id for r in routes for s in r.steps]
    fields = {
        "header": _header(content.header, found),
        "callouts": callouts,
        "sketches": sketches,
        "routes": routes,
        "route": at,
        "drawings": drawings,
        "bindings": bindings,
        "chains": chains,
        "logbook": tuple(
            e if e.callout is None or e.callout in numbers else msgspec.structs.replace(e, callout=None)
            for e in logbook
        ),
        "family": members.sound(content.family, numbers, found.set_aside),
        "kept": found.once(content.kept, lambda k: k.id, "kept measurement"),
        "sheets": _sheets(content.sheets, numbers, found),
        "traces": _kept(
            found.once(content.traces, lambda t: t.sketch, "scan under a sketch"),
            lambda t: t.sketch in {s.id for s in sketches},
            lambda t: "a scan under a sketch that is not there",
            found,
        ),
        "faces": found.once(content.faces, lambda f: f.face.name, "face’s look"),
        "bodies": found.once(content.bodies, lambda b: b.id, "body’s look"),
        "next_callout": _next(content.next_callout, max(numbers, default=0)),
        "next_step": _next(content.next_step, max(map(_number, steps), default=0)),
    }
    changed = {f: v for f, v in fields.items() if v != getattr(content, f)}
    return msgspec.structs.replace(content, **changed) if changed else content


def sheets_mended(sheets: Sequence[Sheet], numbers: set[int]) -> tuple[tuple[Sheet, ...], list[str]]:
    """The sound part of drawing sheets on which those ``numbers`` may be written, and what was mended in words."""
    found = _Pass()
    return _sheets(sheets, numbers, found), found.told


def _sheets(sheets: Sequence[Sheet], numbers: set[int], found: _Pass) -> tuple[Sheet, ...]:
    return tuple(_drawn(s, numbers, found) for s in found.once(sheets, lambda s: s.id, "drawing sheet"))


def _drawn(sheet: Sheet, numbers: set[int], found: _Pass) -> Sheet:
    """A drawing sheet on paper that there is, at scales that can be drawn; each view and callout once, each detail of
    a view that is there.
    """
    fields: dict[str, object] = {}
    if sheet.size not in SIZES:
        fields["size"] = Sheet(id="").size
    if not is_scale(sheet.scale):
        fields["scale"] = Sheet(id="").scale
    views = found.once(sheet.views, lambda v: v.id, "view")
    whole = {v.id for v in views if v.detail is None}
    views = _kept(views, lambda v: v.detail is None or v.detail.of in whole, lambda v: f"view {v.id}", found)
    views = tuple(v if is_scale(v.scale or "1:1") else msgspec.structs.replace(v, scale="") for v in views)
    ids = {v.id for v in views}
    labels = found.once(sheet.labels, lambda e: e.number, "callout on a sheet,")
    labels = _kept(
        labels, lambda e: e.number in numbers and e.view in ids, lambda e: f"callout {e.number} on a sheet", found
    )
    fields |= {"views": views, "labels": labels}
    changed = {f: v for f, v in fields.items() if v != getattr(sheet, f)}
    if changed.keys() & {"size", "scale"}:
        found.told.append("the paper of a drawing sheet")
    return msgspec.structs.replace(sheet, **changed) if changed else sheet


def _kept(
    items: Iterable[Named], good: Callable[[Named], bool], words: Callable[[Named], str], found: _Pass
) -> tuple[Named, ...]:
    kept = []
    for item in items:
        if good(item):
            kept.append(item)
        else:
            found.set_aside(words(item), item)
    return tuple(kept)


def _next(stated: int, last: int) -> int:
    """The number to be given out next: as stated, unless it is given already or cannot be meant."""
    return stated if last < stated < MOST else last + 1


def _number(id_: str) -> int:
    digits = id_.removeprefix("s").split("t")[0]
    return int(digits) if digits.isdigit() and len(digits) < 7 else 0


def _sketch(sketch: Sketch, found: _Pass) -> Sketch:
    made = sound_sketch(sketch)
    for piece in made.aside:
        found.set_aside(f"{type(piece).__name__.lower()} {piece.id} of sketch “{sketch.name}”", piece)
    return made.sketch


def _route(route: Route, found: _Pass) -> Route:
    steps = found.once(route.steps, lambda s: s.id, "step")
    steps = _kept(steps, _can_be_called, lambda s: f"step {s.id}", found)
    sheet = _sheet(route.sheet, found)
    if steps == route.steps and sheet == route.sheet:
        return route
    return msgspec.structs.replace(route, steps=steps, sheet=sheet)


def _sheet(sheet: OperationSheet, found: _Pass) -> OperationSheet:
    """A set-up that no one can mean is set aside; its operations then go where the proposal has them."""
    setups = found.once(sheet.setups, lambda s: s.id, "set-up")
    setups = _kept(setups, is_meant, lambda s: f"set-up {s.id}", found)
    return sheet if setups == sheet.setups else OperationSheet(setups=setups)


def _can_be_called(step: Step) -> bool:
    """Whether a step’s name can begin the names of faces."""
    return bool(step.id) and not set(step.id) & set("/~|#. ") and kind_of(step) is not None


def _header(header: Header, found: _Pass) -> Header:
    """Figures outside what anybody means take the usual ones."""
    fields: dict[str, object] = {}
    if not 0 <= header.decimals <= MOST_DECIMALS:
        fields["decimals"] = Header().decimals
        found.told.append(f"the decimals ({header.decimals})")
    if not 0 < header.material.density < 1000:
        found.set_aside(f"the material ({header.material.density:g} g/cm³)", header.material)
        fields["material"] = all_materials()[0]
    stated = header.stated
    figures = (v for v in (stated.volume, stated.mass, stated.area, *stated.size) if v is not None)
    places = all(v is None or abs(v) < 1e6 for v in stated.center)
    if not (0 < stated.tolerance <= 1 and all(0 < v < 1e15 for v in figures) and places):
        found.set_aside("the stated figures", stated)
        fields["stated"] = StatedFigures()
    return msgspec.structs.replace(header, **fields) if fields else header
