"""What mouse and keys mean on the plate just now: choosing, drawing, a stroke, areas, other solutions.

A mode is told of gestures and gives the intent each amounts to, or None.
"""

from __future__ import annotations

from typing import Protocol

from PyQt6.QtCore import QPointF, Qt

from ...core.sketch.make.draw import Spot
from ...core.sketch.model import Sketch
from . import hit
from .fields import CursorFields
from .hold import Hand
from .intents import AreaClicked, Chosen, DragBegun, DragEnded, Dragged, Intent, Made, TextMoved, ToolDropped, WayTaken
from .look import Look
from .picture import Picture
from .screen import Transform

NONE = Qt.KeyboardModifier.NoModifier
#: A press that has moved so far (pixels) is a drag.
DRAG = 4


class Board(Protocol):
    """The plate as a mode sees it."""

    @property
    def sketch(self) -> Sketch | None: ...
    @property
    def t(self) -> Transform: ...
    @property
    def tool(self) -> str: ...
    @property
    def hand(self) -> Hand: ...
    @property
    def fields(self) -> CursorFields: ...
    @property
    def picture(self) -> Picture: ...
    @property
    def chosen(self) -> tuple[str, ...]: ...
    @property
    def look(self) -> Look: ...
    @property
    def cursor_at(self) -> QPointF: ...

    #: What lies under the cursor.
    hover: str

    def under(self, at: QPointF) -> str: ...
    def chosen_elements(self) -> tuple[str, ...]: ...
    def take_tool(self, tool: str) -> None: ...
    def edit_dimension(self, id_: str) -> None: ...
    def show_ways(self, ways: tuple[Sketch, ...], at: int) -> None: ...


class Mode:
    """The usual answers: nothing happens, and Escape puts the tool back."""

    def __init__(self, canvas: Board) -> None:
        self.canvas = canvas

    @property
    def prompt(self) -> str:
        return self.canvas.hand.prompt

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        return None

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        """The mouse has moved, whatever is held; what lies under it lights up."""
        self.canvas.hover = self.canvas.under(at)
        return None

    def release(self) -> Intent | None:
        return None

    def enter(self) -> Intent | None:
        """Return was pressed."""
        return None

    def back(self) -> Intent | None:
        """Escape was pressed."""
        return ToolDropped()

    def key(self, key: Qt.Key, text: str) -> bool:
        """Whether a key is this mode's own, and then done."""
        return False


class Select(Mode):
    """Choosing, and dragging what is chosen."""

    def __init__(self, canvas: Board) -> None:
        super().__init__(canvas)
        self._press: QPointF | None = None
        #: The element or the size whose text is being dragged.
        self.dragging = ""

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        self._press = at
        more = bool(modifiers & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier))
        return self.chosen(self.canvas.under(at), more)

    def chosen(self, id_: str, more: bool) -> Intent:
        before = self.canvas.chosen
        if not more:
            return Chosen((id_,) if id_ else ())
        if id_ in before:
            return Chosen(tuple(i for i in before if i != id_))
        return Chosen((*before, id_) if id_ else tuple(before))

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        place = self.canvas.t.mm(at)
        if self.dragging:
            return TextMoved(self.dragging, *place) if self.dragging in self.canvas.picture.boxes else Dragged(*place)
        if self._press is not None and hit.gap(self._press, at) > DRAG:
            return self._begin(self._press)
        return super().move(at, modifiers)

    def _begin(self, at: QPointF) -> Intent | None:
        canvas = self.canvas
        id_ = canvas.chosen[-1] if len(canvas.chosen) == 1 else ""
        if id_ in canvas.picture.boxes:
            self.dragging = id_
        elif canvas.sketch is not None and any(e.id == id_ for e in canvas.sketch.entities):
            self.dragging = id_
            return DragBegun(id_, *canvas.t.mm(at))
        return None

    def release(self) -> Intent | None:
        self._press = None
        if not self.dragging:
            return None
        self.dragging = ""
        return DragEnded()

    def enter(self) -> Intent | None:
        chosen = self.canvas.chosen
        if len(chosen) == 1 and chosen[0] in self.canvas.picture.boxes:
            self.canvas.edit_dimension(chosen[0])
        return None

    def back(self) -> Intent | None:
        return Chosen(())


