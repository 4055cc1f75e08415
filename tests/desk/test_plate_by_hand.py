"""The base plate's outline, pocket and slot, and the pen-arm clamp's tangent outline with its offset pockets, drawn on
the plate with mouse and keys; both end fully pinned and closed."""

import math

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from lathed_solid.core.job import edits
from lathed_solid.core.sketch.model import Arc, Circle
from lathed_solid.core.sketch.region import find_regions

INCH = 25.4


def type_here(desk, *texts):
    """Type into the fields beside the cursor as a hand does: whatever has the focus gets the keys, Tab between them."""
    for k, text in enumerate(texts):
        if k:
            desk.press(QApplication.focusWidget(), Qt.Key.Key_Tab)
        for letter in text:
            QTest.keyClicks(QApplication.focusWidget(), letter)
    desk.press(QApplication.focusWidget(), Qt.Key.Key_Return)
    QTest.qWait(20)


def area(region):
    return abs(region.outer.area) - sum(abs(h.area) for h in region.holes)


def test_the_base_plate(desk, plate):
    desk.session.edit(lambda c: edits.set_header(c, units="in"), "inches")
    # The outline by mouse, its sizes typed beside the cursor.
    desk.tool("rectangle")
    plate.canvas.t.scale = 2.0
    desk.plate_click(0, 0)
    QTest.mouseMove(plate.canvas, desk.on_plate(150, 100))
    type_here(desk, "7 1/2", "4 3/4")
    assert plate.canvas.look.freedom.ways == 0
    assert [d.text for d in plate.sketch.dimensions] == ["7 1/2", "4 3/4"]
    w, h = 7.5 * INCH, 4.75 * INCH
    # One relief with its size, three more made equal to it.
    desk.tool("circle")
    plate.canvas.fit()
    corners = [(0, 0), (w, 0), (w, h), (0, h)]
    for k, (x, y) in enumerate(corners):
        desk.plate_click(x, y)
        QTest.mouseMove(plate.canvas, desk.on_plate(x + 9, y + 9 if k else y + 8))
        if k == 0:
            type_here(desk, "2*3/8")
        else:
            desk.plate_click(x + 8, y + 6)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    circles = [c.id for c in plate.sketch.curves() if isinstance(c, Circle)]
    assert len(circles) == 4
    plate.canvas.choose()
    for id_, (x, y) in zip(circles, corners, strict=True):
        r = plate.sketch.get(id_).radius * 0.7071
        inside = (x + (r if x == 0 else -r), y + (r if y == 0 else -r))
        desk.plate_click(*inside, Qt.KeyboardModifier.ControlModifier)
    assert plate.canvas.chosen == tuple(circles)
    desk.click(desk.plate_button("equal"))
    assert plate.canvas.look.freedom.ways == 0
    # What stands over at each corner is trimmed away.
    desk.tool("trim")
    r = 0.375 * INCH
    for x, y in corners:
        out = (-1 if x == 0 else 1, -1 if y == 0 else 1)
        desk.plate_click(x + out[0] * r * 0.7071, y + out[1] * r * 0.7071)
        desk.plate_click(x - out[0] * r * 0.5, y)
        desk.plate_click(x, y - out[1] * r * 0.5)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    assert plate.canvas.look.freedom.ways == 0, plate.strip.words.text()
    (region,) = find_regions(plate.sketch).regions
    assert area(region) == pytest.approx(w * h - math.pi * r * r, rel=1e-3)
    # The pocket by typing its rectangle, its corners by mouse.
    desk.enter("rect 3 1/8 x 1 7/8 at 2 1/2, 2 3/8")
    desk.tool("fillet")
    pocket = (3.125 * INCH, 1.875 * INCH)
    mid = (2.5 * INCH, 2.375 * INCH)
    for k, (sx, sy) in enumerate(((-1, -1), (1, -1), (1, 1), (-1, 1))):
        at = (mid[0] + sx * pocket[0] / 2, mid[1] + sy * pocket[1] / 2)
        QTest.mouseMove(plate.canvas, desk.on_plate(*at))
        if k == 0:
            type_here(desk, "3/16")
        else:
            desk.plate_click(*at)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    desk.enter("slot 5/16 x 1 1/4 at 5 3/4, 2 3/8")
    assert plate.canvas.look.freedom.ways == 0, plate.strip.words.text()
    regions = find_regions(plate.sketch)
    assert regions.problem(plate.sketch) == ""
    (outline,) = regions.regions
    assert len(outline.holes) == 2
    rounded = pocket[0] * pocket[1] - (4 - math.pi) * (3 / 16 * INCH) ** 2
    slot = 1.25 * 0.3125 * INCH**2 + math.pi * (0.15625 * INCH) ** 2
    assert area(outline) == pytest.approx(w * h - math.pi * r * r - rounded - slot, rel=1e-3)
    assert plate.strip.words.text().startswith("Nothing can move")


