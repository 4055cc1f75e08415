"""The file of an open document: who holds it, and whether it is still as it was read."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from ...core.job.assembling.files import OpenedAssembly
from ...core.job.claim import Claim, Stamp, stamp_of
from ...core.job.damaged import CannotOpen
from ...core.job.storage import Opened
from .talk import Talk

Read = TypeVar("Read", Opened, OpenedAssembly)


class Filed:
    """``claim`` is the lock on the file at ``path``, ``stamp`` the state that file was in when it was last read or
    written.
    """

    def __init__(self, path: Path | None = None) -> None:
        self.path = path
        self.claim: Claim | None = None
        self.stamp: Stamp | None = stamp_of(path) if path is not None else None

    @property
    def is_changed_on_disk(self) -> bool:
        """Whether someone else has written its file since."""
        now = stamp_of(self.path) if self.path is not None else None
        return now is not None and now != self.stamp

    def claim_for(self, target: Path) -> Claim:
        """The lock under which ``target`` may be written: its own, or a new one."""
        return self.claim if self.claim is not None and target == self.path else Claim(target)

    def taken(self, path: Path, claim: Claim) -> None:
        """It was just written to, or read from, ``path`` under a lock."""
        if claim is not self.claim:
            self.let_go()
        self.path, self.claim, self.stamp = path, claim, stamp_of(path)

    def let_go(self) -> None:
        """Its file is anyone's again."""
        if self.claim is not None:
            self.claim.release()
            self.claim = None


def words_of_copy(path: Path, claim: Claim) -> str:
    """What is said of a file that another program holds."""
    held = claim.other.words if claim.other is not None else ""
    return f"{path.name} is open elsewhere ({held}). This is a copy of it: save it under another name."


def words_of_stale(path: Path, claim: Claim) -> str:
    """What is said of a lock whose program is gone; empty when there was none."""
    return f"{path.name} was left locked by {claim.stale.words}; that program is gone." if claim.stale else ""


def words_of_held(path: Path, claim: Claim) -> str:
    """Why a file is not written that another program holds."""
    held = claim.other.words if claim.other is not None else ""
    return f"{path.name} was not saved: it is open elsewhere ({held}). Save under another name."


def read_as_it_lies(path: Path, load: Callable[[Path], Read], talk: Talk) -> Read | None:
    """A file that someone else has written, read; None when it cannot be. What of it is damaged, or why it cannot be
    read, is said.
    """
    try:
        opened = load(path)
    except CannotOpen as error:
        talk.refuse(error)
        return None
    if opened.lost:
        talk.say(f"{path.name} is damaged as it lies there. Lost of it: {'; '.join(opened.lost)}.", "warn")
    return opened