class Choosing(Select):
    """A tool waits for what it works on; every click adds to that."""

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        return self.chosen(self.canvas.under(at), True)

    def enter(self) -> Intent | None:
        if self.canvas.chosen_elements():
            self.canvas.take_tool(self.canvas.tool)
        return None

    def back(self) -> Intent | None:
        return ToolDropped()


class Draw(Mode):
    """A tool draws: places are clicked, values typed beside the cursor."""

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        self.aim(at, modifiers)
        return self.take()

    def aim(self, at: QPointF, modifiers: Qt.KeyboardModifier = NONE) -> None:
        """The next place is where the cursor is, or where it snaps to."""
        canvas = self.canvas
        if canvas.sketch is None:
            return
        free = bool(modifiers & Qt.KeyboardModifier.AltModifier)
        reach, chosen = hit.SNAP / canvas.t.scale, canvas.chosen_elements()
        canvas.hand.move(canvas.sketch, canvas.t.mm(at), reach, free, chosen, canvas.look.traces)
        canvas.fields.show_live(canvas.hand.live(canvas.sketch, canvas.chosen_elements()), at)

    def take(self) -> Intent | None:
        """The place under the cursor is taken."""
        given = self.canvas.hand.click(self.canvas.chosen_elements())
        return Made(self.canvas.tool, given) if given is not None else None

    def _finished(self) -> Intent | None:
        """A tool with any number of places has them."""
        given = self.canvas.hand.finish(self.canvas.chosen_elements())
        return Made(self.canvas.tool, given) if given is not None else None

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        self.canvas.hover = ""
        self.aim(at, modifiers)
        return None

    @property
    def _open_ended(self) -> bool:
        tool = self.canvas.hand.tool
        return tool is not None and tool.clicks < 0

    def enter(self) -> Intent | None:
        return self._finished() if self._open_ended else self.take()

    def back(self) -> Intent | None:
        if not self.canvas.hand.spots:
            return ToolDropped()
        made = self._finished() if self._open_ended else None
        self.canvas.hand.drop()
        return made

    def key(self, key: Qt.Key, text: str) -> bool:
        if key not in (Qt.Key.Key_X, Qt.Key.Key_Y):
            return False
        self.canvas.hand.hold("x" if key == Qt.Key.Key_X else "y")
        self.aim(self.canvas.cursor_at)
        return True


class Stroke(Draw):
    """A tool that is drawn across what it works on, or clicked on it."""

    def __init__(self, canvas: Board) -> None:
        super().__init__(canvas)
        self.trail: list[QPointF] = []

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        self.trail = [at]
        return None

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        if not self.trail:
            return super().move(at, modifiers)
        self.trail.append(at)
        return None

    def release(self) -> Intent | None:
        if not self.trail:
            return None
        trail, self.trail = self.trail, []
        self.aim(trail[0])
        if len(trail) <= 3:
            return self.take()
        self.canvas.hand.spots = [Spot(*self.canvas.t.mm(p)) for p in trail]
        return self._finished()


class Areas(Mode):
    """Areas are clicked for the step to take."""

    @property
    def prompt(self) -> str:
        return "Click the areas this step is to take; Esc when done"

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        return AreaClicked(*self.canvas.t.mm(at))


class Ways(Mode):
    """Other solutions are shown as ghosts: a click or Return takes the one that is lit."""

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> Intent | None:
        return WayTaken()

    def enter(self) -> Intent | None:
        return WayTaken()

    def back(self) -> Intent | None:
        self.canvas.show_ways((), 0)
        return None