def draw_clamp(desk, plate):
    """Two eyes joined by one outward and one inward tangent arc; the outline's curves."""
    desk.enter("circle Ø30 at 0,0")
    desk.enter("circle Ø18 at 46,6")
    canvas = plate.canvas
    canvas.fit()
    # One arc bulging out over the top, one bowing in below; both begin and end on the eyes.
    for a, b, over in (((-2, 14.87), (45, 14.95), (24, 20)), ((8, -12.69), (44, -2.78), (27, -3))):
        desk.tool("arc")
        desk.plate_click(*a)
        desk.plate_click(*b)
        desk.plate_click(*over)
        desk.press(canvas, Qt.Key.Key_Escape)
        arc = next(e.id for e in reversed(plate.sketch.entities) if isinstance(e, Arc))
        for eye in ("c1", "c2"):
            canvas.choose(arc, eye)
            plate._on_chosen()
            desk.click(desk.plate_button("tangent"))
        canvas.choose(arc)
        plate._on_chosen()
        desk.size("60" if over[1] > 0 else "40", "size R")
    assert canvas.look.freedom.ways == 0, plate.strip.words.text()
    desk.tool("trim")
    canvas.fit()
    desk.plate_click(14.5, 3.8)
    desk.plate_click(37.2, 4.2)
    desk.press(canvas, Qt.Key.Key_Escape)
    assert canvas.look.freedom.ways == 0, plate.strip.words.text()
    regions = find_regions(plate.sketch)
    assert regions.problem(plate.sketch) == ""
    (outline,) = regions.regions
    assert len(outline.outer.curves) == 4
    return [name for name, _ in outline.outer.curves]


def test_the_clamp(desk, plate):
    outline, canvas = draw_clamp(desk, plate), plate.canvas
    for text in ("circle Ø14 at 0,0", "circle Ø7 at 46,6"):
        desk.enter(text)
    # A pocket: 3 in from the outline, 3 out from the bores; signed and each held by one size.
    canvas.choose(*outline)
    plate._on_chosen()
    desk.enter("offset -3")
    bores = [c.id for c in plate.sketch.curves() if isinstance(c, Circle) and c.id not in ("c1", "c2")]
    canvas.choose(*(b for b in bores if plate.sketch.get(b).radius in (7.0, 3.5)))
    plate._on_chosen()
    desk.tool("offset")
    QTest.mouseMove(canvas, desk.on_plate(0, 9.5))
    type_here(desk, "2")
    assert canvas.look.freedom.ways == 0, plate.strip.words.text()
    offsets = [d for d in plate.sketch.dimensions if d.kind == "offset"]
    assert [len(d.of) for d in offsets] == [8, 4]
    assert find_regions(plate.sketch).problem(plate.sketch) == ""
    # A stated number changes and everything follows on the same branch; the tool in hand does not hear that Return.
    eye = next(d for d in plate.sketch.dimensions if d.text == "30")
    canvas.edit_dimension(eye.id)
    editor = canvas._editor
    editor.setText("32")
    desk.press(editor, Qt.Key.Key_Return)
    QTest.qWait(20)
    assert [d.text for d in plate.sketch.dimensions if d.kind == "offset"] == ["3", "2"]
    assert plate.sketch.get("c1") is not None
    assert find_regions(plate.sketch).problem(plate.sketch) == ""
    assert canvas.look.freedom.ways == 0
    assert isinstance(plate.sketch.get("c1"), Arc)
    point = plate.sketch.points()[plate.sketch.get("c1").a]
    assert math.hypot(point.x, point.y) == pytest.approx(16)
    assert canvas.rect().contains(QPoint(5, 5))
