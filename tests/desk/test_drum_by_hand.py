"""A drum like SKP-06 from an empty job, with mouse and keys: rim, groove swept along a helix, spokes in a ring, hub,
bore with its keyway, chamfer and letters."""

import math

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from .test_bracket_by_hand import done, fill

CALLOUTS = ["Ø96", "Ø84", "34", "Ø26", "Ø10 H7 THRU", "12", "8", "Ø2.4", "1", "3.5", "0.5 x 45°", "3", "11.4"]
RIM = math.pi * (48**2 - 42**2) * 34
#: Of a key 3 wide, what lies outside the bore Ø10 when it measures 11.4 across.
KEY_AREA = 3 * 6.4 - 1.5 * math.sqrt(25 - 1.5**2) - 25 * math.asin(0.3)
#: Of the cutter's circle Ø2.4, what lies below the rim when its bottom is 1 deep.
GROOVE_AREA = 1.2**2 * math.acos(0.2 / 1.2) - 0.2 * math.sqrt(1.2**2 - 0.2**2)


def new_sketch(desk, title):
    """Add a step that needs an outline; its empty plate is at hand."""
    desk.enter(f"add: {title}")
    desk.wait(lambda: desk.window.plate.sketch is not None and not desk.window.plate.sketch.entities)
    desk.settled()


def slab(desk, outline="rect #1 x #2"):
    """A plate of that outline, as thick as callout 3; its volume."""
    new_sketch(desk, "extrude")
    desk.enter(outline)
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    return done(desk)


def pick_face(desk, index, radius, length):
    """Click a round face about the axis where it shows."""
    part = desk.window.part
    for k in range(24):
        for z in [length * j / 16 for j in range(1, 16)]:
            point = (radius * math.cos(k * math.pi / 12), radius * math.sin(k * math.pi / 12), z)
            found = part.scene.hover(*part.surface.view.Convert(*point))
            if found is not None and part.scene.is_face(found) and part.scene.body.index(found) == index:
                desk.pick(point)
                return
    raise AssertionError("the face shows nowhere")


def test_the_drum_by_mouse_and_keyboard(desk):
    session, window = desk.session, desk.window
    for note in CALLOUTS:
        desk.enter(note)
    desk.enter("add: turned")
    desk.cell(0, 0, "#3")
    desk.cell(0, 2, "#1")
    desk.settled()
    # The hollow of the rim: a hole on the axis of its left face.
    desk.look("L")
    desk.pick((10, 12, 0))
    desk.enter("add: hole")
    desk.settled()
    desk.choose("Where", "on the face's axis")
    fill(desk, Drill_Ø="#2")
    assert done(desk) == pytest.approx(RIM)
    # One spoke across the axis, half way along, and two more round it.
    new_sketch(desk, "extrude")
    desk.enter("rect #2/2+1 x #6 at (#2/2+1)/2,0")
    desk.settled()
    desk.choose("Material", "add")
    desk.choose("How far", "to a depth")
    desk.choose("Direction", "forward")
    fill(desk, Offset="#3/2-#7/2", Depth="#7")
    assert done(desk) > RIM
    desk.enter("add: ring")
    desk.settled()
    fill(desk, Count="3")
    desk.enter("add: extrude")
    desk.settled()
    desk.enter("circle Ø#4 at 0,0")
    desk.settled()
    desk.choose("Material", "add")
    desk.choose("How far", "to a depth")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#3")
    hubbed = done(desk)
    # Bore, on the axis of the hub.
    desk.look("L")
    desk.pick((-8, -7, 0))
    desk.enter("add: hole")
    desk.settled()
    desk.choose("Where", "on the face's axis")
    fill(desk, Drill_Ø="#5")
    bored = done(desk)
    assert hubbed - bored == pytest.approx(math.pi * 25 * 34)
    # The keyway is cut into the bore, which shows when the drum is turned a little.
    for key in (Qt.Key.Key_Right,) * 2:
        desk.press(window.part, key)
    QTest.qWait(300)
    face = next(i for i, n in enumerate(session.current.built.names, 1) if f"{session.step}/0/side" in n)
    pick_face(desk, face, 5, 34)
    desk.enter("add: keyway")
    desk.settled()
    fill(desk, Width="#12")
    fill(desk, Floor_to_far_side="#13", Angle="90")
    keyed = done(desk)
    assert bored - keyed == pytest.approx(34 * KEY_AREA, rel=1e-4)
    # Both ends of the bore are chamfered: their edges are clicked, one from each side.
    desk.enter("add: chamfer")
    desk.settled()
    desk.click(desk.field("Pick Edges"))
    desk.settled()
    for view, z in (("L", 0), ("R", 34)):
        desk.look(view)
        desk.pick((-5 * math.cos(0.6), -5 * math.sin(0.6), z))
        desk.settled()
    desk.click(desk.field("Pick Edges"))
    fill(desk, Size="#11")
    chamfered = done(desk)
    # The groove: a cutter's circle on the turning plane, swept about the round face that was picked.
    desk.look("F")
    desk.pick((0, -48, 17))
    new_sketch(desk, "sweep")
    desk.enter("circle Ø#8 at (#3-7*#10)/2,#1-2*#9+#8")
    desk.settled()
    desk.choose("Material", "cut away")
    assert desk.field("Along").currentText() == "a helix"  # because a round face was picked
    fill(desk, Pitch="#10", Turns="7")
    grooved = done(desk)
    # Seven turns of the cutter's segment, each as long as its middle's way round.
    assert chamfered - grooved == pytest.approx(7 * GROOVE_AREA * math.hypot(math.pi * 95.2, 3.5), rel=0.02)
    assert [session.current.proof.mark_of(c.number) for c in session.content.callouts] == ["in"] * 8 + ["open"] + [
        "in"
    ] * 4
