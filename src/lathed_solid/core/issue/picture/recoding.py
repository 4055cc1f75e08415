"""A picture that was made, in the form another ending asks for."""

from __future__ import annotations

import io
from pathlib import Path

from PIL import Image

from ...job.files import CannotWrite

#: Endings of pictures and how each is written.
FORMS = {".png": "PNG", ".jpg": "JPEG", ".jpeg": "JPEG", ".webp": "WEBP"}


def recoded(picture: bytes, path: Path) -> bytes:
    """PNG as the ending of ``path`` has it. Raises CannotWrite for one that is no picture’s."""
    ending = path.suffix.lower()
    if ending not in FORMS:
        raise CannotWrite(f"{path.name}: a picture ends in {', '.join(FORMS)}.")
    if ending == ".png":
        return picture
    with Image.open(io.BytesIO(picture)) as read:
        return coded(read, ending)


def coded(picture: Image.Image, ending: str) -> bytes:
    """A picture as an ending has it; JPEG has no clear ground and takes it as white. Raises CannotWrite."""
    if ending not in FORMS:
        raise CannotWrite(f"A picture ends in {', '.join(FORMS)}; {ending or 'no ending'} was asked for.")
    if ending in (".jpg", ".jpeg") and picture.mode == "RGBA":
        white = Image.new("RGBA", picture.size, (255, 255, 255, 255))
        white.alpha_composite(picture)
        picture = white.convert("RGB")
    out = io.BytesIO()
    picture.save(out, FORMS[ending], quality=92)
    return out.getvalue()
