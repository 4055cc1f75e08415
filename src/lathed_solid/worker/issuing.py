"""What is asked for drawing sheets, and told of them."""

from __future__ import annotations

import msgspec

from ..core.drafting.sheet.model import Sheet
from ..core.drafting.sheet.seen import Seen
from ..core.issue.cutting import Outline
from ..core.job.model import Content, Job
from ..core.plan.shop import Shop
from ..core.standards.speeds import ToolMaterial


class SeeSheet(msgspec.Struct, frozen=True, tag="see-sheet"):
    """What the views of ``sheet`` show of the part of ``content``."""

    ticket: int
    content: Content
    sheet: Sheet
    attachments: str = ""


class SheetSoFar(msgspec.Struct, frozen=True, tag="sheet-so-far"):
    """The views that are drawn already; others follow."""

    ticket: int
    seen: Seen


class SheetSeen(msgspec.Struct, frozen=True, tag="sheet-seen"):
    ticket: int
    seen: Seen


class ProposeSheet(msgspec.Struct, frozen=True, tag="propose-sheet"):
    """A whole sheet of the part, called ``id``, on paper of that ``size`` (empty: as the part asks)."""

    ticket: int
    content: Content
    id: str
    size: str = ""
    attachments: str = ""


class SheetProposed(msgspec.Struct, frozen=True, tag="sheet-proposed"):
    ticket: int
    sheet: Sheet
    seen: Seen


class WriteSheets(msgspec.Struct, frozen=True, tag="write-sheets"):
    """Write the sheets of ``content`` (or ``which``) to ``path``; ``revisions`` are letters and dates of those
    issued.
    """

    ticket: int
    content: Content
    path: str
    which: str = ""
    revisions: tuple[tuple[str, str], ...] = ()
    attachments: str = ""


class WriteOutline(msgspec.Struct, frozen=True, tag="write-outline"):
    """Write a flat outline of the part of ``content`` as DXF to ``path``."""

    ticket: int
    content: Content
    outline: Outline
    path: str
    attachments: str = ""


class Pack(msgspec.Struct, frozen=True, tag="pack"):
    """Write the package of issued revision ``label`` of ``job`` to ``path``; ``shop`` has the speeds, ``of`` is what
    drills and cutters are made of.
    """

    ticket: int
    job: Job
    label: str
    path: str
    shop: Shop
    of: ToolMaterial
    attachments: str = ""
