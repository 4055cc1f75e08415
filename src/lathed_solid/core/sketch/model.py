"""What a sketch is made of. Everything is immutable; a solved pose is stored in the points themselves."""

from __future__ import annotations

from typing import Literal

import msgspec

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


Entity = Point | Line | Circle | Arc
Curve = Line | Circle | Arc

RelationKind = Literal[
    "coincident",
    "horizontal",
    "vertical",
    "parallel",
    "perpendicular",
    "tangent",
    "equal",
    "midpoint",
    "symmetric",
    "on",
    "fixed",
]
DimensionKind = Literal["along", "across", "distance", "radius", "diameter", "angle"]


class Relation(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``of`` holds element ids; ``assumed`` marks a relation the program proposed while drawing."""

    id: str
    kind: RelationKind
    of: tuple[str, ...]
    assumed: bool = False


class Dimension(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``text`` is the formula as typed. ``sense`` keeps the side (+1 or -1) the user drew.

    ``diameter`` of a point or line means twice its distance from the axis (turned profiles). ``far`` measures a
    line-to-circle distance to the far side of the circle. ``quadrant`` reverses the first (1) or second (2) line of
    an angle. ``reference`` dimensions are shown, not enforced.
    """

    id: str
    kind: DimensionKind
    of: tuple[str, ...]
    text: str
    sense: int = 1
    far: bool = False
    quadrant: int = 0
    reference: bool = False


class Plane(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where a sketch lies. ``base``: ``turning`` (axis right, radius up), ``end`` (seen along the axis),
    ``side`` (axis right, across up, turned about the axis by ``angle``). ``offset`` is a formula along the normal.
    ``datum`` names the face that lies at zero along the axis, so that sizes from zero can be measured from it.
    """

    base: Literal["turning", "end", "side"] = "turning"
    offset: str = "0"
    angle: str = "0"
    datum: str = ""


class Station(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One row of the turned-profile table; every size is a formula, empty where it does not apply.

    ``to`` is the position of the right end from zero, or ``length`` the length of the row. ``left`` and ``right``
    are edge treatments (``1 x 45°``, ``R1``, ``#3``), ``groove`` is ``width x diameter`` at the right end.
    """

    id: str
    to: str = ""
    length: str = ""
    diameter: str = ""
    diameter2: str = ""
    left: str = ""
    right: str = ""
    groove: str = ""
    thread: str = ""


class Sketch(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One sketch. While ``stations`` is set the table owns the geometry and writes it anew."""

    id: str
    name: str
    plane: Plane = Plane()
    entities: tuple[Entity, ...] = ()
    relations: tuple[Relation, ...] = ()
    dimensions: tuple[Dimension, ...] = ()
    stations: tuple[Station, ...] | None = None

    @property
    def turned(self) -> bool:
        return self.plane.base == "turning"

    def get(self, id_: str) -> Entity:
        """The element called ``id_``. Raises LookupError."""
        for entity in self.entities:
            if entity.id == id_:
                return entity
        raise LookupError(f"The sketch “{self.name}” has no element {id_}.")

    def points(self) -> dict[str, Point]:
        return {e.id: e for e in self.entities if isinstance(e, Point)}

    def curves(self) -> list[Curve]:
        return [e for e in self.entities if not isinstance(e, Point)]
