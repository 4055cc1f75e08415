"""SKP-05, the levelling foot, from caliper readings alone: turned, hexagon with turned corners, ball, slot, modelled
thread. Zero: where the neck meets the ball.
"""

from __future__ import annotations

from scripted import drawn, new_sketch, related, sized

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.settle import set_stations, settle
from lathed_solid.core.prove.binding import Binding
from lathed_solid.core.route.gauges import Between, Depth, Diameter, ThreadDepth
from lathed_solid.core.route.model import FaceRef
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.polygon import Polygon
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.thread import Thread
from lathed_solid.core.sketch.model import ALONG, ORIGIN, Arc, Plane, Sketch, Station

#: How far the ball's middle lies before zero: there its surface has the neck's diameter.
BEHIND = "sqrt((#8/2)^2-(#4/2)^2)"


def half_disc(sketch: Sketch, content: Content) -> Sketch:
    """Half of the ball over the axis."""
    ledger = content.ledger()
    sketch = drawn(sketch, ledger, "arc about -4.873,0 1.127,0 -10.873,0")
    arc = sketch.curves()[-1]
    assert isinstance(arc, Arc)
    sketch = drawn(sketch, ledger, f"line {arc.b} {arc.a}")
    for point in (arc.center, arc.a, arc.b):
        if not any(r.kind == "on" and r.of == (point, ALONG) for r in sketch.relations):
            sketch = related(sketch, ledger, "on", point, ALONG)
    sketch = sized(sketch, ledger, "#8/2", arc.id, kind="radius")
    return sized(sketch, ledger, BEHIND, ORIGIN, arc.center, kind="along")


def foot(content: Content) -> Content:
    """The route under the ledger that the calipers filled (#1 overall … #10 slot, deep)."""
    content, profile = edits.add_sketch(content, "Turned profile", Plane("turning"))
    content, _ = edits.with_step(content, Revolve, name="Neck, blank, shank", sketch=profile)
    stations = (
        Station(id="neck", length="#5", diameter="#4"),
        Station(id="blank", length="#3", diameter="20"),
        Station(id="shank", to=f"#1-#8/2-{BEHIND}", diameter="8", right="1 x 45°"),
    )
    content = set_stations(content, profile, stations)
    content, ball = edits.add_sketch(content, "Ball", Plane("turning"))
    content = edits.set_sketch(content, half_disc(content.sketch(ball), content))
    content, _ = edits.with_step(content, Revolve, name="Ball", sketch=ball)
    content, _ = edits.with_step(
        content, Polygon, name="Hexagon", face=FaceRef("s1/blank.od/side", "round face Ø20, on the axis"), across="#2"
    )
    content, _ = edits.with_step(
        content, Thread, name="Thread", face=FaceRef("s1/shank.od/side", "round face Ø8, on the axis"), note="#6",
        length="#7", form="modelled",
    )  # fmt: skip
    end = Plane("face", on="s1/shank.end/side")
    content, slot = new_sketch(content, "Screwdriver slot", end, "rect 10 x #9 at 0,0")
    content, _ = edits.with_step(
        content, Extrude, name="Screwdriver slot", sketch=slot, extent="depth", depth="#10", direction="backward"
    )
    for binding in (
        Binding(1, "", Between("s1/shank.end/side", "s2/a1/side", True)),
        Binding(3, "", Between("s1/neck.end/side", "s1/blank.end/side")),
        Binding(5, "", Depth("s1/neck.od/side", "s1/neck.end/side")),
        Binding(8, "", Diameter("s2/a1/side")),
        Binding(7, "", ThreadDepth("s1/shank.od/side")),
    ):
        content = edits.bind(content, binding)
    return settle(content).content
