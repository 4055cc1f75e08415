"""SKP-01 from an empty job, with mouse and keyboard only."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

CALLOUTS = [
    "Ø12 h6 ; journal", "22 ; to relief", "1 x 45° ; left end", "Ø11.2 ; relief groove", "24 ; relief end",
    "Ø20 ; drum seat", "92 ; to collar", "R1 ; at collar", "Ø34 ; collar", "100 ; collar face",
    "2x 0.5 x 45° ; collar edges", "Ø18 ; taper", "Ø14 ; taper", "140 ; taper end", "Ø10 ; thread blank",
    "156 ; overall", "1 x 45° ; right end", "M10x1.5 - 6g 14 long", "M6x1 - 6H 14 deep drill dia 5 dp 18 csk dia 6.6 x 90°",
    "dia 4 thru at 70 ; cross hole", "1.5 ; flat, depth", "30 ; flat, from", "50 ; flat, to", "90° ; flat to cross hole",
]  # fmt: skip
TABLE = [
    {0: "#2", 2: "#1", 4: "#3"},
    {0: "#5", 2: "#4"},
    {0: "#7", 2: "#6", 5: "#8"},
    {0: "#10", 2: "#9", 4: "#11", 5: "#11"},
    {0: "#14", 2: "#12", 3: "#13"},
    {0: "#16", 2: "#15", 5: "#17", 7: "#18"},
]


def test_the_arbor_is_built_by_mouse_and_keyboard(desk):
    _read(desk)
    _turn(desk)
    _drill(desk)
    _flat(desk)
    proof = desk.session.current.proof
    assert proof.mass.volume == pytest.approx(39_774.28, rel=1e-6)
    assert [x for x in proof.lines if x.mark not in ("in", "near")] == []
    assert proof.all_in
    assert proof.unexplained == ()
    _undo_all_and_redo(desk)


def _read(desk):
    block = desk.window.title_block
    desk.retype(block.name, "Chart-drum arbor")
    desk.retype(block.number, "SKP-01")
    desk.retype(block.volume, "39774.28")
    desk.retype(block.mass, "312.23")
    for note in CALLOUTS:
        desk.enter(note)
    assert len(desk.session.content.callouts) == 24
    assert desk.session.content.callouts[0].label == "journal"
    assert desk.session.content.header.stated.volume == 39774.28


def _turn(desk):
    desk.enter("add: turned")
    assert desk.window.stage == "Shape"
    for row, cells in enumerate(TABLE):
        for column, text in cells.items():
            desk.cell(row, column, text)
    desk.settled()
    assert [type(s).__name__ for s in desk.session.content.steps] == ["Revolve", "Thread"]
    assert desk.session.current.proof.mass.volume == pytest.approx(40_607.26, rel=1e-6)
    assert "Nothing can move" in desk.window.plate.strip.words.text()


def _drill(desk):
    window = desk.window
    desk.look("L")
    desk.pick((3, 2, 0))
    assert window.picking.reference(window.picking.faces[0]).name == "s1/start/side"
    desk.choose_callout(19)
    desk.pick((3, 2, 0))
    desk.press(window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    desk.choose_callout(20)
    desk.look("F")
    desk.pick((0, 10, 60))
    desk.look("L")
    desk.pick((4.2, 0, 0), more=True)
    assert len(window.picking.faces) == 2
    desk.press(window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    desk.settled()
    assert [type(s).__name__ for s in desk.session.content.steps] == ["Revolve", "Thread", "Hole", "Hole"]
    assert all(r.state == "done" for r in desk.session.current.reports.values()), desk.session.current.reports
    assert desk.session.current.proof.mass.volume == pytest.approx(39_988.368785, rel=1e-6)


def _flat(desk):
    window, plate = desk.window, desk.window.plate
    desk.enter("add: extrude")
    desk.choose("Plane", "along the axis")
    desk.retype(desk.field("Turned by"), "#24")
    desk.click(desk.field("Pick Zero lies on"))
    desk.look("L")
    desk.pick((4.2, 0, 0))
    assert plate.sketch.plane.datum == "s1/start/side"
    # Rough shapes first: the flat's outline, and a line for the round face it is measured from.
    desk.click(plate.tools["rectangle"])
    desk.plate_click(20, 6)
    desk.plate_click(45, 12)
    desk.click(plate.tools["line"])
    desk.plate_click(18, 9)
    desk.plate_click(50, 9)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    desk.press(plate.canvas, Qt.Key.Key_Escape)
    lines = plate.sketch.curves()
    points = plate.sketch.points()
    floor = next(c for c in lines if points[c.a].y == points[c.b].y and points[c.a].y < 7)
    surface = lines[-1]
    left, right = (
        next(c for c in lines[:4] if points[c.a].x == points[c.b].x == x)
        for x in sorted({points[c.a].x for c in lines[:4]})
    )
    top = next(c for c in lines[:4] if points[c.a].y == points[c.b].y and points[c.a].y > 11)
    # The line stands for the drum seat.
    desk.plate_click(48, points[surface.a].y)
    assert plate.canvas.chosen == (surface.id,)
    desk.look("F")
    desk.pick((0, 10, 60))
    desk.enter("stands for the picked")
    assert plate.sketch.get(surface.id).link == "s1/c.od/side"
    # Then sizes.
    _size(desk, [surface.id], "#6", "size Ø")
    _size(desk, [surface.id, floor.id], "#21")
    _size(desk, ["across", left.id], "#22")
    _size(desk, ["across", right.id], "#23")
    _size(desk, [surface.id, top.id], "2")
    _level_ends(desk, surface, left, right)
    assert "Nothing can move" in plate.strip.words.text(), plate.strip.words.text()
    desk.settled()
    assert window.stage == "Shape"


def _middle(desk, id_):
    """Where to click an element: off the middle, clear of dimension texts."""
    sketch = desk.window.plate.sketch
    if id_ == "across":
        return None
    line, points = sketch.get(id_), sketch.points()
    a, b = points[line.a], points[line.b]
    places = [(a.x + k * (b.x - a.x), a.y + k * (b.y - a.y)) for k in (0.31, 0.5, 0.7, 0.85, 0.15, 0.93)]
    return next((p for p in places if desk.window.plate.canvas.under(desk.pixel(*p)) == id_), places[0])


def _size(desk, ids, text, kind=""):
    plate = desk.window.plate
    first = True
    plate.canvas.choose()
    for id_ in ids:
        at = _middle(desk, id_)
        if at is None:  # the origin stands for zero
            plate.canvas.fit()
            desk.plate_click(0, 0)
        else:
            control = Qt.KeyboardModifier.NoModifier if first else Qt.KeyboardModifier.ControlModifier
            desk.plate_click(*at, control)
        first = False
    wanted = tuple("origin" if i == "across" else i for i in ids)
    assert plate.canvas.chosen == wanted, (plate.canvas.chosen, wanted)
    before = len(plate.sketch.dimensions)
    desk.size(text, kind)
    QTest.qWait(10)
    assert len(plate.sketch.dimensions) == before + 1, plate.strip.words.text()
    assert plate.sketch.dimensions[-1].text == text, plate.strip.words.text()


def _level_ends(desk, surface, left, right):
    """The ends of the surface line lie on the upright lines: two clicks and a relation each."""
    plate = desk.window.plate
    for end, upright in ((surface.a, left), (surface.b, right)):
        p = plate.sketch.points()[end]
        plate.canvas.fit()
        desk.plate_click(p.x, p.y)
        desk.plate_click(*_middle(desk, upright.id), Qt.KeyboardModifier.ControlModifier)
        assert set(plate.canvas.chosen) == {end, upright.id}
        desk.click(desk.plate_button("on"))
        QTest.qWait(10)


def _undo_all_and_redo(desk):
    history = desk.session.current.history
    job = history.state
    while history.undo_words:
        history.undo()
    assert desk.session.content.callouts == ()
    while history.redo_words:
        history.redo()
    assert desk.session.current.history.state is job
