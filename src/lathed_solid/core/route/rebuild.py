"""Running a route: each step once, what has not changed from the cache, every failure kept to its step."""

from __future__ import annotations

import hashlib
import logging
import time
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from functools import cache, lru_cache
from types import MappingProxyType
from typing import TYPE_CHECKING, Literal, NamedTuple

import msgspec

from ..callout import Ledger
from ..memo import kept
from ..names import callouts_in, lone_ref
from ..quantity import ExpressionError, evaluate
from ..refusal import worded
from ..sketch.model import Sketch
from .kinds import RouteView
from .making import maker_of
from .model import Built, FileLook, Shadow, StepBase, StepFailure, ThreadMark, Unfinished
from .registry import kind_of
from .workshop import Workshop

if TYPE_CHECKING:
    from ..kernel.ground.geometry import Frame
    from ..kernel.ground.named import NamedBody

log = logging.getLogger(__name__)

State = Literal["done", "failed", "waiting", "suppressed", "beyond"]


class StepReport(msgspec.Struct, frozen=True):
    """How one step went. ``message`` is why it failed, or what to know of one that is done; ``unfinished`` means that
    it only lacks something. ``seconds`` and ``volume`` (mm³) are of the run that built it; ``lost`` a dead reference.
    """

    id: str
    state: State
    message: str = ""
    seconds: float = 0.0
    volume: float = 0.0
    cached: bool = False
    lost: str = ""
    unfinished: bool = False


class RouteResult(NamedTuple):
    """``body`` is all that was last good, as one shape; None when no step gave a solid. ``renewed`` are sketches whose
    lines from the solid have moved, in their new pose; ``bodies`` the single bodies by the step that began them;
    ``datums`` planes, axes and points by the step that made them; ``frames`` the planes sizes are measured in and from;
    ``shadows`` where sketches lie and the part under them; ``looks`` what files say of the bodies read from them.
    """

    body: NamedBody | None
    marks: tuple[ThreadMark, ...]
    reports: tuple[StepReport, ...]
    renewed: Mapping[str, Sketch] = MappingProxyType({})
    bodies: Mapping[str, NamedBody] = MappingProxyType({})
    datums: Mapping[str, Frame] = MappingProxyType({})
    frames: Mapping[str, Frame] = MappingProxyType({})
    shadows: Mapping[str, Shadow] = MappingProxyType({})
    looks: Mapping[str, FileLook] = MappingProxyType({})


class Plan(NamedTuple):
    """What a rebuild needs to know: the steps, the solved sketches and the ledger of numbers."""

    steps: tuple[StepBase, ...]
    sketches: Mapping[str, Sketch]
    ledger: Ledger
    attachments: Callable[[str], bytes | None] | None = None

    def view(self) -> RouteView:
        return RouteView(self.ledger, self.sketches, {s.id: s for s in self.steps}, kind_of)


class Cache:
    """Built steps by the hash of everything that went into them; the oldest are dropped."""

    def __init__(self, size: int = 400) -> None:
        self._size = size
        self._kept: OrderedDict[bytes, tuple[Built, StepReport]] = OrderedDict()

    def get(self, key: bytes) -> tuple[Built, StepReport] | None:
        found = self._kept.get(key)
        if found:
            self._kept.move_to_end(key)
        return found

    def put(self, key: bytes, built: Built, report: StepReport) -> None:
        self._kept[key] = (built, report)
        while len(self._kept) > self._size:
            self._kept.popitem(last=False)


