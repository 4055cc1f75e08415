"""Helical skins built straight from B-spline patches, without a boolean: screw threads and swept grooves.

A section curve twisted about an axis is separable: its poles are the outer product of the section's and the helix'
poles. Patches share their edges exactly, so a closed skin needs no sewing. Patches are kept short (two turns), since
later operations pay for the size of their boxes.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pln, gp_Vec
from OCP.TopoDS import TopoDS

from ...arrays import Floats
from ..ground.geometry import Frame
from ..ground.placing import point_in, screwed
from ..ground.topology import Face, Shape, Wire, run_back, solid_of, turned_over
from ..ground.topology import faces as faces_of
from .skin import DEGREE, Net, fitted

#: Interpolated places in one turn: leaves a volume error of a few 1e-6.
PER_TURN = 16
TURNS_A_ROW = 2.0
#: Of a swept groove: what is cut with it pays for every patch's box.
GROOVE_TURNS_A_ROW = 1.0


class Piece(NamedTuple):
    """One smooth piece of a section, in order: ``at`` along the axis and ``radius`` at equal steps (mm)."""

    name: str
    at: Floats
    radius: Floats


def straight(name: str, start: tuple[float, float], end: tuple[float, float]) -> Piece:
    """A straight piece between two (place along the axis, radius), mm."""
    t = np.linspace(0.0, 1.0, 8)
    return Piece(name, start[0] + (end[0] - start[0]) * t, start[1] + (end[1] - start[1]) * t)


def _resampled(piece: Piece, least: int) -> Piece:
    """At least ``least`` places on the piece, at equal steps of its own parameter."""
    from scipy.interpolate import make_interp_spline  # slow to load, and few parts need it

    if len(piece.at) >= least:
        return piece
    old, new = np.linspace(0, 1, len(piece.at)), np.linspace(0, 1, least)
    values = make_interp_spline(old, np.c_[piece.at, piece.radius], k=min(DEGREE, len(old) - 1))(new)
    return Piece(piece.name, values[:, 0], values[:, 1])


class Fade(NamedTuple):
    """Over ``length`` mm at the low and the high end the groove rises to the crest; 0 for a full end."""

    low: float = 0.0
    high: float = 0.0


FULL_ENDS = Fade()


class Closed(NamedTuple):
    """A closed skin: the solid and its faces with their names."""

    solid: Shape
    faces: list[tuple[Face, str]]


class Skin(NamedTuple):
    """The faces of a thread with the names of their pieces, and the closed wires at both ends.

    ``angles`` are those of each piece, radians at equal steps; at a level they are turned on by the thread's own twist.
    """

    faces: list[tuple[Face, str]]
    low: Wire
    high: Wire
    net: Net
    rows: int
    angles: list[Floats]


def _rows(low: float, high: float, row: float, fade: Fade) -> list[tuple[float, float, str]]:
    """Row limits with what happens there: ``full``, ``rise`` (out of the low end) or ``fall``."""
    rows: list[tuple[float, float, str]] = []
    for a, b, kind in ((low, low + fade.low, "rise"), (low + fade.low, high - fade.high, "full"),
                       (high - fade.high, high, "fall")):  # fmt: skip
        if b - a > 1e-9:
            marks = np.linspace(a, b, max(1, math.ceil((b - a) / row - 1e-9)) + 1)
            rows += [(float(p), float(q), kind) for p, q in itertools.pairwise(marks)]
    return rows


def thread_skin(
    frame: Frame,
    section: Sequence[Piece],
    lead: float,
    low: float,
    high: float,
    *,
    fade: Fade = FULL_ENDS,
    sink: bool = False,
    phase: float = 0.0,
    left_hand: bool = False,
    turns_a_row: float = TURNS_A_ROW,
) -> Skin:
    """The open skin of a screw thread about the frame's normal from ``low`` to ``high`` (mm along it).

    ``section`` is the axial section over one ``lead`` (all starts), its ``at`` running over one ``lead``; it starts
    and ends at one radius. Where it fades the groove rises to the crest, or the ridge sinks to the root (``sink``).
    ``phase`` (radians) turns the thread about its axis. Faces are open outward, that is, their normals point towards
    the axis on a right-hand thread, away from it on a left-hand one.
    """
    hand = -1.0 if left_hand else 1.0
    radii = np.concatenate([p.radius for p in section])
    base = float(radii.min() if sink else radii.max())
    columns, angles = [], []
    for piece in section:
        turns = abs(float(piece.at[-1] - piece.at[0])) / lead
        piece = _resampled(piece, max(8, math.ceil(turns * PER_TURN) + DEGREE + 1))
        angle = -hand * 2 * math.pi * piece.at / lead
        way = np.c_[np.cos(angle), np.sin(angle)]
        angles.append(angle)
        columns.append(fitted(np.c_[base * way, (piece.radius - base)[:, None] * way]))
    net, rows = Net(frame, len(section), closed=True), _rows(low, high, lead * turns_a_row, fade)
    faces = []
    like: dict[int, tuple[float, Any]] = {}
    for j, (a, b, kind) in enumerate(rows):
        if kind == "full" and like:  # full rows are one another moved along the thread
            for i, piece in enumerate(section):
                first, surface = like[i]
                moved = surface.Copy()
                moved.Transform(screwed(frame, a - first, hand * 2 * math.pi * (a - first) / lead))
                faces.append((net.set_in(i, j, moved), piece.name))
            continue
        z = np.linspace(a, b, max(DEGREE + 1, math.ceil((b - a) / lead * PER_TURN) + 3))
        turn = hand * 2 * math.pi * z / lead + phase
        depth = {"full": np.ones_like(z), "rise": (z - low) / (fade.low or 1), "fall": (high - z) / (fade.high or 1)}
        c, s = np.cos(turn), np.sin(turn)
        v = fitted(np.c_[c, s, depth[kind] * c, depth[kind] * s, z])
        for i, (piece, u) in enumerate(zip(section, columns, strict=True)):
            (cx, cy, qx, qy), (c, s, dc, ds, h) = u.poles.T[:, :, None], v.poles.T[:, None, :]
            poles = np.stack([cx * c - cy * s + qx * dc - qy * ds, cx * s + cy * c + qx * ds + qy * dc,
                              np.broadcast_to(h, (len(u.poles), h.shape[1]))], axis=2)  # fmt: skip
            surface = net.surface(poles, u, v)
            if kind == "full":
                like[i] = a, surface
            faces.append((net.set_in(i, j, surface), piece.name))
    low_wire, high_wire = net.ring(0), net.ring(len(rows))
    return Skin(faces, low_wire, high_wire, net, len(rows), angles)


def _cap(frame: Frame, height: float, outer: Wire, hole: Wire | None = None) -> Face:
    """A flat face square to the axis; ``outer`` runs counter-clockwise seen from the high end, ``hole`` too."""
    origin = point_in(frame, 0.0, 0.0, height)
    maker = BRepBuilderAPI_MakeFace(gp_Pln(origin, gp_Dir(*frame.normal)), outer, False)
    if hole is not None:
        maker.Add(run_back(hole))
    return maker.Face()


def threaded_rod(frame: Frame, section: Sequence[Piece], lead: float, low: float, high: float, **how: object) -> Closed:
    """The solid inside a thread skin, with flat ends."""
    skin = thread_skin(frame, section, lead, low, high, **how)  # type: ignore[arg-type]
    left = bool(how.get("left_hand"))
    # A right-hand section runs clockwise seen from the high end.
    wires = [w if left else run_back(w) for w in (skin.low, skin.high)]
    ends = [(turned_over(_cap(frame, low, wires[0])), "low"), (_cap(frame, high, wires[1]), "high")]
    sides = [(f if left else turned_over(f), n) for f, n in skin.faces]
    return Closed(solid_of([f for f, _ in (*sides, *ends)]), [*sides, *ends])


def thread_sleeve(
    frame: Frame, section: Sequence[Piece], lead: float, low: float, high: float, outside: float, **how: object
) -> Closed:
    """The material round a thread out to the radius ``outside``: what is cut away from a blank to leave the thread."""
    skin = thread_skin(frame, section, lead, low, high, **how)  # type: ignore[arg-type]
    left = bool(how.get("left_hand"))
    inner = [w if left else run_back(w) for w in (skin.low, skin.high)]
    origin = point_in(frame, 0.0, 0.0, low)
    edge = BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(origin, gp_Dir(*frame.normal), gp_Dir(*frame.x)), outside)).Edge()
    circle = BRepBuilderAPI_MakeWire(edge).Wire()
    n, length = frame.normal, high - low
    wall = BRepPrimAPI_MakePrism(circle, gp_Vec(n[0] * length, n[1] * length, n[2] * length))
    # A surface swept from a circle has its normal inward.
    side = turned_over(faces_of(wall.Shape())[0])
    caps = [
        (turned_over(_cap(frame, low, TopoDS.Wire(wall.FirstShape()), inner[0])), "low"),
        (_cap(frame, high, TopoDS.Wire(wall.LastShape()), inner[1]), "high"),
    ]
    faces = [*((turned_over(f) if left else f, name) for f, name in skin.faces), (side, "outside"), *caps]
    return Closed(solid_of([f for f, _ in faces]), faces)


def helical_solid(
    frame: Frame,
    section: Sequence[Piece],
    pitch: float,
    turns: float,
    *,
    start: float = 0.0,
    taper: float = 0.0,
    left_hand: bool = False,
) -> Closed:
    """A closed axial ``section`` swept along a helix about the frame's normal, closed by flat ends.

    ``section`` pieces follow each other round the area, counter-clockwise with the axis to the right and the radius
    up. ``start`` (radians) is where the sweep begins; ``taper`` (mm a turn) widens the helix. The volume is the area
    times the way of its centroid: turns x 2π x (radius + taper x turns / 2).
    """
    hand = -1.0 if left_hand else 1.0
    columns = [fitted(np.c_[p.at, p.radius]) for p in (_resampled(q, 8) for q in section)]
    net = Net(frame, len(section), closed=True)
    marks = np.linspace(0.0, turns, max(1, math.ceil(turns / GROOVE_TURNS_A_ROW - 1e-9)) + 1)
    faces: list[tuple[Face, str]] = []
    for j, (a, b) in enumerate(itertools.pairwise(marks)):
        turn = np.linspace(a, b, max(DEGREE + 1, math.ceil((b - a) * PER_TURN) + 3))
        angle = hand * 2 * math.pi * turn + start
        c, s = np.cos(angle), np.sin(angle)
        v = fitted(np.c_[c, s, taper * turn * c, taper * turn * s, pitch * turn])
        for i, (piece, u) in enumerate(zip(section, columns, strict=True)):
            (z, r), (c, s, tc, ts, h) = u.poles.T[:, :, None], v.poles.T[:, None, :]
            poles = np.stack([r * c + tc, r * s + ts, z + h], axis=2)
            faces.append((net.patch(i, j, poles, u, v), piece.name))
    sides = [(f if hand > 0 else turned_over(f), n) for f, n in faces]
    for j, at, name in ((0, start, "start"), (len(marks) - 1, start + hand * 2 * math.pi * turns, "end")):
        across = (-math.sin(at), math.cos(at))
        normal = gp_Dir(*(across[0] * x + across[1] * y for x, y in zip(frame.x, frame.y, strict=True)))
        maker = BRepBuilderAPI_MakeFace(gp_Pln(point_in(frame, 0, 0, 0), normal), net.ring(j), False)
        # The section runs clockwise about this normal (axis right, radius up, normal away from the viewer).
        face = maker.Face()
        outward = (hand > 0) == (name == "end")
        sides.append((face if outward else turned_over(face), name))
    return Closed(solid_of([f for f, _ in sides]), sides)
