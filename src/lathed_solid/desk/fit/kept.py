"""The states of the assembly worked on: its file, undo and redo, and every state kept on disk."""

from __future__ import annotations

import time
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.fit.model import Assembly
from ...core.job.assembling.files import load_assembly, save_assembly
from ...core.job.assembling.keeping import Keeper, unreadable, unsaved
from ...core.job.claim import Claim
from ...core.job.damaged import CannotOpen
from ...core.job.earlier import Earlier, earlier_saves, when
from ...core.job.files import CannotWrite, sweep
from ...core.job.history import History
from ...core.job.recent import worked_on
from ..session import Session
from ..session.filed import Filed, read_as_it_lies, words_of_copy, words_of_held, words_of_stale


class KeptAssembly(QObject):
    """``changed`` tells another state."""

    changed = pyqtSignal()

    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__()
        self.session, self._folder = session, folder
        self._history: History[Assembly] = History(Assembly())
        self._keeper = Keeper(folder)
        self._file = Filed()

    @property
    def path(self) -> Path | None:
        return self._file.path

    @property
    def is_changed_on_disk(self) -> bool:
        """Whether someone else has written its file since it was opened or saved."""
        return self._file.is_changed_on_disk

    @property
    def assembly(self) -> Assembly:
        return self._history.state

    @property
    def history(self) -> History[Assembly]:
        """The states of this assembly; another one has its own."""
        return self._history

    @property
    def is_saved(self) -> bool:
        return self._history.is_saved

    @property
    def undo_words(self) -> str:
        return self._history.undo_words

    @property
    def redo_words(self) -> str:
        return self._history.redo_words

    @property
    def title(self) -> str:
        named = self.assembly.number or self.assembly.title
        return named or (self.path.stem if self.path is not None else "New assembly")

    def undo(self) -> None:
        if self._history.undo():
            self._anew()
            self._keep()

    def redo(self) -> None:
        if self._history.redo():
            self._anew()
            self._keep()

    def _keep(self) -> None:
        self._keeper.keep(self.assembly, str(self.path or ""), self._file.stamp)
        if self._keeper.trouble:
            self.session.say(self._keeper.trouble, "warn")

    # --- files
    def begin(self) -> None:
        """A new, empty assembly; unsaved work was asked about before."""
        self._start(Assembly())

    def open(self, path: Path) -> bool:
        """Open a file; says what was lost, who else holds it, or why it cannot be opened."""
        claim = self._file.claim_for(path)
        try:
            opened = load_assembly(path, self.session.fitting.store)
        except CannotOpen as error:
            self._release(claim)
            self.session.refuse(error)
            return False
        if claim.other is not None:
            self._start(opened.assembly)
            self.session.say(words_of_copy(path, claim), "warn")
        else:
            self._start(opened.assembly, path, claim)
            worked_on(self.session.state, path)
            if words := words_of_stale(path, claim):
                self.session.say(words)
        if opened.lost:
            self._history.mark_unsaved()
            self.session.say(f"{path.name} opened without {'; '.join(opened.lost)}. Save it under a new name.", "warn")
        return True

    def save(self, path: Path, picture: bytes = b"") -> bool:
        """``picture`` is a small one (PNG) of how it is seen, for the recent jobs. A file held by another program is
        not touched.
        """
        claim = self._file.claim_for(path)
        if claim.other is not None:
            self.session.say(words_of_held(path, claim), "bad")
            return False
        try:
            save_assembly(self.assembly, path, self.session.fitting.store, self.session.earlier_folder, picture)
        except CannotWrite as error:
            self._release(claim)
            self.session.refuse(error)
            return False
        self._file.taken(path, claim)
        sweep(path.parent, time.time(), path.name)
        self._history.mark_saved()
        self._keeper.close()
        worked_on(self.session.state, path)
        self.session.say(f"Saved {path.name}.", "good")
        self.changed.emit()
        return True

    def _release(self, claim: Claim) -> None:
        """A file that was not read or written after all is anyone's; its own stays its own."""
        if claim is not self._file.claim:
            claim.release()

    def theirs(self) -> Assembly | None:
        """What is in its file just now; None when it cannot be read."""
        path, talk = self.path, self.session.talk
        if path is None:
            return None
        opened = read_as_it_lies(path, lambda p: load_assembly(p, self.session.fitting.store), talk)
        return opened.assembly if opened is not None else None

    def take_theirs(self, theirs: Assembly) -> None:
        """The state on disk is the one worked on; undo has its own again."""
        claim, path = self._file.claim, self.path
        self._history.do(theirs, "the file's state taken")
        self._anew()
        if path is not None and claim is not None:
            self._file.taken(path, claim)
        self._history.mark_saved()
        self._keeper.close()
        self.changed.emit()

    def earlier(self) -> list[Earlier]:
        """Earlier saves of it, the newest first."""
        return earlier_saves(self.path, self.session.earlier_folder) if self.path is not None else []

    def open_earlier(self, saved: Earlier) -> bool:
        """Take up an earlier save, as an assembly without a file."""
        try:
            opened = load_assembly(saved.path, self.session.fitting.store)
        except CannotOpen as error:
            self.session.refuse(error)
            return False
        self._start(opened.assembly)
        self._history.mark_unsaved()
        self.session.say(f"This is how it was saved on {when(saved)}. Save it under another name to keep it.")
        return True

    def recover(self) -> bool:
        """Take up the work of a program that ended without saving; whether there was any."""
        for left in unreadable(self._folder):
            self.session.say(f"Unsaved work in {left} cannot be read. It was left as it is.", "warn")
        found = list(unsaved(self._folder))
        if not found:
            return False
        work = found[0]
        path = Path(work.path) if work.path else None
        claim = Claim(path) if path is not None and path.parent.is_dir() else None
        held = claim is not None and claim.other is not None
        self._start(work.assembly, None if held else path, None if held else claim)
        self._file.stamp = work.stamp or self._file.stamp  # so that a file written meanwhile is met when it is saved
        self._history.mark_unsaved()
        self._keep()
        if self._keeper.holds(work.assembly):
            work.kept.unlink(missing_ok=True)
        more = f" {len(found) - 1} more will be offered at the next start." if len(found) > 1 else ""
        words = f"Recovered unsaved assembly: {self.title}. It stands in Fit. Save it to keep it.{more}"
        self.session.say(words, "warn")
        return True

    def leave(self) -> bool:
        """Let go of it, its unsaved work to be offered at the next start; False when that cannot be kept, which is told
        then.
        """
        self._keep()
        if not self._keeper.holds(self.assembly):
            return False
        self._keeper.leave()
        return True

    def let_go(self) -> None:
        """At the end: work that is saved, or given up, needs no keeping, and its file is anyone's."""
        self._keeper.close()
        self._file.let_go()

    def _start(self, assembly: Assembly, path: Path | None = None, claim: Claim | None = None) -> None:
        self._keeper.close()
        self._history = History(assembly)
        if path is None or claim is None or claim is not self._file.claim:
            self._file.let_go()
            self._file = Filed(path)
        if path is not None and claim is not None:
            self._file.taken(path, claim)
        self._begun()
        self._anew()

    def _begun(self) -> None:
        """Another assembly is worked on."""
        raise NotImplementedError

    def _anew(self) -> None:
        """Another state is the present one."""
        raise NotImplementedError
