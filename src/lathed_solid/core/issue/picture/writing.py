"""Pictures as files: one, or a turn round the part as single pictures or as a moving one."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

from PIL import Image

from ...job.files import CannotWrite, write_atomic
from .lens import all_round, gone_round
from .model import NoPicture, Shot
from .posing import Posed
from .recoding import coded
from .render import Progress, rendered, settled

#: Files of a moving picture: endings and how each is written.
MOVING = {".gif": "GIF", ".webp": "WEBP", ".png": "PNG"}
#: So long a picture of a turn stands still, ms; a turn has so many at least and at most.
_STANDS, _FEWEST, _MOST = 60, 4, 180
Told = Callable[[Progress], object]


def still(posed: Posed, shot: Shot, told: Told, going: Callable[[], object]) -> Image.Image:
    """The whole picture, every pass told on the way. Raises NoPicture."""
    last = None
    for last in rendered(posed.subject, shot, posed.toward, posed.over, going):
        told(last)
    assert last is not None
    return last.picture()


def turned(posed: Posed, shot: Shot, many: int, told: Told, going: Callable[[], object]) -> Iterator[Image.Image]:
    """Once round in ``many`` pictures: the part turns on the spot, light and eye stay. Raises NoPicture."""
    if not _FEWEST <= many <= _MOST:
        raise NoPicture(f"Once round takes {_FEWEST} to {_MOST} pictures; {many} were asked for.")
    swept = all_round(posed.subject.facets.points, posed.over)
    for k in range(many):
        toward = gone_round(posed.toward, posed.over, 2 * math.pi * k / many)
        picture = settled(rendered(posed.subject, shot, toward, posed.over, going, swept))
        told(Progress(k + 1, many, picture.copy, picture.copy))
        yield picture


def write_turn(frames: Iterator[Image.Image], path: Path) -> list[Path]:
    """A moving picture where ``path`` has the ending of one, else a numbered PNG each into the folder ``path``. What
    was written is returned. Raises CannotWrite.
    """
    ending = path.suffix.lower()
    if ending and ending not in MOVING:
        raise CannotWrite(f"{path.name}: a moving picture ends in {', '.join(MOVING)}; a folder has no ending.")
    if ending:
        write_atomic(path, _moving(list(frames), ending))
        return [path]
    try:
        path.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise CannotWrite(f"{path} cannot be made: {error.strerror}.") from error
    written = []
    for number, frame in enumerate(frames, 1):
        written.append(path / f"{path.name}-{number:03d}.png")
        write_atomic(written[-1], coded(frame, ".png"))
    return written


def _moving(frames: Sequence[Image.Image], ending: str) -> bytes:
    out = io.BytesIO()
    first, *rest = frames
    more = {"disposal": 2} if ending == ".gif" else {}
    first.save(out, MOVING[ending], save_all=True, append_images=rest, duration=_STANDS, loop=0, **more)
    return out.getvalue()
