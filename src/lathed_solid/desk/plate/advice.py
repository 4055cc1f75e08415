"""Two buttons of the plate's head: what was assumed while drawing, and the sizes that would pin the rest."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from ...core.job import tracing
from ...core.route.settling import dimension_values
from ...core.sketch.explain import finish
from ...core.sketch.model import Dimension, Line, Relation, Sketch
from ...core.sketch.refusal import SketchError
from ..session import Session


class Advice(QWidget):
    """``lit`` carries the elements under the pointer; ``put`` makes a changed sketch the present one."""

    lit = pyqtSignal(object)
    play = pyqtSignal()

    def __init__(self, session: Session, put: Callable[[Sketch, str], bool]) -> None:
        super().__init__()
        self._session, self._put = session, put
        self._sketch: Sketch | None = None
        self.assumed, self.pin = QPushButton(), QPushButton("Pin it for me")
        self.assumed.setToolTip("Relations the program assumed while drawing: accept or drop them")
        self.pin.setToolTip("Sizes that would leave nothing free, with their present values")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        for button, fill in ((self.assumed, self._fill_assumed), (self.pin, self._fill_pins)):
            button.setObjectName("quiet")
            menu = QMenu(button)
            menu.aboutToShow.connect(partial(fill, menu))
            menu.aboutToHide.connect(lambda: self.lit.emit(()))
            button.setMenu(menu)
            row.addWidget(button)
        self.wiggle = QPushButton("Wiggle")
        self.wiggle.setObjectName("quiet")
        self.wiggle.setToolTip("Play what can still move, to and fro")
        self.wiggle.clicked.connect(self.play.emit)
        row.addWidget(self.wiggle)
        self.show_for(None, 0)

    def show_for(self, sketch: Sketch | None, ways: int) -> None:
        """Offer what there is to offer for a sketch with ``ways`` to move."""
        self._sketch = sketch
        count = sum(len(ids) for ids in finish.assumed(sketch).values()) if sketch is not None else 0
        self.assumed.setText(f"{count} assumed")
        self.assumed.setVisible(count > 0 and sketch is not None and sketch.stations is None)
        self.wiggle.setVisible(ways > 0)
        self.pin.setVisible(ways > 0 and sketch is not None and sketch.stations is None)

    # --- assumed relations
    def _fill_assumed(self, menu: QMenu) -> None:
        menu.clear()
        sketch = self._sketch
        if sketch is None:
            return
        for kind, ids in finish.assumed(sketch).items():
            group = menu.addMenu(f"{kind}  ({len(ids)})")
            assert group is not None
            group.addAction("Accept all of them", partial(self._settle, finish.accept, ids, f"{kind} accepted"))
            group.addAction("Drop all of them", partial(self._settle, finish.drop, ids, f"{kind} dropped"))
            group.addSeparator()
            for id_ in ids:
                names = ", ".join(finish.touched(sketch, id_)) or id_
                one = group.addAction(f"Drop {kind} of {names}", partial(self._settle, finish.drop, (id_,), "dropped"))
                assert one is not None
                one.hovered.connect(partial(self.lit.emit, finish.touched(sketch, id_)))

    def _settle(self, change: Callable[[Sketch, tuple[str, ...]], Sketch], ids: tuple[str, ...], what: str) -> None:
        if self._sketch is not None:
            self._put(change(self._sketch, ids), f"assumed relation {what}")

    # --- pins
    def proposed(self) -> list[finish.Pin]:
        """The sizes offered just now; empty when the sketch's own sizes cannot be read."""
        if self._sketch is None:
            return []
        try:
            content = self._session.content
            values = dimension_values(self._sketch, content.ledger())
            return finish.pins(self._sketch, values, content.header.style)
        except SketchError:
            return []

    def _fill_pins(self, menu: QMenu) -> None:
        menu.clear()
        found = self.proposed()
        if not found:
            nothing = menu.addAction("Nothing can be proposed: the sketch's sizes do not agree")
            assert nothing is not None
            nothing.setEnabled(False)
            return
        for pin in found:
            one = menu.addAction(f"{self._shown(pin)}    {pin.words}", partial(self.take, [pin]))
            assert one is not None
            one.hovered.connect(partial(self.lit.emit, pin.item.of))
        menu.addSeparator()
        menu.addAction(f"All {len(found)} of them", partial(self.take, found))

    def _text(self, pin: finish.Pin) -> str:
        if isinstance(pin.item, Relation):
            return pin.item.kind
        number = self._meant(pin)
        return f"#{number}" if number else self._session.content.header.typed_style.length(pin.value)

    def _meant(self, pin: finish.Pin) -> int | None:
        """The callout that states how long a line is, where the sketch is drawn over a scan. A place may be as far from
        the origin as some other size by chance.
        """
        if self._sketch is None or not isinstance(pin.item, Dimension) or pin.item.kind != "distance":
            return None
        ends = {frozenset((e.a, e.b)) for e in self._sketch.curves() if isinstance(e, Line)}
        if frozenset(pin.item.of) not in ends:
            return None
        return tracing.callout_meant(self._session.content, self._sketch.id, pin.value)

    def _shown(self, pin: finish.Pin) -> str:
        number, content = self._meant(pin), self._session.content
        if number is None:
            return self._text(pin)
        return f"#{number} = {content.header.style.length(content.ledger().reading(number).main.nominal)}"

    def take(self, chosen: list[finish.Pin]) -> None:
        """Add proposed sizes with their present values; they can be typed over like any other."""
        sketch = self._sketch
        if sketch is None:
            return
        for pin in chosen:
            sketch = finish.with_pin(sketch, pin, self._text(pin))
        self._put(sketch, f"{len(chosen)} size{'s' * (len(chosen) > 1)} pinned")
