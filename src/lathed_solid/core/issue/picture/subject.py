"""What is pictured, ready for the rays: fine triangles, and of every face how it takes the light."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

import msgspec
import numpy as np

from ...arrays import Floats, Ints, Truths
from ...fit.model import Pose
from ...fit.poses import rotation
from ...kernel.draw.facets import Facets, facets
from ...kernel.draw.facets import together as joined
from ...kernel.ground.figures import Surface, Vector
from ...kernel.ground.topology import Shape
from ...standards.finishes import Color, Finish
from ...standards.threads import ScrewThread

#: sRGB colours of metals are those of a grey card beside them; they mirror so much more.
_SHINE = 1.25


class Worm(NamedTuple):
    """A thread that is not modelled, on a round face: ``start`` and ``end`` along its axis (mm from its origin)."""

    thread: ScrewThread
    start: float
    end: float


class Coat(NamedTuple):
    """How one face looks: sRGB colour, finish, which way tool marks run (an axis, or a direction), its thread, and
    whether its body is see-through.
    """

    color: Color
    finish: Finish
    origin: Vector = (0.0, 0.0, 0.0)
    axis: Vector = (0.0, 0.0, 1.0)
    worm: Worm | None = None
    see_through: bool = False


class Coats(NamedTuple):
    """The same of all faces as arrays (k,): linear ``color`` (k, 3), ``lay`` 0 none, 1 round, 2 straight; ``worm``
    (k, 4) is lead over starts, start, end (mm) and the hand (-1 left), the first 0 where there is no thread.
    """

    color: Floats
    metal: Floats
    along: Floats
    across: Floats
    lay: Ints
    origin: Floats
    axis: Floats
    worm: Floats
    see_through: Truths


class Subject(NamedTuple):
    """``coat`` (m,) is that of each triangle. ``toward`` the eye and ``over`` (straight up) are unit directions in the
    axes of the points.
    """

    facets: Facets
    coat: Ints
    coats: Coats


class Piece(NamedTuple):
    """One solid: its shape, the coat of every face, and where it stands."""

    shape: Shape
    coats: Sequence[Coat]
    pose: Pose | None = None


def subject(pieces: Iterable[Piece]) -> Subject:
    """The triangles of a shape that stands in several places are made once."""
    made: list[Facets] = []
    owners: list[Ints] = []
    coats: list[Coat] = []
    count = 0
    for piece in pieces:
        own = _facets_of(piece.shape)
        turn, shift = np.eye(3), np.zeros(3)
        if piece.pose is not None:
            turn, shift = rotation(piece.pose), np.array(piece.pose.place)
        placed = Facets(own.points @ turn.T + shift, own.normals @ turn.T, own.corners + count, own.face)
        owners.append(own.face - 1 + len(coats))
        coats += [_standing(c, turn, shift) for c in piece.coats]
        made.append(placed)
        count += len(own.points)
    return Subject(joined(made), np.concatenate(owners) if owners else np.zeros(0, int), _arrays(coats))


#: The last shapes and their triangles: while a picture is tried this way and that, the part stays the same.
_kept: list[tuple[Shape, Facets]] = []
_KEPT = 48


def _facets_of(shape: Shape) -> Facets:
    found = next((own for one, own in _kept if one.IsSame(shape)), None)
    if found is None:
        found = facets(shape)
        _kept.append((shape, found))
        del _kept[:-_KEPT]
    return found


def stood(coat: Coat, pose: Pose) -> Coat:
    """The coat of a face that stands where the pose has it."""
    return _standing(coat, rotation(pose), np.array(pose.place))


def _standing(coat: Coat, turn: Floats, shift: Floats) -> Coat:
    origin, axis = turn @ np.array(coat.origin) + shift, turn @ np.array(coat.axis)
    return coat._replace(origin=_vector(origin), axis=_vector(axis))


def _vector(v: Floats) -> Vector:
    x, y, z = (float(c) for c in v)
    return x, y, z


def linear(color: Floats) -> Floats:
    """sRGB 0 to 1 as linear light (IEC 61966-2-1)."""
    found: Floats = np.where(color <= 0.04045, color / 12.92, ((color + 0.055) / 1.055) ** 2.4)
    return found


def _arrays(coats: Sequence[Coat]) -> Coats:
    lays = {"": 0, "round": 1, "straight": 2}
    colors = np.array([c.color for c in coats], float).reshape(-1, 3)
    metal = np.array([c.finish.metal for c in coats], float)
    bright = np.clip(colors * (1 + (_SHINE - 1) * metal)[:, None], 0, 1)
    worms = [_worm(c.worm) for c in coats]
    return Coats(
        linear(bright),
        metal,
        np.array([c.finish.along for c in coats], float),
        np.array([c.finish.across for c in coats], float),
        np.array([lays[c.finish.lay] for c in coats], int),
        np.array([c.origin for c in coats], float).reshape(-1, 3),
        np.array([c.axis for c in coats], float).reshape(-1, 3),
        np.array(worms, float).reshape(-1, 4),
        np.array([c.see_through for c in coats], bool),
    )


def _worm(worm: Worm | None) -> tuple[float, float, float, float]:
    if worm is None:
        return 0.0, 0.0, 0.0, 1.0
    thread = worm.thread
    return thread.lead, worm.start, worm.end, -1.0 if thread.left_hand else 1.0


def coat_of(surface: Surface, color: Color, finish: Finish, axis: tuple[Vector, Vector] | None) -> Coat:
    """A face of that form: the lay runs round its own axis, or, flat and square to the part's ``axis`` (a place and a
    direction), round that.
    """
    coat = Coat(color, finish)
    if finish.lay == "":
        return coat
    if surface.kind in ("cylinder", "cone", "torus", "sphere"):
        round_ = msgspec.structs.replace(finish, lay="round")
        return coat._replace(finish=round_, origin=surface.origin, axis=surface.axis)
    if finish.lay == "round" and axis is not None:
        return coat._replace(origin=axis[0], axis=axis[1])
    x, y, z = (abs(c) for c in surface.axis)
    straight: Vector = (1.0, 0.0, 0.0) if x <= max(y, z) else (0.0, 1.0, 0.0)
    return coat._replace(finish=msgspec.structs.replace(finish, lay="straight"), axis=straight)


def wormed(coat: Coat, surface: Surface, worm: Worm | None) -> Coat:
    """The same with a thread about the face's axis."""
    return coat if worm is None else coat._replace(origin=surface.origin, axis=surface.axis, worm=worm)
