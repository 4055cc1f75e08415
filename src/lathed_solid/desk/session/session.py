"""The session as the panels know it: its four parts put together. Signals carry no model; listeners read it here."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject

from ...core.job.model import Content
from .builds import Builds
from .documents import OpenJob
from .edits import Edits
from .jobs import Jobs
from .selection import Selection


class Session(QObject):
    """What is done and told stands in its parts; this only names them for whoever has the session at hand."""

    def __init__(self, journals: Path | None = None) -> None:
        super().__init__()
        self._jobs = jobs = Jobs(journals)
        self._edits = edits = Edits(jobs)
        self._selection = selection = Selection()
        self._builds = builds = Builds(jobs)
        self._wire()
        self.talk = jobs.talk
        self.store, self.say, self.refuse, self.words_of = (
            jobs.store,
            jobs.talk.say,
            jobs.talk.refuse,
            jobs.talk.words_of,
        )
        self.add, self.open, self.switch = jobs.add, jobs.open, jobs.switch
        self.save, self.close_job, self.take_up = jobs.save, jobs.close_job, jobs.take_up
        self.earlier, self.open_earlier, self.earlier_folder = jobs.earlier, jobs.open_earlier, jobs.earlier_folder
        self.theirs, self.follow_disk = jobs.theirs, jobs.follow_disk
        self.edit, self.make, self.take, self.take_job = edits.edit, edits.make, edits.take, edits.take_job
        self.undo, self.redo, self.follow = edits.undo, edits.redo, edits.follow
        self.select_callout, self.select_step = selection.select_callout, selection.select_step
        self.preview, self.look_back, self.look_away = builds.preview, builds.look_back, builds.look_away
        self.rebuild, self.build_until = builds.rebuild, builds.build_until
        self.cancel, self.try_again = builds.cancel, builds.try_again
        self.export, self.ask_hatch = builds.export, builds.ask_hatch
        studies = builds.studies
        self.compare_routes, self.compared, self.endured = studies.compare_routes, studies.compared, studies.endured
        self.drop_comparison = studies.drop_comparison
        self.survey, self.surveyed = studies.survey, studies.surveyed
        self.draw, self.drawn, self.write_sheet = studies.draw, studies.drawn, studies.write_sheet
        self.explain, self.explained = studies.explain, studies.explained
        self.carry, self.carried = studies.carry, studies.carried
        self.look_for_walls, self.walls_found = studies.look_for_walls, studies.walls_found
        self.hold_against, self.held = studies.hold_against, studies.held
        self.look_as_a_shop, self.sensed = studies.look_as_a_shop, studies.sensed
        self.look_for_room, self.room_found = studies.look_for_room, studies.room_found
        self.match, self.matched = studies.match, studies.matched
        self.inspect, self.inspected = studies.inspect, studies.inspected
        self.see_sheet, self.sheet_seen = studies.see_sheet, studies.sheet_seen
        self.propose_sheet, self.sheet_proposed = studies.propose_sheet, studies.sheet_proposed
        self.write_sheets, self.write_package = studies.write_sheets, studies.write_package
        self.write_outline = studies.write_outline
        self.rewrite, self.rewritten = studies.rewrite, studies.rewritten
        self.state, self.beside = jobs.state, jobs.beside
        self.fitting, self.picturing, self.folder = builds.fitting, builds.picturing, jobs.folder
        self.busy = builds.busy
        self.withdraw, self.withdrawn = jobs.talk.withdraw, jobs.talk.withdrawn
        self.message, self.jobs_changed, self.switched = jobs.talk.said, jobs.changed, jobs.switched
        self.edited, self.selected = edits.edited, selection.selected
        self.built, self.proved, self.reported = builds.built, builds.proved, builds.reported
        self.hatched = builds.hatched

    def _wire(self) -> None:
        """What one part's news means to another; connected before any listener, so that it comes first."""
        self._jobs.begun.connect(self._selection.forget)
        self._jobs.begun.connect(lambda: self._builds.build_until(""))
        self._edits.changed.connect(self._builds.rebuild)
        self._jobs.saved.connect(self._edits.edited)
        self._builds.renewed.connect(self._edits.edited)

    def show_as(self, picture: Callable[[], bytes]) -> None:
        """Who draws the small picture that is saved with a job (PNG; empty for none)."""
        self._jobs.picture = picture

    def take_route(self, at: int) -> None:
        """Work on another route of the part."""
        self._selection.select_step("")
        self._edits.take_route(at)

    @property
    def jobs(self) -> list[OpenJob]:
        return self._jobs.open_jobs

    @property
    def current(self) -> OpenJob:
        """The job being worked on; a blank one, never saved, before any is open."""
        return self._jobs.current

    @property
    def content(self) -> Content:
        return self._jobs.content

    @property
    def callout(self) -> int | None:
        """The number of the chosen callout."""
        return self._selection.callout

    @property
    def step(self) -> str:
        """The id of the chosen step; empty for none."""
        return self._selection.step

    @property
    def until(self) -> str:
        """The step up to which the route is built; empty for all of it."""
        return self._builds.until

    @property
    def is_working(self) -> bool:
        """Whether a kernel process is at work, or is to be."""
        return self._builds.client.is_busy

    @property
    def part_size(self) -> float | None:
        """The greatest extent of the part as last built, mm; None before there is one."""
        proof = self.current.proof
        return max(b - a for a, b in zip(proof.mass.low, proof.mass.high, strict=True)) if proof is not None else None

    def shut(self) -> None:
        self._jobs.close_journals()
        self._builds.client.close()
