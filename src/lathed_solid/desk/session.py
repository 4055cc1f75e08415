"""The session: the open jobs, the one being worked on, its builds and proofs, and every message to the user."""

from __future__ import annotations

import logging
from collections.abc import Callable
from pathlib import Path
from typing import Literal

import msgspec
from platformdirs import user_state_path
from PyQt6.QtCore import QObject, pyqtSignal

from ..core.job import edits, storage
from ..core.job.attachments import Store
from ..core.job.files import CannotWrite
from ..core.job.history import History
from ..core.job.journal import Journal
from ..core.job.model import Content, Job
from ..core.job.renewing import renewed
from ..core.job.settle import settle
from ..core.kernel.geometry import Frame
from ..core.prove.proof import Proof
from ..core.refusal import Refusal
from ..core.route.rebuild import StepReport
from ..core.route.registry import Step
from ..worker.client import Client
from ..worker.protocol import (
    Build,
    BuiltPart,
    Compare,
    Compared,
    Ended,
    Export,
    Exported,
    Failed,
    Fallen,
    Hatch,
    Hatched,
    Proved,
    Reply,
    Started,
)
from .busy import STEP_LIMIT, Busy
from .glimpse import Glimpse

log = logging.getLogger(__name__)
Tone = Literal["plain", "good", "warn", "bad"]


def state_folder() -> Path:
    """Where journals and the log live."""
    return Path(user_state_path("lathed-solid"))


class OpenJob:
    """One job on the desk: its history, its file and what was last built of it."""

    def __init__(self, job: Job, path: Path | None, journal: Journal) -> None:
        self.history = History(job)
        self.path, self.journal = path, journal
        self.built: BuiltPart | None = None
        self.proof: Proof | None = None
        self.reports: dict[str, StepReport] = {}
        self.faulted: dict[str, tuple[Step, str]] = {}
        self.problems: dict[str, str] = {}
        #: What is looked at in place of the job's own state, and which content ``built`` was made of.
        self.glimpse: Glimpse | None = None
        self.built_of: Content | None = None
        #: Which axis is up in the part view; empty for the usual one.
        self.standing = ""

    @property
    def shown(self) -> BuiltPart | None:
        """The part to show: what is being looked at, else the last good one."""
        if self.glimpse is not None and self.glimpse.part is not None and self.glimpse.part.shape:
            return self.glimpse.part
        return self.built

    @property
    def content(self) -> Content:
        return self.history.content

    @property
    def title(self) -> str:
        header = self.content.header
        return header.number or header.name


