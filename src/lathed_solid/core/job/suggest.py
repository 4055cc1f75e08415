"""From a callout to the step it asks for: fields filled with references, never with copied numbers."""

from __future__ import annotations

import math
from typing import Any

from ..callout import Reading
from ..kernel.ground.figures import Surface
from ..route.drilling.model import Hole
from ..route.model import EdgeRef, FaceRef, StepBase
from ..route.steps.edges import Chamfer, Fillet
from ..route.steps.extrude import Extrude
from ..route.steps.keyway import Keyway
from ..route.steps.polygon import Polygon
from ..route.steps.ring import Ring
from ..route.steps.straight_groove import StraightGroove
from ..route.steps.thread import Thread
from . import edits
from .edits import EditRefused
from .model import Content

_KINDS: dict[str, type[StepBase]] = {
    "chamfer": Chamfer, "radius": Fillet, "keyway": Keyway, "flats": Polygon, "corners": Polygon, "square": Polygon,
    "groove": StraightGroove, "undercut": StraightGroove,
}  # fmt: skip


def suits(reading: Reading, surface: Surface | None = None) -> type[StepBase] | None:
    """The kind of step a callout becomes on the picked ``surface``; None for plain lengths and turned diameters.

    A thread is cut on a picked round face of about its diameter; elsewhere it is tapped.
    """
    if reading.shape == "thread" and surface is not None and surface.kind == "cylinder":
        size = reading.main.nominal
        if abs(2 * surface.radius - size) < size / 4:
            return Thread
    if reading.is_hole:
        return Hole
    return Thread if reading.shape == "thread" else _KINDS.get(reading.shape)


def hole_fields(number: int, reading: Reading) -> dict[str, object]:
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


def brings_along(content: Content, id_: str, field: str, value: object) -> dict[str, object]:
    """Fields of step ``id_`` that change with one: on a face a pocket goes into the body and a boss out of it, and what
    goes in is a pocket until its depth says that more is known.
    """
    step = content.step(id_)
    if not isinstance(step, Extrude) or not step.sketch or content.sketch(step.sketch).plane.base != "face":
        return {}
    if (field, value, step.direction) == ("mode", "cut", "forward"):
        return {"direction": "backward"}
    if (field, value, step.direction) == ("mode", "add", "backward"):
        return {"direction": "forward"}
    if (field, value, step.mode) == ("direction", "backward", "add") and not step.depth:
        return {"mode": "cut"}
    return {}


def _thread_fields(ref: str, reading: Reading) -> dict[str, object]:
    length = next((f"{ref}.{key}" for key in ("depth", "length") if reading.get(key)), "")
    return {"name": "Thread", "note": ref, "length": length}


def _keyway_fields(ref: str, reading: Reading, surface: Surface | None) -> dict[str, object]:
    bore = surface.hollow if surface is not None else reading.get("across") is not None
    fields: dict[str, Any] = {"name": "Keyway", "width": ref} | ({"form": "bore"} if bore else {})
    return fields | {key: f"{ref}.{key}" for key in ("depth", "across", "length") if reading.get(key)}


def _groove_fields(ref: str, reading: Reading) -> dict[str, object]:
    """A groove by its bottom Ø and width, its place asked for; an undercut by width and depth, beside its shoulder."""
    if reading.shape == "undercut":
        return {"name": "Undercut", "width": ref, "by": "depth", "depth": f"{ref}.depth", "at": "0"}
    return {"name": "Groove", "bottom": ref, "width": f"{ref}.length"}


def _polygon_fields(ref: str, reading: Reading) -> dict[str, object]:
    """Six flats, or four of a square; across corners is put as across flats."""
    if reading.shape == "square":
        return {"name": "Square", "sides": "4", "across": ref, "corners": "none"}
    return {"name": "Hexagon", "across": f"{ref}*cos(30°)" if reading.shape == "corners" else ref}


def edges_of_faces(faces: tuple[FaceRef, ...]) -> tuple[EdgeRef, ...]:
    """The edges that picked faces mean for a chamfer or fillet: all of one face, or what lies between two."""
    if len(faces) == 1:
        return (EdgeRef(faces[0].name, "", f"edges of {faces[0].was}", "face"),)
    if len(faces) == 2:
        a, b = faces
        return (EdgeRef(a.name, b.name, f"edges between {a.was} and {b.was}"),)
    return ()


def _is_round(surface: Surface) -> bool:
    """Whether a flat face has a circle around it, in whose middle a hole may be meant."""
    return any(math.pi * c.radius**2 > surface.area * (1 - 1e-9) for c in surface.circles)


def _fields(
    kind: type[StepBase], number: int, reading: Reading, surface: Surface | None, edges: tuple[EdgeRef, ...]
) -> dict[str, object]:
    ref = f"#{number}"
    if kind is Chamfer:
        return {"name": "Chamfer", "size": ref, "angle": f"{ref}.angle"}
    if kind is Fillet:
        return {"name": "Fillet", "radius": ref}
    if kind is Thread:
        return _thread_fields(ref, reading)
    if kind is StraightGroove:
        return _groove_fields(ref, reading)
    if kind is Keyway:
        return _keyway_fields(ref, reading, surface)
    if kind is Polygon:
        return _polygon_fields(ref, reading)
    fields = hole_fields(number, reading)
    between_edges = len(edges) == 2 and surface is not None and surface.kind == "plane"
    if "placement" not in fields and between_edges:
        return fields | {"placement": "edges", "edge": edges, "x": "", "y": ""}
    if "placement" not in fields and surface is not None and surface.kind == "plane" and not _is_round(surface):
        fields |= {"placement": "point", "x": "", "y": ""}  # there is no middle to be meant: the place is asked for
    return fields


def steps_from_callout(
    content: Content,
    number: int,
    faces: tuple[FaceRef, ...] = (),
    edges: tuple[EdgeRef, ...] = (),
    surface: Surface | None = None,
    at: int | None = None,
) -> tuple[Content, str]:
    """Add the step(s) callout ``number`` asks for, placed on the picked faces or edges.

    ``surface`` is the first of the faces as measured; ``at`` the place in the route (from 0, at the end by default).
    Returns the content and the id of the step to go on with. Raises NotThere when it asks for none.
    """
    reading = content.ledger().reading(number)
    kind = suits(reading, surface)
    if kind is None:
        raise EditRefused(f"Callout {number} is a size, not a feature. Use it in the profile table or in a sketch.")
    fields = _fields(kind, number, reading, surface, edges)
    if kind in (Chamfer, Fillet):
        fields["edges"] = edges or edges_of_faces(faces)
    elif faces:
        fields["face"] = faces[0]
    if kind in (Hole, StraightGroove) and len(faces) > 1:
        fields["datum"] = faces[1]
    if kind is StraightGroove and surface is not None and surface.kind == "plane":  # picked the other way round
        fields |= {"datum": faces[0], "face": faces[1] if len(faces) > 1 else FaceRef("")}
    content, made = edits.with_step(content, kind, at, **fields)
    if kind is Hole and reading.count > 1 and reading.get("circle"):
        content, _ = edits.with_step(
            content, Ring, None if at is None else at + 1, name="Ring", of=(made,), count=f"#{number}.count"
        )
    return content, made
