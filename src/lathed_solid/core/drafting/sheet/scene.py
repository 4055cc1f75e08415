"""A sheet as it is drawn: lines by pen, arrows, words, on a page in mm with y upwards. Screen and files draw this."""

from __future__ import annotations

from typing import Literal, NamedTuple

import msgspec

XY = tuple[float, float]
#: What a line stands for; ``PENS`` says how it is drawn.
PenName = Literal[
    "visible", "hidden", "tangent", "centre", "cut", "hatch", "thread", "break", "dimension", "frame", "table", "plane"
]  # fmt: skip


class Pen(NamedTuple):
    """Width, and the lengths of dashes and gaps (mm, none for a full line); ``layer`` in a DXF file."""

    width: float
    dashes: tuple[float, ...]
    layer: str


#: Line types and widths (ISO 128-2 tables 1 and 2, line group 0.5).
PENS: dict[PenName, Pen] = {
    "visible": Pen(0.5, (), "VISIBLE"),
    "cut": Pen(0.5, (), "VISIBLE"),
    "hidden": Pen(0.25, (3.0, 1.0), "HIDDEN"),
    "tangent": Pen(0.18, (), "TANGENT"),
    "centre": Pen(0.25, (7.0, 1.2, 0.8, 1.2), "CENTER"),
    "hatch": Pen(0.18, (), "HATCH"),
    "thread": Pen(0.25, (), "THREAD"),
    "break": Pen(0.25, (), "BREAK"),
    "dimension": Pen(0.25, (), "DIM"),
    "plane": Pen(0.5, (7.0, 1.2, 0.8, 1.2), "CUTTING"),
    "frame": Pen(0.7, (), "FRAME"),
    "table": Pen(0.25, (), "FRAME"),
}


class Path(msgspec.Struct, frozen=True, tag="path"):
    """A line through ``points``. ``of`` says what it belongs to (``view:v1``, ``label:12``), for pointing at it."""

    pen: PenName
    points: tuple[XY, ...]
    of: str = ""


class Round(msgspec.Struct, frozen=True, tag="round"):
    """A circle or a part of one: ``start`` and ``sweep`` in radians, counter-clockwise."""

    pen: PenName
    center: XY
    radius: float
    start: float
    sweep: float
    of: str = ""


class Arrow(msgspec.Struct, frozen=True, tag="arrow"):
    """A filled arrow head: its tip and the unit way it points."""

    tip: XY
    way: XY
    of: str = ""


class Words(msgspec.Struct, frozen=True, tag="words"):
    """One line of text: ``at`` is the start, middle or end of its base line, as ``align`` says; ``height`` that of its
    capitals, ``turn`` 90 reads upwards.
    """

    text: str
    at: XY
    height: float = 2.5
    align: Literal["start", "middle", "end"] = "start"
    turn: Literal[0, 90] = 0
    of: str = ""


class Sized(msgspec.Struct, frozen=True, tag="sized"):
    """A length written on a line between arrows, as CAD files know one: from ``a`` to ``b`` on the part, the line
    through ``base``, along ``way`` (unit). ``marks`` are how it is drawn; ``text`` is all that it says, about ``amid``.
    """

    a: XY
    b: XY
    base: XY
    way: XY
    text: str
    length: float
    marks: tuple[Path | Round | Arrow | Words, ...]
    amid: XY
    of: str = ""

    @property
    def is_slanted(self) -> bool:
        """Whether it runs neither level nor upright."""
        return min(abs(self.way[0]), abs(self.way[1])) > 1e-6


Mark = Path | Round | Arrow | Words | Sized


class Spot(msgspec.Struct, frozen=True):
    """Something that can be pointed at and dragged: a view or a label, and its box (left, bottom, right, top)."""

    of: str
    box: tuple[float, float, float, float]


class Scene(msgspec.Struct, frozen=True):
    """A drawn page of ``width`` by ``height`` mm."""

    width: float
    height: float
    marks: tuple[Mark, ...]
    spots: tuple[Spot, ...] = ()

    def texts(self) -> tuple[Words, ...]:
        """Every line of text on the page."""
        found = []
        for mark in self.marks:
            if isinstance(mark, Words):
                found.append(mark)
            elif isinstance(mark, Sized):
                found += [m for m in mark.marks if isinstance(m, Words)]
        return tuple(found)


#: Length and half width of an arrow head, mm.
ARROW = (2.5, 0.42)


def arrow_corners(arrow: Arrow) -> tuple[XY, XY, XY]:
    """The three corners of an arrow head."""
    (x, y), (u, v), (long, half) = arrow.tip, arrow.way, ARROW
    back = x - long * u, y - long * v
    return arrow.tip, (back[0] - half * v, back[1] + half * u), (back[0] + half * v, back[1] - half * u)
