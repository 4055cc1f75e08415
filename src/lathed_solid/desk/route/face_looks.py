"""What can be said of how picked faces look."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QColorDialog, QInputDialog, QMenu, QWidget

from ...core.job import edits
from ...core.route.model import FaceRef
from ...core.standards.finishes import finishes
from ..session import Session

#: A noted finish is free text; this asks for it.
ASK = "Finish, as the drawing notes it"


def finish_menu(menu: QMenu, now: str, take: Callable[[str], object], parent: QWidget) -> None:
    """The finishes of the library, none, and any note that is typed."""
    own = menu.addMenu("Finish")
    assert own is not None
    for one in finishes():
        action = own.addAction(one.name, partial(take, one.name))
        assert action is not None
        action.setCheckable(True)
        action.setChecked(one.name == now)
    own.addSeparator()
    own.addAction("none noted", partial(take, ""))

    def ask() -> None:
        text, ok = QInputDialog.getText(parent, "Finish", f"{ASK}: anodised black, Ra 0.8 ground", text=now)
        if ok:
            take(text.strip())

    own.addAction("as noted …", ask)


def face_menu(session: Session, faces: Sequence[FaceRef], parent: QWidget) -> QMenu:
    """Finish and colour of faces that are picked on the part."""
    menu = QMenu(parent)
    names = {f.name for f in faces}
    said = next((f for f in session.content.faces if f.face.name in names), None)

    def change(what: str, **fields: object) -> None:
        many = f"{len(faces)} faces" if len(faces) > 1 else "face"
        session.edit(lambda c: edits.change_faces(c, faces, **fields), f"{many}: {what}")

    def color() -> None:
        now = said.color if said is not None and said.color is not None else session.content.header.material.color
        chosen = QColorDialog.getColor(QColor.fromRgbF(*now), parent, "Colour of these faces")
        if chosen.isValid():
            change("colour", color=(chosen.redF(), chosen.greenF(), chosen.blueF()))

    finish_menu(menu, said.finish if said is not None else "", lambda text: change("finish", finish=text), parent)
    menu.addAction("Colour …", color)
    if said is not None:
        menu.addAction("As the body looks", lambda: change("as the body", finish="", color=None))
    return menu
