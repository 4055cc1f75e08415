"""SKP-06, the float-line drum: rim and hub joined by three spokes, a helical groove for the line, an engraved number.
Zero: the left face, on the axis.
"""

from __future__ import annotations

from scripted import drawn, new_sketch, sized, with_callouts

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.settle import set_stations, settle
from lathed_solid.core.prove.binding import Binding
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.gauges import HelixSize
from lathed_solid.core.route.model import EdgeRef, FaceRef
from lathed_solid.core.route.settling import dimension_values, settle_sketch
from lathed_solid.core.route.steps.edges import Chamfer
from lathed_solid.core.route.steps.engrave import Engrave
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.keyway import Keyway
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.route.steps.ring import Ring
from lathed_solid.core.route.steps.sweep import Sweep
from lathed_solid.core.sketch.explain import finish
from lathed_solid.core.sketch.make.draw import toggle_construction
from lathed_solid.core.sketch.model import Plane, Station

#: Where the cutter's middle goes, as a diameter: its bottom lies as deep as stated.
GROOVE = "#1-2*#9+#8"
#: The letters, 3 high, stand in the middle of the rim.
LINE = "(#1+#2)/4-1.3"

CALLOUTS = [
    ("Ø96", "rim"),
    ("Ø84", "rim, inside"),
    ("34", "width"),
    ("Ø26", "hub"),
    ("Ø10 H7 THRU", "bore"),
    ("12", "spokes, wide"),
    ("8", "spokes, thick"),
    ("Ø2.4", "line groove, cutter"),
    ("1", "line groove, deep"),
    ("3.5", "line groove, pitch"),
    ("0.5 x 45°", "bore, both ends"),
    ("3", "key, wide"),
    ("11.4", "key, across the bore"),
]


def drum(content: Content) -> Content:
    content = with_callouts(content, CALLOUTS)
    content, profile = edits.add_sketch(content, "Turned profile", Plane("turning"))
    content, _ = edits.with_step(content, Revolve, name="Rim", sketch=profile)
    content = set_stations(content, profile, (Station(id="rim", to="#3", diameter="#1"),))
    left, right = FaceRef("s1/start/side", "left face"), FaceRef("s1/rim.end/side", "right face")
    content, _ = edits.with_step(content, Hole, name="Rim, inside", face=left, placement="axis", diameter="#2")
    content, cutter = new_sketch(content, "Groove", Plane("turning"), f"circle Ø#8 at (#3-7*#10)/2,{GROOVE}")
    content, _ = edits.with_step(
        content,
        Sweep,
        name="Line groove",
        sketch=cutter,
        mode="cut",
        path="helix",
        pitch="#10",
        turns="7",
        round_face=FaceRef("s1/rim.od/side", "round face Ø96, on the axis"),
    )
    content = edits.bind(content, Binding(9, "", HelixSize("s3/c1/side", "s1/rim.od/side", "depth")))
    middle = Plane("end", offset="#3/2-#7/2")
    content, spoke = new_sketch(content, "Spoke", middle, "rect #2/2+1 x #6 at (#2/2+1)/2,0")
    content, one = edits.with_step(
        content, Extrude, name="Spoke", sketch=spoke, mode="add", extent="depth", depth="#7", direction="forward"
    )
    content, _ = edits.with_step(content, Ring, name="Spokes", of=(one,), count="3")
    content, hub = new_sketch(content, "Hub", Plane("end"), "circle Ø#4 at 0,0")
    content, _ = edits.with_step(
        content, Extrude, name="Hub", sketch=hub, mode="add", extent="depth", depth="#3", direction="forward"
    )
    content, _ = edits.with_step(
        content, Hole, name="Bore", face=FaceRef("s6/start", "hub, left end"), placement="axis", diameter="#5"
    )
    content, _ = edits.with_step(
        content, Keyway, name="Keyway", face=FaceRef("s7/0/side", "bore Ø10.000"), form="bore", width="#12",
        across="#13", angle="90°",
    )  # fmt: skip
    bore = "s7/0/side"
    content, _ = edits.with_step(
        content, Chamfer, name="Bore, both ends", size="#11", angle="#11.angle",
        edges=(EdgeRef("s6/start", bore), EdgeRef("s6/end", bore)),
    )  # fmt: skip
    return settle(_engraved(content, right)).content


def _engraved(content: Content, face: FaceRef) -> Content:
    """The part's number along an arc on the rim's right face."""
    content, letters = edits.add_sketch(content, "Number", Plane("face", on=face.name))
    ledger = content.ledger()
    sketch = drawn(content.sketch(letters), ledger, "arc about 0,0 43.7,0 -43.7,0")
    line = sketch.curves()[-1].id
    sketch = sized(toggle_construction(sketch, [line]), ledger, LINE, line)
    sketch = drawn(sketch, ledger, 'text "SKP-06" 3 on a1 middle bold')
    for pin in finish.pins(sketch, dimension_values(sketch, ledger)):
        sketch = finish.with_pin(sketch, pin, content.header.typed_style.length(pin.value))
    content = edits.set_sketch(content, settle_sketch(sketch, ledger))
    content, _ = edits.with_step(
        content, Engrave, name="Engraved number", face=face, sketch=letters, depth="0.3", group="cosmetic"
    )
    return content
