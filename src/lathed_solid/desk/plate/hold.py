"""The tool in hand: what has been clicked and typed so far, and what it would make just now."""

from __future__ import annotations

from collections.abc import Mapping

from ...core.sketch.hand.tool import Given, Tool, Typed
from ...core.sketch.make.draw import Spot
from ...core.sketch.make.snap import Snap, snap
from ...core.sketch.model import Sketch
from ...core.sketch.refusal import SketchError
from ...core.sketch.traces import Traces

#: Beyond this many elements only the places clicked are shown, not what they would make.
PREVIEWED = 400


class Hand:
    """Holds one tool. ``preview`` is the sketch as it would become, None where that cannot be said."""

    def __init__(self) -> None:
        self.tool: Tool | None = None
        self.spots: list[Spot] = []
        self.typed: dict[str, Typed] = {}
        self.snap = Snap(Spot(0.0, 0.0))
        self.held: dict[str, float] = {}
        self.preview: Sketch | None = None
        self.trouble = ""
        self.choosing = False

    def take(self, tool: Tool | None, chosen: bool) -> None:
        """Take a tool; one that works on chosen elements waits for them first when there are none."""
        self.tool = tool
        self.choosing = tool is not None and bool(tool.chosen) and not chosen
        self.drop()

    def drop(self) -> None:
        """Forget what was clicked and typed; the tool stays in hand."""
        self.spots.clear()
        self.typed.clear()
        self.held.clear()
        self.preview, self.trouble = None, ""

    @property
    def draws(self) -> bool:
        return self.tool is not None and not self.choosing

    @property
    def here(self) -> Spot:
        """Where the next click lands: the snap, moved to where typed values want it."""
        if self.tool is None:
            return self.snap.spot
        return self.tool.aim(tuple(self.spots), self.snap.spot, self.typed)

    @property
    def prompt(self) -> str:
        if self.tool is None:
            return ""
        if self.choosing:
            return f"{self.tool.title}: click {self.tool.chosen}, Enter when done"
        return f"{self.tool.title}: {self.tool.prompt(len(self.spots))}"

    def move(
        self,
        sketch: Sketch,
        at: tuple[float, float],
        reach: float,
        free: bool,
        chosen: tuple[str, ...],
        under: Traces | None,
    ) -> None:
        """The cursor is at a place (mm); ``free`` holds snaps off; ``under``: the scan below."""
        x, y = self.held.get("x", at[0]), self.held.get("y", at[1])
        last = self.spots[-1] if self.spots else None
        self.snap = Snap(Spot(x, y)) if free or self.held else snap(sketch, x, y, reach, last, traces=under)
        self.show(sketch, chosen)

    def hold(self, axis: str) -> None:
        """Take X (or Y) from where the cursor is and keep it for the next place."""
        self.held[axis] = self.snap.spot.x if axis == "x" else self.snap.spot.y

    def show(self, sketch: Sketch, chosen: tuple[str, ...]) -> None:
        """Work out what the next click would make."""
        self.preview, self.trouble = None, ""
        tool = self.tool
        if tool is None or self.choosing or len(sketch.entities) > PREVIEWED:
            return
        spots = (*self.spots, self.here)
        if len(spots) != tool.clicks and not (tool.clicks < 0 and len(spots) > 1):
            return
        try:
            self.preview = tool.make(sketch, Given(spots, self.typed, chosen))
        except SketchError as error:
            self.trouble = str(error)

    def click(self, chosen: tuple[str, ...]) -> Given | None:
        """The place under the cursor is taken; what the tool is to make when that was the last one."""
        assert self.tool is not None
        self.spots.append(self.here)
        self.held.clear()
        closed = self.tool.clicks < 0 and len(self.spots) > 2 and self.spots[-1].xy == self.spots[0].xy
        return self.finish(chosen) if len(self.spots) == self.tool.clicks or closed else None

    def finish(self, chosen: tuple[str, ...]) -> Given | None:
        """What was given so far; None while it is not enough."""
        assert self.tool is not None
        if self.tool.clicks < 0 and len(self.spots) < 2:
            return None
        given = Given(tuple(self.spots), dict(self.typed), chosen)
        kept = {f.key: self.typed[f.key] for row in self.tool.fields for f in row if f.usual and f.key in self.typed}
        self.drop()
        # A radius typed once serves for the next corner too.
        self.typed.update(kept)
        return given

    def live(self, sketch: Sketch, chosen: tuple[str, ...]) -> Mapping[str, float]:
        """What the fields beside the cursor show."""
        if self.tool is None:
            return {}
        spots, here = tuple(self.spots), self.here
        try:
            measured = self.tool.measure(sketch, Given((*spots, here), self.typed, chosen))
        except SketchError:
            measured = {}
        return {**self.tool.live(spots, here), **measured}
