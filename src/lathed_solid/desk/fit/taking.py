"""Taking parts into the assembly: from files, from the open job, from tables; newer ones, others, the other hand."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from ...core.fit.model import BOUGHT, End, PartShot, Pose
from ...core.job.assembling.paths import stamp_of
from ...core.job.assembling.shots import SOLIDS
from ...core.job.model import Content
from ...core.refusal import Refusal
from ..ask import ask
from .document import FitDocument

_FILES = "Parts and assemblies (*.lathed " + " ".join(f"*{e}" for e in SOLIDS) + ")"


class Taking(QObject):
    """``arrived`` tells that parts have come, and whether the view is to be fitted to them anew."""

    arrived = pyqtSignal(bool)

    def __init__(self, window: QWidget, document: FitDocument) -> None:
        super().__init__(window)
        self._window, self.document, self.session = window, document, document.session
        self._for_hole: End | None = None
        self.session.fitting.taken.connect(self._on_taken)

    @property
    def base(self) -> Path:
        return self.document.path.parent if self.document.path is not None else Path.cwd()

    def ask_files(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self._window, "Put parts in", str(self.base), _FILES)
        if names:
            self.put_files_in([Path(n) for n in names])

    def ask_exchange(self) -> None:
        """Another part in place of the chosen one and all like it."""
        if not self.document.instance:
            return
        was = self.document.assembly.part_of(self.document.instance).called
        name, _ = QFileDialog.getOpenFileName(self._window, f"Exchange {was} for", str(self.base), _FILES)
        if name:
            self.session.fitting.take_parts("exchange", [Path(name)], self.base)

    def take_apart(self) -> None:
        """The chosen sub-assembly into its parts."""
        self.document.take_apart(self.base)

    def mirror(self) -> None:
        """The chosen part's other hand, to stand on the other side of the picked flat."""
        if self.document.instance:
            part = self.document.assembly.part_of(self.document.instance)
            self.session.fitting.take_parts("mirror", (), self.base, mirrored=(part,))

    def put_files_in(self, paths: list[Path]) -> None:
        own = self.document.path
        if own is not None and any(p.resolve() == own.resolve() for p in paths):
            self.session.say("An assembly cannot be put into itself. Pick other files.", "bad")
            return
        self.session.fitting.take_parts("put in", paths, self.base)

    def put_job_in(self) -> None:
        """The job that is open, as it is now."""
        job = self.session.current
        if job.path is not None and job.history.is_saved:
            self.put_files_in([job.path])
            return
        self.session.fitting.take_parts("put in", (), self.base, ((str(job.path or ""), job.content),))

    def put_bought_in(self, content: Content, number: str, hole: End | None) -> None:
        """A part from a table, tied to what is picked for it."""
        self._for_hole = hole
        self.session.fitting.take_parts("bought", (), self.base, ((f"{BOUGHT}{number}", content),))

    def look_for_newer(self) -> None:
        """Parts whose files are not what they were when they were put in, taken anew if the user says so."""
        newer, gone = [], []
        for part in self.document.assembly.parts:
            path = self.base / part.path.partition("#")[0]
            if part.path.startswith(BOUGHT):
                continue
            if not part.path or not path.exists():
                gone.append(part.called)
            elif not part.stamp or _stamp(path) != part.stamp:
                newer.append((part.called, path))
        if gone:
            self.session.say(f"No file is found for {', '.join(gone)}: what was put in stays.", "warn")
        if not newer:
            if not gone:
                self.session.say("All parts are as their files have them.", "good")
            return
        names = ", ".join(name for name, _ in newer)
        answer = ask(
            self._window, "Newer parts", f"Changed since they were put in: {names}.",
            "Relations stay where their faces are still there; what is lost is listed.",
            {"Take them": "accept", "Leave them": "back"},
        )  # fmt: skip
        if answer == "Take them":
            other = [p.path for p in self.document.assembly.parts if p.other_hand]
            files = list(dict.fromkeys(p for _, p in newer))
            self.session.fitting.take_parts("newer", files, self.base, both_hands=other)

    def _on_taken(
        self,
        what_for: str,
        parts: tuple[tuple[PartShot, tuple[Pose, ...]], ...],
        refused: tuple[tuple[str, str], ...],
    ) -> None:
        for name, words in refused:
            self.session.say(f"{name} was not taken: {words}", "bad")
        if not parts:
            return
        if what_for == "newer":
            self.document.renew(tuple(shot for shot, _ in parts))
        elif what_for == "exchange":
            self.document.exchange(parts[0][0])
        elif what_for == "mirror":
            self.document.mirror(parts[0][0])
            self.arrived.emit(False)
        else:
            self.document.insert(parts)
            if what_for == "bought" and self._for_hole is not None:
                self.document.tie_bought(self._for_hole)
            self.arrived.emit(what_for != "bought" or self._for_hole is None)
            self._for_hole = None


def _stamp(path: Path) -> str:
    try:
        return stamp_of(path)
    except Refusal:
        return ""
