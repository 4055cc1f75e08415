"""Centre lines of an assembly's views: of the round faces of each part where it stands, where the view shows them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import msgspec
import numpy as np

from ....drafting.sheet.seen import Centre
from ....fit.model import Assembly, Instance
from ....fit.poses import rotation
from ....kernel.draw.bending import Bend, bent_surfaces
from ....kernel.draw.cutting import Cutting
from ....kernel.draw.strokes import XY, Stroke
from ....kernel.ground.figures import Surface, Vector
from ....kernel.ground.geometry import Frame, dot, minus
from ....tolerance import PARALLEL
from ..centres import centres

#: Faces about one axis farther apart than this have a line each (mm); places nearer than that are one.
_APART, _ONE = 12.0, 0.01
#: An axis is seen end-on when the cosine between it and the eye is more than this.
_ALONG = 1 - PARALLEL


class Looked(NamedTuple):
    """How a view looks at an assembly: its eye, what of it is cut and bent, whether hidden lines are drawn."""

    eye: Frame
    how: Cutting | None
    bend: Bend | None
    hidden: bool


def axes(
    assembly: Assembly, instances: Sequence[Instance], looked: Looked, strokes: Sequence[Stroke]
) -> Iterator[Centre]:
    """The centre lines; ``strokes`` belong to the ``instances``, counted from 1. A bore seen from its side has one
    where it is cut along its axis or drawn hidden, what is seen end-on where its circle is.
    """
    shown = {n for s in strokes for n in s.faces}
    rims = {(n, _near(s.arc.center)) for s in strokes if s.visible and s.arc is not None for n in s.faces}
    found = []
    for n, instance in enumerate(instances, 1):
        for surface in _standing(assembly, instance, n) if n in shown else ():
            found += [s for s in _bent(surface, looked) if _is_shown(s, looked, rims)]
    yield from centres(found, looked.eye, strokes, _APART)


def _standing(assembly: Assembly, instance: Instance, n: int) -> Iterator[Surface]:
    turn, at = rotation(instance.pose), np.array(instance.pose.place)

    def way(v: Vector) -> Vector:
        x, y, z = (turn @ np.array(v)).tolist()
        return x, y, z

    def place(p: Vector) -> Vector:
        x, y, z = (turn @ np.array(p) + at).tolist()
        return x, y, z

    for surface in assembly.part(instance.part).surfaces:
        if surface.kind in ("cylinder", "cone") and surface.turn > math.pi:
            yield msgspec.structs.replace(surface.elsewhere(place, way), index=n, circles=())


def _bent(surface: Surface, looked: Looked) -> Iterator[Surface]:
    if looked.bend is None:
        yield surface
    else:
        yield from bent_surfaces((surface,), looked.eye, looked.bend)


def _is_shown(surface: Surface, looked: Looked, rims: set[tuple[int, tuple[int, int]]]) -> bool:
    eye, off = looked.eye, minus(surface.origin, looked.eye.origin)
    if abs(dot(surface.axis, eye.normal)) > _ALONG:
        return (surface.index, _near((dot(off, eye.x), dot(off, eye.y)))) in rims
    if not surface.hollow or looked.hidden:
        return True
    levels = looked.how.steps if looked.how is not None else ()
    return any(abs(dot(off, eye.normal) - level) < _ONE for level, _ in levels)


def _near(place: XY) -> tuple[int, int]:
    return round(place[0] / _ONE), round(place[1] / _ONE)
