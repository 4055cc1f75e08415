"""A family carried out over kernel processes: built, proved and written variant by variant, and gone on with."""

from __future__ import annotations

import os
import queue
from collections.abc import Callable, Mapping
from pathlib import Path

from ..core.issue.formats import Format
from ..core.job.attachments import Store
from ..core.job.family import Line, Variant, from_csv, judged, key_of, member, priced, to_csv, what_failed
from ..core.job.files import CannotBeRead, read_whole, write_atomic
from ..core.job.model import Content
from ..core.plan.shop import Shop
from ..core.refusal import Refusal
from ..core.route.steps.foreign import Foreign
from .lane import Lane
from .protocol import (
    Build,
    BuiltPart,
    Dropped,
    Export,
    Exported,
    Failed,
    Fallen,
    Proved,
    Reply,
    Survey,
    Surveyed,
)

#: Where the figures of a family stand in its folder.
TABLE = "family.csv"
_MOST_BYTES = 64 * 1024 * 1024


class Family:
    """Carries out the variants of a part. ``told`` is called with each line as it comes, and whether it was there."""

    def __init__(
        self,
        content: Content,
        variants: tuple[Variant, ...],
        folder: Path | None,
        form: Format | None,
        attachments: str,
        told: Callable[[Line, bool], None],
        done: Mapping[str, Line] | None = None,
        shop: Shop = Shop(),  # noqa: B008 (frozen)
    ) -> None:
        """``done`` are lines that need not be worked out again, by their keys; else those of an earlier run in the
        ``folder``. Without a folder nothing is written, and there is no ``form``.
        """
        self._content, self.variants, self._folder, self.form = content, variants, folder, form
        self._attachments, self._told = attachments, told
        self._replies: queue.Queue[Reply] = queue.Queue()
        self._lines: dict[str, Line] = {}
        self._asked: dict[int, tuple[Variant, Content, bool]] = {}
        self._failed: dict[int, str] = {}
        self._ticket = 0
        self._known, self._is_cancelled = done, False
        #: Whose prices the members have.
        self.shop = shop

    def run(self, kernels: int = 0) -> tuple[Line, ...]:
        """All lines, in the order of the table. What an earlier run has done of the same part is not done again.

        Raises CannotWrite when the folder will not have the figures.
        """
        done = self.before()
        lane = Lane(self._replies.put, kernels=kernels or max(1, os.cpu_count() or 1))
        try:
            for variant in self.variants:
                self._ask(lane, variant, done)
            while self._asked and not self._is_cancelled:
                self._take(lane, self._replies.get())
        finally:
            lane.close()
        return self.in_order()

    def attached(self) -> dict[str, bytes]:
        """The files that the part is made from."""
        files = (step.attachment for step in self._content.steps if isinstance(step, Foreign) and step.attachment)
        store = Store(Path(self._attachments))
        return {name: data for name in files if (data := store.find(name)) is not None}

    def cancel(self) -> None:
        """Let it go, from any thread; what is done stays."""
        self._is_cancelled = True
        self._replies.put(Dropped(0))

    def before(self) -> Mapping[str, Line]:
        if self._known is not None or self._folder is None:
            return self._known or {}
        try:
            return from_csv(read_whole(self._folder / TABLE, _MOST_BYTES).decode("utf-8", "replace"))
        except CannotBeRead:
            return {}

    def prepared(self, variant: Variant, done: Mapping[str, Line]) -> Content | None:
        """The part as a variant has it; None when that is told already: it cannot be, or was done before."""
        try:
            content = member(self._content, variant)
        except Refusal as error:
            self.say(Line(variant.name, "failed", "", words=error.said_in(self._content.header.units)))
            return None
        old = done.get(key_of(content, self.shop))
        if old is not None and old.name == variant.name and (self.form is None or self.file(variant).exists()):
            self.say(old, there=True)
            return None
        return content

    def _ask(self, lane: Lane, variant: Variant, done: Mapping[str, Line]) -> None:
        content = self.prepared(variant, done)
        if content is not None:
            self._build(lane, variant, content, again=False)

    def _build(self, lane: Lane, variant: Variant, content: Content, again: bool) -> None:
        self._ticket += 1
        self._asked[self._ticket] = (variant, content, again)
        lane.ask(Build(self._ticket, content, attachments=self._attachments, want=frozenset(("proof",))))

    def file(self, variant: Variant) -> Path:
        assert self.form is not None and self._folder is not None
        return self._folder / f"{variant.name}{self.form.endings[0]}"

    def _take(self, lane: Lane, reply: Reply) -> None:
        asked = self._asked.get(reply.ticket)
        if asked is None:
            return
        variant, content, again = asked
        if isinstance(reply, BuiltPart):
            self._failed[reply.ticket] = what_failed(content, reply.reports)
        elif isinstance(reply, Proved):
            failed = self._failed.pop(reply.ticket, "")
            line = judged(variant.name, key_of(content, self.shop), reply.proof, failed, content.header.style)
            if line.state == "failed":
                self._end(reply.ticket, line)
            else:
                self._lines[variant.name] = line
                lane.ask(Survey(reply.ticket, content, self._attachments))
        elif isinstance(reply, Surveyed):
            line = priced(self._lines[variant.name], content, reply.solid, self.shop)
            if self.form is None:
                self._end(reply.ticket, line)
            else:
                self._lines[variant.name] = line
                lane.ask(Export(reply.ticket, content, str(self.file(variant)), self.form.id, self._attachments))
        elif isinstance(reply, Exported):
            self._end(reply.ticket, self._lines[variant.name])
        elif isinstance(reply, Failed):
            self._end(reply.ticket, Line(variant.name, "failed", "", words=reply.message))
        elif isinstance(reply, Fallen):
            del self._asked[reply.ticket]
            if again:  # it fell twice: the variant is to blame
                words = f"The kernel fell over this variant{f' at step {reply.step}' if reply.step else ''}."
                self.say(Line(variant.name, "failed", "", words=words))
            else:
                self._build(lane, variant, content, again=True)

    def _end(self, ticket: int, line: Line) -> None:
        del self._asked[ticket]
        self.say(line)

    def say(self, line: Line, there: bool = False) -> None:
        """A line is on disk as soon as it is there, so that a run that is broken off can be gone on with."""
        self._lines[line.name] = line
        if not there and self._folder is not None:
            write_atomic(self._folder / TABLE, to_csv(self.in_order()).encode())
        self._told(line, there)

    def in_order(self) -> tuple[Line, ...]:
        return tuple(self._lines[v.name] for v in self.variants if v.name in self._lines)
