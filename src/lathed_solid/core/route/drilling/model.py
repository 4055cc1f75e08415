"""The hole step as it is stated; how it is placed, cut and proved stands in the modules beside it."""

from __future__ import annotations

from typing import Literal

from ...formulas import Formula
from ..model import EdgeRef, FaceRef, StepBase


class Hole(StepBase, frozen=True, kw_only=True, tag="hole"):
    """All sizes are formulas; empty ones do not apply. At sketch points one step makes all its holes, or those at the
    points named in ``only``.

    The ``x`` and ``y`` of a point are ``counted`` as the face is seen from outside, like a sketch on it, or along the
    part's own X and Y; ``heading`` drills along an axis of the part instead of square to the face, the place then told
    along the two other axes. Two ``edge`` are those that ``x`` and ``y`` count from. ``screw`` and ``fit`` stand for a
    clearance hole (and a seat without sizes) from the tables; ``stages`` are the wider parts of a stepped hole.
    """

    face: FaceRef = FaceRef("")
    placement: Literal["axis", "circle", "point", "edges", "sketch", "edge", "radial"] = "axis"
    heading: Literal["square", "x", "y", "z"] = "square"
    sketch: str = ""
    only: str = ""
    edge: tuple[EdgeRef, ...] = ()
    x: Formula = "0"
    y: Formula = "0"
    counted: Literal["face", "part"] = "face"
    circle: Formula = ""
    angle: Formula = "0°"
    along: Formula = ""
    datum: FaceRef = FaceRef("")
    diameter: Formula = ""
    screw: str = ""
    fit: Literal["fine", "medium", "coarse"] = "medium"
    extent: Literal["through", "next", "wall", "depth"] = "through"
    depth: Formula = ""
    tip: Formula = "118°"
    seat: Literal["none", "counterbore", "spotface", "countersink", "counterdrill"] = "none"
    seat_diameter: Formula = ""
    seat_depth: Formula = ""
    seat_angle: Formula = "90°"
    stages: Formula = ""
    thread: Formula = ""
    thread_depth: Formula = ""
