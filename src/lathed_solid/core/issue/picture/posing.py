"""From a job or an assembly to what the rays see: its solids as they stand, cut open where that is wanted."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from ...drafting.looking import axes_of_standing
from ...fit.apart import pulled_apart
from ...fit.model import Assembly, PartShot, Pose
from ...fit.poses import rotation
from ...job.assembling.judging import body_of
from ...job.attachments import Store
from ...job.model import Content
from ...job.surveying import standing_of
from ...kernel.draw.cutting import Cutting, opened
from ...kernel.ground.figures import Vector
from ...kernel.ground.geometry import Frame, cross, dot, unit
from ...kernel.ground.named import NamedBody
from ...kernel.ground.placing import moved, rigid
from ...kernel.ground.topology import Shape, faces
from ...kernel.measure.boxes import box
from ...kernel.measure.surfaces import measure_faces
from ...plan.zero import OWN, Standing
from ...route.model import FileLook
from ...route.rebuild import Cache, rebuild
from ...standards.finishes import LIGHTEST_METAL, finish_in
from ...standards.threads import reach_on
from ..whole import why_not_whole
from .coats import as_made, coats_of, open_coat
from .model import NoPicture, Shot
from .subject import Coat, Piece, Subject, Worm, coat_of, stood, subject, wormed

_STEEL = (0.66, 0.68, 0.71)


class Posed(NamedTuple):
    """``toward`` the eye and straight ``over``: unit directions in the axes of the subject."""

    subject: Subject
    toward: Vector
    over: Vector


def posed_part(
    content: Content, shot: Shot, cache: Cache | None = None, store: Store | None = None, only: str = "",
    going: Callable[[], object] = lambda: None,
) -> Posed:  # fmt: skip
    """The bodies of a job's part that are shown, or ``only`` one. Raises NoPicture when there is no whole part."""
    result = rebuild(content.plan(store.find if store else None), cache)
    if why := why_not_whole(content, result):
        raise NoPicture(f"A picture needs the whole part, and {why}. Mend the route in Shape first.")
    assert result.body is not None
    standing = standing_of(content, result.body)
    shown = [i for i in result.bodies if i == only or (not only and content.body(i).shown)]
    if not shown:
        raise NoPicture("Every body is hidden: tick one in Shape first.")
    cut = _cut(shot, standing, [result.bodies[i] for i in shown])
    pieces = []
    for id_ in shown:
        going()
        body, file = result.bodies[id_], result.looks.get(id_, FileLook())
        if cut is not None and (left := opened(body, *cut)) is not None:
            body = left
        elif cut is not None:
            continue
        surfaces = measure_faces(body)
        pieces.append(Piece(body.shape, coats_of(content, id_, file, body, surfaces, result.marks)))
    return _posed(pieces, shot, standing)


def posed_assembly(assembly: Assembly, shot: Shot, store: Store, going: Callable[[], object] = lambda: None) -> Posed:
    """An assembly as it stands, pulled apart as far as ``shot`` says; cut open, bought parts stay whole (ISO 128-3
    clause 6.5). Raises NoPicture, or Refusal for a part that is not at hand.
    """
    assembly, _ = pulled_apart(assembly, shot.apart)
    solid, shown = body_of(store), [i for i in assembly.instances if not i.hidden]
    if not shown:
        raise NoPicture("There is nothing in this assembly to be seen.")
    parts = {i.part: assembly.part(i.part) for i in shown}
    coats = {name: _part_coats(part) for name, part in parts.items()}
    if not shot.cut:
        return _posed([Piece(solid(parts[i.part]).shape, coats[i.part], i.pose) for i in shown], shot, OWN)
    standing = [
        (i, _numbered(moved(solid(parts[i.part]).shape, rigid(rotation(i.pose).tolist(), i.pose.place)))) for i in shown
    ]
    cut = _cut(shot, OWN, [body for _, body in standing])
    assert cut is not None
    pieces = []
    for instance, whole in standing:
        going()
        part = parts[instance.part]
        left = whole if part.is_fastener else opened(whole, *cut)
        if left is whole:
            pieces.append(Piece(solid(part).shape, coats[instance.part], instance.pose))
        elif left is not None:
            pieces.append(Piece(left.shape, _cut_coats(left, coats[instance.part], instance.pose)))
    return _posed(pieces, shot, OWN)


def posed_body_of_part(part: PartShot, shot: Shot, store: Store) -> Posed:
    """One part of an assembly by itself. Raises Refusal when it is not at hand."""
    return _posed([Piece(body_of(store)(part).shape, _part_coats(part))], shot, OWN)


def _posed(pieces: Sequence[Piece], shot: Shot, standing: Standing) -> Posed:
    if not pieces:
        raise NoPicture("All of it lies before the cut: nothing is left to be seen. Cut less of it away.")
    _, up, _ = axes_of_standing(shot.up)
    return Posed(subject(pieces), standing.part_way(shot.toward_eye()), standing.part_way(up))


# --- cut open
def _cut(shot: Shot, standing: Standing, bodies: Sequence[NamedBody]) -> tuple[Frame, Cutting] | None:
    """The plane of the cut, as it is seen, and what goes: through the middle, square to the machine axis that points
    most nearly to the eye; of a quarter only what lies above the middle.
    """
    if not shot.cut:
        return None
    front, up, right = axes_of_standing(shot.up)
    eye = shot.toward_eye()
    ways = [front, right, *(tuple(-c for c in w) for w in (front, right))]
    near = max(ways, key=lambda w: dot(w, eye))  # type: ignore[arg-type]
    normal, upward = standing.part_way(near), standing.part_way(up)  # type: ignore[arg-type]
    boxes = [box(b.shape) for b in bodies]
    low = [min(b[0][k] for b in boxes) for k in range(3)]
    high = [max(b[1][k] for b in boxes) for k in range(3)]
    x, y, z = ((a + b) / 2 for a, b in zip(low, high, strict=True))
    frame = Frame((x, y, z), unit(cross(upward, normal)), unit(upward))
    return frame, Cutting(((0.0, 0.0),), low=0.0 if shot.cut == "quarter" else None)


# --- parts of an assembly
def _part_coats(part: PartShot) -> list[Coat]:
    """A part as it comes from the machine, its threads told by its own record."""
    worms = {}
    for thread in part.threads:
        surface = part.surface(thread.face)
        if surface is not None and surface.kind == "cylinder" and not thread.modelled:
            worms[surface.index] = Worm(thread.thread, *reach_on(surface.span, thread.length, thread.from_high))
    metal, looks = part.density == 0 or part.density > LIGHTEST_METAL, {f.index: f for f in part.looks}
    found = []
    for surface in part.surfaces:
        own = looks.get(surface.index)
        color, note = (own.color, own.finish) if own is not None else (part.color or _STEEL, part.finish)
        coat = coat_of(surface, color, finish_in(note) or as_made(surface, metal, False), None)
        found.append(wormed(coat, surface, worms.get(surface.index)))
    return found


def _numbered(shape: Shape) -> NamedBody:
    """Its faces called by their numbers, so that they are known again once it is cut open."""
    return NamedBody(shape, [(face, str(k)) for k, face in enumerate(faces(shape), 1)])


def _cut_coats(left: NamedBody, coats: Sequence[Coat], pose: Pose) -> list[Coat]:
    """What is left of a part once it is cut open, standing where it stands."""
    found = []
    for index in range(1, left.face_count + 1):
        number = next((int(n) for n in sorted(left.names.get(index, ())) if n.isdigit()), 1)
        found.append(open_coat(left, index) or stood(coats[number - 1], pose))
    return found
