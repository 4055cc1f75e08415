"""What an outline becomes, whether a DXF states it or it is drawn over a scan."""

from __future__ import annotations

from typing import Literal, NamedTuple

from ...core.route.model import StepBase
from ...core.route.steps.extrude import Extrude
from ...core.route.steps.revolve import Revolve


class Use(NamedTuple):
    """The plane an outline lies on and the step that uses it."""

    words: str
    base: Literal["turning", "end", "side"]
    step: type[StepBase]
    fields: dict[str, str]


USES = (
    Use("a turned profile, lower edge on the axis", "turning", Revolve, {"name": "Turn profile"}),
    Use("a body of some depth", "end", Extrude, {"name": "Body", "mode": "add", "extent": "depth"}),
    Use("a cut along the axis", "end", Extrude, {"name": "Cut"}),
    Use("a cut across the axis", "side", Extrude, {"name": "Cut"}),
)
#: Which of them is likeliest where nothing is known.
BODY = 1
