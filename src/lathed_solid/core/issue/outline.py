"""The outline of a flat face, or of a section, as DXF for cutting: closed loops at true size, set off for the kerf."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

import ezdxf
from ezdxf.document import Drawing

from ..job.attachments import Store
from ..job.files import CannotWrite, write_atomic
from ..job.model import Content
from ..job.surveying import standing_of
from ..kernel.ground.figures import Surface, Vector
from ..kernel.ground.geometry import Frame, cross, dot, flat_frame, unit
from ..kernel.ground.named import NamedBody
from ..kernel.measure.flat_loops import Loop, cut_faces, loops_of
from ..kernel.measure.surfaces import measure_faces
from ..plan.zero import Standing
from ..route.rebuild import Cache, rebuild
from ..units import INCH
from .cutting import SIDES, Outline
from .dxf_bytes import same_bytes
from .whole import why_not_whole

#: No cut is wider, mm.
_WIDEST = 20.0
#: A face lies square to a direction within this (cosine).
_SQUARE = 1 - 1e-6


def write_outline(
    content: Content, wanted: Outline, path: Path, cache: Cache | None = None, store: Store | None = None,
    going: Callable[[], object] = lambda: None,
) -> str:  # fmt: skip
    """The DXF, in the drawing's unit; what was written is told in words. Raises CannotWrite or KernelFailure."""
    if not 0 <= wanted.kerf <= _WIDEST:
        raise CannotWrite(f"The kerf is the width of the cut: 0 to {_WIDEST:g} mm.")
    body = _whole(content, cache or Cache(), store)
    standing, figures = standing_of(content, body), measure_faces(body)
    going()
    if wanted.plane is not None:
        frame = flat_frame(*wanted.plane)
        faces = cut_faces(body.shape, frame)
    else:
        surface = _surface(body, figures, wanted, standing)
        frame = flat_frame(surface.origin, surface.axis)
        faces = [body.face(surface.index)]
    loops = loops_of(faces, _upright(frame, standing), wanted.kerf)
    scale = 1 / INCH if content.header.units == "in" else 1.0
    write_atomic(path, to_dxf(loops, scale))
    holes = sum(loop.hole for loop in loops)
    kerf = f", set off for a cut {wanted.kerf:g} mm wide" if wanted.kerf else ", at true size"
    return f"Outline and {holes} hole{'s' * (holes != 1)}{kerf}."


def _whole(content: Content, cache: Cache, store: Store | None) -> NamedBody:
    result = rebuild(content.plan(store.find if store else None), cache)
    if why := why_not_whole(content, result):
        raise CannotWrite(f"An outline needs the whole part, and {why}. Mend the route in Shape first.")
    assert result.body is not None
    return result.body


def across_z(content: Content, level: float, store: Store | None = None) -> tuple[Vector, Vector]:
    """The plane across machine Z at a level (mm), in the part's axes. Raises CannotWrite when it is not whole."""
    body = _whole(content, Cache(), store)
    frame = standing_of(content, body).frame
    return frame.at(0.0, 0.0, level), frame.normal


def _surface(body: NamedBody, figures: tuple[Surface, ...], wanted: Outline, standing: Standing) -> Surface:
    if wanted.face:
        index = next(iter(body.find_any(wanted.face)), 0)
        if not index or figures[index - 1].kind != "plane":
            raise CannotWrite("An outline for cutting is taken of a flat face. Pick one on the part.")
        return figures[index - 1]
    way = standing.part_way(SIDES[wanted.side or "top"])
    flat = [s for s in figures if s.kind == "plane" and dot(s.axis, way) > _SQUARE]
    if not flat:
        raise CannotWrite(f"The part has no flat face to the {wanted.side or 'top'}.")
    return max(flat, key=lambda s: s.area)


def _upright(frame: Frame, standing: Standing) -> Frame:
    """The same plane seen from outside, its zero under machine zero, x along the machine axis that lies nearest."""
    normal = frame.normal
    ways = [standing.frame.x, standing.frame.y, standing.frame.normal]
    near = min(ways, key=lambda w: abs(dot(w, normal)))
    flat = tuple(n - dot(near, normal) * m for n, m in zip(near, normal, strict=True))
    x = unit(flat)  # type: ignore[arg-type]
    away = tuple(o - z for o, z in zip(frame.origin, standing.frame.origin, strict=True))
    off = dot(away, normal)  # type: ignore[arg-type]
    origin = tuple(z + off * n for z, n in zip(standing.frame.origin, normal, strict=True))
    return Frame(origin, x, cross(normal, x))  # type: ignore[arg-type]


def to_dxf(loops: list[Loop], scale: float) -> bytes:
    """Circles, and closed polylines with arcs, on layers OUTLINE and HOLES; ``scale`` drawing units a mm."""
    return same_bytes(partial(_document, loops, scale))


def _document(loops: list[Loop], scale: float) -> Drawing:
    document: Drawing = ezdxf.new("R2010", units=1 if scale != 1.0 else 4)  # type: ignore[attr-defined]
    for name, color in (("OUTLINE", 7), ("HOLES", 5)):
        document.layers.add(name, color=color)
    space: Any = document.modelspace()
    for loop in loops:
        with_layer = {"layer": "HOLES" if loop.hole else "OUTLINE"}
        if loop.circle is not None:
            (x, y), radius = loop.circle.center, loop.circle.radius
            space.add_circle((x * scale, y * scale), radius * scale, dxfattribs=with_layer)
            continue
        points = [(x * scale, y * scale, b) for (x, y), b in zip(loop.places, loop.bulges, strict=True)]
        space.add_lwpolyline(points, format="xyb", close=True, dxfattribs=with_layer)
    return document
