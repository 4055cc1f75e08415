"""Sheets laid out of the examples, each once for all tests."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import NamedTuple

import pytest

from lathed_solid.core.drafting.sheet.compose import Composed
from lathed_solid.core.drafting.sheet.model import Sheet
from lathed_solid.core.drafting.sheet.seen import Seen
from lathed_solid.core.issue.drawing.facts import drawn_sheet
from lathed_solid.core.issue.drawing.propose import proposed
from lathed_solid.core.job.attachments import Store
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.sheeting import with_sheet
from lathed_solid.core.job.storage import load
from lathed_solid.core.route.rebuild import Cache

EXAMPLES = Path(__file__).parents[3] / "examples"


class Laid(NamedTuple):
    """A sheet laid out of an example, and what it was laid out from; ``cache`` builds changed parts faster."""

    content: Content
    sheet: Sheet
    seen: Seen
    composed: Composed
    cache: Cache
    store: Store


@pytest.fixture(scope="session")
def laid(tmp_path_factory):
    """The sheet that is proposed of ``SKP-0k``."""

    @cache
    def of(k: int) -> Laid:
        store, steps = Store(tmp_path_factory.mktemp("store")), Cache()
        content = load(EXAMPLES / f"skp-0{k}.lathed", store).job.content
        sheet, seen = proposed(content, "d1", cache=steps, store=store)
        content = with_sheet(content, sheet)
        return Laid(content, sheet, seen, drawn_sheet(content, "d1", seen, None, (), 1), steps, store)

    return of
