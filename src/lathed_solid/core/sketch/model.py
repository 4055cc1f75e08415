"""What a sketch is made of. Everything is immutable; a solved pose is stored in the points themselves."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Literal

import msgspec

from ..formulas import Formula
from ..memo import kept
from .refusal import NoElement

#: Built-in elements of every sketch: the origin point and the two axis lines (along, across).
ORIGIN, ALONG, ACROSS = "origin", "along", "across"
BUILT_IN = (ORIGIN, ALONG, ACROSS)


class Point(msgspec.Struct, frozen=True, tag="point", forbid_unknown_fields=True):
    id: str
    x: float
    y: float


class Line(msgspec.Struct, frozen=True, tag="line", forbid_unknown_fields=True):
    """From point ``a`` to point ``b``. ``link`` names a face of the solid that this line stands for."""

    id: str
    a: str
    b: str
    construction: bool = False
    link: str = ""


class Circle(msgspec.Struct, frozen=True, tag="circle", forbid_unknown_fields=True):
    id: str
    center: str
    radius: float
    construction: bool = False
    link: str = ""


class Arc(msgspec.Struct, frozen=True, tag="arc", forbid_unknown_fields=True):
    """Counter-clockwise about ``center`` from point ``a`` to point ``b``."""

    id: str
    center: str
    a: str
    b: str
    construction: bool = False
    link: str = ""


class Ellipse(msgspec.Struct, frozen=True, tag="ellipse", forbid_unknown_fields=True):
    """Whole ellipse about ``center``; the point ``a`` ends its first half axis, ``minor`` (mm) is the other half."""

    id: str
    center: str
    a: str
    minor: float
    construction: bool = False
    link: str = ""


class Spline(msgspec.Struct, frozen=True, tag="spline", forbid_unknown_fields=True):
    """A free edge: one cubic through the points, closed when the first is also the last.

    ``start`` and ``end`` are handle points that give the direction at the ends ("" leaves an end natural).
    """

    id: str
    through: tuple[str, ...]
    start: str = ""
    end: str = ""
    construction: bool = False
    link: str = ""


class Text(msgspec.Struct, frozen=True, kw_only=True, tag="text", forbid_unknown_fields=True):
    """Letters along a line or arc, as outlines. ``height`` of a capital in mm; ``spacing`` in parts of it."""

    id: str
    on: str
    text: str
    height: float
    align: Literal["start", "middle", "end"] = "start"
    spacing: float = 0.0
    font: Literal["plain", "bold", "figures"] = "plain"
    construction: bool = False


Entity = Point | Line | Circle | Arc | Ellipse | Spline | Text
Curve = Line | Circle | Arc | Ellipse | Spline

RelationKind = Literal[
    "coincident",
    "horizontal",
    "vertical",
    "parallel",
    "perpendicular",
    "tangent",
    "concentric",
    "collinear",
    "equal",
    "midpoint",
    "symmetric",
    "on",
    "spaced",
    "pierce",
    "fixed",
]
DimensionKind = Literal[
    "along",
    "across",
    "distance",
    "radius",
    "diameter",
    "angle",
    "arc_length",
    "long_axis",
    "short_axis",
    "height",
    "offset",
    "pitch",
    "pitch2",
    "turn",
]


class Relation(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``of`` holds element ids; ``assumed`` marks a relation the program proposed while drawing.

    ``pierce`` ties a point to where a curve of another sketch (``k2/l5``) goes through this plane; ``at`` is that
    place (mm) as last worked out.
    """

    id: str
    kind: RelationKind
    of: tuple[str, ...]
    assumed: bool = False
    at: tuple[float, float] | None = None


