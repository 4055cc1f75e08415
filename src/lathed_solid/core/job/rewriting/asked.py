"""Which other way a route is asked for, and the content that has it."""

from __future__ import annotations

from typing import Literal

import msgspec

from ...route.planes import Base
from ...route.rebuild import Cache
from .. import edits
from ..attachments import Store
from ..model import Content


class Rewriting(msgspec.Struct, frozen=True):
    """``half``: half of the part and its mirror, about a plane or whichever main one it is alike on both sides of;
    ``quarter``: that twice; ``whole``: back from that; ``steps``: the present route goes on with the steps of route
    ``source`` after its first ``after``.
    """

    how: Literal["half", "quarter", "whole", "steps"]
    source: int = 0
    after: int = 0
    about: Base | Literal[""] = ""

    @property
    def words(self) -> str:
        """The edit, as it is called among those that can be undone."""
        return {
            "half": "half and mirror",
            "quarter": "quarter and two mirrors",
            "whole": "made whole",
            "steps": "steps of another route taken over",
        }[self.how]


def rewritten(content: Content, asked: Rewriting, cache: Cache | None = None, store: Store | None = None) -> Content:
    """The content with the route asked for as the present one. Raises EditRefused saying why there is none."""
    from .halving import halved, made_whole
    from .taking_over import taken_over

    if asked.how == "steps":
        return taken_over(content, asked.source, asked.after, cache, store)
    if asked.how == "half":
        return halved(content, cache, store, asked.about)
    if asked.how == "quarter":
        half = halved(content, cache, store, asked.about)
        quarter = halved(half, cache, store)
        last = len(quarter.routes) - 1
        return edits.take_route(edits.remove_route(edits.take_route(quarter, half.route)), last - 1)
    return made_whole(content, cache, store)
