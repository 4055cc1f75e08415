"""What a picture of a sketch shows besides its geometry."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtGui import QColor

from ...core.sketch.region import Regions
from ...core.sketch.traces import Traces

if TYPE_CHECKING:
    from ...core.sketch.explain.diagnose import Freedom  # loads SciPy, which a picture does not need

#: What stands in the way of something else.
BLAMED = QColor("#FF9B8A")


class Look(NamedTuple):
    """Choices, what is under the cursor, freedom, regions, texts, what is blamed, areas taken by the step;
    ``dragging`` leaves out what cannot keep up; ``axes`` are the part's own to the right and upward (``Z``, ``-X``)."""

    chosen: frozenset[str] = frozenset()
    hover: str = ""
    freedom: Freedom | None = None
    regions: Regions | None = None
    texts: dict[str, str] = {}
    blamed: frozenset[str] = frozenset()
    areas: tuple[str, ...] = ()
    choosing_areas: bool = False
    all_marks: bool = False
    dragging: bool = False
    axes: tuple[str, str] = ("", "")
    #: The linework of a scan below.
    traces: Traces | None = None
