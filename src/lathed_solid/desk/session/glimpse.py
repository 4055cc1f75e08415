"""Looks at a part that is not the job's own present state: what a size being typed would make, or an earlier step."""

from __future__ import annotations

from typing import Literal, NamedTuple

from ...core.job.model import Content
from ...worker.protocol import BuiltPart


class Glimpse(NamedTuple):
    """``kind``: ``preview`` of an edit not made yet, or ``earlier`` in the route; ``part`` is None until built."""

    kind: Literal["preview", "earlier"]
    content: Content
    until: str
    ticket: int
    part: BuiltPart | None = None
    trouble: str = ""
