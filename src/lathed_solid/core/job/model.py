"""The job: everything that is saved, as one immutable tree."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import msgspec

from ..caliper.logbook import LogEntry
from ..callout import Callout, Ledger, ledger_of
from ..drafting.sheet.model import Sheet
from ..drawing.paper import Drawing
from ..formulas import Formula
from ..plan.blank import Blank, fresh_blank
from ..plan.sheet.model import OperationSheet
from ..plan.zero import Zero
from ..prove.binding import Binding
from ..quantity import Style
from ..refusal import Refusal
from ..route.model import CornerRef, EdgeRef, FaceRef, FileLook
from ..route.rebuild import Plan
from ..route.registry import Step
from ..route.steps.revolve import Revolve
from ..route.steps.stock import Stock
from ..sketch.model import Sketch
from ..sketch.traces import Traces
from ..standards.general import ByPlaces
from ..standards.materials import Material, all_materials

#: 2: drawings, places of callouts, chains, the logbook, title blocks by decimal places.
#: 4: bodies and how they look, sketches on faces, the wider list of steps.
#: 5: the numbers to be given out next.
#: 7: what of a damaged file was set aside.
#: 8: the table of a part family.
#: 9: the blank, and machine zero.
#: 10: the operation sheet of a route.
#: 11: readings of a part in hand, kept measurements.
#: 12: surface area, overall size and centre of mass as stated figures.
#: 13: corners in kept measurements, threads felt on solids of others.
#: 14: drawing sheets.
#: 15: how single faces look, running lengths on drawing sheets.
FORMAT = 17


class NotThere(Refusal):
    """A callout, step, sketch, drawing or revision that is not in the job."""


Three = tuple[float | None, float | None, float | None]
_NONE: Three = (None, None, None)


class StatedFigures(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Figures on the drawing's title block: ``volume`` in mm³, ``mass`` in g, surface ``area`` in mm², overall ``size``
    and ``center`` of mass in machine X, Y and Z (mm, None for what is not stated), ``tolerance`` relative.
    """

    volume: float | None = None
    mass: float | None = None
    area: float | None = None
    size: Three = _NONE
    center: Three = _NONE
    tolerance: float = 1e-4

    @property
    def is_empty(self) -> bool:
        """Whether nothing at all is stated."""
        return not (self.volume or self.mass or self.area) and all(v is None for v in (*self.size, *self.center))

    @property
    def mass_limits(self) -> tuple[float | None, float | None]:
        """Lowest and highest mass that agrees with the stated one, g; None when none is stated."""
        if not self.mass:
            return None, None
        return self.mass * (1 - self.tolerance), self.mass * (1 + self.tolerance)


