"""Loft: a skin through two or more outlines, ruled or smooth, square at its ends, led by guide lines."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.gp import gp_Dir, gp_Pln, gp_Pnt
from OCP.TopoDS import TopoDS

from ...arrays import Floats
from ..ground.check import KernelFailure, done
from ..ground.geometry import Frame
from ..ground.named import NamedBody, NamedEdge, Pair, first_vertex, generated_faces
from .outline import Loop, path_edges, wire_of
from .sewing import sewn
from .skin import Net, Spline, fitted
from .sweep import positive

#: Places along every piece of an outline, and outlines between the given ones where guides lead the skin.
PLACES = 24
BETWEEN = 8


class Outline(NamedTuple):
    """One closed outline in its plane. The pieces of all outlines of a loft correspond in order."""

    pieces: Loop
    frame: Frame


def loft(outlines: Sequence[Outline], tag: str, ruled: bool) -> NamedBody:
    """Through the outlines in order, straight between them or smooth; ``tag/<edge>/side``, ``tag/start``, ``tag/end``.

    Raises KernelFailure.
    """
    maker = BRepOffsetAPI_ThruSections(True, ruled, 1e-7)
    maker.CheckCompatibility(True)
    first: list[NamedEdge] = []
    for outline in outlines:
        wire, edges = wire_of(outline.pieces, outline.frame)
        first = first or edges
        maker.AddWire(wire)
    maker.Build()
    done(maker, "No skin can be laid through these outlines.")
    named: list[Pair] = []
    for edge, name in first:
        faces = generated_faces(maker, edge)
        if not faces:
            faces = generated_faces(maker, first_vertex(edge))
        named += [(f, f"{tag}/{name}/side") for f in faces]
    named += [(maker.FirstShape(), f"{tag}/start"), (maker.LastShape(), f"{tag}/end")]
    return positive(NamedBody(maker.Shape(), named))


def led_loft(
    outlines: Sequence[Outline], tag: str, square: tuple[bool, bool], guides: Sequence[Floats] = ()
) -> NamedBody:
    """A smooth skin that leaves its first or last plane square to it (``square``) and follows ``guides``.

    A guide is a row of places (n, 3) mm from the first plane to the last; outlines between the given ones are widened
    from their middle so that its nearest place lies on it. All outlines need the same number of pieces. Raises
    KernelFailure.
    """
    counts = {len(o.pieces) for o in outlines}
    if len(counts) != 1:
        raise KernelFailure("For this loft all outlines need the same number of sides.")
    rows = np.array([_places(o) for o in outlines])  # outline, piece, place, xyz
    at = np.linspace(0.0, 1.0, len(outlines))
    slopes = _slopes(outlines, rows, square)
    if guides:
        at, rows, slopes = _guided(at, rows, slopes, guides)
    return _skin(outlines, at, rows, slopes, tag)


def _places(outline: Outline) -> Floats:
    """Places along every piece of an outline, equally spaced in the curve's own parameter."""
    found = []
    for edge, _ in path_edges(outline.pieces, outline.frame):
        curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
        a, b = curve.FirstParameter(), curve.LastParameter()
        pts = [curve.Value(float(t)) for t in np.linspace(a, b, PLACES)]
        found.append([(p.X(), p.Y(), p.Z()) for p in pts])
    return np.array(found)


def _slopes(outlines: Sequence[Outline], rows: Floats, square: tuple[bool, bool]) -> dict[int, Floats]:
    """The way the skin leaves an end plane, for the ends that ask for it (0 the first, 1 the last)."""
    found = {}
    middles = rows.mean(axis=(1, 2))
    for end, wanted in enumerate(square):
        if wanted:
            k, other = (0, 1) if end == 0 else (-1, -2)
            normal = np.array(outlines[k].frame.normal)
            way = (middles[other] - middles[k]) * (1 if end == 0 else -1)
            sign = 1.0 if way @ normal >= 0 else -1.0
            found[end] = np.linalg.norm(way) * (len(outlines) - 1) * sign * normal
    return found


def _along(at: Floats, rows: Floats, slopes: dict[int, Floats]) -> object:
    """The spline over the outlines, in rows of flattened places."""
    from scipy.interpolate import make_interp_spline  # slow to load, and few parts need it

    flat = rows.reshape(len(rows), -1)
    width = flat.shape[1] // 3
    ends = [[(1, np.tile(slopes[e], width))] if e in slopes else None for e in (0, 1)]
    clamped = sum(e is not None for e in ends)
    degree = min(3, len(rows) - 1 + clamped)
    missing = degree - 1 - clamped
    if missing <= 0:
        return make_interp_spline(at, flat, k=degree, bc_type=(ends[0], ends[1]))
    if clamped:  # an even degree leaves one condition free: the open end runs out without curving
        free = [(2, np.zeros(flat.shape[1]))]
        return make_interp_spline(at, flat, k=degree, bc_type=(ends[0] or free, ends[1] or free))
    return make_interp_spline(at, flat, k=degree)


def _guided(
    at: Floats, rows: Floats, slopes: dict[int, Floats], guides: Sequence[Floats]
) -> tuple[Floats, Floats, dict[int, Floats]]:
    from scipy.interpolate import make_interp_spline  # slow to load, and few parts need it

    between = np.linspace(0.0, 1.0, (len(at) - 1) * (BETWEEN + 1) + 1)
    plain = _along(at, rows, slopes)(between).reshape(len(between), *rows.shape[1:])  # type: ignore[operator]
    leads = [make_interp_spline(np.linspace(0, 1, len(g)), g, k=min(3, len(g) - 1))(between) for g in guides]
    for k in range(len(between)):
        middle = plain[k].mean(axis=(0, 1))
        ratios = []
        for lead in leads:
            places = plain[k].reshape(-1, 3)
            near = places[np.argmin(np.linalg.norm(places - lead[k], axis=1))]
            ratios.append(np.linalg.norm(lead[k] - middle) / np.linalg.norm(near - middle))
        plain[k] = middle + (plain[k] - middle) * np.mean(ratios)
    return between, plain, slopes


def _skin(outlines: Sequence[Outline], at: Floats, rows: Floats, slopes: dict[int, Floats], tag: str) -> NamedBody:
    spline = _along(at, rows, slopes)
    count, places = rows.shape[1], rows.shape[2]
    v = Spline.of(spline)
    net = Net(Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)), count, closed=True)
    over = v.poles.reshape(len(v.poles), count, places, 3)
    faces: list[Pair] = []
    for i, piece in enumerate(outlines[0].pieces):
        u = fitted(over[:, i].transpose(1, 0, 2).reshape(places, -1))
        poles = u.poles.reshape(len(u.poles), len(v.poles), 3)
        faces.append((net.patch(i, 0, poles, u, v), f"{tag}/{piece.name}/side"))
    for row, k, name in ((0, 0, "start"), (1, -1, "end")):
        frame = outlines[k].frame
        plane = gp_Pln(gp_Pnt(*frame.origin), gp_Dir(*frame.normal))
        cap = BRepBuilderAPI_MakeFace(plane, net.ring(row), True)
        if not cap.IsDone():
            raise KernelFailure("An end of the loft does not close to a flat face.")
        faces.append((cap.Face(), f"{tag}/{name}"))
    return sewn(faces)
