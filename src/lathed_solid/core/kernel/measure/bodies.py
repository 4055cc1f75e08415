"""Solids made ready to be judged against each other: a distinct part once, and where it stands."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from functools import cached_property
from typing import NamedTuple

import manifold3d
import numpy as np
from msgspec.structs import replace
from OCP.gp import gp_Trsf
from OCP.TopLoc import TopLoc_Location

from ...arrays import Floats
from ..ground.figures import Surface
from ..ground.topology import SOLID, Shape, box_of, compound_of, faces, subshapes
from .difference import FINE
from .triangles import Triangles, closed, closing_triangles

#: How far the triangles of parts turn from one to the next (radians).
_COARSE = 0.15


class Body:
    """One distinct part, made ready once: its triangles, and whether it has helical faces."""

    def __init__(self, shape: Shape, surfaces: tuple[Surface, ...]) -> None:
        self.shape, self.surfaces = shape, surfaces
        self._mesh: Triangles | None = None
        #: Faces that are none of the plain kinds may be helical; a cut of these is never asked of the kernel.
        self.is_plain = all(s.kind != "other" for s in surfaces)
        self._solid: manifold3d.Manifold | None = None
        self.faces = list(faces(shape))
        #: Several solids in one piece (a sub-assembly) are judged one by one: they touch each other.
        self.members: list[Body] = []
        solids = subshapes(shape, SOLID)
        if len(solids) > 1:
            first = 0
            for solid in solids:
                many = len(faces(solid))
                own = surfaces[first : first + many]
                self.members.append(Body(solid, tuple(replace(s, index=k) for k, s in enumerate(own, 1))))
                first += many
        self.boxes: Floats = np.array([box_of(f) for f in self.faces])
        #: Low and high corner of it all, mm.
        self.box: Floats = np.stack([self.boxes[:, :3].min(axis=0), self.boxes[:, 3:].max(axis=0)])

    @property
    def solid(self) -> manifold3d.Manifold:
        """What its triangles enclose. Raises KernelFailure when they do not close."""
        if self._solid is None:
            self._solid = closed(self.mesh)
        return self._solid

    @cached_property
    def flats(self) -> Flats:
        return flats_of(self.surfaces, self.mesh)

    @property
    def mesh(self) -> Triangles:
        if self._mesh is None:
            self._mesh = closing_triangles(self.shape, FINE, _COARSE)
        return self._mesh

    def placed(self, where: gp_Trsf) -> Shape:
        return self.shape.Located(TopLoc_Location(where))


class Flats(NamedTuple):
    """The flat faces of a body: directions and places (n, 3), and of each the corners (m, 3, 3) of its triangles with
    their low and high ends (m, 3), mm.
    """

    normals: Floats
    origins: Floats
    corners: list[Floats]
    low: list[Floats]
    high: list[Floats]


def flats_of(surfaces: Sequence[Surface], mesh: Triangles) -> Flats:
    found = [s for s in surfaces if s.kind == "plane"]
    corners = [mesh.points[mesh.corners[mesh.face == s.index]] for s in found]
    normals, origins = np.array([s.axis for s in found]), np.array([s.origin for s in found])
    return Flats(
        normals.reshape(-1, 3), origins.reshape(-1, 3), corners,
        [c.min(axis=1) for c in corners], [c.max(axis=1) for c in corners],
    )  # fmt: skip


class Placed(NamedTuple):
    """A body standing somewhere: its rotation (3, 3) and place, mm, and the same for the kernel."""

    body: Body
    turn: Floats
    place: Floats
    where: gp_Trsf

    def box_round(self, other: Placed) -> tuple[Floats, Floats]:
        """Low and high corner of the box round another's box, in its own axes."""
        corners = np.array(list(itertools.product(*other.body.box.T))) @ other.turn.T + other.place
        own = (corners - self.place) @ self.turn
        return own.min(axis=0), own.max(axis=0)

    def faces_near(self, other: Placed, reach: float) -> Shape:
        """Its faces, where they stand, that may come within ``reach`` mm of another: the only ones to be asked."""
        low, high = self.box_round(other)
        boxes = self.body.boxes
        near = np.nonzero(((boxes[:, :3] <= high + reach) & (boxes[:, 3:] >= low - reach)).all(axis=1))[0]
        where = TopLoc_Location(self.where)
        return compound_of(f.Located(where.Multiplied(f.Location())) for f in (self.body.faces[k] for k in near))

    @property
    def stands(self) -> Floats:
        """Its rotation and place, (3, 4)."""
        return np.column_stack([self.turn, self.place])

    def beside(self, other: Placed) -> manifold3d.Manifold:
        """What another's triangles enclose, in its own axes."""
        turn = self.turn.T
        return other.body.solid.transform(np.column_stack([turn @ other.turn, turn @ (other.place - self.place)]))
