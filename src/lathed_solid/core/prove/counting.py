"""How many there are of something: each place once, whatever made it."""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence
from typing import NamedTuple

from ..kernel.ground.figures import Surface
from ..kernel.ground.geometry import along, cross, dot, minus, norm
from ..tolerance import ONE_PLACE
from .plate import SurfacePlate, Unmeasurable

_CORNER = re.compile(r"/e\d+/side$")


class Counted(NamedTuple):
    places: int
    faces: tuple[int, ...]


def counted(plate: SurfacePlate, names: Sequence[str], stated: int) -> Counted:
    """How many places the named faces make. Two names of one hole are one place.

    A hole that goes through two walls is one or two, as the drawing has it: the way of counting that agrees with
    ``stated`` is taken.
    """
    pieces: list[Surface] = []
    for name in dict.fromkeys(names):
        try:
            pieces += [s for s in plate.find(name) if s.index]
        except Unmeasurable:
            continue
    pieces = list({s.index: s for s in pieces}.values())
    faces = tuple(sorted(s.index for s in pieces))
    groups = _grouped(pieces, across_gaps=False)
    whole, walls, corners = len(_grouped(pieces, across_gaps=True)), len(groups), _corners(plate, names, groups)
    return Counted(next((n for n in (walls, corners) if n == stated), whole), faces)


def _corners(plate: SurfacePlate, names: Sequence[str], groups: Sequence[Sequence[Surface]]) -> int:
    """The same places with every rounded corner counted: two of half a slot's width run into one round."""
    rounds = {name for name in names if _CORNER.search(name)}
    found = [{n for s in group for n in plate.body.names.get(s.index, set()) & rounds} for group in groups]
    return sum(max(1, len(corners)) for corners in found)


def _grouped(pieces: Sequence[Surface], across_gaps: bool) -> list[list[Surface]]:
    """Faces that make one place: of one surface, and (but ``across_gaps``) meeting along the axis."""
    group_of: list[list[int]] = []
    near: dict[tuple[int, int, int], list[int]] = {}
    for n, piece in enumerate(pieces):
        cell = _cell(piece)
        close = (m for by in _BESIDE for m in near.get((cell[0] + by[0], cell[1] + by[1], cell[2] + by[2]), ()))
        own = [n]
        for m in close:
            if group_of[m] is not own and _one(piece, pieces[m], across_gaps):
                joined = group_of[m]
                own += joined
                for k in joined:
                    group_of[k] = own
        group_of.append(own)
        near.setdefault(cell, []).append(n)
    return [[pieces[k] for k in group] for group in {id(g): g for g in group_of}.values()]


#: Faces of one place have the foot of their axis in one cell, or in cells beside each other (mm).
_CELL = 1.0
_BESIDE = tuple(itertools.product((-1, 0, 1), repeat=3))


def _cell(s: Surface) -> tuple[int, int, int]:
    """Where the axis passes zero: the same for all faces about it, whichever way it points."""
    foot = s.origin if s.kind == "sphere" else along(s.origin, s.axis, -dot(s.origin, s.axis))
    return round(foot[0] / _CELL), round(foot[1] / _CELL), round(foot[2] / _CELL)


def _one(a: Surface, b: Surface, across_gaps: bool) -> bool:
    if a.kind != b.kind or a.hollow != b.hollow or abs(a.radius - b.radius) > ONE_PLACE:
        return False
    if a.kind == "plane":
        return False
    if a.kind == "sphere" or a.kind == "other":
        return a.kind == "sphere" and norm(minus(a.origin, b.origin)) < ONE_PLACE
    if norm(cross(a.axis, b.axis)) > ONE_PLACE:
        return False
    gap = minus(b.origin, a.origin)
    way = sum(g * d for g, d in zip(gap, a.axis, strict=True))
    if norm(minus(gap, along((0.0, 0.0, 0.0), a.axis, way))) > ONE_PLACE:
        return False
    if a.kind in ("torus", "cone"):
        return abs(way) < ONE_PLACE
    return across_gaps or _meet(a, b, way)


def _meet(a: Surface, b: Surface, way: float) -> bool:
    same = sum(x * y for x, y in zip(a.axis, b.axis, strict=True)) > 0
    low, high = (way + b.span[0], way + b.span[1]) if same else (way - b.span[1], way - b.span[0])
    return low <= a.span[1] + ONE_PLACE and high >= a.span[0] - ONE_PLACE
