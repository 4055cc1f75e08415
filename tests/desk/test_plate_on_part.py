"""The plate on a face of the part: what is under it can be snapped to and sized from, the view keeps its place."""

import math

import msgspec
import pytest
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtTest import QTest

from lathed_solid.core.job import edits
from lathed_solid.core.sketch.model import Circle, Projected
from lathed_solid.core.sketch.shadow import PART, SHADOW
from lathed_solid.desk.plate.intents import SizeGiven

from .test_bracket_by_hand import done, fill
from .test_drum_by_hand import new_sketch
from .test_part_view_by_hand import new_block


@pytest.fixture
def plate(desk):
    """A sketch on top of a block that is bored from below: nothing of the bore is in the face itself."""
    for note in ("80", "50", "20", "Ø16", "12", "18", "Ø7 THRU", "30"):
        desk.enter(note)
    new_block(desk, "rect #1 x #2 at #1/2,#2/2", "#3")
    new_sketch(desk, "extrude")
    desk.enter("circle Ø#4 at 50,25")
    desk.choose("Material", "cut away")
    desk.choose("How far", "to a depth")
    desk.choose("Direction", "forward")
    fill(desk, Depth="#5")
    done(desk)
    desk.look("T")
    desk.pick((10, 10, 20))
    new_sketch(desk, "extrude")
    desk.wait(lambda: any(e.id.startswith(PART) for e in desk.window.plate.sketch.entities))
    desk.window.toggle_large()
    QTest.qWait(30)
    return desk.window.plate


def stored(desk):
    return desk.session.content.sketches[-1]


def test_the_part_is_there_and_stored_only_where_it_is_used(desk, plate):
    assert stored(desk).entities == ()
    assert plate.canvas.look.axes == ("X", "Y")
    # A circle about the bore's own centre, which is nowhere in this sketch.
    desk.tool("circle")
    desk.plate_click(50, 25)
    desk.plate_click(50, 30)
    desk.tool("select")
    (made,) = [c for c in stored(desk).curves() if isinstance(c, Circle) and not c.construction]
    heads = {p.id for p in stored(desk).projected}
    assert len(heads) == 1 and made.center.partition(".")[0] in heads, "only the bore's edge was taken"
    assert not any(p.id == SHADOW for p in stored(desk).projected)
    # It follows the bore, whose place is a size of another sketch.
    first = next(s for s in desk.session.content.sketches if any(d.text == "#4" for d in s.dimensions))
    desk.window.plate.show_sketch(first.id)
    figure = next(d for d in first.dimensions if d.text in ("50", "50.0"))
    desk.window.plate.canvas.wanted.emit(SizeGiven(figure.id, "44"))
    desk.settled()
    centre = stored(desk).points()[made.center]
    assert (centre.x, centre.y) == pytest.approx((44, 25))


def test_a_hole_is_sized_from_an_edge_of_the_part(desk, plate):
    desk.tool("circle")
    desk.plate_click(22.3, 31.7)
    desk.plate_click(22.3, 36.1)
    desk.tool("select")
    desk.settled()
    (made,) = [c for c in stored(desk).curves() if isinstance(c, Circle) and not c.construction]
    edge = next(c.id for c in plate.sketch.curves() if c.id.startswith(f"{SHADOW}.") and _upright(plate.sketch, c, 0))
    floor = next(c.id for c in plate.sketch.curves() if c.id.startswith(f"{SHADOW}.") and _level(plate.sketch, c, 0))
    choose(plate, made.id)
    desk.size("#7")
    desk.settled()
    before = plate.canvas.t.x0, plate.canvas.t.scale
    for line, text in ((edge, "#6"), (floor, "#8")):
        choose(plate, line, made.center)
        desk.size(text)
        desk.settled()
    assert (plate.canvas.t.x0, plate.canvas.t.scale) == before, "the view keeps its place"
    assert stored(desk).points()[made.center].x == pytest.approx(18)
    desk.choose("Material", "cut away")
    desk.choose("How far", "through all")
    done(desk)
    proof = desk.session.current.proof
    assert [(line.number, line.mark) for line in proof.lines if line.mark not in ("in",)] == []


