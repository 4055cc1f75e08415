"""Solids made ready to be judged against each other: a distinct part once, and where it stands."""

from __future__ import annotations

import itertools
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

    @property
    def mesh(self) -> Triangles:
        if self._mesh is None:
            self._mesh = closing_triangles(self.shape, FINE, _COARSE)
        return self._mesh

    def placed(self, where: gp_Trsf) -> Shape:
        return self.shape.Located(TopLoc_Location(where))


class Placed(NamedTuple):
    """A body standing somewhere: its rotation (3, 3) and place, mm, and the same for the kernel."""

    body: Body
    turn: Floats
    place: Floats
    where: gp_Trsf

    def faces_near(self, other: Placed, reach: float) -> Shape:
        """Its faces, where they stand, that may come within ``reach`` mm of another: the only ones to be asked."""
        corners = np.array(list(itertools.product(*other.body.box.T))) @ other.turn.T + other.place
        own = (corners - self.place) @ self.turn
        low, high = own.min(axis=0) - reach, own.max(axis=0) + reach
        boxes = self.body.boxes
        near = np.nonzero(((boxes[:, :3] <= high) & (boxes[:, 3:] >= low)).all(axis=1))[0]
        where = TopLoc_Location(self.where)
        return compound_of(f.Located(where.Multiplied(f.Location())) for f in (self.body.faces[k] for k in near))

    @property
    def solid(self) -> manifold3d.Manifold:
        """What its triangles enclose where it stands."""
        return self.body.solid.transform(np.column_stack([self.turn, self.place]))
