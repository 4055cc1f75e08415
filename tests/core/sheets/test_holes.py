"""The table of holes of SKP-03: every hole once, where the drawing's own numbers put it."""

from __future__ import annotations

import pytest

from lathed_solid.core.drafting.sheet.changing import move_holes, show_holes
from lathed_solid.core.drafting.sheet.holes import tagged
from lathed_solid.core.issue.drawing.facts import drawn_sheet
from lathed_solid.core.job import sheeting
from lathed_solid.core.units import INCH


def test_every_hole_is_listed_at_its_place(laid):
    made = laid(3)
    content = sheeting.changed(made.content, "d1", lambda s: move_holes(show_holes(s, True), (3.0, 2.0)))
    sheet = content.sheets[0]
    places = {h.tag: (h.place[0] / INCH, h.place[1] / INCH) for h in tagged(sheet, made.seen)}
    corners = [(1, 0.5), (6.5, 0.5), (1, 4.25), (6.5, 4.25)]
    threads = [(x, y) for y in (1.125, 3.625) for x in (0.625, 2.5, 4.375)]
    expected = {f"A{n}": p for n, p in enumerate(corners, 1)} | {f"B{n}": p for n, p in enumerate(threads, 1)}
    assert places.keys() == expected.keys()
    for tag, place in expected.items():
        assert places[tag] == pytest.approx(place, abs=1e-6)
    scene = drawn_sheet(content, "d1", made.seen, None, (), 1).scene
    told = [w.text for w in scene.texts() if w.of == "table:holes"]
    assert told[:4] == ["Hole", "X", "Y", "Size"] and len(told) == 4 * 11
    assert told[4:8] == ["A1", "1", "0.5", "4× Ø.266 THRU cbore Ø.438 × .25 deep"]
    spot = next(s.box for s in scene.spots if s.of == "table:holes")
    assert spot[:2] == pytest.approx((27.0, 16.0))
    tags = [w.text for w in scene.texts() if w.text in expected]
    assert sorted(tags) == sorted([*expected, *expected])  # at the hole and in the table
    assert show_holes(content.sheets[0], False).holes is None
