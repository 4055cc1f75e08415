"""The room of the part: its view, the section through it, and the desk between them and the job.

Importing this loads the kernel's viewer, which takes longer than all the rest of the window: that stands first.
"""

from __future__ import annotations

from typing import NamedTuple

from .part_desk import PartDesk
from .picking import Picking
from .section import Section
from .session import Session
from .theme.palette import Palette
from .viewport.partview import PartView


class PartRoom(NamedTuple):
    view: PartView
    section: Section
    desk: PartDesk


def furnish(session: Session, picking: Picking, palette: Palette) -> PartRoom:
    view = PartView(palette)
    return PartRoom(view, Section(session, picking, view), PartDesk(session, picking, view))
