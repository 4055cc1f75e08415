"""What a gesture on the plate asks for. The canvas tells it, the panel does it."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF

from ...core.sketch.hand.tool import Given


class Made(NamedTuple):
    """A tool has all it needs."""

    tool: str
    given: Given


class Chosen(NamedTuple):
    """Other elements are chosen than before."""

    ids: tuple[str, ...]


class DragBegun(NamedTuple):
    """An element is taken hold of at a place (mm)."""

    element: str
    x: float
    y: float


class Dragged(NamedTuple):
    x: float
    y: float


class TextMoved(NamedTuple):
    """A size's text follows the hand (mm)."""

    dimension: str
    x: float
    y: float


class DragEnded(NamedTuple):
    """What was dragged is let go."""


class SizeGiven(NamedTuple):
    """A new formula for a size."""

    dimension: str
    text: str


class WordsGiven(NamedTuple):
    """Other words for letters."""

    text: str
    words: str


class DeleteWanted(NamedTuple):
    """What is chosen is to go."""


class ToolDropped(NamedTuple):
    """The tool in hand is put back."""


class CalloutDropped(NamedTuple):
    """A balloon was let go over the plate (pixels)."""

    text: str
    at: QPointF


class AreaClicked(NamedTuple):
    """A place (mm) in an area to be taken or left."""

    x: float
    y: float


class WayWanted(NamedTuple):
    """The next (1) or last (-1) other solution is to be shown."""

    by: int


class WayTaken(NamedTuple):
    """The other solution that is shown is taken."""


Intent = (
    Made
    | Chosen
    | DragBegun
    | Dragged
    | TextMoved
    | DragEnded
    | SizeGiven
    | WordsGiven
    | DeleteWanted
    | ToolDropped
    | CalloutDropped
    | AreaClicked
    | WayWanted
    | WayTaken
)
