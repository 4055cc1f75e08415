"""Builds: what the kernel processes are asked for, and what their replies mean for the open jobs."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Literal

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.job.model import Content
from ...core.job.renewing import renewed
from ...core.job.settle import settle
from ...core.kernel.ground.geometry import Frame
from ...core.refusal import Refusal
from ...core.route.registry import called
from ...worker.client import Client
from ...worker.inspecting import Suspected
from ...worker.issuing import SheetSoFar
from ...worker.picturing import PictureSoFar
from ...worker.protocol import (
    Build,
    BuiltPart,
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
from .busy import STEP_LIMIT, TASK_LIMIT, Busy
from .documents import OpenJob
from .fitting import Fitting
from .glimpse import Glimpse
from .jobs import Jobs
from .picturing import Picturing
from .studies import Studies

#: What is said until a kernel has begun with the first step.
_BUILDING = "building the part"


class Builds(QObject):
    """``built``, ``proved`` and ``reported`` are of the job being worked on; ``renewed`` tells that lines of its
    sketches have moved with the solid they were taken from.
    """

    reported = pyqtSignal()
    built = pyqtSignal()
    proved = pyqtSignal()
    renewed = pyqtSignal()
    hatched = pyqtSignal(object)
    _replied = pyqtSignal(object)

    def __init__(self, jobs: Jobs) -> None:
        super().__init__()
        self._jobs, self._talk = jobs, jobs.talk
        self._replied.connect(self._on_reply)
        self.client = Client(self._replied.emit)
        self._build_of: dict[int, OpenJob] = {}
        self._sent: dict[int, Content] = {}
        #: The route is built up to this step; empty for all of it.
        self.until = ""
        self.busy = Busy(self)
        self.busy.overdue.connect(self._overdue)
        self.studies = Studies(jobs, self.client, self.busy)
        self.fitting = Fitting(jobs, self.client, self.busy)
        self.picturing = Picturing(jobs, self.client, self.busy)
        #: The request that was stopped because it took too long (0 for none), and what was done for it besides steps.
        self._late, self._late_task = 0, ""

    @property
    def _store(self) -> str:
        return str(self._jobs.store.folder)

    # --- looking
    def preview(self, change: Callable[[Content], Content]) -> None:
        """Show what an edit would make without making it; the job, its history and its proof are left alone."""
        try:
            content = settle(change(self._jobs.content)).content
        except Refusal:
            return
        self._glimpse("preview", content, self.until)

    def look_back(self, step: str) -> None:
        """Show the part as it was before ``step``, so that what the step took away can be picked."""
        content = self._jobs.content
        ids = [s.id for s in content.steps]
        at = ids.index(step) if step in ids else 0
        if at:
            self._glimpse("earlier", content, ids[at - 1])

    def look_away(self) -> None:
        """Show the job's own state again; costs nothing when it is built already."""
        job = self._jobs.current
        if job.glimpse is None:
            return
        job.glimpse = None
        self.built.emit()
        if job.built_of is not job.content:
            self.rebuild()

    def _glimpse(self, kind: Literal["preview", "earlier"], content: Content, until: str) -> None:
        ticket, job = self.client.ticket(), self._jobs.current
        before = job.glimpse.part if job.glimpse is not None else None
        job.glimpse = Glimpse(kind, content, until, ticket, before)
        faulted = {i: m for i, (_, m) in job.faulted.items()}
        self.busy.undertake("build", ticket, _BUILDING)
        self.client.ask(Build(ticket, content, until, faulted, self._store, frozenset(("shape",))))

    def _glimpsed(self, reply: Started | Ended | BuiltPart | Proved) -> bool:
        """Take a reply that belongs to what is looked at."""
        job = self._jobs.current
        if job.glimpse is None or reply.ticket != job.glimpse.ticket:
            return False
        if isinstance(reply, Started):
            self.busy.begin(reply.step, reply.ticket)
        if isinstance(reply, BuiltPart):
            self.busy.end()
            trouble = next((r.message for r in reply.reports if r.state == "failed"), "")
            job.glimpse = job.glimpse._replace(part=None if trouble else reply, trouble=trouble)
            self.built.emit()
        return True

    # --- asking
    def rebuild(self) -> None:
        job = self._jobs.current
        job.glimpse = None
        ticket = self.client.ticket()
        self._build_of = {t: j for t, j in self._build_of.items() if j in self._jobs.open_jobs}
        self._build_of[ticket] = job
        self._sent = {ticket: job.content}
        self.busy.done(kind="proof")  # of the build before, which this one takes the place of
        self.busy.undertake("build", ticket, _BUILDING)
        self.client.ask(Build(ticket, job.content, self.until, job.still_faulted(), self._store))

    def build_until(self, step: str) -> None:
        """Build the route up to a step and no further; empty for all of it."""
        self.until = step
        self.rebuild()

    def cancel(self) -> None:
        self.client.cancel()

    def try_again(self) -> None:
        """Forget which steps brought the kernel down and build anew."""
        self._jobs.current.faulted.clear()
        self.rebuild()

    def export(self, path: Path, form: str) -> None:
        ticket = self.client.ticket()
        self.busy.undertake("file", ticket, f"writing {path.name}")
        self.client.ask(Export(ticket, self._jobs.content, str(path), form, self._store))

    def ask_hatch(self, part: BuiltPart, frame: Frame, hidden: tuple[str, ...] = ()) -> None:
        """Hatch lines for a built part, but for its ``hidden`` bodies."""
        ticket = self.client.ticket()
        self.busy.undertake("hatch", ticket, "hatching the section")
        self.client.ask(Hatch(ticket, part.ticket, frame.origin, frame.x, frame.y, hidden))

    # --- what comes back
    def _on_reply(self, reply: Reply) -> None:
        if not isinstance(reply, Started | Ended | BuiltPart | Suspected | SheetSoFar | PictureSoFar):
            self.busy.done(reply.ticket)
        if isinstance(reply, Started | BuiltPart):
            self.busy.done(kind="build")  # a kernel is at it: from here on each step has its own time
        if self.picturing.answer(reply) or self.fitting.take(reply) or self.studies.take(reply):
            return
        if isinstance(reply, Exported):
            self._talk.say(f"Wrote {Path(reply.path).name}.", "good")
        elif isinstance(reply, Failed):
            if reply.ticket == self.busy.ticket:
                self.busy.end()
            self._lapse(self._build_of.get(reply.ticket))
            self._talk.say(reply.message, "bad")
        elif isinstance(reply, Hatched):
            self.hatched.emit(reply)
        elif isinstance(reply, Fallen):
            self._fallen(reply)
        elif isinstance(reply, Started | Ended | BuiltPart | Proved) and not self._glimpsed(reply):
            job = self._build_of.get(reply.ticket)
            if job is not None:  # else it is too late: the job is closed, or nobody looks any more
                self._building(reply, job)

    def _building(self, reply: Started | Ended | BuiltPart | Proved, job: OpenJob) -> None:
        if isinstance(reply, Started):
            self.busy.begin(reply.step, reply.ticket)
        elif isinstance(reply, Ended):
            job.reports[reply.report.id] = reply.report
        elif isinstance(reply, BuiltPart):
            self.busy.end()
            self.busy.undertake("proof", reply.ticket, "measuring the part back")
            job.reports = {r.id: r for r in reply.reports}
            if reply.shape or not job.content.steps:
                job.built = reply
            job.built_of = self._sent.get(reply.ticket)
            if reply.renewed:
                self._take_renewed(job, reply)
            if job is self._jobs.current:
                self.built.emit()
                self.reported.emit()
        elif isinstance(reply, Proved):
            job.proof = reply.proof
            job.proof_of = job.content if reply.ticket in self._sent else None
            if job is self._jobs.current:
                self.proved.emit()

    def _take_renewed(self, job: OpenJob, reply: BuiltPart) -> None:
        """Lines taken from the solid have moved with it; this belongs to the edit that moved them."""
        sent = self._sent.get(reply.ticket)
        before = {s.id: s for s in sent.sketches} if sent is not None else {}
        found = renewed(job.content, before, reply.renewed)
        if found.content is job.content:
            return
        job.history.amend(msgspec.structs.replace(job.history.state, content=found.content))
        if found.lost:
            lost = "; ".join(found.lost)
            self._talk.say(f"The solid lost lines that were taken from it, and with them: {lost}.", "warn")
        if job is self._jobs.current:
            self.renewed.emit()

    # --- falls
    def _lapse(self, job: OpenJob | None) -> None:
        """A build ended without a proof: marks of an earlier state say nothing of the present one."""
        if job is None or job.proof is None or job.proof_of is job.content:
            return
        job.proof = None
        if job is self._jobs.current:
            self.proved.emit()

    def _overdue(self, ticket: int) -> None:
        """A request has run past its time: the kernel cannot be asked to stop, so its process is ended."""
        task = self.busy.task
        self._late, self._late_task = ticket, task.words if task is not None and task.ticket == ticket else ""
        self.client.end(ticket)

    def _fallen(self, reply: Fallen) -> None:
        """The kernel process ended: cancelled by the user, or brought down by a step. Nothing of the job is lost."""
        self.busy.end()
        late = reply.ticket != 0 and reply.ticket == self._late
        job = self._build_of.get(reply.ticket)
        self._lapse(job)
        if reply.cancelled and not late:
            again = " “Build again” builds and proves what is stated now." if job is not None else ""
            self._talk.say(f"Cancelled. The last good solid stays on screen.{again}", "plain")
            self.reported.emit()
            return
        if late and self._late_task:
            self._talk.say(f"Stopped {self._late_task} after {TASK_LIMIT} s. Everything else is kept.", "bad")
            return
        step = next((s for s in job.content.steps if s.id == reply.step), None) if job else None
        if job is None or step is None:
            self._talk.say("The kernel stopped and was started again. Nothing was lost.", "warn")
            return
        if late:
            words = f"This step was stopped after {STEP_LIMIT} s. Make it simpler, or try it again."
            happened = f"was stopped after {STEP_LIMIT} s"
        else:
            words = "This step brought the kernel down. Change its sizes or what it is placed on, or try it again."
            happened = "brought the kernel down"
        self._talk.say(f"“{called(step)}” {happened}. Everything else is kept.", "bad")
        job.faulted[step.id] = (step, words)
        if job is self._jobs.current:
            self.rebuild()
