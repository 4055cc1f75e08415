"""The bodies of a part: which are shown, how they look, what they are made of."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QCheckBox,
    QColorDialog,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...core.job import edits
from ...core.job.looks import body_color
from ...core.job.model import Content
from ...core.route.model import FileLook
from ...core.standards.materials import all_materials
from ...worker.protocol import BodyFigures, BuiltPart
from ..session import Session
from .face_looks import finish_menu


def body_name(content: Content, id_: str, built: BuiltPart | None) -> str:
    """What a body is called: its own name, else its file's, else that of the step that began it."""
    here = next((b for b in built.bodies if b.id == id_), None) if built is not None else None
    return content.body_name(id_, here.file if here is not None else FileLook())


class BodyList(QWidget):
    """A line a body: tick to show it; its menu says the rest. Not there while the part is one body, whose menu comes
    by the entry line.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(12, 4, 8, 4)
        self._column.setSpacing(1)
        self._drawn: tuple[object, ...] = ()
        self.hide()

    def refresh(self) -> None:
        content, built = self._session.content, self._session.current.built
        bodies = built.bodies if built is not None else ()
        now = (bodies, content.bodies, content.steps, content.header.material)
        if now == self._drawn:
            return
        self._drawn = now
        while (item := self._column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        self.setVisible(len(bodies) > 1)
        if len(bodies) < 2:
            return
        self._column.addWidget(QLabel("Bodies"))
        for figures in bodies:
            self._column.addWidget(self._row(figures))

    def _called(self, id_: str) -> str:
        return body_name(self._session.content, id_, self._session.current.built)

    def _row(self, figures: BodyFigures) -> QWidget:
        content, id_, volume = self._session.content, figures.id, figures.volume
        look, material = figures.look(content), content.material_of(id_)
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        box = QCheckBox(self._called(id_))
        box.setChecked(look.shown)
        box.setToolTip("Show this body")
        box.clicked.connect(lambda on: self._change(id_, "shown" if on else "hidden", shown=on))
        swatch = QLabel()
        swatch.setFixedSize(14, 14)
        color = body_color(content, id_, figures.file)
        swatch.setStyleSheet(
            f"background: {QColor.fromRgbF(*color).name()}; border: 1px solid #888; border-radius: 3px;"
        )
        said = material.name + (f", {look.finish}" if look.finish else "")
        words = QLabel(f"{material.grams(volume):.4g} g")
        words.setObjectName("faint")
        words.setToolTip(said)
        more = QPushButton("…")
        more.setObjectName("quiet")
        more.setFixedWidth(26)
        more.setAccessibleName(f"More about {self._called(id_)}")
        more.clicked.connect(lambda: self.menu(id_).exec(more.mapToGlobal(QPoint(0, more.height()))))
        line.addWidget(swatch)
        line.addWidget(box, 1)
        line.addWidget(words)
        line.addWidget(more)
        row.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        row.customContextMenuRequested.connect(lambda at: self.menu(id_).exec(row.mapToGlobal(at)))
        return row

    def menu(self, id_: str) -> QMenu:
        """What can be said of one body."""
        look, menu = self._session.content.body(id_), QMenu(self)
        menu.addAction("Rename …", partial(self._rename, id_))
        through = menu.addAction(
            "See-through", lambda: self._change(id_, "see-through", see_through=not look.see_through)
        )
        if through is not None:
            through.setCheckable(True)
            through.setChecked(look.see_through)
        menu.addAction("Show only this one", partial(self._only, id_))
        menu.addAction("Colour …", partial(self._color, id_))
        if look.color is not None:
            menu.addAction("Colour of its material", lambda: self._change(id_, "colour", color=None))
        materials = menu.addMenu("Material")
        assert materials is not None
        materials.addAction("as the title block says", lambda: self._change(id_, "material", material=None))
        for material in all_materials():
            materials.addAction(material.name, lambda m=material: self._change(id_, "material", material=m))
        finish_menu(menu, look.finish, lambda text: self._change(id_, "finish", finish=text), self)
        return menu

    def say_more(self, id_: str, at: QPoint) -> None:
        """The menu of one body, the last one when none is told."""
        built = self._session.current.built
        bodies = [b.id for b in built.bodies] if built is not None else []
        if not bodies:
            self._session.say("There is no body yet to be named, coloured or finished.", "warn")
            return
        self.menu(id_ if id_ in bodies else bodies[-1]).exec(at)

    def _change(self, id_: str, what: str, **fields: object) -> None:
        self._session.edit(lambda c: edits.change_body(c, id_, **fields), f"body: {what}")

    def _rename(self, id_: str) -> None:
        text, ok = QInputDialog.getText(self, "Body", "Name of this body", text=self._called(id_))
        if ok:
            self._change(id_, "renamed", name=text.strip())

    def _color(self, id_: str) -> None:
        content = self._session.content
        now = content.body(id_).color or content.material_of(id_).color
        chosen = QColorDialog.getColor(QColor.fromRgbF(*now), self, "Colour of this body")
        if chosen.isValid():
            self._change(id_, "colour", color=(chosen.redF(), chosen.greenF(), chosen.blueF()))

    def _only(self, id_: str) -> None:
        built = self._session.current.built
        others = [b.id for b in built.bodies] if built is not None else []

        def change(content: Content) -> Content:
            for other in others:
                content = edits.change_body(content, other, shown=other == id_)
            return content

        self._session.edit(change, "one body shown")
