"""Parts made of figures alone, for what needs no solid: blocks, bars with bores, gears."""

from __future__ import annotations

import math

import numpy as np

from lathed_solid.core.fit import edits
from lathed_solid.core.fit.model import Assembly, End, PartShot, Pose
from lathed_solid.core.fit.solving import solved
from lathed_solid.core.kernel.ground.figures import Surface


def part(path, faces, box=((-10, -10, -10), (10, 10, 10)), **more):
    """``faces``: name to (kind, origin, axis, more fields)."""
    surfaces, names = [], []
    for name, (kind, origin, axis, *rest) in faces.items():
        axis = np.array(axis, float) / np.linalg.norm(axis)
        fields = rest[0] if rest else {}
        surfaces.append(
            Surface(
                index=len(surfaces) + 1,
                kind=kind,
                origin=tuple(map(float, origin)),
                axis=tuple(axis.tolist()),
                **fields,
            )
        )
        names.append(name)
    return PartShot(
        id="", path=path, title=path, references=tuple(names), surfaces=tuple(surfaces),
        box=tuple(tuple(map(float, c)) for c in box), **more,
    )  # fmt: skip


def block(path, x, y, z):
    faces = {}
    for k, (name, half) in enumerate(zip("xyz", (x / 2, y / 2, z / 2), strict=True)):
        for sign in (-1, 1):
            axis = [0, 0, 0]
            axis[k] = sign
            faces[f"{name}{'+' if sign > 0 else '-'}"] = ("plane", [half * c for c in axis], axis)
    return part(path, faces, ((-x / 2, -y / 2, -z / 2), (x / 2, y / 2, z / 2)), volume=x * y * z, density=7.85)


def bar(path, length, thick=4.0):
    """A link along X: bores ``a`` at zero and ``b`` at ``length``, faces ``top`` and ``bottom``, its side ``side``."""
    round_, hollow = "cylinder", {"radius": 2.0, "hollow": True}
    return part(
        path,
        {
            "a": (round_, (0, 0, 0), (0, 0, 1), hollow),
            "b": (round_, (length, 0, 0), (0, 0, 1), hollow),
            "top": ("plane", (0, 0, thick / 2), (0, 0, 1)),
            "bottom": ("plane", (0, 0, -thick / 2), (0, 0, -1)),
            "side": ("plane", (0, 3, 0), (0, 1, 0)),
        },
        ((-3, -3, -thick / 2), (length + 3, 3, thick / 2)),
    )


def put(assembly, shot, place=(0, 0, 0), turn=(1.0, 0.0, 0.0, 0.0)):
    size = math.sqrt(sum(v * v for v in turn))
    assembly, (name,) = edits.insert(assembly, shot, [Pose(tuple(map(float, place)), tuple(v / size for v in turn))])
    return assembly, name


def tie(assembly, kind, a, b, value="", opposed=None):
    """Relate two faces, each "instance.face", and solve."""
    ends = [End(*x.split(".", 1)) for x in (a, b)]
    assembly, name = edits.relate(assembly, kind, *ends, value, opposed)
    return solved(assembly, name).assembly, name


def axis_of(assembly, instance, face):
    """Where a face is in the room: its point and its direction."""
    from lathed_solid.core.fit.poses import placed, rotation

    own = assembly.instance(instance)
    surface = assembly.part(own.part).surface(face)
    return placed(own.pose, np.array(surface.origin)), rotation(own.pose) @ np.array(surface.axis)


def empty(**more):
    return Assembly(**more)
