"""The window's dealings with files: opening, saving, writing, closing."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from PyQt6.QtWidgets import QFileDialog, QMainWindow

from ..core.issue.formats import FORMATS
from ..core.job import edits
from ..core.job.files import CannotWrite
from .ask import ask
from .session import OpenJob, Session

FILTER = "Lathed Solid jobs (*.lathed)"
#: How a job is left: saved, kept for recovery, or its changes let go.
Leave = Literal["saved", "keep", "let go"]
save, keep, let_go = "Save", "Close, keep for recovery", "Close, let the changes go"


class FileWindow(QMainWindow):
    """A window over a session that knows how to keep its jobs."""

    session: Session

    def open_job(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a job", str(Path.cwd()), FILTER)
        if name:
            self.session.open(Path(name))

    def save_job(self) -> bool:
        return self.session.save() if self.session.current.path else self.save_job_as()

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
        """A STEP or BREP file for a step, kept in the job."""
        name, _ = QFileDialog.getOpenFileName(self, "Body from a file", "", "Solids (*.step *.stp *.brep *.brp)")
        if name:
            self.take_file(step, Path(name))

    def take_file(self, step: str, path: Path) -> None:
        try:
            blob = self.session.store.put(path.read_bytes())
        except (OSError, CannotWrite) as error:
            self.session.say(f"{path.name} cannot be read: {error}", "bad")
            return
        self.session.edit(lambda c: edits.change_step(c, step, attachment=blob, file=path.name), f"file {path.name}")
