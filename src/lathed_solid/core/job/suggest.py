"""From a callout to the step it asks for: fields filled with references, never with copied numbers."""

from __future__ import annotations

from typing import Any

from ..callout import Reading
from ..route.model import EdgeRef, FaceRef, StepBase
from ..route.steps.edges import Chamfer, Fillet
from ..route.steps.hole import Hole
from ..route.steps.ring import Ring
from . import edits
from .model import Content


def suits(reading: Reading) -> type[StepBase] | None:
    """The kind of step a callout usually becomes; None for plain lengths and turned diameters."""
    if reading.shape == "chamfer":
        return Chamfer
    if reading.shape == "radius":
        return Fillet
    return Hole if reading.is_hole else None


def hole_fields(number: int, reading: Reading) -> dict[str, Any]:
    """Fields of a Hole made from callout ``number``."""
    ref = f"#{number}"
    fields: dict[str, Any] = {"name": "Hole", "extent": "through" if reading.thru else "depth"}
    if reading.shape == "thread":
        fields |= {"name": "Tapped hole", "thread": ref}
        if reading.get("depth"):
            fields |= {"thread_depth": f"{ref}.depth", "depth": f"{ref}.depth"}
        if reading.known("drill"):
            fields["diameter"] = f"{ref}.drill"
        if reading.known("drill_depth"):
            fields["depth"] = f"{ref}.drill_depth"
    else:
        fields["diameter"] = ref
        if reading.get("depth"):
            fields["depth"] = f"{ref}.depth"
    if reading.seat:
        fields |= {"seat": reading.seat, "seat_diameter": f"{ref}.seat"}
        part = "seat_depth" if reading.seat == "counterbore" else "seat_angle"
        if reading.known(part):
            fields[part] = f"{ref}.{part}"
    if reading.known("tip"):
        fields["tip"] = f"{ref}.tip"
    if reading.get("circle"):
        fields |= {"placement": "circle", "circle": f"{ref}.circle"}
    elif reading.get("x") and reading.get("y"):
        fields |= {"placement": "point", "x": f"{ref}.x", "y": f"{ref}.y"}
    elif reading.get("at"):
        fields |= {"placement": "radial", "along": f"{ref}.at"}
    if reading.get("angle"):
        fields["angle"] = f"{ref}.angle"
    return fields


def steps_from_callout(
    content: Content, number: int, faces: tuple[FaceRef, ...] = (), edges: tuple[EdgeRef, ...] = ()
) -> tuple[Content, str]:
    """Add the step(s) callout ``number`` asks for, placed on the picked faces or edges.

    Returns the content and the id of the step to go on with. Raises LookupError when it asks for none.
    """
    reading = content.ledger().reading(number)
    kind, ref = suits(reading), f"#{number}"
    if kind is Chamfer:
        return edits.with_step(content, Chamfer, name="Chamfer", edges=edges, size=ref, angle=f"{ref}.angle")
    if kind is Fillet:
        return edits.with_step(content, Fillet, name="Fillet", edges=edges, radius=ref)
    if kind is None:
        raise LookupError(f"Callout {number} is a size, not a feature. Use it in the profile table or in a sketch.")
    fields = hole_fields(number, reading)
    if faces:
        fields["face"] = faces[0]
    if len(faces) > 1:
        fields["datum"] = faces[1]
    content, hole = edits.with_step(content, Hole, **fields)
    if reading.count > 1 and reading.get("circle"):
        content, _ = edits.with_step(content, Ring, name="Ring", of=(hole,), count=f"{ref}.count")
    return content, hole
