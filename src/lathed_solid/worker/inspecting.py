"""What is asked of a finished part, and told of it: proof in depth, beside the part that is shown."""

from __future__ import annotations

import msgspec

from ..core.job.against import Against
from ..core.job.carried import Carried, What
from ..core.job.model import Content
from ..core.job.room import Room, RoomAsked
from ..core.job.why.explained import Why
from ..core.kernel.ground.figures import Walls
from ..core.plan.sense import Finding
from ..core.prove.offer import Offer


class LookForWalls(msgspec.Struct, frozen=True, tag="walls"):
    """Look for the thinnest walls of the part of ``content``."""

    ticket: int
    content: Content
    attachments: str = ""


class WallsFound(msgspec.Struct, frozen=True, tag="walls-found"):
    ticket: int
    walls: Walls


class LookForRoom(msgspec.Struct, frozen=True, tag="look-for-room"):
    """Look for room for holes on the part."""

    ticket: int
    content: Content
    asked: RoomAsked
    attachments: str = ""


class RoomTold(msgspec.Struct, frozen=True, tag="room-told"):
    ticket: int
    room: Room


class LookAsAShop(msgspec.Struct, frozen=True, tag="look-as-a-shop"):
    """What shop sense has against the part of ``content``."""

    ticket: int
    content: Content
    attachments: str = ""


class Sensed(msgspec.Struct, frozen=True, tag="sensed"):
    ticket: int
    findings: tuple[Finding, ...]


class HoldAgainst(msgspec.Struct, frozen=True, tag="hold-against"):
    """Hold the part of ``content`` against ``other``, or against the file at ``path``, laid on it first if asked."""

    ticket: int
    content: Content
    other: Content | None = None
    path: str = ""
    lay: bool = False
    attachments: str = ""


class Held(msgspec.Struct, frozen=True, tag="held"):
    ticket: int
    against: Against


class Match(msgspec.Struct, frozen=True, tag="match"):
    """Look for the open sizes of ``content`` on its solid, whoever made that."""

    ticket: int
    content: Content
    attachments: str = ""


class Matched(msgspec.Struct, frozen=True, tag="matched"):
    ticket: int
    offers: tuple[Offer, ...]


class Carry(msgspec.Struct, frozen=True, tag="carry"):
    """Carry the limits of the callouts of ``content`` through to ``what`` (see ``job.carried``)."""

    ticket: int
    content: Content
    what: What
    text: str = ""
    attachments: str = ""


class CarriedThrough(msgspec.Struct, frozen=True, tag="carried"):
    ticket: int
    carried: Carried


class Explain(msgspec.Struct, frozen=True, tag="explain"):
    """Look for what closes the gap between what is stated of ``content`` and its solid; of a ``line`` of the proof
    (callout and key) that is out of limits, for what brings it in.
    """

    ticket: int
    content: Content
    line: tuple[int, str] | None = None
    attachments: str = ""


class Suspected(msgspec.Struct, frozen=True, tag="suspected"):
    """What has been found so far; more is to come."""

    ticket: int
    why: Why


class Explained(msgspec.Struct, frozen=True, tag="explained"):
    ticket: int
    why: Why


class Inspect(msgspec.Struct, frozen=True, tag="inspect"):
    """The inspection report of ``content``: written to ``path``, or as pages to be looked at when there is none.
    ``piece`` is the part in hand, ``date`` is printed, ``why`` is what was found out about a gap,
    ``walls`` the thinnest ones in words.
    """

    ticket: int
    content: Content
    path: str = ""
    piece: str = ""
    date: str = ""
    why: Why | None = None
    walls: tuple[str, ...] = ()
    attachments: str = ""


class Inspected(msgspec.Struct, frozen=True, tag="inspected"):
    """The pages of a report as PNG."""

    ticket: int
    pages: tuple[bytes, ...]
