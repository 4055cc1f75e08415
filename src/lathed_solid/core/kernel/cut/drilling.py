"""Drilling without a boolean: round tools that touch nothing but the flat faces they enter and leave by.

The hole's faces are set into the body and its circles into the two flat faces. That this is what a cut would give
follows from what is checked first: the circles lie inside the faces, clear of every edge and of each other, and no
other face of the body comes near a tool. Where that is not certain the tools are cut by a boolean as any others.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from OCP.BRep import BRep_Builder
from OCP.TopoDS import TopoDS

from ..form.sweep import set_elsewhere, turned_tool
from ..ground.check import accept
from ..ground.geometry import Frame
from ..ground.named import NamedBody, Pair, Turned
from ..ground.topology import SHELL, Face, Wire, run_back, solid_of, subshapes, wires_of
from .clearance import FaceRegion, Obstacles

#: Planes, circles and edges nearer than this count as touching, mm.
CLEAR = 1e-5
#: Tools already cut off, by their outline and names: the body, its frame and its tag.
_Made = dict[tuple[tuple[tuple[float, float], ...], tuple[str, ...]], tuple[NamedBody, Frame, str]]
#: Wires of one face that the kernel's check is given at a time: it compares each with each.
SLICE = 8


class _Way(NamedTuple):
    """Where a tool enters, where it leaves (0: nowhere) and how deep the leaving face lies."""

    entry: int
    exit: int
    depth: float


def drilled(body: NamedBody, tools: Sequence[NamedBody]) -> NamedBody | None:
    """``body`` with round ``tools`` taken away; None when they must be cut. Raises KernelFailure."""
    turned = [t.turned for t in tools if t.turned is not None]
    if len(turned) < len(tools) or not tools or len(subshapes(body.shape, SHELL)) != 1:
        return None
    normals = np.array([t.frame.normal for t in turned])
    if np.abs(normals - normals[0]).max() > 1e-12 or not _apart(turned):
        return None
    ways = _ways(body, turned)
    return None if ways is None else _exchanged(body, turned, ways)


def _apart(turned: Sequence[Turned]) -> bool:
    """Whether parallel tools lie clear of each other, by their widest parts."""
    places = np.array([t.frame.origin for t in turned])
    widest = np.array([max(r for r, _ in t.points) for t in turned])
    n = np.array(turned[0].frame.normal)
    flat = places - np.outer(places @ n, n)
    for i in range(len(turned) - 1):
        if (np.linalg.norm(flat[i + 1 :] - flat[i], axis=1) < widest[i + 1 :] + widest[i] + CLEAR).any():
            return False
    return True


def _ways(body: NamedBody, turned: Sequence[Turned]) -> list[_Way] | None:
    """The faces each tool enters and leaves by; None when it touches anything else."""
    obstacles = Obstacles(body, np.array(turned[0].frame.normal), CLEAR)
    found = []
    for tool in turned:
        way = _way(obstacles, tool)
        if way is None:
            return None
        found.append(way)
    return found


def _way(obstacles: Obstacles, tool: Turned) -> _Way | None:
    origin, points = np.array(tool.frame.origin), tool.points
    if points[0] != (0.0, 0.0) or points[1][1] != 0.0:
        return None
    widest, deepest = max(r for r, _ in points), max(d for _, d in points)
    entries: list[tuple[int, float]] = []
    exits: list[tuple[int, float]] = []
    for index in obstacles.near(origin, widest, deepest):
        level = obstacles.level(index, origin)
        if level is None:
            if not obstacles.clear_of(index, origin, _widest(tool, *obstacles.depths(index, origin))):
                return None
            continue
        if level[0] < -CLEAR:
            continue
        radius, found = _met(tool, *level, entries, exits)
        where = obstacles.region(index).holds(origin + level[0] * obstacles.normal, radius)
        if where == "touches" or (where == "inside" and found is None):
            return None
        if where == "inside" and found is not None:
            found.append((index, level[0]))
    if len(entries) != 1 or len(exits) > 1:
        return None
    leaving = exits[0] if exits else (0, 0.0)
    return _Way(entries[0][0], *leaving) if leaving[1] < deepest - CLEAR else None


def _widest(tool: Turned, low: float, high: float) -> float:
    """The tool's greatest radius between two depths; of a slanting piece that of its wider end."""
    found = 0.0
    for (r0, d0), (r1, d1) in itertools.pairwise(tool.points):
        if min(d0, d1) <= high + CLEAR and max(d0, d1) >= low - CLEAR:
            found = max(found, r0, r1)
    return found


def _met(
    tool: Turned, depth: float, facing: float, entries: list[tuple[int, float]], exits: list[tuple[int, float]]
) -> tuple[float, list[tuple[int, float]] | None]:
    """The tool's radius at a flat face it may meet, and what such a face would be to it; None: it must not be met."""
    points = tool.points
    if abs(depth) <= 1e-7 and facing < 0:
        return points[1][0], entries
    flat_end = points[-1][1] == points[-2][1]
    if facing > 0 and flat_end and depth > max(d for _, d in points[:-2]) + CLEAR:
        return points[-2][0], exits
    return _widest(tool, depth, depth), None


def _exchanged(body: NamedBody, turned: Sequence[Turned], ways: Sequence[_Way]) -> NamedBody:
    """The body with the holes' faces set in and the flat faces given their circles."""
    rims: dict[int, list[Wire]] = {}
    pairs: list[Pair] = []
    made: _Made = {}
    for tool, way in zip(turned, ways, strict=True):
        hole = _hole(tool, way.depth, made)
        caps = {f"{tool.tag}/{tool.names[0]}": way.entry}
        if way.exit:
            caps[f"{tool.tag}/{tool.names[-1]}"] = way.exit
        for face, name in hole.pairs():
            if name in caps:
                # A cap's rim runs round it as seen from outside the tool, which is where the body's face is seen from.
                rims.setdefault(caps[name], []).append(run_back(wires_of(face)[0]))
            else:
                pairs.append((face.Reversed(), name))
    fresh, shell = [f for f, _ in pairs], []
    look_at = list(fresh)
    for index in range(1, body.face_count + 1):
        face = body.face(index)
        if index in rims:
            look_at += _slices(face, rims[index])
            face = with_wires(face, [*wires_of(face), *rims[index]])
        shell.append(face)
        pairs += [(face, n) for n in body.names.get(index, ())]
    return accept(solid_of([*shell, *fresh]), pairs, body, "less", look_at)


def _hole(tool: Turned, depth: float, made: _Made) -> NamedBody:
    """The tool cut off where it leaves the part; one like another is only set down again."""
    points = tool.points if not depth else (*tool.points[:-2], (tool.points[-2][0], depth), (0.0, depth))
    key = (points, tool.names)
    if key in made:
        first, frame, tag = made[key]
        return set_elsewhere(first, frame, tool.frame, (tag, tool.tag))
    hole = turned_tool(points, tool.names, tool.frame, tool.tag)
    made[key] = hole, tool.frame, tool.tag
    return hole


def with_wires(face: Face, wires: Sequence[Wire]) -> Face:
    """A face on the same surface bounded by ``wires``."""
    made, builder = TopoDS.Face(face.EmptyCopied()), BRep_Builder()
    for wire in wires:
        builder.Add(made, wire)
    return made


def _slices(face: Face, rims: Sequence[Wire]) -> list[Face]:
    """The face as its own outer edge with a few new circles at a time, enough to check those."""
    outer = FaceRegion(face, CLEAR).outer
    return [with_wires(face, [outer, *rims[k : k + SLICE]]) for k in range(0, len(rims), SLICE)]
