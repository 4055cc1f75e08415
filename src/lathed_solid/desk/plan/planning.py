"""What is planned of the job worked on, as it is shown: the finished size, the ways to cut it, the one chosen."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple
from weakref import WeakKeyDictionary

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.job import shopfile
from ...core.job.model import Content, part_of
from ...core.job.planning import cut_from, finished_by, follows, rewritten_as_cut, set_blank
from ...core.plan.blank import Allowed, worked_out
from ...core.plan.choosing import Way, chosen, ways
from ...core.plan.cost import Bill, bill
from ...core.plan.finished import Finished, Solid, finished, is_turned
from ...core.plan.first_step import stock_fields
from ...core.plan.shop import Shop, stock_lists
from ...core.refusal import Refusal
from ...core.standards.speeds import ToolMaterial
from ..session import Session
from ..session.documents import OpenJob


class Plan(NamedTuple):
    """``trouble`` says why there are no ways, or why the chosen one is none any more."""

    turned: bool
    part: Finished | None = None
    allowed: Allowed | None = None
    ways: tuple[Way, ...] = ()
    bills: tuple[Bill, ...] = ()
    way: Way | None = None
    bill: Bill | None = None
    trouble: str = ""


class Planning(QObject):
    """Worked out while the stage is looked at. ``changed`` tells that it is another."""

    changed = pyqtSignal()
    #: A route has begun with the blank.
    begun = pyqtSignal()

    def __init__(self, session: Session, shop_file: Path | None = None) -> None:
        super().__init__()
        self._session = session
        self._file = shop_file or shopfile.usual_place()
        self.shop, self._shop_trouble = shopfile.load(self._file)
        self._seen: WeakKeyDictionary[OpenJob, tuple[Content, Solid | None]] = WeakKeyDictionary()
        self._asked: Content | None = None
        self.is_on = False
        #: What drills and cutters are made of.
        self.of: ToolMaterial = "hss"
        self.plan = Plan(False)
        for signal in (session.edited, session.switched, session.proved):
            signal.connect(self._refresh_seen)
        session.surveyed.connect(self._on_surveyed)

    def enter(self, on: bool) -> None:
        """The stage is looked at, or left."""
        was, self.is_on = self.is_on, on
        if on and self._shop_trouble:
            self._session.say(self._shop_trouble, "warn")
            self._shop_trouble = ""
        self._refresh_seen()
        if was and not on:
            self.changed.emit()

    def _refresh_seen(self) -> None:
        if self.is_on:
            self._look_over()
            self.refresh()

    # --- the solid
    @property
    def _part(self) -> Content | None:
        """What the finished solid comes from; None when no route tells it."""
        content = finished_by(self._session.content)
        return part_of(content) if content is not None else None

    @property
    def solid(self) -> Solid | None:
        """The finished solid as it was looked over, while the part is still the same."""
        part, (seen, solid) = self._part, self._seen.get(self._session.current, (None, None))
        return solid if part is not None and part == seen else None

    def _by_its_box(self, turned: bool) -> Solid | None:
        """The solid as far as its proof tells of it, until it has been looked over."""
        job = self._session.current
        if job.proof is None or job.built_of is not job.content or finished_by(job.content) != job.content:
            return None
        from ...core.kernel.measure.least import block, cylinder  # numpy: not before it is needed

        low, high = job.proof.mass.low, job.proof.mass.high
        plain = cylinder(2 * max(*high[:2], -low[0], -low[1]), low[2], high[2]) if turned else block(low, high)
        return Solid(plain, job.proof.mass.volume)

    @property
    def is_looking(self) -> bool:
        return self._asked is not None

    def _look_over(self) -> None:
        """Ask for a survey when the part is built and is not the one that was looked over last."""
        job, part = self._session.current, self._part
        if part is None or part == self._asked or job.proof is None or job.built_of is not job.content:
            return
        known = self._seen.get(job)
        if known is None or known[0] != part:
            self._asked = part
            self._session.survey(part)

    def _on_surveyed(self, job: OpenJob, content: Content, solid: Solid | None) -> None:
        self._asked = None
        self._seen[job] = (content, solid)
        self._refresh_seen()

    # --- working it out
    def refresh(self) -> None:
        self.plan = self._worked_out()
        self.changed.emit()

    def _worked_out(self) -> Plan:
        content = self._session.content
        blank, ledger = content.planned, content.ledger()
        part_content = finished_by(content)
        turned = is_turned(blank, ledger, part_content.turned if part_content is not None else None)
        try:
            part = finished(blank, ledger, self.solid or self._by_its_box(turned), turned)
            allowed = worked_out(blank, ledger)
            lists = stock_lists(self.shop, blank.lists or content.header.units)
        except Refusal as error:
            return Plan(turned, trouble=error.said_in(content.header.style.unit))
        found = ways(part, allowed, lists)
        material = content.header.material
        plan = Plan(turned, part, allowed, found, tuple(bill(w, part, material, allowed, self.shop) for w in found))
        if not blank.form:
            return plan
        try:
            way = chosen(part, allowed, lists, (blank.form, blank.size, blank.along))
        except Refusal as error:
            return plan._replace(trouble=error.said_in(content.header.style.unit))
        return plan._replace(way=way, bill=bill(way, part, material, allowed, self.shop))

    # --- what is changed
    def change(self, what: str, **fields: object) -> bool:
        """An edit of the blank; the routes that begin with it follow, as one edit."""
        if not self._session.edit(lambda c: set_blank(c, **fields), what):
            return False
        self.refresh()
        plan = self.plan
        if plan.way is not None and plan.part is not None:
            step = self._step_fields(plan.way, plan.part)
            if follows(self._session.content, step) is not self._session.content:
                self._session.edit(lambda c: follows(c, step), what, further=True)
        return True

    def choose(self, way: Way) -> None:
        form, size, along = way.key
        self.change(f"blank: {form} {size}", form=form, size=size, along=along)

    def begin_route(self) -> None:
        """A route of its own that begins with the chosen blank."""
        self._begin(cut_from, "This route begins with the blank: cut the part from it.")

    def rewrite_route(self) -> None:
        """The present route once more, cut from the chosen blank."""
        self._begin(rewritten_as_cut, "This route cuts the same part from the blank. Compare both under Routes.")

    def _begin(self, make: Callable[[Content, dict[str, Any]], Content], told: str) -> None:
        plan = self.plan
        if plan.way is None or plan.part is None:
            return
        fields = self._step_fields(plan.way, plan.part)
        if self._session.edit(lambda c: make(c, fields), "a route cut from the blank"):
            self._session.say(told, "good")
            self.begun.emit()

    def _step_fields(self, way: Way, part: Finished) -> dict[str, Any]:
        content = self._session.content
        return stock_fields(way, part, content.planned, content.header.units)

    def set_tools_of(self, of: ToolMaterial) -> None:
        self.of = of
        self.changed.emit()

    def set_shop(self, shop: Shop) -> None:
        """The shop's tables were changed: they are kept at once. Raises Refusal when they cannot be."""
        shopfile.save(self._file, shop)
        self.shop = shop
        self.refresh()
