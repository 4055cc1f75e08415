"""All tools by name, and how they are grouped on the plate."""

from __future__ import annotations

from .changing import CHANGING
from .drawing import DRAWING
from .tool import Tool

TOOLS: dict[str, Tool] = {t.id: t for t in (*DRAWING, *CHANGING)}

#: Groups on the plate's head: the first tool shows, the others hang below it.
GROUPS: tuple[tuple[str, ...], ...] = (
    ("line", "centre_line", "point"),
    ("rectangle", "centre_rectangle", "slanted_rectangle"),
    ("circle", "ellipse"),
    ("arc", "centre_arc", "tangent_arc"),
    ("polygon", "corner_polygon"),
    ("slot", "arc_slot"),
    ("spline", "text"),
    ("trim", "extend", "split"),
    ("fillet", "chamfer", "offset"),
    ("mirror", "mirror_copy", "move", "copy", "turn", "scale"),
    ("row", "grid", "ring", "space"),
)
