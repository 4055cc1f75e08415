"""Files dropped onto the window: each goes where it belongs."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QMimeData

from ..core.kernel.files.kinds import ENDINGS

_JOBS = (".lathed",)
_DRAWINGS = (".pdf", ".dxf", ".png", ".jpg", ".jpeg", ".tif", ".tiff")


class Dropped(NamedTuple):
    """Files by where they belong, and those that belong nowhere."""

    jobs: tuple[Path, ...] = ()
    drawings: tuple[Path, ...] = ()
    solids: tuple[Path, ...] = ()
    others: tuple[Path, ...] = ()


def files_of(data: QMimeData | None) -> list[Path]:
    """The files that are dragged; none when it is something else, or lies elsewhere than on this machine."""
    if data is None or not data.hasUrls():
        return []
    return [Path(u.toLocalFile()) for u in data.urls() if u.isLocalFile()]


def sorted_out(paths: Iterable[Path]) -> Dropped:
    """Told apart by their endings; what is in them is looked at when they are opened."""

    def those(paths: Sequence[Path], endings: Sequence[str]) -> tuple[Path, ...]:
        return tuple(p for p in paths if p.suffix.lower() in endings)

    all_ = list(paths)
    jobs, drawings, solids = those(all_, _JOBS), those(all_, _DRAWINGS), those(all_, ENDINGS)
    known = {*jobs, *drawings, *solids}
    return Dropped(jobs, drawings, solids, tuple(p for p in all_ if p not in known))
