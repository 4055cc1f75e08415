"""Strangers from paper to proof, by mouse and keys: a metric plate drawn over its picture, an inch bushing from a
photograph, a metric guide block whose scan is only a page of a PDF.
"""

from __future__ import annotations

import math

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from trials.drawn import Drawn, faces

from lathed_solid.core.drawing.scan.judging import meaning
from lathed_solid.desk.glass import pictures

from .scans import laid_flat, laid_under, opened, picture_only, pictured, reviewed
from .test_bracket_by_hand import done, fill, to_depth
from .test_drum_by_hand import new_sketch
from .test_inspecting_by_hand import go
from .test_issued_strangers_by_hand import chamfered
from .test_scanned_by_hand import outlined, plate_sheet
from .test_steps_from_callouts import step_of
from .test_strangers_by_hand import IN3, all_in
from .test_vise_base_by_hand import tick


@pytest.fixture(autouse=True)
def _kept_for_all(monkeypatch, readings):
    monkeypatch.setattr(pictures, "user_cache_path", lambda _: readings)


def test_a_plate_drawn_over_its_picture(desk, tmp_path):
    offers = opened(desk, pictured(plate_sheet().pdf(), "clean", tmp_path / "plate.png"))
    side, session = desk.window.read_side, desk.session
    desk.actions = 0
    desk.click(offers.all)
    reviewed(desk, ["66", "90", "34", "54", "4x Ø6.6 THRU", "Ø22 THRU", "12"])
    number = {c.note: f"#{c.number}" for c in session.content.callouts}
    outlined(desk)
    for box, _ in side.traced._alike:
        desk.click(box, QPoint(8, box.height() // 2))
    desk.click(side.traced.take)
    desk.wait(lambda: desk.window.plate.sketch is not None and desk.window.plate.sketch.name == "Over the scan")
    desk.settled()
    plate, canvas = desk.window.plate, desk.window.plate.canvas
    desk.tool("rectangle")
    for x, y in ((0.6, 0.5), (89.3, 53.4)):
        desk.plate_click(x, y)
    desk.press(canvas, Qt.Key.Key_Escape)
    desk.settled()
    # The lengths of its lines are those of callouts, which "Pin it for me" finds by what the scan measures.
    pinned(desk, f"{number['90']} = 90", f"{number['54']} = 54")
    n90, n54, n66, n34 = (number[k] for k in ("90", "54", "66", "34"))
    # Where the holes stand, in words of the callouts; the drawing shows them in the middle of the plate.
    left_low, right_low, left_high, right_high = (12, 10), (78, 10), (12, 44), (78, 44)
    for one, other, words in (
        (left_low, right_low, "horizontal"),
        (left_high, right_high, "horizontal"),
        (left_low, left_high, "vertical"),
        (right_low, right_high, "vertical"),
    ):
        both_chosen(desk, one, other)
        desk.click(desk.plate_button(words))
        desk.settled()
    for one, other, button, text in (
        (left_low, right_low, "size along", n66),
        (left_low, left_high, "size across", n34),
        ((0, 0), left_low, "size along", f"({n90}-{n66})/2"),
        ((0, 0), left_low, "size across", f"({n54}-{n34})/2"),
        ((0, 0), (45, 27), "size along", f"{n90}/2"),
        ((0, 0), (45, 27), "size across", f"{n54}/2"),
    ):
        both_chosen(desk, one, other)
        desk.size(text, button)
        desk.settled()
    assert canvas.look.freedom.ways == 0, plate.strip.words.text()
    fill(desk, Depth=number["12"])
    volume = done(desk)
    assert volume == pytest.approx(12 * (90 * 54 - math.pi * (4 * 3.3**2 + 11**2)), rel=1e-9)
    all_in(desk)
    print("plate", desk.actions)


def taken(desk, notes):
    """What is sure at one click, the rest gone through by keys; the callouts' references by their notes."""
    offers = desk.window.read_side.offers
    sure = [o for o in offers.offers if o.sure]
    ledger = desk.session.content.ledger()
    known = {meaning(n, ledger) for n in notes}
    assert [o.note for o in sure if meaning(o.note, ledger) not in known] == [], "none sure and wrong"
    assert 2 * len(sure) > len(notes), [(o.note, o.doubts) for o in offers.offers]
    desk.click(offers.all)
    assert reviewed(desk, notes) <= 1
    stated = {meaning(c.note, ledger): c.number for c in desk.session.content.callouts}
    assert set(stated) == {meaning(n, ledger) for n in notes}
    return {n: stated[meaning(n, ledger)] for n in notes}


def bushing_sheet() -> Drawn:
    """An inch bushing, Ø1.500 x .375 and Ø1.000 to 1.250, bored Ø.625."""
    sheet = Drawn((297.0, 210.0), "dejavu", 3.5)
    sheet.box(10, 10, 287, 200, 0.7)
    left, axis = 110.0, 90.0
    flange, end = left + 9.525, left + 31.75
    sheet.box(left, axis - 19.05, flange, axis + 19.05)
    sheet.box(flange, axis - 12.7, end, axis + 12.7)
    sheet.line((left - 6, axis), (end + 6, axis), 0.25, (8, 1.5, 1, 1.5))
    sheet.level((left, axis + 19.05), (end, axis + 12.7), axis + 42, "1.250", 0.9)
    sheet.upright((left, axis - 19.05), (left, axis + 19.05), left - 14, "Ø1.500", 0.9)
    sheet.upright((end, axis - 12.7), (end, axis + 12.7), end + 14, "Ø1.000", 0.9)
    assert sheet.leader((180, 60), (flange, axis - 14), "FLANGE .375 THICK") is not None
    assert sheet.leader((180, 120), (end, axis + 4), "Ø.625 THRU")
    assert sheet.leader((180, 44), (end, axis - 12), ".03 x 45°")
    return sheet


def test_an_inch_bushing_from_its_photograph(desk, tmp_path):
    desk.press(desk.window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    laid_under(desk, pictured(bushing_sheet().pdf(), "photo", tmp_path / "bushing.jpg"))
    desk.actions = 0
    laid_flat(desk)
    n = taken(desk, ["1.250", "Ø1.500", "Ø1.000", "Ø.625 THRU", ".03 x 45°"])
    desk.enter(".375 ; flange")
    flange = max(n.values()) + 1
    desk.enter("add: turned")
    for row, column, text in ((0, 1, flange), (0, 2, n["Ø1.500"]), (1, 0, n["1.250"]), (1, 2, n["Ø1.000"])):
        desk.cell(row, column, f"#{text}")
    blank = done(desk)
    assert blank == pytest.approx(math.pi / 4 * (1.5**2 * 0.375 + 0.875) * IN3)
    desk.look("L")
    desk.pick((17, 2, 0))
    step_of(desk, n["Ø.625 THRU"])
    desk.choose("Where", "on the face's axis")
    bored = done(desk)
    assert blank - bored == pytest.approx(math.pi / 4 * 0.625**2 * 1.25 * IN3)
    chamfered(desk, "R", (-12.7 * math.cos(0.6), -12.7 * math.sin(0.6), 31.75), f"#{n['.03 x 45°']}")
    all_in(desk)
    print("bushing", desk.actions)


def block_sheet() -> Drawn:
    """A guide block 70 x 40 x 25 with a slot 12 wide and 10 deep and two counterbored holes 48 apart."""
    sheet = Drawn((297.0, 210.0), "osifont" if "osifont" in faces() else "dejavu", 3.5)
    sheet.box(10, 10, 287, 200, 0.7)
    left, top, right, bottom = 70.0, 60.0, 140.0, 100.0
    sheet.box(left, top, right, bottom)
    for y in (74.0, 86.0):
        sheet.line((left, y), (right, y))
    for x in (81.0, 129.0):
        for r in (3.3, 5.5):
            sheet.circle((x, 67.0), r)
    sheet.level((81, 67), (129, 67), top - 14, "48 ±0.1", 0.9)
    sheet.level((left, bottom), (right, bottom), bottom + 16, "70", 0.9)
    sheet.upright((left, top), (left, bottom), left - 20, "40", 0.9)
    assert sheet.leader((158, 48), (132.9, 63.1), "2x Ø6.6 THRU\n⌴ Ø11 ↧ 6.5")
    sheet.box(190, 60, 215, 100)
    sheet.level((190, 100), (215, 100), 116, "25", 0.9)
    sheet.upright((215, 74), (215, 86), 232, "12", 0.9)
    sheet.level((205, 60), (215, 60), 50, "10", 0.9)
    return sheet


def test_a_guide_block_whose_scan_is_a_page_of_a_pdf(desk, tmp_path):
    path = tmp_path / "block.pdf"
    path.write_bytes(picture_only(block_sheet().pdf()))
    opened(desk, path)
    desk.actions = 0
    n = taken(desk, ["48 ±0.1", "70", "40", "25", "12", "10", "2x Ø6.6 THRU\n⌴ Ø11 ↧ 6.5"])
    new_sketch(desk, "extrude")
    desk.enter(f"rect #{n['70']} x #{n['40']}")
    desk.choose("Direction", "forward")
    fill(desk, Depth=f"#{n['25']}")
    block = done(desk)
    assert block == pytest.approx(70 * 40 * 25)
    desk.look("T")
    desk.pick((30, 15, 25))
    new_sketch(desk, "extrude")
    desk.enter(f"rect #{n['70']} x #{n['12']}")
    slotted = to_depth(desk, "backward", f"#{n['10']}")
    assert block - slotted == pytest.approx(70 * 12 * 10)
    hole = n["2x Ø6.6 THRU\n⌴ Ø11 ↧ 6.5"]
    desk.look("T")
    desk.pick((30, 15, 25))
    step_of(desk, hole)
    desk.choose("Where", "at a point of the face")
    desk.settled()
    fill(desk, X=f"#{n['48 ±0.1']}/2", Y=f"(#{n['40']}+#{n['12']})/4")
    done(desk)
    desk.enter("add: mirror")
    desk.settled()
    tick(desk, 30)
    desk.choose("About", "the plane across X")
    bored = done(desk)
    assert slotted - bored == pytest.approx(2 * math.pi * (3.3**2 * 25 + (5.5**2 - 3.3**2) * 6.5))
    # The 48 is used by half and mirrored: what shows it is found on the solid, and bound at one click.
    assert [x.number for x in desk.session.current.proof.lines if x.mark != "in"] == [n["48 ±0.1"]]
    panel = go(desk, desk.window.match)
    desk.click(panel.go)
    desk.wait(lambda: panel.table.rowCount() > 0, 60)
    desk.click(panel.every)
    desk.settled()
    desk.press(desk.window, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    proof = desk.session.current.proof
    assert {x.mark for x in proof.lines} == {"in"} and not proof.unexplained and proof.unused == ()
    print("block", desk.actions)


def both_chosen(desk, one, other):
    """Click the two points of the plate that stand nearest to these places."""
    places = [(p.x, p.y) for p in desk.window.plate.sketch.points().values()]
    for spot, modifier in ((one, Qt.KeyboardModifier.NoModifier), (other, Qt.KeyboardModifier.ControlModifier)):
        desk.plate_click(*min(places, key=lambda p: math.dist(p, spot)), modifier)
    QTest.qWait(20)


def pinned(desk, *wanted: str) -> None:
    """Take offers of "Pin it for me" by their words."""
    for words in wanted:
        menu = desk.plate_button("Pin it for me").menu()
        menu.aboutToShow.emit()
        next(a for a in menu.actions() if a.text().startswith(words)).trigger()
        desk.actions += 2
        desk.settled()
