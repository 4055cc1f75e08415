"""How bodies and single faces are drawn: colour, and how sharply their finish takes the light."""

from __future__ import annotations

from typing import NamedTuple

from OCP.Graphic3d import Graphic3d_MaterialAspect, Graphic3d_NameOfMaterial
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor

from ...core.job.looks import body_color, face_color, finish_of_face
from ...core.job.model import Content, FaceLook
from ...core.kernel.ground.named import NamedBody
from ...core.standards.finishes import Color, Finish, finish_in
from ...worker.protocol import BodyFigures, BuiltPart

#: A spread of reflection (radians) that shows no highlight any more.
_DULL = 0.5


class Coat(NamedTuple):
    """How one body or face is drawn; ``finish`` None for one of which none is noted."""

    color: Color
    shown: bool = True
    see_through: bool = False
    finish: Finish | None = None


class Coats(NamedTuple):
    """Of the bodies in their order, and of single faces by index (from 1); ``lost`` are the words of faces that are not
    on the part any more.
    """

    bodies: tuple[Coat, ...]
    faces: dict[int, Coat]
    lost: tuple[str, ...] = ()


PLAIN = Coats((Coat((0.66, 0.68, 0.71)),), {})


def coats_of(content: Content, built: BuiltPart, body: NamedBody) -> Coats:
    """How a built part is drawn, as the job says it; ``body`` is all of it, in which faces are found."""
    bodies, faces, lost = list[Coat](), dict[int, Coat](), list[str]()
    for figures in built.bodies:
        look = figures.look(content)
        color = body_color(content, figures.id, figures.file)
        bodies.append(Coat(color, look.shown, look.see_through, finish_in(look.finish)))
    for said in content.faces:
        found = body.find_any(said.face.name)
        if not found:
            lost.append(said.face.was or said.face.name)
        for index in found:
            owner = next((f for f in built.bodies if f.first <= index <= f.last), None)
            if owner is not None:
                faces[index] = _of_face(content, said, owner)
    return Coats(tuple(bodies) or (Coat(content.header.material.color),), faces, tuple(lost))


def _of_face(content: Content, said: FaceLook, owner: BodyFigures) -> Coat:
    look = owner.look(content)
    color = face_color(said, look, content.material_of(owner.id).color)
    return Coat(color, look.shown, look.see_through, finish_in(finish_of_face(said, look)))


def aspect(finish: Finish | None) -> Graphic3d_MaterialAspect:
    """A finish as the part view can show it: by its highlight; one that is not noted shines a little."""
    made = Graphic3d_MaterialAspect(Graphic3d_NameOfMaterial.Graphic3d_NameOfMaterial_Plastified)
    if finish is None:
        return made
    sharp = max(0.0, 1.0 - (finish.along + finish.across) / 2 / _DULL)
    made.SetShininess(0.04 + 0.9 * sharp * sharp)
    strength = 0.05 + 0.75 * sharp * (0.6 + 0.4 * finish.metal)
    made.SetSpecularColor(Quantity_Color(strength, strength, strength, Quantity_TypeOfColor.Quantity_TOC_RGB))
    return made
