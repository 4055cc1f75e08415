"""What an assembly keeps of a part: read from its job, or from a file of solids."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from msgspec.structs import replace

from ...fit.model import FaceFinish, Figure, PartShot, Pose, Sized, Threaded
from ...fit.poses import pose_of
from ...kernel.files.kinds import ENDINGS
from ...refusal import Refusal
from ...route.model import FileLook
from ..attachments import NoAttachment, Store, name_of
from ..files import read_whole
from ..looks import body_color, face_color, finish_of_face
from ..model import Content
from ..proving import build_and_prove
from ..storage import MAX_FILE, load
from .files import is_assembly
from .paths import relative, stamp_of
from .sub import inside

if TYPE_CHECKING:
    from ...kernel.ground.named import NamedBody
    from ...prove.proof import ProofLine
    from ...route.rebuild import RouteResult

#: Files of solids that can be put into an assembly, besides jobs.
SOLIDS = ENDINGS
#: A face is what a callout measured when the two agree so well (mm); walls are parallel when this square.
_SAME, _PARALLEL = 1e-3, 1e-6


class Shot(NamedTuple):
    """A part as it is kept, its solid with triangles, to be stored under ``part.shape``, and where its file has it."""

    part: PartShot
    solid: bytes
    poses: tuple[Pose, ...] = (Pose(),)


def shots_of(path: Path, base: Path, store: Store) -> tuple[Shot, ...]:
    """The parts in a file: one of a job or an assembly, as many as there are solids of another. ``base`` is the folder
    that paths are kept relative to, ``store`` holds what jobs read. Raises Refusal.
    """
    where = relative(path, base)
    stamp = stamp_of(path)
    if path.suffix.lower() in SOLIDS:
        made = tuple(_from_solids(path, where, stamp))
    elif is_assembly(path):
        made = (_from_assembly(path, where, stamp, store),)
    else:
        made = (_from_job(path, where, stamp, store),)
    return made


def other_hand(part: PartShot, store: Store) -> Shot:
    """A part's mirror image in its own X: its faces have the same names. Its threads stay of the hand they are, as the
    shop cuts them; modelled ones are mirrored with the solid. Raises Refusal when its solid is not at hand.
    """
    from ...kernel.ground.named import NamedBody
    from ...kernel.ground.picture import from_bytes
    from ...kernel.ground.placing import mirroring, moved
    from ...kernel.ground.topology import faces

    try:
        own = from_bytes(store.get(part.shape))
    except NoAttachment:
        raise Refusal(f"The solid of {part.called} is not at hand. Take the part anew from its file.") from None
    image = moved(own, mirroring((0.0, 0.0, 0.0), (1.0, 0.0, 0.0)))
    made = _shot(NamedBody(image, [(face, f"f{k}") for k, face in enumerate(faces(image))]), part.path, part.stamp)
    threads = tuple(
        replace(t, thread=replace(t.thread, left_hand=t.thread.left_hand != t.modelled)) for t in part.threads
    )
    kept = {f: getattr(made.part, f) for f in ("shape", "surfaces", "box", "center", "inertia")}
    return Shot(replace(part, id="", threads=threads, other_hand=not part.other_hand, **kept), made.solid)


def _from_job(path: Path, where: str, stamp: str, store: Store) -> Shot:
    content = load(path, store).job.content
    return shot_of_content(content, where, stamp, store)


def shot_of_content(content: Content, where: str, stamp: str, store: Store | None = None) -> Shot:
    """A job's part as it is built now. Raises Refusal when its route gives no solid."""
    shown = build_and_prove(content, store=store)
    result = shown.result
    if result.body is None or shown.proof is None:
        raise Refusal(f"{content.header.number or where} has no solid yet: finish its route in Shape first.")
    made = _shot(result.body, where, stamp)
    header, grams = content.header, shown.proof.grams
    names = {name: result.body.name_of(i) for i, own in result.body.names.items() for name in own}
    first = next(iter(result.bodies))
    file = result.looks.get(first, FileLook())
    look, material = content.look(first, file), content.material_of(first).color
    looks = [
        FaceFinish(index, face_color(own, look, material), finish_of_face(own, look))
        for own in content.faces
        for index in result.body.find_any(own.face.name)
    ]
    part = replace(
        made.part,
        number=header.number,
        title=header.name,
        revision=header.revision,
        material=content.header.material.name,
        density=grams / made.part.volume * 1000.0 if made.part.volume else 0.0,
        color=body_color(content, first, file),
        finish=look.finish,
        looks=tuple(looks),
        threads=tuple(_threads(result, names, made.part)),
        figures=tuple(Figure(line.number, line.key, line.kind, line.nominal) for line in shown.proof.lines),
        sized=tuple(_sized(made.part, shown.proof.lines)),
    )
    return Shot(part, made.solid)


