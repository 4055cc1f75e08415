"""What every step has in common, and what a step's build gets and gives."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, Literal, NamedTuple

import msgspec

from ..callout import Ledger
from ..quantity import ExpressionError, evaluate
from ..sketch.model import Sketch
from ..standards.threads import ScrewThread, parse_designation
from .gauges import Claim

if TYPE_CHECKING:
    from ..kernel.named import NamedBody


class FaceRef(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A face by name; ``was`` describes it as it was when it was picked."""

    name: str
    was: str = ""


class EdgeRef(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The edge(s) between two faces, by their names."""

    a: str
    b: str
    was: str = ""


class StepBase(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``id`` never changes and is part of face names; ``name`` is the user's."""

    id: str
    name: str = ""
    suppressed: bool = False


class StepFailure(Exception):
    """A step that cannot be built: what, why, and what would work. ``lost`` is a reference that resolves no more."""

    def __init__(self, message: str, lost: str = "") -> None:
        super().__init__(message)
        self.lost = lost


class ThreadMark(msgspec.Struct, frozen=True):
    """A cosmetic thread carried by a face; ``length`` in mm, ``from_high`` when it starts at the far end."""

    face: str
    thread: ScrewThread
    length: float
    internal: bool
    from_high: bool = False


class Tooling(NamedTuple):
    """The shapes a step cut or added, kept so that a pattern can repeat them."""

    mode: Literal["add", "cut", "keep"]
    tools: tuple[NamedBody, ...]


class Built(NamedTuple):
    """What a step gave; ``renewed`` are sketches whose lines from the solid moved for it."""

    body: NamedBody
    tooling: Tooling | None
    marks: tuple[ThreadMark, ...]
    renewed: tuple[Sketch, ...] = ()


class Workshop:
    """All that a step may use while it is built."""

    def __init__(self, ledger: Ledger, sketches: Mapping[str, Sketch]) -> None:
        self.ledger, self.sketches = ledger, dict(sketches)
        #: Sketches whose lines from the solid have moved since they were last stored.
        self.renewed: dict[str, Sketch] = {}
        self.current: NamedBody | None = None
        self.tooling: dict[str, Tooling] = {}
        self.marks: tuple[ThreadMark, ...] = ()

    @property
    def body(self) -> NamedBody:
        if self.current is None:
            raise StepFailure("There is no body yet. Start the route with a turned profile or an extrude.")
        return self.current

    def sketch(self, id_: str) -> Sketch:
        """The sketch, its lines from the solid brought up to the present body. Raises StepFailure."""
        if id_ not in self.sketches:
            raise StepFailure("This step has no sketch.")
        from .projecting import refreshed

        old = self.sketches[id_]
        if old.projected and id_ not in self.renewed:
            offset = self.value(old.plane.offset, "Plane offset", positive=False)
            angle = self.value(old.plane.angle, "Plane angle", "angle", positive=False)
            self.renewed[id_] = self.sketches[id_] = refreshed(old, self.current, offset, angle, self.ledger)
        return self.sketches[id_]

    def value(self, text: str, label: str, want: str = "length", positive: bool = True) -> float:
        """A formula's value. Raises StepFailure naming the field."""
        try:
            value = evaluate(text, self.ledger, want)
        except ExpressionError as error:
            raise StepFailure(f"{label}: {error}") from None
        if positive and value <= 0:
            raise StepFailure(f"{label} must be above zero; it is {value:g}.")
        return value

    def thread(self, text: str) -> ScrewThread:
        """A designation, or the thread of the callout that ``text`` names. Raises StepFailure."""
        text = text.strip()
        try:
            if text.startswith("#"):
                number = int(text[1:].partition(".")[0])
                found = self.ledger.reading(number).thread
                if found is None:
                    raise StepFailure(f"Callout #{number} is not a thread.")
                return found
            return parse_designation(text)
        except (LookupError, ValueError, ExpressionError) as error:
            raise StepFailure(f"Thread: {error}") from None


Want = Literal[
    "length", "angle", "number", "thread", "face", "edges", "sketch", "steps", "choice", "flag", "regions", "text"
]


class Param(NamedTuple):
    """One field of a step as the editor shows it. ``when`` says for which choices it applies: field -> values."""

    field: str
    label: str
    want: Want
    choices: tuple[tuple[str, str], ...] = ()
    when: Mapping[str, tuple[str, ...]] = {}
    help: str = ""

    @property
    def is_formula(self) -> bool:
        return self.want in ("length", "angle", "number", "thread")

    def applies(self, step: Any) -> bool:
        return all(getattr(step, field) in values for field, values in self.when.items())


class StepKind(NamedTuple):
    """A kind of step: its struct and everything that is done with it."""

    struct: type[StepBase]
    title: str
    icon: str
    params: tuple[Param, ...]
    build: Callable[[Any, Workshop], Built]
    claims: Callable[[Any, RouteView], list[Claim]]
    summary: Callable[[Any, RouteView], str]


class RouteView(NamedTuple):
    """What claims and summaries may look at: no shapes, only what is stated."""

    ledger: Ledger
    sketches: Mapping[str, Sketch]
    steps: Mapping[str, StepBase]
    kind_of: Callable[[StepBase], StepKind]

    def text(self, formula: str, want: str = "length") -> str:
        """A formula's value as short text, lengths in the drawing's unit; the formula itself when it has none."""
        try:
            value = evaluate(formula, self.ledger, want)
        except ExpressionError:
            return formula
        if want == "angle":
            return f"{value * 57.29577951308232:.4g}°"
        return f"{value / 25.4 if want == 'length' and self.ledger.length_unit == 'in' else value:.6g}"
