"""An open job, and what is known of its part."""

from __future__ import annotations

from pathlib import Path

from ...core.drafting.looking import Up
from ...core.job.history import History
from ...core.job.journal import Journal
from ...core.job.model import Content, Job
from ...core.plan.zero import OWN, Standing, Zero, finder, stand
from ...core.prove.proof import Proof
from ...core.route.rebuild import StepReport
from ...core.route.registry import Step
from ...worker.protocol import BuiltPart
from .filed import Filed
from .glimpse import Glimpse


class OpenJob(Filed):
    """A part on the desk: its states, its file and its journal, and what was last built of it."""

    def __init__(self, job: Job, path: Path | None, journal: Journal) -> None:
        super().__init__(path)
        self.history: History[Job] = History(job)
        self.journal = journal
        self.built: BuiltPart | None = None
        #: What was proved, and of which content.
        self.proof: Proof | None = None
        self.proof_of: Content | None = None
        self.reports: dict[str, StepReport] = {}
        self.faulted: dict[str, tuple[Step, str]] = {}
        self.problems: dict[str, str] = {}
        #: What is looked at in place of the job's own state, and which content ``built`` was made of.
        self.glimpse: Glimpse | None = None
        self.built_of: Content | None = None
        self._machine: tuple[BuiltPart | None, Content, Standing] | None = None
        #: Which axis is up in the part view; None for the usual one.
        self.standing: Up | None = None

    @property
    def shown(self) -> BuiltPart | None:
        """The part to show: what is being looked at, else the last good one."""
        if self.glimpse is not None and self.glimpse.part is not None and self.glimpse.part.shape:
            return self.glimpse.part
        return self.built

    @property
    def machine(self) -> Standing:
        """Where the part that is shown stands in the machine."""
        content, part = self.content, self.shown
        if content.zero == Zero():
            return OWN
        if self._machine is None or self._machine[0] is not part or self._machine[1] is not content:
            find = finder(part.references, part.names, part.surfaces) if part is not None else finder((), (), ())
            self._machine = (part, content, stand(content.zero, content.ledger(), find))
        return self._machine[2]

    @property
    def content(self) -> Content:
        return self.history.state.content

    @property
    def before(self) -> Content | None:
        """The state that undo would go back to."""
        before = self.history.before
        return before.content if before is not None else None

    @property
    def title(self) -> str:
        header = self.content.header
        return header.number or header.name

    def record(self) -> None:
        """Put the present state into the journal."""
        self.journal.record(self.history.state, str(self.path or ""), self.stamp)

    def still_faulted(self) -> dict[str, str]:
        """Steps that brought the kernel down, as they still are; one that was changed may be tried again."""
        steps = {s.id: s for s in self.content.steps}
        self.faulted = {i: (s, m) for i, (s, m) in self.faulted.items() if steps.get(i) == s}
        return {i: m for i, (_, m) in self.faulted.items()}