def _sized(part: PartShot, lines: Iterable[ProofLine]) -> Iterator[Sized]:
    """What callouts state of round faces and of pairs of walls: a pitch circle is measured on its holes as well, but is
    no size of theirs.
    """
    for line in lines:
        own = [part.surfaces[f - 1] for f in line.faces]
        names = [part.references[f - 1] for f in line.faces]
        if line.measured is None:
            continue
        said = line.lower, line.upper, line.note, line.basis
        if line.kind == "diameter":
            for name, s in zip(names, own, strict=True):
                if s.kind == "cylinder" and abs(2 * s.radius - line.measured) < _SAME:
                    yield Sized(name, *said, number=line.number, key=line.key)
        elif line.kind == "length" and [s.kind for s in own] == ["plane", "plane"]:
            normal, way = np.array(own[0].axis), np.subtract(own[1].origin, own[0].origin)
            square = float(np.linalg.norm(np.cross(normal, own[1].axis))) < _PARALLEL
            if square and abs(abs(float(normal @ way)) - line.measured) < _SAME:
                yield Sized(names[0], *said, names[1], line.number, line.key)


def _threads(result: RouteResult, names: dict[str, str], part: PartShot) -> Iterator[Threaded]:
    for mark in result.marks:
        face = names.get(mark.face, mark.face)
        made = Threaded(face, mark.thread, mark.internal, mark.modelled, mark.length, mark.from_high)
        frame = result.frames.get(f"{mark.skin}/axis") if mark.modelled else None
        if frame is not None and result.body is not None:
            made = replace(made, skin=mark.skin, at=frame.origin, along=frame.normal)
            made = replace(made, span=_span(result.body, part, made))
        yield made


def _span(body: NamedBody, part: PartShot, thread: Threaded) -> tuple[float, float]:
    """How far the helical faces of a modelled thread reach along its axis, mm, by their boxes."""
    from ...kernel.measure.boxes import box

    own = [k for k, name in enumerate(part.references, 1) if thread.has(name)]
    corners = np.array([c for k in own for c in itertools.product(*zip(*box(body.face(k)), strict=True))])
    along = (corners - thread.at) @ np.array(thread.along) if own else np.zeros(1)
    return float(along.min()), float(along.max())


def _from_solids(path: Path, where: str, stamp: str) -> Iterator[Shot]:
    from ...kernel.files.reading import ReadBody, read_solids
    from ...kernel.ground.named import unplaced

    found = read_solids(read_whole(path, MAX_FILE), path.name, "f")
    # A file that has a part many times over has its shape once, and the places where it stands.
    distinct: list[list[ReadBody]] = []
    for one in found:
        same = next((group for group in distinct if group[0].body.shape.IsPartner(one.body.shape)), None)
        if same is None:
            distinct.append([one])
        else:
            same.append(one)
    for number, group in enumerate(distinct, 1):
        first, several = group[0], f"#{number}" if len(distinct) > 1 else ""
        made = _shot(unplaced(first.body), where + several, stamp)
        title = first.name or (f"{path.stem} {number}" if several else path.stem)
        poses = tuple(_pose(one.body) for one in group)
        yield Shot(replace(made.part, title=title, color=first.color), made.solid, poses)


def _from_assembly(path: Path, where: str, stamp: str, store: Store) -> Shot:
    """An assembly as one piece. Its figures are those of its parts; what has no density is not weighed."""
    from ...kernel.ground.named import NamedBody
    from ...kernel.ground.topology import compound_of, faces

    found = inside(path, where, stamp, store)
    whole = compound_of(found.solids)
    made = _shot(NamedBody(whole, [(face, f"f{k}") for k, face in enumerate(faces(whole))]), where, stamp)
    kept = {f: getattr(made.part, f) for f in ("shape", "surfaces", "box")}
    return Shot(replace(found.part, references=found.names, **kept), made.solid)


def _pose(body: NamedBody) -> Pose:
    """Where a file has a body standing."""
    from ...kernel.ground.placing import placed_at

    turn, place = placed_at(body.shape)
    return pose_of(np.array(turn), place)


def _shot(body: NamedBody, where: str, stamp: str) -> Shot:
    from ...kernel.ground.picture import mesh, to_bytes
    from ...kernel.measure.boxes import close_box
    from ...kernel.measure.surfaces import inertia, mass_properties, measure_faces

    mesh(body.shape)
    solid = to_bytes(body.shape)
    figures = mass_properties(body)
    part = PartShot(
        id="", path=where, stamp=stamp, shape=name_of(solid), surfaces=measure_faces(body),
        references=tuple(body.name_of(i) for i in range(1, body.face_count + 1)),
        volume=figures.volume, center=figures.center, inertia=inertia(body.shape), box=close_box(body.shape),
    )  # fmt: skip
    return Shot(part, solid)