class Dimension(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``text`` is the formula as typed. ``sense`` keeps the side (+1 or -1) the user drew.

    ``diameter`` of a point or line means twice its distance from the axis (turned profiles). ``far`` measures a
    line-to-circle distance to the far side of the circle. ``rim`` says for each element of a distance without lines
    which edge of the circle is meant: -1 the near one, 1 the far one, 0 the centre. ``quadrant`` reverses the first
    (1) or second (2) line of an angle. ``offset`` holds any number of pairs (curve, its offset) to one value.
    ``pitch``, ``pitch2`` and ``turn`` belong to a repeat. ``reference`` dimensions are shown, not enforced; their text
    is what was expected, if anything was. ``ordinate`` ones are drawn as places from a datum. ``place`` is where the
    text was put by hand (mm), None where it finds its own place.
    """

    id: str
    kind: DimensionKind
    of: tuple[str, ...]
    text: Formula
    sense: int = 1
    far: bool = False
    quadrant: int = 0
    reference: bool = False
    rim: tuple[int, int] = (0, 0)
    ordinate: bool = False
    place: tuple[float, float] | None = None


class Repeat(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Linked copies of ``of`` (curves and points): a row, a grid, or a ring about the point ``center``.

    ``count`` and ``count2`` are formulas. ``along`` names the line or axis of the first direction, ``across`` that of
    the second. Copy i of element e is called ``<id>.<i>.0.e``; in a grid ``<id>.<i>.<j>.e``. Pitch and turn are
    dimensions of the sketch; a ring without one is spread over the whole turn.
    """

    id: str
    kind: Literal["row", "grid", "ring"]
    of: tuple[str, ...]
    count: Formula
    count2: Formula = "1"
    along: str = ALONG
    across: str = ACROSS
    center: str = ""


class Projected(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Lines taken from the solid as it stands before the first step of this sketch; they cannot be moved here.

    ``edge``: the edge between the faces ``a`` and ``b``, seen square onto the plate. ``silhouette``: the outline of the
    face ``a``. ``cut``: where the plate's plane cuts the face ``a``. ``sketch``: the lines of the sketch ``a``, seen
    square onto the plate. ``was`` says what it was when it was taken. Its elements are called ``<id>.1``, ``<id>.2``.
    """

    id: str
    mode: Literal["edge", "silhouette", "cut", "sketch"]
    a: str
    b: str = ""
    was: str = ""


class Plane(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where a sketch lies. ``base``: ``turning`` (axis right, radius up), ``end`` (seen along the axis),
    ``side`` (axis right, across up, turned about the axis by ``angle``). ``offset`` is a formula along the normal.
    ``datum`` names the face that lies at zero along the axis, so that sizes from zero can be measured from it.
    ``face``: on the flat face or the plane of an earlier step that ``on`` names, its zero nearest to part zero.
    """

    base: Literal["turning", "end", "side", "face"] = "turning"
    offset: Formula = "0"
    angle: Formula = "0"
    datum: str = ""
    on: str = ""


class Station(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One row of the turned-profile table; every size is a formula, empty where it does not apply.

    ``to`` is the position of the right end from zero, or ``length`` the length of the row. ``left`` and ``right``
    are edge treatments (``1 x 45°``, ``R1``, ``#3``), ``groove`` is ``width x diameter`` at the right end.
    """

    id: str
    to: Formula = ""
    length: Formula = ""
    diameter: Formula = ""
    diameter2: Formula = ""
    left: Formula = ""
    right: Formula = ""
    groove: Formula = ""
    thread: Formula = ""


class Sketch(msgspec.Struct, frozen=True, kw_only=True, dict=True, forbid_unknown_fields=True):
    """One sketch. While ``stations`` is set the table owns the geometry and writes it anew.

    Look-ups are kept with the (immutable) sketch; what they return must not be changed.
    """

    id: str
    name: str
    plane: Plane = Plane()
    entities: tuple[Entity, ...] = ()
    relations: tuple[Relation, ...] = ()
    dimensions: tuple[Dimension, ...] = ()
    stations: tuple[Station, ...] | None = None
    repeats: tuple[Repeat, ...] = ()
    projected: tuple[Projected, ...] = ()

    @property
    def turned(self) -> bool:
        return self.plane.base == "turning"

    @cached_property
    def by_id(self) -> Mapping[str, Entity]:
        return {e.id: e for e in self.entities}

    @cached_property
    def _at(self) -> tuple[list[int], list[int], list[int]]:
        """Where points, curves and texts stand among the entities."""
        kinds: tuple[list[int], list[int], list[int]] = ([], [], [])
        for at, entity in enumerate(self.entities):
            kinds[0 if isinstance(entity, Point) else 2 if isinstance(entity, Text) else 1].append(at)
        return kinds

    @cached_property
    def _points(self) -> dict[str, Point]:
        entities = self.entities
        return {entities[at].id: entities[at] for at in self._at[0]}  # type: ignore[misc]

    @cached_property
    def _curves(self) -> list[Curve]:
        return [self.entities[at] for at in self._at[1]]  # type: ignore[misc]

    @cached_property
    def _texts(self) -> list[Text]:
        return [self.entities[at] for at in self._at[2]]  # type: ignore[misc]

    def moved(self, entities: tuple[Entity, ...]) -> Sketch:
        """The same elements in the same order, elsewhere; what does not depend on the place is carried over."""
        made = msgspec.structs.replace(self, entities=entities)
        kept(made, "_at", lambda: self._at)
        return made

    @cached_property
    def taken(self) -> frozenset[str]:
        """Every id in use, and every id that copies and projected lines begin with."""
        every = (self.entities, self.relations, self.dimensions, self.repeats, self.projected)
        used = {e.id for kind in every for e in kind} | set(BUILT_IN)
        return frozenset(used | {id_.partition(".")[0] for id_ in used})

    def get(self, id_: str) -> Entity:
        """The element called ``id_``. Raises NoElement."""
        found = self.by_id.get(id_)
        if found is None:
            raise NoElement(f"The sketch “{self.name}” has no element {id_}.")
        return found

    def points(self) -> dict[str, Point]:
        return self._points

    def curves(self) -> list[Curve]:
        return self._curves

    def texts(self) -> list[Text]:
        return self._texts


def stands_on(entity: Entity) -> tuple[str, ...]:
    """The elements that an element is made of: its points, or the line a text runs along."""
    if isinstance(entity, Line):
        return entity.a, entity.b
    if isinstance(entity, Arc):
        return entity.center, entity.a, entity.b
    if isinstance(entity, Circle):
        return (entity.center,)
    if isinstance(entity, Ellipse):
        return entity.center, entity.a
    if isinstance(entity, Spline):
        return (*entity.through, *(h for h in (entity.start, entity.end) if h))
    return (entity.on,) if isinstance(entity, Text) else ()


def whole(sketch: Sketch, ids: tuple[str, ...]) -> tuple[str, ...]:
    """The chosen elements and everything they stand on, in the order of the sketch."""
    wanted, todo = set(), [i for i in ids if i not in (ORIGIN, ALONG, ACROSS)]
    while todo:
        id_ = todo.pop()
        if id_ not in wanted and any(e.id == id_ for e in sketch.entities):
            wanted.add(id_)
            todo += [i for i in stands_on(sketch.get(id_)) if i not in (ORIGIN, ALONG, ACROSS)]
    return tuple(e.id for e in sketch.entities if e.id in wanted)


def ends_of(curve: Entity) -> tuple[str, str] | None:
    """The end points of an open curve; None for what is closed or no curve."""
    if isinstance(curve, Line | Arc):
        return curve.a, curve.b
    if isinstance(curve, Spline) and curve.through[0] != curve.through[-1]:
        return curve.through[0], curve.through[-1]
    return None