class Route(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One way to make the part, and in which set-ups it is machined."""

    name: str = "A"
    steps: tuple[Step, ...] = ()
    sheet: OperationSheet = OperationSheet()


class BodyLook(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """How one body is called, shown and made; ``id`` is the step that began it. What is empty is as the title block
    says. ``finish`` is a surface note such as ``anodised`` or ``Ra 1.6``.
    """

    id: str
    name: str = ""
    shown: bool = True
    see_through: bool = False
    color: tuple[float, float, float] | None = None
    material: Material | None = None
    finish: str = ""


class FaceLook(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """How one face looks where it is not as its body: a ``finish`` as the drawing notes it, an sRGB ``color``."""

    face: FaceRef
    finish: str = ""
    color: tuple[float, float, float] | None = None


class Header(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """The title block.

    ``units`` are the drawing's: a number without a unit is read in them. ``shown`` is the unit in which figures are
    shown, empty for the drawing's own; changing it changes no size. ``grade`` is the ISO 2768-1 class for sizes without
    limits; ``places``, when given, is a title block that goes by decimal places instead. ``projection`` is how views
    lie; ``typed`` keeps the text of the numeric fields as typed.
    """

    name: str = "New part"
    number: str = ""
    revision: str = "A"
    units: Literal["mm", "in"] = "mm"
    shown: Literal["mm", "in", ""] = ""
    decimals: int = 3
    fractions: bool = False
    grade: Literal["f", "m", "c", "v"] = "m"
    places: ByPlaces | None = None
    projection: Literal["first", "third"] = "first"
    material: Material = all_materials()[0]
    stated: StatedFigures = StatedFigures()
    remarks: str = ""
    typed: dict[str, str] = {}

    @property
    def style(self) -> Style:
        """How figures are shown."""
        return Style(self.shown or self.units, self.decimals, self.fractions)

    @property
    def typed_style(self) -> Style:
        """How a figure is written so that, typed, it means the same."""
        return Style(self.units, self.decimals, self.fractions)


class Chain(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Callouts ``parts`` that should add up to the callout ``overall``."""

    overall: int
    parts: tuple[int, ...]


class Cell(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a member of a family has in the place of a callout: a bare size, or a whole note."""

    number: int
    text: Formula


class Member(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One member of a part family; where it has no cell it is as the part is drawn."""

    name: str
    cells: tuple[Cell, ...] = ()

    def text(self, number: int) -> str:
        return next((c.text for c in self.cells if c.number == number), "")


class FamilyTable(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """The callouts that differ, by number, and the members."""

    columns: tuple[int, ...] = ()
    members: tuple[Member, ...] = ()


class Kept(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A measurement that stays with the part: figure ``what`` of the one or two things that were picked. Among the
    ``faces`` are planes, axes and points of steps.
    """

    id: str
    what: str
    faces: tuple[FaceRef, ...] = ()
    edges: tuple[EdgeRef, ...] = ()
    corners: tuple[CornerRef, ...] = ()


class Aside(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Something of a damaged file that could not be used: what it was, and its text (JSON) as it stood."""

    words: str
    text: str


class Content(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What a revision freezes: title block, numbers and where they came from, sketches, routes and bindings, drawing
    ``sheets``.

    ``next_callout`` and ``next_step`` are the numbers to be given out next: none is ever given twice. ``blank`` is None
    until something of it was stated. ``faces`` says how single ones look. ``aside`` keeps what of a damaged file could
    not be used.
    """

    header: Header = Header()
    callouts: tuple[Callout, ...] = ()
    sketches: tuple[Sketch, ...] = ()
    routes: tuple[Route, ...] = (Route(),)
    route: int = 0
    bindings: tuple[Binding, ...] = ()
    drawings: tuple[Drawing, ...] = ()
    chains: tuple[Chain, ...] = ()
    logbook: tuple[LogEntry, ...] = ()
    bodies: tuple[BodyLook, ...] = ()
    faces: tuple[FaceLook, ...] = ()
    family: FamilyTable = FamilyTable()
    blank: Blank | None = None
    zero: Zero = Zero()
    kept: tuple[Kept, ...] = ()
    sheets: tuple[Sheet, ...] = ()
    traces: tuple[Traces, ...] = ()
    next_callout: int = 1
    next_step: int = 1
    aside: tuple[Aside, ...] = ()

    @property
    def planned(self) -> Blank:
        """The blank as it is planned; as a job of its unit begins, while nothing is."""
        return self.blank or fresh_blank(self.header.units)

    def body(self, id_: str) -> BodyLook:
        """How a body looks; the plain look when nothing was said of it."""
        return next((b for b in self.bodies if b.id == id_), BodyLook(id=id_))

    def look(self, id_: str, file: FileLook) -> BodyLook:
        """How a body is called and coloured: as said by hand, else as its file says; what neither says is empty."""
        own = self.body(id_)
        return msgspec.structs.replace(own, name=own.name or file.name, color=own.color or file.color)

    def body_name(self, id_: str, file: FileLook) -> str:
        """What a body is called: its own name, else its ``file``'s, else that of the step that began it."""
        step = next((s for s in self.steps if s.id == id_.partition("/")[0]), None)
        return self.look(id_, file).name or (step.name if step is not None else "") or id_

    def material_of(self, id_: str) -> Material:
        return self.body(id_).material or self.header.material

    def drawing(self, id_: str) -> Drawing:
        """Raises NotThere."""
        for drawing in self.drawings:
            if drawing.id == id_:
                return drawing
        raise NotThere("This drawing is no longer in the job.")

    def drawing_sheet(self, id_: str) -> Sheet:
        """Raises NotThere."""
        for sheet in self.sheets:
            if sheet.id == id_:
                return sheet
        raise NotThere("This drawing sheet is no longer in the job.")

    @property
    def steps(self) -> tuple[Step, ...]:
        return self.routes[self.route].steps

    @property
    def sheet(self) -> OperationSheet:
        return self.routes[self.route].sheet

    @property
    def turned(self) -> bool:
        """Whether the part begins as a turned one: it then has a left and a right end, else a top and a bottom."""
        first = next((s for s in self.steps if not s.suppressed), None)
        return isinstance(first, Revolve) or (isinstance(first, Stock) and first.is_turned)

    def step(self, id_: str) -> Step:
        """Raises NotThere."""
        for step in self.steps:
            if step.id == id_:
                return step
        raise NotThere(f"The route has no step {id_}.")

    def sketch(self, id_: str) -> Sketch:
        """Raises NotThere."""
        for sketch in self.sketches:
            if sketch.id == id_:
                return sketch
        raise NotThere(f"The job has no sketch {id_}.")

    def traces_of(self, sketch: str) -> Traces | None:
        """The linework of a scan that lies under a sketch."""
        return next((t for t in self.traces if t.sketch == sketch), None)

    def ledger(self) -> Ledger:
        return ledger_of(self.callouts, self.header.units, self.header.places or self.header.grade)

    def plan(self, attachments: Callable[[str], bytes | None] | None = None) -> Plan:
        """What a rebuild needs; ``attachments`` finds files that steps read."""
        return Plan(self.steps, {s.id: s for s in self.sketches}, self.ledger(), attachments)


def part_of(content: Content) -> Content:
    """What the solid comes from: the part without what says nothing of it."""
    bare = OperationSheet()
    routes = tuple(r if r.sheet == bare else msgspec.structs.replace(r, sheet=bare) for r in content.routes)
    return msgspec.structs.replace(
        content,
        routes=routes,
        family=FamilyTable(),
        logbook=(),
        drawings=(),
        chains=(),
        blank=None,
        zero=Zero(),
        kept=(),
        faces=(),
        sheets=(),
        traces=(),
    )


def with_part(content: Content, part: Content) -> Content:
    """The content with the solid of another that has the same routes: what says nothing of the solid stays its own,
    whatever the other has there.
    """
    routes = tuple(msgspec.structs.replace(r, sheet=o.sheet) for r, o in zip(part.routes, content.routes, strict=True))
    return msgspec.structs.replace(
        part,
        routes=routes,
        family=content.family,
        logbook=content.logbook,
        drawings=content.drawings,
        chains=content.chains,
        blank=content.blank,
        zero=content.zero,
        kept=content.kept,
        faces=content.faces,
        sheets=content.sheets,
        traces=content.traces,
        next_callout=max(content.next_callout, part.next_callout),
        next_step=max(content.next_step, part.next_step),
    )


class Revision(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A frozen state: its letter, when it was issued (ISO date), and what was measured then (mm³, g)."""

    label: str
    date: str
    content: Content
    volume: float | None = None
    mass: float | None = None


class Job(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """The document: the present content and the revisions issued before it."""

    format: int = FORMAT
    content: Content = Content()
    revisions: tuple[Revision, ...] = ()


def fresh_id(taken: set[str], prefix: str) -> str:
    """The first of ``prefix1``, ``prefix2`` … that is free."""
    number = 1
    while f"{prefix}{number}" in taken:
        number += 1
    return f"{prefix}{number}"