def rebuild(
    plan: Plan,
    cache: Cache | None = None,
    *,
    until: str = "",
    faulted: Mapping[str, str] = MappingProxyType({}),
    starting: Callable[[StepBase], None] = lambda step: None,
    ended: Callable[[StepReport], None] = lambda report: None,
) -> RouteResult:
    """Build the route up to and including step ``until`` (all of it when empty).

    ``starting`` is told before each step that must run, ``ended`` after every step. Steps in ``faulted`` (id to
    message) brought the kernel down before; they are reported as failed without being tried.
    """
    cache = cache or Cache()
    shop = Workshop(plan.ledger, plan.sketches, {s.id: s for s in plan.steps}, plan.attachments, maker_of)
    key, reports = b"", []
    halted: State | None = None
    for step in plan.steps:
        if halted or step.suppressed:
            report = StepReport(step.id, halted or "suppressed")
        elif step.id in faulted:
            report = StepReport(step.id, "failed", faulted[step.id])
            halted = "waiting"
        else:
            key = _key(key, step, plan)
            report = _run(step, shop, cache, key, starting)
            if report.state == "failed":
                halted = "waiting"
            elif step.id == until:
                halted = "beyond"
        reports.append(report)
        ended(report)
    moved = {i: s for i, s in shop.renewed.items() if s != plan.sketches[i]}
    return RouteResult(
        _whole(shop), shop.marks, tuple(reports), moved, shop.bodies, shop.datums, shop.frames, shop.shadows, shop.looks
    )


def _whole(shop: Workshop) -> NamedBody | None:
    """All bodies as one shape."""
    if len(shop.bodies) < 2:
        return next(iter(shop.bodies.values()), None)
    from ..kernel.ground.named import compound

    return compound(shop.bodies.values())


def _told(step: StepBase, error: Exception) -> str:
    """What is said of a step that broke off: the kernel may give up, anything else is a fault of ours."""
    if type(error).__module__.startswith("OCP"):
        log.info("step %s", step.id, exc_info=True)
        return "The kernel gave up on this step without a word. Change a size a little, or make the shape another way."
    log.error("step %s", step.id, exc_info=True)
    return "This step met a fault of the program; what happened is in the log. Everything else is kept."


def _run(step: StepBase, shop: Workshop, cache: Cache, key: bytes, starting: Callable[[StepBase], None]) -> StepReport:
    from ..kernel.ground.check import KernelFailure, NothingChanged
    from ..kernel.ground.named import LostReference

    found = cache.get(key)
    if found is None:
        starting(step)
        begun, before, known = time.perf_counter(), (dict(shop.bodies), shop.active), set(shop.renewed)
        framed, unit = dict(shop.frames), shop.ledger.length_unit
        message, lost, unfinished = "", "", False
        try:
            shop.turn_to(step)
            built = shop.build(step)
        except StepFailure as error:
            message, lost, unfinished = error.said_in(unit), error.lost, isinstance(error, Unfinished)
        except LostReference as error:
            message, lost = _lost_words(step, error.name), error.name
        except NothingChanged as error:
            shop.bodies, shop.active = dict(before[0]), before[1]
            built = Built(None, remark=f"{error.said_in(unit)} The part is as it was.")
        except KernelFailure as error:
            message = error.said_in(unit)
        except Exception as error:  # the binding's exceptions share no base but Exception
            message = _told(step, error)
        if message:
            shop.bodies, shop.active = before
            shop.frames = framed
            return StepReport(step.id, "failed", message, lost=lost, unfinished=unfinished)
        if built.body is not None:
            shop.current = built.body
        built = built._replace(
            renewed=tuple(s for i, s in shop.renewed.items() if i not in known),
            bodies=tuple(shop.bodies.items()),
            active=shop.active,
            looks=tuple((i, f) for i, f in shop.looks.items() if i.partition("/")[0] == step.id),
            shadows=tuple((i, e) for i, e in shop.shadows.items() if i in _sketches(step)),
            frames=tuple((i, f) for i, f in shop.frames.items() if framed.get(i) is not f),
        )
        volume = sum(b.volume for b in shop.bodies.values())
        report = StepReport(step.id, "done", worded(built.remark, unit), time.perf_counter() - begun, volume)
        cache.put(key, built, report)
    else:
        built, report = found[0], msgspec.structs.replace(found[1], cached=True)
    for sketch in built.renewed:
        shop.renewed[sketch.id] = shop.sketches[sketch.id] = sketch
    shop.bodies, shop.active = dict(built.bodies), built.active
    shop.datums.update(built.datums)
    shop.frames.update(built.frames)
    shop.shadows.update(built.shadows)
    shop.looks.update(built.looks)
    if built.tooling:
        shop.tooling[step.id] = built.tooling
    shop.marks += built.marks
    return report


