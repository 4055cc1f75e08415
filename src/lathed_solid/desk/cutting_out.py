"""A flat outline written for cutting: of the picked face, or of the section that is open."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog, QInputDialog, QWidget

from ..core.issue.cutting import Outline
from ..core.quantity import evaluate
from ..core.refusal import Refusal
from .picking import Picking
from .session import Session

if TYPE_CHECKING:
    from .section import Section  # it shows the kernel's picture, which the window does not wait for

_KERF = (
    "Width of the cut (kerf), which is set off to the waste side: outlines outwards, holes inwards. 0 writes true size."
)


def write_outline(session: Session, picking: Picking, section: Section, parent: QWidget) -> None:
    """Ask for the kerf and where to, and have it written; a flat face that is picked goes before the section."""
    wanted = _wanted(picking, section)
    if wanted is None:
        session.say("Pick a flat face on the part, or open a section, first: its outline is what is cut out.", "warn")
        return
    text, ok = QInputDialog.getText(parent, "Outline for cutting", _KERF, text="0")
    if not ok:
        return
    try:
        kerf = evaluate(text, session.content.ledger())
    except Refusal as error:
        session.refuse(error)
        return
    header = session.content.header
    stem = (header.number or header.name or "part").replace(" ", "-").lower()
    proposed = str(session.beside(f"{stem}-outline.dxf"))
    name, _ = QFileDialog.getSaveFileName(parent, "Write the outline", proposed, "*.dxf")
    if name:
        path = Path(name)
        path = path if path.suffix.lower() == ".dxf" else path.with_name(f"{path.name}.dxf")
        session.write_outline(Outline(face=wanted.face, plane=wanted.plane, kerf=kerf), path)


def _wanted(picking: Picking, section: Section) -> Outline | None:
    for index in picking.faces:
        figure = picking.figure(index)
        if index and figure is not None and figure.kind == "plane":
            return Outline(face=picking.reference(index).name)
    return Outline(plane=section.plane) if section.plane is not None else None