def test_a_sketch_takes_the_lines_of_another_and_follows_them(desk, plate):
    desk.window.run(desk.window.actions_.get("plate.borrow"))
    lender = desk.session.content.sketches[1]
    desk.click(desk.plate_button(lender.name))
    desk.wait(lambda: any(e.id.startswith("j1.") for e in stored(desk).entities))
    (round_,) = [c for c in stored(desk).curves() if c.id.startswith("j1.")]
    assert isinstance(round_, Circle) and round_.construction and round_.radius == pytest.approx(8)
    choose(plate, round_.id)
    plate.toggle_construction()
    desk.choose("Material", "cut away")
    desk.choose("How far", "to a depth")
    desk.choose("Direction", "backward")
    fill(desk, Depth="3")
    first = done(desk)
    desk.session.edit(lambda c: edits.edit_callout(c, 4, "Ø20"), "a larger bore")
    desk.settled()
    (round_,) = [c for c in stored(desk).curves() if c.id.startswith("j1.")]
    assert round_.radius == pytest.approx(10), "it follows the sketch that lent it"
    assert first - done(desk) == pytest.approx(math.pi * (10**2 - 8**2) * (12 + 3), rel=1e-6)


def test_two_sketches_cannot_take_each_other_s_lines(desk, plate):
    first, second = desk.session.content.sketches[1].id, stored(desk).id

    def borrow(content, own, other):
        sketch = content.sketch(own)
        item = Projected(id="j9", mode="sketch", a=other, was="lines")
        return edits.set_sketch(content, msgspec.structs.replace(sketch, projected=(*sketch.projected, item)))

    desk.session.edit(lambda c: borrow(borrow(c, first, second), second, first), "in a ring")
    desk.settled()
    messages = [r.message for r in desk.session.current.reports.values() if r.state == "failed"]
    assert any("take each other" in m for m in messages), messages


def test_points_lie_over_texts_and_short_lines_can_be_chosen(desk, plate):
    desk.enter("line 20,30 60,30")
    desk.enter("line 60,30 60,30.8")
    desk.settled()
    canvas = plate.canvas
    sketch = plate.sketch
    short = next(c for c in stored(desk).curves() if abs(sketch.points()[c.b].y - 30.8) < 1e-6)
    assert canvas.under(canvas.t.px(60, 30.4)) == short.id
    canvas.picture.boxes["a size"] = QRectF(canvas.t.px(20, 30) - QPointF(40, 9), QSizeF(80, 18))
    own = next(p.id for p in stored(desk).points().values() if abs(p.x - 20) < 1e-9)
    assert canvas.under(canvas.t.px(20, 30)) == own
    assert canvas.under(canvas.t.px(20, 30) + QPointF(12, 0)) == "a size"


def test_an_empty_plate_is_turned_by_a_key(desk, plate):
    desk.press(desk.window, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert stored(desk).plane.angle == "90°"
    assert plate.canvas.look.axes == ("Y", "-X")
    desk.enter("circle Ø#4 at 10,-20")
    desk.settled()
    desk.press(desk.window, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    assert stored(desk).plane.angle == "90°" and "before anything is drawn" in desk.said[-1][0]


def choose(plate, *ids):
    plate.canvas.choose(*ids)
    plate._on_chosen()


def _level(sketch, curve, y):
    points = sketch.points()
    a, b = points.get(getattr(curve, "a", "")), points.get(getattr(curve, "b", ""))
    return a is not None and b is not None and abs(a.y - y) < 1e-6 and abs(b.y - y) < 1e-6


def _upright(sketch, curve, x):
    points = sketch.points()
    a, b = points.get(getattr(curve, "a", "")), points.get(getattr(curve, "b", ""))
    return a is not None and b is not None and abs(a.x - x) < 1e-6 and abs(b.x - x) < 1e-6
