"""Attachments: drawings and cut-outs, kept beside the job by what they contain.

The job names an attachment by its hash; the bytes lie in a folder until the job is saved, when they go into its file.
So the job stays small, every autosave stays quick, and after a crash the drawings are still there.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterator
from pathlib import Path

from ..refusal import Refusal
from ..route.steps.foreign import Foreign
from .files import CannotWrite, private_folder, write_atomic
from .model import Content, Job

NAME = re.compile(r"[0-9a-f]{32}\.(pdf|png|jpg|tif|dxf|step|brep)")
#: All attachments of one job file together, unpacked, bytes.
MAX_ALL = 256 * 1024 * 1024
_ENDINGS = ((b"%PDF", "pdf"), (b"\x89PNG", "png"), (b"\xff\xd8\xff", "jpg"), (b"II*\x00", "tif"), (b"MM\x00*", "tif"),
            (b"ISO-10303-21", "step"), (b"DBRep_DrawableShape", "brep"), (b"CASCADE Topology", "brep"),
            (b"Open CASCADE Topology", "brep"))  # fmt: skip


class NoAttachment(Refusal):
    """A drawing or cut-out that is not here."""


class Store:
    """A folder of attachments, each known by what it contains: a damaged one is as good as none."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def put(self, data: bytes) -> str:
        """Keep ``data``; its name is returned. Raises CannotWrite."""
        name = name_of(data)
        if self.find(name) is None:  # a damaged one is put right by the sound bytes
            try:
                private_folder(self.folder)
            except OSError as error:
                raise CannotWrite(f"{self.folder} cannot be made: {error.strerror}.") from error
            write_atomic(self.folder / name, data, private=True)
        return name

    def find(self, name: str) -> bytes | None:
        """The bytes called ``name``; None when they are not here."""
        try:
            return self.get(name)
        except NoAttachment:
            return None

    def get(self, name: str) -> bytes:
        """The bytes called ``name``. Raises NoAttachment when they are not here."""
        if not NAME.fullmatch(name):
            raise NoAttachment(f"“{name}” is no attachment.")
        try:
            data = (self.folder / name).read_bytes()
        except OSError:
            raise NoAttachment("This drawing is no longer there. Open it again from its file.") from None
        if name_of(data) != name:
            raise NoAttachment("This drawing has been damaged on disk. Open it again from its file.")
        return data


def name_of(data: bytes) -> str:
    """Hash and ending of an attachment."""
    head = data[:64].lstrip()
    ending = next((e for start, e in _ENDINGS if head.startswith(start)), "dxf")
    return f"{hashlib.sha256(data).hexdigest()[:32]}.{ending}"


def named_in(job: Job) -> tuple[str, ...]:
    """Every attachment the job and its revisions refer to, each once."""
    contents = [job.content, *(r.content for r in job.revisions)]
    return tuple(dict.fromkeys(n for c in contents for n in _of(c) if NAME.fullmatch(n)))


def _of(content: Content) -> Iterator[str]:
    for drawing in content.drawings:
        yield drawing.blob
        if drawing.original:
            yield drawing.original
    for callout in content.callouts:
        if callout.place is not None and callout.place.cutout:
            yield callout.place.cutout
    for route in content.routes:
        for step in route.steps:
            if isinstance(step, Foreign):
                yield step.attachment
