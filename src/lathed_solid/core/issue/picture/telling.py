"""Progress told as small pictures, more seldom the longer it goes on: putting one together takes its time."""

from __future__ import annotations

from collections.abc import Callable

from .recoding import coded
from .render import Progress

#: Pixels across that a screen shows while it waits; passes that are shown are so many times further apart each.
_SEEN, _APART = 800, 1.35


class Teller:
    """Hands on what :func:`taking.take` tells: done, of how many, and PNG of what there is so far (empty where only the
    count has gone on).
    """

    def __init__(self, tell: Callable[[int, int, bytes], object]) -> None:
        self._tell, self._next = tell, 1.0

    def told(self, progress: Progress) -> None:
        if progress.done < self._next or progress.done == progress.of:
            self._tell(progress.done, progress.of, b"")
            return
        self._next = max(progress.done + 1, progress.done * _APART)
        picture = progress.glimpse()
        picture.thumbnail((_SEEN, _SEEN))
        self._tell(progress.done, progress.of, coded(picture, ".png"))
