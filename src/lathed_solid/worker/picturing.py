"""What is asked for rendered pictures, and told of them."""

from __future__ import annotations

import msgspec

from ..core.fit.model import Assembly
from ..core.issue.picture.model import Kind, Shot
from ..core.job.model import Content


class TakePicture(msgspec.Struct, frozen=True, tag="take-picture"):
    """A picture, a turn in ``many`` pictures, or a sheet of all parts, of a job's part or of an ``assembly``; written
    as well where there is a ``path``.
    """

    ticket: int
    kind: Kind
    shot: Shot
    content: Content | None = None
    assembly: Assembly | None = None
    path: str = ""
    many: int = 24
    attachments: str = ""


class PictureSoFar(msgspec.Struct, frozen=True, tag="picture-so-far"):
    """After ``done`` of ``of``: what it looks like (PNG, at most as large as a screen shows it)."""

    ticket: int
    done: int
    of: int
    picture: bytes


class PictureTaken(msgspec.Struct, frozen=True, tag="picture-taken"):
    """The whole picture as PNG."""

    ticket: int
    picture: bytes
