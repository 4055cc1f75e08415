"""What every face of a job's part looks like: as said of the face, else of its body, else as such faces are made."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ...job.looks import body_color, face_color, finish_of_face
from ...job.model import Content
from ...kernel.draw.cutting import CUT
from ...kernel.ground.figures import Surface, Vector
from ...kernel.ground.named import NamedBody
from ...route.model import FileLook, ThreadMark
from ...standards.finishes import LIGHTEST_METAL, Finish, finish, finish_in
from ...standards.threads import reach_on
from ...tolerance import PARALLEL
from .subject import Coat, Worm, coat_of, wormed

#: Faces laid open by a cut, as the part view shows them.
_OPEN = Coat((0.914, 0.784, 0.576), Finish("cut", metal=0.0, along=0.3, across=0.3))
AXIS: tuple[Vector, Vector] = ((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))


def as_made(surface: Surface, metal: bool, turned: bool) -> Finish:
    """What such a face looks like fresh from the machine: round ones and the ends of turned parts turned, others
    milled.
    """
    if not metal:
        return finish("moulded")
    end = turned and surface.kind == "plane" and abs(surface.axis[2]) > 1 - PARALLEL
    return finish("turned" if end or surface.kind in ("cylinder", "cone", "torus", "sphere") else "milled")


def coats_of(
    content: Content, id_: str, file: FileLook, body: NamedBody, surfaces: Sequence[Surface],
    marks: Sequence[ThreadMark],
) -> list[Coat]:  # fmt: skip
    """A coat a face, in their order."""
    own, material = content.look(id_, file), content.material_of(id_)
    metal, whole = material.density > LIGHTEST_METAL, finish_in(own.finish)
    color = body_color(content, id_, file)
    special = {i: look for look in content.faces for i in body.find_any(look.face.name)}
    worms = _worms(body, surfaces, marks)
    found = []
    for index, surface in enumerate(surfaces, 1):
        if (laid_open := open_coat(body, index)) is not None:
            found.append(laid_open)
            continue
        said, paint = whole, color
        if (look := special.get(index)) is not None:
            said, paint = finish_in(finish_of_face(look, own)), face_color(look, own, material.color)
        finish_ = said or as_made(surface, metal, content.turned)
        coat = coat_of(surface, paint, finish_, AXIS if content.turned else None)
        found.append(wormed(coat, surface, worms.get(index))._replace(see_through=own.see_through))
    return found


def open_coat(body: NamedBody, index: int) -> Coat | None:
    """How a face looks that a cut has laid open; None for any other."""
    return _OPEN if any(n.startswith(f"{CUT}/") for n in body.names.get(index, ())) else None


def _worms(body: NamedBody, surfaces: Sequence[Surface], marks: Sequence[ThreadMark]) -> Mapping[int, Worm]:
    """Threads that are told and not modelled, by the round face that carries each."""
    found = {}
    for mark in marks:
        for index in () if mark.modelled else body.find_any(mark.face):
            surface = surfaces[index - 1]
            if surface.kind == "cylinder":
                found[index] = Worm(mark.thread, *reach_on(surface.span, mark.length, mark.from_high))
    return found
