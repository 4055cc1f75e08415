"""Hole: drilled, tapped, counterbored or countersunk, on an axis, at a point of a face, or radial into a round face.

Depths are from the face the hole starts in, as drawings state them: a counterbore does not shorten its hole.
"""

from __future__ import annotations

from ...names import lone_ref
from ...quantity import ExpressionError
from ...quantity.expression import NoReference
from ..drilling.model import Hole
from ..drilling.stating import hole_claims
from ..kinds import RouteView, StepKind
from ..model import Param


def summary(step: Hole, view: RouteView) -> str:
    size = step.thread.strip()
    if ref := lone_ref(size):
        try:
            thread = view.ledger.reading(ref.number).thread
        except (NoReference, ExpressionError):
            thread = None
        size = thread.designation if thread else size
    if not size and step.screw.strip() and not step.diameter.strip():
        size = f"clears {step.screw.strip()}"
    size = size or f"Ø{view.text(step.diameter)}"
    how = {
        "through": "through",
        "next": "to the next hollow",
        "wall": "through one wall",
        "depth": f"{view.text(step.depth)} deep",
    }[step.extent]
    return f"{size} {how}" + ("" if step.seat == "none" else f" · {step.seat}")


_SEATED = {"seat": ("counterbore", "spotface", "countersink", "counterdrill")}
_DEEP = {"seat": ("counterbore", "spotface", "counterdrill")}
_SINKS = {"seat": ("countersink", "counterdrill")}
KIND = StepKind(
    Hole,
    "Hole",
    "hole",
    (
        Param("face", "Starts in", "face", help="The face the drill enters."),
        Param(
            "placement",
            "Where",
            "choice",
            (
                ("axis", "on the face's axis"),
                ("circle", "on a pitch circle"),
                ("point", "at a point of the face"),
                ("edges", "so far from two edges"),
                ("sketch", "at the points of a sketch"),
                ("edge", "on the axis of a round edge"),
                ("radial", "radial, into a round face"),
            ),
        ),
        Param("sketch", "Points", "sketch", when={"placement": ("sketch",)}),
        Param(
            "only",
            "Only at",
            "text",
            when={"placement": ("sketch",)},
            help="Points of the sketch by name, as p1, p3. Empty: all.",
            more=True,
        ),
        Param("edge", "Round edge", "edges", when={"placement": ("edge",)}, most=1),
        Param(
            "edge", "Counted from", "edges", when={"placement": ("edges",)}, help="Two straight edges of it.", most=2
        ),
        Param("x", "X", "length", when={"placement": ("point",)}),
        Param("y", "Y", "length", when={"placement": ("point",)}),
        Param("x", "From the first", "length", when={"placement": ("edges",)}),
        Param("y", "From the second", "length", when={"placement": ("edges",)}),
        Param(
            "heading",
            "Drilled",
            "choice",
            (("square", "square to the face"), ("z", "along Z"), ("x", "along X"), ("y", "along Y")),
            when={"placement": ("point",)},
            help="Along an axis into any face: a slant, a cone, a ball. Its place is told along the two other axes.",
            more=True,
        ),
        Param(
            "counted",
            "X, Y counted",
            "choice",
            (("face", "as the face is seen"), ("part", "along the part’s X and Y")),
            when={"placement": ("point",), "heading": ("square",)},
            more=True,
        ),
        Param("circle", "Pitch circle Ø", "length", when={"placement": ("circle",)}),
        Param("along", "Along the axis", "length", when={"placement": ("radial",)}),
        Param("datum", "Counted from", "face", when={"placement": ("radial",)}, help="Empty: from part zero."),
        Param("angle", "Angle", "angle", when={"placement": ("circle", "radial")}),
        Param(
            "thread",
            "Thread",
            "thread",
            help="A designation such as M6x1 - 6H, or a callout. Empty: plain hole.",
        ),
        Param("thread_depth", "Thread depth", "length", help="Empty: as deep as the hole."),
        Param("screw", "Clears screw", "text", help="M6 or 1/4: clearance, and seats without sizes, from the tables."),
        Param(
            "fit",
            "Fit",
            "choice",
            (("fine", "close (fine)"), ("medium", "normal (medium)"), ("coarse", "loose (coarse)")),
            more=True,
        ),
        Param(
            "diameter", "Drill Ø", "length", help="Empty: the tapping drill of the thread, or the screw's clearance."
        ),
        Param(
            "extent",
            "How far",
            "choice",
            (
                ("through", "through all"),
                ("next", "to the next hollow"),
                ("wall", "through one wall"),
                ("depth", "to a depth"),
            ),
        ),
        Param("depth", "Depth", "length", when={"extent": ("depth",)}),
        Param(
            "tip",
            "Drill tip",
            "angle",
            when={"extent": ("depth",)},
            help="Included angle. Empty: flat bottom.",
        ),
        Param(
            "seat",
            "Seat",
            "choice",
            (
                ("none", "none"),
                ("counterbore", "counterbore"),
                ("spotface", "spotface"),
                ("countersink", "countersink"),
                ("counterdrill", "counterdrill"),
            ),
        ),
        Param("seat_diameter", "Seat Ø", "length", when=_SEATED),
        Param("seat_depth", "Seat depth", "length", when=_DEEP),
        Param("seat_angle", "Seat angle", "angle", when=_SINKS, help="Included angle: 82, 90, 100 or any other."),
        Param(
            "stages",
            "Stepped",
            "text",
            help="Wider parts, widest first: Ø12 x 5, Ø9 x 14 (depths from the face).",
            more=True,
            formulas=True,
        ),
    ),
    hole_claims,
    summary,
    repeatable=True,
)
