"""Closed triangles of solids, for files that hold nothing else: STL, 3MF, glTF. Lengths mm.

One pass of the mesher over the whole body: two passes give an edge between a thread's flank and a flat two polygons.
What is still bare or open is meshed finer; what does not close then is refused, never written.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ...arrays import Floats, Ints
from ..ground.check import KernelFailure
from ..ground.topology import Shape, faces
from ..measure.triangles import Triangles, closing_triangles

#: Nodes that agree to so many decimals of a mm are one.
_WELDED = 6
#: What does not close at the fineness asked for is tried at these shares of it.
_FINER = (1.0, 0.5, 0.25)


class Mesh(NamedTuple):
    """``points`` (n, 3) mm and ``corners`` (m, 3) indices, wound so that they look out; every edge lies between two.
    ``face`` (m) is the face of the solid that each is of, counted from 1.
    """

    points: Floats
    corners: Ints
    face: Ints

    @property
    def volume(self) -> float:
        """mm³, by the divergence theorem."""
        a, b, c = (self.points[self.corners[:, k]] for k in range(3))
        return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def watertight(shape: Shape, deflection: float, angle: float) -> Mesh:
    """A body's triangles no farther than ``deflection`` mm from it, turning by ``angle`` radians at most from one to
    the next. Raises KernelFailure when they do not close round it.
    """
    many = len(faces(shape))
    for share in _FINER:
        found = closing_triangles(shape, deflection * share, angle)
        if len(set(found.face.tolist())) == many and (mesh := _closed(found)) is not None:
            return mesh
    raise KernelFailure(
        "Its triangles do not close round the solid: nothing was written. Write STEP, which keeps the faces themselves."
    )


def _closed(found: Triangles) -> Mesh | None:
    """Welded, without triangles that have fallen together; None when an edge does not lie between just two."""
    points, node = np.unique(np.round(found.points, _WELDED) + 0.0, axis=0, return_inverse=True)
    corners = node.reshape(-1)[found.corners]
    a, b, c = corners.T
    kept = (a != b) & (b != c) & (c != a)
    corners = corners[kept]
    edges = np.concatenate([corners[:, [k, (k + 1) % 3]] for k in range(3)])
    ways = edges[:, 0] * len(points) + edges[:, 1]
    back = edges[:, 1] * len(points) + edges[:, 0]
    # Each way of an edge once, and the way back as well.
    if len(np.unique(ways)) != len(ways) or not np.array_equal(np.sort(ways), np.sort(back)):
        return None
    return Mesh(points, corners, found.face[kept])
