"""Whatever picture is wanted, of a job or an assembly: made, written where there is a path, and told on the way."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PIL import Image

from ...fit.model import Assembly
from ...job.attachments import Store
from ...job.files import CannotWrite, write_atomic
from ...job.model import Content
from ...route.rebuild import Cache
from .contact import contact_sheet, tiles_of_assembly, tiles_of_job
from .model import Kind, Shot, checked
from .posing import posed_assembly, posed_part
from .recoding import FORMS, coded
from .writing import Told, still, turned, write_turn


def take(
    of: Content | Assembly, kind: Kind, shot: Shot, path: Path | None, many: int, cache: Cache, store: Store,
    told: Told = lambda progress: None, going: Callable[[], object] = lambda: None,
) -> bytes:  # fmt: skip
    """PNG of what was made (of a turn its last picture), which is written as well when a ``path`` is given; ``many``
    pictures make a turn. Raises NoPicture, CannotWrite, or Refusal for a part that is not at hand.
    """
    checked(shot)
    if path is not None and kind != "turn" and path.suffix.lower() not in FORMS:
        raise CannotWrite(f"{path.name}: a picture ends in {', '.join(FORMS)}.")
    if kind == "parts":
        picture = _parts(of, shot, cache, store, told, going)
    else:
        posed = (
            posed_part(of, shot, cache, store, going=going)
            if isinstance(of, Content)
            else posed_assembly(of, shot, store, going)
        )
        if kind == "turn":
            frames = turned(posed, shot, many, told, going)
            if path is None:
                *_, picture = frames
            else:
                written = write_turn(frames, path)
                return written[-1].read_bytes()
        else:
            picture = still(posed, shot, told, going)
    if path is not None:
        write_atomic(path, coded(picture, path.suffix.lower()))
    return coded(picture, ".png")


def _parts(
    of: Content | Assembly, shot: Shot, cache: Cache, store: Store, told: Told, going: Callable[[], object]
) -> Image.Image:
    if isinstance(of, Content):
        tiles = tiles_of_job(of, shot, cache, store)
        title = " ".join(filter(None, (of.header.number, of.header.name)))
    else:
        tiles, title = tiles_of_assembly(of, shot, store), " ".join(filter(None, (of.number, of.title)))
    return contact_sheet(tiles, shot, f"Parts of {title}" if title else "Parts", told, going)
