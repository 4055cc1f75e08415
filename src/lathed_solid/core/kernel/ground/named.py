"""A body whose faces carry persistent names, kept through operations by kernel history.

A face name is made of the step and the sketch element that made the face (``s1/a.od/side``). A face may carry several
names (merged faces), a name may lie on several faces (a face split by a slot): a reference then says which piece is
meant (see ``core.names``). An edge is named by the two faces it lies between.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cached_property
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.TopExp import TopExp
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from ...arrays import Floats
from ...names import bare, face_name, piece_of, with_piece
from ...refusal import Refusal
from .integral import Moments, moments
from .topology import (
    EDGE,
    FACE,
    VERTEX,
    AncestorMap,
    Edge,
    Face,
    Shape,
    Vertex,
    ancestors,
    box_of,
    compound_of,
    items,
    shape_map,
    surface_properties,
)

if TYPE_CHECKING:
    from .figures import Surface, Vector
    from .geometry import Frame

Pair = tuple[Shape, str]
NamedEdge = tuple[Edge, str]


#: What the name of a face ends in on the fillet that has used it up: its flat is still told by the round there.
SPENT = "/spent"


class LostReference(Refusal):
    """A name that is on no face of the body. ``name`` is the reference that failed."""

    def __init__(self, name: str) -> None:
        super().__init__("A face it refers to is not on the part any more.")
        self.name = name


class Turned(NamedTuple):
    """A tool of revolution: (radius, depth) mm from the top on the axis round to the bottom on it, what its pieces are
    called, the frame whose normal it runs along, and the first part of its names.
    """

    points: tuple[tuple[float, float], ...]
    names: tuple[str, ...]
    frame: Frame
    tag: str


class NamedBody:
    """A shape and the names of its faces (face index from 1 to a set of names).

    ``before`` is the body it was made from: what faces they share was measured and checked there.
    """

    def __init__(self, shape: Shape, pairs: Iterable[Pair], before: NamedBody | None = None) -> None:
        self.shape = shape
        self._map = shape_map(shape, FACE)
        self._before = before
        self._orders: dict[int, tuple[float, ...]] = {}
        #: What a round tool was turned from.
        self.turned: Turned | None = None
        #: Its faces as measured, once that was done.
        self.measured: tuple[Surface, ...] | None = None
        self.names: dict[int, set[str]] = {}
        for face, name in pairs:
            index = self._map.FindIndex(face)
            if index:
                self.names.setdefault(index, set()).add(name)

    @cached_property
    def volume(self) -> float:
        """Volume in mm³; worked out once, face by face, and only for faces that the body before had not."""
        found = sum(own[0] for own in self._moments.values())
        self._before = None  # bodies of long routes must not keep each other
        return found

    @cached_property
    def center(self) -> Vector:
        """Centre of the volume, mm."""
        x, y, z = (sum(own[k] for own in self._moments.values()) / self.volume for k in (1, 2, 3))
        return x, y, z

    @cached_property
    def _moments(self) -> dict[int, Moments]:
        """What each face adds to the volume and its first moments."""
        before, found = self._before, {}
        for index in range(1, self.face_count + 1):
            face = self._map.FindKey(index)
            old = before.same(face) if before is not None else 0
            found[index] = before._moments[old] if before is not None and old else moments(self.face(index))
        return found

    def share(self, face: Shape) -> float:
        """What a face of this body adds to its volume, mm³."""
        return self._moments[self.index(face)][0]

    @cached_property
    def boxes(self) -> Floats:
        """Low and high corner of every face's box (faces x 6), mm, rather too large."""
        return np.array([box_of(self.face(i)) for i in range(1, self.face_count + 1)])

    def same(self, face: Shape) -> int:
        """The index of this very face, turned the same way; 0 when the body has it not."""
        index = int(self._map.FindIndex(face))
        return index if index and self._map.FindKey(index).Orientation() == face.Orientation() else 0

    def fresh(self) -> list[Face]:
        """Faces that the body it was made from had not."""
        before = self._before
        every = (self.face(i) for i in range(1, self.face_count + 1))
        return [f for f in every if before is None or not before.same(f)]

    @cached_property
    def _edges(self) -> AncestorMap:
        """The faces at every edge; asked for once an edge when many are named, so built once a body."""
        return ancestors(self.shape, EDGE, FACE)

    @cached_property
    def sides(self) -> list[tuple[set[int], Edge]]:
        """Every edge with the indices of the faces at it."""
        table = self._edges
        return [
            ({self.index(f) for f in items(table.FindFromIndex(i))}, TopoDS.Edge(table.FindKey(i)))
            for i in range(1, table.Extent() + 1)
        ]

    @cached_property
    def _bearing(self) -> dict[str, list[int]]:
        """The faces that bear each name; a long route asks for thousands."""
        found: dict[str, list[int]] = {}
        for index, names in sorted(self.names.items()):
            for name in names:
                found.setdefault(name, []).append(index)
        return found

    @property
    def face_count(self) -> int:
        return int(self._map.Extent())

    def face(self, index: int) -> Face:
        return TopoDS.Face(self._map.FindKey(index))

    def index(self, face: Shape) -> int:
        return int(self._map.FindIndex(face))

    def pairs(self) -> list[Pair]:
        return [(self._map.FindKey(i), n) for i, names in self.names.items() for n in names]

    def unnamed(self) -> list[int]:
        return [i for i in range(1, self.face_count + 1) if i not in self.names]

    def name_of(self, index: int) -> str:
        """The shortest reference that finds face ``index`` and no other."""
        for name in sorted(self.names.get(index, ()), key=lambda n: (n.endswith(SPENT), n)):
            found = self.find(name)
            return name if len(found) == 1 else with_piece(name, self._piece(name, found, index))
        return ""

    def _piece(self, name: str, pieces: Sequence[int], index: int) -> str:
        """What tells a piece of a split face from the others: the name of a face that only this one borders on, of its
        own step if it can be; else its place among them. A neighbour still tells when the pieces change places.
        """
        others = {n for i in pieces if i != index for n in self._bordering(i)}
        own = {n for n in self._bordering(index) - others if bare(n) != name and not n.endswith(SPENT)}
        step = face_name(name).step
        told = min(own, key=lambda n: (face_name(n).step != step, n), default="")
        return told or str(pieces.index(index) + 1)

    def find(self, reference: str) -> list[int]:
        """Indices of the faces a reference means. Raises LostReference when there are none."""
        name, piece = bare(reference), piece_of(reference)
        found = list(self._bearing.get(name, ()))
        if len(found) > 1:
            found.sort(key=self._order)
        if piece.isdigit():
            found = found[int(piece) - 1 : int(piece)]
        elif piece:
            found = self._that_border_on(piece, found)
        if not found:
            raise LostReference(reference)
        return found

    def find_any(self, reference: str) -> list[int]:
        """The same; none when it is lost."""
        try:
            return self.find(reference)
        except LostReference:
            return []

    def _that_border_on(self, neighbour: str, pieces: list[int]) -> list[int]:
        """The pieces that border on a named face, or have done so before a fillet or chamfer came between."""
        if near := [i for i in pieces if neighbour in self._bordering(i)]:
            return near
        return [i for i in pieces if any(neighbour in self._bordering(k) for k in self._beside.get(i, ()))]

    @cached_property
    def _beside(self) -> dict[int, set[int]]:
        """The faces across the edges of every face."""
        found: dict[int, set[int]] = {}
        for sides, _ in self.sides:
            for index in sides:
                found.setdefault(index, set()).update(sides - {index})
        return found

    def beside(self, index: int) -> frozenset[int]:
        """The faces across the edges of a face."""
        return frozenset(self._beside.get(index, ()))

    def _bordering(self, index: int) -> set[str]:
        return {n for k in self._beside.get(index, ()) for n in self.names.get(k, ())}

    def _order(self, index: int) -> tuple[float, ...]:
        """Where the pieces of a split face stand among each other; worked out once a piece."""
        if index not in self._orders:
            measured = self.measured
            center = measured[index - 1].center if measured is not None else _center(self.face(index))
            self._orders[index] = (round(center[2], 5), round(center[0], 5), round(center[1], 5))
        return self._orders[index]

    def edges_between(self, a: str, b: str) -> list[Edge]:
        """The edges that lie between face(s) ``a`` and face(s) ``b``, in a stable order. Raises LostReference."""
        first, second = set(self.find(a)), set(self.find(b))
        found = [edge for sides, edge in self.sides if len(sides) == 2 and sides & first and sides & second]
        if not found:
            raise LostReference(f"{a} | {b}")
        return sorted(found, key=_edge_key)

    def edge_names(self, edge: Shape) -> tuple[str, str] | None:
        """The two face references an edge lies between; None for a seam."""
        table = self._edges
        if not table.Contains(edge):
            return None
        sides = sorted({self.index(f) for f in items(table.FindFromKey(edge))})
        if len(sides) != 2:
            return None
        return self.name_of(sides[0]), self.name_of(sides[1])

    @cached_property
    def _tips(self) -> AncestorMap:
        """The faces at every vertex."""
        return ancestors(self.shape, VERTEX, FACE)

    def corner_names(self, vertex: Shape) -> tuple[str, str, str] | None:
        """Three faces that meet in a vertex, by reference; None where fewer do: the end of a seam is no corner."""
        if not self._tips.Contains(vertex):
            return None
        sides = sorted({self.index(f) for f in items(self._tips.FindFromKey(vertex))})
        names = [n for i in sides if (n := self.name_of(i))][:3]
        return (names[0], names[1], names[2]) if len(names) == 3 else None

    def vertices_where(self, *references: str) -> list[Vertex]:
        """Vertices where all the referenced faces meet. Raises LostReference."""
        wanted = [set(self.find(r)) for r in references]
        table = self._tips
        found: list[Vertex] = []
        for i in range(1, table.Extent() + 1):
            sides = {self.index(f) for f in items(table.FindFromIndex(i))}
            if all(sides & w for w in wanted):
                found.append(TopoDS.Vertex(table.FindKey(i)))
        if not found:
            raise LostReference(" | ".join(references))
        return found


