"""What surrounds a part: its box, and along each axis the round, hexagon and square bar it would come out of."""

from __future__ import annotations

import math

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from ...arrays import Floats
from ...tolerance import ONE_PLACE
from ..ground.figures import Vector
from ..ground.named import NamedBody
from ..ground.picture import mesh
from ..ground.placing import triple
from ..ground.topology import FACE, VERTEX, Shape, ancestors, edges_of, faces, items, subshapes
from .bars import Along, Bar, Envelope, seen_as_round
from .boxes import NEAR, close_box, followed
from .least import least_circle, least_hexagon, least_square, outline
from .surfaces import measure_faces


def envelope(shape: Shape) -> Envelope:
    """Round bodies whose seam is a meridian, and all with flat or straight outlines, are met exactly; other round faces
    to the deflection of their triangles.
    """
    places = _places(shape)
    low, high = close_box(shape)
    x, y, z = (_along(shape, places, axis) for axis in range(3))
    return Envelope(low, high, (x, y, z))


def corners(body: NamedBody) -> tuple[Vector, ...]:
    """Where three or more flat faces meet, mm."""
    flat = {s.index for s in measure_faces(body) if s.kind == "plane"}
    around = ancestors(body.shape, VERTEX, FACE)
    found: set[Vector] = set()
    for vertex in subshapes(body.shape, VERTEX):
        met = {body.index(face) for face in items(around.FindFromKey(vertex))}
        if len(met & flat) >= 3:
            p = triple(BRep_Tool.Pnt_s(TopoDS.Vertex(vertex)))
            found.add((round(p[0], 9), round(p[1], 9), round(p[2], 9)))
    return tuple(sorted(found))


def _places(shape: Shape) -> Floats:
    """Places on the faces and, more closely, along the edges, (n, 3) mm."""
    mesh(shape)
    found: list[tuple[float, float, float]] = []
    for face in faces(shape):
        place = TopLoc_Location()
        triangles = BRep_Tool.Triangulation_s(face, place)
        if triangles is None:
            continue
        for k in range(1, triangles.NbNodes() + 1):
            p = triangles.Node(k).Transformed(place.Transformation())
            found.append((p.X(), p.Y(), p.Z()))
    for edge in edges_of(shape):
        found += followed(edge)
    return np.array(found)


def _along(shape: Shape, places: Floats, axis: int) -> Along:
    across = places[:, [(axis + 1) % 3, (axis + 2) % 3]]
    rim = outline(across)
    around = least_circle(rim)
    hexagon, square = (seen_as_round(bar, around, 2 * NEAR) for bar in (least_hexagon(rim), least_square(rim)))
    return Along(around, hexagon, square, _bore(shape, places, across, axis, around))


def _bore(shape: Shape, places: Floats, across: Floats, axis: int, around: Bar) -> float:
    """What is free about the middle: nothing on the axis itself, material all round it."""
    middle, way = [0.0, 0.0, 0.0], [0.0, 0.0, 0.0]
    middle[(axis + 1) % 3], middle[(axis + 2) % 3] = around.at
    low, high = float(places[:, axis].min()), float(places[:, axis].max())
    middle[axis], way[axis] = low - 1.0, 1.0
    met = IntCurvesFace_ShapeIntersector()
    met.Load(shape, ONE_PLACE)

    def meets() -> bool:
        met.Perform(gp_Lin(gp_Pnt(*middle), gp_Dir(*way)), 0.0, 1e9)
        return bool(met.NbPnt() > 0)

    if meets():
        return 0.0
    way[axis] = 0.0
    for turn in np.arange(12) * math.pi / 6:
        way[(axis + 1) % 3], way[(axis + 2) % 3] = math.cos(turn), math.sin(turn)
        shut = False
        for height in (0.5, 0.2, 0.35, 0.65, 0.8):  # a cross hole may lie at some of them
            middle[axis] = low + height * (high - low)
            shut = shut or meets()
        if not shut:
            return 0.0
    return 2 * float(np.hypot(*(across - around.at).T).min())