def _lost_words(step: StepBase, name: str) -> str:
    """Which reference was lost and what it was when it was picked."""
    was = ""
    for field in step.__struct_fields__:
        value = getattr(step, field)
        for ref in value if isinstance(value, tuple) else (value,):
            named = [getattr(ref, part, "") for part in ("name", "a", "b")]
            if any(n and n in name for n in named):
                was = was or getattr(ref, "was", "")
    described = f" It was: {was}." if was else ""
    return f"A face or edge this step was placed on is gone ({name}).{described} Pick it again."


def _key(before: bytes, step: StepBase, plan: Plan) -> bytes:
    """Hash of what came before, the step, the values of its formulas and its solved sketch."""
    digest = hashlib.sha256(before)
    text = _written(step)
    digest.update(text)
    if b"#" in text:  # what it is worth changes with the callouts
        for param in kind_of(step).params:
            if param.is_formula:
                digest.update(_value(getattr(step, param.field), param.want, plan.ledger).encode())
            elif param.want == "text":
                for number in sorted(callouts_in(getattr(step, param.field))):
                    digest.update(_value(f"#{number}", "thread", plan.ledger).encode())
    else:
        digest.update(plan.ledger.length_unit.encode())
    for field in _sketch_fields(type(step)):
        sketch = plan.sketches.get(getattr(step, field))
        if sketch is None:
            continue
        digest.update(_drawn(sketch))
        for lender in _lenders(sketch, plan):
            digest.update(_drawn(lender) + _value(lender.plane.offset, "length", plan.ledger).encode())
        for formula, want in ((sketch.plane.offset, "length"), (sketch.plane.angle, "angle")):
            digest.update(_value(formula, want, plan.ledger).encode())
    return digest.digest()


@lru_cache(maxsize=4096)
def _written(step: StepBase) -> bytes:
    """A step as text, without what does not change its solid."""
    plain = msgspec.structs.replace(step, name="", suppressed=False, group="")
    return type(step).__name__.encode() + msgspec.json.encode(plain)


@cache
def _sketch_fields(kind: type[StepBase]) -> tuple[str, ...]:
    return tuple(p.field for p in kind_of(kind(id="")).params if p.want == "sketch")


def _sketches(step: StepBase) -> tuple[str, ...]:
    return tuple(getattr(step, f) for f in _sketch_fields(type(step)))


def _lenders(sketch: Sketch, plan: Plan) -> list[Sketch]:
    """The sketches whose lines a sketch takes, and those that lend to them."""
    found: list[Sketch] = []
    waiting = [sketch]
    while waiting:
        for item in waiting.pop().projected:
            lender = plan.sketches.get(item.a) if item.mode == "sketch" else None
            if lender is not None and lender not in found:
                found.append(lender)
                waiting.append(lender)
    return found


def _drawn(sketch: Sketch) -> bytes:
    """A solved sketch as text; kept with the (immutable) sketch."""

    def written() -> bytes:
        drawn: tuple[object, ...] = (sketch.entities, sketch.plane)
        if sketch.projected:  # it is solved again with the lines of the solid: what holds it together counts too
            drawn = (*drawn, sketch.projected, sketch.relations, sketch.dimensions, sketch.repeats)
        return msgspec.json.encode(drawn)

    return kept(sketch, "written", written)


def _value(text: str, want: str, ledger: Ledger) -> str:
    if want == "thread":
        ref = lone_ref(text)
        return ledger.callouts[ref.number].note if ref is not None and ref.number in ledger.callouts else text
    try:
        return repr(evaluate(text, ledger, want))
    except ExpressionError as error:
        return str(error)


def steps_until(steps: Sequence[StepBase], number: int) -> str:
    """The id of the step numbered ``number`` (10, 20, 30 …). Raises StepFailure."""
    index, rest = divmod(number, 10)
    if rest or not 1 <= index <= len(steps):
        raise StepFailure(f"There is no step {number}. The route has steps 10 to {10 * len(steps)}.")
    return steps[index - 1].id
