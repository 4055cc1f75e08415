"""How two picked faces or edges lie to each other: apart, at an angle, on one axis."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.TopoDS import TopoDS

from ...quantity import Style
from ...tolerance import LEVEL
from ..ground.figures import Surface, Vector
from ..ground.geometry import cross, dot, minus, norm, unit
from ..ground.topology import FACE, Shape
from .curves import straight_edge
from .surfaces import circle_of, measure_face


class Thing(NamedTuple):
    """A picked face or edge as a place with a direction: ``flat`` (its normal), a ``line`` (or an axis), a ``point``
    (a ball's centre) or ``free``.
    """

    kind: str
    place: Vector = (0.0, 0.0, 0.0)
    way: Vector = (0.0, 0.0, 1.0)
    word: str = ""


def thing(shape: Shape) -> Thing:
    """What of a face or edge is measured to."""
    if shape.ShapeType() == FACE:
        return _face(measure_face(TopoDS.Face(shape)))
    edge = TopoDS.Edge(shape)
    if circle := circle_of(edge):
        return Thing("line", circle.center, circle.axis, "axis")
    line = straight_edge(edge)
    return Thing("line", *line, "edge") if line is not None else Thing("free")


def _face(surface: Surface) -> Thing:
    if surface.kind == "plane":
        return Thing("flat", surface.origin, surface.axis, "face")
    if surface.kind == "sphere":
        return Thing("point", surface.origin, word="centre")
    return Thing("free") if surface.kind == "other" else Thing("line", surface.origin, surface.axis, "axis")


def lie(shapes: Sequence[Shape], style: Style) -> str:
    """In words, how two faces or edges lie to each other; ``style`` writes the figures."""
    a, b = sorted((thing(s) for s in shapes), key=lambda t: t.kind)
    words = _between(a, b, style)
    extrema = BRepExtrema_DistShapeShape(*shapes)
    near = f"nearest {style.length(float(extrema.Value()))}" if extrema.IsDone() else ""
    return "  ·  ".join(filter(None, (words, near)))


def _between(a: Thing, b: Thing, style: Style) -> str:
    """``a`` and ``b`` in the order of their kinds: flat, free, line, point."""
    if "free" in (a.kind, b.kind):
        return ""
    gap = minus(b.place, a.place)
    if a.kind == b.kind == "flat":
        if norm(cross(a.way, b.way)) < LEVEL:
            return f"parallel, {style.length(abs(dot(gap, a.way)))} apart"
        angle = math.acos(max(-1.0, min(1.0, -dot(a.way, b.way))))
        return f"at {style.angle(angle)} (the rest to 180°: {style.angle(math.pi - angle)})"
    if a.kind == "flat" and b.kind == "point":
        return f"centre {style.length(abs(dot(gap, a.way)))} from the face"
    if a.kind == "flat":
        lean = math.asin(min(1.0, abs(dot(a.way, b.way))))
        if lean < LEVEL:
            return f"{b.word} {style.length(abs(dot(gap, a.way)))} from the face"
        square = lean > math.pi / 2 - 1e-6
        return f"{b.word} square to the face" if square else f"{b.word} at {style.angle(lean)} to the face"
    if a.kind == b.kind == "point":
        return f"centres {style.length(norm(gap))} apart"
    if b.kind == "point":
        return f"centre {style.length(norm(cross(gap, a.way)))} from the {a.word}"
    return _lines(a, b, gap, style)


def _lines(a: Thing, b: Thing, gap: Vector, style: Style) -> str:
    words = "axes" if a.word == b.word == "axis" else "edges" if a.word == b.word else "axis and edge"
    square = cross(a.way, b.way)
    if norm(square) < LEVEL:
        apart = norm(cross(gap, a.way))
        return "on one axis" if words == "axes" and apart < 1e-7 else f"{words} parallel, {style.length(apart)} apart"
    angle = math.asin(min(1.0, norm(square)))
    apart = abs(dot(gap, unit(square)))
    meet = "meet" if apart < 1e-7 else f"pass at {style.length(apart)}"
    return f"{words} {meet}, at {style.angle(angle)}"