def compound(bodies: Iterable[NamedBody]) -> NamedBody:
    """Several bodies as one shape; every face keeps its names."""
    kept = list(bodies)
    return NamedBody(compound_of(b.shape for b in kept), [p for body in kept for p in body.pairs()])


def unplaced(body: NamedBody) -> NamedBody:
    """The same body at its own zero, wherever it stands; faces keep their indices and names."""
    made = NamedBody(body.shape.Located(TopLoc_Location()), ())
    made.names = {index: set(names) for index, names in body.names.items()}
    return made


def _center(face: Shape) -> tuple[float, float, float]:
    c = surface_properties(face).CentreOfMass()
    return c.X(), c.Y(), c.Z()


def _edge_key(edge: Shape) -> tuple[float, ...]:
    properties = GProp_GProps()
    BRepGProp.LinearProperties_s(edge, properties)
    c = properties.CentreOfMass()
    return (round(c.Z(), 5), round(c.X(), 5), round(c.Y(), 5), round(properties.Mass(), 5))


def carry(operation: Any, pairs: Iterable[Pair]) -> list[Pair]:
    """Names after an operation: on what a face became, or on the face itself if it is unchanged."""
    gone = getattr(operation, "IsDeleted", None) or operation.IsRemoved
    kept: list[Pair] = []
    for face, name in pairs:
        became = items(operation.Modified(face))
        if became:
            kept += [(f, name) for f in became]
        elif not gone(face):
            kept.append((face, name))
    return kept


def generated_faces(operation: Any, source: Shape) -> list[Face]:
    """Faces an operation made from ``source`` (kernel lists may also hold edges and vertices)."""
    return [TopoDS.Face(f) for f in items(operation.Generated(source)) if f.ShapeType() == FACE]


def first_vertex(edge: Shape) -> Vertex:
    return TopExp.FirstVertex_s(TopoDS.Edge(edge))


def last_vertex(edge: Shape) -> Vertex:
    return TopExp.LastVertex_s(TopoDS.Edge(edge))
