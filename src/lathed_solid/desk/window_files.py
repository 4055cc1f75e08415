"""The window's dealings with files: opening, saving, writing, closing."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from PyQt6.QtWidgets import QFileDialog, QMainWindow

from ..core.issue.formats import FORMATS
from ..core.job import edits
from ..core.job.differences import of_jobs
from ..core.job.earlier import when
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


def _beside(path: Path) -> Path:
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
        words = [c.words for c in of_jobs(theirs, self.session.current.history.state)]
        shown = [*words[:8], *([f"and {len(words) - 8} more"] if len(words) > 8 else [])] or ["It says the same."]
        other = _beside(path)
        more = "\n".join([*shown, "", f"Keep both saves yours as {other.name}. Saved over, theirs is an earlier save."])
        answer = ask(
            self,
            "Changed on disk",
            f"{path.name} was changed on disk since it was opened. From theirs to yours:",
            more,
            {keep_both: "accept", take_theirs: "destroy", save_over: "destroy", "Go back": "back"},
            words if len(words) > 8 else (),
        )
        if answer == keep_both:
            return self.session.save(other)
        if answer == take_theirs:
            self.session.take_job(theirs, "the file's state taken")
            self.session.follow_disk(theirs)
            return True
        return self.session.save() if answer == save_over else False

    def open_earlier(self) -> None:
        """Choose among the earlier saves of the job."""
        saves = {when(e): e for e in self.session.earlier()}
        if not saves:
            self.session.say("There is no earlier save of this job: one is kept whenever it is saved again.")
            return
        answer = ask(
            self,
            "Earlier saves",
            "How the job was before it was saved again.",
            "It is opened beside the present one; no file is changed.",
            {**dict.fromkeys(saves, "accept"), "Go back": "back"},
        )
        if answer in saves:
            self.session.open_earlier(saves[answer])

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
        return "keep" if answer == keep else None

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
