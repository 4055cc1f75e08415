"""Colour and finish of bodies and single faces, as the job says them."""

from __future__ import annotations

from ..route.model import FileLook
from ..standards.finishes import Color, color_under, finish_in
from .model import BodyLook, Content, FaceLook

#: Of the light that meets a see-through body's surface so much goes on.
LETS_BY = 0.62


def body_color(content: Content, id_: str, file: FileLook) -> Color:
    """The sRGB colour of a body: chosen by hand or by its file, else that of its finish, else of its material."""
    look = content.look(id_, file)
    return look.color or color_under(look.finish, content.material_of(id_).color)


def face_color(look: FaceLook, body: BodyLook, material: Color) -> Color:
    """The sRGB colour of a face that does not look like its ``body``."""
    if look.color is not None or finish_in(look.finish) is None:
        return look.color or body.color or color_under(body.finish, material)
    return color_under(look.finish, material)


def finish_of_face(look: FaceLook, body: BodyLook) -> str:
    """Its own finish as noted, else the body's."""
    return look.finish if finish_in(look.finish) is not None else body.finish
