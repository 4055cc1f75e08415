"""The states of the assembly worked on: its file, undo and redo, and every state kept on disk."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.fit.model import Assembly
from ...core.job.assembling.files import load_assembly, save_assembly
from ...core.job.assembling.keeping import Keeper, unsaved
from ...core.job.files import CannotWrite
from ...core.job.history import History
from ...core.job.recent import worked_on
from ...core.job.storage import CannotOpen
from ..session import Session


class KeptAssembly(QObject):
    """``changed`` tells another state."""

    changed = pyqtSignal()

    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__()
        self.session, self._folder = session, folder
        self._history: History[Assembly] = History(Assembly())
        self._keeper = Keeper(folder)
        self.path: Path | None = None

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
        self._keeper.keep(self.assembly, str(self.path or ""))
        if self._keeper.trouble:
            self.session.say(self._keeper.trouble, "warn")

    # --- files
    def begin(self) -> None:
        """A new, empty assembly; unsaved work was asked about before."""
        self._start(Assembly(), None)

    def open(self, path: Path) -> bool:
        """Open a file; says what was lost, or why it cannot be opened."""
        try:
            opened = load_assembly(path, self.session.fitting.store)
        except CannotOpen as error:
            self.session.refuse(error)
            return False
        self._start(opened.assembly, path)
        worked_on(self.session.state, path)
        if opened.lost:
            self.session.say(f"{path.name} opened without {'; '.join(opened.lost)}.", "warn")
        return True

    def save(self, path: Path, picture: bytes = b"") -> bool:
        """``picture`` is a small one (PNG) of how it is seen, for the recent jobs."""
        try:
            save_assembly(self.assembly, path, self.session.fitting.store, self._folder.parent / "earlier", picture)
        except CannotWrite as error:
            self.session.refuse(error)
            return False
        self.path = path
        self._history.mark_saved()
        self._keeper.close()
        worked_on(self.session.state, path)
        self.session.say(f"Saved {path.name}.", "good")
        self.changed.emit()
        return True

    def recover(self) -> bool:
        """Take up the work of a program that ended without saving; whether there was any."""
        for work in unsaved(self._folder):
            self._start(work.assembly, Path(work.path) if work.path else None)
            self._history.mark_unsaved()
            self._keeper.keep(work.assembly, work.path)
            if not self._keeper.trouble:
                work.kept.unlink(missing_ok=True)
            self.session.say(f"Recovered unsaved assembly: {self.title}. It stands in Fit. Save it to keep it.", "warn")
            return True
        return False

    def let_go(self) -> None:
        """At the end: work that is saved, or given up, needs no keeping."""
        self._keeper.close()

    def _start(self, assembly: Assembly, path: Path | None) -> None:
        self._keeper.close()
        self._history, self.path = History(assembly), path
        self._begun()
        self._anew()

    def _begun(self) -> None:
        """Another assembly is worked on."""
        raise NotImplementedError

    def _anew(self) -> None:
        """Another state is the present one."""
        raise NotImplementedError
