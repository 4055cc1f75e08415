"""The window's dealings with files: opening, saving, writing, closing."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Literal

from PyQt6.QtWidgets import QFileDialog, QMainWindow

from ..core.issue.formats import FORMATS
from ..core.job import edits
from ..core.job.changes import Change
from ..core.job.differences import of_jobs
from ..core.job.earlier import Earlier, when
from ..core.job.files import CannotBeRead, CannotWrite, read_whole
from ..core.job.recent import recent
from ..core.kernel.files.kinds import PATTERN
from .ask import ask
from .recent import RecentJobs
from .session import OpenJob, Session

#: A solid from another program larger than this is not taken into a job, bytes.
MAX_FILE = 128 * 1024 * 1024
FILTER = "Lathed Solid jobs and assemblies (*.lathed)"
#: How a job is left: saved, kept for recovery, or its changes let go.
Leave = Literal["saved", "keep", "let go"]
keep_both, take_theirs, save_over = "Keep both", "Take theirs", "Save over it"
save, keep, let_go = "Save", "Close, keep for recovery", "Close, let the changes go"


def beside(path: Path) -> Path:
    """A free name beside a file's."""
    number = 2
    while (free := path.with_name(f"{path.stem}-{number}{path.suffix}")).exists():
        number += 1
    return free


class FileWindow(QMainWindow):
    """A window over a session that knows how to keep its jobs."""

    session: Session

    def open_job(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a job or an assembly", str(Path.cwd()), FILTER)
        if name:
            self.open_file(Path(name))

    def open_recent(self) -> None:
        """Choose among the jobs and assemblies worked on last."""
        paths = [Path(p) for p in recent(self.session.state).worked]
        shown = RecentJobs(paths, self)
        chosen = shown.chosen if shown.exec() else None
        shown.deleteLater()
        if chosen is not None:
            self.open_file(chosen)

    def open_file(self, path: Path) -> bool:
        """Open a file."""
        return self.session.open(path)

    def save_job(self) -> bool:
        current = self.session.current
        if current.path is None:
            return self.save_job_as()
        return self._meet_theirs(current.path) if current.is_changed_on_disk else self.session.save()

    def _meet_theirs(self, path: Path) -> bool:
        """The file was changed by someone else meanwhile: keep both, take theirs, or save over it."""
        theirs = self.session.theirs()
        if theirs is None:
            return False
        answer = self.ask_of_theirs(path, of_jobs(theirs, self.session.current.history.state))
        if answer == keep_both:
            return self.session.save(beside(path))
        if answer == take_theirs:
            self.session.take_job(theirs, "the file's state taken")
            self.session.follow_disk(theirs)
            return True
        return self.session.save() if answer == save_over else False

    def ask_of_theirs(self, path: Path, changes: Sequence[Change]) -> str:
        """What to do about a file that someone else has written meanwhile: the answer, in its words."""
        words = [c.words for c in changes]
        shown = [*words[:8], *([f"and {len(words) - 8} more"] if len(words) > 8 else [])] or ["It says the same."]
        last = f"Keep both saves yours as {beside(path).name}. Saved over, theirs is an earlier save."
        return ask(
            self,
            "Changed on disk",
            f"{path.name} was changed on disk since it was opened. From theirs to yours:",
            "\n".join([*shown, "", last]),
            {keep_both: "accept", take_theirs: "destroy", save_over: "destroy", "Go back": "back"},
            words if len(words) > 8 else (),
        )

    def open_earlier(self) -> None:
        """Choose among the earlier saves of the job."""
        chosen = self.ask_earlier("job", self.session.earlier(), "It is opened beside the present one")
        if chosen is not None:
            self.session.open_earlier(chosen)

    def ask_earlier(self, what: str, saves: Sequence[Earlier], where: str) -> Earlier | None:
        """One of the earlier saves; None when there is none, or none is wanted."""
        named = {when(e): e for e in saves}
        if not named:
            self.session.say(f"There is no earlier save of this {what}: one is kept whenever it is saved again.")
            return None
        answer = ask(
            self,
            "Earlier saves",
            f"How the {what} was before it was saved again.",
            f"{where}; no file is changed.",
            {**dict.fromkeys(named, "accept"), "Go back": "back"},
        )
        return named.get(answer)

    def save_job_as(self) -> bool:
        current = self.session.current
        proposed = current.path or Path.cwd() / f"{(current.content.header.number or 'part').lower()}.lathed"
        name, _ = QFileDialog.getSaveFileName(self, "Save the job", str(proposed), FILTER)
        if not name:
            return False
        path = Path(name)
        return self.session.save(path if path.suffix else path.with_suffix(".lathed"))

    def export(self, form: str) -> None:
        """Write the part in a format, by its id."""
        header, kind = self.session.content.header, FORMATS[form]
        stem = (header.number or header.name or "part").replace(" ", "-").lower()
        proposed = str(Path.cwd() / f"{stem}{kind.endings[0]}")
        name, _ = QFileDialog.getSaveFileName(self, f"Write {kind.title}", proposed)
        if name:
            self.session.export(Path(name), form)

    def close_current(self) -> None:
        if leave := self._leave([self.session.current]):
            self.session.close_job(self.session.jobs.index(self.session.current), keep=leave == "keep")

    def _leave(self, jobs: list[OpenJob]) -> Leave | None:
        """How to leave jobs with unsaved changes; None to stay."""
        unsaved = [j for j in jobs if not j.history.is_saved]
        if not unsaved:
            return "saved"
        answer = ask(
            self,
            "Not saved",
            f"{', '.join(j.title for j in unsaved)} has changes that are not saved.",
            "What is kept for recovery is offered at the next start. What is let go is gone.",
            {save: "accept", keep: "destroy", let_go: "destroy", "Go back": "back"},
        )
        if answer == save:
            for job in unsaved:
                self.session.switch(self.session.jobs.index(job))
                if not self.save_job():
                    return None
            return "saved"
        if answer == let_go:
            for job in unsaved:
                job.journal.close()
            return "let go"
        if answer != keep:
            return None
        for job in unsaved:
            job.record()
            if not job.journal.holds(job.history.state):
                words = job.journal.trouble or "Autosave is not working. Save the job by hand."
                self.session.say(f"{job.title} cannot be kept. {words}", "bad")
                return None
        return "keep"

    def choose_file(self, step: str) -> None:
        """A STEP, BREP or STL file for a step, kept in the job."""
        name, _ = QFileDialog.getOpenFileName(self, "Body from a file", "", f"Solids ({PATTERN})")
        if name:
            self.take_file(step, Path(name))

    def take_file(self, step: str, path: Path) -> None:
        try:
            blob = self.session.store.put(read_whole(path, MAX_FILE))
        except (CannotBeRead, CannotWrite) as error:
            self.session.refuse(error)
            return
        self.session.edit(lambda c: edits.change_step(c, step, attachment=blob, file=path.name), f"file {path.name}")
