"""The window's dealings with the assembly: Fit's room, and what acts on the assembly there and on the job elsewhere."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal

from ..core.job.assembling.differences import differences
from ..core.job.assembling.files import is_assembly
from .ask import ask
from .pages import Pages
from .theme.palette import Palette
from .window_files import FileWindow, beside, keep, keep_both, let_go, save, save_over, take_theirs

if TYPE_CHECKING:
    from .fit.room import FitRoom
    from .section import Section
    from .viewport.partview import PartView


class FitWindow(FileWindow):
    """``body_stack`` holds the part's rooms and Fit's, which is made when it is first entered."""

    #: The Fit stage's room is there.
    fitted = pyqtSignal()
    palette_: Palette

    def __init__(self) -> None:
        super().__init__()
        self.stage = ""
        self.body_stack = Pages()
        self._fit: FitRoom | None = None
        #: An assembly that is opened when Fit is first entered.
        self.assembly_waiting: Path | None = None

    def show_stage(self, name: str) -> None:
        raise NotImplementedError

    def take_picture(self) -> None:
        raise NotImplementedError

    @property
    def part(self) -> PartView:
        raise NotImplementedError

    @property
    def section(self) -> Section:
        raise NotImplementedError

    @property
    def fit(self) -> FitRoom:
        """The Fit stage's room."""
        if self._fit is None:
            from .fit.room import FitRoom

            self._fit = FitRoom(self.session, self.palette_, self.session.folder)
            self._fit.bill.pictured.connect(self.take_picture)
            self.body_stack.addWidget(self._fit)
            self.fitted.emit()
            if self.assembly_waiting is not None:
                self._fit.open(self.assembly_waiting)
        return self._fit

    @property
    def is_fitted(self) -> bool:
        """Whether that room has been entered."""
        return self._fit is not None

    # --- looking
    def look_from(self, key: str) -> None:
        if self.stage == "Fit":
            self.fit.view.look_from(key)
        else:
            self.part.look_from(key)

    def fit_view(self) -> None:
        """All of what is shown, in the view."""
        if self.stage == "Fit" and (board := self.fit.board) is not None:
            board.canvas.fit()
        elif self.stage == "Fit":
            self.fit.view.fit()
        else:
            self.part.fit()

    def cut_open(self) -> None:
        """Cut the picture open, or make it whole again."""
        if self.stage == "Fit":
            self.fit.cut()
        else:
            self.section.toggle()

    # --- what is worked on: the assembly in Fit, else the job
    def undo(self) -> None:
        (self.fit.document if self.stage == "Fit" else self.session).undo()

    def redo(self) -> None:
        (self.fit.document if self.stage == "Fit" else self.session).redo()

    @property
    def undo_words(self) -> str:
        return self.fit.document.undo_words if self.stage == "Fit" else self.session.current.history.undo_words

    @property
    def redo_words(self) -> str:
        return self.fit.document.redo_words if self.stage == "Fit" else self.session.current.history.redo_words

    def save_here(self) -> bool:
        return self.save_assembly() if self.stage == "Fit" else self.save_job()

    def save_here_as(self) -> bool:
        return self.fit.save_as() if self.stage == "Fit" else self.save_job_as()

    def export(self, form: str) -> None:
        if self.stage == "Fit" and form == "step":
            self.fit.write_step()
        else:
            super().export(form)

    def new_assembly(self) -> None:
        """An empty assembly; what is not saved is asked about first."""
        if self.leave_assembly():
            self.show_stage("Fit")
            self.fit.document.begin()

    def open_file(self, path: Path) -> bool:
        """A job, or an assembly, which opens in Fit."""
        if not is_assembly(path):
            return self.session.open(path)
        if not self.leave_assembly():
            return False
        self.show_stage("Fit")
        return self.fit.open(path)

    def leave_assembly(self) -> bool:
        """Whether the present assembly may be left: it is saved, or its changes are let go."""
        if self._fit is None or self._fit.document.is_saved:
            return True
        answer = ask(
            self,
            "Not saved",
            f"{self._fit.document.title} has changes that are not saved.",
            "What is kept for recovery is offered at the next start. What is let go is gone.",
            {save: "accept", keep: "destroy", let_go: "destroy", "Go back": "back"},
        )
        if answer == keep:
            return self._fit.document.leave()
        return self.save_assembly() if answer == save else answer == let_go

    def save_assembly(self) -> bool:
        """Save it; a file that someone else has written meanwhile is asked about."""
        document = self.fit.document
        if document.path is None or not document.is_changed_on_disk:
            return self.fit.save()
        if (theirs := document.theirs()) is None:
            return False
        answer = self.ask_of_theirs(document.path, differences(theirs, document.assembly))
        if answer == take_theirs:
            document.take_theirs(theirs)
            return True
        if answer == keep_both:
            return self.fit.save(beside(document.path))
        return self.fit.save() if answer == save_over else False

    def open_earlier(self) -> None:
        """Choose among the earlier saves of what is worked on."""
        if self.stage != "Fit":
            super().open_earlier()
            return
        found = self.ask_earlier("assembly", self.fit.document.earlier(), "It takes the place of the present one")
        if found is not None and self.leave_assembly():
            self.fit.document.open_earlier(found)