class Session(QObject):
    """Signals carry no model: listeners read what they show from the session."""

    jobs_changed = pyqtSignal()
    switched = pyqtSignal()
    edited = pyqtSignal()
    selected = pyqtSignal()
    reported = pyqtSignal()
    built = pyqtSignal()
    proved = pyqtSignal()
    hatched = pyqtSignal(object)
    compared = pyqtSignal(tuple)
    message = pyqtSignal(str, str)
    _replied = pyqtSignal(object)

    def __init__(self, journals: Path | None = None) -> None:
        super().__init__()
        self._journals = journals or state_folder() / "journals"
        self.store = Store(self._journals.parent / "attachments")
        self._replied.connect(self._on_reply)
        self.client = Client(self._replied.emit)
        self.jobs: list[OpenJob] = []
        self._blank = OpenJob(Job(), None, Journal(self._journals, "blank"))
        self._current = -1
        self._build_of: dict[int, OpenJob] = {}
        self._sent: dict[int, Content] = {}
        self.until = ""
        self.busy = Busy(self)
        self.busy.overdue.connect(self._overdue)
        self._late = False
        self.callout: int | None = None
        self.step: str = ""

    # --- open jobs
    @property
    def current(self) -> OpenJob:
        """The job being worked on; a blank one, never saved, before any is open."""
        return self.jobs[self._current] if self.jobs else self._blank

    @property
    def content(self) -> Content:
        return self.current.content

    @property
    def part_size(self) -> float | None:
        """The greatest extent of the part as last built, mm; None before there is one."""
        proof = self.current.proof
        return max(b - a for a, b in zip(proof.mass.low, proof.mass.high, strict=True)) if proof is not None else None

    def add(self, job: Job, path: Path | None = None, unsaved: bool = False) -> OpenJob:
        opened = OpenJob(job, path, Journal(self._journals))
        if unsaved:
            opened.history.mark_unsaved()
        self.jobs.append(opened)
        self.switch(len(self.jobs) - 1)
        self.jobs_changed.emit()
        return opened

    def open(self, path: Path) -> bool:
        """Open a file; says what was lost or why it cannot be opened."""
        for index, job in enumerate(self.jobs):
            if job.path == path:
                self.switch(index)
                return True
        try:
            opened = storage.load(path, self.store)
        except storage.CannotOpen as error:
            self.say(str(error), "bad")
            return False
        self.add(opened.job, path, unsaved=bool(opened.lost))
        if opened.lost:
            self.say(f"{path.name} was damaged. Lost: {'; '.join(opened.lost)}. Save it under a new name.", "warn")
        return True

    def switch(self, index: int) -> None:
        self._current = index
        self.until, self.callout, self.step = "", None, ""
        self.switched.emit()
        self.rebuild()

    def close_job(self, index: int, keep: bool = False) -> None:
        """Close a job; with ``keep`` its unsaved work is offered again at the next start."""
        job = self.jobs[index]
        if keep and not job.history.is_saved:
            job.journal.record(job.history.job, str(job.path or ""))
            job.journal.keep()
        else:
            job.journal.close()
        del self.jobs[index]
        self._current = min(self._current, len(self.jobs) - 1)
        if not self.jobs:
            self.add(Job())
        else:
            self.switch(self._current)
        self.jobs_changed.emit()

    def save(self, path: Path | None = None) -> bool:
        target = path or self.current.path
        if target is None:
            return False
        try:
            storage.save(self.current.history.job, target, self.store)
        except CannotWrite as error:
            self.say(str(error), "bad")
            return False
        self.current.path = target
        self.current.history.mark_saved()
        self.current.journal.close()
        self.say(f"Saved {target.name}.", "good")
        self.edited.emit()
        return True

    # --- edits
    def edit(self, change: Callable[[Content], Content], what: str, further: bool = False) -> bool:
        """Carry out an edit, or say why not; a refused edit changes nothing. ``further`` makes it a part of the one
        before: a size just drawn gets its number.
        """
        try:
            content = change(self.content)
        except Refusal as error:
            self.refuse(error)
            return False
        self.take(content, what, further)
        return True

    def take(self, content: Content, what: str, further: bool = False) -> None:
        """Make ``content`` the present state: settle its sketches, journal it, build it."""
        settled = settle(content)
        current = self.current
        job = msgspec.structs.replace(current.history.job, content=settled.content)
        current.problems = dict(settled.problems)
        if current.history.extend(job) if further else current.history.do(job, what):
            self._after_edit()
        for problem in settled.problems.values():
            self.say(problem, "bad")

    def take_route(self, at: int) -> None:
        """Work on another route of the part; nothing is edited by that, so nothing is to be undone."""
        current = self.current
        content = edits.take_route(self.content, at)
        current.history.amend(msgspec.structs.replace(current.history.job, content=content))
        self.step = ""
        self._after_edit()
        self.selected.emit()

    def take_job(self, job: Job, what: str) -> None:
        """Make a whole job the present state (revisions)."""
        if self.current.history.do(job, what):
            self._after_edit()

    def _after_edit(self) -> None:
        current = self.current
        self.rebuild()  # first: the kernel works while the window draws
        current.journal.record(current.history.job, str(current.path or ""))
        if current.journal.trouble:
            self.say(current.journal.trouble, "warn")
        self.edited.emit()

    def undo(self) -> None:
        words = self.current.history.undo_words
        if self.current.history.undo():
            self.say(f"Took back: {words}.")
            self._after_edit()

    def redo(self) -> None:
        words = self.current.history.redo_words
        if self.current.history.redo():
            self.say(f"Did again: {words}.")
            self._after_edit()

    # --- selection
    def select_callout(self, number: int | None) -> None:
        if number != self.callout:
            self.callout = number
            self.selected.emit()

    def select_step(self, id_: str) -> None:
        if id_ != self.step:
            self.step = id_
            self.selected.emit()

    # --- looking
    def preview(self, change: Callable[[Content], Content]) -> None:
        """Show what an edit would make without making it; the job, its history and its proof are left alone."""
        try:
            content = settle(change(self.content)).content
        except Refusal:
            return
        self._glimpse("preview", content, self.until)

    def look_back(self, step: str) -> None:
        """Show the part as it was before ``step``, so that what the step took away can be picked."""
        ids = [s.id for s in self.content.steps]
        at = ids.index(step) if step in ids else 0
        if at:
            self._glimpse("earlier", self.content, ids[at - 1])

    def look_away(self) -> None:
        """Show the job's own state again; costs nothing when it is built already."""
        job = self.current
        if job.glimpse is None:
            return
        job.glimpse = None
        self.built.emit()
        if job.built_of is not job.content:
            self.rebuild()

    def _glimpse(self, kind: Literal["preview", "earlier"], content: Content, until: str) -> None:
        ticket, job = self.client.ticket(), self.current
        before = job.glimpse.part if job.glimpse is not None else None
        job.glimpse = Glimpse(kind, content, until, ticket, before)
        faulted = {i: m for i, (_, m) in job.faulted.items()}
        self.client.ask(Build(ticket, content, until, faulted, str(self.store.folder), prove=False))

    def _glimpsed(self, reply: Started | Ended | BuiltPart | Proved) -> bool:
        """Take a reply that belongs to what is looked at."""
        job = self.current
        if job.glimpse is None or reply.ticket != job.glimpse.ticket:
            return False
        if isinstance(reply, Started):
            self.busy.begin(reply.step)
        if isinstance(reply, BuiltPart):
            self.busy.end()
            trouble = next((r.message for r in reply.reports if r.state == "failed"), "")
            job.glimpse = job.glimpse._replace(part=None if trouble else reply, trouble=trouble)
            self.built.emit()
        return True

    # --- building
    def rebuild(self) -> None:
        current = self.current
        current.glimpse = None
        steps = {s.id: s for s in current.content.steps}
        current.faulted = {i: (s, m) for i, (s, m) in current.faulted.items() if steps.get(i) == s}
        ticket = self.client.ticket()
        self._build_of = {t: j for t, j in self._build_of.items() if j in self.jobs}
        self._build_of[ticket] = current
        self._sent = {ticket: current.content}
        faulted = {i: m for i, (_, m) in current.faulted.items()}
        self.client.ask(Build(ticket, current.content, self.until, faulted, str(self.store.folder)))

    def cancel(self) -> None:
        self.client.cancel()

    def try_again(self) -> None:
        """Forget which steps brought the kernel down and build anew."""
        self.current.faulted.clear()
        self.rebuild()

    def export(self, path: Path, form: Literal["step", "stl", "csv"]) -> None:
        self.client.ask(Export(self.client.ticket(), self.content, str(path), form, str(self.store.folder)))

    def compare_routes(self) -> None:
        self.client.ask(Compare(self.client.ticket(), self.content, str(self.store.folder)))

    def ask_hatch(self, part: BuiltPart, frame: Frame, hidden: tuple[str, ...] = ()) -> None:
        """Hatch lines for a built part, but for its ``hidden`` bodies."""
        self.client.ask(Hatch(self.client.ticket(), part.ticket, frame.origin, frame.x, frame.y, hidden))

    def _on_reply(self, reply: Reply) -> None:
        if isinstance(reply, Exported):
            self.say(f"Wrote {Path(reply.path).name}.", "good")
        elif isinstance(reply, Failed):
            self.say(reply.message, "bad")
        elif isinstance(reply, Hatched):
            self.hatched.emit(reply)
        elif isinstance(reply, Compared):
            self.compared.emit(reply.routes)
        elif isinstance(reply, Fallen):
            self._fallen(reply)
        elif not self._glimpsed(reply) and (job := self._build_of.get(reply.ticket)) is not None:
            self._building(reply, job)

    def _building(self, reply: Started | Ended | BuiltPart | Proved, job: OpenJob) -> None:
        if isinstance(reply, Started):
            self.busy.begin(reply.step)
        elif isinstance(reply, Ended):
            job.reports[reply.report.id] = reply.report
        elif isinstance(reply, BuiltPart):
            self.busy.end()
            job.reports = {r.id: r for r in reply.reports}
            if reply.shape or not job.content.steps:
                job.built = reply
            job.built_of = self._sent.get(reply.ticket)
            if reply.renewed:
                self._take_renewed(job, reply)
            if job is self.current:
                self.built.emit()
                self.reported.emit()
        elif isinstance(reply, Proved):
            job.proof = reply.proof
            if job is self.current:
                self.proved.emit()

    def _take_renewed(self, job: OpenJob, reply: BuiltPart) -> None:
        """Lines taken from the solid have moved with it; this belongs to the edit that moved them."""
        sent = self._sent.get(reply.ticket)
        before = {s.id: s for s in sent.sketches} if sent is not None else {}
        found = renewed(job.content, before, reply.renewed)
        if found.content is not job.content:
            job.history.amend(msgspec.structs.replace(job.history.job, content=found.content))
            if found.lost:
                self.say(
                    f"The solid lost lines that were taken from it, and with them: {'; '.join(found.lost)}.", "warn"
                )
            if job is self.current:
                self.edited.emit()

    def _overdue(self) -> None:
        """A step has run past its time: the kernel cannot be asked to stop, so its process is ended."""
        self._late = True
        self.client.cancel()

    def _fallen(self, reply: Fallen) -> None:
        """The kernel process ended: cancelled by the user, or brought down by a step. Nothing of the job is lost."""
        self.busy.end()
        late, self._late = self._late, False
        job = self._build_of.get(reply.ticket)
        if reply.cancelled and not late:
            self.say("Cancelled. The last good solid stays on screen.", "plain")
            self.reported.emit()
            return
        step = next((s for s in job.content.steps if s.id == reply.step), None) if job else None
        if job is None or step is None:
            self.say("The kernel stopped and was started again. Nothing was lost.", "warn")
            return
        if late:
            words = f"This step was stopped after {STEP_LIMIT} s. Make it simpler, or try it again."
            self.say(f"“{step.name or step.id}” was stopped after {STEP_LIMIT} s. Everything else is kept.", "bad")
        else:
            words = "This step brought the kernel down. Change its sizes or what it is placed on, or try it again."
            self.say(f"“{step.name or step.id}” brought the kernel down. Everything else is kept.", "bad")
        job.faulted[step.id] = (step, words)
        if job is self.current:
            self.rebuild()

    # --- messages
    def say(self, text: str, tone: Tone = "plain") -> None:
        log.info("%s: %s", tone, text)
        self.message.emit(text, tone)

    def refuse(self, error: Refusal) -> None:
        self.say(self.words_of(error), "bad")

    def words_of(self, error: Refusal) -> str:
        """A refusal in the present job's unit."""
        return error.said_in(self.content.header.style.unit)

    def shut(self) -> None:
        for job in self.jobs:
            if job.history.is_saved:
                job.journal.close()
        self.client.close()
